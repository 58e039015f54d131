#include "core/scene/prepared_mesh.h"

#include <cstring>
#include <vector>

#include "core/base/file_stamp.h"
#include "core/scene/mesh_bytes.h"

namespace kettle {
namespace {

/// To be counted up whenever models are read otherwise, or laid down otherwise.
constexpr const char* kKind = "model 1 ";
constexpr std::size_t kRow = 16384, kWorthIt = std::size_t{256} << 10;

std::string keyOf(const std::filesystem::path& file, const std::string& unit) {
    std::error_code code;
    return kKind + unit + " " + std::filesystem::absolute(file, code).lexically_normal().string();
}

}  // namespace

std::optional<Mesh> findPreparedMesh(const PreparedMaps& prepared, const std::filesystem::path& file,
                                     const std::string& unit) {
    const auto tile = prepared.find(keyOf(file, unit), fileStamp(file));
    if (!tile || !tile->isSound()) return std::nullopt;
    const PixelView& rows = tile->levels().front();
    const std::byte* at = rows.data;
    std::size_t left = rows.rowBytes() * static_cast<std::size_t>(rows.height);
    const TakeBytes take = [&](void* bytes, std::size_t count) {
        if (count > left) return false;
        if (count > 0) std::memcpy(bytes, at, count);
        at += count, left -= count;
        return true;
    };
    return takeMesh(take, left);
}

void keepPreparedMesh(const PreparedMaps& prepared, const std::filesystem::path& file,
                      const std::string& unit, const Mesh& mesh) {
    std::vector<std::byte> all;
    const PutBytes put = [&](const void* bytes, std::size_t count) {
        const auto* from = static_cast<const std::byte*>(bytes);
        all.insert(all.end(), from, from + count);
        return true;
    };
    if (!putMesh(mesh, put) || all.size() < kWorthIt) return;
    all.resize((all.size() + kRow - 1) / kRow * kRow);
    PixelView rows;  // bytes, in rows of a picture
    rows.width = static_cast<int>(kRow), rows.height = static_cast<int>(all.size() / kRow), rows.channels = 1;
    rows.depth = Depth::U8;
    rows.data = all.data();
    prepared.keep(keyOf(file, unit), fileStamp(file), {rows}, 0);
}

}  // namespace kettle
