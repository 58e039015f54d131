// Steps and ramps as text: for the clipboard and the shelf.
#include "core/document/json.h"
#include "core/document/json_reader.h"

namespace kettle {
namespace {

using namespace json;
using json::write;

constexpr const char* kStepsFormat = "pale-kettle-steps";
constexpr const char* kRampFormat = "pale-kettle-ramp";
constexpr int kTextVersion = 1;  ///< of copied steps and kept ramps

}  // namespace

std::string stepsToText(const std::vector<Step>& steps, const std::vector<Shared<Recipe>>& recipes) {
    Json j{{"format", kStepsFormat}, {"version", kTextVersion}, {"steps", Json::array()}};
    for (const Step& step : steps) j["steps"].push_back(write(step));
    for (const auto& recipe : recipes) j["recipes"].push_back(write(*recipe));
    return textOf(j, 2) + "\n";
}

Result<std::vector<Step>> stepsFromText(const std::string& text, std::vector<Shared<Recipe>>* recipes) {
    const auto notOurs = [] {
        return fail(ErrorKind::Invalid, "The clipboard holds no steps. Copy some on the board first.");
    };
    try {
        const Json j = parsed(text);
        if (!j.is_object() || j.value("format", "") != kStepsFormat) return notOurs();
        std::vector<Step> steps;
        Reader r(j, "");
        r.each("steps", [&](const Json& s, const std::string& path) { steps.push_back(readStep(s, path)); });
        if (recipes != nullptr)
            r.each("recipes", [&](const Json& one, const std::string& path) {
                recipes->emplace_back(readRecipe(one, path));
            });
        return steps;
    } catch (const Wrong& w) {
        return fail(ErrorKind::Invalid,
                    fmt::format("Cannot paste the steps: {} {}. Copy them again.", w.path, w.what));
    } catch (const Json::exception&) {
        return notOurs();
    }
}

std::string rampToText(const NamedRamp& named) {
    const Json j{{"format", kRampFormat},
                 {"version", kTextVersion},
                 {"name", named.name},
                 {"ramp", write(ControlValue(named.ramp))}};
    return textOf(j, 2) + "\n";
}

Result<NamedRamp> rampFromText(const std::string& text, const std::string& name) {
    const auto wrongRamp = [&](const std::string& what) {
        return fail(ErrorKind::Invalid,
                    fmt::format("Cannot read the ramp {}: {}. Correct the file, or remove it.", name, what));
    };
    try {
        const Json j = parsed(text);
        Reader r(j, "");
        if (r.text("format") != kRampFormat) return wrongRamp("it is not a ramp that was kept here");
        if (r.number("version", kTextVersion) > kTextVersion)
            return fail(ErrorKind::Newer,
                        fmt::format("The ramp {} was kept by a newer Pale Kettle. Take it with the newer "
                                    "program; the file was not changed.",
                                    name));
        NamedRamp named{r.needText("name"), {}};
        const Json* ramp = r.find("ramp");
        if (ramp == nullptr) wrong("ramp", "is missing");
        ControlValue value = readControl(*ramp, "ramp");
        if (!std::holds_alternative<Ramp>(value)) wrong("ramp", "should be an object with stops");
        named.ramp = std::get<Ramp>(std::move(value));
        if (named.ramp.stops.empty()) wrong("ramp.stops", "is empty");
        return named;
    } catch (const Wrong& w) {
        return wrongRamp(fmt::format("{} {}", w.path.empty() ? "it" : w.path, w.what));
    } catch (const Json::exception&) {
        return wrongRamp("it is not complete JSON");
    }
}

}  // namespace kettle
