#include "core/image/deflate.h"

#include <libdeflate.h>
#include <zlib.h>

#include <algorithm>
#include <memory>
#include <new>

#include "core/threads/parallel.h"

namespace kettle {
namespace {

struct FreeCompressor {
    void operator()(libdeflate_compressor* c) const { libdeflate_free_compressor(c); }
};
using Compressor = std::unique_ptr<libdeflate_compressor, FreeCompressor>;

Compressor compressorOf(int level) {
    Compressor made(libdeflate_alloc_compressor(level));
    if (!made) throw std::bad_alloc();
    return made;
}

std::size_t deflated(const Compressor& by, const std::uint8_t* bytes, std::size_t count, Bytes& out) {
    out.resize(libdeflate_deflate_compress_bound(by.get(), count));
    return libdeflate_deflate_compress(by.get(), bytes, count, out.data(), out.size());
}

/// True if the quicker of two packs as small: noise, in which looking for what comes again finds nothing. By
/// a few rows from the middle.
bool isNoise(const Bytes& raw, const Compressor& usual, const Compressor& quick) {
    constexpr std::size_t kSample = std::size_t{1} << 16;
    if (raw.size() < 4 * kSample) return false;
    const std::uint8_t* const sample = raw.data() + raw.size() / 2;
    Bytes out;
    const std::size_t size = deflated(quick, sample, kSample, out);
    // What packs well is none, and the other need not be asked.
    return size > kSample / 2 &&
           static_cast<double>(size) <= 1.002 * static_cast<double>(deflated(usual, sample, kSample, out));
}

/// Where in a deflate stream the header of its last block and its end lie, in bits.
struct Ends {
    std::size_t lastBlock = 0, end = 0;
};

/// Walks over the blocks; what comes out is thrown away. The stream is one of ours, so it is whole.
Ends endsOf(const Bytes& stream) {
    z_stream walker{};
    if (inflateInit2(&walker, -15) != Z_OK) throw std::bad_alloc();
    const std::unique_ptr<z_stream, int (*)(z_stream*)> ends(&walker, inflateEnd);
    Bytes thrown(std::size_t{1} << 18);
    walker.next_in = const_cast<Bytef*>(stream.data());
    walker.avail_in = static_cast<uInt>(stream.size());
    Ends found;
    bool isLast = (stream.front() & 1) != 0;
    int state = Z_OK;
    while (state == Z_OK) {
        walker.next_out = thrown.data();
        walker.avail_out = static_cast<uInt>(thrown.size());
        state = inflate(&walker, Z_BLOCK);
        const bool atBlock = (walker.data_type & 128) != 0;
        if (!atBlock || state == Z_BUF_ERROR) continue;
        const std::size_t bit = walker.total_in * 8 - static_cast<std::size_t>(walker.data_type & 7);
        found.end = bit;
        if (isLast) break;
        if (bit / 8 < stream.size() && (stream[bit / 8] >> (bit % 8) & 1) != 0) {
            isLast = true;
            found.lastBlock = bit;
        }
    }
    return found;
}

/// Turns a finished stream into the beginning of one that goes on at a byte.
void openAgain(Bytes& stream) {
    const Ends ends = endsOf(stream);
    std::uint8_t& marked = stream[ends.lastBlock / 8];
    marked = static_cast<std::uint8_t>(marked & ~(1u << (ends.lastBlock % 8)));
    // The header of an empty stored block is three bits of 0, and what is left of the last byte is 0 already.
    stream.resize((ends.end + 3 + 7) / 8, 0);
    stream.insert(stream.end(), {0x00, 0x00, 0xFF, 0xFF});
}

}  // namespace

std::vector<Bytes> zlibStrips(const StripJob& job) {
    std::vector<Bytes> strips(job.count);
    parallelFor(job.count, 1, [&](std::size_t begin, std::size_t end) {
        const Compressor usual = compressorOf(job.level), quick = compressorOf(std::max(job.forNoise, 1));
        for (std::size_t s = begin; s < end; ++s) {
            const Bytes raw = job.fill(s);
            const Compressor& compressor = job.forNoise != 0 && isNoise(raw, usual, quick) ? quick : usual;
            Bytes& out = strips[s];
            out.resize(libdeflate_zlib_compress_bound(compressor.get(), raw.size()));
            out.resize(
                libdeflate_zlib_compress(compressor.get(), raw.data(), raw.size(), out.data(), out.size()));
            out.shrink_to_fit();
        }
    });
    return strips;
}

std::vector<Bytes> joinedStrips(const StripJob& job) {
    std::vector<Bytes> strips(job.count);
    std::vector<std::uint32_t> checks(job.count);
    std::vector<std::size_t> sizes(job.count);
    parallelFor(job.count, 1, [&](std::size_t begin, std::size_t end) {
        const Compressor compressor = compressorOf(job.level);
        for (std::size_t s = begin; s < end; ++s) {
            const Bytes raw = job.fill(s);
            checks[s] = libdeflate_adler32(1, raw.data(), raw.size());
            sizes[s] = raw.size();
            Bytes& out = strips[s];
            out.resize(libdeflate_deflate_compress_bound(compressor.get(), raw.size()));
            out.resize(libdeflate_deflate_compress(compressor.get(), raw.data(), raw.size(), out.data(),
                                                   out.size()));
            if (s + 1 < job.count) openAgain(out);
            out.shrink_to_fit();
        }
    });
    uLong check = 1;
    for (std::size_t s = 0; s < job.count; ++s)
        check = adler32_combine(check, checks[s], static_cast<z_off_t>(sizes[s]));
    // RFC 1950: deflate with a window of 32 KB, fastest method; the check number stands at the end.
    strips.front().insert(strips.front().begin(), {0x78, 0x01});
    for (int shift = 24; shift >= 0; shift -= 8)
        strips.back().push_back(static_cast<std::uint8_t>(check >> shift));
    return strips;
}

std::size_t deflatedSize(const Bytes& bytes, int level) {
    const Compressor compressor = compressorOf(level);
    Bytes out;
    return deflated(compressor, bytes.data(), bytes.size(), out);
}

std::uint32_t crc32(std::uint32_t crc, const void* bytes, std::size_t count) {
    // The library takes no bytes at all for a wish to begin anew.
    return count == 0 ? crc : libdeflate_crc32(crc, bytes, count);
}

}  // namespace kettle
