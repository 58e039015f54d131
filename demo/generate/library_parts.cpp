#include "demo/generate/library_parts.h"

#include "core/base/names.h"
#include "core/colour/encoding.h"
#include "core/exchange/library.h"
#include "core/exchange/palette.h"

namespace kettle::demo {
Colour linearOf(unsigned rgb) {
    const auto part = [rgb](int shift) {
        return srgbToLinear(static_cast<float>(rgb >> shift & 0xffu) / 255.0f);
    };
    return {part(16), part(8), part(0)};
}

Ramp rampOfHex(const char* text) {
    return rampOfColours(coloursIn(text));
}

Ramp heldOfHex(const char* text) {
    Palette palette;
    palette.colours = coloursIn(text);
    return rampOf(palette, true);
}

Ramp greysOf(const std::vector<std::pair<float, float>>& stops) {
    Ramp ramp;
    ramp.stops.clear();
    for (const auto& [at, grey] : stops) ramp.stops.push_back({at, {grey, grey, grey}});
    return ramp;
}

Ramp heldGreys(const std::vector<float>& greys) {
    Ramp ramp;
    ramp.interpolation = RampInterpolation::Hold;
    ramp.stops.clear();
    for (std::size_t i = 0; i < greys.size(); ++i)
        ramp.stops.push_back(
            {static_cast<float>(i) / static_cast<float>(greys.size()), {greys[i], greys[i], greys[i]}});
    return ramp;
}

Feed colourFeed(unsigned rgb) {
    Feed feed;
    feed.constant = linearOf(rgb);
    return feed;
}

Feed ownLine(const char* id) {
    Feed feed;
    feed.line = id;
    return feed;
}

RecipeMaker::RecipeMaker(const char* name, const char* purpose, std::vector<Kind> kinds) {
    m_recipe.name = name;
    m_recipe.id = stemOf(name, "recipe");
    m_recipe.purpose = purpose;
    m_recipe.author = "Pale Kettle";
    m_recipe.kinds = std::move(kinds);
}

RecipeMaker& RecipeMaker::step(const char* id, const char* type, Controls controls, Feeds feeds) {
    Step step;
    step.id = id;
    step.type = type;
    step.controls = std::move(controls);
    step.feeds = std::move(feeds);
    m_recipe.steps.emplace_back(std::move(step));
    return *this;
}

RecipeMaker& RecipeMaker::line(const char* id, const char* name, Kind kind) {
    Line line;
    line.id = id;
    line.name = name;
    line.kind = kind;
    m_recipe.lines.emplace_back(std::move(line));
    return *this;
}

RecipeMaker& RecipeMaker::inner(const char* id, const char* type, Controls controls, Feeds feeds) {
    Step step;
    step.id = id;
    step.type = type;
    step.controls = std::move(controls);
    step.feeds = std::move(feeds);
    m_recipe.lines.back().edit().steps.emplace_back(std::move(step));
    return *this;
}

RecipeMaker& RecipeMaker::control(const char* name, std::vector<std::string> targets, const char* section) {
    RecipeControl control;
    control.name = name;
    control.id = stemOf(name, "recipe");
    control.section = section;
    control.targets = std::move(targets);
    m_recipe.controls.push_back(std::move(control));
    return *this;
}

RecipeMaker& RecipeMaker::control(const char* name, std::vector<std::string> targets, const char* section,
                                  double low, double high) {
    control(name, std::move(targets), section);
    m_recipe.controls.back().low = low;
    m_recipe.controls.back().high = high;
    return *this;
}

RecipeMaker& RecipeMaker::input(const char* id, const char* name, std::vector<std::string> targets,
                                const char* tip) {
    m_recipe.feeds.push_back({id, name, std::move(targets), tip});
    return *this;
}

}  // namespace kettle::demo
