// Reads models on a thread of its own: a large one takes seconds, and pictures of what is open go on
// meanwhile.
#pragma once

#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>

#include "core/scene/scene_store.h"

namespace kettle {

class ModelLoader {
public:
    using Done = std::function<void(const Result<std::shared_ptr<const RayScene>>&)>;
    /// `done` is called on the loader's thread with what the newest request came to; older ones are stopped
    /// and never answered.
    ModelLoader(std::shared_ptr<SceneStore> scenes, Done done);
    ~ModelLoader();
    ModelLoader(const ModelLoader&) = delete;
    ModelLoader& operator=(const ModelLoader&) = delete;

    void ask(std::string model, std::string unit);
    bool isIdle() const;

private:
    struct Asked {
        std::string model, unit;
    };
    void work();

    std::shared_ptr<SceneStore> m_scenes;
    Done m_done;
    mutable std::mutex m_mutex;
    std::condition_variable m_wake;
    std::optional<Asked> m_asked;
    CancelToken m_cancel;
    bool m_stop = false, m_busy = false;
    std::thread m_thread;
};

}  // namespace kettle
