// Palettes from any text: hex colours wherever they stand, or the lines of a palette file (three numbers of 0
// to 255 and a name, as the open .gpl format has them).
#pragma once

#include <string>
#include <vector>

#include "core/base/vec.h"
#include "core/colour/ramp.h"

namespace kettle {

/// The linear colours that a text names, in its order, at most 64. Empty if there are none.
std::vector<Vec3> coloursIn(const std::string& text);

/// A ramp through colours at equal distances, mixed in OKLab; one colour alone makes a plain ramp. At least
/// one.
Ramp rampOfColours(const std::vector<Vec3>& colours);

/// The shipped ramps, by name. `grey`: those for grey lines.
struct RampPreset {
    std::string name;
    Ramp ramp;
};
std::vector<RampPreset> rampPresets(bool grey);

}  // namespace kettle
