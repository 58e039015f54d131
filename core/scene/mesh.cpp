#include "core/scene/mesh.h"

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <assimp/Importer.hpp>

namespace kettle {
namespace {

Vec3 toVec(const aiVector3D& v) { return {v.x, v.y, v.z}; }

void append(Mesh& mesh, const aiMesh& from, const std::string& name) {
    const auto base = static_cast<std::uint32_t>(mesh.positions.size());
    const auto part = static_cast<std::uint16_t>(mesh.parts.size());
    mesh.parts.push_back(name);
    for (unsigned i = 0; i < from.mNumVertices; ++i) {
        mesh.positions.push_back(toVec(from.mVertices[i]));
        mesh.normals.push_back(normalised(toVec(from.mNormals[i])));
        mesh.uvs.push_back({from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y});
        Tangent t;
        if (from.HasTangentsAndBitangents()) {
            t.direction = normalised(toVec(from.mTangents[i]));
            t.side = dot(cross(toVec(from.mNormals[i]), t.direction), toVec(from.mBitangents[i])) < 0 ? -1.0f : 1.0f;
        }
        mesh.tangents.push_back(t);
    }
    for (unsigned f = 0; f < from.mNumFaces; ++f) {
        if (from.mFaces[f].mNumIndices != 3) continue;
        for (unsigned k = 0; k < 3; ++k) mesh.indices.push_back(base + from.mFaces[f].mIndices[k]);
        mesh.trianglePart.push_back(part);
    }
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
        return fail(ErrorKind::Missing, fmt::format("Cannot find the model {}. Put it back, or choose another.", file.string()));
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_LINE | aiPrimitiveType_POINT);
    const aiScene* scene = importer.ReadFile(
        file.string(), aiProcess_Triangulate | aiProcess_GenSmoothNormals | aiProcess_CalcTangentSpace |
                           aiProcess_JoinIdenticalVertices | aiProcess_SortByPType | aiProcess_PreTransformVertices);
    if (scene == nullptr)
        return fail(ErrorKind::Unreadable,
                    fmt::format("Cannot read the model {}. Save it again as OBJ, GLB or PLY.", file.string()),
                    importer.GetErrorString());
    Mesh mesh;
    bool withoutUv = false;
    for (unsigned i = 0; i < scene->mNumMeshes; ++i) {
        const aiMesh& part = *scene->mMeshes[i];
        withoutUv = withoutUv || !part.HasTextureCoords(0);
        if (part.HasTextureCoords(0) && part.HasNormals()) append(mesh, part, part.mName.C_Str());
    }
    if (mesh.indices.empty())
        return fail(ErrorKind::Unreadable,
                    withoutUv ? fmt::format("The model {} has no texture coordinates, so maps cannot lie on it. Unwrap it first.",
                                            file.string())
                              : fmt::format("The model {} has no triangles. Save it again.", file.string()));
    return mesh;
}

}  // namespace kettle
