// Maths: every function against values worked by hand, its edges, its other numbers from lines, and what it
// calls no effect.
#include <QtTest>
#include <cmath>
#include <limits>
#include <set>

#include "core/steps/emitting.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class MathsTest final : public QObject {
    Q_OBJECT

    static Step maths(const std::string& function, double b = 1, double c = 0, Controls more = {}) {
        more["function"] = function;
        more["b"] = b;
        more["c"] = c;
        return step("maths", "maths", std::move(more));
    }
    static float through(double x, const Step& s) { return evaluate(valueThrough(x, s))[0]; }
    struct Case {
        const char* function;
        double x, b, c, wanted;
    };
    /// Worked by hand; the trigonometric ones at angles whose values are known.
    static const std::vector<Case>& cases() {
        static const std::vector<Case> list{
            {"add", 0.25, 0.5, 0, 0.75},
            {"subtract", 0.25, 0.5, 0, -0.25},
            {"multiply", 0.25, 3, 0, 0.75},
            {"divide", 0.75, 3, 0, 0.25},
            {"divide", 0.75, 0, 0, 0},
            {"power", 3, 2, 0, 9},
            {"power", -3, 2, 0, -9},
            {"power", 0.5, 0, 0, 1},
            {"power", 0.09, 0.5, 0, 0.3},
            {"min", 0.2, 0.3, 0, 0.2},
            {"min", -1, 0.3, 0, -1},
            {"max", 0.2, 0.3, 0, 0.3},
            {"mod", 7.5, 2, 0, 1.5},
            {"mod", -0.25, 1, 0, 0.75},
            {"mod", 7.5, 0, 0, 0},
            {"distance", 0.2, 0.9, 0, 0.7},
            {"distance", 0.9, 0.2, 0, 0.7},
            {"step", 0.5, 0.5, 0, 1},
            {"step", 0.49, 0.5, 0, 0},
            {"greater", 0.5, 0.5, 0, 0},
            {"greater", 0.51, 0.5, 0, 1},
            {"equal", 0.5, 0.5, 0, 1},
            {"equal", 0.51, 0.5, 0, 0},
            {"smoothstep", 0.5, 0, 1, 0.5},
            {"smoothstep", 0.25, 0, 1, 0.15625},  // 3/16 - 2/64
            {"smoothstep", -1, 0, 1, 0},
            {"smoothstep", 2, 0, 1, 1},
            {"smoothstep", 0.4, 0.4, 0.4, 1},  // no width: a hard edge
            {"clamp", 5, 0.1, 0.9, 0.9},
            {"clamp", -5, 0.1, 0.9, 0.1},
            {"clamp", 0.4, 0.1, 0.9, 0.4},
            {"mix", 0.2, 0.6, 0, 0.2},
            {"mix", 0.2, 0.6, 1, 0.6},
            {"mix", 0.2, 0.6, 0.25, 0.3},
            {"multiply-add", 0.5, 3, 0.25, 1.75},
            {"select", 0.1, 0.7, 0.3, 0.7},
            {"select", 0, 0.7, 0.3, 0.3},
            {"abs", -0.4, 1, 0, 0.4},
            {"negate", 0.4, 1, 0, -0.4},
            {"one-minus", 0.4, 1, 0, 0.6},
            {"floor", -1.25, 1, 0, -2},
            {"ceil", -1.25, 1, 0, -1},
            {"ceil", 1.25, 1, 0, 2},
            {"round", 2.5, 1, 0, 3},
            {"round", -0.75, 1, 0, -1},
            {"fract", 2.75, 1, 0, 0.75},
            {"fract", -0.25, 1, 0, 0.75},
            {"sign", -3, 1, 0, -1},
            {"sign", 0, 1, 0, 0},
            {"sign", 0.001, 1, 0, 1},
            {"saturate", 1.5, 1, 0, 1},
            {"saturate", -1.5, 1, 0, 0},
            {"sqrt", 0.49, 1, 0, 0.7},
            {"sqrt", -4, 1, 0, 0},
            {"cbrt", 0.027, 1, 0, 0.3},
            {"cbrt", -8, 1, 0, -2},
            {"exp", 0, 1, 0, 1},
            {"exp", 1, 1, 0, 2.718281828},
            {"log", 1, 1, 0, 0},
            {"log", 2.718281828, 1, 0, 1},
            {"log", 0, 1, 0, 0},
            {"log", -2, 1, 0, 0},
            {"sin", 30, 1, 0, 0.5},
            {"sin", 390, 1, 0, 0.5},
            {"sin", -90, 1, 0, -1},
            {"cos", 60, 1, 0, 0.5},
            {"cos", 180, 1, 0, -1},
            {"atan2", 1, 1, 0, 45},
            {"atan2", 1, 0, 0, 90},
            {"atan2", -1, 0, 0, 270},
            {"smooth", 0.25, 1, 0, 0.15625},
            {"smooth", 2, 1, 0, 1},
            {"encode", 0.0031308, 1, 0, 0.04045},  // IEC 61966-2-1, where both parts meet
            {"encode", 1, 1, 0, 1},
            {"decode", 0.04045, 1, 0, 0.0031308},
            {"decode", 1, 1, 0, 1}};
        return list;
    }

private Q_SLOTS:
    void everyFunctionGivesWhatItsPurposeSays_data() {
        QTest::addColumn<int>("at");
        int at = 0;
        for (const Case& c : cases()) QTest::addRow("%s of %g, %g, %g", c.function, c.x, c.b, c.c) << at++;
    }
    void everyFunctionGivesWhatItsPurposeSays() {
        QFETCH(int, at);
        const Case& c = cases()[static_cast<std::size_t>(at)];
        const float got = through(c.x, maths(c.function, c.b, c.c));
        const auto wanted = static_cast<float>(c.wanted);
        QVERIFY2(near(got, wanted, std::max(5e-6f, 5e-6f * std::fabs(wanted))), std::to_string(got).c_str());
    }
    void noFunctionIsLeftOut() {
        std::set<std::string> tried;
        for (const Case& c : cases()) tried.insert(c.function);
        for (const ArithmeticFunction& f : arithmetic()) QVERIFY2(tried.contains(f.id), f.id);
    }
    void extremesStayDefined() {
        const double huge = 1e30;
        for (const ArithmeticFunction& f : arithmetic())
            for (const double x : {0.0, -1.0, huge, -huge, 1e-38})
                for (const double b : {0.0, 1.0, -2.0})
                    QVERIFY2(!std::isnan(through(x, maths(f.id, b, 0.5))), f.id);
    }
    void coloursAreComputedComponentByComponent() {
        const auto out = evaluate(colourThrough({0.5f, 0.25f, 0.1f}, maths("multiply-add", 2, 0.1)));
        QVERIFY(near(out, {1.1f, 0.6f, 0.3f}));
    }
    void aLineStandsForANumber() {
        Step s = maths("add", 100);
        s.feeds["b"] = feed("other");
        Project p = colourThrough({0.5f, 0.25f, 0.1f}, s);
        p.lines.emplace_back(
            line("other", Kind::Colour, "", {step("o", "colour", {{"colour", Colour{0.1f, 0.2f, 0.3f}}})}));
        QVERIFY(near(evaluate(p), {0.6f, 0.45f, 0.4f}));
        // A grey line counts for every component.
        Project grey = colourThrough({0.5f, 0.25f, 0.1f}, s);
        grey.lines.emplace_back(line("other", Kind::Scalar, "", {step("o", "value", {{"value", 0.25}})}));
        QVERIFY(near(evaluate(grey), {0.75f, 0.5f, 0.35f}));
    }
    void amountAndMaskTakeAPart() {
        QVERIFY(near(through(0.2, maths("add", 0.4, 0, {{"amount", 0.25}})), 0.3f));
        QCOMPARE(through(0.2, maths("add", 0.4, 0, {{"amount", 0.0}})), 0.2f);
        Step s = maths("add", 0.4);
        s.feeds["mask"] = constantFeed(0.5);
        QVERIFY(near(through(0.2, s), 0.4f));
    }
    void onDisplayNumbersMidGreyIsTheMiddle() {
        // 0.5 as displayed is 0.2140 as light (IEC 61966-2-1).
        const auto out = evaluate(
            colourThrough({1, 1, 1}, maths("multiply", 0.5, 0, {{"works-in", std::string("encoded")}})));
        QVERIFY2(near(out, {0.2140411f, 0.2140411f, 0.2140411f}, 5e-6f), words(out).c_str());
    }
    void whatIsNeutralIsCalledSo() {
        const StepSpec& spec = *shippedSteps().find("maths");
        const auto reason = [&](const Step& s) { return spec.noEffect(StepView(spec, s, Kind::Scalar)); };
        for (const char* f : {"add", "subtract"}) QVERIFY2(!reason(maths(f, 0)).empty(), f);
        for (const char* f : {"multiply", "divide", "power"}) QVERIFY2(!reason(maths(f, 1)).empty(), f);
        QVERIFY(!reason(maths("multiply-add", 1, 0)).empty());
        QVERIFY(!reason(maths("mix", 0.7, 0)).empty());
        QVERIFY(reason(maths("add", 0.01)).empty());
        QVERIFY(reason(maths("multiply-add", 1, 0.01)).empty());
        QVERIFY(reason(maths("negate")).empty());
        Step joined = maths("add", 0);
        joined.feeds["b"] = feed("other");  // the number is not read then
        QVERIFY(reason(joined).empty());
        // And is: the same value bit for bit.
        for (const double x : {-3.25, 0.1, 7e5})
            for (const Step& s :
                 {maths("add", 0), maths("multiply", 1), maths("power", 1), maths("mix", 9, 0)})
                QCOMPARE(through(x, s), static_cast<float>(x));
    }
};

QTEST_GUILESS_MAIN(MathsTest)
#include "maths_test.moc"
