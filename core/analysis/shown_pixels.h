// Values as a display shows them, in vectors: what every thumbnail, flat map and spread goes through.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

#include "core/document/project.h"

namespace kettle {

/// Linear to display-encoded, 5e-7 within -1..1 (linearToSrgb is its exact twin). May work in place. Threads:
/// safe.
void encodeForDisplay(const float* linear, std::size_t count, float* encoded);

/// Pixels 0xFFRRGGBB: colours encoded for the display, scalars as greys, normals as 0..1 colours; limited,
/// NaN is black. `planes`: one for a scalar (or the same three times), three for others. Threads: safe.
void showPixels(Kind kind, const std::array<const float*, 3>& planes, std::size_t count, std::uint32_t* out);

}  // namespace kettle
