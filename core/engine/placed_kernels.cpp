#include "core/engine/placed_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/engine/placed_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <algorithm>
#include <cmath>

#include "core/base/whole-inl.h"
#include "core/program/placed.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// A run's vectors, of which the last may be a part: `body` gets where each begins and how many lanes count.
template <class D, class Body>
HWY_INLINE void ForVectors(D d, std::size_t count, Body body) {
    const std::size_t lanes = hn::Lanes(d);
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes) body(i, lanes);
    if (i < count) body(i, count - i);
}

/// The first lanes of what lies at `from`.
template <class D, class T>
HWY_INLINE hn::Vec<D> LoadPart(D d, const T* from, std::size_t lanes) {
    if (lanes == hn::Lanes(d)) return hn::LoadU(d, from);
    alignas(64) T rest[64]{};
    std::copy_n(from, lanes, rest);
    return hn::Load(d, rest);
}

template <class D, class T>
HWY_INLINE void StorePart(D d, hn::Vec<D> v, T* to, std::size_t lanes) {
    if (lanes == hn::Lanes(d)) return hn::StoreU(v, d, to);
    alignas(64) T rest[64];
    hn::Store(v, d, rest);
    std::copy_n(rest, lanes, to);
}

void FindHexagons(const float* u, const float* v, std::size_t count, std::int32_t* column, std::int32_t* row,
                  float* weight) {
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    // Beyond this there is nothing left between them.
    const auto most = hn::Set(d, 7e5f), one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    const auto oneMore = hn::Set(di, 1), none = hn::Zero(di);
    ForVectors(d, count, [&](std::size_t i, std::size_t lanes) {
        const auto limited = [&](const float* from) {
            return hn::Min(hn::Max(LoadPart(d, from + i, lanes), hn::Neg(most)), most);
        };
        const auto pu = hn::Mul(limited(u), hn::Set(d, 3.4641016f)),
                   pv = hn::Mul(limited(v), hn::Set(d, 3.4641016f));
        const auto x = hn::NegMulAdd(hn::Set(d, 0.57735027f), pv, pu),
                   y = hn::Mul(hn::Set(d, 1.15470054f), pv);
        const auto cx = hn::Floor(x), cy = hn::Floor(y), fx = hn::Sub(x, cx), fy = hn::Sub(y, cy),
                   fz = hn::Sub(hn::Sub(one, fx), fy);
        const auto ix = NearestWhole(d, cx), iy = NearestWhole(d, cy);
        const auto isLower = hn::Gt(fz, zero);
        // The triangle's corners: (0, 0), (0, 1), (1, 0) below the diagonal; (1, 1), (1, 0), (0, 1) above.
        const auto upper = hn::IfThenElse(hn::RebindMask(di, isLower), none, oneMore);
        const auto lower = hn::Sub(oneMore, upper);
        StorePart(di, hn::Add(ix, upper), column + i, lanes);
        StorePart(di, hn::Add(ix, upper), column + count + i, lanes);
        StorePart(di, hn::Add(ix, lower), column + 2 * count + i, lanes);
        StorePart(di, hn::Add(iy, upper), row + i, lanes);
        StorePart(di, hn::Add(iy, lower), row + count + i, lanes);
        StorePart(di, hn::Add(iy, upper), row + 2 * count + i, lanes);
        const auto sharper = [&](auto share) {
            return hn::Max(hn::Sub(share, hn::Set(d, kLeastHexagon)), zero);
        };
        const auto a = sharper(hn::Abs(fz)), b = sharper(hn::IfThenElse(isLower, fy, hn::Sub(one, fy))),
                   c = sharper(hn::IfThenElse(isLower, fx, hn::Sub(one, fx)));
        const auto all = hn::Div(one, hn::Add(a, hn::Add(b, c)));
        StorePart(d, hn::Mul(a, all), weight + i, lanes);
        StorePart(d, hn::Mul(b, all), weight + count + i, lanes);
        StorePart(d, hn::Mul(c, all), weight + 2 * count + i, lanes);
    });
}

void MixHexagons(const float* weight, const float* number, const float* footprint, std::size_t count,
                 float* out) {
    const hn::ScalableTag<float> d;
    const auto half = hn::Set(d, 0.5f), one = hn::Set(d, 1.0f), zero = hn::Zero(d);
    ForVectors(d, count, [&](std::size_t i, std::size_t lanes) {
        auto sum = zero, squares = zero;
        for (std::size_t k = 0; k < 3; ++k) {
            const auto w = LoadPart(d, weight + k * count + i, lanes);
            sum = hn::MulAdd(w, LoadPart(d, number + k * count + i, lanes), sum);
            squares = hn::MulAdd(w, w, squares);
        }
        if (footprint != nullptr) {
            // What a point covers wholly has no spread left to be kept.
            constexpr float kFrom = 1.0f / 32, kTo = 0.25f;
            auto t = hn::Mul(hn::Sub(LoadPart(d, footprint + i, lanes), hn::Set(d, kFrom)),
                             hn::Set(d, 1 / (kTo - kFrom)));
            t = hn::Min(hn::Max(t, zero), one);
            const auto narrowed = hn::MulAdd(hn::Sqrt(squares), hn::Sub(one, t), t);
            sum = hn::Add(half, hn::Div(hn::Sub(sum, half), narrowed));
        }
        StorePart(d, sum, out + i, lanes);
    });
}

std::size_t EndOfHexagon(const std::int32_t* column, const std::int32_t* row, std::size_t first,
                         std::size_t count) {
    const hn::ScalableTag<std::int32_t> d;
    const auto ownColumn = hn::Set(d, column[first]), ownRow = hn::Set(d, row[first]);
    std::size_t i = first + 1;
    for (; i + hn::Lanes(d) <= count; i += hn::Lanes(d)) {
        const auto isOther =
            hn::Or(hn::Ne(hn::LoadU(d, column + i), ownColumn), hn::Ne(hn::LoadU(d, row + i), ownRow));
        if (const auto other = hn::FindFirstTrue(d, isOther); other >= 0)
            return i + static_cast<std::size_t>(other);
    }
    while (i < count && column[i] == column[first] && row[i] == row[first]) ++i;
    return i;
}

std::size_t EndOfShare(const float* weight, std::size_t first, std::size_t count) {
    const hn::ScalableTag<float> d;
    const bool has = weight[first] > 0;
    std::size_t i = first + 1;
    for (; i + hn::Lanes(d) <= count; i += hn::Lanes(d)) {
        const auto hasAny = hn::Gt(hn::LoadU(d, weight + i), hn::Zero(d));
        if (const auto other = hn::FindFirstTrue(d, has ? hn::Not(hasAny) : hasAny); other >= 0)
            return i + static_cast<std::size_t>(other);
    }
    while (i < count && (weight[i] > 0) == has) ++i;
    return i;
}

/// A place within a stamp, 0..1, as one of the map, in the stamp's picture of it: never so near the picture's
/// edge that a lookup reads of the next one.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V WithinPicture(D d, V t, const StampFrame::Picture& picture, V covered) {
    const auto one = hn::Set(d, 0.999999f), half = hn::Set(d, 0.5f);
    const auto rim = picture.count > 1
                         ? hn::Min(half, hn::Max(covered, hn::Set(d, picture.count * picture.halfTexel)))
                         : hn::Zero(d);
    const auto within = hn::Min(hn::Max(t, rim), hn::Max(rim, hn::Sub(one, rim)));
    return hn::Div(hn::Add(hn::Set(d, picture.which), within), hn::Set(d, picture.count));
}

std::size_t FindInStamp(const StampFrame& stamp, const float* x, const float* y, const float* footprint,
                        std::size_t count, std::uint32_t firstPoint, const StampHits& hits) {
    const hn::CappedTag<float, 16> d;
    const hn::RebindToUnsigned<decltype(d)> du;
    const auto zero = hn::Zero(d), half = hn::Set(d, 0.5f), one = hn::Set(d, 1.0f),
               size = hn::Set(d, stamp.size), c = hn::Set(d, stamp.c), s = hn::Set(d, stamp.s);
    const auto ofMap = hn::Set(d, 1 / std::sqrt(stamp.across.count * stamp.up.count));
    const bool isSoft = stamp.soft > 0;
    std::size_t found = 0;
    ForVectors(d, count, [&](std::size_t i, std::size_t lanes) {
        const auto dx = hn::Div(hn::Sub(LoadPart(d, x + i, lanes), hn::Set(d, stamp.x)), size),
                   dy = hn::Div(hn::Sub(LoadPart(d, y + i, lanes), hn::Set(d, stamp.y)), size);
        const auto su = hn::MulAdd(dx, c, hn::MulAdd(dy, s, half)),
                   sv = hn::MulAdd(dy, c, hn::NegMulAdd(dx, s, half));
        const auto covered = hn::Div(LoadPart(d, footprint + i, lanes), size);
        const auto inside = hn::Min(hn::Min(su, hn::Sub(one, su)), hn::Min(sv, hn::Sub(one, sv)));
        const auto width = hn::Max(hn::Set(d, 0.5f * stamp.soft), hn::Max(covered, hn::Set(d, 1e-5f)));
        auto edge = hn::Add(hn::Div(inside, width), isSoft ? zero : half);
        const auto isHit = hn::And(hn::Gt(edge, zero), hn::FirstN(d, lanes));
        if (hn::AllFalse(d, isHit)) return;
        edge = hn::Min(edge, one);
        if (isSoft)
            edge = hn::Mul(hn::Mul(edge, edge), hn::NegMulAdd(hn::Set(d, 2.0f), edge, hn::Set(d, 3.0f)));
        const auto number = hn::Iota(du, firstPoint + static_cast<std::uint32_t>(i));
        hn::CompressStore(number, hn::RebindMask(du, isHit), du, hits.points + found);
        hn::CompressStore(edge, isHit, d, hits.edge + found);
        hn::CompressStore(WithinPicture(d, su, stamp.across, covered), isHit, d, hits.u + found);
        hn::CompressStore(WithinPicture(d, sv, stamp.up, covered), isHit, d, hits.v + found);
        found += hn::CompressStore(hn::Mul(covered, ofMap), isHit, d, hits.footprint + found);
    });
    return found;
}

std::size_t FindSeen(const float* const normal[3], std::size_t side, int sharpness, std::size_t count,
                     std::uint32_t* runs) {
    const hn::CappedTag<float, kRun> d;
    const std::size_t lanes = hn::Lanes(d);
    // A little less than where the weights end, so that no rounding leaves a point unread that has one.
    const auto least = hn::Set(d, kLeastShare * 0.999f);
    const auto raised = [&](std::size_t axis, std::size_t i, std::size_t valid) {
        auto x = LoadPart(d, normal[axis] + i, valid);
        for (int k = 0; k < sharpness; ++k) x = hn::Mul(x, x);
        return hn::Max(x, hn::Set(d, 1e-12f));
    };
    std::size_t found = 0;
    for (std::size_t run = 0; run < count; run += kRun) {
        bool isSeen = false;
        for (std::size_t i = run; i < std::min(run + kRun, count) && !isSeen; i += lanes) {
            const std::size_t valid = std::min(lanes, count - i);
            const auto x = raised(0, i, valid), y = raised(1, i, valid), z = raised(2, i, valid);
            const auto own = side == 0 ? x : side == 1 ? y : z;
            isSeen = !hn::AllFalse(d, hn::Ge(own, hn::Mul(hn::Add(x, hn::Add(y, z)), least)));
        }
        if (isSeen) runs[found++] = static_cast<std::uint32_t>(run);
    }
    return found;
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(FindHexagons);
HWY_EXPORT(MixHexagons);
HWY_EXPORT(FindSeen);
HWY_EXPORT(EndOfHexagon);
HWY_EXPORT(EndOfShare);
HWY_EXPORT(FindInStamp);

void findHexagons(const float* u, const float* v, std::size_t count, std::int32_t* column, std::int32_t* row,
                  float* weight) {
    HWY_DYNAMIC_DISPATCH(FindHexagons)(u, v, count, column, row, weight);
}
std::size_t endOfHexagon(const std::int32_t* column, const std::int32_t* row, std::size_t first,
                         std::size_t count) {
    return HWY_DYNAMIC_DISPATCH(EndOfHexagon)(column, row, first, count);
}
std::size_t endOfShare(const float* weight, std::size_t first, std::size_t count) {
    return HWY_DYNAMIC_DISPATCH(EndOfShare)(weight, first, count);
}
std::size_t findInStamp(const StampFrame& stamp, const float* x, const float* y, const float* footprint,
                        std::size_t count, std::uint32_t firstPoint, const StampHits& hits) {
    return HWY_DYNAMIC_DISPATCH(FindInStamp)(stamp, x, y, footprint, count, firstPoint, hits);
}
std::size_t findSeen(const float* const normal[3], std::size_t side, int sharpness, std::size_t count,
                     std::uint32_t* runs) {
    return HWY_DYNAMIC_DISPATCH(FindSeen)(normal, side, sharpness, count, runs);
}
void mixHexagons(const float* weight, const float* number, const float* footprint, std::size_t count,
                 float* out) {
    HWY_DYNAMIC_DISPATCH(MixHexagons)(weight, number, footprint, count, out);
}
}  // namespace kettle
#endif
