// What an artist does with patterns and placements, counted by hand actions: a set placed by its frame, a
// ground without repeats, shade laid in, a pattern over a set, edge wear.
#include "app/fields/number_field.h"
#include "app/preview/flat_view.h"
#include "app/preview/placement_frame.h"
#include "app/style/theme.h"
#include "core/analysis/board_pictures.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class PlacingTest final : public QObject, DemoWindow {
    Q_OBJECT

    Vec3 at(const char* channel, float u, float v) {
        const Line* line = session().project().lineOfChannel(channel);
        const auto p =
            probe(session().project(), session().look(), line->id, "", u, v, session().resources());
        return {p->linear[0], p->linear[1], p->linear[2]};
    }
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
    /// The finder's way: a slash, a word, Enter.
    void add(Hands& hands, const QString& word) {
        board().setFocus();
        hands.chord(Qt::Key_Slash);
        hands.type(word);
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
        QVERIFY(session().project().looks.size() == 4);  // a look was begun, and the base stays
        QVERIFY(jobDone("One placement for all maps, in cm and degrees", hands.actions(), 2));
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
        const Vec3 here = at("base-colour", 0.1f, 0.6f), there = at("base-colour", 0.35f, 0.6f);
        QVERIFY(length(here - there) > 1e-3f);
        QVERIFY(jobDone("A ground of one small set without visible repeat", hands.actions(), 2));
    }

    void occlusionLaidInAsADarkerVersion() {
        Hands hands;
        const Vec3 before = at("base-colour", 0.66f, 0.02f);
        add(hands, QStringLiteral("shadow"));
        QVERIFY(settled());
        QCOMPARE(session().shownStep(session().selectedStep())->type, std::string("shadow-colour"));
        // At the spout's foot it is darker, and its hue stays.
        double darkest = 1;
        for (float u = 0.52f; u < 0.8f; u += 0.01f) {
            const Vec3 now = at("base-colour", u, 0.02f);
            darkest = std::min(darkest, static_cast<double>(now.x / std::max(1e-3f, before.x)));
        }
        QVERIFY2(darkest < 0.8, qPrintable(QString::number(darkest)));
        QVERIFY(jobDone("Occlusion laid in as a darker version of the colour", hands.actions(), 2));
    }
};

QTEST_MAIN(PlacingTest)
#include "placing_test.moc"
