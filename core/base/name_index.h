// NameIndex: from names to numbers, made at once and then only asked. A flat table: a project of thirty
// thousand steps is looked over in a millisecond, where a map with a piece of memory for each name took ten.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <limits>
#include <string_view>
#include <vector>

namespace kettle {

class NameIndex {
public:
    static constexpr std::size_t kNone = std::numeric_limits<std::size_t>::max();

    /// Room for so many names.
    explicit NameIndex(std::size_t names) {
        std::size_t size = 16;
        while (size < 2 * names) size *= 2;
        m_entries.resize(size);
    }
    /// Of equal names the first is kept. Borrows the name; no more of them than there is room for.
    void add(std::string_view name, std::size_t number) {
        const std::size_t hash = hashOf(name);
        Entry& entry = m_entries[placeOf(name, hash)];
        if (entry.number == kNone) entry = {name, hash, number};
    }
    /// kNone for a name that is not there.
    std::size_t find(std::string_view name) const { return m_entries[placeOf(name, hashOf(name))].number; }

private:
    struct Entry {
        std::string_view name{};
        std::size_t hash = 0, number = kNone;
    };
    static std::size_t hashOf(std::string_view name) { return std::hash<std::string_view>{}(name); }
    /// Where a name stands, or would.
    std::size_t placeOf(std::string_view name, std::size_t hash) const {
        const std::size_t mask = m_entries.size() - 1;
        std::size_t place = hash & mask;
        while (m_entries[place].number != kNone &&
               (m_entries[place].hash != hash || m_entries[place].name != name))
            place = (place + 1) & mask;
        return place;
    }
    std::vector<Entry> m_entries;  ///< a power of two, at most half of them taken
};

}  // namespace kettle
