// Layer: the head in which a layer's mask ends. Its result is where the layer lies: the mask, inverted if it
// is told, to the power of 1 / gamma, spread about its middle by the contrast, (m - 0.5) c + 0.5, and kept in
// 0..1; times the second mask, shaped alike, and the amount. What stands at its default changes no number. A
// layer that goes by height sharpens the mask by the two heights' difference, m' = smoothstep(0.5 - s, 0.5 +
// s, m + (h_over - h_under) k); compiling joins the heights and k and s of the fill that is told to.
#include <fmt/format.h>

#include <algorithm>

#include "core/document/layers.h"
#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr NumberHandle kMaskGamma{"mask-gamma"};
constexpr NumberHandle kMaskContrast{"mask-contrast"};
constexpr ToggleHandle kInvert{"invert"};

/// A mask by the head's gamma and contrast.
Reg shaped(Emitter& e, Reg mask) {
    ProgramBuilder& p = e.program();
    const double gamma = std::clamp(e[kMaskGamma], 1e-3, 1e3);
    if (gamma != 1)
        mask = p.emit(arithmeticOp(Arithmetic::Power), {mask, e.constant(static_cast<float>(1 / gamma))});
    if (const float c = e.real(kMaskContrast); c != 1) {
        mask =
            p.emit(arithmeticOp(Arithmetic::MultiplyAdd), {mask, e.constant(c), e.constant(0.5f - 0.5f * c)});
        mask = p.emit(arithmeticOp(Arithmetic::Saturate), {mask});
    }
    return mask;
}

}  // namespace

StepSpec layerStep() {
    StepSpec spec;
    spec.type = kLayerHead;
    spec.order = 900;
    spec.name = "Layer";
    spec.purpose = "Lays fills over several channels, all in the same places.";
    spec.kinds = {Kind::Scalar};
    spec.editor = StepEditor::Layer;
    const char* const told = "Told by the fill that goes by height.";
    ControlSpec contrast = heightContrastControl(told), softness = heightSoftnessControl(told);
    contrast.hidden = softness.hidden = true;  // told at the fill that goes by height
    spec.controls = {amountControl(1.0),
                     numberControl(kMaskContrast, "Mask contrast", 1, 0.25, 8, "×",
                                   "Spreads the mask about its middle: more makes its edges hard."),
                     numberControl(kMaskGamma, "Mask gamma", 1, 0.1, 4, "",
                                   "Above 1 the mask grows, below 1 it shrinks; black and white stay."),
                     toggleControl(kInvert, "Mask inverted", false, "Lies where it did not."),
                     contrast,
                     softness};
    spec.feeds = {{kMask.id, "And within", Kind::Scalar,
                   "Another line that counts with the layer's own mask: it lies where both are white."}};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kAmount]); };
    spec.noEffect = [](const StepView& v) -> std::string {
        if (v[kAmount] == 0) return "the amount is 0";
        return v.feedIs(kMask, 0) ? "the mask is black everywhere" : "";
    };
    spec.version = 2;
    spec.changed = "Contrast and gamma shape the second mask as well.";
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const auto scalar = [](Reg r) { return Value{Kind::Scalar, r, r, r, kNoReg}; };
        if (e[kAmount] == 0) return scalar(e.constant(0));
        Reg mask = e.input().r;
        if (e[kInvert]) mask = p.emit(arithmeticOp(Arithmetic::OneMinus), {mask});
        mask = shaped(e, mask);
        if (const auto within = e.fed(kMask, Kind::Scalar)) {
            // Version 1 shaped the layer's own mask alone.
            const Reg second = e.step().version > 1 ? shaped(e, within->r) : within->r;
            mask = p.emit(arithmeticOp(Arithmetic::Multiply), {mask, second});
        }
        const auto over = e.fed(kHeightOver, Kind::Scalar), under = e.fed(kHeightUnder, Kind::Scalar);
        if (over && under) mask = maskByHeight(e, mask, over->r, under->r);
        if (e[kAmount] != 1)
            mask = p.emit(arithmeticOp(Arithmetic::Multiply), {mask, e.constant(e.real(kAmount))});
        return scalar(mask);
    };
    return spec;
}

}  // namespace kettle
