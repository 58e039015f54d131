// Components of a colour.
#pragma once

#include <string>

#include "core/document/handles.h"

namespace kettle {

/// DisplayedGrey, for maps only: decodes display-encoded numbers, takes the luminance and encodes it again.
enum class Component {
    Luminance,
    Red,
    Green,
    Blue,
    Alpha,
    Maximum,
    Minimum,
    Average,
    Hue,  ///< 0..1 of a turn
    Saturation,
    Lightness,
    DisplayedGrey
};

inline constexpr Option<Component> kMapComponents[] = {{Component::Luminance, "luminance", "Luminance"},
                                                       {Component::Red, "red", "Red"},
                                                       {Component::Green, "green", "Green"},
                                                       {Component::Blue, "blue", "Blue"},
                                                       {Component::Alpha, "alpha", "Alpha"},
                                                       {Component::Maximum, "maximum", "Maximum"},
                                                       {Component::Minimum, "minimum", "Minimum"},
                                                       {Component::Average, "average", "Average"},
                                                       {Component::Hue, "hue", "Hue"},
                                                       {Component::Saturation, "saturation", "Saturation"},
                                                       {Component::Lightness, "lightness", "Lightness"},
                                                       {Component::DisplayedGrey, "grey", "Displayed grey"}};
/// All but DisplayedGrey.
inline constexpr std::span<const Option<Component>> kComponents{kMapComponents,
                                                                std::size(kMapComponents) - 1};

/// Luminance for an empty or unknown id.
inline Component componentNamed(std::string_view id) {
    return ChoiceHandle<Component>{"", kMapComponents}.valueOf(id);
}
inline const char* idOf(Component component) {
    return ChoiceHandle<Component>{"", kMapComponents}.idOf(component);
}

}  // namespace kettle
