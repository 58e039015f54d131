// Where points lie on a model, by a slow search; what is told of it, by shapes whose answers are known.
#include <QtTest>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>
#include <tuple>

#include "core/geometry/curvature.h"
#include "core/geometry/mesh_facts.h"
#include "core/geometry/outward.h"
#include "core/geometry/uv_cells.h"
#include "core/scene/view_points.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const std::filesystem::path kModels = std::filesystem::path(KETTLE_DATA_DIR) / "models";

std::shared_ptr<const RayScene> sceneOf(Mesh mesh) {
    return std::make_shared<const RayScene>(std::make_shared<const Mesh>(std::move(mesh)));
}

/// A net of quads over [0, 1]^2 bent by `place`, which gives position and normal.
template <class F>
Mesh bent(int across, int up, F&& place) {
    Mesh m;
    for (int j = 0; j <= up; ++j)
        for (int i = 0; i <= across; ++i) {
            const Vec2 uv{static_cast<float>(i) / static_cast<float>(across),
                          static_cast<float>(j) / static_cast<float>(up)};
            const auto [position, normal] = place(uv);
            m.positions.push_back(position);
            m.normals.push_back(normal);
            m.uvs.push_back(uv);
            m.tangents.push_back({});
        }
    const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(j * (across + 1) + i); };
    for (int j = 0; j < up; ++j)
        for (int i = 0; i < across; ++i) {
            for (const std::uint32_t v : {at(i, j), at(i + 1, j), at(i + 1, j + 1)}) m.indices.push_back(v);
            for (const std::uint32_t v : {at(i, j), at(i + 1, j + 1), at(i, j + 1)}) m.indices.push_back(v);
        }
    m.trianglePart.assign(m.triangleCount(), 0);
    m.parts = {"only"};
    m.partHasUv = {1};
    return m;
}

Mesh sphere(float radius) {
    return bent(96, 64, [=](Vec2 uv) {
        const float a = uv.x * 2 * std::numbers::pi_v<float>,
                    b = (uv.y * 0.96f + 0.02f) * std::numbers::pi_v<float>;
        const Vec3 n{std::sin(b) * std::cos(a), -std::cos(b), -std::sin(b) * std::sin(a)};
        return std::pair{n * radius, n};
    });
}

float middleOf(const std::vector<float>& v, std::size_t first = 0) {
    std::vector<float> sorted(v.begin() + static_cast<std::ptrdiff_t>(first), v.end());
    std::sort(sorted.begin(), sorted.end());
    return sorted[sorted.size() / 2];
}

float readAt(const ModelField& field, std::uint32_t triangle, float b1, float b2, int component = 0) {
    std::array<float, 4> memory{};
    float* out[4]{&memory[0], &memory[1], &memory[2], &memory[3]};
    field.read(&triangle, &b1, &b2, 1, 7, out);
    return memory[static_cast<std::size_t>(component)];
}

}  // namespace

class ModelFactsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void thousandsOfCopiesInOnePlaceAreFound() {
        // Ten thousand squares that all cover the whole texture: the first one counts, and memory is bounded.
        Mesh mesh;
        for (std::uint32_t k = 0; k < 10000; ++k) {
            const std::uint32_t first = 4 * k;
            for (const Vec2 uv : {Vec2{0, 0}, Vec2{1, 0}, Vec2{1, 1}, Vec2{0, 1}}) {
                mesh.positions.push_back({uv.x + static_cast<float>(2 * k), uv.y, 0});
                mesh.normals.push_back({0, 0, 1});
                mesh.uvs.push_back(uv);
                mesh.tangents.push_back({});
            }
            mesh.indices.insert(mesh.indices.end(),
                                {first, first + 1, first + 2, first, first + 2, first + 3});
            mesh.trianglePart.insert(mesh.trianglePart.end(), 2, static_cast<std::uint16_t>(k));
            mesh.parts.push_back("square-" + std::to_string(k));
            mesh.partObjects.push_back(mesh.parts.back());
            mesh.partHasUv.push_back(1);
        }
        mesh.partMaterials.resize(mesh.parts.size());
        const UvCells cells(mesh);
        for (const Vec2 at : {Vec2{0.1f, 0.05f}, Vec2{0.9f, 0.95f}, Vec2{0.3f, 0.7f}}) {
            std::uint32_t triangle = 0;
            float b1 = 0, b2 = 0;
            cells.find(&at.x, &at.y, 1, &triangle, &b1, &b2);
            QVERIFY(triangle < 2);
        }
        // One of them alone.
        std::vector<bool> wanted(mesh.parts.size(), false);
        wanted[7777] = true;
        const UvCells one(mesh, wanted);
        const Vec2 at{0.3f, 0.7f};
        std::uint32_t triangle = 0;
        float b1 = 0, b2 = 0;
        one.find(&at.x, &at.y, 1, &triangle, &b1, &b2);
        QCOMPARE(triangle / 2, 7777u);
    }

    void pointsAreFoundAsByTryingEveryTriangle() {
        SceneStore store(kModels);
        const auto scene = *store.load("kettle", "auto");
        const Mesh& mesh = scene->mesh();
        const UvCells cells(mesh);
        std::mt19937 random(3);
        std::uniform_real_distribution<float> unit(0, 1);
        int found = 0, beside = 0;
        for (int i = 0; i < 800; ++i) {
            const float u = unit(random), v = unit(random);
            std::uint32_t triangle = 0;
            float b1 = 0, b2 = 0;
            cells.find(&u, &v, 1, &triangle, &b1, &b2);
            std::uint32_t wanted = ModelPlaces::kNowhere;
            for (std::uint32_t t = 0; t < mesh.triangleCount() && wanted == ModelPlaces::kNowhere; ++t) {
                const Vec2 a = mesh.uvs[mesh.indices[3 * t]], b = mesh.uvs[mesh.indices[3 * t + 1]],
                           c = mesh.uvs[mesh.indices[3 * t + 2]];
                const double area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
                if (std::fabs(area) < 1e-12) continue;
                const double w1 = ((u - a.x) * (c.y - a.y) - (v - a.y) * (c.x - a.x)) / area,
                             w2 = ((b.x - a.x) * (v - a.y) - (b.y - a.y) * (u - a.x)) / area;
                if (w1 >= -1e-7 && w2 >= -1e-7 && w1 + w2 <= 1 + 1e-7) wanted = t;
            }
            if (wanted == ModelPlaces::kNowhere) {
                ++beside;
                continue;
            }
            ++found;
            QVERIFY(triangle != ModelPlaces::kNowhere);
            // On an edge the neighbour will do: the place is the same.
            const auto place = [&](std::uint32_t t, float w1, float w2) {
                return mesh.uvs[mesh.indices[3 * t]] * (1 - w1 - w2) +
                       mesh.uvs[mesh.indices[3 * t + 1]] * w1 + mesh.uvs[mesh.indices[3 * t + 2]] * w2;
            };
            const Vec2 back = place(triangle, b1, b2);
            QVERIFY(std::fabs(back.x - u) < 1e-5f && std::fabs(back.y - v) < 1e-5f);
        }
        QVERIFY(found > 300 && beside > 20);
    }

    /// Inside, on rims and nowhere: the same bits, however many are asked after at once and in which order.
    void aPlaceIsTheSameWhateverIsAskedBesideIt() {
        SceneStore store(kModels);
        const UvCells cells((*store.load("kettle", "auto"))->mesh());
        std::mt19937 random(5);
        std::uniform_real_distribution<float> unit(-0.2f, 1.2f);
        std::vector<float> u, v;
        for (int y = 0; y < 40; ++y)  // rows as those of a grid, then anywhere
            for (int x = 0; x < 100; ++x)
                u.push_back((static_cast<float>(x) + 0.5f) / 100), v.push_back(static_cast<float>(y) / 40);
        for (int i = 0; i < 999; ++i) u.push_back(unit(random)), v.push_back(unit(random));
        u[17] = std::nanf(""), v[4500] = 1e9f;
        const std::size_t count = u.size();
        using Found = std::tuple<std::uint32_t, float, float>;
        const auto inPieces = [&](std::size_t step, bool isBackwards) {
            std::vector<float> pu = u, pv = v, b1(count), b2(count);
            std::vector<std::uint32_t> t(count);
            if (isBackwards) std::reverse(pu.begin(), pu.end()), std::reverse(pv.begin(), pv.end());
            for (std::size_t i = 0; i < count; i += step)
                cells.find(&pu[i], &pv[i], std::min(step, count - i), &t[i], &b1[i], &b2[i]);
            std::vector<Found> found;
            for (std::size_t i = 0; i < count; ++i) found.emplace_back(t[i], b1[i], b2[i]);
            if (isBackwards) std::reverse(found.begin(), found.end());
            return found;
        };
        const std::vector<Found> alone = inPieces(1, false);
        for (const std::size_t step : {std::size_t{7}, std::size_t{16}, std::size_t{37}, count})
            for (const bool isBackwards : {false, true}) QVERIFY(inPieces(step, isBackwards) == alone);
        const auto some = std::count_if(alone.begin(), alone.end(), [](const Found& f) {
            return std::get<0>(f) != ModelPlaces::kNowhere;
        });
        QVERIFY(some > 1000 && static_cast<std::size_t>(some) < count);
    }

    void aRimAroundAPartBelongsToIt() {
        // A quad over the left half of the tile.
        Mesh m = bent(4, 4, [](Vec2 uv) { return std::pair{Vec3{uv.x * 10, uv.y * 10, 0}, Vec3{0, 0, 1}}; });
        for (Vec2& uv : m.uvs) uv.x *= 0.5f;
        const UvCells cells(m);
        const auto at = [&](float u, float v) {
            std::uint32_t t = 0;
            float b1 = 0, b2 = 0;
            cells.find(&u, &v, 1, &t, &b1, &b2);
            if (t == ModelPlaces::kNowhere) return -1.0f;
            return m.uvs[m.indices[3 * t]].x * (1 - b1 - b2) + m.uvs[m.indices[3 * t + 1]].x * b1 +
                   m.uvs[m.indices[3 * t + 2]].x * b2;
        };
        QVERIFY(std::fabs(at(0.3f, 0.4f) - 0.3f) < 1e-5f);
        QVERIFY(std::fabs(at(0.5f + UvCells::kRim * 0.9f, 0.4f) - 0.5f) < 1e-4f);
        QCOMPARE(at(0.5f + UvCells::kRim * 1.1f, 0.4f), -1.0f);
        QCOMPARE(at(0.9f, 0.4f), -1.0f);
        QCOMPARE(at(1.3f, 0.4f), -1.0f);
        QCOMPARE(at(std::nanf(""), 0.4f), -1.0f);
    }

    void factsOfAQuad() {
        const MeshFacts facts(sceneOf(bent(2, 2, [](Vec2 uv) {
            return std::pair{Vec3{uv.x * 20, uv.y * 20, 3}, Vec3{0, 0, 1}};
        })));
        const float u = 0.25f, v = 0.75f;
        std::uint32_t t = 0;
        float b1 = 0, b2 = 0;
        facts.find(&u, &v, 1, &t, &b1, &b2);
        const auto fact = [&](const MeshAttribute& attribute, int component = 0) {
            return readAt(*facts.field(attribute), t, b1, b2, component);
        };
        QVERIFY(std::fabs(fact(SurfaceAttribute::Position, 0) - 5) < 1e-4f &&
                std::fabs(fact(SurfaceAttribute::Position, 1) - 15) < 1e-4f &&
                std::fabs(fact(SurfaceAttribute::Position, 2) - 3) < 1e-5f);
        QCOMPARE(fact(SurfaceAttribute::Normal, 2), 1.0f);
        QVERIFY(std::fabs(fact(SurfaceAttribute::Size) - 20) < 1e-4f);
        QVERIFY(std::fabs(fact(SurfaceAttribute::Height) - 0.75f) < 1e-5f);
        QCOMPARE(fact(PartMask{"only"}), 1.0f);
        QCOMPARE(fact(PartMask{"another"}), 0.0f);
        // Equal keys are one field, so that what was read of it is found again.
        QCOMPARE(facts.field(SurfaceAttribute::Position)->id(),
                 facts.field(SurfaceAttribute::Position)->id());
        // Nowhere it is neutral.
        QCOMPARE(readAt(*facts.field(SurfaceAttribute::Height), ModelPlaces::kNowhere, 0, 0), 0.5f);
    }

    void samplesGoStraightBetweenTheirPlaces() {
        const Mesh m = bent(2, 3, [](Vec2 uv) {
            return std::pair{Vec3{uv.x * 20, uv.y * 30, 0}, Vec3{0, 0, 1}};
        });
        const SurfaceSamples samples(m, 3000);
        QVERIFY(samples.size() > 1000 && samples.size() < 4000);
        std::vector<float> numbers;
        for (const Vec3& p : samples.positions()) numbers.push_back(3 * p.x - 2 * p.y);
        std::mt19937 random(7);
        std::uniform_real_distribution<float> unit(0, 1);
        for (int i = 0; i < 500; ++i) {
            const auto t = static_cast<std::uint32_t>(random() % m.triangleCount());
            float b1 = unit(random), b2 = unit(random), read = 0;
            if (b1 + b2 > 1) b1 = 1 - b1, b2 = 1 - b2;
            samples.read(numbers, 0, &t, &b1, &b2, 1, &read);
            const Vec3 p = m.positions[m.indices[3 * t]] * (1 - b1 - b2) +
                           m.positions[m.indices[3 * t + 1]] * b1 + m.positions[m.indices[3 * t + 2]] * b2;
            QVERIFY(std::fabs(read - (3 * p.x - 2 * p.y)) < 1e-3f);
        }
    }

    /// H = 1/r on a sphere, half of it on a cylinder, 0 on a plane.
    void curvatureOfKnownShapes() {
        const Mesh ball = sphere(10), plane = bent(40, 40, [](Vec2 uv) {
                                          return std::pair{Vec3{uv.x * 20, 0, uv.y * -20}, Vec3{0, 1, 0}};
                                      });
        const Mesh tube = bent(96, 24, [](Vec2 uv) {
            const float a = uv.x * 2 * std::numbers::pi_v<float>;
            const Vec3 n{std::cos(a), 0, -std::sin(a)};
            return std::pair{n * 5.0f + Vec3{0, uv.y * 60, 0}, n};
        });
        for (const float spread : {1.0f, 2.0f}) {
            QVERIFY(std::fabs(middleOf(curvatureOf(ball, SurfaceSamples(ball, 20000), spread)) / spread * 10 -
                              1) < 0.06f);
            QVERIFY(std::fabs(middleOf(curvatureOf(tube, SurfaceSamples(tube, 20000), spread)) / spread * 10 -
                              1) < 0.08f);
            for (const float c : curvatureOf(plane, SurfaceSamples(plane, 5000), spread))
                QVERIFY(std::fabs(c) < 1e-3f);
        }
        Mesh inside = ball;
        for (Vec3& n : inside.normals) n = -n;
        for (std::size_t i = 0; i < inside.indices.size(); i += 3)
            std::swap(inside.indices[i], inside.indices[i + 1]);
        QVERIFY(middleOf(curvatureOf(inside, SurfaceSamples(inside, 20000), 2)) < -0.15f);
    }

    /// A ball turned inside out is told as the ball itself, and a sheet stays as it is.
    void normalsPointOutward() {
        Mesh inside = sphere(10);
        for (Vec3& n : inside.normals) n = -n;
        const MeshFacts facts(sceneOf(inside));
        const auto normal = facts.field(SurfaceAttribute::Normal);
        const auto position = facts.field(SurfaceAttribute::Position);
        for (std::uint32_t t = 0; t < inside.triangleCount(); t += 50) {
            float along = 0;
            for (int k = 0; k < 3; ++k)
                along += readAt(*normal, t, 0.3f, 0.3f, k) * readAt(*position, t, 0.3f, 0.3f, k) / 10;
            QVERIFY(along > 0.98f);
        }
        const auto sheet = sceneOf(bent(4, 4, [](Vec2 uv) {
            return std::pair{Vec3{uv.x, uv.y, 0}, Vec3{0, 0, -1}};
        }));
        QVERIFY(!turnedOutward(*sheet).has_value());
        SceneStore store(kModels);
        const auto turned = turnedOutward(**store.load("kettle", "auto"));
        QVERIFY(turned.has_value());  // its handle and spout are made the other way round
    }

    /// A floor before an endless upright wall of height h: at the distance x the wall hides
    /// (1 - x / sqrt(x^2 + h^2)) / 2 of it (form factor of perpendicular strips).
    void aWallHidesItsShareOfTheFloor() {
        constexpr float kWall = 10, kLong = 400;
        // Squares of 5 cm, so that the places lie as close one way as the other.
        Mesh m = bent(8, 80, [](Vec2 uv) {
            return std::pair{Vec3{uv.x * 40, 0, kLong * (0.5f - uv.y)}, Vec3{0, 1, 0}};
        });
        const Mesh wall = bent(1, 1, [](Vec2 uv) {
            return std::pair{Vec3{0, uv.x * kWall, kLong * (uv.y - 0.5f)}, Vec3{1, 0, 0}};
        });
        const auto before = static_cast<std::uint32_t>(m.positions.size());
        for (const std::uint32_t i : wall.indices) m.indices.push_back(i + before);
        for (std::size_t v = 0; v < 4; ++v) {
            m.positions.push_back(wall.positions[v]), m.normals.push_back(wall.normals[v]);
            m.uvs.push_back(wall.uvs[v]), m.tangents.push_back({});
        }
        m.trianglePart.assign(m.triangleCount(), 0);
        const auto scene = sceneOf(m);
        const SurfaceSamples samples(m, 40000);
        const HiddenDistances distances(*scene, samples);
        // Whatever is met within 100 cm counts in full.
        const std::vector<float> hidden = distances.hidden(100, 100), half = distances.hidden(100, 1);
        double worst = 0, sum = 0;
        int count = 0;
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const Vec3 p = samples.positions()[i];
            QVERIFY(half[i] <= hidden[i]);
            if (samples.normals()[i].y < 0.5f || p.x < 2 || std::fabs(p.z) > 60) continue;
            const double x = static_cast<double>(p.x),
                         wanted = (1 - x / std::sqrt(x * x + kWall * kWall)) / 2;
            worst = std::max(worst, std::fabs(static_cast<double>(hidden[i]) - wanted));
            sum += static_cast<double>(hidden[i]) - wanted, ++count;
        }
        QVERIFY(count > 50);
        // The noise of 64 rays where most are decided: 0.09 at worst with rays of one's own alone.
        QVERIFY2(worst < 0.1, qPrintable(QString::number(worst)));
        QVERIFY2(std::fabs(sum / count) < 0.01, qPrintable(QString::number(sum / count)));
        // What lies farther away than the spread does not count.
        const std::vector<float> near = distances.hidden(2, 1);
        for (std::size_t i = 0; i < samples.size(); ++i)
            if (samples.normals()[i].y > 0.5f && samples.positions()[i].x > 3) QCOMPARE(near[i], 0.0f);
    }

    /// Rays taken from neighbours do no worse than rays of one's own: against 4096 rays a place, on the
    /// kettle.
    void neighboursRaysAreAsGoodAsOwn() {
        SceneStore store(kModels);
        const auto scene = *store.load("kettle", "auto");
        const SurfaceSamples samples(scene->mesh());
        const HiddenDistances distances(*scene, samples);
        Vec3 low, high;
        scene->mesh().bounds(low, high);
        const float lift = length(high - low) * 2e-4f;
        // Cosine-weighted around the normal, by the R2 sequence from `first` on; 0 open, 1 hidden within 3
        // cm.
        const auto cast = [&](std::size_t place, int first, int count) {
            const Vec3 n = samples.normals()[place], from = samples.positions()[place] + n * lift;
            Vec3 x, y;
            basis(n, x, y);
            double sum = 0;
            for (int i = first; i < first + count; ++i) {
                const double a = 0.5 + 0.7548776662466927 * i, b = 0.5698402909980532 * i;
                const double r = std::sqrt(a - std::floor(a)),
                             turn = 2 * std::numbers::pi * (b - std::floor(b));
                const Vec3 d = x * static_cast<float>(r * std::cos(turn)) +
                               y * static_cast<float>(r * std::sin(turn)) +
                               n * static_cast<float>(std::sqrt(1 - r * r));
                const Hit hit = scene->cast(from, d, 0);
                if (hit.found && hit.distance < 3) sum += 1 - static_cast<double>(hit.distance) / 3;
            }
            return sum / count;
        };
        const std::vector<float> hidden = distances.hidden(3, 1);
        double shared = 0, own = 0, worst = 0;
        int count = 0;
        for (std::size_t i = 0; i < samples.size(); i += samples.size() / 500) {
            const double wanted = cast(i, 0, 4096);
            const double by = static_cast<double>(hidden[i]) - wanted,
                         alone = cast(i, 8192 + 64 * static_cast<int>(i % 97), 64) - wanted;
            shared += by * by, own += alone * alone, worst = std::max(worst, std::fabs(by));
            ++count;
        }
        // 0.0071 with rays of one's own alone, turned as they are there.
        QVERIFY2(std::sqrt(shared / count) < 0.0075, qPrintable(QString::number(std::sqrt(shared / count))));
        QVERIFY(std::sqrt(shared / count) < 1.25 * std::sqrt(own / count));
        QVERIFY2(worst < 0.06, qPrintable(QString::number(worst)));
    }

    /// A relief looks beside its points, and what lies there is read of the model there.
    void aReliefOfWhatLiesInTheModelsSpaceHasItsSlope() {
        Project p;
        p.view.model = "tile-panel";
        p.lines.emplace_back(
            line("h", Kind::Scalar, "height",
                 {step("n", "noise", {{"space", std::string("model")}, {"size", 6.0}, {"octaves", 1.0}})}));
        p.lines.emplace_back(line("n", Kind::Normal, "normal",
                                  {step("f", "flat-normal"), step("r", "height-to-normal", {{"depth", 5.0}},
                                                                  {{"height", feed("h")}})}));
        const Compiled c = compile(p, nullptr, {{"h", "", 1}, {"n", "", 3}});
        Resources resources{std::filesystem::path{}};
        resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(kModels)));
        const ResolvedMaps maps = resources.resolve(p, c.program);
        const auto at = [&](float u, float v, std::size_t want, std::size_t plane) {
            return runAt(c.program, maps, u, v)[static_cast<std::size_t>(c.planes[want][plane])];
        };
        for (const auto& [u, v] : {std::pair{0.37f, 0.41f}, {0.62f, 0.23f}, {0.15f, 0.72f}}) {
            constexpr float kBeside = 0.002f, kHigh = 0.05f;
            const float across = (at(u + kBeside, v, 0, 0) - at(u - kBeside, v, 0, 0)) / (2 * kBeside),
                        up = (at(u, v + kBeside, 0, 0) - at(u, v - kBeside, 0, 0)) / (2 * kBeside);
            QVERIFY(std::hypot(across, up) > 0.1f);  // there is something to see
            const float x = -kHigh * across, y = -kHigh * up, length = std::sqrt(x * x + y * y + 1);
            QVERIFY(std::fabs(at(u, v, 1, 0) - x / length) < 0.004f);
            QVERIFY(std::fabs(at(u, v, 1, 1) - y / length) < 0.004f);
        }
    }
    /// The same place in a view and in texture space says the same, but for seams and what lies over another.
    void aViewAndAGridAgree() {
        for (const char* model : {"kettle", "cups", "tile-panel", "hull", "cloth"}) {
            auto scenes = std::make_shared<SceneStore>(kModels);
            auto finder = std::make_shared<FactsStore>(scenes);
            const auto scene = *scenes->load(model, "auto");
            Project p;
            p.view.model = model;
            p.lines.emplace_back(line(
                "a", Kind::Scalar, "",
                {step("n", "noise", {{"space", std::string("model")}, {"size", 6.0}, {"octaves", 1.0}})}));
            p.lines.emplace_back(line("b", Kind::Scalar, "", {step("o", "occlusion", {})}));
            p.lines.emplace_back(line("c", Kind::Scalar, "", {step("f", "facing", {})}));
            const Compiled c =
                compile(p, nullptr, {{"a", "", 1, false}, {"b", "", 1, false}, {"c", "", 1, false}});
            QVERIFY(c.program.readsModel());
            Resources resources{std::filesystem::path{}};
            resources.setModels(finder);
            const ResolvedMaps maps = resources.resolve(p, c.program);
            QVERIFY(maps.problems.empty() && maps.model != nullptr);
            Camera camera;
            camera.frame(scene->mesh(), 1.5f);
            ViewOptions options;
            options.places = true;
            ViewPoints view = castView(*scene, camera, 150, 100, options);
            QVERIFY(!view.points.places.empty());
            const auto valuesOf = [&](const PointSet& points) {
                SampleCache samples;
                samples.prepare(c.program, maps, points);
                std::vector<Plane> planes;
                run(c.program, maps, samples, points.size(), planes);
                return planes;
            };
            const auto inView = valuesOf(view.points);
            // By the same footprint in centimetres, else finer octaves would fade otherwise.
            PointSet grid{view.points.u.clone(), view.points.v.clone(), view.points.footprint.clone()};
            const auto inGrid = valuesOf(grid);
            std::size_t unlike = 0;
            for (std::size_t i = 0; i < view.points.size(); ++i)
                for (std::size_t k = 0; k < 3; ++k)
                    if (std::fabs(inView[k][i] - inGrid[k][i]) > 1.0f / 255) {
                        ++unlike;
                        break;
                    }
            // Copies of the cups share their place in texture space; there the first one is meant.
            const double share = static_cast<double>(unlike) / static_cast<double>(view.points.size());
            qInfo("%s: %.2f %% unlike", model, share * 100);
            if (std::string(model) != "cups") QVERIFY2(share < 0.02, model);
        }
    }
};

QTEST_GUILESS_MAIN(ModelFactsTest)
#include "model_facts_test.moc"
