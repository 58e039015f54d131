// Any bytes as a model file. The library reads in a process of its own, as it does in the program: what is
// looked for is a broken answer that comes through, or a hang that is not ended.
#include <chrono>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "core/scene/mesh.h"
#include "tests/fuzz/scratch.h"

using namespace kettle;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 4 || size > (1u << 18)) return 0;
    const std::string_view head(reinterpret_cast<const char*>(data), size);
    const char* extension = head.starts_with("ply")    ? "ply"
                            : head.starts_with("glTF") ? "glb"
                            : head.starts_with("{")    ? "gltf"
                                                       : "obj";
    const auto file = fuzz::scratchFile(head, extension);
    if (file.empty()) return 0;
    const auto mesh = loadMesh(file, std::chrono::seconds(2));
    if (!mesh) return 0;
    const std::size_t count = mesh->positions.size();
    if (mesh->normals.size() != count || mesh->uvs.size() != count || mesh->tangents.size() != count)
        std::abort();
    if (mesh->indices.size() != 3 * mesh->trianglePart.size()) std::abort();
    for (const std::uint32_t index : mesh->indices)
        if (index >= count) std::abort();
    for (const std::uint16_t part : mesh->trianglePart)
        if (part >= mesh->parts.size()) std::abort();
    return 0;
}
