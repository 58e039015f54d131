#include <QtTest>
#include <limits>

#include "core/colour/encoding.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

std::array<float, 4> converted(const char* from, const char* to, Colour c) {
    return evaluate(
        colourThrough(c, step("c", "convert", {{"from", std::string(from)}, {"to", std::string(to)}})));
}

}  // namespace

class ConvertTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void hsvAtTheCornersOfTheCube() {
        // Hue as a share of a turn.
        struct Row {
            Colour rgb;
            Vec3 hsv;
        };
        for (const Row& row :
             {Row{{1, 0, 0}, {0, 1, 1}}, Row{{1, 1, 0}, {1 / 6.0f, 1, 1}}, Row{{0, 1, 0}, {1 / 3.0f, 1, 1}},
              Row{{0, 1, 1}, {0.5f, 1, 1}}, Row{{0, 0, 1}, {2 / 3.0f, 1, 1}},
              Row{{1, 0, 1}, {5 / 6.0f, 1, 1}}, Row{{0, 0, 0}, {0, 0, 0}},
              Row{{0.5f, 0.5f, 0.5f}, {0, 0, 0.5f}}, Row{{3, 3, 3}, {0, 0, 3}},
              Row{{0.8f, 0.4f, 0.4f}, {0, 0.5f, 0.8f}}, Row{{-1, 0.5f, 0.5f}, {0.5f, 1, 0.5f}}}) {
            const auto out = converted("rgb", "hsv", row.rgb);
            QVERIFY2(near(out, row.hsv), words(out).c_str());
        }
    }
    void anInfiniteGreyIsAGrey() {
        constexpr float kInfinity = std::numeric_limits<float>::infinity();
        const auto out = converted("rgb", "hsv", {kInfinity, kInfinity, kInfinity});
        QCOMPARE(out[0], 0.0f);
        QCOMPARE(out[1], 0.0f);
        QCOMPARE(out[2], kInfinity);
    }
    void hslAtTheCornersOfTheCube() {
        for (const auto& [rgb, hsl] : {std::pair<Colour, Vec3>{{1, 0, 0}, {0, 1, 0.5f}},
                                       {{0, 0, 1}, {2 / 3.0f, 1, 0.5f}},
                                       {{1, 1, 1}, {0, 0, 1}},
                                       {{0, 0, 0}, {0, 0, 0}},
                                       {{0.75f, 0.25f, 0.25f}, {0, 0.5f, 0.5f}},
                                       {{0.9f, 0.7f, 0.7f}, {0, 0.5f, 0.8f}}}) {
            const auto out = converted("rgb", "hsl", rgb);
            QVERIFY2(near(out, hsl), words(out).c_str());
        }
    }
    void oklabsPublishedPairs() {
        // B. Ottosson 2020, "Table of example XYZ and Oklab pairs".
        for (const auto& [xyz, lab] : {std::pair<Colour, Vec3>{{0.950f, 1, 1.089f}, {1, 0, 0}},
                                       {{1, 0, 0}, {0.450f, 1.236f, -0.019f}},
                                       {{0, 1, 0}, {0.922f, -0.671f, 0.263f}},
                                       {{0, 0, 1}, {0.153f, -1.415f, -0.449f}}}) {
            const auto out = converted("xyz", "oklab", xyz);
            QVERIFY2(near(out, lab, 1.5e-3f), words(out).c_str());
        }
    }
    void cieLabOfThePrimaries() {
        // The sRGB primaries in CIE Lab, D65, as tabulated by B. Lindbloom's formulas.
        for (const auto& [rgb, lab] : {std::pair<Colour, Vec3>{{1, 0, 0}, {53.2408f, 80.0925f, 67.2032f}},
                                       {{0, 1, 0}, {87.7347f, -86.1827f, 83.1793f}},
                                       {{0, 0, 1}, {32.2970f, 79.1875f, -107.8602f}},
                                       {{1, 1, 1}, {100, 0, 0}}}) {
            const auto out = converted("rgb", "lab", rgb);
            QVERIFY2(near(out, lab, 0.02f), words(out).c_str());
        }
    }
    void everyModelComesBack_data() {
        QTest::addColumn<QString>("model");
        for (const char* m : {"encoded", "hsv", "hsl", "oklab", "oklch", "lab", "xyz"})
            QTest::newRow(m) << QString::fromUtf8(m);
    }
    void everyModelComesBack() {
        QFETCH(QString, model);
        const std::string m = model.toStdString();
        for (const Colour c :
             {Colour{0.2f, 0.5f, 0.8f}, {0.9f, 0.1f, 0.05f}, {0.4f, 0.4f, 0.4f}, {0.02f, 0.9f, 0.3f}}) {
            Project p = colourThrough(c, step("there", "convert", {{"to", m}}));
            p.lines[0].edit().steps.emplace_back(
                step("back", "convert", {{"from", m}, {"to", std::string("rgb")}}));
            const auto out = evaluate(p);
            QVERIFY2(near(out, {c.r, c.g, c.b}, 1e-5f), words(out).c_str());
        }
    }
    void componentsReadAndJoinTogetherAgain() {
        Project p = colourThrough({0.7f, 0.2f, 0.4f}, step("none", "clamp", {{"high", 10.0}}));
        for (const char* c : {"hue", "saturation", "maximum"})
            p.lines.emplace_back(
                line(c, Kind::Scalar, "",
                     {step(std::string("read-") + c, "component",
                           {{"component", std::string(c)}, {"encoded", false}}, {{"of", feed("base")}})}));
        p.lines.emplace_back(line(
            "joined", Kind::Colour, "",
            {step("join", "join", {{"model", std::string("hsv")}},
                  {{"first", feed("hue")}, {"second", feed("saturation")}, {"third", feed("maximum")}})}));
        const auto out = evaluate(p, "joined");
        QVERIFY2(near(out, {0.7f, 0.2f, 0.4f}), words(out).c_str());
        QCOMPARE(out[3], 1.0f);
    }
    void all256CodesComeBackThroughTheEnginesCurve() {
        for (int code = 0; code < 256; ++code) {
            const float v = srgbTable()[static_cast<std::size_t>(code)];
            Project p = colourThrough({v, v, v}, step("c", "convert", {{"to", std::string("encoded")}}));
            QCOMPARE(int{toByte(evaluate(p)[0])}, code);
            p = colourThrough(
                {static_cast<float>(code) / 255, 0, 0},
                step("c", "convert", {{"from", std::string("encoded")}, {"to", std::string("rgb")}}));
            QVERIFY(std::fabs(evaluate(p)[0] - v) <= 1e-6f * std::max(v, 0.1f) + 1e-7f);
        }
    }
};

QTEST_APPLESS_MAIN(ConvertTest)
#include "convert_test.moc"
