// The models, in centimetres, y up, as OBJ with a group a part.
#include <fmt/format.h>

#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include "core/base/files.h"
#include "demo/generate/curves.h"
#include "demo/generate/obj_writer.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

Result<void> writeKettleModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const Curve body({{0, 0, 0},
                      {4, 0, 0},
                      {7.6f, 0.15f, 0},
                      {9.2f, 1.4f, 0},
                      {10.0f, 4.5f, 0},
                      {9.8f, 8.0f, 0},
                      {8.7f, 11.2f, 0},
                      {7.0f, 13.6f, 0},
                      {6.2f, 14.6f, 0},
                      {6.3f, 15.2f, 0},
                      {6.0f, 15.35f, 0}});
    obj.grid("body", 128, 64, lathe(body), region(0, 0.30f, 1, 1));
    const Curve lid({{6.05f, 14.9f, 0},
                     {6.1f, 15.35f, 0},
                     {5.4f, 16.1f, 0},
                     {3.6f, 17.1f, 0},
                     {1.6f, 17.6f, 0},
                     {0, 17.7f, 0}});
    obj.grid("lid", 96, 24, lathe(lid), region(0.005f, 0.005f, 0.495f, 0.275f));
    const Curve knob({{0.55f, 17.5f, 0},
                      {0.5f, 18.0f, 0},
                      {1.1f, 18.5f, 0},
                      {1.25f, 19.2f, 0},
                      {0.8f, 19.8f, 0},
                      {0, 19.95f, 0}});
    obj.grid("knob", 48, 20, lathe(knob), region(0.945f, 0.005f, 0.995f, 0.275f));
    const Curve spout(
        {{7.6f, 4.6f, 0}, {10.6f, 6.2f, 0}, {12.8f, 9.2f, 0}, {14.4f, 12.2f, 0}, {16.6f, 14.2f, 0}});
    const auto spoutRadius = [](float t) {
        return mix(2.5f, 1.15f, smoothStep(-0.1f, 0.8f, t)) + 0.28f * smoothStep(0.90f, 1.0f, t);
    };
    obj.grid("spout", 56, 48, tube(spout, spoutRadius), region(0.52f, 0.005f, 0.80f, 0.275f), true);
    obj.grid("spout", 56, 10, tube(spout, [&](float t) { return spoutRadius(t) - 0.18f; }),
             region(0.52f, 0.275f, 0.80f, 0.20f));
    std::vector<Vec3> arch;
    for (int i = 0; i <= 16; ++i) {
        const float a = kPi * (1 - static_cast<float>(i) / 16);
        arch.push_back({7.7f * std::cos(a), 12.9f + 12.6f * std::pow(std::max(0.0f, std::sin(a)), 0.82f), 0});
    }
    const Curve handle(arch);
    obj.grid("handle", 32, 96,
             tube(handle,
                  [](float t) {
                      return 0.46f + 0.42f * smoothStep(0.30f, 0.36f, t) * (1 - smoothStep(0.64f, 0.70f, t));
                  }),
             region(0.83f, 0.005f, 0.93f, 0.275f), true);
    return obj.save(folder / "kettle.obj");
}

Result<void> writeTilePanel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const float w = 30, h = 20, d = 0.9f;
    obj.grid(
        "face", 30, 20,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, t * h, 0};
        },
        region(0, 0, 1.5f, 1));
    obj.grid(
        "edge", 2, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, h, -t * d};
        },
        region(0, 0.98f, 1.5f, 1));
    obj.grid(
        "edge", 1, 2,
        [=](float s, float t) {
            return Vec3{w / 2, t * h, -s * d};
        },
        region(0.98f, 0, 1, 1));
    obj.grid(
        "edge", 1, 2,
        [=](float s, float t) {
            return Vec3{-w / 2, t * h, -s * d};
        },
        region(0.98f, 0, 1, 1), true);
    obj.grid(
        "back", 1, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, t * h, -d};
        },
        region(0, 0, 1.5f, 1), true);
    return obj.save(folder / "tile-panel.obj");
}

Result<void> writeFloorModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    const float w = 240, l = 180, d = 4;
    obj.grid(
        "floor", 48, 36,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, 0, (0.5f - t) * l};
        },
        region(0, 0, 1, 0.75f));
    obj.grid(
        "edge", 1, 1,
        [=](float s, float t) {
            return Vec3{(s - 0.5f) * w, (t - 1) * d, l / 2};
        },
        region(0, 0.76f, 1, 0.78f));
    obj.grid(
        "edge", 1, 1,
        [=](float s, float t) {
            return Vec3{w / 2, (t - 1) * d, (0.5f - s) * l};
        },
        region(0, 0.79f, 0.75f, 0.81f));
    return obj.save(folder / "floor.obj");
}

Result<void> writeCups(const std::filesystem::path& folder) {
    ObjWriter obj;
    const Curve outside = cupProfile();
    for (int k = 0; k < 5; ++k) {
        const float x = (static_cast<float>(k) - 2) * 11;
        obj.grid(fmt::format("cup-{}", k + 1), 64, 48, lathe(outside, {x, 0, 0}), region(0, 0, 2, 1));
        const Curve ear = cupHandle(x);
        obj.grid(fmt::format("cup-{}", k + 1), 20, 32, tube(ear, [](float) { return 0.42f; }),
                 region(0, 0, 0.2f, 0.5f), true);
    }
    return obj.save(folder / "cups.obj");
}

Result<void> writeCloth(const std::filesystem::path& folder) {
    ObjWriter obj;
    // Thrown over a rail: two falling sides with folds that deepen towards the hem.
    const auto point = [](float s, float t) {
        const float fall = (t - 0.5f) * 64, side = fall < 0 ? -1.0f : 1.0f,
                    drop = std::max(0.0f, std::fabs(fall) - 4.7f);
        const float angle = std::clamp(fall / 3.0f, -kPi / 2, kPi / 2), deep = drop / 28;
        const float fold = deep * (2.2f * std::sin(s * 21 + side) + 1.1f * std::sin(s * 37 + 2 * side));
        return Vec3{(s - 0.5f) * (44 - 3 * deep) + 0.5f * fold, 30 + 3 * std::cos(angle) - drop,
                    3 * std::sin(angle) + side * 1.6f * deep + fold};
    };
    obj.grid(
        "cloth", 160, 160, [&](float s, float t) { return point(s, 1 - t); }, region(0, 0, 1.4f, 2));
    return obj.save(folder / "cloth.obj");
}

Result<void> writeHullModel(const std::filesystem::path& folder) {
    ObjWriter obj;
    // A stretch of the bow's side, 8 m long: each quarter lies on its own tile.
    const auto point = [](float s, float t) {
        const float taper = std::pow(s, 2.2f),
                    depth = 60 * std::sqrt(t) * (1 - 0.75f * taper) + 40 * taper * t;
        return Vec3{(s - 0.5f) * 300, t * 110 + 26 * taper * t, depth - 40 * taper};
    };
    obj.grid("hull", 160, 48, point, region(0, 0, 4, 1));
    return obj.save(folder / "hull.obj");
}

}  // namespace

Result<void> writeModels(const std::filesystem::path& folder) {
    std::filesystem::create_directories(folder);
    for (const auto& write : {writeKettleModel, writeTilePanel, writeFloorModel, writeCups, writeCloth,
                              writeHullModel, writeCupShelf, writeTileWall})
        if (auto done = write(folder); !done) return done;
    return {};
}

}  // namespace kettle::demo
