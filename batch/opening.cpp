#include "batch/opening.h"

#include <fmt/format.h>

#include <cstdlib>

#include "core/base/machine.h"
#include "core/document/json.h"
#include "core/geometry/mesh_facts.h"

namespace kettle::batch {

namespace fs = std::filesystem;

Result<Opened> open(Console& out, const std::string& file, bool prepares) {
    auto project = loadProject(file);
    if (!project) return fail(project.error());
    std::size_t maps = 0;
    for (const auto& set : project->sets) maps += set->maps.size();
    out.detail(fmt::format("{}: {} maps, {} lines, {} looks.", file, maps, project->lines.size(),
                           project->looks.size()));
    Resources resources(fs::absolute(file).parent_path(), *project);
    if (const fs::path folder = PreparedMaps::standardFolder(); !folder.empty())
        resources.store().prepareIn(folder, prepares);
    auto scenes = std::make_shared<SceneStore>(dataFolder() / "models");
    auto [prepared, keeps] = resources.store().prepared();
    scenes->prepareIn(std::move(prepared), keeps);
    resources.setModels(std::make_shared<FactsStore>(scenes));
    return Opened{std::move(*project), std::move(resources), std::move(scenes)};
}

std::string sentenceOf(const Error& error) {
    return error.sentence;
}

std::vector<LibraryFolder> libraryFolders() {
    std::vector<LibraryFolder> folders{{dataFolder() / "library", EntryOrigin::Shipped}};
    // Where the desktop's rules put an application's data.
    const char *data = std::getenv("XDG_DATA_HOME"), *home = std::getenv("HOME");
    if (data != nullptr && *data != '\0')
        folders.push_back({fs::path(data) / "Pale Kettle", EntryOrigin::Own});
    else if (home != nullptr)
        folders.push_back({fs::path(home) / ".local/share/Pale Kettle", EntryOrigin::Own});
    return folders;
}

fs::path dataFolder() {
    return programData(KETTLE_DATA_DIR);
}

}  // namespace kettle::batch
