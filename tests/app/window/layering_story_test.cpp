// What an artist does with layers: two sets mixed by a pattern, a printed design,
// wear by a scratch map, a damp foot, a large ground of four sets, and a layer that shows both.
#include <QAbstractButton>
#include <QLineEdit>
#include <QTemporaryDir>

#include "app/fields/number_field.h"
#include "app/style/theme.h"
#include "app/tuner/layer_table.h"
#include "core/analysis/board_pictures.h"
#include "core/colour/encoding.h"
#include "core/document/layer_edits.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class LayeringTest final : public QObject, DemoWindow {
    Q_OBJECT

    float maskAt(const std::string& layer, float u, float v) { return valueAt(layer, u, v).x; }
    /// A drag of a slider to a value; what is not seen is scrolled to, which is looking.
    void slide(Hands& hands, const char* control_, double to) {
        auto* slider = control<ValueSlider>(control_);
        QVERIFY2(slider != nullptr, control_);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(slider);
        const int y = slider->height() / 2;
        hands.drag(*slider, QPoint(static_cast<int>(slider->positionOf(slider->value())), y),
                   QPoint(static_cast<int>(slider->positionOf(to)), y));
        QVERIFY(settled());
    }
    void press(Hands& hands, const char* button) {
        auto* found = control<QAbstractButton>(button);
        QVERIFY2(found != nullptr, button);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(found);
        hands.click(*found, QPoint(8, found->height() / 2));
        QVERIFY(settled());
    }
    void write(Hands& hands, const char* field, const QString& words) {
        auto* found = control<QLineEdit>(field);
        QVERIFY2(found != nullptr, field);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(found);
        found->setFocus();
        found->selectAll();
        hands.type(words);
        QVERIFY(settled());
    }
    void clickHead(Hands& hands, const std::string& layer) {
        const QRect head = board().cardRect(headOf(*session().project().findLine(layer)).id);
        hands.click(board(), head.center());
        QVERIFY(settled());
    }
    /// A free place of the board, where a dropped folder lies over the surface.
    QPoint freePlace() { return {60, board().capRect("base-colour").bottom() + 30}; }
    void layOver(Hands& hands, const char* folder) {
        const std::size_t before = layersOf(session().project(), "").size();
        hands.drop({QString::fromStdString((kData / folder).string())}, board(), freePlace());
        QVERIFY(QTest::qWaitFor([&] { return layersOf(session().project(), "").size() > before; }, 30000));
        QVERIFY(settled());
    }
    std::string topLayer() { return layersOf(session().project(), "").back()->id; }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void twoSetsMixedByAPattern() {
        Hands hands;
        const Vec3 before = valueAt("base-colour", 0.3f, 0.45f);
        layOver(hands, "rattan");
        const std::string layer = topLayer();
        QVERIFY(fillsOf(session().project(), layer).size() >= 4);
        press(hands, "mask-noise");
        slide(hands, "slider-stretch", 4);
        slide(hands, "slider-offset-u", 0.4);
        // Where the mask says how much, both are mixed so; the roughness in the same places.
        const std::string fill = fillsOf(session().project(), layer).front().step->id;
        const Step mask = *session().shownStep(session().selectedStep());
        QCOMPARE(mask.type, std::string("noise"));
        QVERIFY(std::get<double>(mask.controls.at("stretch")) > 2);
        bool isMixed = false;
        for (float u = 0.1f; u < 0.9f; u += 0.1f) {
            const float m = maskAt(layer, u, 0.45f);
            const Vec3 over = [&] {
                const Line* own = ownLineOf(session().project(),
                                            session().project().stepAt(*session().project().findStep(fill)));
                const auto p = probe(session().project(), session().look(), own->id, "", u, 0.45f,
                                     session().resources());
                return Vec3{p->linear[0], p->linear[1], p->linear[2]};
            }();
            const auto under =
                probe(session().project(), "", "base-colour", "", u, 0.45f, session().resources());
            const float wanted = under->linear[0] + m * (over.x - under->linear[0]);
            QVERIFY(std::fabs(valueAt("base-colour", u, 0.45f).x - wanted) < 1e-4f);
            isMixed = isMixed || (m > 0.2f && m < 0.8f);
        }
        QVERIFY(isMixed);
        QVERIFY(length(before - valueAt("base-colour", 0.3f, 0.45f)) > 1e-3f);
    }

    void aPrintedDesignFromThreeMasks() {
        // The state: three pictures of one colour with soft edges.
        QTemporaryDir folder;
        QStringList files;
        for (int k = 0; k < 3; ++k) {
            const QString file = folder.filePath(QStringLiteral("print_%1.png").arg(k));
            QVERIFY(writePicture(file.toStdString(), 64, 64, 4, [k](int x, int y, int c) {
                        const double away = std::hypot(x - 16 - 16 * k, y - 32);
                        return c < 3 ? 255 : std::clamp(255.0 * (14 - away) / 6, 0.0, 255.0);
                    }).has_value());
            files << file;
        }
        const std::size_t before = layersOf(session().project(), "").size();
        Hands hands;
        hands.drop(files, board(), freePlace());
        QVERIFY(settled());
        const auto order = layersOf(session().project(), "");
        QCOMPARE(order.size(), before + 3);
        std::vector<std::string> layers;
        for (std::size_t i = before; i < order.size(); ++i) layers.push_back(order[i]->id);
        const char* colours[] = {"#204080", "#C04020", "#F0E0A0"};
        for (std::size_t k = 0; k < 3; ++k) {
            clickHead(hands, layers[k]);
            write(hands, "fill-hex-base-colour", QString::fromLatin1(colours[k]));
        }
        // In the middle of the last one its colour; on its soft edge a mixture. As square as the kettle's
        // map, each lies over the whole texture, for which it was drawn.
        Colour c;
        QVERIFY(linearOfHex("#F0E0A0", c.r, c.g, c.b));
        QVERIFY(length(valueAt("base-colour", 0.75f, 0.5f) - Vec3{c.r, c.g, c.b}) < 2e-3f);
        const float soft = maskAt(layers[2], 0.75f + 11.0f / 64, 0.5f);
        QVERIFY2(soft > 0.2f && soft < 0.8f, qPrintable(QString::number(soft)));
        QCOMPARE(maskAt(layers[2], 0.1f, 0.1f), 0.0f);
    }

    void wearThroughContrastAndGammaOfAScratchMap() {
        // The state: a layer whose mask is the set's map of wear.
        session().addLayer();
        const std::string layer = topLayer();
        session().setMaskSource(layer, session().newMapStep("enamel_kettle", "wear"));
        QVERIFY(settled());
        Hands hands;
        const float before = maskAt(layer, 0.42f, 0.5f);
        clickHead(hands, layer);
        slide(hands, "slider-mask-gamma", 2);
        slide(hands, "slider-mask-contrast", 3);
        const Step head = *session().shownStep(session().selectedStep());
        const double gamma = std::get<double>(head.controls.at("mask-gamma")),
                     contrast = std::get<double>(head.controls.at("mask-contrast"));
        const double wanted =
            std::clamp((std::pow(static_cast<double>(before), 1 / gamma) - 0.5) * contrast + 0.5, 0.0, 1.0);
        QVERIFY(std::fabs(static_cast<double>(maskAt(layer, 0.42f, 0.5f)) - wanted) < 1e-4);
    }

    void aDampFoot() {
        Hands hands;
        const Vec3 dry = valueAt("base-colour", 0.3f, 0.31f), high = valueAt("base-colour", 0.3f, 0.9f);
        QVERIFY(addByFinder(hands, QStringLiteral("layer")));
        QVERIFY(settled());
        const std::string layer = topLayer();
        press(hands, "cover-roughness");
        write(hands, "fill-value-roughness", QStringLiteral("0.06"));
        press(hands, "cover-normal");
        // A layer covers.
        write(hands, "fill-hex-base-colour", QStringLiteral("#20262a"));
        press(hands, "mask-model-height");
        const float m = maskAt(layer, 0.3f, 0.31f);
        QVERIFY2(m > 0.5f, qPrintable(QString::number(m)));
        QVERIFY(valueAt("base-colour", 0.3f, 0.31f).x < dry.x * 0.8f);
        QVERIFY2(std::fabs(valueAt("roughness", 0.3f, 0.31f).x - 0.06f) < 0.5f * (1 - m) + 1e-3f,
                 qPrintable(QStringLiteral("%1 %2").arg(valueAt("roughness", 0.3f, 0.31f).x).arg(m)));
        QVERIFY(valueAt("normal", 0.3f, 0.31f).z > 0.99f);
        QVERIFY(length(valueAt("base-colour", 0.3f, 0.9f) - high) < 1e-5f);
        // What was received is as it was.
        QCOMPARE(session().look(), std::string("look"));
    }

    void aLargeGroundOfFourSets() {
        QTemporaryDir folder;
        const QString lines = folder.filePath(QStringLiteral("lines.png"));
        QVERIFY(writePicture(lines.toStdString(), 64, 64, 4, [](int x, int, int c) {
                    return c < 3 ? 240 : x % 16 < 3 ? 255 : 0;
                }).has_value());
        Hands hands;
        for (const char* set : {"rattan", "sailcloth", "glazed_tile"}) {
            layOver(hands, set);
            const std::string layer = topLayer();
            press(hands, "mask-noise");
            slide(hands, "slider-contrast", 3);
            press(hands, "another-seed");
            // Back to the layer, which lies in patches.
            QVERIFY(!layer.empty());
        }
        // The tiles' patches are drawn towards the ground's colour.
        const std::string tiles = topLayer();
        clickHead(hands, tiles);
        write(hands, "fill-amount-base-colour", QStringLiteral("0.6"));
        hands.drop({lines}, board(), freePlace());
        QVERIFY(settled());
        const std::string stamp = topLayer();
        QVERIFY(addByFinder(hands, QStringLiteral("layer")));
        QVERIFY(settled());
        press(hands, "cover-roughness");
        write(hands, "fill-value-roughness", QStringLiteral("0.04"));
        press(hands, "cover-normal");
        press(hands, "mask-noise");
        const std::string puddles = topLayer();
        // Stepped through from the bottom up.
        board().setFocus();
        for (int k = 0; k < 3; ++k) {
            hands.chord(Qt::Key_Comma);
            QVERIFY(settled());
        }
        QCOMPARE(session().layerView(), LayerView::UpTo);
        hands.chord(Qt::Key_Escape);
        QVERIFY(fillsOf(session().project(), stamp).size() == 1);
        QVERIFY(fillsOf(session().project(), puddles).size() == 3);
        // Where the puddles lie most it is glossier and flatter than where they lie least.
        std::map<float, float> byMask;  // the place across, by the mask
        for (float u = 0.02f; u < 1; u += 0.02f) byMask[maskAt(puddles, u, 0.5f)] = u;
        const auto [least, dry] = *byMask.begin();
        const auto [most, wet] = *byMask.rbegin();
        QVERIFY(most > 0.6f && least < 0.4f);
        QVERIFY(valueAt("roughness", wet, 0.5f).x < 0.04f * most + (1 - most) + 1e-4f);
        QVERIFY(valueAt("roughness", wet, 0.5f).x < valueAt("roughness", dry, 0.5f).x);
        QVERIFY(valueAt("normal", wet, 0.5f).z > 0.95f);
    }

    void theUpperLayerShowsBoth() {
        session().addLayerOf("enamel_kettle");
        QVERIFY(settled());
        const std::string layer = topLayer();
        QCOMPARE(maskAt(layer, 0.5f, 0.5f), 1.0f);
        Hands hands;
        slide(hands, "slider-amount", 0.5);
        QVERIFY(std::fabs(maskAt(layer, 0.5f, 0.5f) - 0.5f) < 0.02f);
    }
};

QTEST_MAIN(LayeringTest)
#include "layering_story_test.moc"
