// Palettes from any text: hex colours and rgb() wherever they stand, the lines of a palette file (three
// numbers of 0 to 255 and a name), or else the colours that CSS has names for.
#pragma once

#include <string>
#include <vector>

#include "core/base/vec.h"
#include "core/colour/ramp.h"
#include "core/document/project.h"

namespace kettle {

/// The linear colours that a text names, in its order, at most 64. Empty if there are none.
std::vector<Vec3> coloursIn(const std::string& text);

/// A ramp through colours at equal distances, mixed in OKLab; one colour alone makes a plain ramp. At least
/// one.
Ramp rampOfColours(const std::vector<Vec3>& colours);

/// Colours that go with one.
enum class Harmony { Opposite, Neighbours, ThreeAround, Lightness };
/// The colour itself is among them. Hue turns and lightness steps are of OKLab (its hue angle and lightness);
/// what a display cannot show is taken towards its grey. A grey keeps being grey.
std::vector<Vec3> harmonyOf(Vec3 linear, Harmony harmony);

/// Every colour a project holds in controls, feeds, ramps and looks, each once, as far as a display tells
/// them apart; in the order of its lines, at most 64.
std::vector<Vec3> coloursOf(const Project& project);

/// The shipped ramps, by name. `grey`: those for grey lines.
struct RampPreset {
    std::string name;
    Ramp ramp;
};
/// In the order of the menu; never empty.
std::vector<RampPreset> rampPresets(bool grey);

}  // namespace kettle
