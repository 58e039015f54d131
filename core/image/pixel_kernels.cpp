#include "core/image/pixel_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/pixel_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <algorithm>
#include <limits>

#include "core/base/whole-inl.h"
#include "core/colour/curve-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// Vectors of whole numbers, of each channel one, from a vector's pixels on.
template <int kChannels, class T, class D, class I = hn::Vec<hn::RebindToSigned<D>>>
HWY_INLINE void LoadPixels(D, const T* from, I (&channel)[4]) {
    const hn::RebindToSigned<D> di;
    const hn::Rebind<T, D> stored;
    const auto zero = hn::Zero(stored);
    hn::Vec<decltype(stored)> c[4]{zero, zero, zero, zero};
    if constexpr (kChannels == 1) c[0] = hn::LoadU(stored, from);
    if constexpr (kChannels == 2) hn::LoadInterleaved2(stored, from, c[0], c[1]);
    if constexpr (kChannels == 3) hn::LoadInterleaved3(stored, from, c[0], c[1], c[2]);
    if constexpr (kChannels == 4) hn::LoadInterleaved4(stored, from, c[0], c[1], c[2], c[3]);
    for (int k = 0; k < kChannels; ++k) channel[k] = hn::PromoteTo(di, c[k]);
}

#if HWY_TARGET != HWY_SCALAR
/// Three bytes a pixel lie in four bytes a lane: first every block of four pixels gets its twelve bytes, by
/// 32-bit numbers, then every lane one of them; and the way back.
struct Triples {
    alignas(64) static constexpr std::int32_t kApart[16] = {0, 1, 2, 3, 3, 4,  5,  6,
                                                            6, 7, 8, 9, 9, 10, 11, 12};
    /// For vectors of four, eight and sixteen pixels.
    alignas(64) static constexpr std::int32_t kTogether[3][16] = {
        {0, 1, 2, 3}, {0, 1, 2, 4, 5, 6, 3, 7}, {0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 3, 7, 11, 15}};
    static constexpr std::uint8_t kNone = 0x80;
    alignas(16) static constexpr std::uint8_t kPick[3][16] = {
        {0, kNone, kNone, kNone, 3, kNone, kNone, kNone, 6, kNone, kNone, kNone, 9, kNone, kNone, kNone},
        {1, kNone, kNone, kNone, 4, kNone, kNone, kNone, 7, kNone, kNone, kNone, 10, kNone, kNone, kNone},
        {2, kNone, kNone, kNone, 5, kNone, kNone, kNone, 8, kNone, kNone, kNone, 11, kNone, kNone, kNone}};
    alignas(16) static constexpr std::uint8_t kDrop[16] = {0,  1,  2,  4,  5,     6,     8,     9,
                                                           10, 12, 13, 14, kNone, kNone, kNone, kNone};
};

/// As LoadPixels of three bytes; reads four bytes a pixel.
template <class D, class I = hn::Vec<hn::RebindToSigned<D>>>
HWY_INLINE void LoadTriples(D, const std::uint8_t* from, I (&channel)[4]) {
    const hn::RebindToSigned<D> di;
    const hn::Repartition<std::uint8_t, D> bytes;
    const auto stored = hn::BitCast(di, hn::LoadU(bytes, from));
    const auto apart =
        hn::BitCast(bytes, hn::TableLookupLanes(stored, hn::SetTableIndices(di, Triples::kApart)));
    for (int c = 0; c < 3; ++c)
        channel[c] =
            hn::BitCast(di, hn::TableLookupBytesOr0(apart, hn::LoadDup128(bytes, Triples::kPick[c])));
}
#endif

/// Which channels have the curve, known while compiling, so that what it is made of stays in registers; or,
/// as kAnyCurved, told by `curved`, and then some channels may not be wanted.
constexpr unsigned kAnyCurved = 16;

/// A vector of pixels from `at` on.
template <int kChannels, unsigned kCurved, class D, class I>
HWY_INLINE void StoreDecoded(D d, const I (&channel)[4], float top, unsigned curved, float* const (&to)[4],
                             std::size_t at) {
    // Those with the curve come first, side by side.
    constexpr int kSide = kCurved == kAnyCurved ? 0 : kCurved == 7 ? 3 : kCurved == 1 ? 1 : 0;
    if constexpr (kSide > 0) {
        hn::Vec<D> code[kSide];
        for (int c = 0; c < kSide; ++c) code[c] = hn::ConvertTo(d, channel[c]);
        DecodeStored(d, code, top);
        for (int c = 0; c < kSide; ++c) hn::StoreU(code[c], d, to[c] + at);
    }
    for (int c = kSide; c < kChannels; ++c) {
        if (kCurved == kAnyCurved && to[c] == nullptr) continue;
        const auto code = hn::ConvertTo(d, channel[c]);
        const bool isCurved = kCurved == kAnyCurved && (curved & (1u << c)) != 0;
        const auto x = isCurved ? DecodeStored(d, code, top) : hn::Mul(code, hn::Set(d, 1.0f / top));
        hn::StoreU(x, d, to[c] + at);
    }
}

/// Whole vectors of pixels.
template <class T, int kChannels, unsigned kCurved>
void DecodeVectors(const T* pixels, std::size_t count, unsigned curved, float* const out[]) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    constexpr float kTop = std::numeric_limits<T>::max();
    // Copied, or the compiler must expect every store to change them.
    float* to[4]{};
    std::copy_n(out, kChannels, to);
    const std::size_t lanes = hn::Lanes(d);
    std::size_t i = 0;
    hn::Vec<decltype(di)> channel[4]{hn::Zero(di), hn::Zero(di), hn::Zero(di), hn::Zero(di)};
#if HWY_TARGET != HWY_SCALAR
    if constexpr (kChannels == 3 && sizeof(T) == 1)
        for (; i < count && 3 * (count - i) >= 4 * lanes; i += lanes) {
            LoadTriples(d, pixels + i * kChannels, channel);
            StoreDecoded<kChannels, kCurved>(d, channel, kTop, curved, to, i);
        }
#endif
    for (; i < count; i += lanes) {
        LoadPixels<kChannels>(d, pixels + i * kChannels, channel);
        StoreDecoded<kChannels, kCurved>(d, channel, kTop, curved, to, i);
    }
}

template <class T, int kChannels, unsigned kCurved>
void DecodePixels(const T* pixels, std::size_t count, unsigned curved, float* const out[]) {
    const std::size_t lanes = hn::Lanes(hn::ScalableTag<float>()), whole = count / lanes * lanes;
    DecodeVectors<T, kChannels, kCurved>(pixels, whole, curved, out);
    if (whole == count) return;
    constexpr std::size_t kMost = 64;
    alignas(64) T rest[kMost * kChannels]{};
    alignas(64) float decoded[kChannels][kMost];
    std::copy(pixels + whole * kChannels, pixels + count * kChannels, rest);
    float* to[4]{};
    for (int c = 0; c < kChannels; ++c) to[c] = out[c] != nullptr ? decoded[c] : nullptr;
    DecodeVectors<T, kChannels, kCurved>(rest, lanes, curved, to);
    for (int c = 0; c < kChannels; ++c)
        if (out[c] != nullptr) std::copy_n(decoded[c], count - whole, out[c] + whole);
}

template <class T, int kChannels>
void DecodeChannels(const T* pixels, std::size_t count, unsigned curved, float* const out[]) {
    constexpr unsigned kAll = (1u << kChannels) - 1, kColours = kAll & 7u & (kChannels == 2 ? 1u : 7u);
    const bool isWhole = std::all_of(out, out + kChannels, [](const float* to) { return to != nullptr; });
    if (isWhole && (curved & kAll) == 0)
        DecodePixels<T, kChannels, 0>(pixels, count, curved, out);
    else if (isWhole && (curved & kAll) == kColours)
        DecodePixels<T, kChannels, kColours>(pixels, count, curved, out);
    else
        DecodePixels<T, kChannels, kAnyCurved>(pixels, count, curved, out);
}

template <class T>
HWY_INLINE void DecodeAny(const T* pixels, std::size_t count, int channels, unsigned curved,
                          float* const out[]) {
    switch (channels) {
        case 1:
            return DecodeChannels<T, 1>(pixels, count, curved, out);
        case 2:
            return DecodeChannels<T, 2>(pixels, count, curved, out);
        case 3:
            return DecodeChannels<T, 3>(pixels, count, curved, out);
        default:
            return DecodeChannels<T, 4>(pixels, count, curved, out);
    }
}

void DecodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]) {
    DecodeAny(pixels, count, channels, curved, out);
}
void DecodeWords(const std::uint16_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]) {
    DecodeAny(pixels, count, channels, curved, out);
}

/// 0..1 to 0..kTop, rounded to nearest, as NearestScaled() gives them; NaN is 0.
template <class T, bool kIsCurved, std::size_t kSide, class D, class V = hn::Vec<D>>
HWY_INLINE void CodesOf(D d, V (&x)[kSide], hn::Vec<hn::RebindToSigned<D>> (&codes)[kSide]) {
    constexpr float kTop = std::numeric_limits<T>::max();
    // In this order NaN becomes 0 on this processor's maximum and on any other's comparison.
    for (V& v : x) v = hn::IfThenElseZero(hn::Gt(v, hn::Zero(d)), hn::Min(v, hn::Set(d, 1.0f)));
    if constexpr (kIsCurved && sizeof(T) == 1)
        EncodeUnit(d, x, kEncodeMantissaOfBytes);
    else if constexpr (kIsCurved)
        EncodeUnit(d, x, kEncodeMantissa);
    for (std::size_t s = 0; s < kSide; ++s) codes[s] = NearestScaled(d, x[s], kTop);
}
/// One vector, and nothing but the codes.
template <class T, class D, class V = hn::Vec<D>>
HWY_INLINE auto CodesOf(D d, V x, bool isCurved) {
    const hn::RebindToSigned<D> di;
    V one[1]{x};
    hn::Vec<decltype(di)> codes[1];
    isCurved ? CodesOf<T, true>(d, one, codes) : CodesOf<T, false>(d, one, codes);
    return hn::And(codes[0], hn::Set(di, std::numeric_limits<T>::max()));
}

#if HWY_TARGET != HWY_SCALAR
/// Three planes' codes in the lowest bytes of each lane; what stands in the highest is of no use.
template <unsigned kCurved, class D>
HWY_INLINE auto TripleCodes(D d, const float* const planes[], std::size_t at, unsigned curved) {
    hn::Vec<hn::RebindToSigned<D>> c[3];
    hn::Vec<D> x[3];
    for (std::size_t k = 0; k < 3; ++k) x[k] = hn::LoadU(d, planes[k] + at);
    if constexpr (kCurved != kAnyCurved)
        CodesOf<std::uint8_t, kCurved != 0>(d, x, c);
    else
        for (std::size_t k = 0; k < 3; ++k) c[k] = CodesOf<std::uint8_t>(d, x[k], (curved & (1u << k)) != 0);
    return hn::Or(c[0], hn::Or(hn::ShiftLeft<8>(c[1]), hn::ShiftLeft<16>(c[2])));
}

/// Whole vectors of three or four planes; how many pixels.
template <unsigned kCurved>
std::size_t EncodeTriples(const float* const planes[], std::size_t components, std::size_t count,
                          unsigned curved, std::uint8_t* out) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const hn::Repartition<std::uint8_t, decltype(d)> bytes;
    const std::size_t lanes = hn::Lanes(d);
    // Copied, or the compiler must expect every store to change them.
    const float* from[4]{};
    std::copy_n(planes, components, from);
    std::size_t i = 0;
    if (components == 3) {
        const std::int32_t* order = Triples::kTogether[lanes >= 16 ? 2 : lanes == 8 ? 1 : 0];
        // What is written behind a vector's pixels is written over by the next ones.
        for (; i + 2 * lanes <= count; i += lanes) {
            const auto codes = hn::BitCast(bytes, TripleCodes<kCurved>(d, from, i, curved));
            const auto blocks = hn::TableLookupBytesOr0(codes, hn::LoadDup128(bytes, Triples::kDrop));
            const auto together =
                hn::TableLookupLanes(hn::BitCast(di, blocks), hn::SetTableIndices(di, order));
            hn::StoreU(hn::BitCast(bytes, together), bytes, out + 3 * i);
        }
        return i;
    }
    for (; i + lanes <= count; i += lanes) {
        const auto colour = hn::And(TripleCodes<kCurved>(d, from, i, curved), hn::Set(di, 0x00FFFFFF));
        const auto alpha = CodesOf<std::uint8_t>(d, hn::LoadU(d, from[3] + i), (curved & 8u) != 0);
        hn::StoreU(hn::BitCast(bytes, hn::Or(colour, hn::ShiftLeft<24>(alpha))), bytes, out + 4 * i);
    }
    return i;
}
#endif

template <unsigned kCurved>
void EncodeBytesOf(const float* const planes[], int components, std::size_t count, unsigned curved,
                   std::uint8_t* out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const std::size_t lanes = hn::Lanes(d), n = static_cast<std::size_t>(components);
    const auto codes = [&](std::size_t plane, std::size_t at) {
        const bool isCurved = ((kCurved == kAnyCurved ? curved : kCurved) & (1u << plane)) != 0;
        return hn::DemoteTo(d8, CodesOf<std::uint8_t>(d, hn::LoadU(d, planes[plane] + at), isCurved));
    };
    std::size_t i = 0;
    if (n == 1)
        for (; i + lanes <= count; i += lanes) hn::StoreU(codes(0, i), d8, out + i);
#if HWY_TARGET != HWY_SCALAR
    else
        i = EncodeTriples<kCurved>(planes, n, count, curved, out);
#endif
    alignas(64) std::uint8_t rest[4][64];
    for (; i < count; i += lanes) {
        for (std::size_t c = 0; c < n; ++c) hn::StoreU(codes(c, i), d8, rest[c]);
        for (std::size_t k = 0; k < std::min(count - i, lanes); ++k)
            for (std::size_t c = 0; c < n; ++c) out[(i + k) * n + c] = rest[c][k];
    }
}

void EncodeBytes(const float* const planes[], int components, std::size_t count, unsigned curved,
                 std::uint8_t* out) {
    if (curved == 0)
        EncodeBytesOf<0>(planes, components, count, curved, out);
    else if (curved == 7)
        EncodeBytesOf<7>(planes, components, count, curved, out);
    else
        EncodeBytesOf<kAnyCurved>(planes, components, count, curved, out);
}

std::size_t EncodeWords(const float* const planes[], int components, std::size_t count, unsigned curved,
                        std::uint16_t* out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<std::uint16_t, decltype(d)> d16;
    const std::size_t lanes = hn::Lanes(d), n = static_cast<std::size_t>(components);
    std::size_t notFinite = 0;
    const auto codes = [&](std::size_t plane, std::size_t at, std::size_t used) {
        const auto x = hn::LoadU(d, planes[plane] + at);
        notFinite += hn::CountTrue(d, hn::And(hn::Not(hn::IsFinite(x)), hn::FirstN(d, used)));
        return hn::DemoteTo(d16, CodesOf<std::uint16_t>(d, x, (curved & (1u << plane)) != 0));
    };
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes) {
        if (components == 3)
            hn::StoreInterleaved3(codes(0, i, lanes), codes(1, i, lanes), codes(2, i, lanes), d16,
                                  out + 3 * i);
        else if (components == 4)
            hn::StoreInterleaved4(codes(0, i, lanes), codes(1, i, lanes), codes(2, i, lanes),
                                  codes(3, i, lanes), d16, out + 4 * i);
        else
            hn::StoreU(codes(0, i, lanes), d16, out + i);
    }
    if (i == count) return notFinite;
    alignas(64) std::uint16_t rest[4][64];
    for (std::size_t c = 0; c < n; ++c) hn::StoreU(codes(c, i, count - i), d16, rest[c]);
    for (std::size_t k = 0; i + k < count; ++k)
        for (std::size_t c = 0; c < n; ++c) out[(i + k) * n + c] = rest[c][k];
    return notFinite;
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(EncodeBytes);
HWY_EXPORT(EncodeWords);
HWY_EXPORT(DecodeBytes);
HWY_EXPORT(DecodeWords);

void decodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]) {
    HWY_DYNAMIC_DISPATCH(DecodeBytes)(pixels, count, channels, curved, out);
}
void decodeWords(const std::uint16_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]) {
    HWY_DYNAMIC_DISPATCH(DecodeWords)(pixels, count, channels, curved, out);
}
void encodeBytes(const float* const planes[], int components, std::size_t count, unsigned curved,
                 std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(EncodeBytes)(planes, components, count, curved, out);
}
std::size_t encodeWords(const float* const planes[], int components, std::size_t count, unsigned curved,
                        std::uint16_t* out) {
    return HWY_DYNAMIC_DISPATCH(EncodeWords)(planes, components, count, curved, out);
}
}  // namespace kettle
#endif
