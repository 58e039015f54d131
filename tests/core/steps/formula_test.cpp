#include <QtTest>

#include "core/steps/formula_parser.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class FormulaTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void numbers_data() {
        QTest::addColumn<QString>("formula");
        QTest::addColumn<double>("result");  // with in = 0.25, a = 0.5
        const auto row = [](const char* f, double r) { QTest::newRow(f) << QString::fromUtf8(f) << r; };
        row("in", 0.25);
        row("1 + 2 * 3", 7);
        row("(1 + 2) * 3", 9);
        row("2 ^ 3 ^ 2", 512);
        row("-2 ^ 2", -4);
        row("2 ^ -1", 0.5);
        row("7 % 4", 3);
        row("-1 % 4", 3);
        row("1 / 0", 0);
        row("sqrt(-4)", 0);
        row("pow(-8, 1 / 3)", -2);
        row("cbrt(27)", 3);
        row("a > in ? 10 : 20", 10);
        row("a < in ? 10 : 20", 20);
        row("in <= 0.25 && a >= 0.5", 1);
        row("in == 0.25 || 0", 1);
        row("!(in != 0.25)", 1);
        row("3 && 2", 1);
        row("sin(90)", 1);
        row("cos(60)", 0.5);
        row("atan2(1, 0)", 90);
        row("clamp(5, 0, 2)", 2);
        row("mix(2, 4, a)", 3);
        row("step(0.5, 0.5)", 1);
        row("smoothstep(0, 1, 0.25)", 0.15625);
        row("min(3, max(1, 2))", 2);
        row("fract(2.75) + floor(2.75)", 2.75);
        row("round(2.5)", 3);
        row("encode(decode(0.3))", 0.3);
        row("lum(rgb(1, 0, 0))", 0.2126);
        row("hsv(120, 1, 0.5).g", 0.5);
        row("rgb(0, 0, 1).h", 240);
        row("b", 0);
        row("u + v", 0.75);  // the place (0.5, 0.25)
    }
    void numbers() {
        QFETCH(QString, formula);
        QFETCH(double, result);
        const auto out = evaluate(
            valueThrough(
                0.25, step("f", "formula", {{"formula", formula.toStdString()}}, {{"a", constantFeed(0.5)}})),
            "base", "", 0.5f, 0.25f);
        QVERIFY2(near(out[0], static_cast<float>(result), 5e-6f), words(out).c_str());
    }
    void coloursWorkOnEveryComponent() {
        const auto out = evaluate(
            colourThrough({0.1f, 0.2f, 0.3f}, step("f", "formula", {{"formula", std::string("in * 2 + a")}},
                                                   {{"a", constantFeed(Colour{0.5f, 0, 0.1f})}})));
        QVERIFY2(near(out, {0.7f, 0.4f, 0.7f}), words(out).c_str());
    }
    void problemsNameTheirPlace_data() {
        QTest::addColumn<QString>("formula");
        QTest::addColumn<QString>("problem");
        const auto row = [](const char* f, const char* p) {
            QTest::newRow(f) << QString::fromUtf8(f) << QString::fromUtf8(p);
        };
        row("", "At character 1: a value is missing at the end.");
        row("1 +", "At character 4: a value is missing at the end.");
        row("2 * sined(3)",
            "At character 5: \"sined\" is no function and no name; names are in, a, b, c, d, u, v and pi.");
        row("min(1)", "At character 1: min takes 2 values but has 1.");
        row("(1 + 2", "At character 7: \")\" is missing at the end.");
        row("1 2", "At character 3: \"2\" does not belong here.");
        row("in.q", "At character 4: a component is one of r, g, b, a, h, s and v.");
        row("a ? 1", "At character 6: \":\" is missing at the end.");
        row("u.r", "At character 3: only a colour has components, and this is a number.");
        row("1 # 2", "At character 3: \"#\" does not belong here.");
        row("rgb(1, 0, 0)",
            "The formula gives a colour, but a grey line needs a number. Put lum(…) around it.");
    }
    void problemsNameTheirPlace() {
        QFETCH(QString, formula);
        QFETCH(QString, problem);
        QCOMPARE(QString::fromStdString(formulaProblem(formula.toStdString(), Kind::Scalar)), problem);
        // And the step passes its input on.
        QCOMPARE(evaluate(valueThrough(0.25, step("f", "formula", {{"formula", formula.toStdString()}})))[0],
                 0.25f);
    }
    void deepNestingIsRefused() {
        const std::string deep = std::string(500, '(') + "1" + std::string(500, ')');
        QVERIFY(formulaProblem(deep, Kind::Scalar).find("too many brackets") != std::string::npos);
        QVERIFY(!formulaProblem(std::string(5000, '-') + "1", Kind::Scalar).empty());
    }
    void everyFunctionOfTheReferenceExists() {
        for (const std::string& form : formula::functionList()) {
            const std::string name = form.substr(0, form.find('('));
            std::string call = name + "(0.5";
            for (const char c : form)
                if (c == ',') call += ", 0.25";
            call = "lum(" + call + "))";
            QCOMPARE(QString::fromStdString(formulaProblem(call, Kind::Scalar)), QString());
        }
    }
};

QTEST_APPLESS_MAIN(FormulaTest)
#include "formula_test.moc"
