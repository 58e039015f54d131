// Curves: one curve for each component of a chosen colour model, and one for all of them first.
#include <fmt/format.h>

#include "core/steps/curves.h"
#include "core/steps/emitting.h"

namespace kettle {
namespace {
using namespace curves;

Reg through(Emitter& e, RampHandle own, bool withAll, Reg x) {
    if (withAll) x = emitCurve(e.program(), e[kAll], x);
    return emitCurve(e.program(), e[own], x);
}

bool isNeutral(const StepView& v) {
    for (const RampHandle curve : {kAll, kFirst, kSecond, kThird})
        if (!v[curve].isIdentity()) return false;
    return true;
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) || e[kAmount] == 0) return in;
    ProgramBuilder& p = e.program();
    if (in.kind == Kind::Scalar) {
        const Reg y = emitCurve(p, e[kAll], in.r);
        return mixByAmount(e, in, {Kind::Scalar, y, y, y, in.a});
    }
    const Model model = e[kModel];
    // "All" means the same on each component, which makes no sense where they are not alike.
    const bool alike = model == Model::Rgb || model == Model::Encoded;
    // The hexcones of what is displayed; version 1 took those of light.
    const bool isDisplayed = e.step().version > 1 && (model == Model::Hsv || model == Model::Hsl);
    Value v = isDisplayed ? toModel(p, displayedValue(p, in, e.space()), model, {})
                          : toModel(p, in, model, e.space());
    v.r = through(e, kFirst, alike, v.r);
    v.g = through(e, kSecond, alike, v.g);
    v.b = through(e, kThird, alike, v.b);
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
    ControlSpec model =
        choiceControl(kModel, "Works in", Model::Encoded, "The components that the curves bend.");
    model.colourOnly = true;
    Ramp straight;
    straight.interpolation = RampInterpolation::Spline;
    const auto curve = [&](RampHandle handle, const char* name, const char* tip) {
        ControlSpec c = rampControl(handle, name, straight, tip);
        c.type = ControlType::Curve;
        return c;
    };
    const auto ofOne = [&](RampHandle handle, const char* name, const char* tip) {
        ControlSpec c = curve(handle, name, tip);
        c.colourOnly = true;
        return c;
    };
    spec.controls = {model,
                     curve(kAll, "All", "The same for red, green and blue; on a grey line the curve."),
                     ofOne(kFirst, "First", "Red, hue or lightness, by the model."),
                     ofOne(kSecond, "Second", "Green, saturation or chroma, by the model."),
                     ofOne(kThird, "Third", "Blue, value, lightness or hue, by the model."),
                     amountControl(1.0)};
    spec.feeds = {maskFeed("Where the curves are taken: white fully, black not at all.")};
    Ramp bent = straight;
    bent.stops = {
        {0, {0, 0, 0}}, {0.3f, {0.12f, 0.12f, 0.12f}}, {0.7f, {0.85f, 0.85f, 0.85f}}, {1, {1, 1, 1}}};
    spec.example = {kAll(bent)};
    spec.telling = [](const StepView& v) {
        int count = 0;
        for (const RampHandle each : {kAll, kFirst, kSecond, kThird}) count += v[each].isIdentity() ? 0 : 1;
        return count == 0 ? std::string("straight")
                          : fmt::format("{} {}", count, count == 1 ? "curve" : "curves");
    };
    spec.noEffect = [](const StepView& v) {
        const std::string reason = amountReason(v);
        return reason.empty() && isNeutral(v) ? "all curves are straight" : reason;
    };
    spec.reads = [](const StepView& v) {
        const Model components = v[kModel];
        if (components == Model::Rgb) return Reading{"", {}, Model::Rgb, NumberSpace::LinearLight};
        // HSV and HSL are those of light, as Convert has them, where the step is of version 1.
        const bool isOfLight =
            v.step().version == 1 && (components == Model::Hsv || components == Model::Hsl);
        return Reading{"",
                       {},
                       components == Model::Encoded ? Model::Rgb : components,
                       isOfLight ? NumberSpace::LinearLight : NumberSpace::DisplayEncoded};
    };
    spec.version = 2;
    spec.changed = "HSV and HSL are those of display-encoded numbers, where they were of linear light.";
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
