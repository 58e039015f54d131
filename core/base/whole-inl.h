// Whole numbers of vectors of floats, compiled once per processor target. Include only from kernels, in files
// that follow Highway's foreach_target.
//
// The library's conversion limits what no integer can hold, which takes five instructions a vector. Where the
// numbers are small two do, or one: the sum of a float and a large enough power of two has the float's
// nearest whole number in its lowest bits.
#include <hwy/highway.h>

#include <cstdint>

#if defined(KETTLE_WHOLE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_WHOLE_INL_H_
#undef KETTLE_WHOLE_INL_H_
#else
#define KETTLE_WHOLE_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// The nearest whole number (of a half the even one) for -2^22 <= x <= 2^22; for others, and what is no
/// number, it is some number.
template <class D, class V = hn::Vec<D>>
HWY_INLINE auto NearestWhole(D d, V x) {
    const hn::RebindToSigned<D> di;
    constexpr float kMagic = 12582912.0f;  // 1.5 * 2^23
    return hn::Sub(hn::BitCast(di, hn::Add(x, hn::Set(d, kMagic))), hn::Set(di, 0x4B400000));
}

/// The whole number nearest to x * scale, in the lowest 23 bits, for 0 <= x * scale < 2^22; what stands above
/// them is of no use.
template <class D, class V = hn::Vec<D>>
HWY_INLINE auto NearestScaled(D d, V x, float scale) {
    const hn::RebindToSigned<D> di;
#if HWY_NATIVE_FMA
    return hn::BitCast(di, hn::MulAdd(x, hn::Set(d, scale), hn::Set(d, 8388608.0f)));
#else
    // A product that was rounded to a half would go to the even one of two.
    return hn::ConvertTo(di, hn::MulAdd(x, hn::Set(d, scale), hn::Set(d, 0.5f)));
#endif
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
