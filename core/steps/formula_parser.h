// The formula language: what an artist types into a Formula step, as a tree.
//
//   mix(in, rgb(0.2, 0.4, 0.1), smoothstep(0.3, 0.6, a)) * (1 + 0.1 * sin(360 * u))
//
// Numbers, + - * / % ^, comparisons, && || !, ? :, functions, and the components .r .g .b .a .h .s .v of a
// colour. An operation between a number and a colour works on every component. Angles are degrees.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace kettle::formula {

struct Node;
using Tree = std::unique_ptr<Node>;

struct Node {
    enum class Type {
        Number,    ///< value
        Variable,  ///< name: in, a, b, c, d, u, v
        Call,      ///< name, arguments: an operator or a function
        Component  ///< name: r, g, b, a, h, s or v of the single argument
    } type = Type::Number;
    float value = 0;
    std::string name;
    std::vector<Tree> arguments;
    std::size_t at = 0;  ///< the place in the text, counted from 1
};

/// Errors: Invalid, with what is wrong and at which character.
Result<Tree> parse(const std::string& text);

/// How many arguments a function takes, or -1 if there is none of that name.
int argumentsOf(const std::string& function);
/// All functions with their arguments, for the reference: "clamp(x, low, high)".
const std::vector<std::string>& functionList();

}  // namespace kettle::formula
