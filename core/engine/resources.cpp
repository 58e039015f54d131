#include "core/engine/resources.h"

#include <fmt/format.h>

#include "core/colour/encoding.h"

namespace kettle {
namespace {

/// The file that tells size and depth: the map itself or its first tile.
std::filesystem::path firstFile(const std::filesystem::path& file) {
    if (file.string().find("<UDIM>") == std::string::npos) return file;
    const auto tiles = tilesOnDisk(file);
    return tileFile(file, tiles.empty() ? 1001 : tiles.front());
}

std::array<float, 4> neutralOf(const std::string& role) {
    if (role == "normal") return {0.5f, 0.5f, 1.0f, 1.0f};
    if (role == "emission" || role == "metalness") return {0, 0, 0, 1};
    if (role == "occlusion" || role == "opacity") return {1, 1, 1, 1};
    return {0.5f, 0.5f, 0.5f, 1.0f};
}

}  // namespace

Resources::Resources(std::filesystem::path folder) : Resources(std::move(folder), Project{}) {}

Resources::Resources(std::filesystem::path folder, const Project& project)
    : m_folder(std::move(folder)),
      m_store(std::make_shared<ImageStore>()),
      m_colours(ColourManagement::shipped()) {
    std::string problem;
    m_colours = ColourManagement::chosen(project.colour.configuration, m_folder.string(), problem);
    if (!problem.empty()) m_problems.push_back(problem);
}

std::filesystem::path Resources::fileOf(const TextureSet& set, const Map& map) const {
    return (m_folder / set.folder / map.file).lexically_normal();
}

Result<std::string> Resources::encodingOf(const TextureSet& set, const Map& map) const {
    if (map.encoding != encoding::kAuto) return map.encoding;
    auto info = inspectImage(firstFile(fileOf(set, map)));
    if (!info) return fail(info.error());
    return automaticEncoding(map.role, *info);
}

Result<std::shared_ptr<const MapImage>> Resources::map(const TextureSet& set, const Map& map) const {
    auto encoding = encodingOf(set, map);
    if (!encoding) return fail(encoding.error());
    return m_store->get(fileOf(set, map), *encoding, m_colours);
}

ResolvedMaps Resources::resolve(const Project& project, const Program& program) const {
    ResolvedMaps resolved;
    for (const SourceKey& key : program.sources) {
        resolved.maps.emplace_back();
        resolved.holes.emplace_back();
        resolved.holes.back().neutral = neutralOf(key.role);
        if (key.kind != SourceKind::Map) continue;  // the point itself is read, no picture
        const TextureSet* set = project.findSet(key.set);
        const Map* found = set != nullptr ? findMap(*set, key.role) : nullptr;
        if (found == nullptr) {
            resolved.problems.push_back(fmt::format(
                "The project has no map {} in the set {}. Bring the set in again, or choose another map.",
                key.role, key.set));
            continue;
        }
        auto image = map(*set, *found);
        if (image)
            resolved.maps.back() = *image;
        else
            resolved.problems.push_back(image.error().sentence);
    }
    return resolved;
}

std::vector<FileProblem> Resources::problemsOf(const Project& project) const {
    std::vector<FileProblem> problems;
    for (const std::string& sentence : m_problems) problems.push_back({sentence, true});
    for (const auto& set : project.sets) {
        int width = 0, height = 0;
        std::string first;
        for (const Map& map : set->maps) {
            // Pixels, not only the header: a file that ends too early is found here and not in the middle of
            // the work.
            auto image = this->map(*set, map);
            if (!image) {
                problems.push_back({image.error().sentence, false, set->id, map.role});
                continue;
            }
            const int w = (*image)->width(), h = (*image)->height();
            if (first.empty()) {
                first = map.file, width = w, height = h;
            } else if (w != width || h != height) {
                problems.push_back(
                    {fmt::format(
                         "{} is {} x {} and {} is {} x {}. It is stretched to fit; export it again in one "
                         "size if that is not meant.",
                         map.file, w, h, first, width, height),
                     true, set->id, map.role});
            }
        }
    }
    return problems;
}

}  // namespace kettle
