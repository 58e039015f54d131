#include "core/scene/mesh.h"

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <assimp/Importer.hpp>

namespace kettle {
namespace {

Vec3 toVec(const aiVector3D& v) {
    return {v.x, v.y, v.z};
}

/// Meshes of one name are one part, however the file cuts them.
std::uint16_t partNumber(Mesh& mesh, const std::string& name) {
    const auto at = std::find(mesh.parts.begin(), mesh.parts.end(), name);
    const auto number = static_cast<std::uint16_t>(at - mesh.parts.begin());
    if (at == mesh.parts.end()) mesh.parts.push_back(name);
    return number;
}

void append(Mesh& mesh, const aiMesh& from, const aiMatrix4x4& place, const std::string& name) {
    const auto base = static_cast<std::uint32_t>(mesh.positions.size());
    const std::uint16_t part = partNumber(mesh, name);
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

void appendNodes(Mesh& mesh, const aiScene& scene, const aiNode& node, const aiMatrix4x4& above,
                 bool& withoutUv) {
    const aiMatrix4x4 place = above * node.mTransformation;
    for (unsigned i = 0; i < node.mNumMeshes; ++i) {
        const aiMesh& part = *scene.mMeshes[node.mMeshes[i]];
        withoutUv = withoutUv || !part.HasTextureCoords(0);
        if (part.HasTextureCoords(0) && part.HasNormals()) append(mesh, part, place, node.mName.C_Str());
    }
    for (unsigned i = 0; i < node.mNumChildren; ++i)
        appendNodes(mesh, scene, *node.mChildren[i], place, withoutUv);
}

}  // namespace

void Mesh::bounds(Vec3& low, Vec3& high) const {
    low = high = positions.empty() ? Vec3{} : positions.front();
    for (const Vec3& p : positions) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y), std::min(low.z, p.z)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y), std::max(high.z, p.z)};
    }
}

Result<Mesh> loadMesh(const std::filesystem::path& file) {
    std::error_code code;
    if (!std::filesystem::exists(file, code))
        return fail(ErrorKind::Missing,
                    fmt::format("Cannot find the model {}. Put it back, or choose another.", file.string()));
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_LINE | aiPrimitiveType_POINT);
    const aiScene* scene = importer.ReadFile(
        file.string(), aiProcess_Triangulate | aiProcess_GenSmoothNormals | aiProcess_CalcTangentSpace |
                           aiProcess_JoinIdenticalVertices | aiProcess_SortByPType);
    if (scene == nullptr)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read the model {}. Save it again as OBJ, GLB or PLY.", file.string()),
                    importer.GetErrorString());
    Mesh mesh;
    bool withoutUv = false;
    appendNodes(mesh, *scene, *scene->mRootNode, {}, withoutUv);
    if (mesh.indices.empty())
        return fail(
            ErrorKind::Unreadable,
            withoutUv
                ? fmt::format(
                      "The model {} has no texture coordinates, so maps cannot lie on it. Unwrap it first.",
                      file.string())
                : fmt::format("The model {} has no triangles. Save it again.", file.string()));
    return mesh;
}

}  // namespace kettle
