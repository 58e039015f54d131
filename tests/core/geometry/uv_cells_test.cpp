// Places beside the parts of a texture, against the nearest edge of all triangles.
#include "core/geometry/uv_cells.h"

#include <QtTest>
#include <algorithm>
#include <cmath>
#include <random>

using namespace kettle;

namespace {

/// Triangles of all sizes here and there, some over the tile's edges and over each other.
Mesh scattered(int count) {
    std::mt19937 random(11);
    std::uniform_real_distribution<float> unit(0, 1);
    Mesh mesh;
    for (int i = 0; i < count; ++i) {
        const Vec2 at{unit(random), unit(random)};
        const float size = 0.002f + 0.08f * unit(random) * unit(random);
        for (int k = 0; k < 3; ++k) {
            const float angle = 2.1f * static_cast<float>(k) + unit(random);
            mesh.uvs.push_back(at + Vec2{std::cos(angle), std::sin(angle)} * size);
            mesh.indices.push_back(static_cast<std::uint32_t>(mesh.indices.size()));
        }
        mesh.trianglePart.push_back(0);
    }
    mesh.positions.resize(mesh.uvs.size());
    mesh.normals.resize(mesh.uvs.size());
    mesh.tangents.resize(mesh.uvs.size());
    mesh.parts = {"all"}, mesh.partObjects = mesh.parts, mesh.partMaterials = {""}, mesh.partHasUv = {1};
    return mesh;
}

double toSegment(Vec2 p, Vec2 a, Vec2 b) {
    const double dx = b.x - a.x, dy = b.y - a.y, x = p.x - a.x, y = p.y - a.y;
    const double t = std::clamp((x * dx + y * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return std::hypot(x - t * dx, y - t * dy);
}

/// How far a place is from the nearest triangle; 0 within one.
double nearestOf(const Mesh& mesh, Vec2 p) {
    double least = 1e9;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec2 a = mesh.uvs[3 * t], b = mesh.uvs[3 * t + 1], c = mesh.uvs[3 * t + 2];
        const auto side = [&](Vec2 from, Vec2 to) {
            return (to.x - from.x) * (p.y - from.y) - (to.y - from.y) * (p.x - from.x) >= 0;
        };
        if (side(a, b) == side(b, c) && side(b, c) == side(c, a)) return 0;
        least = std::min({least, toSegment(p, a, b), toSegment(p, b, c), toSegment(p, c, a)});
    }
    return least;
}

}  // namespace

class UvCellsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// Row by row, as a grid asks, so that what was found before is of use.
    void besideAnEdgeTheNearestTriangleIsFound() {
        constexpr int kSide = 230;
        for (const int count : {3, 60, 700}) {
            const Mesh mesh = scattered(count);
            const UvCells cells(mesh);
            int onRims = 0, nowhere = 0;
            for (int y = 0; y < kSide; ++y) {
                std::vector<float> u(kSide), v(kSide, (static_cast<float>(y) + 0.5f) / kSide), b1(kSide),
                    b2(kSide);
                std::vector<std::uint32_t> found(kSide);
                for (int x = 0; x < kSide; ++x)
                    u[static_cast<std::size_t>(x)] = (static_cast<float>(x) + 0.5f) / kSide;
                cells.find(u.data(), v.data(), kSide, found.data(), b1.data(), b2.data());
                for (std::size_t i = 0; i < kSide; ++i) {
                    const double wanted = nearestOf(mesh, {u[i], v[i]});
                    if (std::fabs(wanted - static_cast<double>(UvCells::kRim)) < 1e-5) continue;
                    if (wanted > static_cast<double>(UvCells::kRim)) {
                        QCOMPARE(found[i], kNoTriangle);
                        ++nowhere;
                        continue;
                    }
                    QVERIFY(found[i] != kNoTriangle);
                    const std::size_t t = found[i];
                    const Vec2 at = mesh.uvs[3 * t] * (1 - b1[i] - b2[i]) + mesh.uvs[3 * t + 1] * b1[i] +
                                    mesh.uvs[3 * t + 2] * b2[i];
                    QVERIFY(std::fabs(std::hypot(at.x - u[i], at.y - v[i]) - wanted) < 2e-5);
                    if (wanted > 0) ++onRims;
                }
            }
            QVERIFY(onRims > 10 && nowhere > 1000);
        }
    }
};

QTEST_APPLESS_MAIN(UvCellsTest)
#include "uv_cells_test.moc"
