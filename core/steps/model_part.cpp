// Part: one part of the model as a mask.
#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr TextHandle kPart{"part"};
}  // namespace

StepSpec modelPartStep() {
    StepSpec spec;
    spec.type = "model-part";
    spec.order = 54;
    spec.name = "Part";
    spec.purpose = "White on one part or object of the model, black on all others.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {textControl(kPart, ControlType::Part, "Part", "lid",
                                 "The name that the model gives the part or object.")};
    spec.telling = [](const StepView& v) { return v[kPart]; };
    spec.noEffect = [](const StepView& v) {
        return std::string(v[kPart].empty() ? "no part is named: it is black everywhere" : "");
    };
    spec.emit = [](Emitter& e) {
        const Reg v = meshAttribute(e.program(), PartMask{e[kPart]});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
