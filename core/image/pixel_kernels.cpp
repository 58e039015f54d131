#include "core/image/pixel_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/pixel_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <algorithm>
#include <limits>

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
    for (std::size_t i = 0; i < count; i += lanes) {
        hn::Vec<decltype(di)> channel[4]{hn::Zero(di), hn::Zero(di), hn::Zero(di), hn::Zero(di)};
#if HWY_TARGET != HWY_SCALAR
        if constexpr (kChannels == 3 && sizeof(T) == 1) {
            if (3 * (count - i) >= 4 * lanes)
                LoadTriples(d, pixels + i * kChannels, channel);
            else
                LoadPixels<kChannels>(d, pixels + i * kChannels, channel);
        } else
#endif
            LoadPixels<kChannels>(d, pixels + i * kChannels, channel);
        for (int c = 0; c < kChannels; ++c) {
            if (kCurved == kAnyCurved && to[c] == nullptr) continue;
            const auto code = hn::ConvertTo(d, channel[c]);
            const bool isCurved = ((kCurved == kAnyCurved ? curved : kCurved) & (1u << c)) != 0;
            const auto x = isCurved ? DecodeStored(d, code, kTop) : hn::Mul(code, hn::Set(d, 1.0f / kTop));
            hn::StoreU(x, d, to[c] + i);
        }
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

/// 0..1 to 0..kTop, rounded to nearest; NaN is 0.
template <class T, class D, class V = hn::Vec<D>>
HWY_INLINE auto CodesOf(D d, V x, bool isCurved) {
    constexpr float kTop = std::numeric_limits<T>::max();
    // In this order NaN becomes 0 on this processor's maximum and on any other's comparison.
    V limited = hn::IfThenElseZero(hn::Gt(x, hn::Zero(d)), hn::Min(x, hn::Set(d, 1.0f)));
    if (isCurved) {
        if constexpr (sizeof(T) == 1)
            limited = EncodeUnit(d, limited, kEncodeMantissaOfBytes);
        else
            limited = EncodeUnit(d, limited, kEncodeMantissa);
    }
    return hn::ConvertTo(hn::RebindToSigned<D>(), hn::MulAdd(limited, hn::Set(d, kTop), hn::Set(d, 0.5f)));
}

template <unsigned kCurved>
void EncodeBytesOf(const float* const planes[], int components, std::size_t count, unsigned curved,
                   std::uint8_t* out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const std::size_t lanes = hn::Lanes(d), n = static_cast<std::size_t>(components);
    const auto codes = [&](std::size_t plane, std::size_t at) {
        const bool isCurved = ((kCurved == kAnyCurved ? curved : kCurved) & (1u << plane)) != 0;
        return CodesOf<std::uint8_t>(d, hn::LoadU(d, planes[plane] + at), isCurved);
    };
    std::size_t i = 0;
#if HWY_TARGET != HWY_SCALAR
    const hn::RebindToSigned<decltype(d)> di;
    const hn::Repartition<std::uint8_t, decltype(d)> bytes;
    const auto three = [&](std::size_t at) {
        return hn::Or(codes(0, at), hn::Or(hn::ShiftLeft<8>(codes(1, at)), hn::ShiftLeft<16>(codes(2, at))));
    };
    if (n == 3) {
        const std::int32_t* order = Triples::kTogether[lanes >= 16 ? 2 : lanes == 8 ? 1 : 0];
        // What is written behind a vector's pixels is written over by the next ones.
        for (; i + 2 * lanes <= count; i += lanes) {
            const auto blocks =
                hn::TableLookupBytesOr0(hn::BitCast(bytes, three(i)), hn::LoadDup128(bytes, Triples::kDrop));
            const auto together =
                hn::TableLookupLanes(hn::BitCast(di, blocks), hn::SetTableIndices(di, order));
            hn::StoreU(hn::BitCast(bytes, together), bytes, out + 3 * i);
        }
    } else if (n == 4) {
        for (; i + lanes <= count; i += lanes)
            hn::StoreU(hn::BitCast(bytes, hn::Or(three(i), hn::ShiftLeft<24>(codes(3, i)))), bytes,
                       out + 4 * i);
    }
#endif
    if (n == 1)
        for (; i + lanes <= count; i += lanes) hn::StoreU(hn::DemoteTo(d8, codes(0, i)), d8, out + i);
    alignas(64) std::uint8_t rest[4][64];
    for (; i < count; i += lanes) {
        for (std::size_t c = 0; c < n; ++c) hn::StoreU(hn::DemoteTo(d8, codes(c, i)), d8, rest[c]);
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
