// How code speaks of a step's controls and inputs: by constants that bear the type of what the control holds.
// Each is declared once, beside its step, so that a slip in a name or in a type is an error of the compiler.
// The id is the word that stands in the file.
//
//   inline constexpr NumberHandle kHue{"hue"};
//   view[kHue]                                  the number in force, a double
//   Controls{kHue(24.0), kMode(Mode::Screen)}   what a step's controls hold
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <utility>

#include "core/document/project.h"

namespace kettle {

using ControlEntry = Controls::value_type;

/// A control that holds a T: a double, a bool, a Colour (also a triple), a Ramp (also a curve) or a text.
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

/// One value of a choice: its id in files, and its name for people.
template <class E>
struct Option {
    E value;
    const char* id;
    const char* name;
};

/// A control that holds one of an enumeration's values. Borrows its options, which are constants.
template <class E>
struct ChoiceHandle {
    const char* id;
    std::span<const Option<E>> options;

    ControlEntry operator()(E value) const { return {id, ControlValue(std::string(idOf(value)))}; }
    /// The first for an id that is none of them.
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

/// What a step reads beside what comes in.
struct InputHandle {
    const char* id;
};

/// Puts a control's value in place of what was there.
inline void put(Controls& controls, ControlEntry entry) {
    controls.insert_or_assign(entry.first, std::move(entry.second));
}

// What means the same on every step that has it.
inline constexpr NumberHandle kAmount{"amount"};
inline constexpr ToggleHandle kLimit{"limit"};  ///< keeps the result within its ends
inline constexpr InputHandle kMask{"mask"};
inline constexpr InputHandle kOver{"over"};  ///< what is laid over
inline constexpr InputHandle kOf{"of"};      ///< the line that is looked at
/// In a change of a look, in place of a control: whether the step is bypassed.
inline constexpr ToggleHandle kBypass{"bypass"};

}  // namespace kettle
