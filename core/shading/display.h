// From light to the screen: pictures in display pixels, and the ways there.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/vec.h"
#include "core/colour/colour_management.h"

namespace kettle {

/// 8-bit display pixels, 0xAARRGGBB, rows from the top.
struct Picture {
    int width = 0, height = 0;
    std::vector<std::uint32_t> pixels;
    /// True before anything was rendered.
    bool empty() const { return pixels.empty(); }
};

/// Background greys.
namespace surround {
inline constexpr const char* kPale = "pale";
inline constexpr const char* kMiddle = "middle";
inline constexpr const char* kDark = "dark";
}  // namespace surround
/// Built-in view transforms.
namespace view_transform {
inline constexpr const char* kStandard = "standard";  ///< sRGB
inline constexpr const char* kSoft = "soft";          ///< compresses highlights
}  // namespace view_transform

/// Linear grey of a surround; that of "middle" for an unknown name.
float surroundOf(const std::string& name);
/// Scene-linear to display: exposure in stops, then a view_transform or
/// a view of the colour configuration ("ACES"); a view that is not there shows as standard.
Picture toDisplay(const std::vector<Vec3>& linear, int width, int height, double exposure,
                  const std::string& transform,
                  const ColourManagement& colours = ColourManagement::shipped());
/// The transforms to choose from: "standard", "soft", then the configuration's views.
std::vector<std::string> displayTransforms(const ColourManagement& colours);

}  // namespace kettle
