// Reading and writing pictures. The only folder that knows the image library; the rest sees these plain
// types. Rows run from the top of the picture down; texture coordinates run from the bottom up (sampler.h
// turns them).
#pragma once

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <memory>
#include <new>
#include <string>
#include <utility>
#include <vector>

#include "core/base/memory.h"
#include "core/base/protected_files.h"
#include "core/base/result.h"

namespace kettle {

enum class Depth { U8, U16, Half, Float };
const char* nameOf(Depth depth);  ///< "8 bit", "16 bit", "half float", "float"

struct ImageInfo {
    int width = 0, height = 0;  ///< of the picture as it is meant: its display window, turned upright
    int channels = 0;           ///< as readImage gives them: 1 grey, 2 grey and alpha, 3, 4 with alpha
    Depth depth = Depth::U8;
    std::string tag{};   ///< the encoding that the file itself names, or empty; kOwnColours: in its own terms
    std::string told{};  ///< what the file says of its colours, for people: "profile Display P3"
    /// What else can be read from it, by name (EXR): "diffuse" for diffuse.R, .G and .B, "Z". At most
    /// kMostOthers.
    std::vector<std::string> others{};
    static constexpr std::size_t kMostOthers = 64;
};

/// Memory for pixels that are all written before they are read: not cleared.
template <class T>
struct PixelAllocator {
    using value_type = T;
    PixelAllocator() = default;
    /// Allocators are all alike.
    template <class U>
    explicit PixelAllocator(const PixelAllocator<U>&) {}
    /// On large pages where there are some; a pixel's last bytes may be read as four. Throws std::bad_alloc.
    T* allocate(std::size_t count) {
        constexpr std::size_t kBehind = 4;
        return static_cast<T*>(allocatePictureMemory(count * sizeof(T) + kBehind));
    }
    void deallocate(T* memory, std::size_t) { std::free(memory); }
    /// Nothing is done, so that fresh memory is not touched twice.
    template <class U>
    void construct(U*) {}  // what lies there stays
    template <class U, class... Arguments>
    void construct(U* at, Arguments&&... arguments) {
        ::new (static_cast<void*>(at)) U(std::forward<Arguments>(arguments)...);
    }
    bool operator==(const PixelAllocator&) const { return true; }
};

/// Pixels as stored: interleaved, `depth` per component (Half is widened to Float on reading).
struct PixelBuffer {
    int width = 0, height = 0, channels = 0;
    Depth depth = Depth::U8;
    std::vector<std::byte, PixelAllocator<std::byte>> bytes;

    /// Bytes from one row to the next: width times channels times the component's size.
    std::size_t rowBytes() const;
    /// Row y from the top, width times channels numbers of type T, which must be the depth's. 0 <= y <
    /// height.
    template <class T>
    const T* row(int y) const {
        return reinterpret_cast<const T*>(bytes.data() + rowBytes() * static_cast<std::size_t>(y));
    }
    template <class T>
    T* row(int y) {
        return reinterpret_cast<T*>(bytes.data() + rowBytes() * static_cast<std::size_t>(y));
    }
    /// Its pixels are not cleared.
    static PixelBuffer make(int width, int height, int channels, Depth depth);
    /// Gives it another form. Its memory is used again if there is enough: new pages are cleared by the
    /// system, which takes a sixth of the time of computing a map. Its pixels are then of no meaning.
    void reshape(int newWidth, int newHeight, int newChannels, Depth newDepth);
};

/// Encoding of a picture whose colours the file describes in its own terms (a profile, primaries, a gamma);
/// coloursOf() knows how to read them.
inline constexpr const char* kOwnColours = "as the file says";

/// Size and depth from the header alone. `channels`: as readImage takes them. Errors: Missing; Unreadable
/// (also without such channels).
Result<ImageInfo> inspectImage(const std::filesystem::path& file, const std::string& channels = {});

/// All pixels, at most four components, as they are meant: upright (EXIF), the data window laid into the
/// display window (what lies outside is 0), components by their names (red, green, blue and alpha where there
/// are such; else luminance; else the first ones, and nothing that is no colour, such as depth), and alpha
/// apart from the colours. With `channels`, one of ImageInfo::others, those instead. Errors: Missing;
/// Unreadable (also for a file that ends too early, or one without such channels); NoMemory.
Result<PixelBuffer> readImage(const std::filesystem::path& file, const std::string& channels = {});

/// What turns a file's stored colours into linear Rec.709: made of its profile or its primaries and curve.
class FileColours {
public:
    virtual ~FileColours() = default;
    /// `count` interleaved RGB triples in place. Threads: safe.
    virtual void toLinear(float* rgb, std::size_t count) const = 0;
};
/// Null if the file says nothing of its colours. Errors: Missing, Unreadable.
Result<std::shared_ptr<const FileColours>> coloursOf(const std::filesystem::path& file);

enum class FileFormat { Png8, Png16, Tiff16, ExrHalf, ExrFloat, Jpeg };
/// No file is larger, and no side of a picture longer.
inline constexpr std::uintmax_t kLargestFile = std::uintmax_t{64} << 30;
inline constexpr int kLargestSide = 65536;
/// Whether a picture of such a size fits the memory that is left. Errors: NoMemory.
Result<void> fitsMemory(const std::filesystem::path& file, int width, int height, int channels, Depth depth);

/// "png8" … as the batch tool and the export sheet name them.
const char* nameOf(FileFormat format);
/// The format of such a name; false if there is none.
bool fileFormatOf(const std::string& name, FileFormat& out);
/// ".png" and so on.
const char* extensionOf(FileFormat format);
/// What the pixels must be stored as before writing: 8 or 16 bit integers, or floats (a half is rounded on
/// writing).
Depth storageOf(FileFormat format);
/// True for the formats that hold floats.
inline bool isFloat(FileFormat f) {
    return f == FileFormat::ExrHalf || f == FileFormat::ExrFloat;
}

enum class Compression {
    Fast,   ///< quick, and of good size
    Small,  ///< as small as can be without loss, several times as long
    None
};
/// "fast", "small", "none"; false if it is none of them.
bool compressionOf(const std::string& name, Compression& out);
struct WriteChoices {
    Compression compression = Compression::Fast;
    int quality = 95;  ///< of JPEG, 1 to 100
};

/// Encodes in memory, then writes by ProtectedFiles::write. `tag` is written as the file's own encoding.
/// Errors: Refused (a source, a device, a link that leads away), Write, NoMemory, Library.
Result<void> writeImage(const std::filesystem::path& file, const PixelBuffer& pixels, FileFormat format,
                        const std::string& tag, const WriteChoices& choices = {},
                        const ProtectedFiles& sources = {});

}  // namespace kettle
