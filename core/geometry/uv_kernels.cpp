#include "core/geometry/uv_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/geometry/uv_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <algorithm>

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// What a point may miss a triangle by, in weights: its neighbour begins there.
constexpr float kSlack = 1e-5f;

/// As many points as fill a vector.
template <class D>
HWY_INLINE void FindOfVector(D d, const UvWeights* weights, const std::uint32_t* candidates,
                             std::size_t candidateCount, hn::Vec<D> u, hn::Vec<D> v,
                             hn::Vec<hn::RebindToUnsigned<D>>& triangle, hn::Vec<D>& b1, hn::Vec<D>& b2) {
    const hn::RebindToUnsigned<D> du;
    const auto least = hn::Set(d, -kSlack), most = hn::Set(d, 1 + kSlack);
    const auto none = hn::Set(du, kNoTriangle);
    triangle = none;
    b1 = b2 = hn::Zero(d);
    for (std::size_t c = 0; c < candidateCount; ++c) {
        const UvWeights& w = weights[candidates[c]];
        const auto x = hn::Sub(u, hn::Set(d, w.u)), y = hn::Sub(v, hn::Set(d, w.v));
        const auto first = hn::MulAdd(hn::Set(d, w.b1u), x, hn::Mul(hn::Set(d, w.b1v), y)),
                   second = hn::MulAdd(hn::Set(d, w.b2u), x, hn::Mul(hn::Set(d, w.b2v), y));
        const auto isFree = hn::RebindMask(d, hn::Eq(triangle, none));
        const auto isIn = hn::And(hn::And(hn::Ge(first, least), hn::Ge(second, least)),
                                  hn::And(hn::Le(hn::Add(first, second), most), isFree));
        b1 = hn::IfThenElse(isIn, first, b1), b2 = hn::IfThenElse(isIn, second, b2);
        triangle = hn::IfThenElse(hn::RebindMask(du, isIn), hn::Set(du, candidates[c]), triangle);
        if (hn::AllFalse(du, hn::Eq(triangle, none))) return;
    }
}

void FindTriangles(const UvWeights* weights, const std::uint32_t* candidates, std::size_t candidateCount,
                   const UvPoints& points, std::uint32_t* triangles, float* b1, float* b2) {
    const hn::CappedTag<float, 16> d;
    const hn::RebindToUnsigned<decltype(d)> du;
    const std::size_t lanes = hn::Lanes(d);
    auto triangle = hn::Zero(du);
    auto first = hn::Zero(d), second = hn::Zero(d);
    for (std::size_t i = 0; i < points.count; i += lanes) {
        if (i + lanes <= points.room) {
            FindOfVector(d, weights, candidates, candidateCount, hn::LoadU(d, points.u + i),
                         hn::LoadU(d, points.v + i), triangle, first, second);
            hn::StoreU(triangle, du, triangles + i);
            hn::StoreU(first, d, b1 + i);
            hn::StoreU(second, d, b2 + i);
            continue;
        }
        // The lanes without a point repeat the last one.
        alignas(64) float rest[2][16];
        alignas(64) std::uint32_t found[16];
        const std::size_t left = points.count - i;
        const float* const from[2]{points.u + i, points.v + i};
        for (std::size_t axis = 0; axis < 2; ++axis) {
            std::fill_n(rest[axis], lanes, from[axis][left - 1]);
            std::copy_n(from[axis], left, rest[axis]);
        }
        FindOfVector(d, weights, candidates, candidateCount, hn::Load(d, rest[0]), hn::Load(d, rest[1]),
                     triangle, first, second);
        hn::Store(triangle, du, found);
        std::copy_n(found, left, triangles + i);
        hn::Store(first, d, rest[0]);
        std::copy_n(rest[0], left, b1 + i);
        hn::Store(second, d, rest[1]);
        std::copy_n(rest[1], left, b2 + i);
    }
}

void FindCells(const float* u, const float* v, std::size_t count, float left, float bottom, int side,
               std::int32_t* cells) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const std::size_t lanes = hn::Lanes(d);
    const auto cellOf = [&](auto along, float from) {
        const auto cell = hn::ConvertTo(
            di, hn::Mul(hn::Sub(along, hn::Set(d, from)), hn::Set(d, static_cast<float>(side))));
        return hn::Min(hn::Max(cell, hn::Zero(di)), hn::Set(di, side - 1));
    };
    const auto cellsOf = [&](const float* atU, const float* atV) {
        return hn::Add(hn::Mul(cellOf(hn::LoadU(d, atV), bottom), hn::Set(di, side)),
                       cellOf(hn::LoadU(d, atU), left));
    };
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes) hn::StoreU(cellsOf(u + i, v + i), di, cells + i);
    if (i == count) return;
    alignas(64) float rest[2][64]{};
    alignas(64) std::int32_t found[64];
    std::copy_n(u + i, count - i, rest[0]);
    std::copy_n(v + i, count - i, rest[1]);
    hn::Store(cellsOf(rest[0], rest[1]), di, found);
    std::copy_n(found, count - i, cells + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(FindTriangles);
HWY_EXPORT(FindCells);

void findTriangles(const UvWeights* weights, const std::uint32_t* candidates, std::size_t candidateCount,
                   const UvPoints& points, std::uint32_t* triangles, float* b1, float* b2) {
    HWY_DYNAMIC_DISPATCH(FindTriangles)(weights, candidates, candidateCount, points, triangles, b1, b2);
}
void findCells(const float* u, const float* v, std::size_t count, float left, float bottom, int side,
               std::int32_t* cells) {
    HWY_DYNAMIC_DISPATCH(FindCells)(u, v, count, left, bottom, side, cells);
}
}  // namespace kettle
#endif
