// Shared<T>: a value that is cheap to copy because copies share it until one of them is edited. It is what
// makes a Project a value: keeping a hundred earlier versions costs only what changed between them.
#pragma once

#include <memory>
#include <utility>

namespace kettle {

template <class T>
class Shared {
public:
    /// A value made by its default constructor; never null.
    Shared() : m_value(std::make_shared<T>()) {}
    Shared(T value)
        : m_value(std::make_shared<T>(std::move(value))) {}  // NOLINT(google-explicit-constructor)

    /// For reading; valid until this or a copy of it is assigned to.
    const T& operator*() const { return *m_value; }
    const T* operator->() const { return m_value.get(); }

    /// The value for writing; copied first if anybody else holds it. Not for two threads at once.
    T& edit() {
        if (m_value.use_count() != 1) m_value = std::make_shared<T>(*m_value);
        return *m_value;
    }

    /// True if both are the very same stored value; cheap, and enough to skip work on unchanged parts.
    bool sameAs(const Shared& other) const { return m_value == other.m_value; }
    bool operator==(const Shared& other) const { return sameAs(other) || *m_value == *other.m_value; }

private:
    std::shared_ptr<T> m_value;
};

}  // namespace kettle
