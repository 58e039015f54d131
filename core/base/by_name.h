// ByName: values by their names, made at once and then only read. Two pieces of memory, however many they
// are: a map has one for each name, and to free thirty thousand of those, one by one, took longer than to
// make what they hold.
#pragma once

#include <cstddef>
#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/name_index.h"

namespace kettle {

template <class T>
class ByName {
public:
    using Entry = std::pair<std::string, T>;

    ByName() : ByName(std::vector<Entry>()) {}
    /// Keeps their order. Of equal names the first is found.
    explicit ByName(std::vector<Entry> entries) : m_entries(std::move(entries)), m_index(m_entries.size()) {
        for (std::size_t i = 0; i < m_entries.size(); ++i) m_index.add(m_entries[i].first, i);
    }
    // The index borrows the names, which stay where they are when the table is moved, but not when it is
    // copied.
    ByName(const ByName&) = delete;
    ByName& operator=(const ByName&) = delete;
    ByName(ByName&&) noexcept = default;
    ByName& operator=(ByName&&) noexcept = default;
    ~ByName() = default;

    /// Null for a name that is not there.
    const T* find(std::string_view name) const {
        const std::size_t at = m_index.find(name);
        return at == NameIndex::kNone ? nullptr : &m_entries[at].second;
    }
    T* find(std::string_view name) { return const_cast<T*>(std::as_const(*this).find(name)); }
    /// Throws std::out_of_range for a name that is not there.
    const T& at(std::string_view name) const {
        const T* found = find(name);
        if (found == nullptr) throw std::out_of_range("no " + std::string(name));
        return *found;
    }
    std::size_t size() const { return m_entries.size(); }
    bool empty() const { return m_entries.empty(); }
    auto begin() const { return m_entries.begin(); }
    auto end() const { return m_entries.end(); }
    /// What is in it, for whoever makes another table of it.
    std::vector<Entry> release() && { return std::move(m_entries); }

private:
    std::vector<Entry> m_entries;
    NameIndex m_index;
};

}  // namespace kettle
