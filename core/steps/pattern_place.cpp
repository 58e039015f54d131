// Where patterns lie: in texture space, in the model's space, or laid on from its three sides.
#include <cmath>

#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/pattern_place.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// in: x, y; params: cosine and sine of the turn times the scale, the middle (x, y), the offset (x, y):
/// about the middle, then moved.
void Turned(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto c = hn::Set(d, k.params[0]), s = hn::Set(d, k.params[1]);
    const auto middleX = hn::Set(d, k.params[2]), middleY = hn::Set(d, k.params[3]);
    const auto offsetX = hn::Set(d, k.params[4]), offsetY = hn::Set(d, k.params[5]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto x = hn::Sub(hn::Load(d, k.in[0] + i), middleX),
                   y = hn::Sub(hn::Load(d, k.in[1] + i), middleY);
        StoreIf(d, hn::Sub(hn::MulAdd(x, c, hn::Mul(y, s)), offsetX), k.out[0], i);
        StoreIf(d, hn::Sub(hn::MulSub(y, c, hn::Mul(x, s)), offsetY), k.out[1], i);
    }
}

/// in: a unit normal; params: the sharpness, log2 k. |n|^k of each axis, 1 in sum, less kLeastShare, 1 in
/// sum.
void SideWeights(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const int squarings = static_cast<int>(k.params[0]);
    const auto raised = [&](auto x) {
        x = hn::Mul(x, x);
        for (int i = 1; i < squarings; ++i) x = hn::Mul(x, x);
        return hn::Max(x, hn::Set(d, 1e-12f));
    };
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto x = raised(hn::Load(d, k.in[0] + i)), y = raised(hn::Load(d, k.in[1] + i)),
                   z = raised(hn::Load(d, k.in[2] + i));
        const auto least = hn::Mul(hn::Add(x, hn::Add(y, z)), hn::Set(d, kLeastShare));
        const auto more = [&](auto v) { return hn::Max(hn::Sub(v, least), hn::Zero(d)); };
        const auto mx = more(x), my = more(y), mz = more(z);
        const auto share = hn::Div(hn::Set(d, 1.0f), hn::Add(mx, hn::Add(my, mz)));
        StoreIf(d, hn::Mul(mx, share), k.out[0], i);
        StoreIf(d, hn::Mul(my, share), k.out[1], i);
        StoreIf(d, hn::Mul(mz, share), k.out[2], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
constexpr NumberHandle kStretch{"stretch"};

HWY_EXPORT(Turned);
HWY_EXPORT(SideWeights);
const Op kTurned{"place", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Turned)(k); }};
const Op kSideWeights{"side-weights", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(SideWeights)(k); }};

constexpr double kLeastSize = 1e-4, kMostRepeats = 1e5;

double stretchOf(const StepView& v) {
    return std::clamp(std::fabs(v[kStretch]), 1e-3, 1e3);
}

}  // namespace

double patternRepeats(const StepView& v) {
    return std::clamp(std::fabs(v[kRepeats]), 1e-4, kMostRepeats);
}

Reg meshAttribute(ProgramBuilder& program, MeshAttribute attribute, int component) {
    return program.source({std::move(attribute)}, component);
}

std::vector<ControlSpec> placeControls(double repeats, double size, bool isSolid) {
    ControlSpec space = choiceControl(
        kPatternSpace, "Lies", PatternSpace::Texture,
        "In the texture it follows the texture coordinates. In the model it runs through it, as if carved "
        "from it; so and from three sides it knows no seams and is told in centimetres.");
    if (!isSolid)
        std::erase_if(space.choices,
                      [](const Choice& c) { return c.id == kPatternSpace.idOf(PatternSpace::Model); });
    ControlSpec often = shownWhile(
        kPatternSpace, {PatternSpace::Texture},
        numberControl(kRepeats, "Repeats", repeats, 1, 64, "×",
                      "How often it fits across the texture's square. A whole number meets at the edges.",
                      2));
    often.perSquare = true;
    ControlSpec large = numberControl(kSize, "Size", size, 0.1, 20, "cm", "How large one piece of it is.", 2);
    large = isSolid ? shownWhile(kPatternSpace, {PatternSpace::Triplanar, PatternSpace::Model}, large)
                    : shownWhile(kPatternSpace, {PatternSpace::Triplanar}, large);
    return {
        space,
        often,
        large,
        shownWhile(kPatternSpace, {PatternSpace::Triplanar},
                   numberControl(kSeam, "Seam", 0.3, 0, 1, "",
                                 "How softly the three sides go over into each other.", 2)),
        numberControl(kRotation, "Rotation", 0, -180, 180, "°", "Turned anticlockwise.", 1),
        numberControl(kOffsetU, "Offset across", 0, -1, 1, "", "Moves it by so many of its pieces.", 3),
        numberControl(kOffsetV, "Offset up", 0, -1, 1, "", "Moves it by so many of its pieces.", 3),
        numberControl(kStretch, "Stretch", 1, 0.1, 10, "×",
                      "Makes it longer upwards, or below 1 shorter; stretched its edges do not meet.", 2)};
}

int wholeRepeats(const StepView& v) {
    const double repeats = patternRepeats(v), turns = v[kRotation] / 90;
    if (v[kPatternSpace] != PatternSpace::Texture || stretchOf(v) != 1 || repeats != std::floor(repeats) ||
        repeats > 4096)
        return 0;
    return turns == std::floor(turns) ? static_cast<int>(repeats) : 0;
}

int sideSharpness(const StepView& v) {
    return static_cast<int>(std::lround(6 - 5 * std::clamp(v[kSeam], 0.0, 1.0)));
}

Reg sideWeights(Emitter& e, Reg x, Reg y, Reg z) {
    return e.program().emit(kSideWeights, {x, y, z}, {static_cast<float>(sideSharpness(e))}, 3);
}

std::vector<PatternPoint> patternPoints(Emitter& e) {
    ProgramBuilder& p = e.program();
    const PatternSpace space = e[kPatternSpace];
    const bool inTexture = space == PatternSpace::Texture;
    const double scale = inTexture ? patternRepeats(e) : 1 / std::clamp(std::fabs(e[kSize]), kLeastSize, 1e9);
    // Quarter turns exactly, so that what repeats a whole number of times still meets at the edges.
    const double degrees = std::remainder(e[kRotation], 360.0), turn = degrees * 3.14159265358979323846 / 180;
    const bool isQuarter = std::fmod(degrees, 90.0) == 0;
    const double c = isQuarter ? std::round(std::cos(turn)) : std::cos(turn),
                 s = isQuarter ? std::round(std::sin(turn)) : std::sin(turn);
    // In the texture pieces begin at its corner.
    const double corner = inTexture ? scale / 2 : 0;
    const auto times = [&](Reg a, double by) {
        return p.emit(arithmeticOp(Arithmetic::Multiply), {a, p.constant(static_cast<float>(by))});
    };
    const double stretch = stretchOf(e);
    const auto placed = [&](Reg x, Reg y, double middle) {
        const Reg first =
            p.emit(kTurned, {x, y},
                   {static_cast<float>(c * scale), static_cast<float>(s * scale), static_cast<float>(middle),
                    static_cast<float>(middle), static_cast<float>(e[kOffsetU] - corner),
                    static_cast<float>(e[kOffsetV] - corner)},
                   2);
        return PatternPoint{first, stretch == 1 ? first + 1 : times(first + 1, 1 / stretch)};
    };
    if (inTexture) {
        PatternPoint at = placed(p.source({PointAttribute::U}, 0), p.source({PointAttribute::V}, 0), 0.5);
        at.covered = times(p.source({PointAttribute::Footprint}, 0), scale);
        return {at};
    }
    const Reg x = meshAttribute(p, SurfaceAttribute::Position, 0),
              y = meshAttribute(p, SurfaceAttribute::Position, 1),
              z = meshAttribute(p, SurfaceAttribute::Position, 2);
    const Reg covered = times(p.source({PointAttribute::Covered}, 0), scale);
    if (space == PatternSpace::Model) {
        PatternPoint at = placed(x, y, 0);
        at.z = times(z, scale);
        at.covered = covered;
        return {at};
    }
    // Seen from each axis's side, upright where there is an up.
    std::vector<PatternPoint> points{placed(z, y, 0), placed(x, z, 0), placed(x, y, 0)};
    const Reg weights = sideWeights(e, meshAttribute(p, SurfaceAttribute::Normal, 0),
                                    meshAttribute(p, SurfaceAttribute::Normal, 1),
                                    meshAttribute(p, SurfaceAttribute::Normal, 2));
    for (std::size_t i = 0; i < 3; ++i)
        points[i].covered = covered, points[i].weight = weights + static_cast<Reg>(i);
    return points;
}

Reg weighted(ProgramBuilder& program, const std::vector<PatternPoint>& points,
             const std::vector<Reg>& values) {
    if (points.front().weight == kNoReg) return values.front();
    const auto times = [&](std::size_t i) {
        return program.emit(arithmeticOp(Arithmetic::Multiply), {values[i], points[i].weight});
    };
    const Op& add = arithmeticOp(Arithmetic::Add);
    return program.emit(add, {times(0), program.emit(add, {times(1), times(2)})});
}

}  // namespace kettle
#endif
