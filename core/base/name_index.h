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
        m_places.resize(size);
        m_names.reserve(names);
    }
    /// Of equal names the first is kept. Borrows the name; no more of them than there is room for.
    void add(std::string_view name, std::size_t number) {
        const std::uint32_t hash = hashOf(name);
        Place& place = m_places[placeOf(name, hash)];
        if (place.entry != 0) return;
        m_names.push_back({name, number});
        place = {hash, static_cast<std::uint32_t>(m_names.size())};
    }
    /// At least so many names fit.
    std::size_t room() const { return m_names.capacity(); }
    /// kNone for a name that is not there.
    std::size_t find(std::string_view name) const {
        const std::uint32_t entry = m_places[placeOf(name, hashOf(name))].entry;
        return entry == 0 ? kNone : m_names[entry - 1].number;
    }

private:
    struct Named {
        std::string_view name;
        std::size_t number;
    };
    /// Small, so that the table of a large project stays in the cache.
    struct Place {
        std::uint32_t hash = 0, entry = 0;  ///< which of m_names and one more; 0: free
    };
    static std::uint32_t hashOf(std::string_view name) {
        return static_cast<std::uint32_t>(std::hash<std::string_view>{}(name));
    }
    /// Where a name stands, or would.
    std::size_t placeOf(std::string_view name, std::uint32_t hash) const {
        const std::size_t mask = m_places.size() - 1;
        std::size_t at = hash & mask;
        while (m_places[at].entry != 0 &&
               (m_places[at].hash != hash || m_names[m_places[at].entry - 1].name != name))
            at = (at + 1) & mask;
        return at;
    }
    std::vector<Place> m_places;  ///< a power of two, at most half of them taken
    std::vector<Named> m_names;
};

}  // namespace kettle
