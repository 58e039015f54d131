// One file of an export: rendered, written, and recorded, so that what is up to date need not be made again.
// What exports from the window, from the batch tool and on a farm are made of.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/exchange/export.h"

namespace kettle {

/// Beside the files, hidden: a record for each that was made, of what it depends on (identity.h), its size
/// and when it was written.
std::filesystem::path recordOf(const std::filesystem::path& file);

enum class FileState { Missing, Done, Outdated };
/// By the record and by what the disk tells of the file, which is not read: one that somebody has changed
/// since is outdated.
FileState stateOf(const std::filesystem::path& file, const std::string& identity);

/// What a file of an export holds, in words of people and manifests: "sRGB", "raw", or the colour space that
/// was asked for.
std::string encodingOf(const Project& project, const ExportItem& item, FileFormat format);

/// What is said of a file's colours in the file itself; empty where nothing is.
std::string tagOf(const Project& project, const ExportItem& item, FileFormat format);

struct MadeItem {
    bool wasUpToDate = false;         ///< nothing was done
    std::optional<Error> unrecorded;  ///< the file is whole, but what it depends on could not be kept
};

/// Renders, writes and records one item. `sources` is asked about the file right before it is written.
/// `pixels`: memory that is used again. Threads: safe for items of different files. Errors: those of
/// renderItem and writeImage; what was there before then stays.
Result<MadeItem> makeItem(const Project& project, const Resources& resources, const ExportItem& item,
                          const std::string& identity, FileFormat format, const WriteChoices& choices,
                          const ProtectedFiles& sources, PixelBuffer& pixels, std::vector<std::string>& notes,
                          const CancelToken& cancel = {}, const std::function<void(double)>& progress = {});

}  // namespace kettle
