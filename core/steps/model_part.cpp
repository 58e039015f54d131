// Part: one part of the model as a mask.
#include "core/steps/emitting.h"

namespace kettle {

StepSpec modelPartStep() {
    StepSpec spec;
    spec.type = "model-part";
    spec.order = 54;
    spec.name = "Part";
    spec.purpose = "White on one part or object of the model, black on all others.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    ControlSpec name{"part", "Part", ControlType::Part, std::string("lid")};
    name.tip = "The name that the model gives the part or object.";
    spec.controls = {name};
    spec.telling = [](const StepView& v) { return v.text("part"); };
    spec.noEffect = [](const StepView& v) {
        return std::string(v.text("part").empty() ? "no part is named: it is black everywhere" : "");
    };
    spec.emit = [](Emitter& e) {
        const Reg v = modelFact(e.program(), "part", 0, {}, e.text("part"));
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
