// Invert: 1 - x, per component. On an imported gloss map it is what makes roughness of it.
#include "core/steps/invert.h"
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/invert.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

void Invert(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(hn::Sub(hn::Set(d, 1.0f), hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
using namespace invert;

HWY_EXPORT(Invert);
const Op kInvert{"invert", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Invert)(k); }};
}  // namespace

StepSpec invertStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 240;
    spec.name = "Invert";
    spec.purpose = "Makes dark light and light dark.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    ControlSpec from =
        choiceControl(kFrom, "Reason", Reason::ByHand,
                      "Why it is here: a gloss map is inverted when its folder is brought in.");
    from.hidden = true;  // the card tells it
    spec.controls = {from, worksInControl(NumberSpace::DisplayEncoded)};
    spec.telling = [](const StepView& v) {
        return std::string(v[kFrom] == Reason::Gloss ? "from gloss" : "1 − x");
    };
    spec.isAsReceived = [](const StepView& v) { return v[kFrom] == Reason::Gloss; };
    spec.emit = [](Emitter& e) {
        return lightOfWorking(e, eachComponent(e.program(), workingNumbers(e, e.input()), kInvert));
    };
    return spec;
}

}  // namespace kettle
#endif
