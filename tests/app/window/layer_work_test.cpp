// Layers under the hand: heads chosen, moved, copied, folded and looked at by mouse and keys; notes and the
// search.
#include <QAccessible>
#include <QClipboard>
#include <QLineEdit>
#include <QListWidget>
#include <QToolButton>

#include "app/fields/number_field.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/placement_frame.h"
#include "app/style/theme.h"
#include "app/tuner/layer_mask.h"
#include "app/window/search_list.h"
#include "core/document/json.h"
#include "core/document/layer_edits.h"
#include "core/engine/compile.h"
#include "core/geometry/uv_positions.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class LayerWorkTest final : public QObject, DemoWindow {
    Q_OBJECT

    QStringList order() {
        QStringList ids;
        for (const Line* layer : layersOf(session().project(), "")) ids << QString::fromStdString(layer->id);
        return ids;
    }
    std::string head(const std::string& layer) { return headOf(*session().project().findLine(layer)).id; }
    void clickHead(const std::string& layer, Qt::KeyboardModifiers keys = {}) {
        clickCard(head(layer), keys);
    }
    void key(Qt::Key k, Qt::KeyboardModifiers keys = {}) { QTest::keyClick(&board(), k, keys); }
    QString status() {
        QString all;
        for (const QLabel* label : window().findChildren<QLabel*>(QStringLiteral("quiet")))
            all += label->text() + QLatin1Char('\n');
        return all;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        session().setLook("forty-years-afloat");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void aHeadShowsItsLayer() {
        clickHead("damp-foot");
        QVERIFY(session().selectedLayer() != nullptr);
        QCOMPARE(control<QLineEdit>("layer-name")->text(), QStringLiteral("Damp foot"));
        QVERIFY(QTest::qWaitFor([&] { return control<QLabel>("covers")->text().contains(QLatin1Char('%')); },
                                5000));
        QVERIFY(control<QLabel>("layer-about")->text().contains(QStringLiteral("3 of 6")));
        // The name is typed where it stands.
        key(Qt::Key_F2);
        auto* name = control<QLineEdit>("layer-name");
        QTest::keyClicks(name, QStringLiteral("Tide mark"));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(session().project().findLine("damp-foot")->name, std::string("Tide mark"));
    }

    void channelsAreCoveredFilledAndLeft() {
        clickHead("damp-foot");
        const auto fills = [&] { return fillsOf(session().project(), "damp-foot").size(); };
        auto* box = control<QAbstractButton>("cover-metalness");
        QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        QCOMPARE(fills(), 4u);
        auto* value = control<NumberField>("fill-value-metalness");
        QVERIFY(value != nullptr);
        value->setFocus();
        value->selectAll();
        QTest::keyClicks(value, QStringLiteral("0.7"));
        QTest::keyClick(value, Qt::Key_Return);
        const Step& fill = *fillsOf(session().project(), "damp-foot")[1].step;
        const Line* own = ownLineOf(session().project(), fill);
        QCOMPARE(std::get<double>(session().shownStep(own->steps.front()->id)->controls.at("value")), 0.7);
        box = control<QAbstractButton>("cover-metalness");
        QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        QCOMPARE(fills(), 3u);
        session().undo();
        session().undo();
        session().undo();
        QCOMPARE(fills(), 3u);
    }

    void theOrderIsMovedByKeysAndByHand() {
        const QStringList before = order();
        clickHead("rust-streaks");
        key(Qt::Key_Right, Qt::AltModifier);
        QTest::keyClick(&window(), Qt::Key_Right, Qt::AltModifier);
        QVERIFY(order() != before);
        while (session().history().canUndo()) session().undo();
        QCOMPARE(order(), before);
        // Dragged past the first one and the steps before it.
        board().fitAll();
        QVERIFY(settled());
        const QPoint from = board().cardRect(head("worn-edges")).center();
        const QPoint to(board().cardRect(head("ferry-s-mark")).left() - 4, from.y());
        drag(board(), from, to);
        QVERIFY(settled());
        QCOMPARE(order().first(), QStringLiteral("worn-edges"));
        for (const FillPlace& fill : fillsOf(session().project(), "worn-edges"))
            for (const FillPlace& other : fillsOf(session().project(), "ferry-s-mark"))
                if (fill.line == other.line) QVERIFY(fill.index < other.index);
    }

    void severalAreChosenCopiedAndPasted() {
        const auto count = order().size();
        board().fitAll();
        clickHead("rust-streaks");
        clickHead("worn-edges", Qt::ControlModifier);
        QCOMPARE(session().selectedLayers().size(), 2u);
        QTest::keyClick(&window(), Qt::Key_C, Qt::ControlModifier);
        QVERIFY(QApplication::clipboard()->text().contains(QLatin1String(kProjectFormat)));
        QTest::keyClick(&window(), Qt::Key_V, Qt::ControlModifier);
        QVERIFY(settled());
        QCOMPARE(order().size(), count + 2);
        QCOMPARE(session().selectedLayers().size(), 2u);
        // Behind the chosen ones, in this look alone.
        const Line* pasted = session().project().findLine(session().selectedLayers().front());
        QCOMPARE(pasted->name, std::string("Rust streaks 2"));
        QVERIFY(headOf(*pasted).bypass);
        QVERIFY(!session().shownStep(headOf(*pasted).id)->bypass);
        key(Qt::Key_Delete);
        QCOMPARE(order().size(), count);
        clickHead("damp-foot");
        QTest::keyClick(&window(), Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(order().size(), count + 1);
        QVERIFY(problemsOf(session().project()).empty());
    }

    void theyAreStepedThroughAndLookedAt() {
        board().setFocus();
        key(Qt::Key_Period);
        QVERIFY(settled());
        // The bare surface comes first.
        QCOMPARE(session().layerView(), LayerView::Below);
        for (const FillPlace& fill : fillsOf(session().shownProject(), order().first().toStdString()))
            QVERIFY(fill.step->bypass);
        key(Qt::Key_Period);
        QVERIFY(settled());
        QCOMPARE(session().layerView(), LayerView::UpTo);
        QCOMPARE(QString::fromStdString(session().viewedLayer()), order().first());
        QVERIFY(status().contains(QStringLiteral("surface up to Ferry's mark")));
        key(Qt::Key_Period);
        QCOMPARE(QString::fromStdString(session().viewedLayer()), order().at(1));
        key(Qt::Key_Comma);
        QCOMPARE(QString::fromStdString(session().viewedLayer()), order().first());
        const Project upTo = session().shownProject();
        for (const FillPlace& fill : fillsOf(upTo, "damp-foot")) QVERIFY(fill.step->bypass);
        key(Qt::Key_Escape);
        QCOMPARE(session().layerView(), LayerView::All);
        QVERIFY(session().shownProject() == session().project());
        clickHead("damp-foot");
        key(Qt::Key_O);
        QCOMPARE(session().layerView(), LayerView::Only);
        key(Qt::Key_M);
        QCOMPARE(session().layerView(), LayerView::Mask);
        QVERIFY(control<QToolButton>("view-mask")->isChecked());
        key(Qt::Key_M);
        QCOMPARE(session().layerView(), LayerView::All);
        // The hand may be on the model; and a step of its mask means the layer too.
        window().model().setFocus();
        QTest::keyClick(&window().model(), Qt::Key_Comma);
        QCOMPARE(session().layerView(), LayerView::UpTo);
        QTest::keyClick(&window().model(), Qt::Key_Escape);
        session().selectStep(session().project().findLine("damp-foot")->steps.front()->id);
        QTest::keyClick(&window().model(), Qt::Key_M);
        QCOMPARE(session().viewedLayer(), std::string("damp-foot"));
        QTest::keyClick(&window().model(), Qt::Key_M);
        clickHead("damp-foot");
        // Held, the surface without it.
        QTest::keyPress(&board(), Qt::Key_Space);
        QVERIFY(session().shownProject().findLook("forty-years-afloat") != nullptr);
        const Project without = session().shownProject();
        QVERIFY(
            withLook(without, headOf(*without.findLine("damp-foot")), without.findLook("forty-years-afloat"))
                .bypass);
        QTest::keyRelease(&board(), Qt::Key_Space);
        key(Qt::Key_X);
        QVERIFY(session().shownStep(head("damp-foot"))->bypass);
    }

    void theMaskOnTheModelIsSeen() {
        clickHead("damp-foot");
        QVERIFY(settled());
        const QImage plain = window().model().grab().toImage();
        key(Qt::Key_M);
        QVERIFY(settled());
        const QImage shown = window().model().grab().toImage();
        // Above the foot all is grey now; at the foot lies the strong colour.
        const auto coloured = [](const QImage& picture, double from, double to) {
            int count = 0;
            for (int y = static_cast<int>(picture.height() * from); y < picture.height() * to; ++y)
                for (int x = 0; x < picture.width(); ++x) {
                    const QColor c = picture.pixelColor(x, y);
                    count +=
                        std::max({c.red(), c.green(), c.blue()}) - std::min({c.red(), c.green(), c.blue()}) >
                        60;
                }
            return count;
        };
        QVERIFY(coloured(plain, 0.3, 0.7) > 4000);
        QVERIFY2(coloured(shown, 0.3, 0.7) < coloured(plain, 0.3, 0.7) / 5,
                 qPrintable(QString::number(coloured(shown, 0.3, 0.7))));
        QVERIFY(coloured(shown, 0.8, 1) > 1000);
    }

    void aBandFolds() {
        clickHead("rust-streaks");
        const int wide = board().bandRect("rust-streaks").width();
        key(Qt::Key_F);
        QVERIFY(QTest::qWaitFor([&] { return board().bandRect("rust-streaks").width() < wide; }, 2000));
        key(Qt::Key_F);
        QVERIFY(QTest::qWaitFor([&] { return board().bandRect("rust-streaks").width() == wide; }, 2000));
    }

    void arrowsWalkAlongTheMasks() {
        clickHead("rust-streaks");
        key(Qt::Key_Left);
        QCOMPARE(session().selectedStep(), session().project().findLine("rust-streaks")->steps.front()->id);
        key(Qt::Key_Left);
        QCOMPARE(session().selectedStep(), head("ferry-s-mark"));
        key(Qt::Key_Right);
        key(Qt::Key_Right);
        QCOMPARE(session().selectedStep(), head("rust-streaks"));
        key(Qt::Key_Down);
        QCOMPARE(layerOf(*session().shownStep(session().selectedStep())), std::string("rust-streaks"));
        // Read out: what it is, and of which layer.
        const QString spoken = board().spokenName(session().selectedStep());
        QVERIFY2(spoken.contains(QStringLiteral("of the layer Rust streaks on Base colour")),
                 qPrintable(spoken));
        QVERIFY(board().spokenName(head("damp-foot")).startsWith(QStringLiteral("Layer Damp foot")));
    }

    void aFillsOwnLineIsOpenedAndWorkedOn() {
        const Step fill = *fillsOf(session().project(), "damp-foot").front().step;
        const std::string own = ownLineOf(session().project(), fill)->id;
        board().toggleFillLine(own);
        const std::string source = session().project().findLine(own)->steps.front()->id;
        QVERIFY(!board().cardRect(source).isEmpty());
        session().selectStep(source);
        session().insertStep(own, 1, "tone");
        QCOMPARE(session().project().findLine(own)->steps.size(), std::size_t{2});
        QCOMPARE(ownLineOf(session().project(), *fillsOf(session().project(), "damp-foot").front().step)->id,
                 own);
        key(Qt::Key_F);
        QVERIFY(board().cardRect(source).isEmpty());
        QCOMPARE(session().selectedStep(), fill.id);
    }

    void notesAreKeptMarkedAndFound() {
        session().setNote("damp-foot", QStringLiteral("from the flood of spring"));
        session().setNote("glaze", QStringLiteral("as the client asked"));
        session().setNote("forty-years-afloat", QStringLiteral("for the last scene"));
        QVERIFY(board().tipOf(head("damp-foot")).contains(QStringLiteral("flood of spring")));
        QVERIFY(board().tipOf("glaze").contains(QStringLiteral("client asked")));
        const auto saved = projectFromJson(projectToJson(session().project()), "saved");
        QCOMPARE(saved->findLine("damp-foot")->note, std::string("from the flood of spring"));
        QCOMPARE(saved->findLook("forty-years-afloat")->note, std::string("for the last scene"));
        QTest::keyClick(&window(), Qt::Key_F, Qt::ControlModifier);
        auto* search = window().findChild<SearchList*>();
        QVERIFY(QTest::qWaitFor([&] { return search->isVisible(); }, 2000));
        auto* word = search->findChild<QLineEdit*>();
        QTest::keyClicks(word, QStringLiteral("flood"));
        QCOMPARE(search->findChild<QListWidget*>()->count(), 1);
        QTest::keyClick(word, Qt::Key_Return);
        QCOMPARE(session().selectedStep(), head("damp-foot"));
        QCOMPARE(findInProject(session(), QStringLiteral("last scene")).front().look,
                 std::string("forty-years-afloat"));
        QVERIFY(findInProject(session(), QStringLiteral("curvature")).size() >= 1);
        QVERIFY(findInProject(session(), {}).empty());
        // By hand: the menu of a card, a field, Enter.
        board().setFocus();
        session().setNote("glaze", {});
        QVERIFY(!board().tipOf("glaze").contains(QStringLiteral("Note")));
    }

    void aStampIsMovedOnTheModel() {
        const std::string map = session().project().findLine("ferry-s-mark")->steps.front()->id;
        session().selectStep(map);
        QVERIFY(settled());
        ModelView& model = window().model();
        // Where a place of the texture is seen, by the model's own rays.
        const UvPositions positions(model.scene());
        const auto pixelOf = [&](QPointF uv) {
            const auto at = pictureOf(
                model.camera(), static_cast<float>(model.width()) / static_cast<float>(model.height()),
                positions.at(static_cast<float>(uv.x()), static_cast<float>(uv.y())).value());
            return QPointF(static_cast<double>(at->x) * model.width(),
                           static_cast<double>(at->y) * model.height());
        };
        const auto frame = [&] {
            const Step step = *session().shownStep(map);
            return PlacementFrame(*PlacementNumbers::of(*shippedSteps().find("map"), viewOf(step)));
        };
        const double before = number(map.c_str(), "offset-u");
        QVERIFY(QTest::qWaitFor(
            [&] {  // its triangles are sorted on a thread of their own
                moveTo(model, QPoint(model.width() / 2, model.height() / 2), Qt::NoButton);
                moveTo(model, frame().grip(0, pixelOf).toPoint(), Qt::NoButton);
                return model.cursor().shape() == Qt::SizeAllCursor;
            },
            10000));
        const QPoint grip = frame().grip(0, pixelOf).toPoint();
        const Camera camera = model.camera();
        drag(model, grip, grip + QPoint(18, 0));
        QVERIFY(settled());
        QVERIFY(model.camera() == camera);  // the model was not turned
        QVERIFY(number(map.c_str(), "offset-u") > before + 0.05);
        // The fill's map of the same stamp went with it.
        const Line* own =
            ownLineOf(session().project(), *fillsOf(session().project(), "ferry-s-mark").front().step);
        QCOMPARE(number(own->steps.front()->id.c_str(), "offset-u"), number(map.c_str(), "offset-u"));
        // Beside its grips the hand turns the model.
        drag(model, QPoint(20, model.height() - 20), QPoint(60, model.height() - 20));
        QVERIFY(!(model.camera() == camera));
    }

    void whatALayerLacksIsNamed() {
        // A set whose folder is gone: the fill's card warns, the rest is shown.
        Project p = session().project();
        for (auto& set : p.sets)
            if (set->id == "ferry_mark") set.edit().folder = "/nowhere";
        session().apply(p, QStringLiteral("Gone"));
        QVERIFY(settled());
        const std::string fill = fillsOf(session().project(), "ferry-s-mark").front().step->id;
        QVERIFY2(board().tipOf(fill).contains(QStringLiteral("ferry_mark.png")),
                 qPrintable(board().tipOf(fill)));
        QVERIFY(window().model().isCurrent());
    }

    void percentCoveredIsTheMeanOfTheMask() {
        Spread spread;
        spread.brightness[0] = 1;
        QCOMPARE(percentCovered(spread), 0);
        spread.brightness[Spread::kBins - 1] = 1;
        QCOMPARE(percentCovered(spread), 50);
        spread.brightness[0] = 0;
        QCOMPARE(percentCovered(spread), 100);
        QCOMPARE(percentCovered({}), 0);
    }
};

QTEST_MAIN(LayerWorkTest)
#include "layer_work_test.moc"
