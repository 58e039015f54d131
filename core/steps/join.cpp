// Join: a colour from three grey lines and an alpha.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {

Value emit(Emitter& e) {
    const auto read = [&](const char* id, float otherwise) {
        const auto fed = e.fed(id, Kind::Scalar);
        return fed ? fed->r : e.constant(otherwise);
    };
    const Value joined{Kind::Colour, read("first", 0), read("second", 0), read("third", 0), read("alpha", 1)};
    return fromModel(e.program(), joined, modelOf(e.choice("model")), e.space());
}

}  // namespace

StepSpec joinStep() {
    StepSpec spec;
    spec.type = "join";
    spec.order = 60;
    spec.name = "Join";
    spec.purpose = "A colour from three grey lines and an alpha.";
    spec.source = true;
    spec.kinds = {Kind::Colour};
    spec.controls = {choiceControl("model", "Are", "rgb", modelChoices(),
                                   "What the three numbers are. A hue is 0 to 1 for a full turn.")};
    spec.feeds = {{"first", "First", Kind::Scalar, "Red, or the first component of the model."},
                  {"second", "Second", Kind::Scalar, "Green, or the second component."},
                  {"third", "Third", Kind::Scalar, "Blue, or the third component."},
                  {"alpha", "Alpha", Kind::Scalar, "Transparency; 1 without a line."}};
    spec.example = {{"model", std::string("hsv")}};
    spec.telling = [](const StepView& v) { return nameOfModel(v.choice("model")); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
