// The formula language: what an artist types into a Formula step, as a tree.
//
//   mix(in, rgb(0.2, 0.4, 0.1), smoothstep(0.3, 0.6, a)) * (1 + 0.1 * sin(360 * u))
//
// Numbers, + - * / % ^, comparisons, && || !, ? :, functions, and the components .r .g .b .a .h .s .v of a
// colour. An operation between a number and a colour works on every component. Angles are degrees.
#pragma once

#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "core/base/result.h"
#include "core/steps/arithmetic.h"

namespace kettle::formula {

struct Node;
using Tree = std::unique_ptr<Node>;

/// The input, the lines a to d, and the texture coordinates u, v.
enum class Variable { In, A, B, C, D, U, V };
/// .r .g .b .a .h .s .v
enum class Part { Red, Green, Blue, Alpha, Hue, Saturation, Value };
/// Functions that do not work component by component; Rgb and Hsv build a colour from three numbers.
enum class Special { Rgb, Hsv, Luminance, Not, And, Or };
/// Arguments are in the order of the formula: step(edge, x) and smoothstep(low, high, x) end with x.
using Operation = std::variant<Arithmetic, Special>;

struct Node {
    /// A number, a variable, an operator or function of the arguments, or a part of the single argument.
    std::variant<float, Variable, Operation, Part> what;
    std::vector<Tree> arguments;
    std::size_t at = 0;  ///< the place in the text, counted from 1
};

/// Errors: Invalid, with what is wrong and at which character.
Result<Tree> parse(const std::string& text);

/// All functions with their arguments, for the reference: "clamp(x, low, high)".
const std::vector<std::string>& functionList();

}  // namespace kettle::formula
