#include "core/shading/display.h"

#include <algorithm>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

/// 0..1 in steps fine enough that every 8-bit code is met.
const std::vector<unsigned char>& displayTable() {
    static const auto table = [] {
        std::vector<unsigned char> t(16385);
        for (std::size_t i = 0; i < t.size(); ++i)
            t[i] = toByte(linearToSrgb(static_cast<float>(i) / 16384.0f));
        return t;
    }();
    return table;
}

/// Our own soft shoulder: straight up to 0.6, then a hyperbola that meets it in value and slope and ends
/// at 1.
float softShoulder(float x) {
    constexpr float kKnee = 0.6f, kRoom = 1 - kKnee;
    return x <= kKnee ? x : kKnee + kRoom * (x - kKnee) / (x - kKnee + kRoom);
}

}  // namespace

float surroundOf(const std::string& name) {
    return srgbToLinear(name == "pale" ? 0.87f : name == "dark" ? 0.30f : 0.725f);
}

std::vector<std::string> displayTransforms(const ColourManagement& colours) {
    std::vector<std::string> names{"standard", "soft"};
    for (const std::string& view : colours.views())
        if (std::find(names.begin(), names.end(), view) == names.end()) names.push_back(view);
    return names;
}

namespace {

/// Through the colour library, a piece at a time; its answer is display numbers.
void viewPixels(const std::vector<Vec3>& linear, float gain, const ColourTransform& view,
                std::vector<std::uint32_t>& out) {
    parallelFor(linear.size(), 4096, [&](std::size_t begin, std::size_t end) {
        std::vector<Vec3> part(linear.begin() + static_cast<std::ptrdiff_t>(begin),
                               linear.begin() + static_cast<std::ptrdiff_t>(end));
        for (Vec3& v : part) v = v * gain;
        view.applyPixels(&part.front().x, part.size());
        for (std::size_t i = 0; i < part.size(); ++i)
            out[begin + i] = 0xFF000000u | std::uint32_t{toByte(part[i].x)} << 16 |
                             std::uint32_t{toByte(part[i].y)} << 8 | toByte(part[i].z);
    });
}

}  // namespace

Picture toDisplay(const std::vector<Vec3>& linear, int width, int height, double exposure,
                  const std::string& transform, const ColourManagement& colours) {
    Picture picture{width, height, std::vector<std::uint32_t>(linear.size())};
    const auto& table = displayTable();
    const float gain = static_cast<float>(std::exp2(exposure));
    const bool soft = transform == "soft";
    if (!soft && transform != "standard")
        if (const auto view = colours.viewTransform(transform)) {
            viewPixels(linear, gain, **view, picture.pixels);
            return picture;
        }
    parallelFor(linear.size(), 16384, [&](std::size_t begin, std::size_t end) {
        const auto code = [&](float x) -> std::uint32_t {
            x *= gain;
            if (soft) x = softShoulder(x);
            return table[static_cast<std::size_t>(x > 0 ? std::min(x, 1.0f) * 16384.0f + 0.5f : 0.0f)];
        };
        for (std::size_t i = begin; i < end; ++i)
            picture.pixels[i] =
                0xFF000000u | code(linear[i].x) << 16 | code(linear[i].y) << 8 | code(linear[i].z);
    });
    return picture;
}

}  // namespace kettle
