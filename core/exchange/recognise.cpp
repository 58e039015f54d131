#include "core/exchange/recognise.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <map>
#include <mutex>
#include <optional>
#include <set>

#include "core/document/edits.h"
#include "core/document/path_text.h"
#include "core/exchange/map_contents.h"
#include "core/image/image.h"
#include "core/image/map_image.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

std::string titleOf(const std::string& id) {
    std::string text = id;
    std::replace_if(
        text.begin(), text.end(), [](char c) { return c == '_' || c == '-' || c == '.'; }, ' ');
    if (!text.empty()) text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text;
}

/// A disk's name as text: what is not UTF-8 is left out.
std::string readable(const std::string& name) {
    if (isUtf8(name)) return name;
    std::string text = name;
    std::replace_if(
        text.begin(), text.end(), [](char c) { return static_cast<unsigned char>(c) >= 0x80; }, '-');
    return text;
}

bool isPicture(const fs::path& file) {
    static const std::set<std::string> kExtensions{".png",  ".tif", ".tiff", ".exr", ".jpg",
                                                   ".jpeg", ".tga", ".bmp",  ".hdr", ".webp"};
    return kExtensions.contains(lower(file.extension().string())) &&
           !file.filename().string().starts_with(".");
}

using MapControls = std::vector<std::pair<std::string, std::string>>;

/// Builds the lines of a set; ids follow the channels, so that projects read well.
class LineMaker {
public:
    LineMaker(Project& project, const TextureSet& set) : m_project(project), m_set(set) {}

    void channel(const std::string& id, const std::string& role, const MapControls& controls, bool isGloss) {
        const ChannelInfo* info = findChannel(id);
        if (info == nullptr || m_project.lineOfChannel(id) != nullptr) return;
        Line line{id, info->name, info->kind, id, {}, {}};
        line.steps.emplace_back(mapStep(role, controls));
        if (isGloss) {
            Step step;
            step.id = "s" + std::to_string(++m_steps);
            step.type = "invert";
            step.controls["from"] = std::string("gloss");
            line.steps.emplace_back(std::move(step));
        }
        m_project.lines.emplace_back(std::move(line));
    }
    void shared(const std::string& role, Kind kind, const MapControls& controls) {
        Line line{edits::freshId(m_project, role), titleOf(role), kind, "", {}, {}};
        line.steps.emplace_back(mapStep(role, controls));
        m_project.lines.emplace_back(std::move(line));
    }

private:
    Step mapStep(const std::string& role, const MapControls& controls) {
        Step step;
        step.id = "s" + std::to_string(++m_steps);
        step.type = "map";
        step.set = m_set.id;
        step.role = role;
        for (const auto& [name, value] : controls) step.controls[name] = value;
        return step;
    }
    Project& m_project;
    const TextureSet& m_set;
    int m_steps = 0;
};

struct Found {
    MapName name;
    ImageInfo info;
    MapContents contents;
};

/// What a picture's pixels add to its name. `hasNormal`: its set has a normal map by name already.
void judge(Found& found, bool hasNormal, std::vector<std::string>& notes) {
    MapName& name = found.name;
    if (!name.isKnown && !hasNormal && found.contents.isNormal && !found.contents.isPlain) {
        name.role = "normal";
        name.isKnown = name.isGuess = true;
        notes.push_back(fmt::format(
            "{} was taken as the normal map, since it looks like one: its mean is {} {} {}.", name.pattern,
            std::lround(found.contents.mean[0] * 255), std::lround(found.contents.mean[1] * 255),
            std::lround(found.contents.mean[2] * 255)));
    } else if (name.isKnown && name.isGuess) {
        notes.push_back(fmt::format("{} was taken as {}, since {}.", name.pattern, name.role, name.reason));
    } else if (!name.isKnown && found.contents.isPacked) {
        notes.push_back(
            fmt::format("{} looks like a packed map: its components are three pictures. Choose in the "
                        "tuner which of them is read.",
                        name.pattern));
    }
    if (std::string wrong = contradictionOf(name, found.contents); !wrong.empty())
        notes.push_back(std::move(wrong));
}

/// Readable pictures by pattern, guesses last; what cannot be read goes to the notes.
std::vector<Found> findPictures(const fs::path& folder, std::vector<std::string>& notes, int& seen,
                                const ReadingProgress& progress, const CancelToken& cancel) {
    std::vector<fs::path> files;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder, code))
        if (entry.is_regular_file(code) && isPicture(entry.path())) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    seen = static_cast<int>(files.size());
    std::vector<Result<ImageInfo>> infos(files.size());
    std::vector<MapContents> contents(files.size());
    std::mutex telling;
    int done = 0;
    parallelFor(files.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !cancel.isCancelled(); ++i) {
            if (progress) {
                const std::lock_guard lock(telling);
                progress(done++, seen);
            }
            infos[i] = inspectImage(files[i]);
            if (!infos[i]) continue;
            // The pixels too: a file that ends too early should be named now, and not when it is first shown.
            if (auto pixels = readImage(files[i]))
                contents[i] = contentsOf(*pixels);
            else
                infos[i] = fail(pixels.error());
        }
    });
    std::vector<std::string> names;
    for (const fs::path& file : files) names.push_back(file.filename().string());
    const std::vector<MapName> read = readMapNames(names);
    std::vector<Found> found;
    std::set<std::string> patterns;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (!infos[i])
            notes.push_back(infos[i].error().sentence + " It was left out.");
        else if (patterns.insert(read[i].pattern).second)
            found.push_back({read[i], *infos[i], contents[i]});
    }
    std::set<std::string> normals;
    for (const Found& f : found)
        if (f.name.role == "normal") normals.insert(f.name.set);
    for (Found& f : found) judge(f, normals.contains(f.name.set), notes);
    // Of two maps of one role the one whose name says it comes before the one that was guessed.
    std::stable_partition(found.begin(), found.end(), [](const Found& f) { return !f.name.isGuess; });
    return found;
}

/// The maps of one set by role; the second of a role is left out and said.
std::map<std::string, Found> mapsOf(const std::vector<Found>& found, const std::string& set,
                                    std::vector<std::string>& notes) {
    std::map<std::string, Found> maps;
    for (const Found& f : found) {
        if (f.name.set != set) continue;
        if (!maps.try_emplace(f.name.role, f).second)
            notes.push_back(fmt::format(
                "{} looks like a second {} map and was left out. Rename it, or choose it by hand.",
                f.name.pattern, f.name.role));
        else if (f.name.role == "base-colour" && f.info.depth == Depth::U16)
            notes.push_back(
                fmt::format("{} has 16 bits and is read as sRGB. Choose another encoding if it is linear.",
                            f.name.pattern));
    }
    return maps;
}

TextureSet setOf(const std::map<std::string, Found>& maps, const std::string& name, const fs::path& folder) {
    TextureSet set;
    set.id = lower(readable(name));
    set.name = titleOf(readable(name));
    set.folder = folder.string();
    for (const auto& [role, f] : maps) {
        Map map;
        map.role = role;
        map.file = f.name.pattern;
        set.maps.push_back(std::move(map));
    }
    return set;
}

constexpr std::array kComponentNames{"red", "green", "blue", "alpha"};

/// Where a channel is packed into another map: that map and the component.
struct Packed {
    const Found* map = nullptr;
    std::size_t component = 0;
};
Packed packedIn(const std::map<std::string, Found>& maps, const std::string& role) {
    for (const auto& [own, f] : maps)
        for (std::size_t c = 0; c < 4; ++c)
            if (f.name.components[c] == role) return {&f, c};
    return {};
}

/// The line of a channel, from its own map, from its opposite, or from a packed one.
void makeChannel(LineMaker& lines, const std::map<std::string, Found>& maps, const std::string& channel,
                 std::vector<std::string>& notes) {
    if (const auto own = maps.find(channel); own != maps.end() && !own->second.name.isPacked()) {
        const bool isDown = channel == "normal" && own->second.name.greenDown;
        return lines.channel(channel, channel, isDown ? MapControls{{"green", "down"}} : MapControls{},
                             false);
    }
    if (channel == "specular-level")
        if (const auto grey = maps.find("specular"); grey != maps.end() && grey->second.contents.isGrey) {
            notes.push_back(fmt::format("{} was taken as the specular level of what is no metal.",
                                        grey->second.name.pattern));
            return lines.channel(channel, "specular", {}, false);
        }
    for (const bool isGloss : {false, true}) {
        if (isGloss && channel != "roughness") continue;
        const std::string role = isGloss ? "gloss" : channel;
        const auto alone = maps.find(role);
        const Packed packed = packedIn(maps, role);
        if (isGloss && (alone != maps.end() || packed.map != nullptr))
            notes.push_back(
                "The gloss map was inverted to make roughness of it: see the Invert step on the line "
                "Roughness.");
        if (isGloss && alone != maps.end()) return lines.channel(channel, "gloss", {}, true);
        if (packed.map != nullptr)
            return lines.channel(channel, packed.map->name.role,
                                 {{"component", kComponentNames[packed.component]}}, isGloss);
    }
}

void makeLines(Project& project, const TextureSet& set, const std::map<std::string, Found>& maps,
               std::vector<std::string>& notes) {
    LineMaker lines(project, set);
    for (const ChannelInfo& c : channels()) makeChannel(lines, maps, c.id, notes);
    for (const auto& [role, f] : maps) {
        if (role == "specular" && !f.contents.isGrey) {
            lines.shared(role, Kind::Colour, {});
            notes.push_back(
                fmt::format("{} is a coloured specular map, which no channel here takes; it waits as a "
                            "shared line. Metals of such a set need a metalness of their own.",
                            f.name.pattern));
        }
        if (f.name.isKnown) continue;
        const bool alpha = f.contents.alphaSays;
        lines.shared(role, Kind::Scalar, alpha ? MapControls{{"component", "alpha"}} : MapControls{});
        if (alpha)
            notes.push_back(
                fmt::format("{} is read from its alpha, where its soft edges are.", f.name.pattern));
    }
}

/// The sets of a folder, the one with most known maps first.
std::vector<std::string> setsIn(const std::vector<Found>& found) {
    std::map<std::string, int> known;
    for (const Found& f : found) known[f.name.set] += f.name.isKnown ? 1 : 0;
    std::vector<std::string> sets;
    for (const auto& [set, count] : known) sets.push_back(set);
    std::stable_sort(sets.begin(), sets.end(),
                     [&](const std::string& a, const std::string& b) { return known[a] > known[b]; });
    return sets;
}

}  // namespace

MapName recogniseName(const std::string& fileName) {
    MapName name = readMapNames({fileName}).front();
    // Nothing tells its own words from its set's: the last one is what such files differ by.
    if (!name.isKnown)
        if (const auto words = wordsOfName(fileName); !words.empty()) name.role = words.back();
    return name;
}

Result<Recognised> projectFromFolder(const fs::path& folder, const ReadingProgress& progress,
                                     const CancelToken& cancel) {
    std::error_code code;
    if (!fs::is_directory(folder, code))
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find the folder {}. Check the name.", folder.string()));
    Recognised result;
    int seen = 0;
    const auto found = findPictures(folder, result.notes, seen, progress, cancel);
    if (cancel.isCancelled()) return fail(ErrorKind::Cancelled, "Bringing in was stopped.");
    if (seen == 0)
        return fail(
            ErrorKind::Invalid,
            fmt::format("There are no pictures in {}. Choose the folder that holds the finished maps.",
                        folder.string()));
    if (found.empty())
        return fail(ErrorKind::Invalid, fmt::format("None of the {} pictures in {} can be read. {}", seen,
                                                    folder.string(), result.notes.front()));
    const fs::path absolute = fs::absolute(folder, code).lexically_normal();
    const std::string folderName =
        absolute.has_filename() ? absolute.filename().string() : absolute.parent_path().filename().string();
    const std::vector<std::string> sets = setsIn(found);
    for (const std::string& name : sets) {
        const auto maps = mapsOf(found, name, result.notes);
        TextureSet set = setOf(maps, sets.size() == 1 || name.empty() ? folderName : name, absolute);
        while (result.project.findSet(set.id) != nullptr) set.id += "-2";
        if (result.project.sets.empty()) makeLines(result.project, set, maps, result.notes);
        result.project.sets.emplace_back(std::move(set));
    }
    if (sets.size() > 1)
        result.notes.insert(
            result.notes.begin(),
            fmt::format("There are {} sets in the folder; the channels are driven by {}. The maps of "
                        "the others can be joined to any step.",
                        sets.size(), result.project.sets.front()->name));
    return result;
}

}  // namespace kettle
