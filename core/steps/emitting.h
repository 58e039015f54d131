// What the files of steps share when they declare and emit: controls that many have, mixing by amount and
// mask, components one by one, colour models. Only for core/steps.
#pragma once

#include "core/steps/step.h"

namespace kettle {

/// A control of each type with what most need. `low` and `high` are the slider's ends; `unit` as in
/// ControlSpec; a tip is a sentence or two.
ControlSpec numberControl(const char* id, const char* name, double standard, double low, double high,
                          const char* unit, const char* tip, int decimals = 2);
ControlSpec choiceControl(const char* id, const char* name, const char* standard, std::vector<Choice> choices,
                          const char* tip);
ControlSpec toggleControl(const char* id, const char* name, bool standard, const char* tip);
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

/// A mask sharpened by the heights' difference, with the step's own "contrast" and "softness"
/// (blend_by_height.cpp): smoothstep(0.5 - s, 0.5 + s, mask + (over - under) contrast), s half the softness.
Reg maskByHeight(Emitter& e, Reg mask, Reg over, Reg under);

/// The space that the step's "works-in" names.
NumberSpace worksIn(const StepView& v);
/// A value of the line as the numbers that the step works in, and the light of such numbers.
Value workingNumbers(Emitter& e, const Value& light);
Value lightOfWorking(Emitter& e, const Value& numbers);

/// The colour models of Convert, Component, Join, Curves and Formula. As data a hue is 0..1 of a turn.
enum class Model { Rgb, Encoded, Hsv, Hsl, Oklab, Oklch, CieLab, Xyz };
const std::vector<Choice>& modelChoices();
Model modelOf(const std::string& id);
std::string nameOfModel(const std::string& id);  ///< for people
/// A scene-linear colour of the working space as three numbers of a model, and back.
Value toModel(ProgramBuilder& program, const Value& value, Model model, const WorkingSpace& space);
Value fromModel(ProgramBuilder& program, const Value& value, Model model, const WorkingSpace& space);

/// Kernels by name, shared by Maths and Formula: one to three numbers in, one out.
struct ArithmeticFunction {
    const char* id;
    const char* name;
    int inputs;
    const char* purpose;
    Op op;
};
/// All of them, in the order of Maths' menu.
const std::vector<ArithmeticFunction>& arithmetic();
/// Null if there is none.
const ArithmeticFunction* findArithmetic(const std::string& id);
/// The function of that id, which must be there.
const Op& arithmeticOp(const char* id);

/// Ramps as instructions (ramp_remap.cpp): the colour of `ramp` at x; the grey; and a curve, which goes on
/// beyond both ends with slope 1.
Value emitRampColour(ProgramBuilder& program, const Ramp& ramp, Reg x, Reg alpha, const WorkingSpace& space);
Reg emitRampGrey(ProgramBuilder& program, const Ramp& ramp, Reg x);
Reg emitCurve(ProgramBuilder& program, const Ramp& curve, Reg x);

/// Stack normals (stack_normals.cpp): the choice "way", and `detail` over `base` by the step's own "way",
/// "amount" and "mask".
ControlSpec stackingControl();
Value stackedNormals(Emitter& e, const Value& base, const Value& detail);

/// Component `component` of what the model says of the place (SourceKind::Model).
Reg modelFact(ProgramBuilder& program, const char* fact, int component = 0,
              const std::array<float, 2>& numbers = {}, const std::string& of = {});

/// Where a pattern lies (pattern_place.cpp): the controls "space" (texture; the model, if `isSolid`; the
/// model from three sides), "repeats", "size", "rotation", "offset-u", "offset-v", "stretch", and points in
/// units of the pattern. `repeats`, `size` (cm): what is usual.
std::vector<ControlSpec> placeControls(double repeats, double size, bool isSolid);
struct PatternPoint {
    Reg x = kNoReg, y = kNoReg, z = kNoReg;  ///< no z: on a plane
    Reg covered = kNoReg;                    ///< how much of the pattern a point covers, in the same units
    Reg weight = kNoReg;                     ///< its share in the result; none: all
};
/// By the step's own "seam": 6 is as sharp as can be, 1 as soft.
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

/// The controls of a hue band under a prefix, and the numbers its kernels read: centre, half width, 1 /
/// softness in sixths of a turn, 1 / threshold, inverted.
std::vector<ControlSpec> hueBandControls(const std::string& prefix);
std::vector<float> hueBandParams(const StepView& v, const std::string& prefix);

}  // namespace kettle
