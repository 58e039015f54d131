#include "core/exchange/recognise.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <optional>
#include <set>

#include "core/document/edits.h"
#include "core/document/path_text.h"
#include "core/image/image.h"
#include "core/image/map_image.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

struct RoleWords {
    const char* role;
    std::vector<const char*> words;  ///< joined neighbours are tried too: "base" "color" is "basecolor"
};
const std::vector<RoleWords>& roleWords() {
    static const std::vector<RoleWords> list{
        {"base-colour",
         {"basecolor", "basecolour", "albedo", "diffuse", "diff", "color", "colour", "col", "basecol", "bc"}},
        {"roughness", {"roughness", "rough", "rgh"}},
        {"gloss", {"gloss", "glossiness", "smoothness", "gls"}},
        {"metalness", {"metalness", "metallic", "metal", "mtl", "met"}},
        {"normal",
         {"normal", "normals", "nrm", "nor", "norm", "nrml", "normalgl", "normaldx", "normalogl", "nmap"}},
        {"height", {"height", "displacement", "disp", "hgt", "bump", "dsp"}},
        {"occlusion", {"occlusion", "ao", "occ", "ambientocclusion"}},
        {"emission", {"emission", "emissive", "emit", "glow"}},
        {"opacity", {"opacity", "alpha", "transparency", "cutout"}},
        {"specular-level", {"specularlevel", "speclevel"}},
        {"occlusion-roughness-metalness",
         {"orm", "arm", "occlusionroughnessmetallic", "occlusionroughnessmetalness"}},
    };
    return list;
}

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// Splits at separators and where a capital follows a small letter.
std::vector<std::string> wordsOf(const std::string& stem) {
    std::vector<std::string> words(1);
    char last = 0;
    for (const char c : stem) {
        const bool separator = std::isalnum(static_cast<unsigned char>(c)) == 0;
        const bool hump = std::isupper(static_cast<unsigned char>(c)) != 0 &&
                          std::islower(static_cast<unsigned char>(last)) != 0;
        if ((separator || hump) && !words.back().empty()) words.emplace_back();
        if (!separator) words.back() += c;
        last = c;
    }
    if (words.back().empty()) words.pop_back();
    for (std::string& w : words) w = lower(w);
    return words;
}

bool isTileNumber(const std::string& word) {
    return word.size() == 4 && word.starts_with("10") && std::all_of(word.begin(), word.end(), ::isdigit) &&
           word != "1000";
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

/// Builds the lines of a set; ids follow the channels, so that projects read well.
class LineMaker {
public:
    LineMaker(Project& project, const TextureSet& set) : m_project(project), m_set(set) {}

    void channel(const char* id, const std::string& role,
                 std::vector<std::pair<std::string, std::string>> mapControls = {}, bool invert = false) {
        const ChannelInfo* info = findChannel(id);
        if (m_project.lineOfChannel(id) != nullptr) return;
        Line line{id, info->name, info->kind, id, {}, {}};
        line.steps.emplace_back(mapStep(role, std::move(mapControls)));
        if (invert) {
            Step step;
            step.id = "s" + std::to_string(++m_steps);
            step.type = "invert";
            step.controls["from"] = std::string("gloss");
            line.steps.emplace_back(std::move(step));
        }
        m_project.lines.emplace_back(std::move(line));
    }
    void shared(const std::string& role, bool readsAlpha) {
        Line line{edits::freshId(m_project, role), titleOf(role), Kind::Scalar, "", {}, {}};
        line.steps.emplace_back(mapStep(
            role, readsAlpha ? std::vector<std::pair<std::string, std::string>>{{"component", "alpha"}}
                             : std::vector<std::pair<std::string, std::string>>{}));
        m_project.lines.emplace_back(std::move(line));
    }

private:
    Step mapStep(const std::string& role, std::vector<std::pair<std::string, std::string>> controls) {
        Step step;
        step.id = "s" + std::to_string(++m_steps);
        step.type = "map";
        step.set = m_set.id;
        step.role = role;
        for (auto& [name, value] : controls) step.controls[name] = value;
        return step;
    }
    Project& m_project;
    const TextureSet& m_set;
    int m_steps = 0;
};

struct Found {
    RecognisedName name;
    ImageInfo info;
};

/// Readable pictures by pattern, in the order of their names; what cannot be read goes to the notes.
std::map<std::string, Found> findPictures(const fs::path& folder, std::vector<std::string>& notes,
                                          int& seen) {
    std::map<std::string, Found> found;
    std::vector<fs::path> files;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder, code))
        if (entry.is_regular_file(code) && isPicture(entry.path())) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    seen = static_cast<int>(files.size());
    std::vector<Result<ImageInfo>> infos(files.size());
    parallelFor(files.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            infos[i] = inspectImage(files[i]);
            if (!infos[i]) continue;
            // The pixels too: a file that ends too early should be named now, and not when it is first shown.
            if (auto pixels = readImage(files[i]); !pixels) infos[i] = fail(pixels.error());
        }
    });
    for (std::size_t i = 0; i < files.size(); ++i) {
        const fs::path& file = files[i];
        const RecognisedName name = recogniseName(file.filename().string());
        const auto& info = infos[i];
        if (!info)
            notes.push_back(info.error().sentence + " It was left out.");
        else
            found.try_emplace(name.pattern, Found{name, *info});
    }
    return found;
}

void makeLines(Project& project, const TextureSet& set, const std::map<std::string, Found>& found,
               std::vector<std::string>& notes) {
    LineMaker lines(project, set);
    const auto find = [&](const std::string& role) -> const Found* {
        for (const auto& [pattern, f] : found)
            if (f.name.role == role) return &f;
        return nullptr;
    };
    const bool packed = find("occlusion-roughness-metalness") != nullptr;
    const auto packedChannel = [&](const char* channel, const char* component) {
        lines.channel(channel, "occlusion-roughness-metalness", {{"component", component}});
    };
    for (const ChannelInfo& c : channels()) {
        const std::string id = c.id;
        if (const Found* f = find(id)) {
            std::vector<std::pair<std::string, std::string>> controls;
            if (id == "normal" && f->name.greenDown) controls.emplace_back("green", "down");
            lines.channel(c.id, id, controls);
        } else if (id == "roughness" && find("gloss") != nullptr) {
            lines.channel("roughness", "gloss", {}, true);
            notes.push_back(
                "The gloss map was inverted to make roughness of it: see the Invert step on the line "
                "Roughness.");
        } else if (packed && id == "roughness") {
            packedChannel("roughness", "green");
        } else if (packed && id == "metalness") {
            packedChannel("metalness", "blue");
        } else if (packed && id == "occlusion") {
            packedChannel("occlusion", "red");
        }
    }
    for (const auto& [pattern, f] : found)
        if (!f.name.known) {
            const bool alpha = f.info.channels == 4 || f.info.channels == 2;
            lines.shared(f.name.role, alpha);
            if (alpha)
                notes.push_back(fmt::format("{} is read from its alpha, where its soft edges are.", pattern));
        }
}

}  // namespace

RecognisedName recogniseName(const std::string& fileName) {
    const fs::path path = fileName;
    std::vector<std::string> words = wordsOf(path.stem().string());
    RecognisedName name;
    name.pattern = fileName;
    for (auto it = words.begin(); it != words.end();) {
        if (isTileNumber(*it)) {
            name.isTile = true;
            const auto at = name.pattern.rfind(*it);
            if (at != std::string::npos) name.pattern.replace(at, 4, "<UDIM>");
            it = words.erase(it);
        } else {
            ++it;
        }
    }
    // The last words of a name say its role: longest match first, from the end.
    for (std::size_t end = words.size(); end > 0 && !name.known; --end)
        for (std::size_t length = std::min<std::size_t>(3, end); length > 0 && !name.known; --length) {
            std::string joined;
            for (std::size_t i = end - length; i < end; ++i) joined += words[i];
            for (const RoleWords& role : roleWords())
                for (const char* word : role.words)
                    if (joined == word) {
                        name.role = role.role;
                        name.known = true;
                        const bool after =
                            end < words.size() && (words[end] == "dx" || words[end] == "directx");
                        name.greenDown = joined == "normaldx" || (name.role == "normal" && after);
                    }
        }
    if (!name.known) name.role = words.empty() ? "extra" : words.back();
    return name;
}

Result<Recognised> projectFromFolder(const fs::path& folder) {
    std::error_code code;
    if (!fs::is_directory(folder, code))
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find the folder {}. Check the name.", folder.string()));
    Recognised result;
    int seen = 0;
    const auto found = findPictures(folder, result.notes, seen);
    if (seen == 0)
        return fail(
            ErrorKind::Invalid,
            fmt::format("There are no pictures in {}. Choose the folder that holds the finished maps.",
                        folder.string()));
    if (found.empty())
        return fail(ErrorKind::Invalid, fmt::format("None of the {} pictures in {} can be read. {}", seen,
                                                    folder.string(), result.notes.front()));
    TextureSet set;
    const fs::path absolute = fs::absolute(folder, code).lexically_normal();
    const std::string folderName =
        absolute.has_filename() ? absolute.filename().string() : absolute.parent_path().filename().string();
    set.id = lower(readable(folderName));
    set.name = titleOf(readable(folderName));
    set.folder = absolute.string();
    std::set<std::string> roles;
    for (const auto& [pattern, f] : found) {
        if (!roles.insert(f.name.role).second) {
            result.notes.push_back(fmt::format(
                "{} looks like a second {} map and was left out. Rename it, or choose it by hand.", pattern,
                f.name.role));
            continue;
        }
        Map map;
        map.role = f.name.role;
        map.file = pattern;
        set.maps.push_back(std::move(map));
        if (f.name.role == "base-colour" && f.info.depth == Depth::U16)
            result.notes.push_back(fmt::format(
                "{} has 16 bits and is read as sRGB. Choose another encoding if it is linear.", pattern));
    }
    makeLines(result.project, set, found, result.notes);
    result.project.sets.emplace_back(std::move(set));
    return result;
}

}  // namespace kettle
