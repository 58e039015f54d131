// Figures by their signed distances, on vectors of points, compiled once per processor target. Include only
// from kernels, as models-inl.h.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/steps/noise-inl.h"

#ifndef KETTLE_SHAPE_PARAMS_
#define KETTLE_SHAPE_PARAMS_
namespace kettle {
/// The kernels' numbers, in their order. `large`: share of the piece that the figure fills; `inner`: what
/// else the figure needs (ring's inside, star's dents, rectangle's height, the joint's width); `round`: of
/// corners; `soft`: of edges, in pieces; `vary`: how much each piece's own random number darkens it; `mean`:
/// what is seen from afar.
struct ShapeParams {
    float large, inner, round, soft, corners, vary, seed, period, single, mean;
};
}  // namespace kettle
#endif

#if defined(KETTLE_SHAPE_INL_H_) == defined(HWY_TARGET_TOGGLE)
#ifdef KETTLE_SHAPE_INL_H_
#undef KETTLE_SHAPE_INL_H_
#else
#define KETTLE_SHAPE_INL_H_
#endif

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// The piece that a point lies in, and where in it: (0, 0) is its middle.
template <class D>
struct Piece {
    hn::Vec<D> x, y, column, row;
};

template <class D>
HWY_INLINE Piece<D> SquarePiece(D d, hn::Vec<D> x, hn::Vec<D> y) {
    const auto column = hn::Floor(x), row = hn::Floor(y), half = hn::Set(d, 0.5f);
    return {hn::Sub(hn::Sub(x, column), half), hn::Sub(hn::Sub(y, row), half), column, row};
}

/// Signed distance to an upright rectangle with round corners, below 0 inside.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V RectangleDistance(D d, V x, V y, V halfWidth, V halfHeight, V radius) {
    const auto zero = hn::Zero(d);
    const V qx = hn::Add(hn::Sub(hn::Abs(x), halfWidth), radius),
            qy = hn::Add(hn::Sub(hn::Abs(y), halfHeight), radius);
    const V ox = hn::Max(qx, zero), oy = hn::Max(qy, zero);
    const V outside = hn::Sqrt(hn::MulAdd(ox, ox, hn::Mul(oy, oy)));
    return hn::Sub(hn::Add(outside, hn::Min(hn::Max(qx, qy), zero)), radius);
}

struct Disc {
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        return hn::Sub(hn::Sqrt(hn::MulAdd(p.x, p.x, hn::Mul(p.y, p.y))), hn::Set(d, 0.5f * n.large));
    }
};
struct Ring {
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        const V r = hn::Sqrt(hn::MulAdd(p.x, p.x, hn::Mul(p.y, p.y)));
        const float outer = 0.5f * n.large, inner = outer * n.inner;
        return hn::Sub(hn::Abs(hn::Sub(r, hn::Set(d, 0.5f * (outer + inner)))),
                       hn::Set(d, 0.5f * (outer - inner)));
    }
};
struct Rectangle {
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        const float w = 0.5f * n.large, h = w * n.inner;
        return RectangleDistance(d, p.x, p.y, hn::Set(d, w), hn::Set(d, h),
                                 hn::Set(d, n.round * std::min(w, h)));
    }
};
/// Polygons and stars: by the wedge between two corners, folded into one half of it.
template <bool kStar>
struct Angular {
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        // Upright: a corner at the top. TurnsOf runs 0..1 anticlockwise from the right.
        const V r = hn::Sqrt(hn::MulAdd(p.x, p.x, hn::Mul(p.y, p.y)));
        V turns = hn::Mul(hn::Add(TurnsOf(d, p.x, p.y), hn::Set(d, 0.75f)), hn::Set(d, n.corners));
        turns = hn::Abs(hn::Sub(hn::Sub(turns, hn::Floor(turns)), hn::Set(d, 0.5f)));  // 0.5 at a corner
        const float half = std::numbers::pi_v<float> / n.corners, outer = 0.5f * n.large;
        // From the corner at angle 0 to the dent, or the middle of the side, at angle `half`.
        const V angle = hn::Mul(hn::Sub(hn::Set(d, 0.5f), turns), hn::Set(d, 2 * half));
        const V x = hn::Mul(r, CosineNear(d, angle)), y = hn::Mul(r, SineNear(d, angle));
        const float dent = kStar ? outer * n.inner : outer * std::cos(half);
        const float ex = dent * std::cos(half) - outer, ey = dent * std::sin(half);
        const float length = std::max(1e-6f, std::sqrt(ex * ex + ey * ey));
        // Left of the edge from corner to dent is inside.
        return hn::MulSub(hn::Sub(x, hn::Set(d, outer)), hn::Set(d, ey / length),
                          hn::Mul(y, hn::Set(d, ex / length)));
    }
    /// Sine and cosine of 0..pi/3 by their series, 2e-6.
    template <class D, class V>
    static HWY_INLINE V SineNear(D d, V a) {
        const V s = hn::Mul(a, a);
        V p = hn::MulAdd(s, hn::Set(d, -1.0f / 5040), hn::Set(d, 1.0f / 120));
        p = hn::MulAdd(s, p, hn::Set(d, -1.0f / 6));
        return hn::Mul(a, hn::MulAdd(s, p, hn::Set(d, 1.0f)));
    }
    template <class D, class V>
    static HWY_INLINE V CosineNear(D d, V a) {
        const V s = hn::Mul(a, a);
        V p = hn::MulAdd(s, hn::Set(d, 1.0f / 40320), hn::Set(d, -1.0f / 720));
        p = hn::MulAdd(s, p, hn::Set(d, 1.0f / 24));
        p = hn::MulAdd(s, p, hn::Set(d, -0.5f));
        return hn::MulAdd(s, p, hn::Set(d, 1.0f));
    }
};
struct Stripes {
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        return hn::Sub(hn::Abs(p.x), hn::Set(d, 0.5f * n.large));
    }
};
/// Two squares of four: the nearest side of the cross through the middle.
struct Checks {
    template <class D, class V>
    static HWY_INLINE V Distance(D, const Piece<D>& p, V, const ShapeParams&) {
        const V near = hn::Min(hn::Min(hn::Abs(p.x), hn::Abs(p.y)),
                               hn::Sub(hn::Set(D(), 0.5f), hn::Max(hn::Abs(p.x), hn::Abs(p.y))));
        return hn::CopySign(near, hn::Neg(hn::Xor(p.x, hn::And(p.y, hn::Set(D(), -0.0f)))));
    }
};
struct Brick {
    /// Pieces twice as wide as high, shifted by half in every other row; `inner`: the joint.
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        const float joint = 0.5f * n.inner, w = 0.5f - joint, h = 0.25f - joint;
        return RectangleDistance(d, p.x, p.y, hn::Set(d, w), hn::Set(d, h),
                                 hn::Set(d, n.round * std::max(0.0f, std::min(w, h))));
    }
};
struct Hexagon {
    /// `inner`: the joint, between sides.
    template <class D, class V>
    static HWY_INLINE V Distance(D d, const Piece<D>& p, V, const ShapeParams& n) {
        const V x = hn::Abs(p.x), y = hn::Abs(p.y);
        const V side = hn::MulAdd(x, hn::Set(d, 0.5f), hn::Mul(y, hn::Set(d, 0.8660254f)));
        return hn::Add(hn::Sub(hn::Max(x, side), hn::Set(d, 0.5f)), hn::Set(d, 0.5f * n.inner));
    }
};

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif  // include guard
