// Meshes made fine and moved: edges, gaps, areas and normals that can be told in advance.
#include <QtTest>
#include <cmath>
#include <map>
#include <numbers>

#include "core/document/json.h"
#include "core/geometry/displacement.h"
#include "core/shading/preview.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// A square of 2 x 2 cm in the plane z = 0, facing +z, as two triangles; or as four vertices more, with a
/// seam along the diagonal.
Mesh square(bool withSeam = false) {
    Mesh m;
    const std::array<Vec3, 4> corners{Vec3{-1, -1, 0}, {1, -1, 0}, {1, 1, 0}, {-1, 1, 0}};
    const auto add = [&](std::size_t c, float shift) {
        m.positions.push_back(corners[c]);
        m.normals.push_back({0, 0, 1});
        m.uvs.push_back({corners[c].x * 0.5f + 0.5f + shift, corners[c].y * 0.5f + 0.5f});
        m.tangents.push_back({});
        return static_cast<std::uint32_t>(m.positions.size() - 1);
    };
    for (std::size_t c = 0; c < 4; ++c) add(c, 0);
    m.indices = {0, 1, 2, 0, 2, 3};
    if (withSeam) {
        m.indices[3] = add(0, 0.3f);
        m.indices[4] = add(2, 0.3f);
    }
    m.trianglePart = {0, 1};
    m.parts = {"a", "b"};
    return m;
}

double areaOf(const Mesh& m) {
    double sum = 0;
    for (std::size_t t = 0; t < m.triangleCount(); ++t) {
        const std::uint32_t* v = &m.indices[3 * t];
        sum += 0.5 * static_cast<double>(length(cross(m.positions[v[1]] - m.positions[v[0]],
                                                      m.positions[v[2]] - m.positions[v[0]])));
    }
    return sum;
}

using Key = std::array<float, 3>;
Key keyOf(Vec3 v) {
    return {v.x, v.y, v.z};
}
/// Edges, by place, that only one triangle has: the rim, if there is no gap.
std::size_t openEdges(const Mesh& m) {
    std::map<std::pair<Key, Key>, int> edges;
    for (std::size_t t = 0; t < m.triangleCount(); ++t)
        for (int k = 0; k < 3; ++k) {
            const Key a = keyOf(m.positions[m.indices[3 * t + static_cast<std::size_t>(k)]]),
                      b = keyOf(m.positions[m.indices[3 * t + static_cast<std::size_t>((k + 1) % 3)]]);
            ++edges[std::minmax(a, b)];
        }
    return static_cast<std::size_t>(
        std::count_if(edges.begin(), edges.end(), [](const auto& e) { return e.second == 1; }));
}

}  // namespace

class DisplacementTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void edgesBecomeShortAndNothingElseChanges() {
        const Mesh fine = tessellated(square(), 0.3f, 100000);
        for (std::size_t i = 0; i < fine.indices.size(); i += 3)
            for (std::size_t k = 0; k < 3; ++k)
                QVERIFY(length(fine.positions[fine.indices[i + k]] -
                               fine.positions[fine.indices[i + (k + 1) % 3]]) <= 0.3f);
        QVERIFY(std::fabs(areaOf(fine) - 4) < 1e-5);
        for (std::size_t i = 0; i < fine.positions.size(); ++i) {
            QVERIFY(std::fabs(fine.uvs[i].x - (fine.positions[i].x * 0.5f + 0.5f)) < 1e-6f);
            QCOMPARE(fine.normals[i], (Vec3{0, 0, 1}));
        }
        // The parts keep their halves.
        QCOMPARE(std::count(fine.trianglePart.begin(), fine.trianglePart.end(), 0),
                 std::count(fine.trianglePart.begin(), fine.trianglePart.end(), 1));
    }
    void neighboursOfUnlikeSizeHaveNoGaps() {
        Mesh m = square();
        m.positions[1] = {5, -1, 0};  // one triangle is long, the other not
        const Mesh fine = tessellated(m, 0.5f, 100000);
        const std::size_t rim = openEdges(fine);
        double length_ = 0;
        for (std::size_t i = 0; i < 4; ++i)
            length_ += static_cast<double>(length(m.positions[i] - m.positions[(i + 1) % 4]));
        QVERIFY(rim > 0 && static_cast<double>(rim) <= length_ / 0.25 + 4);
        QVERIFY(std::fabs(areaOf(fine) - areaOf(m)) < 1e-4);
    }
    void thereAreNeverMoreThanAskedFor() {
        QVERIFY(tessellated(square(), 0.001f, 5000).triangleCount() <= 5000);
        QCOMPARE(tessellated(square(), 10, 5000).triangleCount(), std::size_t{2});
    }
    void aSeamStaysShut() {
        Mesh fine = tessellated(square(true), 0.2f, 100000);
        const std::size_t rim = openEdges(fine);
        // Each side of the seam has another height; they meet at the mean.
        std::vector<float> by;
        for (const Vec2& uv : fine.uvs) by.push_back(0.3f * std::sin(7 * uv.x));
        fine = MovableMesh(fine).moved(by);
        QCOMPARE(openEdges(fine), rim);
    }
    void aPlaneThatIsLiftedStaysAPlane() {
        Mesh fine = tessellated(square(), 0.2f, 100000);
        fine = MovableMesh(fine).moved(std::vector<float>(fine.positions.size(), 0.7f));
        for (std::size_t i = 0; i < fine.positions.size(); ++i) {
            QVERIFY(std::fabs(fine.positions[i].z - 0.7f) < 1e-6f);
            QVERIFY(length(fine.normals[i] - Vec3{0, 0, 1}) < 1e-5f);
        }
    }
    void normalsFollowTheNewShape() {
        Mesh fine = tessellated(square(), 0.05f, 100000);
        std::vector<float> by;
        for (const Vec3& p : fine.positions) by.push_back(0.2f * std::sin(2 * p.x));
        fine = MovableMesh(fine).moved(by);
        for (std::size_t i = 0; i < fine.positions.size(); ++i) {
            const Vec3 p = fine.positions[i];
            if (std::fabs(p.x) > 0.9f || std::fabs(p.y) > 0.9f) continue;  // the rim has half of its faces
            const Vec3 wanted = normalised({-0.4f * std::cos(2 * p.x), 0, 1});
            QVERIFY(length(fine.normals[i] - wanted) < 0.03f);
            QVERIFY(std::fabs(dot(fine.tangents[i].direction, fine.normals[i])) < 1e-4f);
        }
    }
    void thePreviewIsFlatAtOnceAndDisplacedAtRest() {
        const std::filesystem::path data = KETTLE_DATA_DIR;
        Preview preview(data / "models", data / "environments");
        const Resources resources(data);
        PreviewRequest r;
        r.project.lines.emplace_back(
            line("h", Kind::Scalar, "height", {step("v", "value", {{"value", 1.0}})}));
        r.width = 90, r.height = 60;
        r.camera.frame((*preview.scene("kettle"))->mesh(), 1.5f);
        const auto covers = [&](int stage) {
            const auto picture = preview.render(r, resources, stage);
            if (!picture) return -1L;
            const auto covered = preview.covered();
            return static_cast<long>(std::count(covered.begin(), covered.end(), std::uint8_t{1}));
        };
        const long coarse = covers(0), flat = covers(1);
        r.project.view.displacement = 4;  // white: 2 cm outwards everywhere
        QCOMPARE(covers(0), coarse);
        const long thick = covers(1);
        QVERIFY2(thick > flat * 11 / 10, qPrintable(QStringLiteral("%1 %2").arg(thick).arg(flat)));
        r.project.view.displacementMiddle = 1;
        QCOMPARE(covers(1), flat);
        r.project.view.displacementMiddle = 0.5;
        r.off = {"height"};
        QCOMPARE(covers(1), flat);
        r.off = {};
        // Heights beyond all measure give a finite picture.
        r.project.lines[0] =
            Shared<Line>(line("h", Kind::Scalar, "height", {step("v", "value", {{"value", 1e9}})}));
        QVERIFY(covers(1) >= 0);
    }
};

QTEST_GUILESS_MAIN(DisplacementTest)
#include "displacement_test.moc"
