#include "core/steps/recipe_steps.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/document/network.h"
#include "core/document/recipes.h"

namespace kettle {
namespace {

struct Inner {
    const Step* step = nullptr;
    const StepSpec* spec = nullptr;
    bool isOnLine = false;  ///< of the recipe's own
    Kind kind = Kind::Scalar;
};

Inner innerOf(const Recipe& recipe, const Catalogue& steps, std::string_view id) {
    for (const auto& step : recipe.steps)
        if (step->id == id) return {&*step, steps.find(step->type), false, Kind::Scalar};
    for (const auto& line : recipe.lines)
        for (const auto& step : line->steps)
            if (step->id == id) return {&*step, steps.find(step->type), true, line->kind};
    return {};
}

/// A step of a recipe may be switched off from outside.
ControlSpec bypassControl(const Step* step) {
    ControlSpec made;
    made.id = kBypass.id;
    made.type = ControlType::Toggle;
    made.standard = step != nullptr && step->bypass;
    made.tip = "This step of the recipe passes on what comes in.";
    return made;
}

/// The control as its first target declares it, in the recipe's words.
std::optional<ControlSpec> controlOf(const RecipeControl& told, const Recipe& recipe,
                                     const Catalogue& steps) {
    const Address target = Address::of(told.targets.front());
    const Inner inner = innerOf(recipe, steps, target.step);
    const ControlSpec switchedOff = bypassControl(inner.step);
    const ControlSpec* own = inner.spec == nullptr ? nullptr
                             : target.control == kBypass.id
                                 ? &switchedOff
                                 : inner.spec->findControl(std::string(target.control));
    if (own == nullptr) return std::nullopt;
    ControlSpec made = *own;
    made.id = told.id;
    made.name = told.name;
    made.standard = own->defaultOf(inner.step->version);
    made.earlier.clear();  // the inner step's version says which, and not that of the recipe's step
    made.section = told.section;
    made.low = told.low.value_or(made.low);
    made.high = told.high.value_or(made.high);
    if (!told.unit.empty()) made.unit = told.unit;
    if (!told.tip.empty()) made.tip = told.tip;
    if (const auto set = inner.step->controls.find(own->id);
        set != inner.step->controls.end() && !checkControl(*own, set->second))
        made.standard = set->second;
    // What it hangs on stands inside; on a line of the recipe's own the line's kind is known.
    made.shownBy.clear(), made.shownFor.clear();
    made.ofSet = made.measured = made.hidden = false;
    if (inner.isOnLine) made.kinds.clear(), made.colourOnly = false;
    return made;
}

FeedSpec feedOf(const RecipeFeed& told, const Recipe& recipe, const Catalogue& steps) {
    FeedSpec made{told.id, told.name, std::nullopt, told.tip};
    const Address target = Address::of(told.targets.front());
    const Inner inner = innerOf(recipe, steps, target.step);
    if (inner.spec == nullptr) return made;
    for (const FeedSpec& own : inner.spec->feeds)
        if (own.id == target.control) {
            made.kind = own.kind;
            if (!made.kind && inner.isOnLine) made.kind = inner.kind;
            if (made.tip.empty()) made.tip = own.tip;
        }
    return made;
}

std::string tellingOf(const StepView& v, const ControlSpec& first) {
    switch (first.type) {
        case ControlType::Number:
            return fmt::format("{} {:.{}f}{}", first.name, v[NumberHandle{first.id.c_str()}], first.decimals,
                               first.unit);
        case ControlType::Choice:
            for (const Choice& choice : first.choices)
                if (choice.id == v[TextHandle{first.id.c_str()}]) return choice.name;
            return {};
        default:
            return {};
    }
}

}  // namespace

StepSpec specOfRecipe(const Recipe& recipe, const Catalogue& steps) {
    StepSpec spec;
    spec.type = kRecipe + recipe.id;
    spec.name = recipe.name;
    spec.purpose =
        recipe.purpose.empty() ? fmt::format("{} steps, packed.", recipe.steps.size()) : recipe.purpose;
    spec.order = 1000;
    spec.kinds = recipe.kinds;
    for (const RecipeControl& told : recipe.controls)
        if (auto control = controlOf(told, recipe, steps)) spec.controls.push_back(std::move(*control));
    for (const RecipeFeed& told : recipe.feeds) spec.feeds.push_back(feedOf(told, recipe, steps));
    if (!spec.controls.empty())
        spec.telling = [first = spec.controls.front()](const StepView& v) { return tellingOf(v, first); };
    else
        spec.telling = [](const StepView&) { return std::string(); };
    bool follows = false;
    const auto meet = [&](const Step& step, Kind kind) {
        const StepSpec* own = steps.find(step.type);
        follows = follows || (own != nullptr && own->onModel && own->onModel(StepView(*own, step, kind)));
    };
    for (const auto& step : recipe.steps)
        meet(*step, recipe.kinds.empty() ? Kind::Colour : recipe.kinds.front());
    for (const auto& line : recipe.lines)
        for (const auto& step : line->steps) meet(*step, line->kind);
    if (follows) spec.onModel = [](const StepView&) { return true; };
    spec.emit = [](Emitter& e) { return e.input(); };
    return spec;
}

Catalogue withRecipes(const Catalogue& base, const std::vector<Shared<Recipe>>& recipes) {
    if (recipes.empty()) return base;
    // A recipe of recipes is told by theirs: as often as one may stand within another.
    std::vector<StepSpec> all(base.begin(), base.end());
    const std::size_t shipped = all.size();
    bool isNested = true;
    for (int depth = 0; isNested && depth < 8; ++depth) {
        const Catalogue known(all);
        all.resize(shipped);
        isNested = false;
        for (const auto& recipe : recipes) {
            all.push_back(specOfRecipe(*recipe, known));
            for (const auto& step : recipe->steps) isNested = isNested || step->type.starts_with(kRecipe);
            for (const auto& line : recipe->lines)
                for (const auto& step : line->steps) isNested = isNested || step->type.starts_with(kRecipe);
        }
    }
    return Catalogue(std::move(all));
}

std::string faultOf(const Recipe& recipe, const Catalogue& steps) {
    if (std::string fault = faultOf(recipe); !fault.empty()) return fault;
    const auto unknown = [&](const Step& step) -> std::string {
        // Recipes within recipes are told when the project has them.
        if (step.type.starts_with(kRecipe) || steps.find(step.type) != nullptr) return {};
        return fmt::format("its step {} is a \"{}\", which this program does not know", step.id, step.type);
    };
    for (const auto& step : recipe.steps)
        if (std::string fault = unknown(*step); !fault.empty()) return fault;
    for (const auto& line : recipe.lines)
        for (const auto& step : line->steps)
            if (std::string fault = unknown(*step); !fault.empty()) return fault;
    for (const RecipeControl& told : recipe.controls) {
        const Address target = Address::of(told.targets.front());
        const Inner inner = innerOf(recipe, steps, target.step);
        if (inner.spec == nullptr || target.control == kBypass.id) continue;
        const ControlSpec* own = inner.spec->findControl(std::string(target.control));
        if (own == nullptr)
            return fmt::format("its control {} means {}, which is not there", told.name,
                               told.targets.front());
        if (const auto set = inner.step->controls.find(own->id); set != inner.step->controls.end())
            if (const auto wrong = checkControl(*own, set->second))
                return fmt::format("its {} {}", told.targets.front(), *wrong);
    }
    return {};
}

}  // namespace kettle
