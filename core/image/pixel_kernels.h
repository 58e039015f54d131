// Stored pixels to planes of floats and back, what every row of a picture goes through.
#pragma once

#include <cstddef>
#include <cstdint>

namespace kettle {

/// `count` pixels of `channels` (1 to 4) interleaved codes to floats: out[c] gets channel c unless it is
/// null, as the part of 255 or 65535 that it is, and if bit c of `curved` is set decoded from sRGB (IEC
/// 61966-2-1). Accuracy: 7e-7 of the number. The same code always gives the same bits. Threads: safe.
void decodeBytes(const std::uint8_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]);
void decodeWords(const std::uint16_t* pixels, std::size_t count, int channels, unsigned curved,
                 float* const out[]);

/// Planes in 0..1 to interleaved codes: limited, rounded to the nearest, NaN is 0; planes of `curved` are
/// linear and are encoded to sRGB on the way, exactly to 0.01 of a code. `components` 1, 3 or 4. Reads whole
/// blocks: every plane must be padded to a multiple of 16 floats. Threads: safe.
void encodeBytes(const float* const planes[], int components, std::size_t count, unsigned curved,
                 std::uint8_t* out);
/// The same in 16 bits, to 0.05 of a code. How many numbers were infinite or none at all.
std::size_t encodeWords(const float* const planes[], int components, std::size_t count, unsigned curved,
                        std::uint16_t* out);

}  // namespace kettle
