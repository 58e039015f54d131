// Unit vectors of tangent space on vectors of points, compiled once per processor target. Include only from
// kernels, as models-inl.h.
#include "core/steps/models-inl.h"

#if defined(KETTLE_NORMALS_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_NORMALS_INL_H_
#undef KETTLE_NORMALS_INL_H_
#else
#define KETTLE_NORMALS_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

template <class D, class V = hn::Vec<D>>
struct Direction {
    V x, y, z;
};
/// Registers `first` to `first + 2` of a call.
template <class D>
HWY_INLINE Direction<D> LoadDirection(D d, const KernelCall& k, std::size_t first, std::size_t i) {
    return {hn::Load(d, k.in[first] + i), hn::Load(d, k.in[first + 1] + i), hn::Load(d, k.in[first + 2] + i)};
}
/// Unit length; what has none points straight up.
template <class D>
HWY_INLINE Direction<D> Normalised(D d, const Direction<D>& n) {
    const auto square = hn::MulAdd(n.x, n.x, hn::MulAdd(n.y, n.y, hn::Mul(n.z, n.z)));
    const auto has = hn::Gt(square, hn::Set(d, 1e-20f));
    const auto scale = hn::Div(hn::Set(d, 1.0f), hn::Sqrt(hn::IfThenElse(has, square, hn::Set(d, 1.0f))));
    return {hn::IfThenElseZero(has, hn::Mul(n.x, scale)), hn::IfThenElseZero(has, hn::Mul(n.y, scale)),
            hn::IfThenElse(has, hn::Mul(n.z, scale), hn::Set(d, 1.0f))};
}
/// `weight` of the way from straight up to n, of unit length.
template <class D, class V = hn::Vec<D>>
HWY_INLINE Direction<D> FromFlat(D d, const Direction<D>& n, V weight) {
    const auto one = hn::Set(d, 1.0f);
    return Normalised(d, Direction<D>{hn::Mul(n.x, weight), hn::Mul(n.y, weight),
                                      hn::MulAdd(hn::Sub(n.z, one), weight, one)});
}
/// Stores a, and where `keep` b instead, bit for bit.
template <class D, class M>
HWY_INLINE void StoreDirection(D d, const Direction<D>& a, M keep, const Direction<D>& b, const KernelCall& k,
                               std::size_t i) {
    StoreIf(d, hn::IfThenElse(keep, b.x, a.x), k.out[0], i);
    StoreIf(d, hn::IfThenElse(keep, b.y, a.y), k.out[1], i);
    StoreIf(d, hn::IfThenElse(keep, b.z, a.z), k.out[2], i);
}

/// Detail over base by what a template argument says. Sources: reoriented: C. Barré-Brisebois and S. Hill
/// 2012, Blending in Detail, whose other three are whiteout, linear and overlay.
enum class Stacking { Reoriented, Whiteout, Linear, Overlay };
template <Stacking kStacking, class D>
HWY_INLINE Direction<D> Stacked(D d, const Direction<D>& base, const Direction<D>& detail) {
    const auto one = hn::Set(d, 1.0f);
    if constexpr (kStacking == Stacking::Reoriented) {
        // t = base + (0, 0, 1), u = detail (-1, -1, 1): t (t . u) / t.z - u.
        const auto z = hn::Add(base.z, one);
        const auto dot =
            hn::NegMulAdd(base.x, detail.x, hn::NegMulAdd(base.y, detail.y, hn::Mul(z, detail.z)));
        const auto s = hn::Div(dot, hn::Max(z, hn::Set(d, 1e-4f)));
        return Normalised(d, Direction<D>{hn::MulAdd(base.x, s, detail.x), hn::MulAdd(base.y, s, detail.y),
                                          hn::MulSub(z, s, detail.z)});
    } else if constexpr (kStacking == Stacking::Whiteout) {
        return Normalised(
            d, Direction<D>{hn::Add(base.x, detail.x), hn::Add(base.y, detail.y), hn::Mul(base.z, detail.z)});
    } else if constexpr (kStacking == Stacking::Linear) {
        return Normalised(
            d, Direction<D>{hn::Add(base.x, detail.x), hn::Add(base.y, detail.y), hn::Add(base.z, detail.z)});
    } else {
        // Overlay of the numbers that a map stores, 0..1.
        const auto over = [&](auto u, auto o) {
            const auto half = hn::Set(d, 0.5f), two = hn::Set(d, 2.0f);
            const auto a = hn::MulAdd(u, half, half), b = hn::MulAdd(o, half, half);
            const auto dark = hn::Mul(two, hn::Mul(a, b));
            const auto light = hn::NegMulAdd(hn::Mul(two, hn::Sub(one, a)), hn::Sub(one, b), one);
            return hn::MulSub(hn::IfThenElse(hn::Lt(a, half), dark, light), two, one);
        };
        return Normalised(
            d, Direction<D>{over(base.x, detail.x), over(base.y, detail.y), over(base.z, detail.z)});
    }
}

/// in: base, detail (three each) and the mask; params: the amount. Weight 0 gives the base bit for bit.
template <Stacking kStacking>
HWY_INLINE void StackOver(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto amount = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto base = LoadDirection(d, k, 0, i);
        const auto weight = hn::Mul(amount, hn::Load(d, k.in[6] + i));
        const auto detail = FromFlat(d, LoadDirection(d, k, 3, i), weight);
        StoreDirection(d, Stacked<kStacking>(d, base, detail), hn::Eq(weight, hn::Zero(d)), base, k, i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();
#endif
