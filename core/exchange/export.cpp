#include "core/exchange/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <optional>
#include <set>
#include <utility>

#include "core/colour/encoding.h"
#include "core/document/recipes.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/engine/source_files.h"
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

/// Size and tiles from the headers of the maps that the line's program reads. A map that cannot be read is an
/// error here: an export with a hole in it would be taken for good.
Result<LineSize> sizeOfLine(const Project& project, const Resources& resources, const std::string& look,
                            const Line& line) {
    const Compiled compiled =
        compile(project, project.findLook(look), {{line.id, "", 4, false}}, resources.rules());
    LineSize size;
    bool first = true;
    std::set<int> tiles;
    for (const SourceKey& key : compiled.program.sources) {
        if (key.kind != SourceKind::Map) continue;
        const TextureSet* set = project.findSet(key.set);
        const Map* map = set != nullptr ? findMap(*set, key.role) : nullptr;
        if (map == nullptr)
            return fail(
                ErrorKind::Missing,
                fmt::format("The project has no map {} in the set {}. Bring the set in again, or choose "
                            "another map.",
                            key.role, key.set));
        const auto info = resources.infoOf(*set, *map);
        if (!info) return fail(info.error());
        if (first || info->width > size.width) size.width = info->width, size.height = info->height;
        first = false;
        if (isTilePattern(map->file))
            for (const int tile : tilesOnDisk(resources.fileOf(*set, *map))) tiles.insert(tile);
    }
    if (!tiles.empty()) size.tiles.assign(tiles.begin(), tiles.end());
    return size;
}

/// The lines of one name: a channel, of every surface that is asked for, or any line by its id.
std::vector<const Line*> linesCalled(const Project& project, const std::string& name,
                                     const std::vector<std::string>& surfaces) {
    std::vector<const Line*> lines;
    for (const std::string& surface : surfaces)
        if (const Line* line = project.lineOfChannel(name, surface)) lines.push_back(line);
    if (lines.empty())
        if (const Line* line = project.findLine(name)) lines.push_back(line);
    return lines;
}

Result<std::vector<const Line*>> linesToExport(const Project& project, const ExportOptions& options) {
    std::vector<std::string> surfaces = options.surfaces;
    if (surfaces.empty()) surfaces = surfaceIds(project);
    for (const std::string& surface : options.surfaces)
        if (project.findSurface(surface) == nullptr)
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no surface {}. Choose another.", surface));
    std::vector<const Line*> lines;
    if (options.channels.empty()) {
        for (const auto& line : project.lines)
            if (!line->channel.empty() &&
                std::find(surfaces.begin(), surfaces.end(), line->surface) != surfaces.end())
                lines.push_back(&*line);
        if (lines.empty())
            return fail(ErrorKind::Refused,
                        "The project drives no channel, so there is nothing to export. Add a line first.");
        return lines;
    }
    for (const std::string& name : options.channels) {
        const auto called = linesCalled(project, name, surfaces);
        if (called.empty()) {
            std::string known;
            for (const auto& l : project.lines)
                known += (known.empty() ? "" : ", ") + (l->channel.empty() ? l->id : l->channel);
            return fail(ErrorKind::Refused,
                        fmt::format("The project has no channel {}. It has {}.", name, known));
        }
        lines.insert(lines.end(), called.begin(), called.end());
    }
    return lines;
}

/// The set that a surface's line begins with; else the project's first.
std::string setOfLine(const Project& project, const Line& line) {
    const bool isOfSet = !line.steps.empty() && !line.steps.front()->set.empty();
    if (!project.surfaces.empty() && isOfSet) return line.steps.front()->set;
    return project.sets.empty() ? "project" : project.sets.front()->id;
}

/// The objects that a line is written for, one by one: those of its surface, if it differs between them.
std::vector<std::string> objectsOf(const Project& project, const Resources& resources,
                                   const std::string& look, const Line& line, bool each) {
    if (!each) return {""};
    const Program program =
        compile(project, project.findLook(look), {wantOfLine(line)}, resources.rules()).program;
    const bool differs = std::any_of(
        program.sources.begin(), program.sources.end(),
        [](const SourceKey& key) { return key.kind == SourceKind::Model && isOfThings(key.role); });
    const auto facts = differs ? resources.facts(project) : nullptr;
    if (facts == nullptr) return {""};
    const std::vector<std::string> surfaces = surfaceIds(project);
    std::vector<std::string> names;
    for (const ModelThing& thing : facts->things()) {
        const std::vector<int> of = surfacesOfParts(project, thing.parts);
        if (std::any_of(of.begin(), of.end(), [&](int s) {
                return s >= 0 && surfaces[static_cast<std::size_t>(s)] == line.surface;
            }))
            names.push_back(thing.name);
    }
    if (names.empty()) names.emplace_back();
    return names;
}

std::string nameOfFile(const Project& project, std::string pattern, const Line& line, const std::string& look,
                       const std::string& object) {
    if (object.empty())
        pattern = replaced(replaced(pattern, "_{object}", ""), "{object}", "");
    else if (pattern.find("{object}") == std::string::npos)
        pattern += "_{object}";
    pattern = replaced(pattern, "{object}", object);
    std::string name = replaced(pattern, "{set}", setOfLine(project, line));
    name = replaced(name, "{surface}", line.surface.empty() ? "surface" : line.surface);
    name = replaced(name, "{look}", look.empty() ? "as-received" : look);
    return fileSafe(replaced(name, "{channel}", line.channel.empty() ? line.id : line.channel));
}

template <class T>
T quantise(float v) {
    constexpr float kTop = static_cast<float>(static_cast<T>(~T{0}));
    if (!(v > 0)) return 0;
    return v >= 1 ? static_cast<T>(~T{0}) : static_cast<T>(v * kTop + 0.5f);
}

}  // namespace

std::string defaultPattern(const Project& project) {
    return project.surfaces.size() > 1 ? "{surface}_{look}_{channel}" : "{set}_{look}_{channel}";
}

Result<std::vector<ExportItem>> planExport(const Project& project, const Resources& resources,
                                           const ExportOptions& options) {
    auto lines = linesToExport(project, options);
    if (!lines) return fail(lines.error());
    const std::string pattern = options.pattern.empty() ? defaultPattern(project) : options.pattern;
    std::vector<ExportItem> items;
    std::set<fs::path> names;
    const SourceFiles sources(project, resources);
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
            for (const std::string& object :
                 objectsOf(project, resources, lookId, *line, options.eachObject)) {
                const std::string name = nameOfFile(project, pattern, *line, lookId, object);
                for (const int tile : size->tiles) {
                    const bool tiled = size->tiles.size() > 1 || tile != 1001;
                    const fs::path file = options.folder / (name + (tiled ? fmt::format(".{}", tile) : "") +
                                                            extensionOf(options.format));
                    if (auto free = sources.mayWrite(file); !free) return fail(free.error());
                    std::error_code code;
                    if (!names.insert(fs::weakly_canonical(file, code)).second)
                        return fail(
                            ErrorKind::Refused,
                            fmt::format("Two results would be written to {}. Put {} into the name.",
                                        file.string(),
                                        project.surfaces.size() > 1 ? "{surface}, {look} and {channel}"
                                                                    : "{look} and {channel}"));
                    items.push_back({lookId, line->id, tile, size->width, size->height, file, object});
                }
            }
        }
    }
    return items;
}

namespace {

/// False if the alpha of a want is 1 everywhere: a constant, or of maps that have none.
bool hasAlpha(const Compiled& compiled, const ResolvedMaps& maps) {
    const Program& program = compiled.program;
    const Reg alpha = program.outputs[static_cast<std::size_t>(compiled.planes[0][3])];
    for (const ConstantReg& c : program.constants)
        if (c.reg == alpha) return c.value != 1.0f;
    for (const SourceReg& s : program.sourceRegs)
        if (s.reg == alpha) {
            const MapImage* map = maps.maps[static_cast<std::size_t>(s.source)].get();
            return map != nullptr && map->channels() % 2 == 0;
        }
    return true;
}

std::size_t bytesOf(const ExportItem& item, FileFormat format) {
    const Depth depth = storageOf(format);
    return static_cast<std::size_t>(item.width) * static_cast<std::size_t>(item.height) * 4 *
           (depth == Depth::U8    ? 1
            : depth == Depth::U16 ? 2
                                  : 4);
}

/// What fits is found before anything is begun: one file and what it is encoded into, beside what is there.
Result<void> fitsMemory(const std::vector<ExportItem>& items, FileFormat format) {
    for (const ExportItem& item : items) {
        const std::size_t bytes = 2 * bytesOf(item, format);
        const std::uint64_t left = memoryLeft();
        if (bytes <= left) continue;
        const double shrink = std::sqrt(static_cast<double>(left) / static_cast<double>(bytes));
        int side = 1;
        while (2 * side <= static_cast<int>(std::max(item.width, item.height) * shrink)) side *= 2;
        return needMemory(bytes, "export " + item.file.string(),
                          fmt::format("Choose a size of {} or less.", side));
    }
    return {};
}

class Exporter {
public:
    Exporter(const Project& project, const Resources& resources, const ExportOptions& options,
             const std::vector<ExportItem>& items, const CancelToken& cancel,
             const std::function<void(ExportProgress)>& progress)
        : m_project(project),
          m_resources(resources),
          m_options(options),
          m_items(items),
          m_cancel(cancel),
          m_progress(progress),
          m_parts(items.size(), 0),
          m_notes(items.size()),
          m_isWritten(items.size(), false) {}

    void make(std::size_t index) {
        if (m_cancel.isCancelled() || m_isFailed) return;
        const ExportItem& item = m_items[index];
        auto done = guarded("export " + item.file.string(), [&] { return makeItem(index); });
        const std::lock_guard lock(m_mutex);
        m_isWritten[index] = done.has_value();
        if (done || m_error) return;
        m_isFailed = true;
        m_error = done.error();
    }
    Result<Exported> result() const {
        if (m_error) return fail(*m_error);
        Exported made;
        for (std::size_t i = 0; i < m_items.size(); ++i) {
            if (!m_isWritten[i])
                return fail(ErrorKind::Cancelled, "The export was stopped. What was finished stays.");
            made.files.push_back(m_items[i].file);
            made.notes.insert(made.notes.end(), m_notes[i].begin(), m_notes[i].end());
        }
        return made;
    }

private:
    Result<void> makeItem(std::size_t index) {
        const ExportItem& item = m_items[index];
        tell(index, 0);
        PixelBuffer pixels = takeBuffer();
        auto done = renderItem(m_project, m_resources, item, m_options.format, pixels, m_notes[index],
                               m_cancel, [&](double part) { tell(index, part * 0.5); });
        if (!done) return done;
        const bool colour = kindGiven(*m_project.findLine(item.line)) == Kind::Colour;
        const std::string tag = colour && !isFloat(m_options.format) ? encoding::kSrgb : "";
        done = writeImage(item.file, pixels, m_options.format, tag, m_options.choices);
        if (!done) return done;
        tell(index, 1);
        const std::lock_guard lock(m_mutex);
        m_buffers.push_back(std::move(pixels));
        return {};
    }
    /// Memory that an earlier file used: fresh pages cost a sixth of the time of computing a map.
    PixelBuffer takeBuffer() {
        const std::lock_guard lock(m_mutex);
        if (m_buffers.empty()) return {};
        PixelBuffer buffer = std::move(m_buffers.back());
        m_buffers.pop_back();
        return buffer;
    }
    void tell(std::size_t index, double part) {
        if (!m_progress) return;
        const std::lock_guard lock(m_mutex);
        m_sum += part - std::exchange(m_parts[index], part);
        m_progress({m_sum / static_cast<double>(m_items.size()), m_items[index].file.filename().string()});
    }

    const Project& m_project;
    const Resources& m_resources;
    const ExportOptions& m_options;
    const std::vector<ExportItem>& m_items;
    const CancelToken& m_cancel;
    const std::function<void(ExportProgress)>& m_progress;
    std::mutex m_mutex;
    std::atomic<bool> m_isFailed{false};
    std::optional<Error> m_error;
    std::vector<double> m_parts;
    double m_sum = 0;
    std::vector<std::vector<std::string>> m_notes;
    std::vector<char> m_isWritten;
    std::vector<PixelBuffer> m_buffers;
};

}  // namespace

bool differsByObject(const Project& project) {
    // Steps of recipes count as well.
    const Project open = withoutRecipes(project, nullptr).project;
    for (const auto& line : open.lines)
        for (const auto& step : line->steps)
            if (step->type == "vary" || step->type == "object-value") return true;
    return false;
}

Result<void> renderItem(const Project& all, const Resources& resources, const ExportItem& item,
                        FileFormat format, PixelBuffer& pixels, std::vector<std::string>& notes,
                        const CancelToken& cancel, const std::function<void(double)>& progress) {
    Project project = all;
    if (!item.object.empty()) project.view.object = item.object;
    const Line& line = *project.findLine(item.line);
    const Kind kind = kindGiven(line);
    // Normals are stored as 0..1 in every format; colours are encoded for integers and stay linear in floats.
    const bool encode = kind == Kind::Normal || (kind == Kind::Colour && !isFloat(format));
    Want want = wantOfLine(line, encode);
    if (kind == Kind::Colour) want.components = 4;
    const Compiled compiled = compile(project, project.findLook(item.look), {want}, resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    if (!maps.problems.empty()) return fail(ErrorKind::Unreadable, maps.problems.front());
    int components = kind == Kind::Scalar ? 1 : 3;
    if (kind == Kind::Colour && hasAlpha(compiled, maps)) {
        if (format == FileFormat::Jpeg)
            notes.push_back(
                fmt::format("{} has no alpha, since JPEG holds none. Choose another format to keep it.",
                            item.file.filename().string()));
        else
            components = 4;
    }
    pixels.reshape(item.width, item.height, components, storageOf(format));
    std::atomic<std::size_t> notFinite{0};
    const auto store = [&]<class T>(T* row, std::size_t count, const float* const* planes, auto convert) {
        for (int c = 0; c < components; ++c) {
            const float* from = planes[compiled.planes[0][static_cast<std::size_t>(c)]];
            std::size_t bad = 0;
            for (std::size_t i = 0; i < count; ++i) {
                bad += std::isfinite(from[i]) ? 0u : 1u;
                row[i * static_cast<std::size_t>(components) + static_cast<std::size_t>(c)] =
                    convert(from[i]);
            }
            if (bad > 0) notFinite += bad;
        }
    };
    const RowSink sink = [&](int y, int x, std::size_t count, const float* const* planes) {
        const int at = x * components;
        switch (pixels.depth) {
            case Depth::U8: {
                const float* ordered[4]{};
                for (int c = 0; c < components; ++c)
                    ordered[c] = planes[compiled.planes[0][static_cast<std::size_t>(c)]];
                encodeBytes(ordered, components, count, pixels.row<std::uint8_t>(y) + at);
                break;
            }
            case Depth::U16:
                store(pixels.row<std::uint16_t>(y) + at, count, planes, quantise<std::uint16_t>);
                break;
            default:
                // Some readers stop at what is no number: it is written as 0, an infinite one as the largest
                // half.
                store(pixels.row<float>(y) + at, count, planes, [](float v) {
                    return std::isfinite(v) ? v : std::isnan(v) ? 0.0f : std::copysign(65504.0f, v);
                });
        }
    };
    if (!runGrid(compiled.program, maps, item.width, item.height, item.tile, sink, cancel, progress))
        return fail(ErrorKind::Cancelled, "The export was stopped. What was finished stays.");
    if (notFinite > 0)
        notes.push_back(
            fmt::format("{} numbers of {} are infinite or none at all and were written as 65504 and 0. "
                        "Look for a division or a power on the line {}.",
                        notFinite.load(), item.file.filename().string(), line.name));
    return {};
}

Result<Exported> exportMaps(const Project& project, const Resources& resources, const ExportOptions& options,
                            const CancelToken& cancel, const std::function<void(ExportProgress)>& progress) {
    return guarded("export", [&]() -> Result<Exported> {
        auto items = planExport(project, resources, options);
        if (!items) return fail(items.error());
        if (auto fits = fitsMemory(*items, options.format); !fits) return fail(fits.error());
        std::error_code code;
        fs::create_directories(options.folder, code);
        if (code)
            return fail(ErrorKind::Write,
                        fmt::format("Cannot make the folder {}. Choose another.", options.folder.string()),
                        code.message());
        Exporter exporter(project, resources, options, *items, cancel, progress);
        std::size_t largest = 1;
        for (const ExportItem& item : *items) largest = std::max(largest, bytesOf(item, options.format));
        // Beside each file's pixels lie what they become and what they are made from.
        if (4 * largest * 2 > memoryLeft())
            for (std::size_t i = 0; i < items->size(); ++i) exporter.make(i);
        else
            onThreads(items->size(), [&](std::size_t i) { exporter.make(i); });
        return exporter.result();
    });
}

}  // namespace kettle
