#include "core/exchange/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <optional>
#include <utility>

#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/colour/encoding.h"
#include "core/document/recipes.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/engine/source_files.h"
#include "core/exchange/identity.h"
#include "core/exchange/item_maker.h"
#include "core/exchange/manifest.h"
#include "core/image/pixel_kernels.h"
#include "core/steps/object_value.h"
#include "core/steps/vary.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

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
          m_sources(project, resources),
          m_cancel(cancel),
          m_progress(progress),
          m_parts(items.size(), 0),
          m_notes(items.size()),
          m_states(items.size(), State::Open) {
        Identities identities(project, resources, options.format, options.choices);
        for (const ExportItem& item : items) m_identities.push_back(identities.of(item));
    }

    void make(std::size_t index) {
        if (m_cancel.isCancelled() || m_isFailed) return;
        const ExportItem& item = m_items[index];
        auto done = guarded("export " + item.file.string(), [&] { return makeOne(index); });
        const std::lock_guard lock(m_mutex);
        if (done || m_error) return;
        m_isFailed = true;
        m_error = done.error();
    }
    Result<Exported> result() const {
        if (m_error) return fail(*m_error);
        Exported made;
        for (std::size_t i = 0; i < m_items.size(); ++i) {
            if (m_states[i] == State::Open)
                return fail(ErrorKind::Cancelled, "The export was stopped. What was finished stays.");
            made.files.push_back(m_items[i].file);
            if (m_states[i] == State::UpToDate) made.unchanged.push_back(m_items[i].file);
            made.notes.insert(made.notes.end(), m_notes[i].begin(), m_notes[i].end());
        }
        return made;
    }

    /// What each file depends on, in the order of the items.
    const std::vector<std::string>& identities() const { return m_identities; }

private:
    enum class State : char { Open, UpToDate, Written };

    Result<void> makeOne(std::size_t index) {
        const ExportItem& item = m_items[index];
        tell(index, 0);
        PixelBuffer pixels = takeBuffer();
        if (m_options.again) {
            std::error_code code;
            fs::remove(recordOf(item.file), code);
        }
        // A record that could not be kept only means that the file is made again next time.
        auto done = makeItem(m_project, m_resources, item, m_identities[index], m_options.format,
                             m_options.choices, m_sources, pixels, m_notes[index], m_cancel,
                             [&](double part) { tell(index, part * 0.5); });
        if (!done) return fail(done.error());
        tell(index, 1);
        const std::lock_guard lock(m_mutex);
        m_states[index] = done->wasUpToDate ? State::UpToDate : State::Written;
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
    const SourceFiles m_sources;
    const CancelToken& m_cancel;
    const std::function<void(ExportProgress)>& m_progress;
    std::mutex m_mutex;
    std::atomic<bool> m_isFailed{false};
    std::optional<Error> m_error;
    std::vector<double> m_parts;
    double m_sum = 0;
    std::vector<std::vector<std::string>> m_notes;
    std::vector<State> m_states;
    std::vector<std::string> m_identities;
    std::vector<PixelBuffer> m_buffers;
};

}  // namespace

const std::vector<std::string>& exportSpaces() {
    static const std::vector<std::string> spaces{encoding::kSrgb, encoding::kLinear, "Display P3", "ACEScg"};
    return spaces;
}

bool differsByObject(const Project& project) {
    // Steps of recipes count as well.
    const Project open = withoutRecipes(project, nullptr).project;
    for (const auto& line : open.lines)
        for (const auto& step : line->steps)
            if (step->type == vary::kType || step->type == kObjectValue) return true;
    return false;
}

Result<void> renderItem(const Project& all, const Resources& resources, const ExportItem& item,
                        FileFormat format, PixelBuffer& pixels, std::vector<std::string>& notes,
                        const CancelToken& cancel, const std::function<void(double)>& progress) {
    if (!item.components.empty()) {
        std::vector<PackedComponent> components = item.components;
        if (format == FileFormat::Jpeg && components.size() == 4) {
            components.pop_back();
            notes.push_back(
                fmt::format("{} has no alpha, since JPEG holds none. Choose another format to keep it.",
                            item.file.filename().string()));
        }
        auto made = renderPacked(all, resources, item.look, components, item.width, item.height, item.tile,
                                 storageOf(format), item.dither, item.object, item.space, cancel);
        if (!made) return fail(made.error());
        pixels = std::move(*made);
        return {};
    }
    Project project = all;
    if (!item.object.empty()) project.view.object = item.object;
    const Line& line = *project.findLine(item.line);
    const Kind kind = kindGiven(line);
    // Normals are stored as 0..1 in every format; colours are encoded for integers and stay linear in floats.
    // The usual encoding is done together with packing, and is no instruction.
    const bool isEncoded =
        kind == Kind::Colour && !isFloat(format) && (item.space.empty() || item.space == encoding::kSrgb);
    const unsigned curved = isEncoded ? 7 : 0;
    Want want = wantOfLine(line, kind == Kind::Normal);
    if (!isEncoded) want.space = item.space;
    if (kind == Kind::Colour) want.components = 4;
    Compiled compiled = compile(project, project.findLook(item.look), {want}, resources.rules());
    ResolvedMaps maps = resources.resolve(project, compiled.program);
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
    if (want.components == 4 && components == 3) {  // nobody computes an alpha that is not written
        want.components = 3;
        compiled = compile(project, project.findLook(item.look), {want}, resources.rules());
        maps = resources.resolve(project, compiled.program);
    }
    if (item.dither && storageOf(format) == Depth::U8) {
        std::vector<PackedComponent> own;
        static constexpr const char* kNames[] = {"red", "green", "blue", "alpha"};
        for (int c = 0; c < components; ++c) own.push_back({line.id, components == 1 ? "" : kNames[c]});
        auto made = renderPacked(all, resources, item.look, own, item.width, item.height, item.tile,
                                 Depth::U8, true, item.object, item.space, cancel);
        if (!made) return fail(made.error());
        pixels = std::move(*made);
        return {};
    }
    pixels.reshape(item.width, item.height, components, storageOf(format));
    std::atomic<std::size_t> notFinite{0};
    // Some readers stop at what is no number: it is written as 0, an infinite one as the largest half.
    const auto storeFloats = [&](const float* const ordered[4], std::size_t count, float* row) {
        std::size_t bad = 0;
        for (std::size_t i = 0; i < count; ++i)
            for (int c = 0; c < components; ++c) {
                const float v = ordered[c][i];
                bad += std::isfinite(v) ? 0u : 1u;
                *row++ = std::isfinite(v) ? v : std::isnan(v) ? 0.0f : std::copysign(65504.0f, v);
            }
        return bad;
    };
    const RowSink sink = [&](int y, int x, std::size_t count, const float* const* planes) {
        const int at = x * components;
        const float* ordered[4]{};
        for (int c = 0; c < components; ++c)
            ordered[c] = planes[compiled.planes[0][static_cast<std::size_t>(c)]];
        std::size_t bad = 0;
        if (pixels.depth == Depth::U8)
            encodeBytes(ordered, components, count, curved, pixels.row<std::uint8_t>(y) + at);
        else if (pixels.depth == Depth::U16)
            bad = encodeWords(ordered, components, count, curved, pixels.row<std::uint16_t>(y) + at);
        else
            bad = storeFloats(ordered, count, pixels.row<float>(y) + at);
        if (bad > 0) notFinite += bad;
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

std::uint64_t bytesExpected(const std::vector<ExportItem>& items, const Project& project, FileFormat format,
                            Compression compression) {
    const bool isByte = format == FileFormat::Png8 || format == FileFormat::Jpeg;
    const double size = isByte ? 1 : format == FileFormat::ExrFloat ? 4 : 2;
    double sum = 0;
    for (const ExportItem& item : items) {
        const Line* line = project.findLine(item.line);
        const std::size_t components = !item.components.empty() ? item.components.size()
                                       : line != nullptr && kindGiven(*line) == Kind::Scalar ? 1
                                                                                             : 3;
        sum += static_cast<double>(item.width) * item.height * static_cast<double>(components) * size;
    }
    const double kept = format == FileFormat::Jpeg         ? 0.1
                        : compression == Compression::None ? 1
                        : isFloat(format)                  ? 0.67
                                                           : 0.5;
    return static_cast<std::uint64_t>(sum * kept);
}

namespace {

/// What the disk surely has no room for is not begun. What is expected is a guess, so half of it is enough
/// here.
Result<void> fitsDisk(const std::vector<ExportItem>& items, const Project& project,
                      const ExportOptions& options) {
    const std::uint64_t wanted = bytesExpected(items, project, options.format, options.choices.compression);
    const auto room = freeRoom(options.folder);
    if (!room || *room >= wanted / 2) return {};
    return fail(
        ErrorKind::Write,
        fmt::format("The disk of {} has {} left, and the files need about {}. Make room, or choose another "
                    "folder or a smaller size.",
                    options.folder.string(), sizeInWords(*room), sizeInWords(wanted)));
}

}  // namespace

Result<Exported> exportMaps(const Project& project, const Resources& resources, const ExportOptions& options,
                            const CancelToken& cancel, const std::function<void(ExportProgress)>& progress) {
    return guarded("export", [&]() -> Result<Exported> {
        auto items = planExport(project, resources, options);
        if (!items) return fail(items.error());
        if (auto fits = fitsMemory(*items, options.format); !fits) return fail(fits.error());
        if (auto fits = fitsDisk(*items, project, options); !fits) return fail(fits.error());
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
        auto made = exporter.result();
        if (!made || !options.manifest) return made;
        std::vector<ManifestEntry> entries;
        for (std::size_t i = 0; i < items->size(); ++i)
            entries.push_back({(*items)[i], exporter.identities()[i]});
        const fs::path file = options.folder / kManifest;
        auto written = writeManifest(entries, project, options.format, file, SourceFiles(project, resources));
        if (!written) return fail(written.error());
        made->files.push_back(file);
        return made;
    });
}

}  // namespace kettle
