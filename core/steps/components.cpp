// What many steps need of a value: one component of it, its display-encoded twin, and normals as vectors.
#include "core/steps/step.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/components.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

void Luminance(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        auto y = hn::Mul(hn::Load(d, k.in[0] + i), hn::Set(d, 0.2126f));
        y = hn::MulAdd(hn::Load(d, k.in[1] + i), hn::Set(d, 0.7152f), y);
        hn::Store(hn::MulAdd(hn::Load(d, k.in[2] + i), hn::Set(d, 0.0722f), y), d, k.out[0] + i);
    }
}

void Maximum(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d))
        hn::Store(
            hn::Max(hn::Load(d, k.in[0] + i), hn::Max(hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i))), d,
            k.out[0] + i);
}

void Encode(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d))
        hn::Store(EncodeSrgb(d, hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}

void Decode(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d))
        hn::Store(DecodeSrgb(d, hn::Load(d, k.in[0] + i)), d, k.out[0] + i);
}

void NormalFromMap(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto two = hn::Set(d, 2.0f), one = hn::Set(d, 1.0f), side = hn::Set(d, k.params[0]);
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d)) {
        const auto x = hn::MulSub(hn::Load(d, k.in[0] + i), two, one);
        const auto y = hn::Mul(hn::MulSub(hn::Load(d, k.in[1] + i), two, one), side);
        const auto z = hn::MulSub(hn::Load(d, k.in[2] + i), two, one);
        const auto square = hn::MulAdd(x, x, hn::MulAdd(y, y, hn::Mul(z, z)));
        const auto valid = hn::Gt(square, hn::Set(d, 1e-12f));
        const auto scale = hn::Div(one, hn::Sqrt(hn::IfThenElse(valid, square, one)));
        hn::Store(hn::IfThenElseZero(valid, hn::Mul(x, scale)), d, k.out[0] + i);
        hn::Store(hn::IfThenElseZero(valid, hn::Mul(y, scale)), d, k.out[1] + i);
        hn::Store(hn::IfThenElse(valid, hn::Mul(z, scale), one), d, k.out[2] + i);
    }
}

void HalfShift(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const auto half = hn::Set(d, 0.5f);
    for (std::size_t i = 0; i < k.count; i += hn::Lanes(d))
        hn::Store(hn::MulAdd(hn::Load(d, k.in[0] + i), half, half), d, k.out[0] + i);
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
HWY_EXPORT(Luminance);
HWY_EXPORT(Maximum);
HWY_EXPORT(Encode);
HWY_EXPORT(Decode);
HWY_EXPORT(NormalFromMap);
HWY_EXPORT(HalfShift);
const Op kLuminance{"luminance", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Luminance)(k); }};
const Op kMaximum{"maximum", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Maximum)(k); }};
const Op kEncode{"encode", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Encode)(k); }};
const Op kDecode{"decode", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Decode)(k); }};
const Op kNormalFromMap{"normal-from-map", [](const KernelCall& k) {
                            HWY_DYNAMIC_DISPATCH(NormalFromMap)(k);
                        }};
const Op kHalfShift{"half-shift", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(HalfShift)(k); }};

Value eachComponent(ProgramBuilder& program, const Value& value, const Op& op) {
    return {value.kind, program.emit(op, {value.r}), program.emit(op, {value.g}), program.emit(op, {value.b}),
            value.a};
}
}  // namespace

Reg componentOf(ProgramBuilder& program, const Value& value, const std::string& component) {
    if (component == "alpha") return value.a != kNoReg ? value.a : program.constant(1.0f);
    if (value.kind == Kind::Scalar || component == "red") return value.r;
    if (component == "green") return value.g;
    if (component == "blue") return value.b;
    const Op& op = component == "maximum" ? kMaximum : kLuminance;
    return program.emit(op, {value.r, value.g, value.b});
}

Value encodeValue(ProgramBuilder& program, const Value& value) {
    return eachComponent(program, value, kEncode);
}
Value decodeValue(ProgramBuilder& program, const Value& value) {
    return eachComponent(program, value, kDecode);
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
