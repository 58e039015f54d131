// LetGo: what the window lets go of waits here for the thread that made it.
#pragma once

#include <memory>
#include <mutex>
#include <utility>
#include <vector>

namespace kettle {

/// The pictures of thousands of steps are thousands of pieces of memory. The window has no time to free them,
/// and a third thread that does so beside their maker waits with it, piece by piece, for the same lock: each
/// wakes the other a hundred thousand times a second, on the core that the window works on.
template <class T>
class LetGo {
public:
    /// A value whose last holder, on whatever thread, leaves it here. It may outlive this.
    std::shared_ptr<const T> share(std::unique_ptr<T> value) {
        return {value.release(), [left = m_left](const T* old) {
                    const std::lock_guard lock(left->mutex);
                    left->values.emplace_back(old);
                }};
    }
    /// Frees what has been left, on the calling thread.
    void free() {
        std::vector<std::unique_ptr<const T>> old;
        {
            const std::lock_guard lock(m_left->mutex);
            old.swap(m_left->values);
        }
    }

private:
    struct Left {
        std::mutex mutex;
        std::vector<std::unique_ptr<const T>> values;
    };
    std::shared_ptr<Left> m_left = std::make_shared<Left>();
};

}  // namespace kettle
