#include "core/scene/scene_store.h"

#include <algorithm>

#include "core/scene/prepared_mesh.h"

namespace kettle {

std::filesystem::path SceneStore::fileOf(const std::string& model) const {
    for (const char* extension : {".obj", ".glb", ".gltf", ".ply"})
        if (std::error_code code; std::filesystem::exists(m_models / (model + extension), code))
            return m_models / (model + extension);
    return model;
}

SceneStore::Kept SceneStore::asItLies(const std::string& model, const std::string& unit) const {
    Kept kept;
    kept.file = fileOf(model);
    kept.unit = unit;
    std::error_code code;
    kept.time = std::filesystem::last_write_time(kept.file, code);
    kept.size = std::filesystem::file_size(kept.file, code);
    return kept;
}

std::shared_ptr<const RayScene> SceneStore::loaded(const std::string& model, const std::string& unit) const {
    const Kept wanted = asItLies(model, unit);
    const std::lock_guard lock(m_mutex);
    const auto at =
        std::find_if(m_kept.begin(), m_kept.end(), [&](const Kept& kept) { return kept.isSame(wanted); });
    return at == m_kept.end() ? nullptr : at->scene;
}

void SceneStore::prepareIn(std::shared_ptr<const PreparedMaps> prepared, bool keeps) {
    const std::lock_guard lock(m_mutex);
    m_prepared = std::move(prepared);
    m_keeps = keeps;
}

Result<Mesh> SceneStore::meshOf(const Kept& wanted, const CancelToken& cancel) {
    std::shared_ptr<const PreparedMaps> prepared;
    bool keeps = false;
    {
        const std::lock_guard lock(m_mutex);
        prepared = m_prepared, keeps = m_keeps;
    }
    if (prepared)
        if (auto found = findPreparedMesh(*prepared, wanted.file, wanted.unit)) return std::move(*found);
    auto mesh = loadMesh(wanted.file, std::chrono::minutes(3), wanted.unit, cancel);
    if (mesh && prepared && keeps) keepPreparedMesh(*prepared, wanted.file, wanted.unit, *mesh);
    return mesh;
}

Result<std::shared_ptr<const RayScene>> SceneStore::load(const std::string& model, const std::string& unit,
                                                         const CancelToken& cancel) {
    if (auto known = loaded(model, unit)) return known;
    Kept kept = asItLies(model, unit);
    auto mesh = meshOf(kept, cancel);
    if (!mesh) return fail(mesh.error());
    auto scene =
        guarded("show the model " + kept.file.string(), [&]() -> Result<std::shared_ptr<const RayScene>> {
            return std::make_shared<RayScene>(std::make_shared<const Mesh>(std::move(*mesh)));
        });
    if (!scene) return fail(scene.error());
    kept.scene = std::move(*scene);
    constexpr std::size_t kMost = 8;
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_kept, [&](const Kept& old) { return old.file == kept.file && old.unit == kept.unit; });
    if (m_kept.size() >= kMost) m_kept.erase(m_kept.begin());
    m_kept.push_back(kept);
    return kept.scene;
}

}  // namespace kettle
