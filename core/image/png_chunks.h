// The names of a PNG's chunks. Source: PNG (ISO/IEC 15948), 5.6 and 11; cICP: PNG third edition, 11.3.2.6.
#pragma once

namespace kettle::png_chunk {

inline constexpr const char* kHeader = "IHDR";
inline constexpr const char* kPalette = "PLTE";
inline constexpr const char* kTransparency = "tRNS";
inline constexpr const char* kPixels = "IDAT";
inline constexpr const char* kEnd = "IEND";
inline constexpr const char* kSrgb = "sRGB";
inline constexpr const char* kGamma = "gAMA";
inline constexpr const char* kPrimaries = "cHRM";
inline constexpr const char* kProfile = "iCCP";
inline constexpr const char* kCodePoints = "cICP";
inline constexpr const char* kExif = "eXIf";

}  // namespace kettle::png_chunk
