// Normal strength: scales the slopes, (x s, y s, z), of unit length. 0 is flat; below 0 hollows become hills.
// Flatten: mixes towards (0, 0, 1) by amount and mask, of unit length.
#include <fmt/format.h>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/normal_strength.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/normals-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: the normal and the mask; params: the strength. The mask goes from strength 1 to the whole strength.
void Strength(const KernelCall& k) {
    using D = hn::ScalableTag<float>;
    const D d;
    const auto one = hn::Set(d, 1.0f), more = hn::Set(d, k.params[0] - 1.0f);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto n = LoadDirection(d, k, 0, i);
        const auto mask = hn::Load(d, k.in[3] + i);
        const auto scale = hn::MulAdd(more, mask, one);
        const Direction<D> scaled{hn::Mul(n.x, scale), hn::Mul(n.y, scale), n.z};
        StoreDirection(d, Normalised(d, scaled), hn::Eq(mask, hn::Zero(d)), n, k, i);
    }
}

/// in: the normal and the mask; params: the amount.
void Flatten(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto one = hn::Set(d, 1.0f), amount = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto n = LoadDirection(d, k, 0, i);
        const auto weight = hn::Mul(amount, hn::Load(d, k.in[3] + i));
        StoreDirection(d, FromFlat(d, n, hn::Sub(one, weight)), hn::Eq(weight, hn::Zero(d)), n, k, i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr NumberHandle kSlopes{"strength"};

HWY_EXPORT(Strength);
HWY_EXPORT(Flatten);
const Op kStrength{"normal-strength", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Strength)(k); }};
const Op kFlatten{"flatten", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Flatten)(k); }};

Value emitted(Emitter& e, const Op& op, float number) {
    const Value in = e.input();
    const auto mask = e.fed(kMask, Kind::Scalar);
    const Reg first =
        e.program().emit(op, {in.r, in.g, in.b, mask ? mask->r : e.constant(1.0f)}, {number}, 3);
    return {Kind::Normal, first, first + 1, first + 2, kNoReg};
}
}  // namespace

StepSpec normalStrengthStep() {
    StepSpec spec;
    spec.type = "normal-strength";
    spec.order = 174;
    spec.name = "Normal strength";
    spec.purpose = "Makes the relief of a normal map deeper or shallower.";
    spec.kinds = {Kind::Normal};
    spec.controls = {numberControl(kSlopes, "Strength", 1, 0, 4, "×",
                                   "Multiplies the slopes; 0 is flat, below 0 hollows become hills.")};
    spec.feeds = {maskFeed("Where the strength changes: white fully, black not at all.")};
    spec.example = {kSlopes(2.0)};
    spec.telling = [](const StepView& v) { return fmt::format("× {:.2f}", v[kSlopes]); };
    spec.noEffect = [](const StepView& v) -> std::string {
        if (v[kSlopes] == 1) return "the strength is 1";
        return v.feedIs(kMask, 0) ? "the mask is black everywhere" : "";
    };
    spec.emit = [](Emitter& e) {
        return e[kSlopes] == 1 ? e.input() : emitted(e, kStrength, e.real(kSlopes));
    };
    return spec;
}

StepSpec flattenStep() {
    StepSpec spec;
    spec.type = "flatten";
    spec.order = 176;
    spec.name = "Flatten";
    spec.purpose = "Takes the relief away, wholly or where a mask says.";
    spec.kinds = {Kind::Normal};
    spec.controls = {amountControl(1.0)};
    spec.feeds = {maskFeed("Where it is flattened: white fully, black not at all.")};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kAmount]); };
    spec.noEffect = amountReason;
    spec.emit = [](Emitter& e) {
        return e[kAmount] == 0 ? e.input() : emitted(e, kFlatten, e.real(kAmount));
    };
    return spec;
}

}  // namespace kettle
#endif
