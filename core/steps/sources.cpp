// Colour, Value and Flat normal: plain sources; Line: what another line gives.
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/document/sources.h"
#include "core/steps/emitting.h"

namespace kettle {

StepSpec colourStep() {
    StepSpec spec;
    spec.type = kColourSource;
    spec.order = 20;
    spec.name = "Colour";
    spec.purpose = "One colour everywhere.";
    spec.source = true;
    spec.kinds = {Kind::Colour};
    spec.controls = {colourControl(kColour, "Colour", {0.5f, 0.5f, 0.5f},
                                   "A scene-linear colour; the hex field shows it as a display does.")};
    spec.telling = [](const StepView& v) {
        const Colour c = v[kColour];
        return hexOfLinear(c.r, c.g, c.b);
    };
    spec.emit = [](Emitter& e) {
        const Vec3 c = e.workingColour(kColour);
        return Value{Kind::Colour, e.constant(c.x), e.constant(c.y), e.constant(c.z), e.constant(1.0f)};
    };
    return spec;
}

StepSpec valueStep() {
    StepSpec spec;
    spec.type = kValueSource;
    spec.order = 30;
    spec.name = "Value";
    spec.purpose = "One number everywhere.";
    spec.source = true;
    spec.kinds = {Kind::Scalar};
    ControlSpec value =
        numberControl(kValue, "Value", 0.5, 0, 1, "", "The number, raw: 0 is black, 1 is white.");
    value.track = SliderTrack::Grey;
    spec.controls = {value};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v[kValue]); };
    spec.emit = [](Emitter& e) {
        const Reg v = e.constant(e.real(kValue));
        return Value{Kind::Scalar, v, v, v, kNoReg};
    };
    return spec;
}

StepSpec flatNormalStep() {
    StepSpec spec;
    spec.type = kFlatNormalSource;
    spec.order = 35;
    spec.name = "Flat normal";
    spec.purpose = "Straight up everywhere: a surface without relief.";
    spec.source = true;
    spec.kinds = {Kind::Normal};
    spec.telling = [](const StepView&) { return std::string("flat"); };
    spec.emit = [](Emitter& e) {
        return Value{Kind::Normal, e.constant(0), e.constant(0), e.constant(1), kNoReg};
    };
    return spec;
}

StepSpec lineStep() {
    StepSpec spec;
    spec.type = "line";
    spec.order = 40;
    spec.name = "Line";
    spec.purpose = "Starts with what another line gives, at its end or after one of its steps.";
    spec.source = true;
    spec.kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    FeedSpec of{kOf.id, "Line", std::nullopt, "The line that is read."};
    of.isMain = true;
    spec.feeds = {of};
    spec.telling = [](const StepView& v) {
        const Feed* feed = v.feed(kOf);
        return feed == nullptr ? std::string("none") : feed->line;
    };
    spec.noEffect = [](const StepView& v) -> std::string {
        return v.feed(kOf) == nullptr ? "no line is joined" : "";
    };
    spec.emit = [](Emitter& e) {
        const auto read = e.fed(kOf, e.kind());
        const bool isNormal = e.kind() == Kind::Normal;
        if (!read || (read->kind == Kind::Normal) != isNormal) return e.input();
        Value value = *read;
        value.kind = e.kind();
        if (e.kind() == Kind::Colour && value.a == kNoReg) value.a = e.constant(1);
        return value;
    };
    return spec;
}

}  // namespace kettle
