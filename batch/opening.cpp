#include "batch/opening.h"

#include <cstdlib>

#include "core/document/json.h"
#include "core/geometry/mesh_facts.h"

namespace kettle::batch {

namespace fs = std::filesystem;

Result<Opened> open(const std::string& file, bool prepares) {
    auto project = loadProject(file);
    if (!project) return fail(project.error());
    Resources resources(fs::absolute(file).parent_path(), *project);
    if (const fs::path folder = PreparedMaps::standardFolder(); !folder.empty())
        resources.store().prepareIn(folder, prepares);
    resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(dataFolder() / "models")));
    return Opened{std::move(*project), std::move(resources)};
}

std::string detailOf(const Error& error) {
    return error.sentence + (error.detail.empty() ? "" : " [" + error.detail + "]");
}

fs::path dataFolder() {
    const char* chosen = std::getenv("PALE_KETTLE_DATA");
    return chosen != nullptr ? fs::path(chosen) : fs::path(KETTLE_DATA_DIR);
}

}  // namespace kettle::batch
