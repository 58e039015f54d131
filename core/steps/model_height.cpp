// Height on the model: from its foot to its top, as a mask.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/model_height.h"

namespace kettle {
namespace {
using namespace model_height;
constexpr ToggleHandle kSmooth{"smooth"};
}  // namespace

StepSpec modelHeightStep() {
    StepSpec spec;
    spec.type = kType;
    spec.order = 52;
    spec.name = "Height on the model";
    spec.purpose =
        "Black at the model's foot and white at its top, or the other way round: for damp and dust.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {numberControl(kLow, "From", 0, 0, 100, "%", "Up to this height it is black.", 1),
                     numberControl(kHigh, "To", 100, 0, 100, "%",
                                   "From this height on it is white. Below From, it is turned round.", 1),
                     toggleControl(kSmooth, "Smooth ends", true, "Begins and ends softly.")};
    spec.telling = [](const StepView& v) { return fmt::format("{:.0f} to {:.0f} %", v[kLow], v[kHigh]); };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        const double low = e[kLow] / 100;
        double width = e[kHigh] / 100 - low;
        // Without width it becomes a hard edge.
        if (std::fabs(width) < 1e-5) width = width < 0 ? -1e-5 : 1e-5;
        const Reg t = p.emit(
            arithmeticOp(Arithmetic::Saturate),
            {p.emit(arithmeticOp(Arithmetic::MultiplyAdd),
                    {meshAttribute(p, SurfaceAttribute::Height), e.constant(static_cast<float>(1 / width)),
                     e.constant(static_cast<float>(-low / width))})});
        const Reg v = e[kSmooth] ? p.emit(arithmeticOp(Arithmetic::Smooth), {t}) : t;
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
