#include "core/scene/see_through.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/hash.h"

namespace kettle {
namespace {

/// 1001 and on, ten a row (the UDIM numbering); 1001 for places left of or below it.
int tileOf(float column, float row) {
    return column < 0 || row < 0 || column > 9 ? 1001
                                               : 1001 + static_cast<int>(column) + 10 * static_cast<int>(row);
}

}  // namespace

void OpacityPictures::set(int tile, int size, std::vector<float> opacity) {
    for (const float o : opacity) m_least = std::min(m_least, o);
    const std::string_view bytes(reinterpret_cast<const char*>(opacity.data()),
                                 opacity.size() * sizeof(float));
    m_id = combine(m_id, combine(static_cast<std::uint64_t>(tile), hashText(bytes)));
    m_tiles[tile] = {size, std::move(opacity)};
}

float OpacityPictures::at(float u, float v) const {
    if (m_tiles.empty() || !std::isfinite(u) || !std::isfinite(v)) return 1;
    const float column = std::floor(u), row = std::floor(v);
    const auto found = m_tiles.size() == 1 ? m_tiles.begin() : m_tiles.find(tileOf(column, row));
    if (found == m_tiles.end()) return 1;
    const auto& [size, opacity] = found->second;
    const auto place = [n = size](float t) {
        return std::clamp(static_cast<int>(t * static_cast<float>(n)), 0, n - 1);
    };
    const int x = place(u - column), y = place(1 - (v - row));
    return opacity[static_cast<std::size_t>(y) * static_cast<std::size_t>(size) +
                   static_cast<std::size_t>(x)];
}

bool OpacityPictures::isOpaque() const {
    // Less than half a code of 8 bits is not seen.
    return m_tiles.empty() || m_least > 1 - 0.5f / 255;
}

bool SeeThrough::isOpaque() const {
    return std::all_of(pictures.begin(), pictures.end(),
                       [](const OpacityPictures& p) { return p.isOpaque(); });
}

std::uint64_t SeeThrough::id() const {
    std::uint64_t id = pictures.size();
    for (const OpacityPictures& p : pictures) id = combine(id, p.id());
    for (const int of : ofPart) id = combine(id, static_cast<std::uint64_t>(of + 1));
    return id;
}

}  // namespace kettle
