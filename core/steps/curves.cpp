// Curves: one curve for each component of a chosen colour model, and one for all of them first.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Reg through(Emitter& e, const char* own, bool withAll, Reg x) {
    if (withAll) x = emitCurve(e.program(), e.ramp("all"), x);
    return emitCurve(e.program(), e.ramp(own), x);
}

bool isNeutral(const StepView& v) {
    for (const char* id : {"all", "first", "second", "third"})
        if (!v.ramp(id).isIdentity()) return false;
    return true;
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e.number("amount") == 0) return in;
    ProgramBuilder& p = e.program();
    if (in.kind == Kind::Scalar) {
        const Reg y = emitCurve(p, e.ramp("all"), in.r);
        return mixByAmount(e, in, {Kind::Scalar, y, y, y, in.a});
    }
    const Model model = modelOf(e.choice("model"));
    // "All" means the same on each component, which makes no sense where they are not alike.
    const bool alike = model == Model::Rgb || model == Model::Encoded;
    // The hexcones of what is displayed; version 1 took those of light.
    const bool isDisplayed = e.step().version > 1 && (model == Model::Hsv || model == Model::Hsl);
    Value v = isDisplayed ? toModel(p, displayedValue(p, in, e.space()), model, {})
                          : toModel(p, in, model, e.space());
    v.r = through(e, "first", alike, v.r);
    v.g = through(e, "second", alike, v.g);
    v.b = through(e, "third", alike, v.b);
    if (isDisplayed) return mixByAmount(e, in, lightOfDisplayed(p, fromModel(p, v, model, {}), e.space()));
    return mixByAmount(e, in, fromModel(p, v, model, e.space()));
}
}  // namespace

StepSpec curvesStep() {
    StepSpec spec;
    spec.type = "curves";
    spec.order = 90;
    spec.name = "Curves";
    spec.purpose = "Bends each component by a curve.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.editor = StepEditor::Curves;
    ControlSpec model = choiceControl("model", "Works in", "encoded",
                                      {{"encoded", "RGB as displayed"},
                                       {"rgb", "RGB in linear light"},
                                       {"hsv", "HSV"},
                                       {"hsl", "HSL"},
                                       {"oklch", "OKLCh"}},
                                      "The components that the curves bend.");
    model.colourOnly = true;
    Ramp straight;
    straight.interpolation = RampInterpolation::Spline;
    const auto curve = [&](const char* id, const char* name, const char* tip) {
        ControlSpec c{id, name, ControlType::Curve, straight};
        c.tip = tip;
        c.colourOnly = std::string(id) != "all";
        return c;
    };
    spec.controls = {model,
                     curve("all", "All", "The same for red, green and blue; on a grey line the curve."),
                     curve("first", "First", "Red, hue or lightness, by the model."),
                     curve("second", "Second", "Green, saturation or chroma, by the model."),
                     curve("third", "Third", "Blue, value, lightness or hue, by the model."),
                     amountControl(1.0)};
    spec.feeds = {maskFeed("Where the curves are taken: white fully, black not at all.")};
    Ramp bent = straight;
    bent.stops = {
        {0, {0, 0, 0}}, {0.3f, {0.12f, 0.12f, 0.12f}}, {0.7f, {0.85f, 0.85f, 0.85f}}, {1, {1, 1, 1}}};
    spec.example = {{"all", bent}};
    spec.telling = [](const StepView& v) {
        int count = 0;
        for (const char* id : {"all", "first", "second", "third"}) count += v.ramp(id).isIdentity() ? 0 : 1;
        return count == 0 ? std::string("straight")
                          : fmt::format("{} {}", count, count == 1 ? "curve" : "curves");
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? "all curves are straight" : reason;
    };
    spec.reads = [](const StepView& v) {
        const std::string& model = v.choice("model");
        if (model == "rgb") return Reading{"", "", "rgb", NumberSpace::LinearLight};
        // HSV and HSL are those of light, as Convert has them, where the step is of version 1.
        const bool isOfLight = v.step().version == 1 && (model == "hsv" || model == "hsl");
        return Reading{"", "", model == "encoded" ? "rgb" : model,
                       isOfLight ? NumberSpace::LinearLight : NumberSpace::DisplayEncoded};
    };
    spec.version = 2;
    spec.changed = "HSV and HSL are those of display-encoded numbers, where they were of linear light.";
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
