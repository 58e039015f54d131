// What an artist asks for by pointing at a place of the picture: a step or a mask made from what is there,
// and which steps made it so.
#pragma once

#include <string>
#include <vector>

#include "core/analysis/matching.h"
#include "core/document/project.h"
#include "core/engine/resources.h"

namespace kettle {

/// The place on a line behind which a step is put: after the step `after` ("" for the line's end).
struct LinePlace {
    std::string line, after;
};

/// A project with something added, and the step of it that is to be chosen next.
struct PlaceEdit {
    Project project;
    std::string step;
};

/// An HSV shift behind the place, its hue band on the hill of hues around the area's mean hue, as the whole
/// picture has it: from valley to valley. In a look (not "") it works in that look alone. Errors: Refused (no
/// such line, no colour line, an area of greys), Unreadable.
Result<PlaceEdit> shiftHueAt(const Project& project, const std::string& look, const LinePlace& place,
                             Area area, const Resources& resources);
/// An Aim behind the place from the area's mean, aimed at that same colour: nothing changes until another is
/// chosen. Errors: as above, but greys are taken.
Result<PlaceEdit> aimAt(const Project& project, const std::string& look, const LinePlace& place, Area area,
                        const Resources& resources);
/// A shared line with a mask of what lies near the area's mean hue, or near its value, as the place shows it;
/// joined as the mask of the step `user` if that has one free. Errors: as shiftHueAt; for a value greys are
/// taken.
Result<PlaceEdit> maskFromHue(const Project& project, const std::string& look, const LinePlace& place,
                              Area area, const std::string& user, const Resources& resources);
Result<PlaceEdit> maskFromValue(const Project& project, const std::string& look, const LinePlace& place,
                                Area area, const std::string& user, const Resources& resources);
/// A stop on the ramp of a Ramp remap where it looks the place up, of the colour that is there already.
/// Errors: Refused (not a Ramp remap).
Result<PlaceEdit> rampStopAt(const Project& project, const std::string& look, const std::string& step,
                             float u, float v, const Resources& resources);

/// How much one step changed a place.
struct PlaceChange {
    std::string line, step;
    /// Of colours CIEDE2000; of greys and normals the largest component's change, in hundredths.
    double difference = 0;
};
/// The steps on the channels' lines of a surface ("" for a project without) that changed the place, those
/// that changed it most first; what changed it by less than 0.01 is left out.
std::vector<PlaceChange> whatMakes(const Project& project, const std::string& look,
                                   const std::string& surface, float u, float v, const Resources& resources);

}  // namespace kettle
