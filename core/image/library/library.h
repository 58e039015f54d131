// What the module of the image library is made of, behind core/image/picture_library.h.
#pragma once

#include <filesystem>
#include <memory>
#include <string>

#include "core/image/image.h"

namespace kettle::library {

/// The library's names of formats.
inline constexpr const char* kOpenExr = "openexr";
inline constexpr const char* kTiff = "tiff";
inline constexpr const char* kJpeg = "jpeg";

Result<ImageInfo> inspect(const std::filesystem::path& file, const std::string& channels);
Result<PixelBuffer> read(const std::filesystem::path& file, const std::string& channels);
Result<std::shared_ptr<const FileColours>> coloursOf(const std::filesystem::path& file);
Result<std::string> encode(const PixelBuffer& pixels, FileFormat format, const WriteChoices& choices,
                           const std::string& tag, const std::string& name);

}  // namespace kettle::library
