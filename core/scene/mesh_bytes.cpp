#include "core/scene/mesh_bytes.h"

#include <algorithm>
#include <type_traits>

namespace kettle {
namespace {

template <class T>
bool putList(const std::vector<T>& list, const PutBytes& put) {
    static_assert(std::is_trivially_copyable_v<T>);
    const std::uint64_t count = list.size();
    return put(&count, sizeof count) && put(list.data(), list.size() * sizeof(T));
}

template <class T>
bool takeList(std::vector<T>& list, const TakeBytes& take, std::uint64_t most) {
    std::uint64_t count = 0;
    if (!take(&count, sizeof count) || count > most / sizeof(T)) return false;
    list.resize(count);
    return take(list.data(), count * sizeof(T));
}

/// True if every index leads to a vertex, and every list is as long as it must be.
bool isSound(const Mesh& mesh) {
    const std::size_t vertices = mesh.positions.size(), parts = mesh.parts.size();
    return mesh.normals.size() == vertices && mesh.uvs.size() == vertices &&
           mesh.tangents.size() == vertices && mesh.indices.size() == 3 * mesh.trianglePart.size() &&
           mesh.partObjects.size() == parts && mesh.partMaterials.size() == parts &&
           mesh.partHasUv.size() == parts &&
           std::all_of(mesh.indices.begin(), mesh.indices.end(),
                       [&](std::uint32_t index) { return index < vertices; }) &&
           std::all_of(mesh.trianglePart.begin(), mesh.trianglePart.end(),
                       [&](std::uint16_t part) { return part < parts; });
}

}  // namespace

bool putText(const std::string& text, const PutBytes& put) {
    return putList(std::vector<char>(text.begin(), text.end()), put);
}

std::optional<std::string> takeText(const TakeBytes& take, std::uint64_t most) {
    std::vector<char> letters;
    if (!takeList(letters, take, most)) return std::nullopt;
    return std::string(letters.begin(), letters.end());
}

bool putMesh(const Mesh& mesh, const PutBytes& put) {
    bool done = putList(mesh.positions, put) && putList(mesh.normals, put) && putList(mesh.uvs, put) &&
                putList(mesh.tangents, put) && putList(mesh.indices, put) && putList(mesh.trianglePart, put);
    for (const auto* names : {&mesh.parts, &mesh.partObjects, &mesh.partMaterials}) {
        const std::uint64_t count = names->size();
        done = done && put(&count, sizeof count);
        for (const std::string& name : *names) done = done && putText(name, put);
    }
    return done && putList(mesh.partHasUv, put);
}

std::optional<Mesh> takeMesh(const TakeBytes& take, std::uint64_t most) {
    Mesh mesh;
    if (!takeList(mesh.positions, take, most) || !takeList(mesh.normals, take, most) ||
        !takeList(mesh.uvs, take, most) || !takeList(mesh.tangents, take, most) ||
        !takeList(mesh.indices, take, most) || !takeList(mesh.trianglePart, take, most))
        return std::nullopt;
    for (auto* names : {&mesh.parts, &mesh.partObjects, &mesh.partMaterials}) {
        std::uint64_t count = 0;
        if (!take(&count, sizeof count)) return std::nullopt;
        for (std::uint64_t i = 0; i < count; ++i) {
            auto name = takeText(take, most);
            if (!name) return std::nullopt;
            names->push_back(std::move(*name));
        }
    }
    if (!takeList(mesh.partHasUv, take, most) || !isSound(mesh)) return std::nullopt;
    return mesh;
}

}  // namespace kettle
