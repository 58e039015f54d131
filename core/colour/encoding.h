// Encodings: how a stored number becomes light, and back. sRGB is here in full, since everything on the
// screen and most maps use it; the other spaces go through colour_management.h.
#pragma once

#include <array>
#include <string>
#include <string_view>

namespace kettle {

/// The space of a step's numbers on a colour line: light as it adds up, or the numbers of a display (sRGB
/// curve, extended odd-symmetrically). Scalar and normal lines are raw, whatever is said.
enum class NumberSpace { LinearLight, DisplayEncoded };

/// Display-encoded to linear. IEC 61966-2-1, the exact piecewise curve, extended odd-symmetrically to
/// negatives.
float srgbToLinear(float encoded);
/// Linear to display-encoded; the inverse of srgbToLinear to within 1e-6 on 0..1.
float linearToSrgb(float linear);

/// The linear value of each 8-bit sRGB code.
const std::array<float, 256>& srgbTable();

/// 0..1 to 0..255, rounded to nearest, limited; NaN becomes 0.
unsigned char toByte(float value);

/// "#RRGGBB" of a linear colour as the screen shows it.
std::string hexOfLinear(float r, float g, float b);
/// Reads "#RRGGBB" or "RRGGBB" (any case) into linear; false if the text is not a colour.
bool linearOfHex(std::string_view text, float& r, float& g, float& b);

namespace encoding {
inline constexpr const char* kAuto = "auto";
inline constexpr const char* kSrgb = "sRGB";
inline constexpr const char* kLinear = "linear Rec.709";
inline constexpr const char* kRaw = "raw";
inline constexpr const char* kDisplayP3 = "Display P3";
inline constexpr const char* kAcescg = "ACEScg";
}  // namespace encoding

}  // namespace kettle
