// What the makers of the shipped library share: recipes under construction, and colours as people write them.
#pragma once

#include <initializer_list>
#include <string>
#include <utility>
#include <vector>

#include "core/document/project.h"

namespace kettle::demo {

/// Colours and ramps by display numbers. `text`: hex colours.
Colour linearOf(unsigned rgb);
Ramp rampOfHex(const char* text);
Ramp heldOfHex(const char* text);
Ramp greysOf(const std::vector<std::pair<float, float>>& stops);
Ramp heldGreys(const std::vector<float>& greys);

Feed colourFeed(unsigned rgb);
/// The end of a line of the recipe's own.
Feed ownLine(const char* id);

using Feeds = std::map<std::string, Feed>;

/// A recipe, step by step. Everything it holds is by the ids that are given here.
class RecipeMaker {
public:
    RecipeMaker(const char* name, const char* purpose, std::vector<Kind> kinds);
    RecipeMaker& step(const char* id, const char* type, Controls controls, Feeds feeds = {});
    /// Begins a line of its own; inner() then adds to it.
    RecipeMaker& line(const char* id, const char* name, Kind kind);
    RecipeMaker& inner(const char* id, const char* type, Controls controls, Feeds feeds = {});
    RecipeMaker& control(const char* name, std::vector<std::string> targets, const char* section = "");
    RecipeMaker& control(const char* name, std::vector<std::string> targets, const char* section, double low,
                         double high);
    RecipeMaker& input(const char* id, const char* name, std::vector<std::string> targets,
                       const char* tip = "");
    const Recipe& made() const { return m_recipe; }

private:
    Recipe m_recipe;
};

std::vector<Recipe> shippedRecipes();

}  // namespace kettle::demo
