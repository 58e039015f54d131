#include "app/pictures/model_loader.h"

#include <pthread.h>

#include <utility>

#include "core/threads/parallel.h"

namespace kettle {

ModelLoader::ModelLoader(std::shared_ptr<SceneStore> scenes, Done done)
    : m_scenes(std::move(scenes)), m_done(std::move(done)), m_thread([this] { work(); }) {
    pthread_setname_np(m_thread.native_handle(), "models");
}

ModelLoader::~ModelLoader() {
    {
        const std::lock_guard lock(m_mutex);
        m_stop = true;
        m_cancel.cancel();
    }
    m_wake.notify_all();
    m_thread.join();
}

void ModelLoader::ask(std::string model, std::string unit) {
    {
        const std::lock_guard lock(m_mutex);
        m_asked = Asked{std::move(model), std::move(unit)};
        m_cancel.cancel();
        m_cancel = CancelToken();
    }
    m_wake.notify_all();
}

bool ModelLoader::isIdle() const {
    const std::lock_guard lock(m_mutex);
    return !m_busy && !m_asked;
}

void ModelLoader::work() {
    const GiveWay giveWay;
    std::unique_lock lock(m_mutex);
    while (!m_stop) {
        if (!m_asked) {
            m_wake.wait(lock);
            continue;
        }
        const Asked asked = *std::exchange(m_asked, std::nullopt);
        const CancelToken cancel = m_cancel;
        m_busy = true;
        lock.unlock();
        const auto scene = guarded("read the model " + asked.model,
                                   [&] { return m_scenes->load(asked.model, asked.unit, cancel); });
        if (!cancel.isCancelled()) m_done(scene);
        lock.lock();
        m_busy = false;
    }
}

}  // namespace kettle
