// Export: the changed maps, for all channels, looks and tiles that are asked for. Never half-written, sources
// never touched.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/parallel.h"
#include "core/engine/resources.h"
#include "core/image/image.h"

namespace kettle {

struct ExportOptions {
    std::filesystem::path folder;
    std::vector<std::string> looks{""};  ///< "" is the base, as received
    std::vector<std::string> channels;   ///< channel or shared-line ids; empty: every channel that has a line
    int size = 0;  ///< the longer side of a tile in pixels; 0: as the line's largest map
    FileFormat format = FileFormat::Png8;
    std::string pattern = "{set}_{look}_{channel}";  ///< tiles get ".1001" and so on behind it
};

/// One file that an export will write.
struct ExportItem {
    std::string look, line;
    int tile = 1001;
    int width = 0, height = 0;
    std::filesystem::path file;
};

struct ExportProgress {
    double fraction;   ///< 0..1 of everything
    std::string what;  ///< the file that is being made
};

/// What an export would write. Errors: Refused (an unknown look or channel; a pattern that gives two files
/// one name; a file that is one of the project's sources), Missing or Unreadable for a map that has to be
/// read.
Result<std::vector<ExportItem>> planExport(const Project& project, const Resources& resources,
                                           const ExportOptions& options);

/// Writes all items; creates the folder. Returns the files. On an error or a cancel what is finished stays,
/// whole, and nothing half-written is left. Errors: those of planExport; Write; Cancelled.
Result<std::vector<std::filesystem::path>> exportMaps(
    const Project& project, const Resources& resources, const ExportOptions& options,
    const CancelToken& cancel = {}, const std::function<void(ExportProgress)>& progress = {});

/// One item's pixels as they are written, into `pixels`, whose memory is used again; what exportMaps does
/// before writing. Errors: Cancelled, Unreadable.
Result<void> renderItem(const Project& project, const Resources& resources, const ExportItem& item,
                        FileFormat format, PixelBuffer& pixels, const CancelToken& cancel = {},
                        const std::function<void(double)>& progress = {});

}  // namespace kettle
