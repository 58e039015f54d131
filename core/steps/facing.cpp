// Facing: white where the model's surface looks in a direction.
#include <fmt/format.h>

#include "core/steps/emitting.h"

namespace kettle {
namespace {
constexpr NumberHandle kWidth{"width"};
constexpr NumberHandle kTilt{"tilt"};
constexpr NumberHandle kTurn{"turn"};
constexpr NumberHandle kSoftness{"softness"};
}  // namespace

StepSpec facingStep() {
    StepSpec spec;
    spec.type = "facing";
    spec.order = 51;
    spec.name = "Facing";
    spec.purpose = "White where the surface looks up, or wherever it is told: for dust, snow, sun and rain.";
    spec.source = true;
    spec.onModel = [](const StepView&) { return true; };
    spec.kinds = {Kind::Scalar, Kind::Colour};
    spec.controls = {
        numberControl(kTilt, "Tilt", 90, -90, 90, "°", "90 is straight up, 0 to the side, -90 straight down.",
                      1),
        numberControl(kTurn, "Turn", 0, -180, 180, "°", "Around the vertical; 0 is to the front.", 1),
        numberControl(kWidth, "Width", 60, 0, 180, "°", "Up to this angle from there it is half white.", 1),
        numberControl(kSoftness, "Softness", 30, 0, 90, "°",
                      "Over how many degrees it goes from white to black.", 1)};
    spec.telling = [](const StepView& v) { return fmt::format("{:.0f}°", v[kWidth]); };
    spec.emit = [](Emitter& e) {
        ProgramBuilder& p = e.program();
        constexpr double kDegree = 3.14159265358979323846 / 180;
        const double tilt = e[kTilt] * kDegree, turn = e[kTurn] * kDegree;
        const std::array<double, 3> d{std::sin(turn) * std::cos(tilt), std::sin(tilt),
                                      std::cos(turn) * std::cos(tilt)};
        const auto n = [&](int c) { return meshAttribute(p, SurfaceAttribute::Normal, c); };
        const auto part = [&](int c) {
            return p.emit(arithmeticOp(Arithmetic::Multiply),
                          {n(c), e.constant(static_cast<float>(d[static_cast<std::size_t>(c)]))});
        };
        const Op& add = arithmeticOp(Arithmetic::Add);
        const Reg cosine = p.emit(add, {part(0), p.emit(add, {part(1), part(2)})});
        // Cosines fall with the angle: the far end of the soft edge is the smaller one.
        const double width = std::clamp(e[kWidth], 0.0, 180.0),
                     soft = std::max(0.05, std::fabs(e[kSoftness])) / 2;
        const auto cosineOf = [&](double degrees) {
            // Beyond 0 and 180 degrees the cosine would turn back.
            return static_cast<float>(degrees < 0     ? 2 - std::cos(degrees * kDegree)
                                      : degrees > 180 ? -2 - std::cos(degrees * kDegree)
                                                      : std::cos(degrees * kDegree));
        };
        const Reg v =
            p.emit(arithmeticOp(Arithmetic::SmoothStep),
                   {cosine, e.constant(cosineOf(width + soft)), e.constant(cosineOf(width - soft))});
        return Value{e.kind(), v, v, v, kNoReg};
    };
    return spec;
}

}  // namespace kettle
