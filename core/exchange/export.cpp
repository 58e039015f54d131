#include "core/exchange/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/colour/encoding.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/image/pixel_kernels.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::string replaced(std::string text, const std::string& what, const std::string& with) {
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size()))
        text.replace(at, what.size(), with);
    return text;
}

/// File names hold letters, digits and - _ . only, so that they survive every disk and archive.
std::string fileSafe(std::string text) {
    for (char& c : text)
        if (std::isalnum(static_cast<unsigned char>(c)) == 0 && c != '-' && c != '_' && c != '.') c = '-';
    return text;
}

struct LineSize {
    int width = 1024, height = 1024;
    std::vector<int> tiles{1001};
};

/// Size and tiles from the maps that the line's program reads. A map that cannot be read is an error here: an
/// export with a hole in it would be taken for good.
Result<LineSize> sizeOfLine(const Project& project, const Resources& resources, const std::string& look,
                            const Line& line) {
    const Compiled compiled =
        compile(project, project.findLook(look), {{line.id, "", 4, false}}, resources.colours());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    if (!maps.problems.empty()) return fail(ErrorKind::Unreadable, maps.problems.front());
    LineSize size;
    bool first = true;
    std::set<int> tiles;
    for (const auto& map : maps.maps) {
        if (map == nullptr) continue;
        if (first || map->width() > size.width) size.width = map->width(), size.height = map->height();
        first = false;
        if (map->isTiled())
            for (const int tile : map->tiles()) tiles.insert(tile);
    }
    if (!tiles.empty()) size.tiles.assign(tiles.begin(), tiles.end());
    return size;
}

Result<std::vector<const Line*>> linesToExport(const Project& project,
                                               const std::vector<std::string>& names) {
    std::vector<const Line*> lines;
    if (names.empty()) {
        for (const auto& line : project.lines)
            if (!line->channel.empty()) lines.push_back(&*line);
        if (lines.empty())
            return fail(ErrorKind::Refused,
                        "The project drives no channel, so there is nothing to export. Add a line first.");
        return lines;
    }
    for (const std::string& name : names) {
        const Line* line = project.lineOfChannel(name);
        if (line == nullptr) line = project.findLine(name);
        if (line == nullptr) {
            std::string known;
            for (const auto& l : project.lines)
                known += (known.empty() ? "" : ", ") + (l->channel.empty() ? l->id : l->channel);
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no channel {}. It has {}.", name, known));
        }
        lines.push_back(line);
    }
    return lines;
}

/// The map files of all sets, resolved so that links and "../" cannot hide one.
std::set<fs::path> sourceFiles(const Project& project, const Resources& resources) {
    std::set<fs::path> files;
    std::error_code code;
    for (const auto& set : project.sets)
        for (const Map& map : set->maps) {
            const fs::path file = resources.fileOf(*set, map);
            if (map.file.find("<UDIM>") == std::string::npos)
                files.insert(fs::weakly_canonical(file, code));
            else
                for (const int tile : tilesOnDisk(file))
                    files.insert(fs::weakly_canonical(tileFile(file, tile), code));
        }
    return files;
}

template <class T>
T quantise(float v) {
    constexpr float kTop = static_cast<float>(static_cast<T>(~T{0}));
    if (!(v > 0)) return 0;
    return v >= 1 ? static_cast<T>(~T{0}) : static_cast<T>(v * kTop + 0.5f);
}

}  // namespace

Result<std::vector<ExportItem>> planExport(const Project& project, const Resources& resources,
                                           const ExportOptions& options) {
    auto lines = linesToExport(project, options.channels);
    if (!lines) return fail(lines.error());
    std::vector<ExportItem> items;
    std::set<fs::path> names;
    const auto sources = sourceFiles(project, resources);
    for (const std::string& lookId : options.looks) {
        const Look* look = project.findLook(lookId);
        if (!lookId.empty() && look == nullptr)
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no look {}. Choose another.", lookId));
        for (const Line* line : *lines) {
            auto size = sizeOfLine(project, resources, lookId, *line);
            if (!size) return fail(size.error());
            if (options.size > 0) {
                const double scale = static_cast<double>(options.size) / std::max(size->width, size->height);
                size->width = std::max(1, static_cast<int>(std::lround(size->width * scale)));
                size->height = std::max(1, static_cast<int>(std::lround(size->height * scale)));
            }
            std::string name = replaced(options.pattern, "{set}",
                                        project.sets.empty() ? "project" : project.sets.front()->id);
            name = replaced(name, "{look}", lookId.empty() ? "as-received" : lookId);
            name = fileSafe(replaced(name, "{channel}", line->channel.empty() ? line->id : line->channel));
            for (const int tile : size->tiles) {
                const bool tiled = size->tiles.size() > 1 || tile != 1001;
                const fs::path file = options.folder / (name + (tiled ? fmt::format(".{}", tile) : "") +
                                                        extensionOf(options.format));
                std::error_code code;
                if (sources.contains(fs::weakly_canonical(file, code)))
                    return fail(
                        ErrorKind::Refused,
                        fmt::format("{} is one of the project's source maps, which are never written to. "
                                    "Choose another folder or name.",
                                    file.string()));
                if (!names.insert(file).second)
                    return fail(
                        ErrorKind::Refused,
                        fmt::format("Two results would be written to {}. Put {{look}} and {{channel}} into "
                                    "the name.",
                                    file.string()));
                items.push_back({lookId, line->id, tile, size->width, size->height, file});
            }
        }
    }
    return items;
}

Result<void> renderItem(const Project& project, const Resources& resources, const ExportItem& item,
                        FileFormat format, PixelBuffer& pixels, const CancelToken& cancel,
                        const std::function<void(double)>& progress) {
    const Line& line = *project.findLine(item.line);
    const bool scalar = line.kind == Kind::Scalar;
    // Normals are stored as 0..1 in every format; colours are encoded for integers and stay linear in floats.
    const bool encode = line.kind == Kind::Normal || (line.kind == Kind::Colour && !isFloat(format));
    const int components = scalar ? 1 : 3;
    const Compiled compiled = compile(project, project.findLook(item.look),
                                      {{line.id, "", components, encode}}, resources.colours());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    if (!maps.problems.empty()) return fail(ErrorKind::Unreadable, maps.problems.front());
    pixels.reshape(item.width, item.height, components, storageOf(format));
    const auto store = [&]<class T>(T* row, std::size_t count, const float* const* planes, auto convert) {
        for (int c = 0; c < components; ++c) {
            const float* from = planes[compiled.planes[0][static_cast<std::size_t>(c)]];
            for (std::size_t i = 0; i < count; ++i)
                row[i * static_cast<std::size_t>(components) + static_cast<std::size_t>(c)] =
                    convert(from[i]);
        }
    };
    const RowSink sink = [&](int y, int x, std::size_t count, const float* const* planes) {
        const int at = x * components;
        switch (pixels.depth) {
            case Depth::U8: {
                const float* ordered[3]{};
                for (int c = 0; c < components; ++c)
                    ordered[c] = planes[compiled.planes[0][static_cast<std::size_t>(c)]];
                encodeBytes(ordered, components, count, pixels.row<std::uint8_t>(y) + at);
                break;
            }
            case Depth::U16:
                store(pixels.row<std::uint16_t>(y) + at, count, planes, quantise<std::uint16_t>);
                break;
            default:
                store(pixels.row<float>(y) + at, count, planes, [](float v) { return v; });
        }
    };
    if (!runGrid(compiled.program, maps, item.width, item.height, item.tile, sink, cancel, progress))
        return fail(ErrorKind::Cancelled, "The export was stopped. What was finished stays.");
    return {};
}

Result<std::vector<fs::path>> exportMaps(const Project& project, const Resources& resources,
                                         const ExportOptions& options, const CancelToken& cancel,
                                         const std::function<void(ExportProgress)>& progress) {
    auto items = planExport(project, resources, options);
    if (!items) return fail(items.error());
    std::error_code code;
    fs::create_directories(options.folder, code);
    if (code)
        return fail(ErrorKind::Write,
                    fmt::format("Cannot make the folder {}. Choose another.", options.folder.string()),
                    code.message());
    std::vector<fs::path> written;
    PixelBuffer pixels;
    for (std::size_t i = 0; i < items->size(); ++i) {
        const ExportItem& item = (*items)[i];
        const auto tell = [&](double part) {
            if (progress)
                progress({(static_cast<double>(i) + part) / static_cast<double>(items->size()),
                          item.file.filename().string()});
        };
        tell(0);
        const auto done = renderItem(project, resources, item, options.format, pixels, cancel,
                                     [&](double part) { tell(part * 0.8); });
        if (!done) return fail(done.error());
        const bool colour = project.findLine(item.line)->kind == Kind::Colour;
        const std::string tag = colour && !isFloat(options.format) ? encoding::kSrgb : "";
        if (auto saved = writeImage(item.file, pixels, options.format, tag); !saved)
            return fail(saved.error());
        written.push_back(item.file);
        tell(1);
    }
    return written;
}

}  // namespace kettle
