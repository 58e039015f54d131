// Typed identifiers of a step's controls and inputs. Each is declared once, next to its step, so that a wrong
// name or type is a compile error. The id is what a project file contains.
//
//   inline constexpr NumberHandle kHue{"hue"};
//   view[kHue]                                  the current value, a double
//   Controls{kHue(24.0), kMode(Mode::Screen)}   a step's controls
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <utility>

#include "core/document/project.h"

namespace kettle {

using ControlEntry = Controls::value_type;

/// A control with a value of type T: double, bool, Colour (also triples), Ramp (also curves) or text.
template <class T>
struct Handle {
    const char* id;
    ControlEntry operator()(T value) const { return {id, ControlValue(std::move(value))}; }
};
using NumberHandle = Handle<double>;
using ToggleHandle = Handle<bool>;
using ColourHandle = Handle<Colour>;
using RampHandle = Handle<Ramp>;
using TextHandle = Handle<std::string>;

/// One value of a choice: its id in files and its display name.
template <class E>
struct Option {
    E value;
    const char* id;
    const char* name;
};

/// A control with an enumeration as value. Does not own its options, which are constants.
template <class E>
struct ChoiceHandle {
    const char* id;
    std::span<const Option<E>> options;

    ControlEntry operator()(E value) const { return {id, ControlValue(std::string(idOf(value)))}; }
    /// The first option for an unknown id.
    E valueOf(std::string_view valueId) const {
        for (const Option<E>& option : options)
            if (valueId == option.id) return option.value;
        return options.front().value;
    }
    const char* idOf(E value) const { return optionOf(value).id; }
    const char* nameOf(E value) const { return optionOf(value).name; }

private:
    const Option<E>& optionOf(E value) const {
        for (const Option<E>& option : options)
            if (option.value == value) return option;
        return options.front();
    }
};

/// A further input of a step.
struct InputHandle {
    const char* id;
};

/// Sets a control, replacing its value.
inline void put(Controls& controls, ControlEntry entry) {
    controls.insert_or_assign(entry.first, std::move(entry.second));
}

// Controls and inputs that mean the same in every step that has them.
inline constexpr NumberHandle kAmount{"amount"};
inline constexpr ToggleHandle kLimit{"limit"};  ///< clamps the result
inline constexpr InputHandle kMask{"mask"};
inline constexpr InputHandle kOver{"over"};  ///< the upper layer of a blend
inline constexpr InputHandle kOf{"of"};      ///< the line that is analysed
/// In the changes of a look: bypasses the step.
inline constexpr ToggleHandle kBypass{"bypass"};

}  // namespace kettle
