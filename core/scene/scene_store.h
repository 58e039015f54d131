// The models in use, made ready for rays. Reading one may take long, so it is asked for on a thread of its
// own and found here by whoever draws.
#pragma once

#include <filesystem>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/scene/rays.h"

namespace kettle {

class PreparedMaps;

class SceneStore {
public:
    /// `models`: the folder of the shipped ones, in which "kettle" means kettle.obj.
    explicit SceneStore(std::filesystem::path models) : m_models(std::move(models)) {}

    /// Takes models that lie prepared there from now on, and with `keeps` keeps what it reads; null: neither.
    /// Threads: safe.
    void prepareIn(std::shared_ptr<const PreparedMaps> prepared, bool keeps);
    /// Where a model lies: a shipped one's name, or a file.
    std::filesystem::path fileOf(const std::string& model) const;
    /// The model if it was loaded as it lies on the disk now, else null. Threads: safe.
    std::shared_ptr<const RayScene> loaded(const std::string& model, const std::string& unit) const;
    /// Loads it if needed, however long that takes. Errors: those of loadMesh. Threads: safe.
    Result<std::shared_ptr<const RayScene>> load(const std::string& model, const std::string& unit,
                                                 const CancelToken& cancel = {});

private:
    struct Kept {
        std::filesystem::path file;
        std::string unit;
        std::filesystem::file_time_type time;
        std::uintmax_t size = 0;
        std::shared_ptr<const RayScene> scene;
        bool isSame(const Kept& o) const {
            return file == o.file && unit == o.unit && time == o.time && size == o.size;
        }
    };
    Kept asItLies(const std::string& model, const std::string& unit) const;

    Result<Mesh> meshOf(const Kept& wanted, const CancelToken& cancel);

    std::filesystem::path m_models;
    std::shared_ptr<const PreparedMaps> m_prepared;
    bool m_keeps = false;
    mutable std::mutex m_mutex;
    std::vector<Kept> m_kept;  ///< the one that was loaded last is the last
};

}  // namespace kettle
