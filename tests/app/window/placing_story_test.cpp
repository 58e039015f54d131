// What an artist does with patterns and placements: a set placed by its frame, a
// ground without repeats, shade laid in, a pattern over a set, edge wear.
#include "app/fields/number_field.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/placement_frame.h"
#include "app/style/theme.h"
#include "core/analysis/board_pictures.h"
#include "core/colour/encoding.h"
#include "core/document/edits.h"
#include "core/document/layers.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class PlacingTest final : public QObject, DemoWindow {
    Q_OBJECT

    FlatView& flat() { return window().flat(); }
    PlacementFrame frameOf(const std::string& step) {
        const Step s = *session().shownStep(step);
        return PlacementFrame(*PlacementNumbers::of(*shippedSteps().find(s.type), viewOf(s)));
    }
    PlacementFrame::ToPixel toPixel() {
        return [this](QPointF uv) {
            const QPointF low = flat().placeAt({0, 0}), high = flat().placeAt({100, 100});
            return QPointF((uv.x() - low.x()) / (high.x() - low.x()) * 100,
                           (uv.y() - low.y()) / (high.y() - low.y()) * 100);
        };
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void onePlacementForAllMaps() {
        // The base colour's map is chosen when a project is opened.
        const std::string chosenStep = session().selectedStep();
        QCOMPARE(session().shownStep(chosenStep)->type, std::string("map"));
        Hands hands;
        const QPolygonF corners = frameOf(chosenStep).corners(toPixel());
        // To half the width: two repeats, with Ctrl a whole number.
        const QPointF grip = frameOf(chosenStep).grip(1, toPixel());
        hands.drag(flat(), grip.toPoint(), ((corners[0] + grip) / 2).toPoint(), Qt::ControlModifier);
        QVERIFY(settled());
        QCOMPARE(number(chosenStep.c_str(), "repeats"), 2.0);
        const PlacementFrame now = frameOf(chosenStep);
        const QPointF knob = now.knob(toPixel()), middle = now.middle(toPixel());
        const QPointF arm = knob - middle;
        // A quarter to the left, on the screen anticlockwise.
        hands.drag(flat(), knob.toPoint(), (middle + QPointF(arm.y(), -arm.x())).toPoint(),
                   Qt::ControlModifier);
        QVERIFY(settled());
        QCOMPARE(number(chosenStep.c_str(), "rotation"), 90.0);
        // All maps of the set lie so.
        for (const auto& line : session().project().lines)
            for (const auto& step : line->steps)
                if (step->set == "enamel_kettle" && step->type == "map") {
                    QCOMPARE(number(step->id.c_str(), "repeats"), 2.0);
                    QCOMPARE(number(step->id.c_str(), "rotation"), 90.0);
                }
        QVERIFY(session().project().looks.size() == 5);  // a look was begun, and the base stays
        // A size can be typed: the square's centimetres over it.
        auto* field = control<NumberField>("field-repeats");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, QStringLiteral("10cm"));
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(settled());
        const auto scene = window().pictures().scenes().loaded("kettle", "auto");
        QVERIFY(std::fabs(number(chosenStep.c_str(), "repeats") - centimetresOfSquare(scene->mesh()) / 10) <
                1e-3);
    }

    void aGroundWithoutVisibleRepeat() {
        Hands hands;
        const QPolygonF corners = frameOf(session().selectedStep()).corners(toPixel());
        const QPointF grip = frameOf(session().selectedStep()).grip(1, toPixel());
        hands.drag(flat(), grip.toPoint(), (corners[0] * 0.75 + grip * 0.25).toPoint());
        QVERIFY(settled());
        auto* breaks = control<QCheckBox>("toggle-break-up");
        QVERIFY(breaks != nullptr);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(breaks);  // looking
        hands.click(*breaks, QPoint(8, breaks->height() / 2));
        QVERIFY(settled());
        QVERIFY(number(session().selectedStep().c_str(), "repeats") > 3);
        // A quarter of the square farther the picture is another one.
        const Vec3 here = valueAt("base-colour", 0.1f, 0.6f), there = valueAt("base-colour", 0.35f, 0.6f);
        QVERIFY(length(here - there) > 1e-3f);
    }

    void occlusionLaidInAsADarkerVersion() {
        Hands hands;
        const Vec3 before = valueAt("base-colour", 0.66f, 0.02f);
        QVERIFY(addByFinder(hands, QStringLiteral("shadow")));
        QVERIFY(settled());
        QCOMPARE(session().shownStep(session().selectedStep())->type, std::string("shadow-colour"));
        // At the spout's foot it is darker, and its hue stays.
        double darkest = 1;
        for (float u = 0.52f; u < 0.8f; u += 0.01f) {
            const Vec3 now = valueAt("base-colour", u, 0.02f);
            darkest = std::min(darkest, static_cast<double>(now.x / std::max(1e-3f, before.x)));
        }
        QVERIFY2(darkest < 0.8, qPrintable(QString::number(darkest)));
    }

    void aDetailNormalRepeatedThreeTimes() {
        Hands hands;
        hands.drop({QString::fromStdString((kData / "rattan" / "rattan-nrm.png").string())}, board(),
                   board().gapRect("normal", 1).center());
        QVERIFY(settled());
        const Step stack = *session().shownStep(session().selectedStep());
        QCOMPARE(stack.type, std::string("stack-normals"));
        const std::string map =
            session().project().findLine(stack.feeds.at("detail").line)->steps.front()->id;
        hands.click(board(), board().cardRect(map).center());
        auto* own = control<QCheckBox>("toggle-own-place");
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(own);
        hands.click(*own, QPoint(8, own->height() / 2));
        auto* repeats = control<NumberField>("field-repeats");
        repeats->setFocus();
        repeats->selectAll();
        hands.type(QStringLiteral("3"));
        QVERIFY(settled());
        QCOMPARE(number(map.c_str(), "repeats"), 3.0);
        // The set's other maps lie as they did; the relief is there three times.
        QCOMPARE(number("s1", "repeats"), 1.0);
        const Vec3 here = valueAt("normal", 0.31f, 0.55f);
        QVERIFY(here.z < 0.9999f);
    }

    void edgeWearFromCurvatureAndNoise() {
        Hands hands;
        const std::size_t before = layersOf(session().project(), "").size();
        QVERIFY(addByFinder(hands, QStringLiteral("layer")));
        QVERIFY(settled());
        QCOMPARE(layersOf(session().project(), "").size(), before + 1);
        const std::string layer = session().selectedLayer()->id;
        auto* within = control<QPushButton>("feed-mask");
        QVERIFY(within != nullptr);
        hands.click(*within);
        QVERIFY(QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
        // A line of noise that is there already; a new one is one click more.
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu != nullptr);
        QAction* patches = nullptr;
        for (QAction* action : menu->actions())
            if (action->text() == QStringLiteral("Rust patches") && action->menu() != nullptr)
                patches = entryOf(*action->menu(), QStringLiteral("At its end"));
        QVERIFY(patches != nullptr);
        patches->trigger();
        menu->close();
        QVERIFY(settled());
        auto* curvature = control<QPushButton>("mask-curvature");
        hands.click(*curvature);
        QVERIFY(settled());
        // It lies where both are white.
        const Line& mask = *session().project().findLine(layer);
        double both = 0, wrong = 0;
        for (float u = 0.02f; u < 1; u += 0.02f)
            for (float v = 0.02f; v < 1; v += 0.02f) {
                const auto edge = probe(session().project(), session().look(), layer, mask.steps.front()->id,
                                        u, v, session().resources());
                const float wanted = edge->linear[0] * valueAt("rust-patches", u, v).x;
                both += static_cast<double>(wanted);
                wrong = std::max(wrong, static_cast<double>(std::fabs(valueAt(layer, u, v).x - wanted)));
            }
        QVERIFY2(wrong < 1e-5, qPrintable(QString::number(wrong)));
        QVERIFY(both > 0.5);
    }

    void twoSetsMixedByAPatternOnTheHull() {
        ViewSettings view = session().project().view;
        view.model = "hull";
        session().apply(edits::setView(session().project(), view), QStringLiteral("Model"));
        QVERIFY(settled());
        Hands hands;
        const std::size_t before = layersOf(session().project(), "").size();
        hands.drop({QString::fromStdString((kData / "ferry_hull").string())}, board(),
                   QPoint(60, board().capRect("base-colour").bottom() + 30));
        QVERIFY(QTest::qWaitFor([&] { return layersOf(session().project(), "").size() > before; }, 30000));
        QVERIFY(settled());
        const std::string layer = session().selectedLayer()->id;
        auto* noise = control<QPushButton>("mask-noise");
        hands.click(*noise);
        QVERIFY(settled());
        auto* lies = control<QComboBox>("choice-space");
        lies->setFocus();
        hands.chord(Qt::Key_Down);  // in the model
        auto* size = control<NumberField>("field-size");
        size->setFocus();
        size->selectAll();
        hands.type(QStringLiteral("40"));
        QVERIFY(settled());
        const Step mask = *session().shownStep(session().selectedStep());
        QCOMPARE(std::get<std::string>(mask.controls.at("space")), std::string("model"));
        QCOMPARE(std::get<double>(mask.controls.at("size")), 40.0);
        QVERIFY(fillsOf(session().project(), layer).size() >= 3);
    }

    void puddlesScatteredWhereAMaskAllows() {
        QVERIFY(session().open(QString::fromStdString((kData / "galley-floor.palekettle").string())));
        session().setLook("swept");
        // The state: a mask of where water may stand, and the ground's first step chosen.
        Step facing;
        facing.id = "allowed-source", facing.type = "facing";
        facing.controls = {{"tilt", 90.0}, {"width", 60.0}};
        Line allowed;
        allowed.id = "allowed", allowed.name = "Where water stands", allowed.kind = Kind::Scalar;
        allowed.steps.emplace_back(facing);
        QVERIFY(session().apply(edits::addLine(session().project(), allowed), QStringLiteral("mask")));
        const Line* base = session().project().lineOfChannel("base-colour");
        if (base == nullptr)
            base = session().project().lineOfChannel("base-colour", session().project().surfaces.front()->id);
        session().selectStep(base->steps.front()->id);
        QVERIFY(settled());
        const std::size_t before = layersOf(session().project(), base->surface).size();
        const std::string surface = base->surface;
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("puddles")));
        QVERIFY(settled());
        QCOMPARE(layersOf(session().project(), surface).size(), before + 1);
        auto* within = control<QPushButton>("feed-mask");
        QVERIFY(within != nullptr);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(within);
        hands.click(*within);
        QVERIFY(QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
        QVERIFY(hands.choose(QStringLiteral("Where water stands")));
        QVERIFY(settled());
        const Line* layer = layersOf(session().project(), surface).back();
        QCOMPARE(headOf(*layer).feeds.at("mask").line, std::string("allowed"));
        QVERIFY(fillsOf(session().project(), layer->id).size() >= 2);
    }
    void twoPatternsByDifferencePushedOut() {
        // The state: on the tile, the base colour's map chosen, the demo's library at hand.
        ViewSettings view = session().project().view;
        view.model = "tile-panel";
        session().apply(edits::setView(session().project(), view), QStringLiteral("Model"));
        QVERIFY(settled());
        const QImage before = window().model().picture();
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("noise")));
        QVERIFY(settled());
        const std::string first = session().selectedStep();
        QVERIFY(addByFinder(hands, QStringLiteral("difference shape")));
        QVERIFY(settled());
        const std::string difference = session().selectedStep();
        QVERIFY(addByFinder(hands, QStringLiteral("ramp verdigris")));
        QVERIFY(settled());
        hands.openMenu(board(), board().cardRect(difference).center());
        QVERIFY(hands.choose(QStringLiteral("Push out by this")));
        QVERIFY(settled());
        const auto over = [&](const std::string& step) {
            return session().shownStep(step)->feeds.at("over").line;
        };
        QVERIFY(session().project().view.displacement > 0);
        QVERIFY(window().model().picture() != before);
        double most = 0, wrong = 0;
        std::set<int> colours;
        for (float u = 0.03f; u < 1; u += 0.06f)
            for (float v = 0.03f; v < 1; v += 0.06f) {
                const float a = valueAt(over(first), u, v).x, b = valueAt(over(difference), u, v).x,
                            // A height is a number, so it takes the colour's as it is displayed.
                    wanted = linearToSrgb(std::fabs(a - b));
                const Vec3 height = valueAt("height", u, v), colour = valueAt("base-colour", u, v);
                wrong = std::max(wrong, static_cast<double>(std::fabs(height.x - wanted)));
                most = std::max(most, static_cast<double>(wanted));
                colours.insert(static_cast<int>(200 * colour.x));
                // Verdigris and no grey.
                if (std::fabs(colour.x - colour.y) + std::fabs(colour.y - colour.z) < 1e-3f) wrong = 9;
            }
        QVERIFY2(wrong < 1e-4, qPrintable(QString::number(wrong)));
        QVERIFY(most > 0.3);
        QVERIFY(colours.size() > 5);
    }
};

QTEST_MAIN(PlacingTest)
#include "placing_story_test.moc"
