// Noise on vectors of points, compiled once per processor target. Include only from kernels, as models-inl.h.
// Sources: K. Perlin 2002, Improving Noise (fade and, in space, gradients); S. Worley 1996, A Cellular
// Texture Basis Function. Integer hashing: the same numbers on every processor.
#include "core/base/whole-inl.h"
#include "core/steps/models-inl.h"

#if defined(KETTLE_NOISE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_NOISE_INL_H_
#undef KETTLE_NOISE_INL_H_
#else
#define KETTLE_NOISE_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// Multipliers that tell the axes apart: odd, with bits spread over the word.
inline constexpr std::uint32_t kWrapU = 0x9E3779B1u, kWrapV = 0x85EBCA77u, kDeep = 0xC2B2AE3Du;

/// Every bit of what comes in reaches the upper bits of what goes out.
template <class DU, class VU = hn::Vec<DU>>
HWY_INLINE VU Hashed(DU d, VU h) {
    h = hn::Xor(h, hn::ShiftRight<15>(h));
    h = hn::Mul(h, hn::Set(d, 0x2C1B3C6Du));
    h = hn::Xor(h, hn::ShiftRight<12>(h));
    h = hn::Mul(h, hn::Set(d, 0x297A2D39u));
    return hn::Xor(h, hn::ShiftRight<15>(h));
}
/// 0 to just below 1, from the upper 24 bits.
template <class D, class VU>
HWY_INLINE hn::Vec<D> UnitOf(D d, VU h) {
    const hn::RebindToSigned<D> di;
    return hn::Mul(hn::ConvertTo(d, hn::BitCast(di, hn::ShiftRight<8>(h))), hn::Set(d, 1.0f / 16777216.0f));
}
template <class D, class V = hn::Vec<D>>
HWY_INLINE V Fade(D d, V t) {
    const V p = hn::MulAdd(t, hn::MulSub(t, hn::Set(d, 6.0f), hn::Set(d, 15.0f)), hn::Set(d, 10.0f));
    return hn::Mul(hn::Mul(t, hn::Mul(t, t)), p);
}
template <class V>
HWY_INLINE V Lerp(V a, V b, V t) {
    return hn::MulAdd(hn::Sub(b, a), t, a);
}

/// One axis of the lattice: the cell's two sides, hashed apart, and how far into it the point lies.
template <class D>
struct Axis {
    using DU = hn::RebindToUnsigned<D>;
    hn::Vec<DU> low, high;
    hn::Vec<D> into;
    /// `period` above 0: the lattice is the same again after so many cells.
    HWY_INLINE Axis(D d, hn::Vec<D> x, float period, std::uint32_t multiplier) {
        const DU du;
        const auto one = hn::Set(d, 1.0f);
        // Beyond 2^22 cells there is nothing left between them.
        x = hn::Min(hn::Max(x, hn::Set(d, -4194304.0f)), hn::Set(d, 4194304.0f));
        auto cell = hn::Floor(x);
        into = hn::Sub(x, cell);
        auto next = hn::Add(cell, one);
        if (period > 0) {
            const auto p = hn::Set(d, period), share = hn::Set(d, 1 / period);
            const auto wrapped = [&](auto c) {
                c = hn::NegMulAdd(hn::Floor(hn::Mul(hn::Add(c, hn::Set(d, 0.5f)), share)), p, c);
                return c;
            };
            cell = wrapped(cell), next = wrapped(next);
        }
        const auto m = hn::Set(du, multiplier);
        low = hn::Mul(hn::BitCast(du, NearestWhole(d, cell)), m);
        high = hn::Mul(hn::BitCast(du, NearestWhole(d, next)), m);
    }
};

/// Bit `kBit` of h as a float's sign.
template <int kBit, class D, class VU>
HWY_INLINE hn::Vec<D> SignOf(D d, VU h) {
    const hn::RebindToUnsigned<D> du;
    return hn::BitCast(d, hn::And(hn::ShiftLeft<31 - kBit>(h), hn::Set(du, 0x80000000u)));
}

/// Unit gradients in eight directions, at 22.5 degrees and every 45 more, times (x, y).
template <class D, class VU, class V = hn::Vec<D>>
HWY_INLINE V Slope2(D d, VU h, V x, V y) {
    const V swaps = SignOf<26>(d, h);
    const V more = hn::IfNegativeThenElse(swaps, y, x), less = hn::IfNegativeThenElse(swaps, x, y);
    return hn::MulAdd(hn::Xor(more, SignOf<31>(d, h)), hn::Set(d, 0.92387953f),
                      hn::Mul(hn::Xor(less, SignOf<28>(d, h)), hn::Set(d, 0.38268343f)));
}
/// The twelve directions to the edges of a cube (Perlin 2002), of unit length, times (x, y, z).
template <class D, class VU, class V = hn::Vec<D>>
HWY_INLINE V Slope3(D d, VU h, V x, V y, V z) {
    const hn::RebindToUnsigned<D> du;
    const auto code = hn::ShiftRight<28>(h);
    const auto isBelow = [&](std::uint32_t n) {
        return hn::RebindMask(d, hn::Lt(hn::BitCast(hn::RebindToSigned<D>(), code),
                                        hn::BitCast(hn::RebindToSigned<D>(), hn::Set(du, n))));
    };
    const auto isX = hn::RebindMask(d, hn::Eq(hn::And(code, hn::Set(du, 13u)), hn::Set(du, 12u)));
    const V u = hn::IfThenElse(isBelow(8), x, y);
    const V v = hn::IfThenElse(isBelow(4), y, hn::IfThenElse(isX, x, z));
    return hn::Mul(hn::Add(hn::Xor(u, SignOf<28>(d, h)), hn::Xor(v, SignOf<29>(d, h))),
                   hn::Set(d, 0.70710678f));
}

/// Where a noise is asked for; `z` is not read on a plane.
template <class D>
struct At {
    hn::Vec<D> x, y, z;
};

/// Gradient noise, mean 0; on a plane at most 1/sqrt(2), in space below 0.74. kSpace: in three dimensions.
template <bool kSpace, class D>
HWY_INLINE hn::Vec<D> GradientNoise(D d, const At<D>& p, float period, std::uint32_t seed) {
    const hn::RebindToUnsigned<D> du;
    const auto one = hn::Set(d, 1.0f);
    const Axis<D> a(d, p.x, period, kWrapU), b(d, p.y, period, kWrapV);
    const auto s = hn::Set(du, seed);
    const auto x1 = hn::Sub(a.into, one), y1 = hn::Sub(b.into, one);
    const auto fx = Fade(d, a.into), fy = Fade(d, b.into);
    const auto low = hn::Xor(b.low, s), high = hn::Xor(b.high, s);
    if constexpr (kSpace) {
        const Axis<D> c(d, p.z, 0, kDeep);
        const auto z1 = hn::Sub(c.into, one);
        const auto slab = [&](auto deep, auto z) {
            const auto corner = [&](auto hx, auto hy, auto x, auto y) {
                return Slope3(d, Hashed(du, hn::Xor(hn::Xor(hx, hy), deep)), x, y, z);
            };
            return Lerp(Lerp(corner(a.low, low, a.into, b.into), corner(a.high, low, x1, b.into), fx),
                        Lerp(corner(a.low, high, a.into, y1), corner(a.high, high, x1, y1), fx), fy);
        };
        return Lerp(slab(c.low, c.into), slab(c.high, z1), Fade(d, c.into));
    } else {
        const auto corner = [&](auto hx, auto hy, auto x, auto y) {
            return Slope2(d, Hashed(du, hn::Xor(hx, hy)), x, y);
        };
        return Lerp(Lerp(corner(a.low, low, a.into, b.into), corner(a.high, low, x1, b.into), fx),
                    Lerp(corner(a.low, high, a.into, y1), corner(a.high, high, x1, y1), fx), fy);
    }
}

/// Value noise: a number 0..1 at each place of the lattice, and between them.
template <bool kSpace, class D>
HWY_INLINE hn::Vec<D> ValueNoise(D d, const At<D>& p, float period, std::uint32_t seed) {
    const hn::RebindToUnsigned<D> du;
    const Axis<D> a(d, p.x, period, kWrapU), b(d, p.y, period, kWrapV);
    const auto s = hn::Set(du, seed);
    const auto fx = Fade(d, a.into), fy = Fade(d, b.into);
    const auto low = hn::Xor(b.low, s), high = hn::Xor(b.high, s);
    const auto slab = [&](auto deep) {
        const auto corner = [&](auto hx, auto hy) {
            return UnitOf(d, Hashed(du, hn::Xor(hn::Xor(hx, hy), deep)));
        };
        return Lerp(Lerp(corner(a.low, low), corner(a.high, low), fx),
                    Lerp(corner(a.low, high), corner(a.high, high), fx), fy);
    };
    if constexpr (kSpace) {
        const Axis<D> c(d, p.z, 0, kDeep);
        return Lerp(slab(c.low), slab(c.high), Fade(d, c.into));
    } else {
        return slab(hn::Zero(du));
    }
}

/// What a cellular noise tells of the points that lie one to a cell.
enum class Reading { Nearest, Second, Edge, Cell };

/// Distances to the two nearest points and a number 0..1 of the nearest one's own. On a plane the sixteen
/// cells around are looked at, which holds all that is nearer than 1.5; in space 27, with the points kept a
/// tenth of a cell away from its sides.
template <bool kSpace, class D>
struct Cells {
    using DU = hn::RebindToUnsigned<D>;
    hn::Vec<D> first, second;  ///< squared until done()
    hn::Vec<DU> number;
    HWY_INLINE Cells(D d, const At<D>& p, float period, std::uint32_t seed) {
        const DU du;
        first = second = hn::Set(d, 1e9f);
        number = hn::Zero(du);
        constexpr int kFrom = -1, kTo = kSpace ? 1 : 2;
        // On a plane the block of four by four stands around the nearest corner of the lattice.
        const auto base = [&](auto x) { return hn::Floor(kSpace ? x : hn::Sub(x, hn::Set(d, 0.5f))); };
        const auto cx = base(p.x), cy = base(p.y), cz = kSpace ? base(p.z) : hn::Zero(d);
        const auto inX = hn::Sub(p.x, cx), inY = hn::Sub(p.y, cy), inZ = kSpace ? hn::Sub(p.z, cz) : inX;
        const auto hashed = [&](auto cell, int by, float wrap, std::uint32_t multiplier) {
            auto c = hn::Add(cell, hn::Set(d, static_cast<float>(by)));
            c = hn::Min(hn::Max(c, hn::Set(d, -4194304.0f)), hn::Set(d, 4194304.0f));
            if (wrap > 0)
                c = hn::NegMulAdd(hn::Floor(hn::Mul(hn::Add(c, hn::Set(d, 0.5f)), hn::Set(d, 1 / wrap))),
                                  hn::Set(d, wrap), c);
            return hn::Mul(hn::BitCast(du, NearestWhole(d, c)), hn::Set(du, multiplier));
        };
        for (int z = kSpace ? kFrom : 0; z <= (kSpace ? kTo : 0); ++z) {
            const auto hz = hn::Xor(hashed(cz, z, 0, kDeep), hn::Set(du, seed));
            for (int y = kFrom; y <= kTo; ++y) {
                const auto hy = hn::Xor(hashed(cy, y, period, kWrapV), hz);
                for (int x = kFrom; x <= kTo; ++x) {
                    const auto h = Hashed(du, hn::Xor(hashed(cx, x, period, kWrapU), hy));
                    visit(d, h, hn::Sub(hn::Set(d, static_cast<float>(x)), inX),
                          hn::Sub(hn::Set(d, static_cast<float>(y)), inY),
                          hn::Sub(hn::Set(d, static_cast<float>(z)), inZ));
                }
            }
        }
    }
    HWY_INLINE hn::Vec<D> read(D d, Reading reading) const {
        const auto nearest = hn::Sqrt(first);
        switch (reading) {
            case Reading::Nearest:
                return nearest;
            case Reading::Second:
                return hn::Mul(hn::Sqrt(second), hn::Set(d, 0.75f));
            case Reading::Edge:
                return hn::Sub(hn::Sqrt(second), nearest);
            case Reading::Cell:
                return UnitOf(d, Hashed(DU(), number));
        }
        return nearest;
    }

private:
    /// The point of a cell whose lower corner lies at (x, y, z) from where one looks.
    HWY_INLINE void visit(D d, hn::Vec<DU> h, hn::Vec<D> x, hn::Vec<D> y, hn::Vec<D> z) {
        const DU du;
        const auto byte = [&](auto bits) {
            // Ten bits a coordinate, at the middle of its step.
            constexpr float kRange = kSpace ? 0.8f : 1.0f;
            const auto n =
                hn::ConvertTo(d, hn::BitCast(hn::RebindToSigned<D>(), hn::And(bits, hn::Set(du, 1023u))));
            return hn::MulAdd(n, hn::Set(d, kRange / 1024), hn::Set(d, (1 - kRange) / 2 + kRange / 2048));
        };
        const auto dx = hn::Add(x, byte(h)), dy = hn::Add(y, byte(hn::ShiftRight<10>(h)));
        auto square = hn::MulAdd(dx, dx, hn::Mul(dy, dy));
        if constexpr (kSpace) {
            const auto dz = hn::Add(z, byte(hn::ShiftRight<20>(h)));
            square = hn::MulAdd(dz, dz, square);
        }
        const auto isNearest = hn::Lt(square, first);
        second = hn::Min(second, hn::Max(first, square));
        number = hn::IfThenElse(hn::RebindMask(du, isNearest), h, number);
        first = hn::Min(first, square);
    }
};

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif  // include guard
