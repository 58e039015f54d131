// A look at an EXR file's header before the library reads it. For read_image.cpp alone.
#pragma once

#include <filesystem>

namespace kettle {

/// False for an EXR file whose header names more bytes than the file has: the library would take memory for
/// all of them before it found out. True for a header that fits, and for any file that is no EXR. Source:
/// OpenEXR file layout, "Header": name, type, size and value of each attribute, an empty name at the end.
bool exrHeaderFits(const std::filesystem::path& file);

}  // namespace kettle
