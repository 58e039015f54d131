#include "core/image/pixel_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/pixel_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void EncodeBytes(const float* const planes[], int components, std::size_t count, std::uint8_t* out) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const std::size_t lanes = hn::Lanes(d), n = static_cast<std::size_t>(components);
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.0f), top = hn::Set(d, 255.0f), half = hn::Set(d, 0.5f);
    const auto codes = [&](std::size_t plane, std::size_t i) {
        // In this order NaN becomes 0 on this processor's maximum and on any other's comparison.
        const auto x = hn::LoadU(d, planes[plane] + i);
        const auto limited = hn::IfThenElseZero(hn::Gt(x, zero), hn::Min(x, one));
        return hn::DemoteTo(d8, hn::ConvertTo(di, hn::MulAdd(limited, top, half)));
    };
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes) {
        if (components == 3)
            hn::StoreInterleaved3(codes(0, i), codes(1, i), codes(2, i), d8, out + 3 * i);
        else if (components == 4)
            hn::StoreInterleaved4(codes(0, i), codes(1, i), codes(2, i), codes(3, i), d8, out + 4 * i);
        else
            hn::StoreU(codes(0, i), d8, out + i);
    }
    if (i == count) return;
    alignas(64) std::uint8_t rest[4][64];
    for (std::size_t c = 0; c < n; ++c) hn::StoreU(codes(c, i), d8, rest[c]);
    for (std::size_t k = 0; i + k < count; ++k)
        for (std::size_t c = 0; c < n; ++c) out[(i + k) * n + c] = rest[c][k];
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(EncodeBytes);

namespace {
/// One channel of pixels kStride bytes apart.
template <std::size_t kStride>
void decodeChannel(const std::uint8_t* from, std::size_t count, const float* table, float* out) {
#pragma GCC unroll 8
    for (std::size_t i = 0; i < count; ++i) out[i] = table[from[i * kStride]];
}
}  // namespace

// Not in vectors: gathering sixteen table entries was measured to take half as long again as plain loads.
void decodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, const float* table,
                 float* const out[]) {
    constexpr decltype(&decodeChannel<1>) kOneChannel[]{decodeChannel<1>, decodeChannel<2>, decodeChannel<3>,
                                                        decodeChannel<4>};
    for (int c = 0; c < channels; ++c)
        if (out[c] != nullptr) kOneChannel[channels - 1](pixels + c, count, table, out[c]);
}
void encodeBytes(const float* const planes[], int components, std::size_t count, std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(EncodeBytes)(planes, components, count, out);
}
}  // namespace kettle
#endif
