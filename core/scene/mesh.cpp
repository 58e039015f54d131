#include "core/scene/mesh.h"

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <assimp/Importer.hpp>
#include <fstream>
#include <unordered_map>

#include "core/base/files.h"
#include "core/scene/read_apart.h"

namespace kettle {
namespace {

constexpr std::uintmax_t kLargestMesh = std::uintmax_t{4} << 30;

Vec3 toVec(const aiVector3D& v) {
    return {v.x, v.y, v.z};
}

/// Meshes of one name are one part, however the file cuts them. Beyond what a number holds the rest is one.
std::uint16_t partNumber(Mesh& mesh, std::unordered_map<std::string, std::uint16_t>& known,
                         const std::string& name) {
    constexpr std::size_t kMost = 65535;
    const auto next = static_cast<std::uint16_t>(std::min(mesh.parts.size(), kMost));
    const auto [at, isNew] = known.try_emplace(name, next);
    if (isNew && mesh.parts.size() <= kMost) mesh.parts.push_back(name);
    return at->second;
}

void append(Mesh& mesh, const aiMesh& from, const aiMatrix4x4& place, std::uint16_t part) {
    const auto base = static_cast<std::uint32_t>(mesh.positions.size());
    aiMatrix3x3 turn(place);
    turn.Inverse()
        .Transpose();  // normals go by the inverse transpose, so that a stretched object keeps them upright
    for (unsigned i = 0; i < from.mNumVertices; ++i) {
        mesh.positions.push_back(toVec(place * from.mVertices[i]));
        mesh.normals.push_back(normalised(toVec(turn * from.mNormals[i])));
        mesh.uvs.push_back({from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y});
        Tangent t;
        if (from.HasTangentsAndBitangents()) {
            t.direction = normalised(toVec(aiMatrix3x3(place) * from.mTangents[i]));
            t.side = dot(cross(toVec(from.mNormals[i]), t.direction), toVec(from.mBitangents[i])) < 0 ? -1.0f
                                                                                                      : 1.0f;
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
void appendNodes(Mesh& mesh, const aiScene& scene, bool& withoutUv) {
    struct Place {
        const aiNode* node;
        aiMatrix4x4 above;
    };
    std::unordered_map<std::string, std::uint16_t> parts;
    std::vector<Place> left{{scene.mRootNode, {}}};
    while (!left.empty()) {
        const Place at = left.back();
        left.pop_back();
        const aiMatrix4x4 place = at.above * at.node->mTransformation;
        for (unsigned i = 0; i < at.node->mNumMeshes; ++i) {
            const aiMesh& part = *scene.mMeshes[at.node->mMeshes[i]];
            withoutUv = withoutUv || !part.HasTextureCoords(0);
            if (part.HasTextureCoords(0) && part.HasNormals())
                append(mesh, part, place, partNumber(mesh, parts, at.node->mName.C_Str()));
        }
        for (unsigned i = at.node->mNumChildren; i-- > 0;) left.push_back({at.node->mChildren[i], place});
    }
}

/// The mesh library waits for ever for the end of a header that is cut off.
bool hasWholeHeader(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::string head(std::size_t{1} << 20, '\0');
    in.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(in.gcount(), 0)));
    return !head.starts_with("ply") || head.find("end_header") != std::string::npos;
}

Result<Mesh> readMesh(const std::filesystem::path& file) {
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
    Mesh mesh;
    bool withoutUv = false;
    appendNodes(mesh, *scene, withoutUv);
    if (mesh.indices.empty())
        return fail(
            ErrorKind::Unreadable,
            withoutUv
                ? fmt::format(
                      "The model {} has no texture coordinates, so maps cannot lie on it. Unwrap it first.",
                      file.string())
                : fmt::format("The model {} has no triangles. Save it again.", file.string()));
    for (const std::uint32_t index : mesh.indices)
        if (index >= mesh.positions.size()) return cannot("a triangle without its corner");
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

Result<Mesh> loadMesh(const std::filesystem::path& file, std::chrono::milliseconds longest) {
    if (auto fine = checkReadable(file, kLargestMesh, "the model"); !fine) {
        Error error = fine.error();
        if (error.kind == ErrorKind::Missing)
            error.sentence =
                fmt::format("Cannot find the model {}. Put it back, or choose another.", file.string());
        return fail(std::move(error));
    }
    if (!hasWholeHeader(file))
        return fail(
            ErrorKind::Unreadable,
            fmt::format("Cannot read the model {}: it ends in its header. Copy it again.", file.string()));
    return guarded("read the model " + file.string(),
                   [&] { return readApart([&] { return readMesh(file); }, file, longest); });
}

}  // namespace kettle
