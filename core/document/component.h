// The scalar that is read of a colour.
#pragma once

#include <string>

#include "core/document/handles.h"

namespace kettle {

/// DisplayedGrey: of numbers that are a display's, the luminance of their light, encoded again; for maps.
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
/// Those of any colour: all but the last.
inline constexpr std::span<const Option<Component>> kComponents{kMapComponents,
                                                                std::size(kMapComponents) - 1};

/// Luminance for an empty id and for one that it does not know.
inline Component componentNamed(std::string_view id) {
    return ChoiceHandle<Component>{"", kMapComponents}.valueOf(id);
}
inline const char* idOf(Component component) {
    return ChoiceHandle<Component>{"", kMapComponents}.idOf(component);
}

}  // namespace kettle
