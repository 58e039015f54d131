// LargeArray: many plain values of a picture, in memory that is neither cleared nor copied by accident.
#pragma once

#include <cstddef>
#include <cstdlib>
#include <memory>
#include <type_traits>

#include "core/base/memory.h"

namespace kettle {

template <class T>
class LargeArray {
    static_assert(std::is_trivially_copyable_v<T> && std::is_trivially_destructible_v<T>);

public:
    LargeArray() = default;
    /// `count` values that are not cleared: each is to be written before it is read. Throws std::bad_alloc.
    explicit LargeArray(std::size_t count)
        : m_data(static_cast<T*>(allocatePictureMemory(count * sizeof(T)))), m_count(count) {}
    T* data() { return m_data.get(); }
    const T* data() const { return m_data.get(); }
    std::size_t size() const { return m_count; }
    bool empty() const { return m_count == 0; }
    T* begin() { return data(); }
    T* end() { return data() + m_count; }
    const T* begin() const { return data(); }
    const T* end() const { return data() + m_count; }
    /// i < size(); not checked.
    T& operator[](std::size_t i) { return m_data.get()[i]; }
    const T& operator[](std::size_t i) const { return m_data.get()[i]; }

private:
    struct Free {
        void operator()(T* p) const { std::free(p); }
    };
    std::unique_ptr<T, Free> m_data;
    std::size_t m_count = 0;
};

}  // namespace kettle
