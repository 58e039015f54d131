// Curves: its type and controls, for code outside the step.
#pragma once

#include "core/steps/reading.h"

namespace kettle::curves {

inline constexpr RampHandle kAll{"all"}, kFirst{"first"}, kSecond{"second"}, kThird{"third"};
inline constexpr Option<Model> kCurveModels[] = {{Model::Encoded, "encoded", "RGB as displayed"},
                                                 {Model::Rgb, "rgb", "RGB in linear light"},
                                                 {Model::Hsv, "hsv", "HSV"},
                                                 {Model::Hsl, "hsl", "HSL"},
                                                 {Model::Oklch, "oklch", "OKLCh"}};
inline constexpr ChoiceHandle<Model> kModel{"model", kCurveModels};

}  // namespace kettle::curves
