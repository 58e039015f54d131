// What a step looks up in a picture.
#pragma once

#include <string>

#include "core/colour/encoding.h"

namespace kettle {

/// What a step's histogram counts, what its handles point at, and what its kernel changes, in one set of
/// numbers.
struct Reading {
    std::string input{};       ///< the input that is read; empty: what comes in on the line
    std::string component{};   ///< one of componentChoices(); empty: luminance
    std::string model{"rgb"};  ///< whose three components are counted: rgb, hsv, hsl or oklch
    NumberSpace numbers = NumberSpace::DisplayEncoded;  ///< on colour lines
    bool operator==(const Reading&) const = default;
};

}  // namespace kettle
