// Hue band: a mask of the hues within a band of any colour line. The same band limits an HSV shift.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/hue_band.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/hue_band.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: r, g, b; params: hueBandParams
void HueBand(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k)) {
        auto h = hn::Zero(d), s = hn::Zero(d), v = hn::Zero(d);
        ToHsv(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i), h, s, v);
        hn::Store(HueBandWeight(d, h, s, k.params), d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
using namespace hue_band;

HWY_EXPORT(HueBand);
const Op kHueBand{"hue-band", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HueBand)(k); }};

Value emit(Emitter& e) {
    const auto of = e.fed(kOf, Kind::Colour);
    // Without a colour to look at nothing is in the band.
    if (!of) return {Kind::Scalar, e.constant(0), e.constant(0), e.constant(0), kNoReg};
    const Value seen = workingNumbers(e, *of);
    const Reg mask = e.program().emit(kHueBand, {seen.r, seen.g, seen.b}, hueBandParams(e, kHues));
    return {Kind::Scalar, mask, mask, mask, kNoReg};
}
}  // namespace

StepSpec hueBandStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 70;
    spec.name = "Hue band";
    spec.purpose = "A mask of the hues within a band of a colour line.";
    spec.source = true;
    spec.kinds = {Kind::Scalar};
    spec.editor = StepEditor::PickHue;
    spec.hueBand = HueBandPlace{kHues, {}, kOf};
    spec.controls = hueBandControls(kHues);
    // The step is on a grey line; its numbers are those of the colours of its input.
    ControlSpec worksInOf = worksInControlSinceVersion2();
    worksInOf.colourOnly = false;
    spec.controls.push_back(std::move(worksInOf));
    spec.reads = [](const StepView& v) { return Reading{kOf.id, Component::Hue, Model::Hsv, worksIn(v)}; };
    spec.version = 2;
    spec.changed = "Hues are those of display-encoded numbers, where they were those of linear light.";
    spec.feeds = {{kOf.id, "Of", Kind::Colour, "The colour line whose hues are looked at.", true}};
    spec.example = {kHues.centre(10.0), kHues.width(40.0)};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.0f}° ± {:.0f}°", v[kHues.centre], v[kHues.width] / 2);
    };
    spec.noEffect = [](const StepView& v) {
        return std::string(v.feed(kOf) == nullptr ? "nothing is joined to of" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
