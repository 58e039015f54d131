// Controls that many steps have, declared once.
#include "core/steps/emitting.h"

namespace kettle {

ControlSpec numberControl(const char* id, const char* name, double standard, double low, double high,
                          const char* unit, const char* tip, int decimals) {
    ControlSpec c{id, name, ControlType::Number, standard, low, high, unit, decimals};
    c.tip = tip;
    return c;
}

ControlSpec choiceControl(const char* id, const char* name, const char* standard, std::vector<Choice> choices,
                          const char* tip) {
    ControlSpec c{id, name, ControlType::Choice, std::string(standard)};
    c.choices = std::move(choices);
    c.tip = tip;
    return c;
}

ControlSpec toggleControl(const char* id, const char* name, bool standard, const char* tip) {
    ControlSpec c{id, name, ControlType::Toggle, standard};
    c.tip = tip;
    return c;
}

FeedSpec maskFeed(const char* what) {
    return {"mask", "Mask", Kind::Scalar, what};
}

ControlSpec worksInControl(NumberSpace standard) {
    ControlSpec c =
        choiceControl("works-in", "Works in", standard == NumberSpace::DisplayEncoded ? "encoded" : "linear",
                      {{"linear", "linear light"}, {"encoded", "display-encoded"}},
                      "The numbers it computes with: light as it adds up, or the numbers of a "
                      "display.");
    c.colourOnly = true;
    return c;
}

ControlSpec worksInControlSinceVersion2() {
    ControlSpec c = worksInControl(NumberSpace::DisplayEncoded);
    c.earlier.push_back({1, std::string("linear")});
    return c;
}

ControlSpec amountControl(double standard) {
    return numberControl("amount", "Amount", standard, 0, 1, "",
                         "How much of the result is taken; at 0 nothing changes.");
}

std::string amountReason(const StepView& v) {
    if (v.number("amount") == 0) return "the amount is 0";
    if (v.feedIs("mask", 0)) return "the mask is black everywhere";
    return {};
}

NumberSpace worksIn(const StepView& v) {
    return v.choice("works-in") == "encoded" ? NumberSpace::DisplayEncoded : NumberSpace::LinearLight;
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

std::vector<ControlSpec> hueBandControls(const std::string& prefix) {
    std::vector<ControlSpec> list{
        numberControl("centre", "Band centre", 0, 0, 360, "°",
                      "The hue in the middle of the band: 0° red, 120° green, 240° blue.", 1),
        numberControl("width", "Band width", 60, 0, 360, "°", "Hues within this width count fully.", 1),
        numberControl("softness", "Band softness", 30, 0, 180, "°",
                      "Over this many degrees on both sides the band fades out.", 1),
        numberControl("threshold", "Grey threshold", 0.05, 0, 0.5, "",
                      "Below this saturation a colour fades out of the band, since greys have no hue.", 3),
        toggleControl("invert", "All but it", false, "Takes everything but the band.")};
    list.front().track = SliderTrack::Hue;
    for (ControlSpec& c : list) {
        c.id = prefix + c.id;
        if (prefix.empty()) continue;
        // Within another step the band is a switch of that name.
        c.colourOnly = true;
        c.shownBy = prefix.substr(0, prefix.size() - 1);
        c.shownFor = {"true"};
    }
    return list;
}

std::vector<float> hueBandParams(const StepView& v, const std::string& prefix) {
    const auto number = [&](const char* id) { return v.number(prefix + id); };
    // Nothing divides by zero: a softness or a threshold of 0 becomes a hard edge.
    return {static_cast<float>(number("centre") / 60), static_cast<float>(number("width") / 120),
            static_cast<float>(60 / std::max(number("softness"), 1e-4)),
            static_cast<float>(1 / std::max(number("threshold"), 1e-6)),
            v.toggle(prefix + "invert") ? 1.0f : 0.0f};
}

}  // namespace kettle
