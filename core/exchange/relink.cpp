#include "core/exchange/relink.h"

#include <map>

#include "core/image/map_image.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

bool isThere(const fs::path& file) {
    std::error_code code;
    if (isTilePattern(file)) return !tilesOnDisk(file).empty();
    return fs::is_regular_file(file, code);
}

/// True for the name itself and, for a pattern, for any of its tiles.
bool matches(const fs::path& pattern, const std::string& name) {
    if (!isTilePattern(pattern)) return pattern.filename().string() == name;
    for (int tile = 1001; tile < 1100; ++tile)
        if (tileFile(pattern.filename(), tile).string() == name) return true;
    return false;
}

/// Where each of the wanted names lies, nearest first; links are not followed, so that no circle is walked.
std::map<std::string, fs::path> foldersOf(const std::vector<fs::path>& wanted, const fs::path& folder,
                                          const CancelToken& cancel) {
    std::map<std::string, fs::path> found;
    std::vector<fs::path> level{folder};
    while (!level.empty() && found.size() < wanted.size() && !cancel.isCancelled()) {
        std::vector<fs::path> below;
        for (const fs::path& at : level) {
            std::error_code code;
            for (fs::directory_iterator it(at, code), end; !code && it != end && !cancel.isCancelled();
                 it.increment(code)) {
                std::error_code other;
                if (it->is_symlink(other)) continue;
                if (it->is_directory(other)) {
                    below.push_back(it->path());
                    continue;
                }
                const std::string name = it->path().filename().string();
                for (const fs::path& file : wanted)
                    if (matches(file, name)) found.try_emplace(file.filename().string(), at);
            }
        }
        level = std::move(below);
    }
    return found;
}

}  // namespace

std::vector<fs::path> missingFiles(const Project& project) {
    std::vector<fs::path> missing;
    const auto look = [&](const fs::path& file) {
        if (!isThere(file)) missing.push_back(file.lexically_normal());
    };
    for (const auto& set : project.sets)
        for (const Map& map : set->maps) look(fs::path(set->folder) / map.file);
    for (const std::string* file : {&project.view.model, &project.view.environment})
        if (isFile(*file)) look(*file);
    return missing;
}

Relinked lookInFolder(const Project& project, const fs::path& folder, const CancelToken& cancel) {
    Relinked result{project, 0, {}};
    const auto found = foldersOf(missingFiles(project), folder, cancel);
    const auto placeOf = [&](const fs::path& file) {
        const auto at = found.find(file.filename().string());
        return at == found.end() ? fs::path() : at->second / at->first;
    };
    for (Shared<TextureSet>& set : result.project.sets)
        for (std::size_t m = 0; m < set->maps.size(); ++m) {
            const fs::path was = fs::path(set->folder) / set->maps[m].file;
            if (isThere(was)) continue;
            const fs::path now = placeOf(was);
            if (now.empty()) {
                result.missing.push_back(was.lexically_normal());
                continue;
            }
            const fs::path relative = now.lexically_relative(set->folder);
            set.edit().maps[m].file = relative.empty() ? now.string() : relative.string();
            ++result.found;
        }
    for (std::string* file : {&result.project.view.model, &result.project.view.environment}) {
        if (!isFile(*file) || isThere(*file)) continue;
        const fs::path now = placeOf(*file);
        if (now.empty()) {
            result.missing.emplace_back(*file);
            continue;
        }
        *file = now.string();
        ++result.found;
    }
    return result;
}

}  // namespace kettle
