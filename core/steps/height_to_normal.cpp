// Height to normal: the relief of a grey line as normals, laid over those that come in.
//   n = normalise(-s dh/du, -s dh/dv, 1), by central differences over a stride: a texel of the largest map
//   under the height, or what a point of the picture covers if that is larger. s: how high white stands above
//   black, in hundredths of the texture's width. Green up.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/height_to_normal.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/height_to_normal.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/normals-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: height left, right, below, above, the stride; params: the depth.
void Slopes(const KernelCall& k) {
    using D = hn::ScalableTag<float>;
    const D d;
    const auto depth = hn::Set(d, k.params[0]), most = hn::Set(d, 1e6f);
    const auto slope = [&](auto low, auto high, auto scale) {
        // A height that is no number has no slope; an endless one is a cliff.
        const auto s = hn::Mul(hn::Sub(low, high), scale);
        return hn::IfThenElseZero(hn::Eq(s, s), hn::Min(hn::Max(s, hn::Neg(most)), most));
    };
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto at = [&](int c) { return hn::Load(d, k.in[c] + i); };
        const auto scale = hn::Div(depth, hn::Max(at(4), hn::Set(d, 1e-9f)));
        const Direction<D> n{slope(at(0), at(1), scale), slope(at(2), at(3), scale), hn::Set(d, 1.0f)};
        const auto unit = Normalised(d, n);
        StoreIf(d, unit.x, k.out[0], i);
        StoreIf(d, unit.y, k.out[1], i);
        StoreIf(d, unit.z, k.out[2], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr NumberHandle kDepth{"depth"};

HWY_EXPORT(Slopes);
const Op kSlopes{"height-to-normal", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Slopes)(k); }};
}  // namespace

StepSpec heightToNormalStep() {
    StepSpec spec;
    spec.type = kHeightToNormal;
    spec.order = 178;
    spec.name = "Height to normal";
    spec.purpose = "Carves the relief of a grey line into the normals.";
    spec.kinds = {Kind::Normal};
    spec.controls = {numberControl(kDepth, "Depth", 1, 0, 10, "%",
                                   "How high white stands above black, in hundredths of the texture's width. "
                                   "Below 0 it is carved in."),
                     amountControl(1.0), stackingControl()};
    FeedSpec height{kReliefHeight.id, "Height", Kind::Scalar,
                    "The grey line whose relief is carved: white is high."};
    height.isMain = true;
    spec.feeds = {height, maskFeed("Where it is carved: white fully, black not at all.")};
    spec.example = {kDepth(1.0)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f} %", v[kDepth]); };
    spec.noEffect = [](const StepView& v) -> std::string {
        const Feed* height_ = v.feed(kReliefHeight);
        if (height_ == nullptr) return "no height is joined";
        if (height_->constant) return "the height is the same everywhere";
        return v[kDepth] == 0 ? "the depth is 0" : amountReason(v);
    };
    spec.emit = [](Emitter& e) {
        if (e[kDepth] == 0 || e[kAmount] == 0) return e.input();
        const auto around = e.fedAround(kReliefHeight, Kind::Scalar);
        if (!around) return e.input();
        const Reg first = e.program().emit(
            kSlopes, {around->left.r, around->right.r, around->below.r, around->above.r, around->stride},
            {e.real(kDepth) / 100}, 3);
        return stackedNormals(e, e.input(), {Kind::Normal, first, first + 1, first + 2, kNoReg});
    };
    return spec;
}

}  // namespace kettle
#endif
