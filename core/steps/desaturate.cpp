// Desaturate: mixes towards the grey that a chosen measure of lightness gives.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value greyOf(Emitter& e, const Value& in) {
    ProgramBuilder& p = e.program();
    const std::string& by = e.choice("weights");
    if (by == "rec601") {
        // Rec.601 weighs the numbers of a display (ITU-R BT.601), so they are encoded first and decoded
        // after.
        const Value coded = encodeValue(p, in);
        const Reg luma = componentOf(p, coded, "luminance", {"", {}, {}, {0.299f, 0.587f, 0.114f}});
        return decodeValue(p, {Kind::Scalar, luma, luma, luma, in.a});
    }
    const Reg grey = componentOf(p, in, by, e.space());
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
    spec.controls = {amountControl(1.0), choiceControl("weights", "Grey is", "luminance",
                                                       {{"luminance", "luminance"},
                                                        {"rec601", "luma (Rec.601)"},
                                                        {"average", "average"},
                                                        {"maximum", "maximum"},
                                                        {"lightness", "lightness (HSL)"}},
                                                       "How light the grey of a colour is.")};
    spec.feeds = {maskFeed("Where colour is taken away: white fully, black not at all.")};
    spec.example = {{"amount", 0.8}};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v.number("amount")); };
    spec.noEffect = amountReason;
    spec.emit = [](Emitter& e) {
        return e.number("amount") == 0 ? e.input() : mixByAmount(e, e.input(), greyOf(e, e.input()));
    };
    return spec;
}

}  // namespace kettle
