// Export: the changed maps, for all channels, looks and tiles that are asked for. Never half-written, sources
// never touched.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/engine/resources.h"
#include "core/exchange/packed_map.h"
#include "core/image/image.h"
#include "core/threads/parallel.h"

namespace kettle {

struct ExportOptions {
    std::filesystem::path folder;
    std::vector<std::string> looks{""};  ///< "" is the base, as received
    std::vector<std::string> channels;   ///< channel or shared-line ids; empty: every channel that has a line
    std::vector<std::string> surfaces;   ///< ids; empty: all
    /// One file for each object of the surface where a line differs from object to object; else one file in
    /// which, where several share a place, the object is shown that the view names.
    bool eachObject = false;
    int size = 0;  ///< the longer side of a tile in pixels; 0: as the line's largest map
    FileFormat format = FileFormat::Png8;
    WriteChoices choices;
    bool dither = false;  ///< files of 8 bits keep finer steps by an ordered pattern (packed_map.h)
    /// What colours are written in: one of exportSpaces(); empty: sRGB in integers, linear Rec.709 in floats.
    std::string space;
    bool again = false;     ///< what is up to date is made all the same
    bool manifest = false;  ///< "manifest.json" beside the files (manifest.h)
    /// Files that hold several channels; channels that are in none keep a file of their own.
    std::vector<PackedFile> packed;
    /// Tiles get ".1001" and so on behind it. Empty: defaultPattern().
    std::string pattern;
};

/// True if any line that drives a channel differs from object to object, as its steps stand.
bool differsByObject(const Project& project);

/// "{set}_{look}_{channel}", and of several surfaces "{surface}_{look}_{channel}".
std::string defaultPattern(const Project& project);

/// One file that an export will write.
struct ExportItem {
    std::string look, line;
    int tile = 1001;
    int width = 0, height = 0;
    std::filesystem::path file;
    std::string object{};  ///< whose; empty: of all
    /// Of a packed file what each component holds; empty: the line alone. `line` is then the first of them.
    std::vector<PackedComponent> components{};
    bool isTiled = false;
    bool dither = false;
    std::string space{};  ///< of its colours, as ExportOptions has it
};

struct ExportProgress {
    double fraction;   ///< 0..1 of everything
    std::string what;  ///< the file that is being made
};

struct Exported {
    std::vector<std::filesystem::path> files;
    std::vector<std::filesystem::path> unchanged;  ///< of them: those that were up to date
    std::vector<std::string> notes;                ///< what is whole but perhaps not meant: a sentence each
};

/// Colour spaces that files say of themselves and other programs know: sRGB, linear Rec.709, Display P3 and
/// ACEScg.
const std::vector<std::string>& exportSpaces();

/// What an export would write, without reading a pixel. Errors: Refused (an unknown look or channel; a
/// pattern that gives two files one name; a file that is one of the project's sources, by whatever name),
/// Missing or Unreadable for a map that has to be read.
Result<std::vector<ExportItem>> planExport(const Project& project, const Resources& resources,
                                           const ExportOptions& options);

/// About how many bytes the files will have on the disk: raw ones exactly, compressed ones as such maps
/// usually come out (half of it for integers, two thirds for floats, a tenth for JPEG).
std::uint64_t bytesExpected(const std::vector<ExportItem>& items, const Project& project, FileFormat format,
                            Compression compression);

/// Writes all items, as many at a time as there are cores and memory for; creates the folder. What an earlier
/// export has written and nothing has changed since is not written again. On an error or a cancel what is
/// finished stays, whole, and nothing half-written is left. `progress` is called on any thread, one call at a
/// time. Errors: those of planExport; NoMemory (with the size that would fit); Write,
/// also before anything is begun if the disk has less room than half of what is expected; Cancelled.
Result<Exported> exportMaps(const Project& project, const Resources& resources, const ExportOptions& options,
                            const CancelToken& cancel = {},
                            const std::function<void(ExportProgress)>& progress = {});

/// One item's pixels as they are written, into `pixels`, whose memory is used again; what exportMaps does
/// before writing. A colour that has an alpha keeps it, but for JPEG. `notes` gets what is worth telling.
/// Errors: Cancelled, Unreadable, NoMemory.
Result<void> renderItem(const Project& project, const Resources& resources, const ExportItem& item,
                        FileFormat format, PixelBuffer& pixels, std::vector<std::string>& notes,
                        const CancelToken& cancel = {}, const std::function<void(double)>& progress = {});

}  // namespace kettle
