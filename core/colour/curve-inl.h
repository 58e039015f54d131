// The display curve on vectors, compiled once per processor target. Include only from kernels, in files that
// follow Highway's foreach_target.
//
// Accuracy against the plain twin in encoding.h: 1e-6 within -1..1.
#include <hwy/contrib/math/math-inl.h>
#include <hwy/highway.h>

#include <cstddef>

#if defined(KETTLE_CURVE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_CURVE_INL_H_
#undef KETTLE_CURVE_INL_H_
#else
#define KETTLE_CURVE_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// ((c[n-1] x + c[n-2]) x + ...) x + c[0]
template <class D, std::size_t kCount, class V = hn::Vec<D>>
HWY_INLINE V Polynomial(D d, V x, const float (&c)[kCount]) {
    V y = hn::Set(d, c[kCount - 1]);
    for (std::size_t k = kCount - 1; k-- > 0;) y = hn::MulAdd(y, x, hn::Set(d, c[k]));
    return y;
}

/// x^e for x > 0; 0 for x <= 0.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V PowPositive(D d, V x, V e) {
    const V tiny = hn::Set(d, 1e-30f);
    const V y = hn::Exp(d, hn::Mul(e, hn::Log(d, hn::Max(x, tiny))));
    return hn::IfThenElse(hn::Gt(x, tiny), y, hn::Zero(d));
}

/// IEC 61966-2-1, odd-symmetric. Within -1..1 the power is a polynomial in the square root (Chebyshev nodes,
/// degree 8, fitted on the curve's upper part): 1e-6 relative. Beyond it is computed as a power, 2e-6
/// relative.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V DecodeSrgb(D d, V encoded) {
    static constexpr float kCurve[] = {
        4.6294729502375744e-05f, -0.0008452437233478426f, 0.007086097460136165f,
        -0.03802209233583599f,   0.18033257957095483f,    0.9522058528089821f,
        -0.1282339420198324f,    0.03166036505823164f,    -0.004229912142883071f};
    const V x = hn::Abs(encoded), one = hn::Set(d, 1.0f);
    const V base = hn::MulAdd(x, hn::Set(d, 1.0f / 1.055f), hn::Set(d, 0.055f / 1.055f));
    V curve = Polynomial(d, hn::Sqrt(base), kCurve);
    const auto beyond = hn::Gt(x, one);
    if (!hn::AllFalse(d, beyond))
        curve = hn::IfThenElse(beyond, PowPositive(d, base, hn::Set(d, 2.4f)), curve);
    const V y = hn::IfThenElse(hn::Le(x, hn::Set(d, 0.04045f)), hn::Mul(x, hn::Set(d, 1.0f / 12.92f)), curve);
    return hn::CopySign(y, encoded);
}

/// The inverse, by a polynomial in the fourth root: 5e-7 absolute within -1..1. The roots are exact ones and
/// not the processor's quick estimate, which differs from maker to maker: a farm of unlike machines must
/// agree.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V EncodeSrgb(D d, V linear) {
    static constexpr float kCurve[] = {-0.05781718677294212f, 0.11307473873109854f, 1.5352306801489195f,
                                       -1.4403009898756003f,  1.8699361175628564f,  -1.8468150202603055f,
                                       1.2177219450087662f,   -0.4719503831040562f, 0.08092014252972031f};
    const V x = hn::Abs(linear), one = hn::Set(d, 1.0f);
    // Kept away from 0, where the curve is straight and this is not used.
    V curve = Polynomial(d, hn::Sqrt(hn::Sqrt(hn::Max(x, hn::Set(d, 1e-4f)))), kCurve);
    const auto beyond = hn::Gt(x, one);
    if (!hn::AllFalse(d, beyond))
        curve = hn::IfThenElse(
            beyond,
            hn::MulSub(PowPositive(d, x, hn::Set(d, 1.0f / 2.4f)), hn::Set(d, 1.055f), hn::Set(d, 0.055f)),
            curve);
    const V y = hn::IfThenElse(hn::Le(x, hn::Set(d, 0.0031308f)), hn::Mul(x, hn::Set(d, 12.92f)), curve);
    return hn::CopySign(y, linear);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
