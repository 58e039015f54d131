// Object value: a number for each object or part of the model, by which copies differ: at random, in their
// order, or by where they stand.
#include <cmath>

#include "core/steps/object_value.h"
#include "core/steps/objects.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/object_value.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

/// One round of PCG as a hash.
template <class DU, class VU = hn::Vec<DU>>
HWY_INLINE VU PcgOf(DU d, VU x) {
    const auto state = hn::Add(hn::Mul(x, hn::Set(d, 747796405u)), hn::Set(d, 2891336453u));
    const auto by = hn::Add(hn::ShiftRight<28>(state), hn::Set(d, 4u));
    const auto word = hn::Mul(hn::Xor(hn::Shr(state, by), state), hn::Set(d, 277803737u));
    return hn::Xor(hn::ShiftRight<22>(word), word);
}

/// in: a whole number; params: the seed, and which of several. The hash's upper 24 bits as 0 up to 1.
void NumberRandom(const KernelCall& k) {
    const hn::ScalableTag<float> d;
    const hn::RebindToUnsigned<decltype(d)> du;
    const hn::RebindToSigned<decltype(d)> di;
    const auto seed = hn::Set(du, static_cast<std::uint32_t>(k.params[0])),
               which = hn::Set(du, static_cast<std::uint32_t>(k.params[1]));
    for (const std::size_t i : VectorsOf(d, k)) {
        const auto number = hn::BitCast(du, hn::ConvertTo(di, hn::Load(d, k.in[0] + i)));
        const auto hash = PcgOf(du, hn::Add(PcgOf(du, hn::Add(PcgOf(du, number), seed)), which));
        const auto upper = hn::ConvertTo(d, hn::BitCast(di, hn::ShiftRight<8>(hash)));
        StoreIf(d, hn::Mul(upper, hn::Set(d, 1.0f / 16777216)), k.out[0], i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
/// A random number, the place in the model's order, or where the middle stands within the model.
enum class CopyReading { Random, Share, Number, X, Y, Z };
constexpr Option<CopyReading> kCopyReadings[] = {
    {CopyReading::Random, "random", "random"}, {CopyReading::Share, "share", "order, 0 to 1"},
    {CopyReading::Number, "number", "number"}, {CopyReading::X, "x", "place across"},
    {CopyReading::Y, "y", "place up"},         {CopyReading::Z, "z", "place in depth"}};
constexpr ChoiceHandle<CopyReading> kReads{"reads", kCopyReadings};

HWY_EXPORT(NumberRandom);
const Op kNumberRandom{"number-random", [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(NumberRandom)(k); }};

CopyNumber numberRead(const StepView& v) {
    using What = CopyNumber::What;
    constexpr What kWhats[] = {What::Number, What::Share, What::Number, What::X, What::Y, What::Z};
    return {v[kDiffersBy] == Copies::Parts, kWhats[static_cast<std::size_t>(v[kReads])]};
}

bool countsParts(const StepView& v) {
    return v[kDiffersBy] == Copies::Parts;
}
}  // namespace

std::vector<ControlSpec> objectControls() {
    return {choiceControl(kDiffersBy, "Differs by", Copies::Objects,
                          "Objects are the model's separate things; parts are their pieces of one material."),
            seedControl(kSeed, "Another number, other random numbers.")};
}

Reg objectNumber(Emitter& e) {
    return meshAttribute(e.program(), CopyNumber{countsParts(e)});
}

Reg objectRandom(Emitter& e, Reg number, int which) {
    const double seed = std::fmod(std::fabs(std::floor(e[kSeed])), 16777216.0);
    return e.program().emit(kNumberRandom, {number}, {static_cast<float>(seed), static_cast<float>(which)});
}

StepSpec objectValueStep() {
    StepSpec spec;
    spec.type = kObjectValue;
    spec.order = 55;
    spec.name = "Object value";
    spec.purpose =
        "A number for each object or part, so that copies differ; a ramp behind it makes a palette.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = objectControls();
    ControlSpec reads =
        choiceControl(kReads, "Reads", CopyReading::Random,
                      "Random by the seed; in the order of the model, as 0 to 1 or counted from 0; or "
                      "where its middle stands within the model.");
    spec.controls[1] = shownWhile(kReads, {CopyReading::Random}, spec.controls[1]);
    spec.controls.insert(spec.controls.begin(), reads);
    spec.telling = [](const StepView& v) {
        const char* const joins = v[kReads] == CopyReading::Random ? "by" : "of";
        return fmt::format("{} {} {}", kReads.idOf(v[kReads]), joins, kDiffersBy.idOf(v[kDiffersBy]));
    };
    spec.emit = [](Emitter& e) {
        const Reg v = e[kReads] == CopyReading::Random ? objectRandom(e, objectNumber(e), 0)
                                                       : meshAttribute(e.program(), numberRead(e));
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
#endif
