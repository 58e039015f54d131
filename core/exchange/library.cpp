#include "core/exchange/library.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/base/names.h"
#include "core/document/json.h"
#include "core/document/recipe_edits.h"
#include "core/document/sources.h"
#include "core/steps/ramp_remap.h"
#include "core/steps/vary.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::string endingOf(EntryKind kind) {
    return fmt::format(".{}.json", nameOf(kind));
}

std::optional<EntryKind> kindOf(const fs::path& file) {
    for (const EntryKind kind : entryKinds())
        if (file.filename().string().ends_with(endingOf(kind))) return kind;
    return std::nullopt;
}

template <class T, class F>
void take(LibraryEntry& entry, const Result<T>& read, F&& name) {
    if (!read) {
        entry.problem = read.error().sentence;
        return;
    }
    name(*read);
    entry.content = *read;
}

void readContent(LibraryEntry& entry, const std::string& text) {
    const std::string name = entry.file.filename().string();
    const auto told = [&](const auto& content) {
        entry.name = content.name;
        entry.purpose = content.purpose;
    };
    switch (entry.kind) {
        case EntryKind::Recipe:
            return take(entry, recipeFromText(text, name), told);
        case EntryKind::Layer:
            return take(entry, layerFromText(text, name), told);
        case EntryKind::Palette:
            return take(entry, paletteFromText(text, name), told);
        case EntryKind::Arrangement:
            return take(entry, arrangementFromText(text, name), told);
        case EntryKind::Ramp: {
            const auto ramp = rampFromText(text, name);
            if (!ramp) {
                entry.problem = ramp.error().sentence;
                return;
            }
            entry.name = ramp->name;
            entry.content = NamedRampEntry{ramp->name, {}, ramp->ramp};
            return;
        }
    }
}

std::vector<fs::path> filesOf(const LibraryFolder& library,
                              const std::vector<EntryKind>& kinds = entryKinds()) {
    std::vector<fs::path> files;
    for (const EntryKind kind : kinds) {
        std::error_code error;
        for (fs::directory_iterator it(library.folder / folderOf(kind), error), end; !error && it != end;
             it.increment(error))
            if (kindOf(it->path()) == kind) files.push_back(it->path());
    }
    std::sort(files.begin(), files.end());
    return files;
}

Result<std::string> textOf(const LibraryEntry& entry) {
    if (const auto* recipe = std::get_if<Recipe>(&entry.content)) return recipeToText(*recipe);
    if (const auto* layer = std::get_if<KeptLayer>(&entry.content)) return layerToText(*layer);
    if (const auto* palette = std::get_if<Palette>(&entry.content)) return paletteToText(*palette);
    if (const auto* arrangement = std::get_if<Arrangement>(&entry.content))
        return arrangementToText(*arrangement);
    if (const auto* ramp = std::get_if<NamedRampEntry>(&entry.content))
        return rampToText({ramp->name, ramp->ramp});
    return fail(ErrorKind::Invalid, entry.problem.empty() ? "There is nothing to keep." : entry.problem);
}

Result<void> makeFolder(const fs::path& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (!error) return {};
    return fail(ErrorKind::Write, fmt::format("Cannot make the folder {}: {}. Check that it can be written.",
                                              folder.string(), error.message()));
}

/// Where an entry of a name goes: the file that has the name, or a free one.
fs::path placeOf(const fs::path& folder, const LibraryEntry& entry, std::optional<LibraryEntry>& before) {
    for (const fs::path& file : filesOf({folder, EntryOrigin::Own})) {
        if (kindOf(file) != entry.kind) continue;
        LibraryEntry known = readEntry(file, EntryOrigin::Own);
        if (known.name != entry.name || !known.problem.empty()) continue;
        before = std::move(known);
        return file;
    }
    const fs::path there = folder / folderOf(entry.kind);
    std::error_code error;
    for (int i = 1;; ++i) {
        fs::path free = there / (stemOf(entry.name, "entry") +
                                 (i == 1 ? std::string() : fmt::format("-{}", i)) + endingOf(entry.kind));
        if (!fs::exists(free, error)) return free;
    }
}

}  // namespace

fs::path pictureOf(const fs::path& file) {
    std::string name = file.filename().string();
    if (const auto kind = kindOf(file)) name.resize(name.size() - endingOf(*kind).size());
    return file.parent_path() / (name + ".png");
}

const char* nameOf(EntryKind kind) {
    switch (kind) {
        case EntryKind::Recipe:
            return "recipe";
        case EntryKind::Layer:
            return "layer";
        case EntryKind::Ramp:
            return "ramp";
        case EntryKind::Arrangement:
            return "arrangement";
        case EntryKind::Palette:
            break;
    }
    return "palette";
}

const std::vector<EntryKind>& entryKinds() {
    static const std::vector<EntryKind> kinds{EntryKind::Recipe, EntryKind::Layer, EntryKind::Ramp,
                                              EntryKind::Palette, EntryKind::Arrangement};
    return kinds;
}

fs::path folderOf(EntryKind kind) {
    return std::string(nameOf(kind)) + "s";
}

Ramp rampOf(const Palette& palette, bool held) {
    Ramp ramp;
    ramp.interpolation = held ? RampInterpolation::Hold : RampInterpolation::Linear;
    ramp.mixing = RampMixing::Oklab;
    ramp.stops.clear();
    const std::size_t count = palette.colours.size();
    const auto weight = [&](std::size_t i) {
        return i < palette.weights.size() ? std::max(0.0f, palette.weights[i]) : 1.0f;
    };
    float all = 0, before = 0;
    for (std::size_t i = 0; i < count; ++i) all += weight(i);
    for (std::size_t i = 0; i < count; ++i) {
        // Held, a colour begins where it stands; passing, it is met at its middle, and the ends at the ends.
        const float at = held         ? before / std::max(all, 1e-6f)
                         : count == 1 ? 0
                                      : static_cast<float>(i) / static_cast<float>(count - 1);
        ramp.stops.push_back({at, palette.colours[i]});
        before += weight(i);
    }
    return ramp;
}

Step stepOf(const Palette& palette, const Line& line) {
    Step step;
    const bool isPlain = line.steps.size() == 1 && line.steps.front()->type == kColourSource;
    if (isPlain) {
        step.type = vary::kType;
        step.controls = {vary::kRamp(rampOf(palette, true)), vary::kFrom(vary::VariationSource::Ramp)};
    } else {
        step.type = ramp_remap::kType;
        step.controls = {ramp_remap::kRamp(rampOf(palette, false))};
    }
    return step;
}

LibraryEntry readEntry(const fs::path& file, EntryOrigin origin) {
    LibraryEntry entry;
    entry.file = file;
    entry.origin = origin;
    entry.name = file.filename().string();
    const auto kind = kindOf(file);
    if (!kind) {
        entry.problem = fmt::format(
            "{} is nothing of a library. Recipes end in .recipe.json, and so layers, ramps, palettes and "
            "arrangements.",
            file.string());
        return entry;
    }
    entry.kind = *kind;
    std::error_code error;
    const auto size = fs::file_size(file, error);
    if (!error && size > kLargestEntry) {
        entry.problem = fmt::format("{} has {}; no entry of a library is larger than {}. It is not read.",
                                    file.string(), sizeInWords(size), sizeInWords(kLargestEntry));
        return entry;
    }
    const auto text = readFile(file);
    if (!text)
        entry.problem = text.error().sentence;
    else
        readContent(entry, *text);
    if (const fs::path picture = pictureOf(file); fs::exists(picture, error)) entry.picture = picture;
    return entry;
}

namespace {

std::vector<LibraryEntry> readKinds(const std::vector<LibraryFolder>& folders,
                                    const std::vector<EntryKind>& kinds) {
    struct Place {
        fs::path file;
        EntryOrigin origin;
    };
    std::vector<Place> places;
    for (const LibraryFolder& library : folders)
        for (fs::path& file : filesOf(library, kinds)) places.push_back({std::move(file), library.origin});
    std::vector<LibraryEntry> entries(places.size());
    parallelFor(places.size(), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) entries[i] = readEntry(places[i].file, places[i].origin);
    });
    std::stable_sort(entries.begin(), entries.end(), [](const LibraryEntry& a, const LibraryEntry& b) {
        return a.kind != b.kind ? a.kind < b.kind : a.name < b.name;
    });
    return entries;
}

}  // namespace

std::vector<LibraryEntry> readLibrary(const std::vector<LibraryFolder>& folders) {
    return readKinds(folders, entryKinds());
}

std::vector<LibraryEntry> readLibrary(const std::vector<LibraryFolder>& folders, EntryKind only) {
    return readKinds(folders, {only});
}

std::uint64_t stateOf(const std::vector<LibraryFolder>& folders) {
    std::uint64_t state = 1469598103934665603u;
    const auto mix = [&](std::uint64_t v) { state = (state ^ v) * 1099511628211u; };
    for (const LibraryFolder& library : folders)
        for (const fs::path& file : filesOf(library)) {
            std::error_code error;
            mix(std::hash<std::string>{}(file.string()));
            mix(static_cast<std::uint64_t>(fs::last_write_time(file, error).time_since_epoch().count()));
            mix(static_cast<std::uint64_t>(fs::file_size(file, error)));
        }
    return state;
}

Result<fs::path> keepEntry(const fs::path& folder, LibraryEntry entry) {
    entry.name = trimmed(entry.name);
    if (entry.name.empty())
        return fail(ErrorKind::Invalid,
                    fmt::format("The {} has no name. Type one to keep it.", nameOf(entry.kind)));
    if (auto made = makeFolder(folder / folderOf(entry.kind)); !made) return fail(made.error());
    std::optional<LibraryEntry> before;
    const fs::path file = placeOf(folder, entry, before);
    if (auto* recipe = std::get_if<Recipe>(&entry.content); recipe != nullptr && before)
        if (const auto* older = std::get_if<Recipe>(&before->content);
            older != nullptr && !(*older == *recipe))
            recipe->edition = std::max(recipe->edition, older->edition + 1);
    if (auto* layer = std::get_if<KeptLayer>(&entry.content)) *layer = withoutFiles(*layer);
    const auto text = textOf(entry);
    if (!text) return fail(text.error());
    if (auto written = writeFileAtomically(file, *text); !written) return fail(written.error());
    return file;
}

Result<fs::path> importEntry(const fs::path& folder, const fs::path& file) {
    LibraryEntry entry = readEntry(file, EntryOrigin::Own);
    if (!entry.problem.empty()) return fail(ErrorKind::Invalid, entry.problem);
    const fs::path picture = entry.picture;
    auto kept = keepEntry(folder, entry);
    std::error_code error;
    if (kept && !picture.empty())
        fs::copy_file(picture, pictureOf(*kept), fs::copy_options::overwrite_existing, error);
    return kept;
}

Result<void> forgetEntry(const LibraryEntry& entry) {
    std::error_code error;
    if (!entry.picture.empty()) fs::remove(entry.picture, error);
    if (fs::remove(entry.file, error) || !error) return {};
    return fail(ErrorKind::Write, fmt::format("Cannot remove {}: {}. Check that its folder can be written.",
                                              entry.file.string(), error.message()));
}

}  // namespace kettle
