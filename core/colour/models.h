// Colour models as plain functions on one colour, for the interface, the analysis and the tests. The engine's
// kernels have their vector twins in models-inl.h.
#pragma once

#include "core/base/vec.h"

namespace kettle {

/// Hue in degrees 0..360 (0 for greys), saturation 0..1, value >= 0 and unlimited above. Negative components
/// count as 0.
struct Hsv {
    float hue = 0, saturation = 0, value = 0;
};

/// Source: A. R. Smith, Color Gamut Transform Pairs, 1978 (the hexcone).
Hsv hsvOf(Vec3 rgb);
Vec3 rgbOf(Hsv hsv);

/// Rec.709 weights on linear components (ITU-R BT.709).
inline float luminance(Vec3 linear) {
    return 0.2126f * linear.x + 0.7152f * linear.y + 0.0722f * linear.z;
}

/// OKLab of a linear Rec.709 colour and back. Source: B. Ottosson, A perceptual color space for image
/// processing, 2020.
Vec3 oklabOf(Vec3 linear);
Vec3 linearOfOklab(Vec3 lab);

/// CIE Lab (D65 white, 2 degrees) of a linear Rec.709 colour: L 0..100.
Vec3 cieLabOf(Vec3 linear);

/// Source: Sharma, Wu, Dalal, The CIEDE2000 Color-Difference Formula, 2005.
double ciede2000(Vec3 lab1, Vec3 lab2);

}  // namespace kettle
