// Deflate for picture files: many strips at once, on all cores. For the writers of this folder alone.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <vector>

#include "core/base/memory.h"

namespace kettle {

using Bytes = std::vector<std::uint8_t>;

/// Strips of a picture, each compressed for itself.
/// count     how many strips
/// fill      gives strip i's bytes as they are to be compressed; called on any thread, once a strip
/// level     of libdeflate: 1 is fastest, 12 smallest
/// forNoise  the level for strips that it packs as small as `level` does, by a sample; 0: that is not looked
/// at
struct StripJob {
    std::size_t count = 0;
    std::function<Bytes(std::size_t strip)> fill;
    int level = 1;
    int forNoise = 0;
};

/// Each strip as a zlib stream of its own (RFC 1950), as TIFF wants it. Throws std::bad_alloc.
std::vector<Bytes> zlibStrips(const StripJob& job);

/// All strips as the pieces of one zlib stream, as PNG wants it: to be written one behind the other.
/// libdeflate ends whatever it compresses; all but the last piece are opened again, by clearing the mark of
/// their last block and adding an empty stored one, so that they end at a byte (the way of zlib's gzjoin,
/// M. Adler). Throws std::bad_alloc.
std::vector<Bytes> joinedStrips(const StripJob& job);

/// The size that some bytes take when compressed, for choosing between forms of them. Throws std::bad_alloc.
std::size_t deflatedSize(const Bytes& bytes, int level);

/// The check number of PNG's chunks (ISO 3309), going on from `crc`; begin with 0.
std::uint32_t crc32(std::uint32_t crc, const void* bytes, std::size_t count);

}  // namespace kettle
