// The quick way into plain PNG files, which most maps are. For read_image.cpp alone.
#pragma once

#include <string_view>

#include "core/image/image.h"

namespace kettle {

/// The pixels of a PNG file of 8 or 16 bits a component without palette, transparent colour or interlacing,
/// into `pixels`, which has the picture's form already. False for anything else, and for whatever is wrong
/// with the file: the image library then reads it, or says what it is. Throws std::bad_alloc. Source: ISO/IEC
/// 15948 (PNG).
bool decodePlainPng(std::string_view file, PixelBuffer& pixels);

}  // namespace kettle
