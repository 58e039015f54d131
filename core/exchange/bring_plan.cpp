#include "core/exchange/bring_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>
#include <mutex>
#include <set>
#include <tuple>

#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/model_format.h"
#include "core/document/path_text.h"
#include "core/document/project.h"
#include "core/exchange/map_words.h"
#include "core/image/map_image.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::string lowerEnding(const fs::path& file) {
    std::string text = file.extension().string();
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool isHidden(const fs::path& file) {
    return file.filename().string().starts_with(".");
}

/// The files to look at: pictures by the folder that they lie in, and models.
struct Sources {
    std::map<fs::path, std::vector<fs::path>> pictures;
    std::vector<fs::path> models;
    std::size_t folders = 0;

    void add(const fs::path& file) {
        if (isPictureFile(file)) pictures[file.parent_path()].push_back(file);
        if (isModelFile(file)) models.push_back(file);
    }
    void addFolder(const fs::path& folder, bool subFolders) {
        ++folders;
        std::error_code code;
        std::vector<fs::path> inside;
        for (fs::directory_iterator it(folder, code), end; !code && it != end; it.increment(code))
            inside.push_back(it->path());
        std::sort(inside.begin(), inside.end());
        for (const fs::path& entry : inside) {
            if (isHidden(entry)) continue;
            // A linked folder could lead round in a circle.
            if (fs::is_directory(entry, code) && subFolders && !fs::is_symlink(entry, code))
                addFolder(entry, true);
            else if (fs::is_regular_file(entry, code))
                add(entry);
        }
    }
};

Result<Sources> sourcesOf(const std::vector<fs::path>& from, bool subFolders) {
    Sources sources;
    for (const fs::path& given : from) {
        std::error_code code;
        const fs::path path = fs::absolute(given, code).lexically_normal();
        if (fs::is_directory(path, code)) {
            sources.addFolder(path.has_filename() ? path : path.parent_path(), subFolders);
        } else if (fs::exists(path, code)) {
            sources.add(path);
        } else {
            return fail(ErrorKind::Missing, fmt::format("Cannot find {}. Check the name.", given.string()));
        }
    }
    return sources;
}

/// A small picture to know the map by.
std::vector<std::uint32_t> pictureOf(const PixelView& p) {
    constexpr int kSide = PlannedMap::kPictureSide;
    std::vector<std::uint32_t> picture;
    if (p.width < 1 || p.height < 1) return picture;
    const auto code = [&](int x, int y, int c) -> std::uint32_t {
        const int at = x * p.channels + (p.channels >= 3 ? c : 0);
        if (p.depth == Depth::U8) return p.row<std::uint8_t>(y)[at];
        if (p.depth == Depth::U16) return p.row<std::uint16_t>(y)[at] >> 8;
        return toByte(linearToSrgb(p.row<float>(y)[at]));
    };
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const int sx = (2 * x + 1) * p.width / (2 * kSide), sy = (2 * y + 1) * p.height / (2 * kSide);
            picture.push_back(0xFF000000u | code(sx, sy, 0) << 16 | code(sx, sy, 1) << 8 | code(sx, sy, 2));
        }
    return picture;
}

/// What a picture's pixels add to its name. `hasNormal`: its set has a normal map by name already. Returns a
/// sentence if its role is a guess: to be added to the notes if the map is taken in the end.
std::string judge(PlannedMap& map, bool hasNormal, std::vector<std::string>& notes) {
    MapName& name = map.name;
    std::string guess;
    if (!map.isTaken) return guess;
    if (!name.isKnown && !hasNormal && map.contents.isNormal && !map.contents.isPlain) {
        name.role = channel::kNormal;
        name.isKnown = name.isGuess = true;
        name.reason = fmt::format(
            "it looks like a normal map: its mean is {} {} {}", std::lround(map.contents.mean[0] * 255),
            std::lround(map.contents.mean[1] * 255), std::lround(map.contents.mean[2] * 255));
        guess = fmt::format("{} was taken as the normal map, since it looks like one: its mean is {} {} {}.",
                            name.pattern, std::lround(map.contents.mean[0] * 255),
                            std::lround(map.contents.mean[1] * 255), std::lround(map.contents.mean[2] * 255));
    } else if (name.isKnown && name.isGuess) {
        guess = fmt::format("{} was taken as {}, since {}.", name.pattern, name.role, name.reason);
    } else if (!name.isKnown && map.contents.isPacked) {
        map.warning = fmt::format(
            "{} looks like a packed map: its components are three pictures. Choose in the tuner which of "
            "them "
            "is read.",
            name.pattern);
        notes.push_back(map.warning);
    }
    if (std::string wrong = contradictionOf(name, map.contents); !wrong.empty()) {
        map.warning = wrong;
        notes.push_back(std::move(wrong));
    }
    return guess;
}

/// Reads the pictures of one folder and groups them into sets.
class FolderReader {
public:
    FolderReader(BringPlan& plan, const ReadingProgress& progress, const CancelToken& cancel,
                 const ReadInto* into, int all)
        : m_plan(plan), m_progress(progress), m_cancel(cancel), m_into(into), m_all(all) {}

    void read(const fs::path& folder, std::vector<fs::path> files, bool isOnly) {
        std::sort(files.begin(), files.end());
        const std::vector<Found> pictures = picturesIn(files);
        if (m_cancel.isCancelled()) return;
        const std::vector<MapName> read = readNames(pictures);
        std::vector<Result<ImageInfo>> infos(pictures.size());
        std::vector<PlannedMap> maps(pictures.size());
        // Of a map in tiles the first is judged; the others' pixels are read when they are shown.
        std::set<std::string> patterns;
        std::vector<bool> isJudged;
        for (std::size_t i = 0; i < read.size(); ++i)
            isJudged.push_back(patterns.insert(idOf(read[i], pictures[i])).second);
        parallelFor(pictures.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end && !m_cancel.isCancelled(); ++i) {
                const Found& picture = pictures[i];
                if (picture.channels.empty()) tell();
                infos[i] = picture.info;
                if (isJudged[i] && picture.info) infos[i] = lookAt(picture, read[i], maps[i]);
            }
        });
        if (m_cancel.isCancelled()) return;
        std::vector<PlannedMap> found;
        std::map<std::string, std::vector<int>> tiles;
        for (std::size_t i = 0; i < pictures.size(); ++i) {
            if (!infos[i]) {
                m_plan.leftOut.push_back(infos[i].error().sentence + " It was left out.");
                continue;
            }
            const bool isFirst = tiles.try_emplace(idOf(read[i], pictures[i])).second;
            if (!isFirst) continue;
            maps[i].name = read[i];
            maps[i].folder = folder;
            maps[i].info = *infos[i];
            maps[i].channels = pictures[i].channels;
            // What nobody asked for and no word tells is offered, and waits.
            maps[i].isTaken = pictures[i].channels.empty() || (read[i].isKnown && !read[i].isGuess);
            if (read[i].isTile) maps[i].tiles = tilesOnDisk(folder / read[i].pattern);
            found.push_back(std::move(maps[i]));
        }
        group(folder, std::move(found), isOnly);
    }

private:
    void tell() {
        if (!m_progress) return;
        const std::lock_guard lock(m_telling);
        m_progress(m_done++, m_all);
    }
    /// A file's colours, or one of the other pictures in it.
    struct Found {
        fs::path file;
        std::string channels;
        Result<ImageInfo> info;
    };
    std::vector<Found> picturesIn(const std::vector<fs::path>& files) const {
        std::vector<Found> colours(files.size());
        parallelFor(files.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end && !m_cancel.isCancelled(); ++i)
                colours[i] = {files[i], {}, inspectImage(files[i])};
        });
        std::vector<Found> all;
        for (Found& found : colours) {
            const std::vector<std::string> others =
                found.info ? found.info->others : std::vector<std::string>();
            all.push_back(std::move(found));
            for (const std::string& other : others)
                all.push_back({all.back().file, other, inspectImage(all.back().file, other)});
        }
        return all;
    }
    /// Pictures within a file are read as if they lay beside it: "deck_roughness.exr" of "deck.exr".
    static std::vector<MapName> readNames(const std::vector<Found>& pictures) {
        std::vector<std::string> names;
        for (const Found& picture : pictures)
            names.push_back(picture.channels.empty() ? picture.file.filename().string()
                                                     : picture.file.stem().string() + "_" + picture.channels +
                                                           picture.file.extension().string());
        std::vector<MapName> read = readMapNames(names);
        for (std::size_t i = 1; i < read.size(); ++i)
            if (!pictures[i].channels.empty()) {
                read[i].file = pictures[i].file.filename().string();
                read[i].pattern = read[i - 1].pattern;
            }
        return read;
    }
    static std::string idOf(const MapName& name, const Found& picture) {
        return name.pattern + "|" + picture.channels;
    }
    Result<ImageInfo> lookAt(const Found& picture, const MapName& name, PlannedMap& map) const {
        const auto& info = picture.info;
        // The pixels too: a file that ends too early should be named now, and not when it is first shown.
        const auto look = [&](const PixelView& pixels) {
            map.contents = contentsOf(pixels);
            map.picture = pictureOf(pixels);
        };
        if (m_into != nullptr && !name.isTile) {
            // By its final reading, if its name says what it is: it is decoded once.
            const MapReading how(automaticEncoding(isColourRole(name.role), *info), picture.channels);
            auto read = m_into->store.get(picture.file, how, m_into->colours);
            if (!read) return fail(read.error());
            look((*read)->pixels());
            return info;
        }
        auto pixels = readImage(picture.file, picture.channels);
        if (!pixels) return fail(pixels.error());
        look(PixelView(*pixels));
        return info;
    }
    void group(const fs::path& folder, std::vector<PlannedMap> found, bool isOnly) {
        std::set<std::string> normals;
        for (const PlannedMap& map : found)
            if (map.name.role == channel::kNormal) normals.insert(map.name.set);
        std::map<std::pair<std::string, std::string>, std::string> guesses;  // by file and picture
        for (PlannedMap& map : found)
            guesses[{map.name.pattern, map.channels}] =
                judge(map, normals.contains(map.name.set), m_plan.notes);
        // Of two maps of one role the one whose name says it comes before the one that was guessed.
        std::stable_partition(found.begin(), found.end(),
                              [](const PlannedMap& map) { return !map.name.isGuess; });
        std::map<std::string, std::vector<PlannedMap>> sets;
        for (PlannedMap& map : found) sets[map.name.set].push_back(std::move(map));
        for (auto& [name, maps] : sets) {
            PlannedSet set;
            set.name = (sets.size() == 1 && isOnly) || name.empty() ? folder.filename().string() : name;
            set.folder = folder;
            set.maps = std::move(maps);
            leaveOutSecond(set);
            for (const PlannedMap& map : set.maps)
                if (const std::string& guess = guesses[{map.name.pattern, map.channels}];
                    map.isTaken && !guess.empty())
                    m_plan.notes.push_back(guess);
            nameMissingTiles(set);
            m_plan.sets.push_back(std::move(set));
        }
    }
    /// The second of a role is left out and said.
    void leaveOutSecond(PlannedSet& set) {
        std::set<std::string> roles;
        for (PlannedMap& map : set.maps) {
            std::string told;
            if (!map.isTaken) continue;
            if (!roles.insert(map.name.role).second) {
                map.isTaken = false;
                told = fmt::format(
                    "{} looks like a second {} map and was left out. Rename it, or choose it by hand.",
                    map.name.pattern, map.name.role);
            } else if (map.name.role == channel::kBaseColour && map.info.depth == Depth::U16) {
                told = fmt::format(
                    "{} has 16 bits and is read as sRGB. Choose another encoding if it is linear.",
                    map.name.pattern);
            }
            if (told.empty()) continue;
            map.warning = told;
            m_plan.notes.push_back(told);
        }
        std::sort(set.maps.begin(), set.maps.end(), [](const PlannedMap& a, const PlannedMap& b) {
            return std::tie(a.name.pattern, a.channels) < std::tie(b.name.pattern, b.channels);
        });
    }
    /// Tiles that other maps of the set have.
    void nameMissingTiles(PlannedSet& set) {
        std::set<int> all;
        for (const PlannedMap& map : set.maps) all.insert(map.tiles.begin(), map.tiles.end());
        for (PlannedMap& map : set.maps) {
            std::vector<std::string> missing;
            for (const int tile : all)
                if (!map.tiles.empty() && !std::binary_search(map.tiles.begin(), map.tiles.end(), tile))
                    missing.push_back(std::to_string(tile));
            if (missing.empty()) continue;
            map.warning = fmt::format(
                "{} of {} {} not there: neutral stands in.",
                missing.size() == 1 ? "Tile " + missing.front() : fmt::format("{} tiles", missing.size()),
                map.name.pattern, missing.size() == 1 ? "is" : "are");
            m_plan.notes.push_back(map.warning);
        }
    }

    BringPlan& m_plan;
    const ReadingProgress& m_progress;
    const CancelToken& m_cancel;
    const ReadInto* m_into;
    int m_all, m_done = 0;
    std::mutex m_telling;
};

int knownMaps(const PlannedSet& set) {
    return static_cast<int>(std::count_if(set.maps.begin(), set.maps.end(),
                                          [](const PlannedMap& map) { return map.name.isKnown; }));
}

/// "galley_stoveBody" and "Stove body" have two words in common.
int wordsInCommon(const std::string& a, const std::string& b) {
    const auto words = wordsOfName(a + ".x");
    const std::set<std::string> first(words.begin(), words.end());
    int common = 0;
    for (const std::string& word : wordsOfName(b + ".x")) common += first.contains(word) ? 1 : 0;
    return common;
}

}  // namespace

bool isModelFile(const fs::path& file) {
    return modelFormatOf(file).has_value();
}

bool isPictureFile(const fs::path& file) {
    static const std::set<std::string> kEndings{".png",  ".tif", ".tiff", ".exr", ".jpg",
                                                ".jpeg", ".tga", ".bmp",  ".hdr", ".webp"};
    return kEndings.contains(lowerEnding(file)) && !isHidden(file);
}

std::string titleOfName(const std::string& name) {
    std::string text = name;
    const bool isText = isUtf8(name);
    for (char& c : text) {
        if (c == '_' || c == '-' || c == '.') c = ' ';
        if (!isText && static_cast<unsigned char>(c) >= 0x80) c = '-';
    }
    if (!text.empty()) text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text;
}

Result<PlannedModel> planModel(const fs::path& file, const std::string& unit, const CancelToken& cancel) {
    const auto mesh = loadMesh(file, std::chrono::minutes(3), unit, cancel);
    if (!mesh) return fail(mesh.error());
    PlannedModel model;
    model.file = file;
    model.unit = unit;
    model.parts = mesh->parts;
    model.partMaterials = mesh->partMaterials;
    for (const std::string& material : mesh->partMaterials)
        if (!material.empty() &&
            std::find(model.materials.begin(), model.materials.end(), material) == model.materials.end())
            model.materials.push_back(material);
    model.objects = std::set<std::string>(mesh->partObjects.begin(), mesh->partObjects.end()).size();
    model.triangles = mesh->triangleCount();
    Vec3 low, high;
    mesh->bounds(low, high);
    model.size = high - low;
    model.tiles = mesh->tiles();
    for (std::size_t i = 0; i < mesh->parts.size(); ++i)
        if (mesh->partHasUv[i] == 0) model.withoutUv.push_back(mesh->parts[i]);
    return model;
}

void matchSurfaces(BringPlan& plan) {
    if (plan.surfaces.size() < 2) {
        // The first set drives the surface, the others wait.
        for (std::size_t i = 0; i < plan.sets.size(); ++i) {
            plan.sets[i].drives = i == 0;
            plan.sets[i].surface = plan.surfaces.empty() ? std::string() : plan.surfaces.front();
        }
        return;
    }
    std::set<std::string> taken;
    std::vector<bool> isPlaced(plan.sets.size(), false);
    const auto place = [&](std::size_t set, const std::string& surface) {
        plan.sets[set].surface = surface;
        plan.sets[set].drives = taken.insert(surface).second;
        isPlaced[set] = true;
    };
    // The pairs that have most in common first.
    struct Pair {
        int common;
        std::size_t set, surface;
    };
    std::vector<Pair> pairs;
    for (std::size_t s = 0; s < plan.sets.size(); ++s)
        for (std::size_t m = 0; m < plan.surfaces.size(); ++m)
            if (const int common = wordsInCommon(plan.sets[s].name, plan.surfaces[m]); common > 0)
                pairs.push_back({common, s, m});
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const Pair& a, const Pair& b) { return a.common > b.common; });
    for (const Pair& pair : pairs)
        if (!isPlaced[pair.set] && !taken.contains(plan.surfaces[pair.surface]))
            place(pair.set, plan.surfaces[pair.surface]);
    for (std::size_t s = 0; s < plan.sets.size(); ++s) {
        if (isPlaced[s]) continue;
        const auto free = std::find_if(plan.surfaces.begin(), plan.surfaces.end(),
                                       [&](const std::string& name) { return !taken.contains(name); });
        place(s, free != plan.surfaces.end() ? *free : plan.surfaces.front());
    }
}

Result<BringPlan> planBringIn(const std::vector<fs::path>& from, bool subFolders,
                              const ReadingProgress& progress, const CancelToken& cancel,
                              const ReadInto* into) {
    auto sources = sourcesOf(from, subFolders);
    if (!sources) return fail(sources.error());
    BringPlan plan;
    if (!sources->models.empty()) {
        auto model = planModel(sources->models.front(), "auto", cancel);
        if (!model) {
            // A folder of maps may hold a model that is of no use; one that was given is wanted.
            if (sources->folders == 0 || sources->pictures.empty()) return fail(model.error());
            plan.leftOut.push_back(model.error().sentence + " It was left out.");
        } else {
            plan.model = std::move(*model);
            if (plan.model->materials.size() > 1) plan.surfaces = plan.model->materials;
        }
    }
    for (const auto& [folder, files] : sources->pictures) plan.seen += static_cast<int>(files.size());
    FolderReader reader(plan, progress, cancel, into, plan.seen);
    for (const auto& [folder, files] : sources->pictures)
        reader.read(folder, files, sources->pictures.size() == 1);
    if (cancel.isCancelled()) return fail(ErrorKind::Cancelled, "Bringing in was stopped.");
    const std::string where = from.empty() ? std::string() : from.front().string();
    if (plan.seen == 0 && !plan.model)
        return fail(
            ErrorKind::Invalid,
            fmt::format("There are no pictures in {}. Choose the folder that holds the finished maps.",
                        where));
    if (plan.sets.empty() && !plan.model)
        return fail(ErrorKind::Invalid, fmt::format("None of the {} pictures in {} can be read. {}",
                                                    plan.seen, where, plan.leftOut.front()));
    std::stable_sort(plan.sets.begin(), plan.sets.end(),
                     [](const PlannedSet& a, const PlannedSet& b) { return knownMaps(a) > knownMaps(b); });
    matchSurfaces(plan);
    return plan;
}

}  // namespace kettle
