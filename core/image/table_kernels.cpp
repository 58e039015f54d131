#include "core/image/table_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/table_kernels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include <hwy/highway.h>

#include <algorithm>

#include "core/base/whole-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void ThroughTable(const float* table, std::size_t last, float low, float scale, float* x, std::size_t count) {
    const hn::ScalableTag<float> d;
    const std::size_t lanes = hn::Lanes(d);
    const auto lowest = hn::Set(d, low), by = hn::Set(d, scale), zero = hn::Zero(d),
               most = hn::Set(d, static_cast<float>(last));
    const auto looked = [&](auto v) {
        v = hn::Mul(hn::Sub(v, lowest), by);
        v = hn::IfThenElseZero(hn::Gt(v, zero), hn::Min(v, most));
        const auto whole = hn::Floor(v);
        const auto at = NearestWhole(d, whole);
        const auto from = hn::GatherIndex(d, table, at), to = hn::GatherIndex(d, table + 1, at);
        return hn::MulAdd(hn::Sub(to, from), hn::Sub(v, whole), from);
    };
    std::size_t i = 0;
    for (; i + lanes <= count; i += lanes) hn::StoreU(looked(hn::LoadU(d, x + i)), d, x + i);
    if (i == count) return;
    alignas(64) float rest[64]{};
    std::copy(x + i, x + count, rest);
    hn::Store(looked(hn::Load(d, rest)), d, rest);
    std::copy_n(rest, count - i, x + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
HWY_EXPORT(ThroughTable);
void throughTable(const float* table, std::size_t last, float low, float scale, float* x, std::size_t count) {
    HWY_DYNAMIC_DISPATCH(ThroughTable)(table, last, low, scale, x, count);
}
}  // namespace kettle
#endif
