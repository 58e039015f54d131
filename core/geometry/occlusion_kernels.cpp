#include "core/geometry/occlusion_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/geometry/occlusion_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <limits>

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

std::size_t NearestBeside(const PlacesBeside& places, Vec3 at, Vec3 normal, float farthestSquared,
                          float alike, float step) {
    const hn::CappedTag<float, 16> d;
    const auto ax = hn::Set(d, at.x), ay = hn::Set(d, at.y), az = hn::Set(d, at.z);
    const auto nx = hn::Set(d, normal.x), ny = hn::Set(d, normal.y), nz = hn::Set(d, normal.z);
    const auto facing = hn::Set(d, alike), steep = hn::Set(d, step * step);
    auto best = hn::Set(d, std::numeric_limits<float>::infinity()), which = hn::Zero(d);
    auto number = hn::Iota(d, 0.0f);  // exact: places are few
    for (std::size_t i = 0; i < places.count; i += hn::Lanes(d)) {
        const auto x = hn::Sub(hn::LoadU(d, places.x + i), ax), y = hn::Sub(hn::LoadU(d, places.y + i), ay),
                   z = hn::Sub(hn::LoadU(d, places.z + i), az);
        const auto squared = hn::MulAdd(x, x, hn::MulAdd(y, y, hn::Mul(z, z)));
        const auto up = hn::MulAdd(x, nx, hn::MulAdd(y, ny, hn::Mul(z, nz)));
        const auto cosine = hn::MulAdd(
            hn::LoadU(d, places.normalX + i), nx,
            hn::MulAdd(hn::LoadU(d, places.normalY + i), ny, hn::Mul(hn::LoadU(d, places.normalZ + i), nz)));
        const auto fits = hn::And(hn::And(hn::Ge(cosine, facing), hn::Lt(squared, best)),
                                  hn::Le(hn::Mul(up, up), hn::Mul(steep, squared)));
        best = hn::IfThenElse(fits, squared, best);
        which = hn::IfThenElse(fits, number, which);
        number = hn::Add(number, hn::Set(d, static_cast<float>(hn::Lanes(d))));
    }
    const auto least = hn::MinOfLanes(d, best);
    if (!(hn::GetLane(least) <= farthestSquared)) return places.count;
    const auto none = hn::Set(d, std::numeric_limits<float>::infinity());
    return static_cast<std::size_t>(
        hn::GetLane(hn::MinOfLanes(d, hn::IfThenElse(hn::Eq(best, least), which, none))));
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(NearestBeside);

std::size_t nearestBeside(const PlacesBeside& places, Vec3 at, Vec3 normal, float farthestSquared,
                          float alike, float step) {
    return HWY_DYNAMIC_DISPATCH(NearestBeside)(places, at, normal, farthestSquared, alike, step);
}
}  // namespace kettle
#endif
