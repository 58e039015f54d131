#include "core/image/map_lookup.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/map_lookup.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/contrib/math/math-inl.h>
#include <hwy/highway.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/whole-inl.h"
#include "core/colour/curve-inl.h"
#include "core/image/map_tile.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using Floats = hn::ScalableTag<float>;
using Ints = hn::RebindToSigned<Floats>;
using VF = hn::Vec<Floats>;
using VI = hn::Vec<Ints>;

/// A pixel's stored numbers as floats: of each component a vector. Reads whole 32-bit numbers, which may go
/// three bytes beyond the pixel.
template <class T, int kChannels>
HWY_INLINE void GatherPixels(const std::byte* base, VI offset, VF (&value)[kChannels]) {
    const Floats d;
    const Ints di;
    const auto at = [&](int bytes) {
        return hn::GatherOffset(di, reinterpret_cast<const std::int32_t*>(base + bytes), offset);
    };
    if constexpr (std::is_same_v<T, float>) {
        for (int c = 0; c < kChannels; ++c)
            value[c] = hn::GatherOffset(d, reinterpret_cast<const float*>(base + 4 * c), offset);
    } else if constexpr (sizeof(T) == 1) {
        const VI four = at(0), byte = hn::Set(di, 255);
        value[0] = hn::ConvertTo(d, hn::And(four, byte));
        if constexpr (kChannels > 1) value[1] = hn::ConvertTo(d, hn::And(hn::ShiftRight<8>(four), byte));
        if constexpr (kChannels > 2) value[2] = hn::ConvertTo(d, hn::And(hn::ShiftRight<16>(four), byte));
        if constexpr (kChannels > 3) value[3] = hn::ConvertTo(d, hn::And(hn::ShiftRight<24>(four), byte));
    } else {
        const VI low = at(0), word = hn::Set(di, 65535);
        value[0] = hn::ConvertTo(d, hn::And(low, word));
        if constexpr (kChannels > 1) value[1] = hn::ConvertTo(d, hn::And(hn::ShiftRight<16>(low), word));
        if constexpr (kChannels > 2) {
            const VI high = at(4);
            value[2] = hn::ConvertTo(d, hn::And(high, word));
            if constexpr (kChannels > 3) value[3] = hn::ConvertTo(d, hn::And(hn::ShiftRight<16>(high), word));
        }
    }
}

/// The alpha of kChannels, or a number that is none.
template <int kChannels>
inline constexpr int kAlphaOf = kChannels % 2 == 0 ? kChannels - 1 : -1;

/// What is stored in sRGB to linear; the alpha stays.
template <class T, int kChannels>
HWY_INLINE void DecodeColours(VF (&value)[kChannels]) {
    constexpr int kColours = kAlphaOf<kChannels> < 0 ? kChannels : kChannels - 1;
    VF colour[kColours];
    for (int c = 0; c < kColours; ++c) colour[c] = value[c];
    DecodeStored(Floats(), colour, std::numeric_limits<T>::max());
    for (int c = 0; c < kColours; ++c) value[c] = colour[c];
}

/// Two neighbours along one axis and how much the second counts.
struct Neighbours {
    VI first, second;
    VF part;
};

HWY_INLINE Neighbours NeighboursOf(VF fraction, int size, bool repeats) {
    const Floats d;
    const Ints di;
    const VF x = hn::Sub(hn::Mul(fraction, hn::Set(d, static_cast<float>(size))), hn::Set(d, 0.5f));
    const VF whole = hn::Floor(x);
    const VI zero = hn::Zero(di), last = hn::Set(di, size - 1);
    const VI first = NearestWhole(d, whole), second = hn::Add(first, hn::Set(di, 1));
    // What is no number is somewhere, but inside.
    const auto inside = [&](VI i) { return hn::Min(hn::Max(i, zero), last); };
    if (!repeats) return {inside(first), inside(second), hn::Sub(x, whole)};
    return {inside(hn::IfThenElse(hn::Lt(first, zero), last, first)),
            inside(hn::IfThenElse(hn::Gt(second, last), zero, second)), hn::Sub(x, whole)};
}

/// Adds a level's share of what is at a vector of points.
template <class T, int kChannels>
HWY_INLINE void AddLevel(const PixelView& level, const LookedUp& picture, VF u, VF v, VF share, bool isCurved,
                         VF (&sum)[kChannels]) {
    const Ints di;
    [[maybe_unused]] const Floats d;
    constexpr int kPixel = kChannels * static_cast<int>(sizeof(T));
    const Neighbours x = NeighboursOf(u, level.width, picture.repeats),
                     y = NeighboursOf(v, level.height, picture.repeats);
    const VI pixel = hn::Set(di, kPixel), row = hn::Set(di, kPixel * level.width);
    const VI left = hn::Mul(x.first, pixel), right = hn::Mul(x.second, pixel);
    const VI upper = hn::Mul(y.first, row), lower = hn::Mul(y.second, row);
    const auto across = [&](VI along, VF(&value)[kChannels]) {
        VF other[kChannels];
        GatherPixels<T, kChannels>(level.data, hn::Add(along, left), value);
        GatherPixels<T, kChannels>(level.data, hn::Add(along, right), other);
        if constexpr (!std::is_same_v<T, float>)
            if (isCurved) DecodeColours<T>(value), DecodeColours<T>(other);
        for (int c = 0; c < kChannels; ++c) {
            // In this form what is alike everywhere stays as it is, bit for bit.
            value[c] = hn::MulAdd(hn::Sub(other[c], value[c]), x.part, value[c]);
        }
    };
    VF above[kChannels], below[kChannels];
    across(upper, above);
    across(lower, below);
    for (int c = 0; c < kChannels; ++c)
        sum[c] = hn::MulAdd(share, hn::MulAdd(hn::Sub(below[c], above[c]), y.part, above[c]), sum[c]);
}

/// One vector of points.
template <class T, int kChannels>
HWY_INLINE void LookUpVector(const LookedUp& picture, VF u, VF v, VF footprint, VF (&sum)[kChannels]) {
    const Floats d;
    const PixelView& top = picture.levels[0];
    for (VF& s : sum) s = hn::Zero(d);
    u = hn::Sub(u, hn::Floor(u));
    v = hn::Sub(hn::Set(d, 1.0f), hn::Sub(v, hn::Floor(v)));
    const VF one = hn::Set(d, 1.0f);
    const VF texels = hn::Mul(footprint, hn::Set(d, static_cast<float>(std::max(top.width, top.height))));
    // Whole levels, and what the next coarser one counts.
    VF lod = hn::Zero(d);
    const auto isCoarse = hn::Gt(texels, one);
    if (picture.levelCount > 1 && !hn::AllFalse(d, isCoarse))
        lod = hn::IfThenElseZero(isCoarse, hn::Log2(d, hn::Max(texels, one)));
    const VF last = hn::Set(d, static_cast<float>(picture.levelCount - 1));
    lod = hn::Min(lod, last);
    const VF low = hn::Floor(lod);
    VF blend = hn::Sub(lod, low);
    blend = hn::IfThenElseZero(hn::And(hn::Gt(blend, hn::Set(d, 0.001f)), hn::Lt(low, last)), blend);
    // Some points of a vector may lie in other levels than their neighbours: each level adds to those that
    // look there, and nothing to the others.
    const bool isCurved = picture.isSrgb;
    const int first = static_cast<int>(hn::GetLane(hn::MinOfLanes(d, low))),
              end = std::min(static_cast<int>(hn::GetLane(hn::MaxOfLanes(d, low))) + 2, picture.levelCount);
    for (int l = first; l < end; ++l) {
        const VF level = hn::Set(d, static_cast<float>(l));
        const auto isLow = hn::Eq(low, level);
        const auto isHigh = hn::Eq(hn::Add(low, one), level);
        const VF share = hn::IfThenElse(isLow, hn::Sub(one, blend), hn::IfThenElseZero(isHigh, blend));
        const auto looks = hn::Gt(share, hn::Zero(d));
        if (hn::AllFalse(d, looks)) continue;
        // Where a point does not look, no page of a finer level need be there.
        AddLevel<T, kChannels>(picture.levels[l], picture, hn::IfThenElseZero(looks, u),
                               hn::IfThenElseZero(looks, v), share, isCurved, sum);
    }
    if constexpr (!std::is_same_v<T, float>)
        for (int c = 0; c < kChannels; ++c)
            if (!isCurved || c == kAlphaOf<kChannels>)
                sum[c] = hn::Mul(sum[c], hn::Set(d, 1.0f / std::numeric_limits<T>::max()));
}

template <class T, int kChannels>
void LookUpAll(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    const Floats d;
    const std::size_t lanes = hn::Lanes(d);
    VF sum[kChannels];
    const auto store = [&](float* to, int component) {
        const int k = storedComponent(component, kChannels);
        hn::StoreU(k < 0 ? hn::Set(d, 1.0f) : sum[k], d, to);
    };
    std::size_t i = 0;
    for (; i + lanes <= points.count; i += lanes) {
        LookUpVector<T, kChannels>(picture, hn::LoadU(d, points.u + i), hn::LoadU(d, points.v + i),
                                   hn::LoadU(d, points.footprint + i), sum);
        for (int c = 0; c < 4; ++c)
            if ((mask & (1u << c)) != 0) store(out[c] + i, c);
    }
    if (i == points.count) return;
    alignas(64) float rest[3][64], found[64];
    const std::size_t left = points.count - i;
    // The lanes without a point repeat the last one: another place would fetch pixels, and another footprint
    // a level, that nobody asked for. Of a large file those are pages.
    const float* const from[3]{points.u + i, points.v + i, points.footprint + i};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        std::fill_n(rest[axis], lanes, from[axis][left - 1]);
        std::copy_n(from[axis], left, rest[axis]);
    }
    LookUpVector<T, kChannels>(picture, hn::Load(d, rest[0]), hn::Load(d, rest[1]), hn::Load(d, rest[2]),
                               sum);
    for (int c = 0; c < 4; ++c) {
        if ((mask & (1u << c)) == 0) continue;
        store(found, c);
        std::copy_n(found, left, out[c] + i);
    }
}

template <class T>
void LookUpStored(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    switch (picture.levels[0].channels) {
        case 1:
            return LookUpAll<T, 1>(picture, points, mask, out);
        case 2:
            return LookUpAll<T, 2>(picture, points, mask, out);
        case 3:
            return LookUpAll<T, 3>(picture, points, mask, out);
        default:
            return LookUpAll<T, 4>(picture, points, mask, out);
    }
}

void LookUp(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    switch (picture.levels[0].depth) {
        case Depth::U8:
            return LookUpStored<std::uint8_t>(picture, points, mask, out);
        case Depth::U16:
            return LookUpStored<std::uint16_t>(picture, points, mask, out);
        default:
            return LookUpStored<float>(picture, points, mask, out);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(LookUp);

namespace {

/// Two neighbours along one axis, and how much the second counts.
struct Pair {
    int first, second;
    float part;
};

Pair neighbours(float fraction, int size, bool repeats) {
    const float x = fraction * static_cast<float>(size) - 0.5f, whole = std::floor(x);
    // What is no number is somewhere, but inside.
    const int at = std::isfinite(whole) ? static_cast<int>(whole) : 0;
    const auto inside = [&](int i) {
        return repeats ? (i % size + size) % size : std::clamp(i, 0, size - 1);
    };
    return {inside(at), inside(at + 1), x - whole};
}

template <class T>
void addLevel(const PixelView& level, const LookedUp& picture, float u, float v, float share, float sum[4]) {
    const std::vector<float>& table = decodingTable(level.depth, picture.isSrgb);
    const std::vector<float>& plain = decodingTable(level.depth, false);
    const Pair x = neighbours(u, level.width, picture.repeats),
               y = neighbours(v, level.height, picture.repeats);
    const auto n = static_cast<std::size_t>(level.channels);
    for (std::size_t c = 0; c < n; ++c) {
        const auto at = [&](int px, int py) {
            const T stored = level.row<T>(py)[static_cast<std::size_t>(px) * n + c];
            if constexpr (std::is_same_v<T, float>)
                return stored;
            else
                return (n % 2 == 0 && c == n - 1 ? plain : table)[stored];
        };
        const float left = at(x.first, y.first), lowLeft = at(x.first, y.second);
        const float upper = left + (at(x.second, y.first) - left) * x.part,
                    lower = lowLeft + (at(x.second, y.second) - lowLeft) * x.part;
        sum[c] += share * (upper + (lower - upper) * y.part);
    }
}

template <class T>
void lookUpStored(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    const PixelView& top = picture.levels[0];
    for (std::size_t i = 0; i < points.count; ++i) {
        const float u = points.u[i] - std::floor(points.u[i]),
                    v = 1 - (points.v[i] - std::floor(points.v[i]));
        const float texels = points.footprint[i] * static_cast<float>(std::max(top.width, top.height));
        const float lod =
            std::min(texels > 1 ? std::log2(texels) : 0.0f, static_cast<float>(picture.levelCount - 1));
        const int low = static_cast<int>(lod);
        const float blend = lod - static_cast<float>(low);
        const bool two = blend > 0.001f && low + 1 < picture.levelCount;
        float sum[4]{};
        addLevel<T>(picture.levels[low], picture, u, v, two ? 1 - blend : 1, sum);
        if (two) addLevel<T>(picture.levels[low + 1], picture, u, v, blend, sum);
        for (int c = 0; c < 4; ++c) {
            const int k = storedComponent(c, top.channels);
            if ((mask & (1u << c)) != 0) out[c][i] = k < 0 ? 1.0f : sum[k];
        }
    }
}

}  // namespace

void lookUp(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    const PixelView& top = picture.levels[0];
    if (top.rowBytes() * static_cast<std::size_t>(top.height) > kMostGathered)
        return lookUpOneByOne(picture, points, mask, out);
    HWY_DYNAMIC_DISPATCH(LookUp)(picture, points, mask, out);
}

void lookUpOneByOne(const LookedUp& picture, const Lookups& points, unsigned mask, float* const out[4]) {
    switch (picture.levels[0].depth) {
        case Depth::U8:
            return lookUpStored<std::uint8_t>(picture, points, mask, out);
        case Depth::U16:
            return lookUpStored<std::uint16_t>(picture, points, mask, out);
        default:
            return lookUpStored<float>(picture, points, mask, out);
    }
}

}  // namespace kettle
#endif
