// Convert: a colour as the numbers of another model, as data, and back.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr ChoiceHandle<Model> kFrom{"from", kModels}, kTo{"to", kModels};

Value emit(Emitter& e) {
    const Model from = e[kFrom], to = e[kTo];
    if (from == to) return e.input();
    return toModel(e.program(), fromModel(e.program(), e.input(), from, e.space()), to, e.space());
}

}  // namespace

StepSpec convertStep() {
    StepSpec spec;
    spec.type = "convert";
    spec.order = 200;
    spec.name = "Convert";
    spec.purpose = "Writes a colour as the numbers of another model, or reads it back.";
    spec.kinds = {Kind::Colour};
    spec.controls = {
        choiceControl(kFrom, "From", Model::Rgb,
                      "What the three numbers are that come in. A hue is 0 to 1 for a full turn."),
        choiceControl(kTo, "To", Model::Hsv, "What the three numbers are that go out.")};
    spec.telling = [](const StepView& v) { return std::string("to ") + kTo.nameOf(v[kTo]); };
    spec.noEffect = [](const StepView& v) {
        return std::string(v[kFrom] == v[kTo] ? "both models are the same" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
