// TIFF 6.0: the container by its own library, the strips compressed on all cores (Adobe deflate with the
// horizontal predictor), which the image library does one after the other with a slower deflate.
#include <tiffio.h>

#include <algorithm>
#include <bit>
#include <cstring>
#include <stdexcept>

#include "core/image/deflate.h"
#include "core/image/encode.h"

namespace kettle {
namespace {

/// The file while it grows in memory; what the library asks for.
struct Memory {
    std::string bytes;
    toff_t at = 0;
    static Memory& of(thandle_t handle) { return *static_cast<Memory*>(handle); }
    static tsize_t read(thandle_t handle, void* to, tsize_t count) {
        Memory& m = of(handle);
        const auto left = m.at < m.bytes.size() ? m.bytes.size() - m.at : 0;
        const auto taken = std::min<std::size_t>(left, static_cast<std::size_t>(count));
        std::memcpy(to, m.bytes.data() + m.at, taken);
        m.at += taken;
        return static_cast<tsize_t>(taken);
    }
    // No exception may pass through the library, which is written in C.
    static tsize_t write(thandle_t handle, void* from, tsize_t count) noexcept {
        Memory& m = of(handle);
        const auto end = m.at + static_cast<toff_t>(count);
        try {
            if (end > m.bytes.size()) m.bytes.resize(end);
        } catch (...) {
            return 0;
        }
        std::memcpy(m.bytes.data() + m.at, from, static_cast<std::size_t>(count));
        m.at = end;
        return count;
    }
    static toff_t seek(thandle_t handle, toff_t offset, int whence) {
        Memory& m = of(handle);
        m.at = whence == SEEK_SET ? offset : whence == SEEK_CUR ? m.at + offset : m.bytes.size() + offset;
        return m.at;
    }
    static int close(thandle_t) { return 0; }
    static toff_t size(thandle_t handle) { return of(handle).bytes.size(); }
};

/// Each number less the one before it of the same component (TIFF 6.0, section 14); 8 bits or 16.
template <class T>
void difference(T* row, std::size_t count, std::size_t channels) {
    for (std::size_t i = count; i-- > channels;) row[i] = static_cast<T>(row[i] - row[i - channels]);
}

}  // namespace

std::string encodeTiff(const PixelBuffer& pixels, Compression compression) {
    // TIFF has no mark for its colours short of a whole profile.
    constexpr std::size_t kStripBytes = std::size_t{1} << 20;
    const std::size_t rowBytes = pixels.rowBytes(), channels = static_cast<std::size_t>(pixels.channels);
    const int rowsPerStrip = static_cast<int>(std::max<std::size_t>(1, kStripBytes / rowBytes));
    StripJob job;
    job.count = static_cast<std::size_t>((pixels.height + rowsPerStrip - 1) / rowsPerStrip);
    job.level = compression == Compression::Small ? 9 : compression == Compression::None ? 0 : 6;
    job.forNoise = compression == Compression::Fast ? 1 : 0;
    job.fill = [&](std::size_t strip) {
        const int first = static_cast<int>(strip) * rowsPerStrip,
                  last = std::min(pixels.height, first + rowsPerStrip);
        Bytes out(rowBytes * static_cast<std::size_t>(last - first));
        std::memcpy(out.data(), pixels.row<std::uint8_t>(first), out.size());
        if (job.level == 0) return out;
        for (int y = 0; y < last - first; ++y) {
            std::uint8_t* row = out.data() + rowBytes * static_cast<std::size_t>(y);
            const std::size_t count = static_cast<std::size_t>(pixels.width) * channels;
            if (pixels.depth == Depth::U16)
                difference(reinterpret_cast<std::uint16_t*>(row), count, channels);
            else
                difference(row, count, channels);
        }
        return out;
    };
    std::vector<Bytes> strips;
    if (job.level == 0)
        for (std::size_t s = 0; s < job.count; ++s) strips.push_back(job.fill(s));
    else
        strips = zlibStrips(job);

    Memory memory;
    std::size_t size = 4096;
    for (const Bytes& s : strips) size += s.size() + 16;
    memory.bytes.reserve(size);
    // Above 4 GB only the larger form can say where things lie.
    const char* mode = size > (std::size_t{4} << 30) - (std::size_t{1} << 20) ? "w8" : "w";
    TIFF* file = TIFFClientOpen("memory", mode, &memory, Memory::read, Memory::write, Memory::seek,
                                Memory::close, Memory::size, nullptr, nullptr);
    if (file == nullptr) throw std::runtime_error("the TIFF library gives no file");
    TIFFSetField(file, TIFFTAG_IMAGEWIDTH, static_cast<std::uint32_t>(pixels.width));
    TIFFSetField(file, TIFFTAG_IMAGELENGTH, static_cast<std::uint32_t>(pixels.height));
    TIFFSetField(file, TIFFTAG_BITSPERSAMPLE, pixels.depth == Depth::U16 ? 16 : 8);
    TIFFSetField(file, TIFFTAG_SAMPLESPERPIXEL, pixels.channels);
    TIFFSetField(file, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    TIFFSetField(file, TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
    TIFFSetField(file, TIFFTAG_PHOTOMETRIC, channels >= 3 ? PHOTOMETRIC_RGB : PHOTOMETRIC_MINISBLACK);
    TIFFSetField(file, TIFFTAG_ROWSPERSTRIP, static_cast<std::uint32_t>(rowsPerStrip));
    TIFFSetField(file, TIFFTAG_COMPRESSION, job.level == 0 ? COMPRESSION_NONE : COMPRESSION_ADOBE_DEFLATE);
    if (job.level != 0) TIFFSetField(file, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
    const std::uint16_t apart[] = {EXTRASAMPLE_UNASSALPHA};
    if (channels == 2 || channels == 4) TIFFSetField(file, TIFFTAG_EXTRASAMPLES, 1, apart);
    bool isWritten = true;
    for (std::size_t s = 0; s < strips.size() && isWritten; ++s) {
        isWritten = TIFFWriteRawStrip(file, static_cast<std::uint32_t>(s), strips[s].data(),
                                      static_cast<tmsize_t>(strips[s].size())) >= 0;
        strips[s] = {};
    }
    isWritten = isWritten && TIFFFlush(file) == 1;
    TIFFClose(file);
    if (!isWritten) throw std::bad_alloc();
    return std::move(memory.bytes);
}

}  // namespace kettle
