// Map, Colour, Value and Flat normal: the steps that start a line.
#include <fmt/format.h>

#include "core/colour/encoding.h"
#include "core/steps/step.h"

namespace kettle {

StepSpec mapStep() {
    StepSpec spec;
    spec.type = "map";
    spec.order = 10;
    spec.name = "Map";
    spec.purpose = "Reads one of the set's finished maps.";
    spec.source = true;
    spec.kinds = {Kind::Colour, Kind::Scalar, Kind::Normal};
    ControlSpec component{"component", "Reads", ControlType::Choice, std::string("red")};
    component.choices = componentChoices();
    component.tip =
        "On a grey line: which component of the picture is read. Soft edges of a mask are often in alpha.";
    ControlSpec green{"green", "Green", ControlType::Choice, std::string("up")};
    green.choices = {{"up", "up (OpenGL)"}, {"down", "down (DirectX)"}};
    green.tip = "On a normal line: which way the green component points.";
    // Each is read on one kind of line alone.
    component.kinds = {Kind::Scalar};
    green.kinds = {Kind::Normal};
    spec.controls = {component, green};
    spec.editor = StepEditor::MapFile;
    spec.telling = [](const StepView& v) {
        std::string what = v.step().role;
        if (v.kind() == Kind::Scalar && v.choice("component") != "red") what += ", " + v.choice("component");
        if (v.kind() == Kind::Normal && v.choice("green") == "down") what += ", green down";
        return what;
    };
    spec.emit = [](Emitter& e) {
        const SourceKey key{SourceKind::Map, e.step().set, e.step().role};
        const auto read = [&](int component_) { return e.program().source(key, component_); };
        const Value raw{Kind::Colour, read(0), read(1), read(2), read(3)};
        if (e.kind() == Kind::Normal) return decodeNormal(e.program(), raw, e.choice("green") == "down");
        if (e.kind() == Kind::Colour)
            return e.space().isRec709() ? raw : transformValue(e.program(), raw, e.space().fromRec709);
        const Reg one = componentOf(e.program(), raw, e.choice("component"));
        return Value{Kind::Scalar, one, one, one, kNoReg};
    };
    return spec;
}

StepSpec colourStep() {
    StepSpec spec;
    spec.type = "colour";
    spec.order = 20;
    spec.name = "Colour";
    spec.purpose = "One colour everywhere.";
    spec.source = true;
    spec.kinds = {Kind::Colour};
    ControlSpec colour{"colour", "Colour", ControlType::Colour, Colour{0.5f, 0.5f, 0.5f}};
    colour.tip = "A scene-linear colour; the hex field shows it as a display does.";
    spec.controls = {colour};
    spec.telling = [](const StepView& v) {
        const Colour c = v.colour("colour");
        return hexOfLinear(c.r, c.g, c.b);
    };
    spec.emit = [](Emitter& e) {
        const Vec3 c = e.workingColour("colour");
        return Value{Kind::Colour, e.constant(c.x), e.constant(c.y), e.constant(c.z), e.constant(1.0f)};
    };
    return spec;
}

StepSpec valueStep() {
    StepSpec spec;
    spec.type = "value";
    spec.order = 30;
    spec.name = "Value";
    spec.purpose = "One number everywhere.";
    spec.source = true;
    spec.kinds = {Kind::Scalar};
    ControlSpec value{"value", "Value", ControlType::Number, 0.5};
    value.tip = "The number, raw: 0 is black, 1 is white.";
    value.track = SliderTrack::Grey;
    spec.controls = {value};
    spec.telling = [](const StepView& v) { return fmt::format("{:.2f}", v.number("value")); };
    spec.emit = [](Emitter& e) {
        const Reg v = e.constant(e.real("value"));
        return Value{Kind::Scalar, v, v, v, kNoReg};
    };
    return spec;
}

StepSpec flatNormalStep() {
    StepSpec spec;
    spec.type = "flat-normal";
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

}  // namespace kettle
