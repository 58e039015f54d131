// Lines that read a map which lies in some way, with known pictures and a model of known sides.
#pragma once

#include <QTemporaryDir>
#include <QtTest>
#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/hash.h"
#include "core/geometry/mesh_facts.h"
#include "tests/support/evaluate.h"

namespace kettle::test {

/// A finder of one mesh.
class OneModel final : public ModelFinder {
public:
    explicit OneModel(Mesh mesh)
        : m_facts(std::make_shared<MeshFacts>(
              std::make_shared<const RayScene>(std::make_shared<const Mesh>(std::move(mesh))))) {}
    std::shared_ptr<const ModelFacts> facts(const std::string&, const std::string&) override {
        return m_facts;
    }

private:
    std::shared_ptr<const ModelFacts> m_facts;
};

/// A square of 20 cm in texture coordinates 0..1; `corner` and its two sides.
inline Mesh square(Vec3 corner, Vec3 across, Vec3 up) {
    Mesh m;
    for (const Vec2 uv : {Vec2{0, 0}, Vec2{1, 0}, Vec2{1, 1}, Vec2{0, 1}}) {
        m.positions.push_back(corner + across * (uv.x * 20) + up * (uv.y * 20));
        m.normals.push_back(cross(across, up));
        m.uvs.push_back(uv);
        m.tangents.push_back({across, 1});
    }
    m.indices = {0, 1, 2, 0, 2, 3};
    m.trianglePart = {0, 0};
    m.parts = {"square"};
    m.partHasUv = {1};
    return m;
}

/// What a picture of smooth slopes holds at a place, repeating.
inline float slopes(double u, double v, int c) {
    constexpr double kTurn = 6.283185307179586;
    return static_cast<float>(0.5 + 0.2 * std::sin(kTurn * (u + 0.1 * c)) +
                              0.15 * std::cos(kTurn * (2 * v - 0.07 * c)) + 0.1 * std::sin(kTurn * (u + v)));
}

inline bool isAt(const std::array<float, 4>& got, double u, double v) {
    return near(got, {slopes(u, v, 0), slopes(u, v, 1), slopes(u, v, 2)}, 2e-3f);
}

class PlacementBench {
public:
    PlacementBench() {
        TextureSet set;
        set.id = "set";
        write(set, "base-colour", 256,
              [](int x, int y, int c) { return slopes((x + 0.5) / 256, 1 - (y + 0.5) / 256, c); });
        write(set, "normal", 8, [](int, int, int c) {
            return c == 0 ? 0.5f + 0.18f : c == 1 ? 0.5f + 0.06f : 0.5f + 0.46f;
        });
        write(set, "grain", 256, [](int x, int y, int) {
            // Smooth, repeating and uneven: many darks, few lights.
            double sum = 0;
            for (int k = 0; k < 24; ++k) {
                const auto random = [&](int n) {
                    return static_cast<double>(unitFloat(mixBits(static_cast<std::uint64_t>(k * 10 + n))));
                };
                const double across = std::floor(random(0) * 13) - 6, up = std::floor(random(1) * 13) - 6;
                sum += std::sin(6.283185307179586 * (across * x / 256 + up * y / 256 + random(2)));
            }
            const double n = 0.5 + 0.5 * std::tanh(sum / 4);
            return static_cast<float>(n * n);
        });
        // A sheet of four pictures side by side, black and white in turn.
        write(set, "sheet", 256, [](int x, int, int) { return static_cast<float>(x / 64 % 2); });
        m_project.sets.emplace_back(std::move(set));
    }
    /// From now on a line says where stamps lie (the step's feed "where"); nothing: all do.
    void askWhere(std::optional<Feed> where, std::vector<Line> lines = {}) {
        m_where = std::move(where);
        m_whereLines = std::move(lines);
    }
    /// The end of a line that reads `role` as `controls` say.
    std::array<float, 4> at(const std::string& role, Kind kind, Controls controls, float u, float v,
                            ModelFinder* model = nullptr) {
        const Compiled c = compiled(role, kind, std::move(controls));
        Resources resources(m_folder.path().toStdString());
        if (model != nullptr) resources.setModels(std::shared_ptr<ModelFinder>(model, [](auto*) {}));
        const auto values = runAt(c.program, resources.resolve(m_made, c.program), u, v);
        std::array<float, 4> result{};
        for (std::size_t k = 0; k < 4; ++k) result[k] = values[static_cast<std::size_t>(c.planes[0][k])];
        return result;
    }
    /// True if the base colour at a place is what the picture of slopes holds at another.
    bool reads(Controls controls, double u, double v, double fromU, double fromV,
               ModelFinder* model = nullptr) {
        return isAt(at("base-colour", Kind::Colour, std::move(controls), static_cast<float>(u),
                       static_cast<float>(v), model),
                    fromU, fromV);
    }
    std::vector<float> grid(const std::string& role, Controls controls, int side, std::size_t block = 0) {
        const Compiled c = compiled(role, Kind::Scalar, std::move(controls));
        const Resources resources(m_folder.path().toStdString());
        const ResolvedMaps maps = resources.resolve(m_made, c.program);
        std::vector<float> all(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
        if (block == 0) {
            runGrid(c.program, maps, side, side, 1001,
                    [&](int y, int x, std::size_t count, const float* const* planes) {
                        std::copy_n(planes[c.planes[0][0]], count, all.begin() + y * side + x);
                    });
            return all;
        }
        const PointSet points = PointSet::grid(side, side);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        run(c.program, maps, samples, points.size(), planes, {}, block);
        std::copy_n(planes[static_cast<std::size_t>(c.planes[0][0])].data(), all.size(), all.begin());
        return all;
    }

    /// The red of a line that reads `role` on a model, at side x side points that are known before they are
    /// computed, and row by row.
    std::array<std::vector<float>, 2> redOn(ModelFinder& model, const std::string& role, Controls controls,
                                            int side) {
        const Compiled c = compiled(role, Kind::Colour, std::move(controls));
        Resources resources(m_folder.path().toStdString());
        resources.setModels(std::shared_ptr<ModelFinder>(&model, [](auto*) {}));
        const ResolvedMaps maps = resources.resolve(m_made, c.program);
        const PointSet points = PointSet::grid(side, side);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        run(c.program, maps, samples, points.size(), planes);
        const Plane& red = planes[static_cast<std::size_t>(c.planes[0][0])];
        std::array<std::vector<float>, 2> found{std::vector<float>(red.data(), red.data() + points.size()),
                                                std::vector<float>(points.size())};
        runGrid(c.program, maps, side, side, 1001,
                [&](int y, int x, std::size_t count, const float* const* rows) {
                    std::copy_n(rows[c.planes[0][0]], count, found[1].begin() + y * side + x);
                });
        return found;
    }

private:
    void write(TextureSet& set, const std::string& role, int side,
               const std::function<float(int, int, int)>& value) {
        PixelBuffer p = PixelBuffer::make(side, side, 3, Depth::Float);
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x)
                for (int c = 0; c < 3; ++c) p.row<float>(y)[x * 3 + c] = value(x, y, c);
        const std::string file = role + ".exr";
        QVERIFY(
            writeImage(m_folder.path().toStdString() + "/" + file, p, FileFormat::ExrFloat, "").has_value());
        set.maps.push_back({role, file, "raw", {}});
    }
    Compiled compiled(const std::string& role, Kind kind, Controls controls) {
        Step source = mapStep("m", role);
        source.controls = std::move(controls);
        if (m_where) source.feeds["where"] = *m_where;
        m_made = m_project;
        for (const Line& one : m_whereLines) m_made.lines.emplace_back(one);
        m_made.lines.emplace_back(line("l", kind, "", {source}));
        return compile(m_made, nullptr, {{"l", "", 4, false}});
    }
    QTemporaryDir m_folder;
    Project m_project, m_made;
    std::optional<Feed> m_where;
    std::vector<Line> m_whereLines;
};

}  // namespace kettle::test
