#include "core/scene/mesh.h"

#include <assimp/material.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <assimp/Importer.hpp>
#include <cctype>
#include <cmath>
#include <set>
#include <unordered_map>

#include "core/base/files.h"
#include "core/document/model_format.h"
#include "core/scene/model_files.h"
#include "core/scene/read_apart.h"

namespace kettle {
namespace {

constexpr std::uintmax_t kLargestMesh = std::uintmax_t{4} << 30;

Vec3 toVec(const aiVector3D& v) {
    return {v.x, v.y, v.z};
}

/// Names the parts while a scene is gone through.
class PartNames {
public:
    /// `isApart`: every node is a thing of its own.
    PartNames(Mesh& mesh, const aiScene& scene, bool isApart)
        : m_mesh(mesh), m_scene(scene), m_isApart(isApart) {}

    /// The number of the part of one of a node's meshes. Beyond what a number holds the rest is one.
    std::uint16_t of(const aiNode& node, const aiMesh& from) {
        const std::string object = objectOf(node), material = materialOf(from);
        const bool isAlone = std::all_of(node.mMeshes, node.mMeshes + node.mNumMeshes, [&](unsigned other) {
            return m_scene.mMeshes[other]->mMaterialIndex == from.mMaterialIndex;
        });
        const std::string name = isAlone || material.empty() ? object : object + " / " + material;
        constexpr std::size_t kMost = 65535;
        const auto next = static_cast<std::uint16_t>(std::min(m_mesh.parts.size(), kMost));
        const auto [at, isNew] = m_known.try_emplace(name, next);
        const bool hasUv = from.HasTextureCoords(0);
        if (isNew && m_mesh.parts.size() <= kMost) {
            m_mesh.parts.push_back(name);
            m_mesh.partObjects.push_back(object);
            m_mesh.partMaterials.push_back(material);
            m_mesh.partHasUv.push_back(hasUv ? 1 : 0);
        } else if (!hasUv) {
            m_mesh.partHasUv[at->second] = 0;
        }
        return at->second;
    }

private:
    /// What people call the node. A file that keeps each of its things as a node of its own may call several
    /// alike: these are counted. Elsewhere (OBJ) a name may come up again for more of the same thing.
    const std::string& objectOf(const aiNode& node) {
        const auto [at, isNew] = m_objects.try_emplace(&node);
        if (!isNew) return at->second;
        const std::string name = node.mName.C_Str();
        if (name.empty())
            at->second = fmt::format("object {}", m_objects.size());
        else if (const int count = ++m_used[name]; m_isApart && count > 1)
            at->second = fmt::format("{} {}", name, count);
        else
            at->second = name;
        return at->second;
    }
    std::string materialOf(const aiMesh& from) const {
        aiString name;
        if (from.mMaterialIndex >= m_scene.mNumMaterials ||
            m_scene.mMaterials[from.mMaterialIndex]->Get(AI_MATKEY_NAME, name) != aiReturn_SUCCESS)
            return {};
        const std::string text = name.C_Str();
        return text == AI_DEFAULT_MATERIAL_NAME ? std::string() : text;  // the library's own, of no file
    }
    Mesh& m_mesh;
    const aiScene& m_scene;
    bool m_isApart;
    std::unordered_map<const aiNode*, std::string> m_objects;
    std::unordered_map<std::string, int> m_used;
    std::unordered_map<std::string, std::uint16_t> m_known;
};

/// Any direction across a normal: there are no texture coordinates to follow.
Vec3 anyAcross(Vec3 n) {
    return normalised(cross(std::fabs(n.y) < 0.9f ? Vec3{0, 1, 0} : Vec3{1, 0, 0}, n));
}

void append(Mesh& mesh, const aiMesh& from, const aiMatrix4x4& place, float centimetres, std::uint16_t part) {
    const auto base = static_cast<std::uint32_t>(mesh.positions.size());
    const bool hasUv = from.HasTextureCoords(0);
    aiMatrix3x3 turn(place);
    turn.Inverse()
        .Transpose();  // normals go by the inverse transpose, so that a stretched object keeps them upright
    for (unsigned i = 0; i < from.mNumVertices; ++i) {
        mesh.positions.push_back(toVec(place * from.mVertices[i]) * centimetres);
        mesh.normals.push_back(normalised(toVec(turn * from.mNormals[i])));
        mesh.uvs.push_back(hasUv ? Vec2{from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y} : Vec2{});
        Tangent t;
        if (hasUv && from.HasTangentsAndBitangents()) {
            t.direction = normalised(toVec(aiMatrix3x3(place) * from.mTangents[i]));
            t.side = dot(cross(toVec(from.mNormals[i]), t.direction), toVec(from.mBitangents[i])) < 0 ? -1.0f
                                                                                                      : 1.0f;
        } else if (!hasUv) {
            t.direction = anyAcross(mesh.normals.back());
        }
        mesh.tangents.push_back(t);
    }
    for (unsigned f = 0; f < from.mNumFaces; ++f) {
        if (from.mFaces[f].mNumIndices != 3) continue;
        for (unsigned k = 0; k < 3; ++k) mesh.indices.push_back(base + from.mFaces[f].mIndices[k]);
        mesh.trianglePart.push_back(part);
    }
}

/// Everything below the root, in the order of the file, without recursion: a file may nest as deep as it
/// likes.
void appendNodes(Mesh& mesh, const aiScene& scene, float centimetres, bool isApart) {
    struct Place {
        const aiNode* node;
        aiMatrix4x4 above;
    };
    PartNames names(mesh, scene, isApart);
    std::vector<Place> left{{scene.mRootNode, {}}};
    while (!left.empty()) {
        const Place at = left.back();
        left.pop_back();
        const aiMatrix4x4 place = at.above * at.node->mTransformation;
        for (unsigned i = 0; i < at.node->mNumMeshes; ++i) {
            const aiMesh& part = *scene.mMeshes[at.node->mMeshes[i]];
            if (part.HasNormals()) append(mesh, part, place, centimetres, names.of(*at.node, part));
        }
        for (unsigned i = at.node->mNumChildren; i-- > 0;) left.push_back({at.node->mChildren[i], place});
    }
}

/// More corners than this, with all copies that nodes make of a mesh, are not taken: 3 GB.
constexpr std::uint64_t kMostCorners = 50'000'000;

std::uint64_t cornersOf(const aiScene& scene) {
    std::uint64_t count = 0;
    std::vector<const aiNode*> left{scene.mRootNode};
    while (!left.empty() && count <= kMostCorners) {
        const aiNode* const node = left.back();
        left.pop_back();
        for (unsigned i = 0; i < node->mNumMeshes; ++i)
            count += scene.mMeshes[node->mMeshes[i]]->mNumVertices;
        left.insert(left.end(), node->mChildren, node->mChildren + node->mNumChildren);
    }
    return count;
}

/// What is wrong with the numbers of a mesh: the ray library needs places that are finite and not too far
/// apart to be told from each other. Empty if nothing is.
std::string faultOf(const Mesh& mesh) {
    constexpr float kFarthest = 1e9f;  // 10,000 km
    for (const Vec3& p : mesh.positions)
        if (!(std::max({std::fabs(p.x), std::fabs(p.y), std::fabs(p.z)}) <= kFarthest))
            return "one of its corners is more than 10,000 km from the middle, or nowhere";
    for (const Vec2& uv : mesh.uvs)
        if (!(std::max(std::fabs(uv.x), std::fabs(uv.y)) <= 1e6f))
            return "one of its texture coordinates is more than a million, or no number";
    return {};
}

Result<Mesh> readMesh(const std::filesystem::path& file, float centimetres) {
    const auto cannot = [&](const std::string& detail) {
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read the model {}. Save it again as OBJ, GLB or PLY.", file.string()),
                    detail);
    };
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_LINE | aiPrimitiveType_POINT);
    const aiScene* scene =
        importer.ReadFile(file.string(), aiProcess_Triangulate | aiProcess_GenSmoothNormals |
                                             aiProcess_CalcTangentSpace | aiProcess_JoinIdenticalVertices |
                                             aiProcess_SortByPType | aiProcess_ValidateDataStructure);
    if (scene == nullptr) return cannot(importer.GetErrorString());
    if (cornersOf(*scene) > kMostCorners)
        return fail(
            ErrorKind::Unreadable,
            fmt::format("Cannot read the model {}: it has more than {} million corners. Save a simpler one.",
                        file.string(), kMostCorners / 1'000'000));
    Mesh mesh;
    appendNodes(mesh, *scene, centimetres, isGltf(modelFormatOf(file)));
    if (mesh.indices.empty())
        return fail(ErrorKind::Unreadable,
                    fmt::format("The model {} has no triangles. Save it again.", file.string()));
    for (const std::uint32_t index : mesh.indices)
        if (index >= mesh.positions.size()) return cannot("a triangle without its corner");
    if (const std::string fault = faultOf(mesh); !fault.empty())
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read the model {}: {}. Save it again.", file.string(), fault));
    for (Vec3& n : mesh.normals)
        if (!std::isfinite(n.x + n.y + n.z)) n = {0, 1, 0};  // of a matrix that flattens the object
    for (Tangent& t : mesh.tangents)
        if (const Vec3& d = t.direction; !std::isfinite(d.x + d.y + d.z)) t.direction = {1, 0, 0};
    return mesh;
}

}  // namespace

void Mesh::bounds(Vec3& low, Vec3& high) const {
    low = high = positions.empty() ? Vec3{} : positions.front();
    for (const Vec3& p : positions) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
    }
}

std::vector<int> Mesh::tiles() const {
    std::set<int> found;
    for (std::size_t t = 0; t + 2 < indices.size(); t += 3) {
        const Vec2 middle = (uvs[indices[t]] + uvs[indices[t + 1]] + uvs[indices[t + 2]]) * (1.0f / 3);
        const float column = std::floor(middle.x), row = std::floor(middle.y);
        if (column >= 0 && column < 10 && row >= 0 && row < 900)
            found.insert(1001 + static_cast<int>(column) + 10 * static_cast<int>(row));
    }
    return {found.begin(), found.end()};
}

float centimetresOf(const std::string& unit, const std::filesystem::path& file) {
    constexpr std::pair<const char*, float> kUnits[] = {
        {"mm", 0.1f}, {"cm", 1.0f}, {"m", 100.0f}, {"inch", 2.54f}};
    for (const auto& [name, centimetres] : kUnits)
        if (unit == name) return centimetres;
    return isGltf(modelFormatOf(file)) ? 100.0f : 1.0f;
}

double centimetresOfSquare(const Mesh& mesh) {
    double area = 0, inTexture = 0;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint32_t* c = &mesh.indices[3 * t];
        const Vec2 f1 = mesh.uvs[c[1]] - mesh.uvs[c[0]], f2 = mesh.uvs[c[2]] - mesh.uvs[c[0]];
        const double own = std::fabs(static_cast<double>(f1.x * f2.y - f1.y * f2.x));
        if (own <= 0) continue;
        inTexture += own;
        area += static_cast<double>(length(
            cross(mesh.positions[c[1]] - mesh.positions[c[0]], mesh.positions[c[2]] - mesh.positions[c[0]])));
    }
    return inTexture > 0 ? std::sqrt(area / inTexture) : 0;
}

bool isUnlikelySize(Vec3 low, Vec3 high) {
    const Vec3 size = high - low;
    const float longest = std::max({size.x, size.y, size.z});
    return longest < 1 || longest > 10000;
}

Result<Mesh> loadMesh(const std::filesystem::path& file, std::chrono::milliseconds longest,
                      const std::string& unit, const CancelToken& cancel) {
    if (auto fine = checkReadable(file, kLargestMesh, "the model"); !fine) {
        Error error = fine.error();
        if (error.kind == ErrorKind::Missing)
            error.sentence =
                fmt::format("Cannot find the model {}. Put it back, or choose another.", file.string());
        return fail(std::move(error));
    }
    const float centimetres = centimetresOf(unit, file);
    return guarded("read the model " + file.string(), [&]() -> Result<Mesh> {
        if (auto fine = checkModelFile(file); !fine) return fail(fine.error());
        return readApart([&] { return readMesh(file, centimetres); }, file, longest, cancel);
    });
}

}  // namespace kettle
