// A mesh's answers to what points ask of the model they lie on.
#pragma once

#include <atomic>
#include <deque>
#include <memory>
#include <mutex>
#include <optional>

#include "core/engine/model_facts.h"
#include "core/geometry/occlusion.h"
#include "core/geometry/surface_samples.h"
#include "core/geometry/uv_cells.h"
#include "core/scene/scene_store.h"

namespace kettle {

/// Fields by the role of their key: "position" (three, cm), "normal" (three, unit, of the model), "tangent"
/// (three, unit, towards increasing u) and "tangent-side" (its Tangent::side), "size" (cm that one unit of
/// texture space covers), "height" (0 at the model's foot, 1 at its top), "part" (1 on the part or object
/// that the key's set names), "object-number" and "part-number" (given by hand, else the place in the order
/// of the model, from 0), "object-share" (the same over the largest that any bears), "object-x", "-y", "-z"
/// (where its middle stands within the model, 0 to 1; of parts as well), "hidden" (numbers: spread in cm,
/// falloff; see HiddenDistances) and "curvature" (number: spread in cm; see curvatureOf).
class MeshFacts final : public ModelFacts, public std::enable_shared_from_this<MeshFacts> {
public:
    /// `percent`: told how much of a slow field is made, 100 if none is; it must outlive this.
    explicit MeshFacts(std::shared_ptr<const RayScene> scene, std::atomic<int>* percent = nullptr);
    void find(const float* u, const float* v, std::size_t count, std::uint32_t* triangles, float* b1,
              float* b2) const override {
        m_cells.find(u, v, count, triangles, b1, b2);
    }
    void move(const std::uint32_t* triangles, const float* u, const float* v, std::size_t count, float* b1,
              float* b2) const override {
        m_cells.move(triangles, u, v, count, b1, b2);
    }
    std::shared_ptr<const ModelField> field(const MeshAttribute& attribute,
                                            const Shared<ObjectNumbers>& numbers = {}) const override;
    std::shared_ptr<const ModelFacts> only(const std::string& object) const override;
    const std::vector<ModelThing>& things() const override;
    const std::shared_ptr<const RayScene>& scene() const { return m_scene; }

private:
    std::shared_ptr<const ModelField> made(const MeshAttribute& attribute,
                                           const ObjectNumbers& numbers) const;
    std::shared_ptr<const ModelField> made(SurfaceAttribute fact) const;
    std::shared_ptr<const ModelField> made(const AmbientOcclusion& occlusion) const;
    const std::shared_ptr<const SurfaceSamples>& samples() const;
    /// The mesh with all normals outward.
    const Mesh& outward() const;

    std::shared_ptr<const RayScene> m_scene;
    UvCells m_cells;
    std::atomic<int>* m_percent;
    mutable std::mutex m_mutex;
    mutable bool m_knowsSides = false;
    mutable std::optional<Mesh> m_turned;  ///< if any part had to be
    mutable std::shared_ptr<const SurfaceSamples> m_samples;
    mutable std::optional<HiddenDistances> m_hidden;
    struct Kept {
        MeshAttribute attribute;
        Shared<ObjectNumbers> numbers;
        std::shared_ptr<const ModelField> field;
    };
    mutable std::optional<std::vector<ModelThing>> m_things;
    mutable std::deque<Kept> m_fields;  ///< newest first
    class OneObject;
    struct Alone;
    mutable std::deque<std::pair<std::string, std::shared_ptr<Alone>>> m_objects;  ///< as well
};

/// The facts of models by their names, over a store of scenes; keeps those of the last one asked for.
class FactsStore final : public ModelFinder {
public:
    explicit FactsStore(std::shared_ptr<SceneStore> scenes) : m_scenes(std::move(scenes)) {}
    std::shared_ptr<const ModelFacts> facts(const std::string& model, const std::string& unit) override;
    /// How much of a slow field is made, 0 to 100; 100 while none is. Threads: safe.
    int percent() const { return m_percent; }

private:
    std::shared_ptr<SceneStore> m_scenes;
    std::mutex m_mutex;
    std::atomic<int> m_percent{100};
    std::shared_ptr<const MeshFacts> m_kept;
};

}  // namespace kettle
