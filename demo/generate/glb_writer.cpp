#include "demo/generate/glb_writer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cstring>

#include "core/base/files.h"

namespace kettle::demo {
namespace {

constexpr float kMetre = 0.01f;

/// Numbers appended to the file's second half, and where they lie there.
template <class T>
std::string view(std::string& bytes, const std::vector<T>& numbers, int target, std::string& views) {
    while (bytes.size() % 4 != 0) bytes += '\0';
    const std::size_t at = bytes.size(), size = numbers.size() * sizeof(T);
    bytes.resize(at + size);
    std::memcpy(bytes.data() + at, numbers.data(), size);
    const auto count = std::count(views.begin(), views.end(), '{');
    views += fmt::format("{}{{\"buffer\":0,\"byteOffset\":{},\"byteLength\":{},\"target\":{}}}",
                         views.empty() ? "" : ",", at, size, target);
    return std::to_string(count);
}

void word(std::string& text, std::uint32_t v) {
    for (int i = 0; i < 4; ++i) text += static_cast<char>(v >> (8 * i) & 255u);
}

}  // namespace

int GlbWriter::mesh(const std::string& material) {
    m_meshes.push_back({material, {}, {}, {}, {}});
    return static_cast<int>(m_meshes.size()) - 1;
}

void GlbWriter::grid(int columns, int rows, const std::function<Vec3(float, float)>& point,
                     const std::function<Vec2(float, float)>& uv, bool flip) {
    Grids& m = m_meshes.back();
    const auto first = static_cast<int>(m.positions.size() / 3);
    const float e = 1e-3f;
    for (int j = 0; j <= rows; ++j)
        for (int i = 0; i <= columns; ++i) {
            const float s = static_cast<float>(i) / static_cast<float>(columns),
                        t = static_cast<float>(j) / static_cast<float>(rows);
            const Vec3 p = point(s, t);
            const Vec2 q = uv(s, t);
            // At a pole one derivative vanishes; step inwards for it.
            const float st = std::clamp(t, 0.004f, 0.996f);
            Vec3 n =
                normalised(cross(point(s + e, st) - point(s - e, st), point(s, st + e) - point(s, st - e)));
            if (flip) n = -n;
            m.positions.insert(m.positions.end(), {p.x * kMetre, p.y * kMetre, p.z * kMetre});
            m.normals.insert(m.normals.end(), {n.x, n.y, n.z});
            // glTF counts v from the top.
            m.uvs.insert(m.uvs.end(), {q.x, 1 - q.y});
        }
    const auto index = [&](int v) { m.indices.push_back(static_cast<std::uint16_t>(first + v)); };
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            const int a = j * (columns + 1) + i, b = a + 1, c = b + columns + 1, d = a + columns + 1;
            for (const int v : flip ? std::array{d, c, b, d, b, a} : std::array{a, b, c, a, c, d}) index(v);
        }
}

void GlbWriter::copy(const std::string& name, int mesh, Vec3 place) {
    m_copies.push_back({name, mesh, place});
}

Result<void> GlbWriter::save(const std::filesystem::path& file) const {
    std::string bytes, views, accessors, meshes, materials, nodes, roots;
    int accessorCount = 0;
    for (std::size_t k = 0; k < m_meshes.size(); ++k) {
        const Grids& m = m_meshes[k];
        Vec3 low{1e9f, 1e9f, 1e9f}, high = -low;
        for (std::size_t i = 0; i < m.positions.size(); i += 3) {
            const Vec3 p{m.positions[i], m.positions[i + 1], m.positions[i + 2]};
            low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
            high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
        }
        const auto accessor = [&](const std::string& of, std::size_t count, const char* type, int component,
                                  const std::string& more = {}) {
            accessors +=
                fmt::format("{}{{\"bufferView\":{},\"componentType\":{},\"count\":{},\"type\":\"{}\"{}}}",
                            accessors.empty() ? "" : ",", of, component, count, type, more);
            return accessorCount++;
        };
        const std::size_t count = m.positions.size() / 3;
        const int position = accessor(view(bytes, m.positions, 34962, views), count, "VEC3", 5126,
                                      fmt::format(",\"min\":[{},{},{}],\"max\":[{},{},{}]", low.x, low.y,
                                                  low.z, high.x, high.y, high.z));
        const int normal = accessor(view(bytes, m.normals, 34962, views), count, "VEC3", 5126);
        const int uv = accessor(view(bytes, m.uvs, 34962, views), count, "VEC2", 5126);
        const int indices = accessor(view(bytes, m.indices, 34963, views), m.indices.size(), "SCALAR", 5123);
        meshes += fmt::format(
            "{}{{\"name\":\"{}\",\"primitives\":[{{\"attributes\":{{\"POSITION\":{},\"NORMAL\":{},"
            "\"TEXCOORD_0\":{}}},\"indices\":{},\"material\":{}}}]}}",
            meshes.empty() ? "" : ",", m.material, position, normal, uv, indices, k);
        materials += fmt::format("{}{{\"name\":\"{}\"}}", materials.empty() ? "" : ",", m.material);
    }
    for (std::size_t n = 0; n < m_copies.size(); ++n) {
        const Copy& c = m_copies[n];
        nodes += fmt::format("{}{{\"name\":\"{}\",\"mesh\":{},\"translation\":[{:.5f},{:.5f},{:.5f}]}}",
                             n == 0 ? "" : ",", c.name, c.mesh, c.place.x * kMetre, c.place.y * kMetre,
                             c.place.z * kMetre);
        roots += fmt::format("{}{}", n == 0 ? "" : ",", n);
    }
    while (bytes.size() % 4 != 0) bytes += '\0';
    std::string json = fmt::format(
        "{{\"asset\":{{\"version\":\"2.0\",\"generator\":\"Pale Kettle "
        "demo\"}},\"scene\":0,\"scenes\":[{{\"nodes\":[{}]}}],"
        "\"nodes\":[{}],\"meshes\":[{}],\"materials\":[{}],\"accessors\":[{}],\"bufferViews\":[{}],"
        "\"buffers\":[{{\"byteLength\":{}}}]}}",
        roots, nodes, meshes, materials, accessors, views, bytes.size());
    while (json.size() % 4 != 0) json += ' ';
    std::string out = "glTF";
    word(out, 2);
    word(out, static_cast<std::uint32_t>(12 + 8 + json.size() + 8 + bytes.size()));
    word(out, static_cast<std::uint32_t>(json.size()));
    out += "JSON" + json;
    word(out, static_cast<std::uint32_t>(bytes.size()));
    out += std::string("BIN\0", 4) + bytes;
    return writeFileAtomically(file, out);
}

}  // namespace kettle::demo
