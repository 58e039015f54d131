// The display curve on vectors, compiled once per processor target. Include only from kernels, in files that
// follow Highway's foreach_target.
//
// Accuracy against the plain twin in encoding.h: 1e-6 within -1..1, and relative beyond.
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

/// What the curves are made of: a power of x is a number for its exponent times a polynomial of its mantissa,
/// which is fitted over 1..2 by minimax. No root, which took half as long again, and no quick estimate of
/// one, which differs from maker to maker where a farm of unlike machines must agree.
///
/// Sixteen exponents have a number of their own; each stands where the lowest four bits of the float's biased
/// exponent point to.
struct PowerTable {
    float at[16];
};
/// 2^(2.4 e) for e from -4 on.
inline constexpr PowerTable kDecodeExponent = {{5.27803164309f, 27.8576180255f, 147.03338944f, 776.046882053f,
                                                4096.0f, 21618.8176101f, 114104.803432f, 602248.763145f,
                                                3178688.02889f, 16777216.0f, 88550676.931f, 0.00128858194411f,
                                                0.00680117627575f, 0.0358968235937f, 0.189464570814f, 1.0f}};
/// 1.055 * 2^(e / 2.4) for e from -9 on.
inline constexpr PowerTable kEncodeExponent = {
    {1.40825604615f, 1.87979629528f, 2.50922701266f, 3.34941621965f, 4.4709342582f, 5.96798123321f,
     0.0784133441455f, 0.104669256864f, 0.139716695569f, 0.186499413538f, 0.24894684997f, 0.33230417691f,
     0.443572859046f, 0.592098730483f, 0.790356983052f, 1.055f}};
/// m^2.4, 6e-8. The coefficients of both add up to exactly 1 in the order in which they are evaluated, fused
/// or not, so that 1 becomes exactly 1: blend modes branch there.
inline constexpr float kDecodeMantissa[] = {
    0.0165578723f,          -0.11973770641818972f, 0.72917382921888752f,   0.44659640226845949f,
    -0.085695264801270599f, 0.014253270738420251f, -0.0011484043871704505f};
/// m^(1 / 2.4): 4e-8, and for what becomes a byte 1.3e-5.
inline constexpr float kEncodeMantissa[] = {
    0.330843687f,          1.161206582822353f,    -0.89315297387189741f,  0.6294801500311209f,
    -0.31045731304621599f, 0.098799953244964105f, -0.018191337135056837f, 0.0014712323783834733f};
inline constexpr float kEncodeMantissaOfBytes[] = {0.412809969431f, 0.82440355881f, -0.313670527419f,
                                                   0.086953545784f, -0.0104832099951f};
/// Up to here the curve is straight, with this slope.
inline constexpr float kStraightEncoded = 0.04045f, kStraightLinear = 0.0031308f, kSlope = 12.92f;
/// The standard's 0.055, as the float that leaves exactly 1 of the curve's end; and 0.055 / 1.055, to which
/// the scale is what is missing to exactly 1: near black it is the offset that must be exact.
inline constexpr float kOffset = 1.055f - 1.0f, kScaledOffset = 0.0521326996f, kScale = 1.0f - kScaledOffset;
static_assert(kScale + kScaledOffset == 1.0f);

// The functions below take several vectors side by side: each step of a polynomial waits for the one before
// it, and what its neighbours do meanwhile costs nothing.

/// The number of x's exponent.
template <class D, class I, class V = hn::Vec<D>>
HWY_INLINE V OfExponent(D d, const PowerTable& table, I bits) {
    const hn::RebindToSigned<D> di;
    const auto exponent = hn::ShiftRight<23>(bits);
#if HWY_ARCH_X86 && HWY_TARGET <= HWY_AVX3
    // This permutation looks at the lowest four bits alone, so nobody needs to cut them out.
    if constexpr (hn::MaxLanes(D()) == 16)
        return V{_mm512_permutexvar_ps(exponent.raw, hn::LoadU(d, table.at).raw)};
#endif
    const auto index = hn::And(exponent, hn::Set(di, 15));
    if constexpr (hn::MaxLanes(D()) >= 16) {
        return hn::TableLookupLanes(hn::LoadU(d, table.at), hn::IndicesFromVec(d, index));
    } else if constexpr (hn::MaxLanes(D()) == 8) {
        const auto lane = hn::IndicesFromVec(d, hn::And(index, hn::Set(di, 7)));
        const auto isHigh = hn::RebindMask(d, hn::Gt(index, hn::Set(di, 7)));
        return hn::IfThenElse(isHigh, hn::TableLookupLanes(hn::LoadU(d, table.at + 8), lane),
                              hn::TableLookupLanes(hn::LoadU(d, table.at), lane));
    } else {
        return hn::GatherIndex(d, table.at, index);
    }
}

/// Each x to its power, for x of the table's exponents; for others it is some number.
template <class D, std::size_t kCount, std::size_t kSide, class V = hn::Vec<D>>
HWY_INLINE void PowerByParts(D d, V (&x)[kSide], const PowerTable& ofExponent,
                             const float (&ofMantissa)[kCount]) {
    const hn::RebindToSigned<D> di;
    V power[kSide];
    for (std::size_t s = 0; s < kSide; ++s) {
        const auto bits = hn::BitCast(di, x[s]);
        x[s] = hn::BitCast(d, hn::OrAnd(hn::Set(di, 0x3F800000), bits, hn::Set(di, 0x007FFFFF)));
        power[s] = OfExponent(d, ofExponent, bits);
    }
    V y[kSide];
    for (std::size_t s = 0; s < kSide; ++s) y[s] = hn::Set(d, ofMantissa[kCount - 1]);
    for (std::size_t k = kCount - 1; k-- > 0;)
        for (std::size_t s = 0; s < kSide; ++s) y[s] = hn::MulAdd(y[s], x[s], hn::Set(d, ofMantissa[k]));
    for (std::size_t s = 0; s < kSide; ++s) x[s] = hn::Mul(power[s], y[s]);
}
template <class D, std::size_t kCount, class V = hn::Vec<D>>
HWY_INLINE V PowerByParts(D d, V x, const PowerTable& ofExponent, const float (&ofMantissa)[kCount]) {
    V one[1]{x};
    PowerByParts(d, one, ofExponent, ofMantissa);
    return one[0];
}

/// IEC 61966-2-1, odd-symmetric: 5e-7 relative, up to 4000; beyond that it is computed as a power, 2e-6
/// relative.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V DecodeSrgb(D d, V encoded) {
    const V x = hn::Abs(encoded), most = hn::Set(d, 4000.0f);
    const V base = hn::MulAdd(x, hn::Set(d, kScale), hn::Set(d, kScaledOffset));
    V curve = PowerByParts(d, base, kDecodeExponent, kDecodeMantissa);
    const auto beyond = hn::Gt(x, most);
    if (!hn::AllFalse(d, beyond))
        curve = hn::IfThenElse(beyond, PowPositive(d, base, hn::Set(d, 2.4f)), curve);
    const V y =
        hn::IfThenElse(hn::Le(x, hn::Set(d, kStraightEncoded)), hn::Mul(x, hn::Set(d, 1.0f / kSlope)), curve);
    return hn::CopySign(y, encoded);
}

/// The same for whole numbers of which `top` is 1, as they are stored: 255 and 65535 become exactly 1, fused
/// or not.
template <std::size_t kSide, class D, class V = hn::Vec<D>>
HWY_INLINE void DecodeStored(D d, V (&code)[kSide], float top) {
    V base[kSide];
    const float scale = 0.947867298578f / top;
    for (std::size_t s = 0; s < kSide; ++s)
        base[s] = hn::MulAdd(code[s], hn::Set(d, scale), hn::Set(d, kScaledOffset));
    PowerByParts(d, base, kDecodeExponent, kDecodeMantissa);
    for (std::size_t s = 0; s < kSide; ++s)
        code[s] = hn::IfThenElse(hn::Le(code[s], hn::Set(d, kStraightEncoded * top)),
                                 hn::Mul(code[s], hn::Set(d, 1.0f / kSlope / top)), base[s]);
}
template <class D, class V = hn::Vec<D>>
HWY_INLINE V DecodeStored(D d, V code, float top) {
    V one[1]{code};
    DecodeStored(d, one, top);
    return one[0];
}

/// The inverse of DecodeSrgb: 7e-7 of the larger of the value and 1, up to 120; beyond that it is computed as
/// a power.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V EncodeSrgb(D d, V linear) {
    const V x = hn::Abs(linear), most = hn::Set(d, 120.0f);
    V curve = hn::Sub(PowerByParts(d, x, kEncodeExponent, kEncodeMantissa), hn::Set(d, kOffset));
    const auto beyond = hn::Gt(x, most);
    if (!hn::AllFalse(d, beyond))
        curve = hn::IfThenElse(
            beyond,
            hn::MulSub(PowPositive(d, x, hn::Set(d, 1.0f / 2.4f)), hn::Set(d, 1.055f), hn::Set(d, 0.055f)),
            curve);
    const V y = hn::IfThenElse(hn::Le(x, hn::Set(d, kStraightLinear)), hn::Mul(x, hn::Set(d, kSlope)), curve);
    return hn::CopySign(y, linear);
}

/// The same for 0..1 and, with the shorter polynomial, as exact as a byte needs.
template <std::size_t kCount, std::size_t kSide, class D, class V = hn::Vec<D>>
HWY_INLINE void EncodeUnit(D d, V (&x)[kSide], const float (&ofMantissa)[kCount]) {
    V curve[kSide];
    for (std::size_t s = 0; s < kSide; ++s) curve[s] = x[s];
    PowerByParts(d, curve, kEncodeExponent, ofMantissa);
    for (std::size_t s = 0; s < kSide; ++s)
        x[s] = hn::IfThenElse(hn::Le(x[s], hn::Set(d, kStraightLinear)), hn::Mul(x[s], hn::Set(d, kSlope)),
                              hn::Sub(curve[s], hn::Set(d, kOffset)));
}
template <std::size_t kCount, class D, class V = hn::Vec<D>>
HWY_INLINE V EncodeUnit(D d, V x, const float (&ofMantissa)[kCount]) {
    V one[1]{x};
    EncodeUnit(d, one, ofMantissa);
    return one[0];
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
