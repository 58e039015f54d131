// Join: a colour from three grey lines and an alpha.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr ChoiceHandle<Model> kModel{"model", kModels};
constexpr InputHandle kFirst{"first"}, kSecond{"second"}, kThird{"third"}, kAlpha{"alpha"};

Value emit(Emitter& e) {
    const auto read = [&](InputHandle input, float otherwise) {
        const auto fed = e.fed(input, Kind::Scalar);
        return fed ? fed->r : e.constant(otherwise);
    };
    const Value joined{Kind::Colour, read(kFirst, 0), read(kSecond, 0), read(kThird, 0), read(kAlpha, 1)};
    return fromModel(e.program(), joined, e[kModel], e.space());
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
    spec.controls = {choiceControl(kModel, "Are", Model::Rgb,
                                   "What the three numbers are. A hue is 0 to 1 for a full turn.")};
    spec.feeds = {{kFirst.id, "First", Kind::Scalar, "Red, or the first component of the model."},
                  {kSecond.id, "Second", Kind::Scalar, "Green, or the second component."},
                  {kThird.id, "Third", Kind::Scalar, "Blue, or the third component."},
                  {kAlpha.id, "Alpha", Kind::Scalar, "Transparency; 1 without a line."}};
    spec.example = {kModel(Model::Hsv)};
    spec.telling = [](const StepView& v) { return std::string(kModel.nameOf(v[kModel])); };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
