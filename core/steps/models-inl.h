// Colour models and the transfer curve on vectors of colours, compiled once per processor target. Include
// only from kernels, between HWY_BEFORE_NAMESPACE and HWY_AFTER_NAMESPACE files that follow Highway's
// foreach_target.
//
// Accuracy against the plain twins in core/colour: the transfer curve 2e-6 relative, HSV 2e-6 absolute per
// component.
#include <hwy/contrib/math/math-inl.h>
#include <hwy/highway.h>

#if defined(KETTLE_MODELS_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_MODELS_INL_H_
#undef KETTLE_MODELS_INL_H_
#else
#define KETTLE_MODELS_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// x^e for x > 0; 0 for x <= 0.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V PowPositive(D d, V x, V e) {
    const V tiny = hn::Set(d, 1e-30f);
    const V y = hn::Exp(d, hn::Mul(e, hn::Log(d, hn::Max(x, tiny))));
    return hn::IfThenElse(hn::Gt(x, tiny), y, hn::Zero(d));
}

/// IEC 61966-2-1, odd-symmetric.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V DecodeSrgb(D d, V encoded) {
    const V x = hn::Abs(encoded);
    const V curve = PowPositive(d, hn::MulAdd(x, hn::Set(d, 1.0f / 1.055f), hn::Set(d, 0.055f / 1.055f)),
                                hn::Set(d, 2.4f));
    const V y = hn::IfThenElse(hn::Le(x, hn::Set(d, 0.04045f)), hn::Mul(x, hn::Set(d, 1.0f / 12.92f)), curve);
    return hn::CopySign(y, encoded);
}

template <class D, class V = hn::Vec<D>>
HWY_INLINE V EncodeSrgb(D d, V linear) {
    const V x = hn::Abs(linear);
    const V curve =
        hn::MulSub(PowPositive(d, x, hn::Set(d, 1.0f / 2.4f)), hn::Set(d, 1.055f), hn::Set(d, 0.055f));
    const V y = hn::IfThenElse(hn::Le(x, hn::Set(d, 0.0031308f)), hn::Mul(x, hn::Set(d, 12.92f)), curve);
    return hn::CopySign(y, linear);
}

/// Hue in sixths of a turn, [0, 6); saturation 0..1; value >= 0. Negative components count as 0; a grey has
/// hue 0.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void ToHsv(D d, V r, V g, V b, V& h, V& s, V& v) {
    const V zero = hn::Zero(d);
    r = hn::Max(r, zero);
    g = hn::Max(g, zero);
    b = hn::Max(b, zero);
    v = hn::Max(r, hn::Max(g, b));
    const V range = hn::Sub(v, hn::Min(r, hn::Min(g, b)));
    const auto coloured = hn::Gt(range, zero);
    const V safe = hn::IfThenElse(coloured, range, hn::Set(d, 1.0f));
    const auto isR = hn::Eq(v, r);
    const auto isG = hn::Eq(v, g);
    const V first = hn::IfThenElse(isR, g, hn::IfThenElse(isG, b, r));
    const V second = hn::IfThenElse(isR, b, hn::IfThenElse(isG, r, g));
    const V base = hn::IfThenElse(isR, zero, hn::IfThenElse(isG, hn::Set(d, 2.0f), hn::Set(d, 4.0f)));
    h = hn::Add(base, hn::Div(hn::Sub(first, second), safe));
    h = hn::Add(h, hn::IfThenElseZero(hn::Lt(h, zero), hn::Set(d, 6.0f)));
    h = hn::IfThenElseZero(coloured, h);
    s = hn::IfThenElseZero(coloured, hn::Div(range, hn::Max(v, hn::Set(d, 1e-30f))));
}

/// Hue in sixths of a turn, any finite value.
template <class D, class V = hn::Vec<D>>
HWY_INLINE void FromHsv(D d, V h, V s, V v, V& r, V& g, V& b) {
    const V six = hn::Set(d, 6.0f), zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const V turned = hn::NegMulAdd(hn::Floor(hn::Mul(h, hn::Set(d, 1.0f / 6.0f))), six, h);
    const V depth = hn::Mul(v, s);
    const auto channel = [&](float n) {
        V k = hn::Add(turned, hn::Set(d, n));
        k = hn::IfThenElse(hn::Ge(k, six), hn::Sub(k, six), k);
        const V w = hn::Min(hn::Max(hn::Min(k, hn::Sub(hn::Set(d, 4.0f), k)), zero), one);
        return hn::NegMulAdd(depth, w, v);
    };
    r = channel(5.0f);
    g = channel(3.0f);
    b = channel(1.0f);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif  // KETTLE_MODELS_INL_H_
