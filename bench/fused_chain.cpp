// The reference chain as a programmer would write it for this chain alone: one vectorised loop.
#include "bench/reference_chain.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "bench/fused_chain.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// Piecewise linear, by comparing and selecting, the components together.
template <std::size_t kStops, std::size_t kComponents, class D, class V>
HWY_INLINE void RampOf(D d, const std::array<bench::ChainStop, kStops>& stops, V x, V (&out)[kComponents]) {
    const auto component = [](const bench::ChainStop& s, std::size_t c) {
        return c == 0 ? s.r : c == 1 ? s.g : s.b;
    };
    V start = hn::Set(d, stops[0].at), slope[kComponents];
    for (std::size_t c = 0; c < kComponents; ++c) {
        out[c] = hn::Set(d, component(stops[0], c));
        slope[c] = hn::Zero(d);
    }
    for (std::size_t i = 0; i < kStops; ++i) {
        const auto inside = hn::Ge(x, hn::Set(d, stops[i].at));
        start = hn::IfThenElse(inside, hn::Set(d, stops[i].at), start);
        for (std::size_t c = 0; c < kComponents; ++c) {
            const float from = component(stops[i], c);
            const float rise =
                i + 1 < kStops ? (component(stops[i + 1], c) - from) / (stops[i + 1].at - stops[i].at) : 0;
            out[c] = hn::IfThenElse(inside, hn::Set(d, from), out[c]);
            slope[c] = hn::IfThenElse(inside, hn::Set(d, rise), slope[c]);
        }
    }
    const V t = hn::Max(hn::Sub(x, start), hn::Zero(d));
    for (std::size_t c = 0; c < kComponents; ++c) out[c] = hn::MulAdd(slope[c], t, out[c]);
}

template <class D, class V>
HWY_INLINE void ChainOf(D d, V& r, V& g, V& b, V grey) {
    V h = r, c = r, v = r;
    ToHueChroma(d, r, g, b, h, c, v);
    const V value = hn::Set(d, bench::kValue);
    c = hn::Min(hn::Mul(c, hn::Set(d, bench::kSaturation)), v);
    FromHueChroma(d, TurnedHue(d, h, hn::Set(d, bench::kHue / 60)), hn::Mul(c, value), hn::Mul(v, value), r,
                  g, b);
    V mask[1], over[3];
    RampOf(d, bench::kMaskRamp, grey, mask);
    RampOf(d, bench::kOverRamp, grey, over);
    const V weight = hn::Mul(mask[0], hn::Set(d, bench::kAmount));
    r = hn::MulAdd(weight, hn::MulSub(r, over[0], r), r);
    g = hn::MulAdd(weight, hn::MulSub(g, over[1], g), g);
    b = hn::MulAdd(weight, hn::MulSub(b, over[2], b), b);
}

void FusedBytes(const std::uint8_t* rgb, const std::uint8_t* grey, std::size_t count, std::uint8_t* out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const hn::RebindToSigned<decltype(d)> di;
    using V = hn::Vec<decltype(d)>;
    const auto unit = [&](auto bytes) {
        return hn::Mul(hn::ConvertTo(d, hn::PromoteTo(di, bytes)), hn::Set(d, 1 / 255.0f));
    };
    const auto code = [&](V x) {
        x = hn::MulAdd(hn::Min(hn::Max(EncodeSrgb(d, x), hn::Zero(d)), hn::Set(d, 1.0f)), hn::Set(d, 255.0f),
                       hn::Set(d, 0.5f));
        return hn::DemoteTo(d8, hn::ConvertTo(di, x));
    };
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        auto r8 = hn::Zero(d8), g8 = hn::Zero(d8), b8 = hn::Zero(d8);
        hn::LoadInterleaved3(d8, rgb + 3 * i, r8, g8, b8);
        V r = DecodeSrgb(d, unit(r8)), g = DecodeSrgb(d, unit(g8)), b = DecodeSrgb(d, unit(b8));
        ChainOf(d, r, g, b, unit(hn::LoadU(d8, grey + i)));
        hn::StoreInterleaved3(code(r), code(g), code(b), d8, out + 3 * i);
    }
}

void FusedPlanes(const float* const in[4], std::size_t count, float* const out[3]) {
    const hn::ScalableTag<float> d;
    // Copied, or the compiler must expect every store to change them.
    const float *const red = in[0], *const green = in[1], *const blue = in[2], *const grey = in[3];
    float *const x = out[0], *const y = out[1], *const z = out[2];
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        auto r = hn::LoadU(d, red + i), g = hn::LoadU(d, green + i), b = hn::LoadU(d, blue + i);
        ChainOf(d, r, g, b, hn::LoadU(d, grey + i));
        hn::StoreU(r, d, x + i);
        hn::StoreU(g, d, y + i);
        hn::StoreU(b, d, z + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(FusedBytes);
HWY_EXPORT(FusedPlanes);
namespace bench {
void fusedChain(const std::uint8_t* rgb, const std::uint8_t* grey, std::size_t count, std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(FusedBytes)(rgb, grey, count, out);
}
void fusedChainPlanes(const float* const in[4], std::size_t count, float* const out[3]) {
    HWY_DYNAMIC_DISPATCH(FusedPlanes)(in, count, out);
}
}  // namespace bench
}  // namespace kettle
#endif
