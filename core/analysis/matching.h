// What Aim and Colour match measure: numbers from pictures, that go into the document as controls.
#pragma once

#include "core/analysis/statistics.h"
#include "core/document/project.h"
#include "core/engine/resources.h"

namespace kettle {

/// A rectangle of texture space.
struct Area {
    float left = 0, bottom = 0, right = 1, top = 1;
};

struct AimResult {
    Project project;     ///< with the step's controls set
    Colour before;       ///< the area's mean as it comes into the step
    Colour after;        ///< the mean as it leaves it now
    double remains = 0;  ///< CIEDE2000 between `after` and the wanted colour
};

/// Measures the area's mean before an Aim step, takes it as the step's "from", and, where hue, saturation and
/// value do the work, solves the trims so that the mean itself lands on the wanted colour: the model is not
/// linear, so a spread of colours does not land where its mean would. Fixed-point iteration, at most 24
/// rounds. Errors: Refused (no such step, not an Aim, an empty area).
Result<AimResult> solveAim(const Project& project, const std::string& look, const std::string& step,
                           Area area, const Resources& resources);

/// Sets the hue band of an HSV shift (switching it on) or of a Hue band step to the mean hue of an area of
/// the colour that it looks at. Errors: Refused (no such step, nothing to look at, an area of greys).
Result<Project> pickBand(const Project& project, const std::string& look, const std::string& step, Area area,
                         const Resources& resources);

/// The mean of an area of a line's result (after a step, or "" for its end); a scalar as a grey. Errors:
/// Refused (no such line, an empty area), Unreadable (a map it needs).
Result<Colour> meanColour(const Project& project, const std::string& look, const std::string& line,
                          const std::string& after, Area area, const Resources& resources);

/// Measures both pictures of a Colour match step over the whole of them. Errors: Refused (no such step,
/// nothing joined as reference).
Result<Project> measureMatch(const Project& project, const std::string& look, const std::string& step,
                             const Resources& resources);

}  // namespace kettle
