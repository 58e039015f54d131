// The working spaces, against matrices derived here from the published primaries and white points.
#include "core/colour/working_space.h"

#include <QtTest>
#include <array>
#include <cmath>

#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

using Row = std::array<double, 3>;
using Matrix = std::array<Row, 3>;

Matrix product(const Matrix& a, const Matrix& b) {
    Matrix m{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            for (std::size_t k = 0; k < 3; ++k) m[i][j] += a[i][k] * b[k][j];
    return m;
}
Row product(const Matrix& a, const Row& v) {
    Row r{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k) r[i] += a[i][k] * v[k];
    return r;
}
/// By elimination, so that no formula of the product's is used.
Matrix inverse(Matrix a) {
    Matrix b{Row{1, 0, 0}, Row{0, 1, 0}, Row{0, 0, 1}};
    for (std::size_t c = 0; c < 3; ++c) {
        std::size_t best = c;
        for (std::size_t r = c; r < 3; ++r)
            if (std::fabs(a[r][c]) > std::fabs(a[best][c])) best = r;
        std::swap(a[c], a[best]), std::swap(b[c], b[best]);
        const double pivot = a[c][c];
        for (std::size_t j = 0; j < 3; ++j) a[c][j] /= pivot, b[c][j] /= pivot;
        for (std::size_t r = 0; r < 3; ++r) {
            if (r == c) continue;
            const double factor = a[r][c];
            for (std::size_t j = 0; j < 3; ++j) a[r][j] -= factor * a[c][j], b[r][j] -= factor * b[c][j];
        }
    }
    return b;
}
Row whiteXyz(double x, double y) {
    return {x / y, 1, (1 - x - y) / y};
}
/// RP 177: primaries' chromaticities and a white to XYZ.
Matrix toXyz(const std::array<std::array<double, 2>, 3>& primaries, const Row& white) {
    Matrix columns{};
    for (std::size_t p = 0; p < 3; ++p) {
        const Row xyz = whiteXyz(primaries[p][0], primaries[p][1]);
        for (std::size_t i = 0; i < 3; ++i) columns[i][p] = xyz[i];
    }
    const Row scale = product(inverse(columns), white);
    for (Row& row : columns)
        for (std::size_t p = 0; p < 3; ++p) row[p] *= scale[p];
    return columns;
}
/// Bradford's cone responses (Lam 1985).
Matrix bradford(const Row& from, const Row& to) {
    const Matrix cones{Row{0.8951, 0.2664, -0.1614}, Row{-0.7502, 1.7135, 0.0367},
                       Row{0.0389, -0.0685, 1.0296}};
    const Row a = product(cones, from), b = product(cones, to);
    const Matrix gain{Row{b[0] / a[0], 0, 0}, Row{0, b[1] / a[1], 0}, Row{0, 0, b[2] / a[2]}};
    return product(inverse(cones), product(gain, cones));
}

const Row kD65 = whiteXyz(0.3127, 0.3290), kAcesWhite = whiteXyz(0.32168, 0.33767);
const Matrix kAp1 = toXyz({{{0.713, 0.293}, {0.165, 0.830}, {0.128, 0.044}}}, kAcesWhite);
const Matrix kRec709 = toXyz({{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}}, kD65);

}  // namespace

class WorkingSpaceTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void acescgIsItsPrimariesAndAnAdaptedWhite() {
        const Matrix wanted = product(inverse(kRec709), product(bradford(kAcesWhite, kD65), kAp1));
        const WorkingSpace s = workingSpaceOf("ACEScg");
        for (std::size_t i = 0; i < 9; ++i)
            QVERIFY2(near(s.toRec709[i], static_cast<float>(wanted[i / 3][i % 3]), 2e-5f),
                     std::to_string(i).c_str());
        const Matrix back = inverse(wanted);
        for (std::size_t i = 0; i < 9; ++i)
            QVERIFY(near(s.fromRec709[i], static_cast<float>(back[i / 3][i % 3]), 2e-5f));
    }
    void luminanceIsTheMiddleRowOfThePrimaries() {
        const WorkingSpace aces = workingSpaceOf("ACEScg"), plain = workingSpaceOf("linear Rec.709");
        const auto same = [](Vec3 weights, const Row& row, float tolerance) {
            return near(weights.x, static_cast<float>(row[0]), tolerance) &&
                   near(weights.y, static_cast<float>(row[1]), tolerance) &&
                   near(weights.z, static_cast<float>(row[2]), tolerance);
        };
        QVERIFY(same(aces.luminanceWeights, kAp1[1], 1e-5f));
        QVERIFY(same(plain.luminanceWeights, kRec709[1], 1e-4f));  // BT.709 gives four digits
    }
    void whiteStaysWhiteAndColoursComeBack() {
        for (const std::string& name : workingSpaceNames()) {
            const WorkingSpace s = workingSpaceOf(name);
            QCOMPARE(s.name, name);
            const Vec3 white = s.fromLinear({1, 1, 1});
            QVERIFY(near(white.x, 1, 2e-5f) && near(white.y, 1, 2e-5f) && near(white.z, 1, 2e-5f));
            for (const Vec3 c : {Vec3{0.8f, 0.1f, 0.02f}, Vec3{0, 0, 0}, Vec3{12, -0.5f, 3}}) {
                const Vec3 back = s.toLinear(s.fromLinear(c));
                QVERIFY(near(back.x, c.x, 1e-5f) && near(back.y, c.y, 1e-5f) && near(back.z, c.z, 1e-5f));
            }
        }
    }
    void rec709ColoursLieInsideTheWiderSpace() {
        const WorkingSpace aces = workingSpaceOf("ACEScg");
        for (const Vec3 c : {Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}}) {
            const Vec3 wide = aces.fromLinear(c);
            QVERIFY(wide.x > 0 && wide.y > 0 && wide.z > 0);
        }
    }
    void anUnknownNameGivesTheDefault() {
        QVERIFY(workingSpaceOf("nothing of the kind").isRec709());
        QCOMPARE(workingSpaceNames().front(), std::string("linear Rec.709"));
    }
};

QTEST_GUILESS_MAIN(WorkingSpaceTest)
#include "working_space_test.moc"
