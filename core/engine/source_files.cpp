#include "core/engine/source_files.h"

#include <fmt/format.h>

namespace kettle {

SourceFiles::SourceFiles(const Project& project, const Resources& resources) {
    for (const auto& set : project.sets)
        for (const Map& map : set->maps) {
            const std::filesystem::path file = resources.fileOf(*set, map);
            add(file);
            if (isTilePattern(file))
                for (const int tile : tilesOnDisk(file)) add(tileFile(file, tile));
        }
    if (!project.colour.configuration.empty()) add(resources.folder() / project.colour.configuration);
    for (const std::string* own : {&project.view.model, &project.view.environment})
        if (isFile(*own)) add(resources.folder() / *own);
}

void SourceFiles::add(const std::filesystem::path& file) {
    const auto identity = identityOf(file);
    if (!identity) return;
    m_files.insert(*identity);
    std::error_code code;
    m_paths.insert(std::filesystem::weakly_canonical(file, code));
}

Result<void> SourceFiles::mayWrite(const std::filesystem::path& target) const {
    const auto identity = identityOf(target);
    std::error_code code;
    const bool isOne = (identity && m_files.contains(*identity)) ||
                       m_paths.contains(std::filesystem::weakly_canonical(target, code));
    if (!isOne) return {};
    return fail(ErrorKind::Refused,
                fmt::format("{} is one of the project's source maps, which are never written to. "
                            "Choose another folder or name.",
                            target.string()));
}

}  // namespace kettle
