// Plane: the float memory of one component of many points. 64-byte aligned and padded to whole blocks, so
// that kernels run over its end without a remainder loop. Moves, and is not copied by accident: call clone().
#pragma once

#include <cstddef>
#include <cstdlib>
#include <cstring>
#include <memory>

#include "core/base/memory.h"

namespace kettle {

class Plane {
public:
    static constexpr std::size_t kGranule = 512;  ///< floats; a multiple of every block size in use
    Plane() = default;
    /// `count` floats that are not cleared; the padding behind them is 0. Throws std::bad_alloc.
    explicit Plane(std::size_t count) : m_count(count) {
        const std::size_t padded = (count + kGranule - 1) / kGranule * kGranule;
        auto* memory =
            static_cast<float*>(allocatePictureMemory((padded == 0 ? kGranule : padded) * sizeof(float)));
        m_data.reset(memory);
        // Only the padding: whatever stands there is computed with, and should not be a slow denormal or a
        // NaN.
        std::memset(memory + count, 0, (padded - count) * sizeof(float));
    }
    /// A copy of all floats. Throws std::bad_alloc.
    Plane clone() const {
        Plane copy(m_count);
        if (m_count > 0) std::memcpy(copy.data(), data(), m_count * sizeof(float));
        return copy;
    }
    /// 64-byte aligned, readable and writable to the next multiple of kGranule; null for an empty plane.
    float* data() { return m_data.get(); }
    const float* data() const { return m_data.get(); }
    /// Floats without the padding.
    std::size_t size() const { return m_count; }
    bool empty() const { return m_count == 0; }
    /// i < size(); not checked.
    float& operator[](std::size_t i) { return m_data.get()[i]; }
    float operator[](std::size_t i) const { return m_data.get()[i]; }

private:
    struct Free {
        void operator()(float* p) const { std::free(p); }
    };
    std::unique_ptr<float, Free> m_data;
    std::size_t m_count = 0;
};

}  // namespace kettle
