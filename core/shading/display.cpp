#include "core/shading/display.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/colour/encoding.h"
#include "core/threads/parallel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/shading/display.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/base/whole-inl.h"
#include "core/colour/curve-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// Our own soft shoulder: straight up to 0.6, then a hyperbola that meets it in value and slope and ends
/// at 1.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V SoftShoulder(D d, V x) {
    const V knee = hn::Set(d, 0.6f), room = hn::Set(d, 0.4f);
    const V beyond = hn::Max(hn::Sub(x, knee), hn::Zero(d));
    return hn::Add(hn::Min(x, knee), hn::Div(hn::Mul(room, beyond), hn::Add(beyond, room)));
}

/// Light, three floats a pixel, to the display's codes 0xFFRRGGBB. `count`: a multiple of 64. What is no
/// number is dark.
void ShowPixels(const float* light, std::size_t count, float gain, bool isSoft, std::uint32_t* pixels) {
    using D = hn::ScalableTag<float>;
    const D d;
    const hn::RebindToUnsigned<D> du;
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        hn::Vec<D> c[3];
        hn::LoadInterleaved3(d, light + 3 * i, c[0], c[1], c[2]);
        for (hn::Vec<D>& x : c) {
            x = hn::Mul(x, hn::Set(d, gain));
            x = hn::IfThenElseZero(hn::Gt(x, hn::Zero(d)), hn::Min(x, hn::Set(d, 1e6f)));
            if (isSoft) x = SoftShoulder(d, x);
            x = hn::Min(x, hn::Set(d, 1.0f));
        }
        EncodeUnit(d, c, kEncodeMantissaOfBytes);
        // What stands above a code is shifted out, or of the highest byte, which is full.
        const auto code = [&](std::size_t k) { return hn::BitCast(du, NearestScaled(d, c[k], 255.0f)); };
        const auto rg = hn::Or(hn::ShiftLeft<16>(code(0)), hn::ShiftLeft<8>(code(1)));
        hn::StoreU(hn::Or(hn::Or(rg, code(2)), hn::Set(du, 0xFF000000u)), du, pixels + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {

HWY_EXPORT(ShowPixels);
}  // namespace

float surroundOf(const std::string& name) {
    return srgbToLinear(name == surround::kPale ? 0.87f : name == surround::kDark ? 0.30f : 0.725f);
}

std::vector<std::string> displayTransforms(const ColourManagement& colours) {
    std::vector<std::string> names{view_transform::kStandard, view_transform::kSoft};
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
    const float gain = static_cast<float>(std::exp2(exposure));
    const bool soft = transform == view_transform::kSoft;
    if (!soft && transform != view_transform::kStandard)
        if (const auto view = colours.viewTransform(transform)) {
            viewPixels(linear, gain, **view, picture.pixels);
            return picture;
        }
    constexpr std::size_t kTogether = 64;  // a multiple of every vector's pixels
    parallelFor((linear.size() + kTogether - 1) / kTogether, 256, [&](std::size_t begin, std::size_t end) {
        const std::size_t first = begin * kTogether, last = std::min(end * kTogether, linear.size());
        const std::size_t whole = (last - first) / kTogether * kTogether;
        if (whole > 0)
            HWY_DYNAMIC_DISPATCH(ShowPixels)(&linear[first].x, whole, gain, soft, &picture.pixels[first]);
        if (first + whole == last) return;
        std::array<Vec3, kTogether> rest{};
        std::array<std::uint32_t, kTogether> shown{};
        std::copy(linear.begin() + static_cast<std::ptrdiff_t>(first + whole),
                  linear.begin() + static_cast<std::ptrdiff_t>(last), rest.begin());
        HWY_DYNAMIC_DISPATCH(ShowPixels)(&rest[0].x, kTogether, gain, soft, shown.data());
        std::copy_n(shown.begin(), last - first - whole, &picture.pixels[first + whole]);
    });
    return picture;
}

}  // namespace kettle
#endif
