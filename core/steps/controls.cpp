// Controls that many steps have, declared once.
#include "core/steps/emitting.h"

namespace kettle {

ControlSpec numberControl(NumberHandle handle, const char* name, double standard, double low, double high,
                          const char* unit, const char* tip, int decimals) {
    ControlSpec c{handle.id, name, ControlType::Number, standard, low, high, unit, decimals};
    c.tip = tip;
    return c;
}

ControlSpec seedControl(NumberHandle handle, const char* tip) {
    ControlSpec c = numberControl(handle, "Seed", 1, 1, 100, "", tip, 0);
    c.isRandom = true;
    return c;
}

ControlSpec toggleControl(ToggleHandle handle, const char* name, bool standard, const char* tip) {
    ControlSpec c{handle.id, name, ControlType::Toggle, standard};
    c.tip = tip;
    return c;
}

ControlSpec colourControl(ColourHandle handle, const char* name, Colour standard, const char* tip) {
    ControlSpec c{handle.id, name, ControlType::Colour, standard};
    c.tip = tip;
    return c;
}

ControlSpec rampControl(RampHandle handle, const char* name, Ramp standard, const char* tip) {
    ControlSpec c{handle.id, name, ControlType::Ramp, std::move(standard)};
    c.tip = tip;
    return c;
}

ControlSpec textControl(TextHandle handle, ControlType type, const char* name, const char* standard,
                        const char* tip) {
    ControlSpec c{handle.id, name, type, std::string(standard)};
    c.tip = tip;
    return c;
}

FeedSpec maskFeed(const char* what) {
    return {kMask.id, "Mask", Kind::Scalar, what};
}

ControlSpec worksInControl(NumberSpace standard) {
    ControlSpec c = choiceControl(kWorksIn, "Works in", standard,
                                  "The numbers it computes with: light as it adds up, or the numbers of a "
                                  "display.");
    c.colourOnly = true;
    return c;
}

ControlSpec worksInControlSinceVersion2() {
    ControlSpec c = worksInControl(NumberSpace::DisplayEncoded);
    c.earlier.push_back({1, kWorksIn(NumberSpace::LinearLight).second});
    return c;
}

ControlSpec amountControl(double standard) {
    return numberControl(kAmount, "Amount", standard, 0, 1, "",
                         "How much of the result is taken; at 0 nothing changes.");
}

std::string amountReason(const StepView& v) {
    if (v[kAmount] == 0) return "the amount is 0";
    if (v.feedIs(kMask, 0)) return "the mask is black everywhere";
    return {};
}

NumberSpace worksIn(const StepView& v) {
    return v[kWorksIn];
}

Value workingNumbers(Emitter& e, const Value& light) {
    if (light.kind != Kind::Colour || worksIn(e) == NumberSpace::LinearLight) return light;
    // Steps of version 1 encoded the working space's own components.
    return displayedValue(e.program(), light, e.step().version == 1 ? WorkingSpace{} : e.space());
}

Value lightOfWorking(Emitter& e, const Value& numbers) {
    if (numbers.kind != Kind::Colour || worksIn(e) == NumberSpace::LinearLight) return numbers;
    return lightOfDisplayed(e.program(), numbers, e.step().version == 1 ? WorkingSpace{} : e.space());
}

std::vector<ControlSpec> hueBandControls(const HueBandHandles& band) {
    std::vector<ControlSpec> list{
        numberControl(band.centre, "Band centre", 0, 0, 360, "°",
                      "The hue in the middle of the band: 0° red, 120° green, 240° blue.", 1),
        numberControl(band.width, "Band width", 60, 0, 360, "°", "Hues within this width count fully.", 1),
        numberControl(band.softness, "Band softness", 30, 0, 180, "°",
                      "Over this many degrees on both sides the band fades out.", 1),
        numberControl(band.threshold, "Grey threshold", 0.05, 0, 0.5, "",
                      "Below this saturation a colour fades out of the band, since greys have no hue.", 3),
        toggleControl(band.invert, "All but it", false, "Takes everything but the band.")};
    list.front().track = SliderTrack::Hue;
    return list;
}

std::vector<float> hueBandParams(const StepView& v, const HueBandHandles& band) {
    // Nothing divides by zero: a softness or a threshold of 0 becomes a hard edge.
    return {static_cast<float>(v[band.centre] / 60), static_cast<float>(v[band.width] / 120),
            static_cast<float>(60 / std::max(v[band.softness], 1e-4)),
            static_cast<float>(1 / std::max(v[band.threshold], 1e-6)), v[band.invert] ? 1.0f : 0.0f};
}

}  // namespace kettle
