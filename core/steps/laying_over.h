// Blending something over a line at a gap, as one edit; on normals a stack.
#pragma once

#include <optional>
#include <string>
#include <variant>

#include "core/document/blend_modes.h"
#include "core/steps/catalogue.h"

namespace kettle {

/// A source that begins a line of its own.
struct NewSource {
    std::string name;  ///< of the line
    Step step;
};

/// The input of the blend itself, through a ramp that makes darks darker and lights lighter.
struct RampedCopy {};

struct LaidOver {
    /// A feed joins a line that is there, or is one colour or number.
    std::variant<NewSource, Feed, RampedCopy> what;
    std::optional<BlendMode> mode;  ///< none: the step's own. Normals have none.
    std::optional<double> amount;   ///< 0..1; none: the step's own
};

/// A source as it begins a line for a step at `index` of `line`: one that looks at a colour looks at what
/// comes in there, if that is one.
Step newSource(const StepSpec& spec, const Line& line, std::size_t index);

namespace edits {

/// A new line that reads the input of a step through a ramp, joined to a feed of the step. Errors: Refused
/// (no such step, or a line's source).
Result<Project> feedFromRampedCopy(const Project& project, const std::string& step, const std::string& feed);

/// `step` gets the id of the blend or stack. Errors: Refused (no such line or mode's step, index out of
/// range, a cycle).
Result<Project> layOver(const Project& project, const std::string& look, const std::string& line,
                        std::size_t index, const LaidOver& over, std::string& step);

}  // namespace edits
}  // namespace kettle
