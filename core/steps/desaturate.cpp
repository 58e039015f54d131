// Desaturate: mixes towards the grey that a chosen measure of lightness gives.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
/// How light the grey of a colour is: a component of it, or the luma of Rec.601.
enum class Grey { Luminance, Rec601, Average, Maximum, Lightness };
constexpr Option<Grey> kGreys[] = {{Grey::Luminance, "luminance", "luminance"},
                                   {Grey::Rec601, "rec601", "luma (Rec.601)"},
                                   {Grey::Average, "average", "average"},
                                   {Grey::Maximum, "maximum", "maximum"},
                                   {Grey::Lightness, "lightness", "lightness (HSL)"}};
constexpr ChoiceHandle<Grey> kWeights{"weights", kGreys};

Component componentBy(Grey grey) {
    switch (grey) {
        case Grey::Average:
            return Component::Average;
        case Grey::Maximum:
            return Component::Maximum;
        case Grey::Lightness:
            return Component::Lightness;
        case Grey::Luminance:
        case Grey::Rec601:
            break;
    }
    return Component::Luminance;
}

Value greyOf(Emitter& e, const Value& in) {
    ProgramBuilder& p = e.program();
    const Grey by = e[kWeights];
    if (by == Grey::Rec601) {
        // Rec.601 weighs the numbers of a display (ITU-R BT.601), so they are encoded first and decoded
        // after.
        const Value coded = encodeValue(p, in);
        const Reg luma = componentOf(p, coded, Component::Luminance, {"", {}, {}, {0.299f, 0.587f, 0.114f}});
        return decodeValue(p, {Kind::Scalar, luma, luma, luma, in.a});
    }
    const Reg grey = componentOf(p, in, componentBy(by), e.space());
    return {Kind::Colour, grey, grey, grey, in.a};
}
}  // namespace

StepSpec desaturateStep() {
    StepSpec spec;
    spec.type = "desaturate";
    spec.order = 100;
    spec.name = "Desaturate";
    spec.purpose = "Takes colour away, down to grey.";
    spec.kinds = {Kind::Colour};
    spec.controls = {amountControl(1.0), choiceControl(kWeights, "Grey is", Grey::Luminance,
                                                       "How light the grey of a colour is.")};
    spec.feeds = {maskFeed("Where colour is taken away: white fully, black not at all.")};
    spec.example = {kAmount(0.8)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kAmount]); };
    spec.noEffect = amountReason;
    spec.emit = [](Emitter& e) {
        return e[kAmount] == 0 ? e.input() : mixByAmount(e, e.input(), greyOf(e, e.input()));
    };
    return spec;
}

}  // namespace kettle
