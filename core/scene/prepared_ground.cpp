#include "core/scene/prepared_ground.h"

#include <fmt/format.h>

#include "core/base/file_stamp.h"

namespace kettle {
namespace {

std::string keyOf(const GroundKey& key) {
    std::error_code code;
    // To be counted up whenever a ground's shadow is cast otherwise.
    constexpr int kEdition = 1;
    return fmt::format("ground {} {} {} {:a} {:a} {:a} {:a} {}", kEdition, key.size, key.unit,
                       key.keyDirection.x, key.keyDirection.y, key.keyDirection.z, key.keyRadius,
                       std::filesystem::absolute(key.model, code).lexically_normal().string());
}

}  // namespace

std::optional<GroundShade> findPreparedGround(const PreparedMaps& prepared, const GroundKey& key) {
    const auto tile = prepared.find(keyOf(key), fileStamp(key.model));
    if (!tile || !tile->isSound()) return std::nullopt;
    const PixelView& net = tile->levels().front();
    if (net.depth != Depth::Float || net.channels != 1 || net.width != key.size || net.height != key.size)
        return std::nullopt;
    const auto* lit = net.row<float>(0);
    const auto count = static_cast<std::size_t>(key.size) * static_cast<std::size_t>(key.size);
    return GroundShade(std::vector<float>(lit, lit + count), key.size);
}

void keepPreparedGround(const PreparedMaps& prepared, const GroundKey& key, const GroundShade& shade) {
    PixelView net;
    net.width = net.height = key.size, net.channels = 1;
    net.depth = Depth::Float;
    net.data = reinterpret_cast<const std::byte*>(shade.lit().data());
    prepared.keep(keyOf(key), fileStamp(key.model), {net}, 0);
}

}  // namespace kettle
