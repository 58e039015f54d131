// Levels: sets black, white and the middle of what comes in, and the range that goes out.
//   y = ((x - inBlack) / (inWhite - inBlack)) ^ (1 / gamma) * (outWhite - outBlack) + outBlack, per
//   component.
// Without the limit the curve goes on, odd-symmetric, below black.
#include <fmt/format.h>

#include "core/steps/emitting.h"
#include "core/steps/levels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/levels.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// params: in black, 1 / (in white - in black), 1 / gamma, out black, out white - out black, limit (0 or 1)
void Levels(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto black = hn::Set(d, k.params[0]), scale = hn::Set(d, k.params[1]),
               power = hn::Set(d, k.params[2]);
    const auto low = hn::Set(d, k.params[3]), range = hn::Set(d, k.params[4]);
    const bool bend = k.params[2] != 1.0f, limit = k.params[5] != 0.0f;
    for (const std::size_t i : VectorsOf(d, k)) {
        auto x = hn::Mul(hn::Sub(hn::Load(d, k.in[0] + i), black), scale);
        if (limit) x = hn::Min(hn::Max(x, hn::Zero(d)), hn::Set(d, 1.0f));
        if (bend) x = hn::CopySign(PowPositive(d, hn::Abs(x), power), x);
        hn::Store(hn::MulAdd(x, range, low), d, k.out[0] + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
using namespace levels;

HWY_EXPORT(Levels);
const Op kLevels{"levels", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Levels)(k); }};

bool isNeutral(const StepView& v) {
    return v[kInBlack] == 0 && v[kInWhite] == 1 && v[kGamma] == 1 && v[kOutBlack] == 0 && v[kOutWhite] == 1;
}

Value emit(Emitter& e) {
    const Value in = e.input();
    if (isNeutral(e) && !e[kLimit]) return in;
    const Value from = workingNumbers(e, in);
    // Equal black and white make a hard edge instead of a division by zero.
    double width = e[kInWhite] - e[kInBlack];
    if (std::fabs(width) < 1e-6) width = width < 0 ? -1e-6 : 1e-6;
    const double gamma = std::max(e[kGamma], 0.01);
    const std::vector<float> params{e.real(kInBlack),
                                    static_cast<float>(1 / width),
                                    static_cast<float>(1 / gamma),
                                    e.real(kOutBlack),
                                    static_cast<float>(e[kOutWhite] - e[kOutBlack]),
                                    e[kLimit] ? 1.0f : 0.0f};
    const Value out = eachComponent(e.program(), from, kLevels, params);
    return lightOfWorking(e, out);
}
}  // namespace

StepSpec levelsStep() {
    StepSpec spec;
    spec.type = "levels";
    spec.order = 120;
    spec.name = "Levels";
    spec.purpose = "Sets black, white and the middle.";
    spec.kinds = {Kind::Colour, Kind::Scalar};
    spec.editor = StepEditor::Levels;
    const auto number = [](NumberHandle handle, const char* name, double standard, double low, double high,
                           const char* tip) {
        return numberControl(handle, name, standard, low, high, "", tip);
    };
    spec.controls = {
        number(kInBlack, "In black", 0, 0, 1, "What comes in at or below this becomes black."),
        number(kInWhite, "In white", 1, 0, 1, "What comes in at or above this becomes white."),
        number(kGamma, "Middle", 1, 0.1, 4, "Above 1 lifts the middle, below 1 lowers it."),
        number(kOutBlack, "Out black", 0, 0, 1, "The darkest number that goes out."),
        number(kOutWhite, "Out white", 1, 0, 1, "The lightest number that goes out."),
        toggleControl(kLimit, "Limit", true, "Keeps the result between out black and out white."),
        worksInControlSinceVersion2()};
    spec.example = {kInBlack(0.1), kInWhite(0.7), kGamma(1.4)};
    spec.telling = [](const StepView& v) {
        return fmt::format("{:.2f} to {:.2f}", v[kInBlack], v[kInWhite]);
    };
    spec.noEffect = [](const StepView& v) {
        return std::string(isNeutral(v) ? "black, white and middle are neutral" : "");
    };
    spec.version = 2;
    spec.changed = "It works on display-encoded numbers, where it worked in linear light.";
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
#endif
