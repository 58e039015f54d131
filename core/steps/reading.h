// What a step looks up in a picture.
#pragma once

#include <string>

#include "core/colour/encoding.h"
#include "core/document/component.h"

namespace kettle {

/// Colour models. A hue is stored as 0..1 of a turn.
enum class Model { Rgb, Encoded, Hsv, Hsl, Oklab, Oklch, CieLab, Xyz };
inline constexpr Option<Model> kModels[] = {{Model::Rgb, "rgb", "RGB, linear light"},
                                            {Model::Encoded, "encoded", "RGB as displayed"},
                                            {Model::Hsv, "hsv", "HSV"},
                                            {Model::Hsl, "hsl", "HSL"},
                                            {Model::Oklab, "oklab", "OKLab"},
                                            {Model::Oklch, "oklch", "OKLCh"},
                                            {Model::CieLab, "lab", "CIE Lab"},
                                            {Model::Xyz, "xyz", "CIE XYZ"}};

/// What a step's histogram counts, what its handles point at, and what its kernel changes, in one set of
/// numbers.
struct Reading {
    std::string input{};  ///< the input that is read; empty: what comes in on the line
    Component component = Component::Luminance;
    Model model = Model::Rgb;  ///< whose three components are counted: Rgb, Hsv, Hsl or Oklch
    NumberSpace numbers = NumberSpace::DisplayEncoded;  ///< on colour lines
    bool operator==(const Reading&) const = default;
};

}  // namespace kettle
