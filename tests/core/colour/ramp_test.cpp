#include "core/colour/ramp.h"

#include <QtTest>
#include <cmath>
#include <limits>

#include "core/colour/encoding.h"

using namespace kettle;

namespace {

Ramp greys(std::initializer_list<std::pair<float, float>> stops, RampInterpolation interpolation) {
    Ramp ramp;
    ramp.stops.clear();
    for (const auto& [at, grey] : stops) ramp.stops.push_back({at, {grey, grey, grey}});
    ramp.interpolation = interpolation;
    return ramp;
}

float at(const Ramp& ramp, float x) {
    return rampAt(compileRamp(ramp), x).x;
}
bool close(float a, float b, float tolerance = 1e-5f) {
    return std::fabs(a - b) <= tolerance;
}

constexpr RampInterpolation kAll[] = {RampInterpolation::Hold, RampInterpolation::Linear,
                                      RampInterpolation::Smooth, RampInterpolation::Spline,
                                      RampInterpolation::SoftSpline};

}  // namespace

class RampTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void allButTheSoftSplinePassThroughTheStops() {
        for (const RampInterpolation i : kAll) {
            if (i == RampInterpolation::SoftSpline) continue;
            const Ramp ramp = greys({{0.1f, 0.0f}, {0.35f, 0.25f}, {0.6f, 0.8f}, {0.9f, 1.0f}}, i);
            for (const RampStop& stop : ramp.stops)
                QVERIFY2(close(at(ramp, stop.position), stop.colour.x), nameOf(i));
        }
    }
    void outsideTheEndsIsTheEnd() {
        for (const RampInterpolation i : kAll) {
            const Ramp ramp = greys({{0.2f, 0.3f}, {0.7f, 0.9f}}, i);
            QCOMPARE(at(ramp, -5), at(ramp, 0.1f));
            QCOMPARE(at(ramp, 9), at(ramp, 0.8f));
            if (i != RampInterpolation::SoftSpline) {
                QVERIFY(close(at(ramp, -5), 0.3f));
                QVERIFY(close(at(ramp, 9), 0.9f));
            }
        }
    }
    void betweenTwoStops() {
        const auto middle = [](RampInterpolation i) { return at(greys({{0, 0}, {1, 1}}, i), 0.25f); };
        QVERIFY(close(middle(RampInterpolation::Hold), 0));
        QVERIFY(close(middle(RampInterpolation::Linear), 0.25f));
        QVERIFY(close(middle(RampInterpolation::Smooth), 3 * 0.0625f - 2 * 0.015625f));
        QVERIFY(close(middle(RampInterpolation::Spline),
                      0.25f));  // monotone cubic through two points is straight
    }
    void softSplineOfStraightStopsIsStraightInside() {
        const Ramp ramp = greys({{0, 0}, {0.25f, 0.25f}, {0.5f, 0.5f}, {0.75f, 0.75f}, {1, 1}},
                                RampInterpolation::SoftSpline);
        for (const float x : {0.26f, 0.4f, 0.5f, 0.6f, 0.74f}) QVERIFY(close(at(ramp, x), x));
        QVERIFY(close(at(ramp, 0), 0.25f / 6));  // the doubled end: (5 y0 + y1) / 6
    }
    void splineNeverLeavesTheStopsRange() {
        // Data with a plateau and a jump: Fritsch and Carlson's condition keeps it monotone.
        const Ramp ramp =
            greys({{0, 0}, {0.3f, 0.02f}, {0.35f, 0.95f}, {0.6f, 0.95f}, {1, 1}}, RampInterpolation::Spline);
        float last = -1;
        for (int i = 0; i <= 1000; ++i) {
            const float y = at(ramp, static_cast<float>(i) / 1000);
            QVERIFY(y >= last - 1e-6f && y <= 1 + 1e-6f);
            last = y;
        }
        QVERIFY(close(at(ramp, 0.5f), 0.95f));
    }
    void equalPositionsMakeAHardEdgeInTheirOrder() {
        const Ramp ramp =
            greys({{0, 0.1f}, {0.5f, 0.2f}, {0.5f, 0.8f}, {1, 0.9f}}, RampInterpolation::Linear);
        QVERIFY(close(at(ramp, 0.49999f), 0.2f, 1e-4f));
        QVERIFY(close(at(ramp, 0.5f), 0.8f));
    }
    void orderOfTheListDoesNotMatter() {
        const Ramp sorted = greys({{0, 0}, {0.4f, 0.7f}, {1, 1}}, RampInterpolation::Linear);
        const Ramp mixed = greys({{1, 1}, {0, 0}, {0.4f, 0.7f}}, RampInterpolation::Linear);
        for (const float x : {0.1f, 0.4f, 0.77f}) QCOMPARE(at(mixed, x), at(sorted, x));
    }
    void oddInputIsDefined() {
        const Ramp ramp = greys({{0, 0.25f}, {1, 0.75f}}, RampInterpolation::Smooth);
        QVERIFY(close(at(ramp, std::numeric_limits<float>::infinity()), 0.75f));
        QVERIFY(close(at(ramp, std::nanf("")), 0.25f));
        Ramp empty;
        empty.stops.clear();
        QCOMPARE(at(empty, 0.5f), 0.0f);
        QVERIFY(close(at(greys({{0.4f, 0.6f}}, RampInterpolation::Spline), 0.1f), 0.6f));
    }
    void mixingEncodedMeetsInTheDisplaysMiddle() {
        Ramp ramp;
        ramp.mixing = RampMixing::Encoded;
        QVERIFY(close(at(ramp, 0.5f), srgbToLinear(0.5f)));
        ramp.mixing = RampMixing::Linear;
        QVERIFY(close(at(ramp, 0.5f), 0.5f));
    }
    void hsvGoesTheShortOrTheLongWayRound() {
        Ramp ramp;
        ramp.stops = {{0, {1, 0, 0}}, {1, {0, 1, 0}}};
        ramp.mixing = RampMixing::HsvShort;
        const Vec3 shortWay = rampAt(compileRamp(ramp), 0.5f);
        QVERIFY(close(shortWay.x, 1) && close(shortWay.y, 1) && close(shortWay.z, 0));  // yellow
        ramp.mixing = RampMixing::HsvLong;
        const Vec3 longWay = rampAt(compileRamp(ramp), 0.5f);
        QVERIFY(close(longWay.x, 0) && close(longWay.y, 0) && close(longWay.z, 1));  // blue
    }
    void manyStopsAreAllMet() {
        // More than one vector of pieces: thirty-three stops on a curve of squares, and between them
        // straight.
        Ramp ramp;
        ramp.stops.clear();
        for (int i = 0; i <= 32; ++i) {
            const float x = static_cast<float>(i) / 32;
            ramp.stops.push_back({x, {x * x, 1 - x, x}});
        }
        const RampCurve curve = compileRamp(ramp);
        for (int i = 0; i < 32; ++i) {
            const float x = static_cast<float>(i) / 32, next = static_cast<float>(i + 1) / 32;
            const Vec3 at = rampAt(curve, x), between = rampAt(curve, (x + next) / 2);
            QVERIFY(close(at.x, x * x) && close(at.y, 1 - x) && close(at.z, x));
            QVERIFY(close(between.x, (x * x + next * next) / 2));
        }
    }
    void aGreyBetweenColoursTakesTheHueBehindIt() {
        Ramp ramp;
        ramp.mixing = RampMixing::HsvShort;
        // Green, grey, blue: from the grey on it is blue, and up to it the hue turns there by way of cyan.
        ramp.stops = {{0, {0, 1, 0}}, {0.5f, {0.5f, 0.5f, 0.5f}}, {1, {0, 0, 1}}};
        const Vec3 before = rampAt(compileRamp(ramp), 0.25f), behind = rampAt(compileRamp(ramp), 0.75f);
        QVERIFY(close(before.x, 0.375f) && close(before.y, 0.75f) && close(before.z, 0.75f));
        QVERIFY(close(behind.x, 0.375f) && close(behind.y, 0.375f) && close(behind.z, 0.75f));
        // At the end it takes the one before it.
        ramp.stops = {{0, {0, 1, 0}}, {1, {0.5f, 0.5f, 0.5f}}};
        const Vec3 last = rampAt(compileRamp(ramp), 0.5f);
        QVERIFY(close(last.x, 0.375f) && close(last.y, 0.75f) && close(last.z, 0.375f));
    }
    void greyEndsTakeTheirNeighboursHue() {
        Ramp ramp;
        ramp.stops = {{0, {0, 0, 0}}, {1, {0, 0, 1}}};
        ramp.mixing = RampMixing::HsvShort;
        const Vec3 c = rampAt(compileRamp(ramp), 0.5f);
        QVERIFY(close(c.z, 0.5f) && c.x <= c.z && c.y <= c.z && c.z > 0);
        QVERIFY(std::fabs(c.x - c.y) < 1e-5f);  // still blue, not on its way from red
    }
    void identityIsRecognised() {
        QVERIFY(Ramp{}.isIdentity());
        QVERIFY(greys({{0, 0}, {0.3f, 0.3f}, {1, 1}}, RampInterpolation::Spline).isIdentity());
        QVERIFY(!greys({{0, 0}, {0.3f, 0.4f}, {1, 1}}, RampInterpolation::Linear).isIdentity());
        QVERIFY(!greys({{0, 0}, {1, 1}}, RampInterpolation::Smooth).isIdentity());
        QVERIFY(!greys({{0.1f, 0.1f}, {1, 1}}, RampInterpolation::Linear).isIdentity());
    }
    void namesGoBothWays() {
        for (const RampInterpolation i : kAll) {
            RampInterpolation back = RampInterpolation::Hold;
            QVERIFY(interpolationOf(nameOf(i), back));
            QCOMPARE(back, i);
        }
        RampMixing mixing = RampMixing::Linear;
        QVERIFY(mixingOf("oklab", mixing));
        QCOMPARE(mixing, RampMixing::Oklab);
        QVERIFY(!mixingOf("purple", mixing));
    }
};

QTEST_APPLESS_MAIN(RampTest)
#include "ramp_test.moc"
