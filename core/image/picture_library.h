// The image library behind a door: it brings two hundred others with it, which take a third of a second to
// load, and most maps are plain PNG files that do not need it. It lies in a module of its own, which is
// loaded when it is first asked for.
#pragma once

#include <filesystem>
#include <memory>
#include <mutex>
#include <string>

#include "core/image/image.h"

namespace kettle {

/// What readImage, inspectImage, coloursOf and encodeImage ask for. Threads: safe.
class PictureLibrary {
public:
    virtual ~PictureLibrary() = default;
    virtual Result<ImageInfo> inspect(const std::filesystem::path& file,
                                      const std::string& channels) const = 0;
    virtual Result<PixelBuffer> read(const std::filesystem::path& file,
                                     const std::string& channels) const = 0;
    virtual Result<std::shared_ptr<const FileColours>> coloursOf(const std::filesystem::path& file) const = 0;
    /// EXR or JPEG as the bytes of a file.
    virtual Result<std::string> encode(const PixelBuffer& pixels, FileFormat format,
                                       const WriteChoices& choices, const std::string& tag,
                                       const std::string& name) const = 0;
};

/// Loads it on the first call; the next ones get the same. Threads: safe. Errors: Library (the module is not
/// there or cannot be loaded).
Result<const PictureLibrary*> pictureLibrary();

/// Whoever forks without another program to follow holds this meanwhile: a child that is split off while a
/// module is being loaded finds the loader's locks taken for ever.
std::mutex& pictureLibraryMutex();

/// The module's one function.
inline constexpr const char* kPictureLibraryEntry = "kettlePictureLibrary";
using PictureLibraryEntry = const PictureLibrary* (*)();

}  // namespace kettle
