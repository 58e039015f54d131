#include "core/handover/gltf.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>
#include <set>
#include <unordered_map>

#include "core/base/files.h"
#include "core/base/names.h"
#include "core/colour/encoding.h"
#include "core/document/model_format.h"
#include "core/image/encode.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

// Numbers of the standard (glTF 2.0, 3.6.2 and 5.25).
constexpr int kFloat = 5126, kUnsignedInt = 5125, kVertices = 34962, kIndices = 34963;
constexpr int kRepeat = 10497, kLinear = 9729, kLinearMipmapLinear = 9987;

/// The one buffer: pieces are put behind each other, each at a multiple of four.
class Buffer {
public:
    Buffer(Json& views, Json& accessors) : m_views(views), m_accessors(accessors) {}
    int addView(std::string_view bytes, int target = 0) {
        while (m_bytes.size() % 4 != 0) m_bytes += '\0';
        Json view{{"buffer", 0}, {"byteOffset", m_bytes.size()}, {"byteLength", bytes.size()}};
        if (target != 0) view["target"] = target;
        m_bytes += bytes;
        m_views.push_back(std::move(view));
        return static_cast<int>(m_views.size()) - 1;
    }
    template <class T>
    int addAccessor(const std::vector<T>& values, int components, int type, const char* name, int target,
                    bool tellsBounds = false) {
        const std::string_view bytes(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(T));
        Json accessor{{"bufferView", addView(bytes, target)},
                      {"componentType", type},
                      {"count", values.size() / static_cast<std::size_t>(components)},
                      {"type", name}};
        if (tellsBounds) {
            std::vector<T> low(static_cast<std::size_t>(components), std::numeric_limits<T>::max());
            std::vector<T> high(static_cast<std::size_t>(components), std::numeric_limits<T>::lowest());
            for (std::size_t i = 0; i < values.size(); ++i) {
                const std::size_t c = i % static_cast<std::size_t>(components);
                low[c] = std::min(low[c], values[i]), high[c] = std::max(high[c], values[i]);
            }
            accessor["min"] = low, accessor["max"] = high;
        }
        m_accessors.push_back(std::move(accessor));
        return static_cast<int>(m_accessors.size()) - 1;
    }
    std::string& bytes() { return m_bytes; }

private:
    Json &m_views, &m_accessors;
    std::string m_bytes;
};

/// The triangles of one part in one tile.
struct Piece {
    std::size_t part;
    int tile;
    std::vector<std::uint32_t> corners;
};

/// A triangle's tile by its middle; 1001 without tiles.
int tileOf(const Mesh& mesh, std::size_t triangle, bool hasTiles) {
    if (!hasTiles) return 1001;
    float u = 0, v = 0;
    for (std::size_t k = 0; k < 3; ++k) {
        const Vec2 uv = mesh.uvs[mesh.indices[triangle * 3 + k]];
        u += uv.x / 3, v += uv.y / 3;
    }
    return 1001 + std::clamp(static_cast<int>(std::floor(u)), 0, 9) +
           10 * std::clamp(static_cast<int>(std::floor(v)), 0, 899);
}

std::vector<Piece> piecesOf(const Mesh& mesh, bool hasTiles) {
    std::map<std::pair<std::size_t, int>, Piece> all;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::size_t part = mesh.trianglePart[t];
        const int tile = tileOf(mesh, t, hasTiles);
        Piece& piece = all[{part, tile}];
        piece.part = part, piece.tile = tile;
        for (std::size_t k = 0; k < 3; ++k) piece.corners.push_back(mesh.indices[t * 3 + k]);
    }
    std::vector<Piece> pieces;
    for (auto& [key, piece] : all) pieces.push_back(std::move(piece));
    return pieces;
}

class Writer {
public:
    Writer(const Mesh& mesh, const Project& project, const BakedMaterials& baked,
           const std::vector<std::string>& looks, const std::string& baseName, const GltfOptions& options)
        : m_mesh(mesh),
          m_project(project),
          m_baked(baked),
          m_looks(looks),
          m_baseName(baseName),
          m_options(options),
          m_isBinary(modelFormatOf(options.file) == ModelFormat::Glb),
          m_buffer(m_views, m_accessors) {}

    Result<HandedOver> write() {
        for (const BakedMaterial& material : m_baked.materials)
            if (const auto normal = material.textures.find(BakedTexture::Normal);
                normal != material.textures.end())
                m_hasNormals = m_hasNormals || normal->second.image >= 0;
        if (auto done = addImages(); !done) return fail(done.error());
        for (const BakedMaterial& material : m_baked.materials) m_materials.push_back(materialOf(material));
        addModel();
        Json j{{"asset", {{"version", "2.0"}, {"generator", "Pale Kettle"}}},
               {"scene", 0},
               {"scenes", Json::array({Json{{"nodes", m_roots}}})},
               {"nodes", m_nodes},
               {"meshes", m_meshes},
               {"materials", m_materials}};
        if (!m_images.empty()) {
            j["textures"] = m_textures;
            j["images"] = m_images;
            j["samplers"] = Json::array({Json{{"magFilter", kLinear},
                                              {"minFilter", kLinearMipmapLinear},
                                              {"wrapS", kRepeat},
                                              {"wrapT", kRepeat}}});
        }
        j["accessors"] = m_accessors;
        j["bufferViews"] = m_views;
        if (m_looks.size() > 1) {
            m_extensions.insert("KHR_materials_variants");
            Json variants = Json::array();
            for (const std::string& look : m_looks) variants.push_back({{"name", lookName(look)}});
            j["extensions"]["KHR_materials_variants"]["variants"] = variants;
        }
        if (!m_extensions.empty()) j["extensionsUsed"] = m_extensions;
        return m_isBinary ? writeBinary(j) : writeSeparate(j);
    }

private:
    std::string lookName(const std::string& id) const {
        const Look* look = m_project.findLook(id);
        return look != nullptr ? look->name : m_baseName;
    }
    Result<void> addImages() {
        for (const BakedImage& image : m_baked.images) {
            const bool isJpeg = m_options.isJpeg && image.isColour && image.pixels.channels == 3;
            WriteChoices choices;
            choices.quality = m_options.quality;
            // The standard says how each texture is read; a file that says so itself too is no other.
            auto bytes = encodeImage(image.pixels, isJpeg ? FileFormat::Jpeg : FileFormat::Png8, choices,
                                     image.isColour ? encoding::kSrgb : "", image.name);
            if (!bytes) return fail(bytes.error());
            const char* type = isJpeg ? "image/jpeg" : "image/png";
            Json j{{"name", image.name}};
            if (m_isBinary) {
                j["bufferView"] = m_buffer.addView(*bytes);
                j["mimeType"] = type;
            } else {
                const std::string name = stemOfFile() + "-" + image.name + (isJpeg ? ".jpg" : ".png");
                j["uri"] = name;
                m_beside.emplace_back(m_options.file.parent_path() / name, std::move(*bytes));
            }
            m_images.push_back(std::move(j));
            m_textures.push_back({{"sampler", 0}, {"source", m_images.size() - 1}});
        }
        return {};
    }
    std::string stemOfFile() const { return stemOf(m_options.file.stem().string(), "model"); }
    static Json texture(int index) { return {{"index", index}}; }
    static float number(const BakedValue& value, std::size_t c, float otherwise) {
        return c < value.value.size() ? value.value[c] : otherwise;
    }
    static float linear(const BakedValue& value, std::size_t c) { return srgbToLinear(number(value, c, 1)); }

    Json materialOf(const BakedMaterial& m) {
        Json j{{"name", m.name}};
        Json pbr = Json::object();
        const auto has = [&](BakedTexture t) -> const BakedValue* {
            const auto at = m.textures.find(t);
            return at == m.textures.end() ? nullptr : &at->second;
        };
        if (const BakedValue* base = has(BakedTexture::Base)) {
            if (base->image >= 0)
                pbr["baseColorTexture"] = texture(base->image);
            else
                pbr["baseColorFactor"] = {linear(*base, 0), linear(*base, 1), linear(*base, 2),
                                          number(*base, 3, 1)};
        } else {
            pbr["baseColorFactor"] = {0.5, 0.5, 0.5, 1.0};  // the neutral of a channel without a line
        }
        if (const BakedValue* surface = has(BakedTexture::Surface)) {
            if (surface->image >= 0) {
                pbr["metallicRoughnessTexture"] = texture(surface->image);
                j["occlusionTexture"] = texture(surface->image);
            } else {
                pbr["roughnessFactor"] = number(*surface, 1, 0.5f);
                pbr["metallicFactor"] = number(*surface, 2, 0);
            }
        } else {
            pbr["roughnessFactor"] = 0.5, pbr["metallicFactor"] = 0.0;
        }
        j["pbrMetallicRoughness"] = pbr;
        if (const BakedValue* normal = has(BakedTexture::Normal); normal != nullptr && normal->image >= 0)
            j["normalTexture"] = texture(normal->image);
        if (const BakedValue* emission = has(BakedTexture::Emission)) {
            if (emission->image >= 0) {
                j["emissiveTexture"] = texture(emission->image);
                j["emissiveFactor"] = {1.0, 1.0, 1.0};
            } else {
                j["emissiveFactor"] = {linear(*emission, 0), linear(*emission, 1), linear(*emission, 2)};
            }
        }
        addExtensions(m, j);
        if (m.emissionStrength > 1) {
            m_extensions.insert("KHR_materials_emissive_strength");
            j["extensions"]["KHR_materials_emissive_strength"] = {{"emissiveStrength", m.emissionStrength}};
        }
        if (m.alpha == BakedAlpha::Mask) j["alphaMode"] = "MASK", j["alphaCutoff"] = 0.5;
        if (m.alpha == BakedAlpha::Blend) j["alphaMode"] = "BLEND";
        j["doubleSided"] = true;  // the preview shows both sides
        return j;
    }
    void addExtensions(const BakedMaterial& m, Json& j) {
        const auto add = [&](const char* name, Json value) {
            m_extensions.insert(name);
            j["extensions"][name] = std::move(value);
        };
        if (const auto coat = m.textures.find(BakedTexture::Coat); coat != m.textures.end()) {
            const BakedValue& v = coat->second;
            if (v.image >= 0)
                add("KHR_materials_clearcoat", {{"clearcoatFactor", 1.0},
                                                {"clearcoatTexture", texture(v.image)},
                                                {"clearcoatRoughnessFactor", 1.0},
                                                {"clearcoatRoughnessTexture", texture(v.image)}});
            else if (number(v, 0, 0) > 0)
                add("KHR_materials_clearcoat",
                    {{"clearcoatFactor", number(v, 0, 0)}, {"clearcoatRoughnessFactor", number(v, 1, 0.1f)}});
        }
        if (const auto sheen = m.textures.find(BakedTexture::Sheen); sheen != m.textures.end()) {
            const BakedValue& v = sheen->second;
            if (v.image >= 0)
                add("KHR_materials_sheen", {{"sheenColorFactor", {1.0, 1.0, 1.0}},
                                            {"sheenColorTexture", texture(v.image)},
                                            {"sheenRoughnessFactor", 1.0},
                                            {"sheenRoughnessTexture", texture(v.image)}});
            else if (number(v, 0, 0) + number(v, 1, 0) + number(v, 2, 0) > 0)
                add("KHR_materials_sheen", {{"sheenColorFactor", {linear(v, 0), linear(v, 1), linear(v, 2)}},
                                            {"sheenRoughnessFactor", number(v, 3, 0.3f)}});
        }
        if (const auto specular = m.textures.find(BakedTexture::Specular); specular != m.textures.end()) {
            // A level of 0.5 is the 4 % that glTF's 1 means; the colour's 2 lets the texture go up to 8 %.
            const BakedValue& v = specular->second;
            if (v.image >= 0)
                add("KHR_materials_specular", {{"specularFactor", 1.0},
                                               {"specularTexture", texture(v.image)},
                                               {"specularColorFactor", {2.0, 2.0, 2.0}}});
            else if (std::abs(number(v, 3, 0.5f) - 0.5f) > 1e-3f)
                add("KHR_materials_specular",
                    {{"specularFactor", number(v, 3, 0.5f)}, {"specularColorFactor", {2.0, 2.0, 2.0}}});
        }
    }
    int materialIndex(const std::string& surface, int tile, const std::string& look) const {
        const BakedMaterial* found = m_baked.find(surface, tile, look);
        return found == nullptr ? -1 : static_cast<int>(found - m_baked.materials.data());
    }
    /// Each object is a node with a mesh; its parts and tiles are primitives.
    void addModel() {
        const bool hasTiles = std::any_of(m_baked.materials.begin(), m_baked.materials.end(),
                                          [](const BakedMaterial& m) { return m.tile != 1001; });
        const std::vector<std::string> surfaces = surfaceIds(m_project);
        const std::vector<int> ofPart = surfacesOfParts(m_project, m_mesh.parts);
        std::unordered_map<std::string, std::size_t> meshOf;
        for (const Piece& piece : piecesOf(m_mesh, hasTiles)) {
            const std::string& object = m_mesh.partObjects[piece.part];
            auto [at, isNew] = meshOf.try_emplace(object, m_meshes.size());
            if (isNew) {
                m_meshes.push_back(
                    {{"name", object.empty() ? "Model" : object}, {"primitives", Json::array()}});
                m_nodes.push_back({{"name", object.empty() ? "Model" : object}, {"mesh", at->second}});
                m_roots.push_back(m_nodes.size() - 1);
            }
            const int surface = ofPart[piece.part];
            const std::string id =
                surface >= 0 ? surfaces[static_cast<std::size_t>(surface)] : std::string("\n");
            m_meshes[at->second]["primitives"].push_back(primitiveOf(piece, id));
        }
    }
    Json primitiveOf(const Piece& piece, const std::string& surface) {
        std::unordered_map<std::uint32_t, std::uint32_t> known;
        std::vector<std::uint32_t> indices;
        std::vector<float> positions, normals, tangents, uvs;
        const float left = static_cast<float>((piece.tile - 1001) % 10),
                    bottom = static_cast<float>((piece.tile - 1001) / 10);
        for (const std::uint32_t corner : piece.corners) {
            const auto [at, isNew] = known.try_emplace(corner, static_cast<std::uint32_t>(known.size()));
            indices.push_back(at->second);
            if (!isNew) continue;
            const Vec3 p = m_mesh.positions[corner] * 0.01f, n = unit(m_mesh.normals[corner], {0, 1, 0});
            const Tangent& t = m_mesh.tangents[corner];
            // At right angles to the normal, as the standard wants it.
            const Vec3 along = unit(t.direction - n * dot(n, t.direction), {1, 0, 0});
            positions.insert(positions.end(), {p.x, p.y, p.z});
            normals.insert(normals.end(), {n.x, n.y, n.z});
            if (m_hasNormals)
                tangents.insert(tangents.end(), {along.x, along.y, along.z, t.side < 0 ? -1.0f : 1.0f});
            // Its textures begin at the top.
            uvs.insert(uvs.end(), {m_mesh.uvs[corner].x - left, 1 - (m_mesh.uvs[corner].y - bottom)});
        }
        Json j{{"attributes",
                {{"POSITION", m_buffer.addAccessor(positions, 3, kFloat, "VEC3", kVertices, true)},
                 {"NORMAL", m_buffer.addAccessor(normals, 3, kFloat, "VEC3", kVertices)},
                 {"TEXCOORD_0", m_buffer.addAccessor(uvs, 2, kFloat, "VEC2", kVertices)}}},
               {"indices", m_buffer.addAccessor(indices, 1, kUnsignedInt, "SCALAR", kIndices)}};
        if (m_hasNormals)
            j["attributes"]["TANGENT"] = m_buffer.addAccessor(tangents, 4, kFloat, "VEC4", kVertices);
        const int first = materialIndex(surface, piece.tile, m_looks.front());
        if (first < 0) return j;
        j["material"] = first;
        if (m_looks.size() < 2) return j;
        std::map<int, Json> variantsOf;
        for (std::size_t look = 0; look < m_looks.size(); ++look)
            if (const int material = materialIndex(surface, piece.tile, m_looks[look]); material >= 0)
                variantsOf[material].push_back(look);
        Json mappings = Json::array();
        for (const auto& [material, variants] : variantsOf)
            mappings.push_back({{"material", material}, {"variants", variants}});
        j["extensions"]["KHR_materials_variants"]["mappings"] = mappings;
        return j;
    }
    static Vec3 unit(Vec3 v, Vec3 otherwise) {
        const float length = std::sqrt(dot(v, v));
        return length > 1e-12f ? v * (1 / length) : otherwise;
    }

    Result<HandedOver> writeBinary(Json& j) {
        std::string& buffer = m_buffer.bytes();
        while (buffer.size() % 4 != 0) buffer += '\0';
        j["buffers"] = Json::array({Json{{"byteLength", buffer.size()}}});
        std::string text = j.dump();
        while (text.size() % 4 != 0) text += ' ';
        const std::uint64_t whole = 12 + 8 + text.size() + 8 + buffer.size();
        if (whole > std::numeric_limits<std::uint32_t>::max())
            return fail(ErrorKind::Write,
                        fmt::format("{} would be larger than the 4 GB that a GLB can have. Choose "
                                    "smaller textures, or .gltf.",
                                    m_options.file.string()));
        std::string bytes;
        bytes.reserve(whole);
        const auto put = [&](std::uint64_t n) {
            for (int k = 0; k < 4; ++k) bytes += static_cast<char>(n >> (8 * k) & 255);
        };
        put(0x46546C67), put(2), put(whole);
        put(text.size()), put(0x4E4F534A);
        bytes += text;
        put(buffer.size()), put(0x004E4942);
        bytes += buffer;
        if (auto done = m_options.sources.write(m_options.file, bytes); !done) return fail(done.error());
        return HandedOver{{m_options.file}, m_baked.notes};
    }
    Result<HandedOver> writeSeparate(Json& j) {
        const std::string name = stemOfFile() + ".bin";
        j["buffers"] = Json::array({Json{{"uri", name}, {"byteLength", m_buffer.bytes().size()}}});
        m_beside.emplace_back(m_options.file.parent_path() / name, std::move(m_buffer.bytes()));
        HandedOver made;
        made.notes = m_baked.notes;
        // All are asked first: where one is refused, none is written.
        for (const auto& [file, bytes] : m_beside)
            if (auto free = m_options.sources.mayWrite(file); !free) return fail(free.error());
        if (auto free = m_options.sources.mayWrite(m_options.file); !free) return fail(free.error());
        for (const auto& [file, bytes] : m_beside) {
            if (auto done = m_options.sources.write(file, bytes); !done) return fail(done.error());
            made.files.push_back(file);
        }
        if (auto done = m_options.sources.write(m_options.file, j.dump(1) + "\n"); !done)
            return fail(done.error());
        made.files.push_back(m_options.file);
        return made;
    }

    const Mesh& m_mesh;
    const Project& m_project;
    const BakedMaterials& m_baked;
    const std::vector<std::string>& m_looks;
    const std::string& m_baseName;
    const GltfOptions& m_options;
    bool m_isBinary, m_hasNormals = false;
    Json m_views = Json::array(), m_accessors = Json::array(), m_images = Json::array(),
         m_textures = Json::array(), m_materials = Json::array(), m_meshes = Json::array(),
         m_nodes = Json::array(), m_roots = Json::array();
    Buffer m_buffer;
    std::set<std::string> m_extensions;
    std::vector<std::pair<fs::path, std::string>> m_beside;
};

}  // namespace

Result<HandedOver> writeGltf(const Mesh& mesh, const Project& project, const BakedMaterials& baked,
                             const std::vector<std::string>& looks, const std::string& baseName,
                             const GltfOptions& options) {
    return guarded("write " + options.file.string(), [&]() -> Result<HandedOver> {
        if (!isGltf(modelFormatOf(options.file)))
            return fail(ErrorKind::Refused,
                        fmt::format("{} does not end in .glb or .gltf. Choose one of them.",
                                    options.file.filename().string()));
        if (baked.materials.empty() || looks.empty())
            return fail(ErrorKind::Refused,
                        "There is no material to write. Bring in maps and choose a look.");
        for (std::size_t part = 0; part < mesh.parts.size(); ++part)
            if (part < mesh.partHasUv.size() && mesh.partHasUv[part] == 0)
                return fail(
                    ErrorKind::Refused,
                    fmt::format("The part {} of the model has no texture coordinates, so that its textures "
                                "would lie nowhere. Unwrap the model, or export maps alone.",
                                mesh.parts[part]));
        return Writer(mesh, project, baked, looks, baseName, options).write();
    });
}

}  // namespace kettle
