// Colour space: reads the numbers as one space of the colour configuration and writes them as another.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr TextHandle kFrom{"from"};
constexpr const char* kRaw = "raw";  ///< the space of what is no colour
constexpr TextHandle kTo{"to"};

void applyTransform(const KernelCall& k) {
    const auto* transform = static_cast<const ColourTransform*>(k.data);
    // The library writes all three; what nobody reads goes to a block of our own.
    alignas(64) float spare[3][kBlock];
    float* out[3];
    for (int c = 0; c < 3; ++c) out[c] = k.out[c] != nullptr ? k.out[c] : spare[c];
    transform->applyPlanes(k.in, out, k.count);
}
const Op kColourSpace{"colour-space", applyTransform};

Value emit(Emitter& e) {
    return convertValue(e.program(), e.colours(), e.input(), e[kFrom], e[kTo]);
}
}  // namespace

Value convertValue(ProgramBuilder& program, const ColourManagement& colours, const Value& value,
                   const std::string& from, const std::string& to) {
    const auto transform = colours.transform(from, to);
    if (transform == nullptr) return value;
    const Reg first = program.emit(kColourSpace, {value.r, value.g, value.b}, {}, 3, transform);
    return {Kind::Colour, first, first + 1, first + 2, value.a};
}

StepSpec colourSpaceStep() {
    StepSpec spec;
    spec.type = "colour-space";
    spec.order = 210;
    spec.name = "Colour space";
    spec.purpose = "Reads the numbers as one colour space and writes them as another.";
    spec.kinds = {Kind::Colour};
    spec.controls = {
        textControl(kFrom, ControlType::Space, "From", "sRGB", "What the numbers are that come in."),
        textControl(kTo, ControlType::Space, "To", "linear Rec.709", "What the numbers are that go out.")};
    spec.example = {kFrom("ACEScg")};
    spec.telling = [](const StepView& v) { return "to " + v[kTo]; };
    spec.noEffect = [](const StepView& v) {
        if (v[kFrom] == v[kTo]) return std::string("both spaces are the same");
        return std::string(v[kFrom] == kRaw || v[kTo] == kRaw ? "raw numbers are left alone" : "");
    };
    spec.emit = emit;
    return spec;
}

}  // namespace kettle
