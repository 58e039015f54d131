#include "core/image/pixel_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/pixel_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void DecodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, const float* table,
                 float* const out[]) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const std::size_t lanes = hn::Lanes(d);
    const auto put = [&](auto codes, int channel, std::size_t i) {
        if (out[channel] != nullptr)
            hn::StoreU(hn::GatherIndex(d, table, hn::PromoteTo(di, codes)), d, out[channel] + i);
    };
    std::size_t i = 0;
    auto r = hn::Zero(d8), g = hn::Zero(d8), b = hn::Zero(d8), a = hn::Zero(d8);
    for (; i + lanes <= count && channels != 2; i += lanes) {
        if (channels == 1) {
            put(hn::LoadU(d8, pixels + i), 0, i);
        } else if (channels == 3) {
            hn::LoadInterleaved3(d8, pixels + 3 * i, r, g, b);
            put(r, 0, i), put(g, 1, i), put(b, 2, i);
        } else {
            hn::LoadInterleaved4(d8, pixels + 4 * i, r, g, b, a);
            put(r, 0, i), put(g, 1, i), put(b, 2, i), put(a, 3, i);
        }
    }
    const auto n = static_cast<std::size_t>(channels);
    for (; i < count; ++i)
        for (std::size_t c = 0; c < n; ++c)
            if (out[c] != nullptr) out[c][i] = table[pixels[i * n + c]];
}

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
HWY_EXPORT(DecodeBytes);
HWY_EXPORT(EncodeBytes);

void decodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, const float* table,
                 float* const out[]) {
    HWY_DYNAMIC_DISPATCH(DecodeBytes)(pixels, count, channels, table, out);
}
void encodeBytes(const float* const planes[], int components, std::size_t count, std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(EncodeBytes)(planes, components, count, out);
}
}  // namespace kettle
#endif
