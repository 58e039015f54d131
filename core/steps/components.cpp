// What many steps need of a value: one component of it, its display-encoded twin, and normals as vectors.
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/components.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// params: three weights
void WeightedSum(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto a = hn::Set(d, k.params[0]), b = hn::Set(d, k.params[1]), c = hn::Set(d, k.params[2]);
    for (const std::size_t i : VectorsOf(d, k)) {
        auto y = hn::Mul(hn::Load(d, k.in[0] + i), a);
        y = hn::MulAdd(hn::Load(d, k.in[1] + i), b, y);
        hn::Store(hn::MulAdd(hn::Load(d, k.in[2] + i), c, y), d, k.out[0] + i);
    }
}

/// params: a 3x3 matrix by rows
void Matrix3(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t row = 0; row < 3; ++row) {
        if (k.out[row] == nullptr) continue;
        const float* m = k.params + 3 * row;
        for (const std::size_t i : VectorsOf(d, k))
            hn::Store(Weighted(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i),
                               hn::Load(d, k.in[2] + i), m[0], m[1], m[2]),
                      d, k.out[row] + i);
    }
}

void Minimum3(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(
            hn::Min(hn::Load(d, k.in[0] + i), hn::Min(hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i))), d,
            k.out[0] + i);
}

/// in: from, to, mask; params: amount
void MixBy(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto amount = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto from = hn::Load(d, k.in[0] + i), to = hn::Load(d, k.in[1] + i);
        const auto w = hn::Mul(amount, hn::Load(d, k.in[2] + i));
        const auto y = hn::MulAdd(w, hn::Sub(to, from), from);
        hn::Store(hn::IfThenElse(hn::Eq(w, hn::Zero(d)), from, y), d, k.out[0] + i);
    }
}

void Maximum(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(
            hn::Max(hn::Load(d, k.in[0] + i), hn::Max(hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i))), d,
            k.out[0] + i);
}

void Encode(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(EncodeSrgb(d, hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}

void Decode(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(DecodeSrgb(d, hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}

void NormalFromMap(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto two = hn::Set(d, 2.0f), one = hn::Set(d, 1.0f), side = hn::Set(d, k.params[0]);
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto x = hn::MulSub(hn::Load(d, k.in[0] + i), two, one);
        const auto y = hn::Mul(hn::MulSub(hn::Load(d, k.in[1] + i), two, one), side);
        const auto z = hn::MulSub(hn::Load(d, k.in[2] + i), two, one);
        const auto square = hn::MulAdd(x, x, hn::MulAdd(y, y, hn::Mul(z, z)));
        const auto valid = hn::Gt(square, hn::Set(d, 1e-12f));
        const auto scale = hn::Div(one, hn::Sqrt(hn::IfThenElse(valid, square, one)));
        StoreIf(d, hn::IfThenElseZero(valid, hn::Mul(x, scale)), k.out[0], i);
        StoreIf(d, hn::IfThenElseZero(valid, hn::Mul(y, scale)), k.out[1], i);
        StoreIf(d, hn::IfThenElse(valid, hn::Mul(z, scale), one), k.out[2], i);
    }
}

void HalfShift(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto half = hn::Set(d, 0.5f);
    for (const std::size_t i : VectorsOf(d, k))
        hn::Store(hn::MulAdd(hn::Load(d, k.in[0] + i), half, half), d, k.out[0] + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(WeightedSum);
HWY_EXPORT(Matrix3);
HWY_EXPORT(Minimum3);
HWY_EXPORT(MixBy);
HWY_EXPORT(Maximum);
HWY_EXPORT(Encode);
HWY_EXPORT(Decode);
HWY_EXPORT(NormalFromMap);
HWY_EXPORT(HalfShift);
const Op kWeightedSum{"weighted-sum", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(WeightedSum)(k); }};
const Op kMatrix3{"matrix", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Matrix3)(k); }};
const Op kMinimum3{"minimum-of-three", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Minimum3)(k); }};
const Op kMixBy{"mix", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(MixBy)(k); }};
const Op kMaximum{"maximum", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Maximum)(k); }};
extern const Op kDecode;
const Op kEncode{"encode", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Encode)(k); }, 0, false, &kDecode};
const Op kDecode{"decode", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Decode)(k); }, 0, false, &kEncode};
const Op kNormalFromMap{"normal-from-map", [](const KernelCall& k) {
                            HWY_DYNAMIC_DISPATCH(NormalFromMap)(k);
                        }};
const Op kHalfShift{"half-shift", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HalfShift)(k); }};

}  // namespace

Reg componentOf(ProgramBuilder& program, const Value& value, Component component, const WorkingSpace& space,
                NumberSpace numbers) {
    if (component == Component::Alpha) return value.a != kNoReg ? value.a : program.constant(1.0f);
    if (component == Component::DisplayedGrey)
        return componentOf(program, decodeValue(program, value), Component::Luminance, {},
                           NumberSpace::DisplayEncoded);
    if (numbers == NumberSpace::DisplayEncoded && value.kind == Kind::Colour) {
        if (component == Component::Luminance)
            return program.emit(kEncode, {componentOf(program, value, component, space)});
        return componentOf(program, displayedValue(program, value, space), component);
    }
    if (value.kind == Kind::Scalar) return value.r;
    const std::vector<Reg> rgb{value.r, value.g, value.b};
    switch (component) {
        case Component::Red:
            return value.r;
        case Component::Green:
            return value.g;
        case Component::Blue:
            return value.b;
        case Component::Maximum:
            return program.emit(kMaximum, rgb);
        case Component::Minimum:
            return program.emit(kMinimum3, rgb);
        case Component::Average:
            return program.emit(kWeightedSum, rgb, {1 / 3.0f, 1 / 3.0f, 1 / 3.0f});
        case Component::Hue:
            return toModel(program, value, Model::Hsv, space).r;
        case Component::Saturation:
            return toModel(program, value, Model::Hsv, space).g;
        case Component::Lightness:
            return toModel(program, value, Model::Hsl, space).b;
        case Component::Luminance:
        case Component::Alpha:
        case Component::DisplayedGrey:
            break;
    }
    const Vec3 w = space.luminanceWeights;
    return program.emit(kWeightedSum, rgb, {w.x, w.y, w.z});
}

Value eachComponent(ProgramBuilder& program, const Value& value, const Op& op,
                    const std::vector<float>& params) {
    Value out = value;
    out.r = program.emit(op, {value.r}, params);
    const bool single = value.kind == Kind::Scalar;
    out.g = single ? out.r : program.emit(op, {value.g}, params);
    out.b = single ? out.r : program.emit(op, {value.b}, params);
    return out;
}

Value wholeColour(ProgramBuilder& program, const Value& value, const Op& op,
                  const std::vector<float>& params) {
    const Reg first = program.emit(op, {value.r, value.g, value.b}, params, 3);
    return {Kind::Colour, first, first + 1, first + 2, value.a};
}

Value transformValue(ProgramBuilder& program, const Value& value, const std::array<float, 9>& matrix) {
    return wholeColour(program, value, kMatrix3, {matrix.begin(), matrix.end()});
}

Value mixByAmount(Emitter& e, const Value& from, const Value& to) {
    const auto mask = e.fed(kMask, Kind::Scalar);
    if (!mask && e[kAmount] == 1) return to;
    ProgramBuilder& p = e.program();
    const Reg weight = mask ? mask->r : e.constant(1.0f);
    const std::vector<float> amount{e.real(kAmount)};
    const bool single = from.kind == Kind::Scalar && to.kind == Kind::Scalar;
    Value out = to;
    out.r = p.emit(kMixBy, {from.r, to.r, weight}, amount);
    out.g = single ? out.r : p.emit(kMixBy, {from.g, to.g, weight}, amount);
    out.b = single ? out.r : p.emit(kMixBy, {from.b, to.b, weight}, amount);
    return out;
}

Value encodeValue(ProgramBuilder& program, const Value& value) {
    return eachComponent(program, value, kEncode);
}
Value decodeValue(ProgramBuilder& program, const Value& value) {
    return eachComponent(program, value, kDecode);
}
Value displayedValue(ProgramBuilder& program, const Value& value, const WorkingSpace& space) {
    return encodeValue(program, space.isRec709() ? value : transformValue(program, value, space.toRec709));
}
Value lightOfDisplayed(ProgramBuilder& program, const Value& value, const WorkingSpace& space) {
    const Value light = decodeValue(program, value);
    return space.isRec709() ? light : transformValue(program, light, space.fromRec709);
}
Value encodeNormal(ProgramBuilder& program, const Value& value) {
    return eachComponent(program, value, kHalfShift);
}

Value decodeNormal(ProgramBuilder& program, const Value& raw, bool greenDown) {
    const Reg first = program.emit(kNormalFromMap, {raw.r, raw.g, raw.b}, {greenDown ? -1.0f : 1.0f}, 3);
    return {Kind::Normal, first, first + 1, first + 2, raw.a};
}

}  // namespace kettle
#endif
