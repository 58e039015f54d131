// What the files of steps share when they declare and emit: controls that many have, mixing by amount and
// mask, components one by one, colour models. Only for core/steps.
#pragma once

#include "core/steps/arithmetic.h"
#include "core/steps/blend.h"
#include "core/steps/placement_controls.h"
#include "core/steps/step.h"

namespace kettle {

/// A control of each type with what most need. `low` and `high` are the slider's ends; `unit` as in
/// ControlSpec; a tip is a sentence or two.
ControlSpec numberControl(NumberHandle handle, const char* name, double standard, double low, double high,
                          const char* unit, const char* tip, int decimals = 2);
/// A seed of random numbers, 1 to 100.
ControlSpec seedControl(NumberHandle handle, const char* tip);
ControlSpec toggleControl(ToggleHandle handle, const char* name, bool standard, const char* tip);
ControlSpec colourControl(ColourHandle handle, const char* name, Colour standard, const char* tip);
ControlSpec rampControl(RampHandle handle, const char* name, Ramp standard, const char* tip);
/// `type`: Text, Space or Part.
ControlSpec textControl(TextHandle handle, ControlType type, const char* name, const char* standard,
                        const char* tip);
/// Its choices are the options of `handle`.
template <class E>
ControlSpec choiceControl(const ChoiceHandle<E>& handle, const char* name, E standard, const char* tip) {
    ControlSpec c{handle.id, name, ControlType::Choice, std::string(handle.idOf(standard))};
    for (const Option<E>& option : handle.options) c.choices.push_back({option.id, option.name});
    c.tip = tip;
    return c;
}

/// `spec`, shown only while a toggle is on or a choice has one of `values`.
template <class Spec>
Spec shownWhile(ToggleHandle on, Spec spec) {
    spec.shownBy = on.id;
    spec.shownFor = {"true"};
    return spec;
}
template <class Spec, class E>
Spec shownWhile(const ChoiceHandle<E>& choice, std::initializer_list<E> values, Spec spec) {
    spec.shownBy = choice.id;
    spec.shownFor.clear();
    for (const E value : values) spec.shownFor.emplace_back(choice.idOf(value));
    return spec;
}
/// The scalar feed "mask"; `what` is its tip.
FeedSpec maskFeed(const char* what);

/// "the amount is 0", "the mask is black everywhere", or empty: what every step with amount and mask says
/// first.
std::string amountReason(const StepView& v);

/// `op` (one in, one out) on each colour component, or once on a scalar. Alpha passes.
Value eachComponent(ProgramBuilder& program, const Value& value, const Op& op,
                    const std::vector<float>& params = {});
/// `op` (red, green, blue in and out) on a colour. Alpha passes.
Value wholeColour(ProgramBuilder& program, const Value& value, const Op& op,
                  const std::vector<float>& params = {});

/// from + amount * mask * (to - from) by the step's own "amount" and "mask"; weight 0 gives `from` bit for
/// bit. Nothing is emitted where both are full.
Value mixByAmount(Emitter& e, const Value& from, const Value& to);

/// kHeightContrast and kHeightSoftness.
ControlSpec heightContrastControl(const char* tip);
ControlSpec heightSoftnessControl(const char* tip);
/// A mask sharpened by the heights' difference, with the step's own controls of these names
/// (blend_by_height.cpp): smoothstep(0.5 - s, 0.5 + s, mask + (over - under) contrast), s half the softness.
Reg maskByHeight(Emitter& e, Reg mask, Reg over, Reg under);

/// The space that the step's "works-in" names.
NumberSpace worksIn(const StepView& v);
/// A value of the line as the numbers that the step works in, and the light of such numbers.
Value workingNumbers(Emitter& e, const Value& light);
Value lightOfWorking(Emitter& e, const Value& numbers);

/// A scene-linear colour of the working space as three numbers of a model, and back.
Value toModel(ProgramBuilder& program, const Value& value, Model model, const WorkingSpace& space);
Value fromModel(ProgramBuilder& program, const Value& value, Model model, const WorkingSpace& space);

/// Ramps as instructions (ramp_remap.cpp): the colour of `ramp` at x; the grey; and a curve, which goes on
/// beyond both ends with slope 1.
Value emitRampColour(ProgramBuilder& program, const Ramp& ramp, Reg x, Reg alpha, const WorkingSpace& space);
Reg emitRampGrey(ProgramBuilder& program, const Ramp& ramp, Reg x);
Reg emitCurve(ProgramBuilder& program, const Ramp& curve, Reg x);

/// Combining two normal maps (stack_normals.cpp): the methods, and `detail` over `base` with the step's own
/// method, amount and mask.
enum class Stacking { Reoriented, Whiteout, Linear, Overlay };
inline constexpr Option<Stacking> kStackings[] = {{Stacking::Reoriented, "reoriented", "reoriented"},
                                                  {Stacking::Whiteout, "whiteout", "whiteout"},
                                                  {Stacking::Linear, "linear", "linear"},
                                                  {Stacking::Overlay, "overlay", "overlay"}};
inline constexpr ChoiceHandle<Stacking> kStacking{"way", kStackings};
ControlSpec stackingControl();
Value stackedNormals(Emitter& e, const Value& base, const Value& detail);

/// The register of component `component` of a mesh attribute at the point.
Reg meshAttribute(ProgramBuilder& program, MeshAttribute attribute, int component = 0);

/// Placement of procedural patterns (pattern_place.cpp): controls (those of placement_controls.h, a space and
/// a stretch), and points in units of the pattern. `repeats`, `size` (cm): defaults. `isSolid`: offers the
/// model's space too.
enum class PatternSpace { Texture, Model, Triplanar };
inline constexpr Option<PatternSpace> kPatternSpaces[] = {
    {PatternSpace::Texture, "texture", "in the texture"},
    {PatternSpace::Model, "model", "in the model"},
    {PatternSpace::Triplanar, "sides", "from three sides"}};
inline constexpr ChoiceHandle<PatternSpace> kPatternSpace{"space", kPatternSpaces};
std::vector<ControlSpec> placeControls(double repeats, double size, bool isSolid);
struct PatternPoint {
    Reg x = kNoReg, y = kNoReg, z = kNoReg;  ///< no z: on a plane
    Reg covered = kNoReg;                    ///< how much of the pattern a point covers, in the same units
    Reg weight = kNoReg;                     ///< its share in the result; none: all
};
/// By the step's own seam: 6 is as sharp as can be, 1 as soft.
int sideSharpness(const StepView& view);
/// Three consecutive registers: |n|^k of each axis of a unit normal less kLeastShare, 1 in sum, k being
/// 2^sharpness.
Reg sideWeights(Emitter& e, Reg x, Reg y, Reg z);
/// One point, or three that are weighted by the side that the surface turns to each axis.
std::vector<PatternPoint> patternPoints(Emitter& e);
/// The sum of `values`, one for each of the points, by their weights.
Reg weighted(ProgramBuilder& program, const std::vector<PatternPoint>& points,
             const std::vector<Reg>& values);
/// How many pieces of a pattern lie across the texture's square.
double patternRepeats(const StepView& v);
/// How often the pattern fits into the texture's square, if that is a whole number and it stands straight:
/// then its edges meet. 0: it does not.
int wholeRepeats(const StepView& v);

/// The controls of a hue band, and the numbers its kernels read: centre, half width, 1 / softness in sixths
/// of a turn, 1 / threshold, inverted.
std::vector<ControlSpec> hueBandControls(const HueBandHandles& band);
std::vector<float> hueBandParams(const StepView& v, const HueBandHandles& band);

}  // namespace kettle
