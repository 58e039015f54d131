#include "core/engine/source_files.h"

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

}  // namespace kettle
