#include "batch/opening.h"

#include "core/base/machine.h"
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
    return programData(KETTLE_DATA_DIR);
}

}  // namespace kettle::batch
