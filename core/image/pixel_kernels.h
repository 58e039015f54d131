// Stored pixels to planes of floats and back, what every row of a picture goes through.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kettle {

/// `count` pixels of `channels` (1 to 4) interleaved bytes through a table of 256 floats: out[c] gets channel
/// c unless it is null. Bit for bit table[byte].   Threads: safe.
void decodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, const float* table,
                 float* const out[]);

/// Planes in 0..1 to interleaved bytes: limited, rounded to the nearest code, NaN is 0. `components` 1, 3
/// or 4. Reads whole blocks: every plane must be padded to a multiple of 16 floats.
void encodeBytes(const float* const planes[], int components, std::size_t count, std::uint8_t* out);

}  // namespace kettle
