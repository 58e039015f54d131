#include "core/geometry/object_points.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace kettle {
namespace {

float areaOf(const Mesh& mesh, std::size_t t) {
    const std::uint32_t* c = &mesh.indices[3 * t];
    return length(
        cross(mesh.positions[c[1]] - mesh.positions[c[0]], mesh.positions[c[2]] - mesh.positions[c[0]]));
}

Vec2 middleOf(const Mesh& mesh, std::size_t t) {
    const std::uint32_t* c = &mesh.indices[3 * t];
    return {(mesh.uvs[c[0]].x + mesh.uvs[c[1]].x + mesh.uvs[c[2]].x) / 3,
            (mesh.uvs[c[0]].y + mesh.uvs[c[1]].y + mesh.uvs[c[2]].y) / 3};
}

}  // namespace

std::vector<ModelObject> objectsOf(const Mesh& mesh) {
    std::vector<ModelObject> objects;
    std::unordered_map<std::string, std::size_t> known;
    std::vector<std::size_t> ofPart(mesh.parts.size());
    for (std::size_t p = 0; p < mesh.parts.size(); ++p) {
        const std::string& name = p < mesh.partObjects.size() ? mesh.partObjects[p] : mesh.parts[p];
        const auto [at, isNew] = known.try_emplace(name, objects.size());
        if (isNew) objects.push_back({name, {}, 0});
        objects[at->second].parts.push_back(p);
        ofPart[p] = at->second;
    }
    for (const std::uint16_t part : mesh.trianglePart)
        if (part < ofPart.size()) ++objects[ofPart[part]].triangles;
    return objects;
}

PointSet objectPoints(const Mesh& mesh, const std::vector<ModelObject>& objects) {
    constexpr std::uint32_t kNone = ModelPlaces::kNowhere;
    std::vector<std::uint32_t> largest(mesh.parts.size(), kNone);
    std::vector<float> areas(mesh.parts.size(), -1.0f);
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::size_t part = mesh.trianglePart[t];
        if (part >= largest.size()) continue;
        if (const float area = areaOf(mesh, t); area > areas[part])
            areas[part] = area, largest[part] = static_cast<std::uint32_t>(t);
    }
    std::vector<std::uint32_t> chosen;
    for (const ModelObject& object : objects) {
        std::uint32_t best = kNone;
        float area = -1;
        for (const std::size_t part : object.parts)
            if (areas[part] > area) area = areas[part], best = largest[part];
        chosen.push_back(best);
    }
    chosen.insert(chosen.end(), largest.begin(), largest.end());
    PointSet points;
    for (Plane* plane : {&points.u, &points.v, &points.footprint, &points.places.b1, &points.places.b2})
        *plane = Plane(chosen.size());
    points.places.triangles = chosen;
    for (std::size_t i = 0; i < chosen.size(); ++i) {
        const Vec2 uv = chosen[i] == kNone ? Vec2{0.5f, 0.5f} : middleOf(mesh, chosen[i]);
        points.u[i] = uv.x, points.v[i] = uv.y;
        // A map is read softly there: what the object looks like, and no single texel.
        points.footprint[i] = 1.0f / 32;
        points.places.b1[i] = points.places.b2[i] = 1.0f / 3;
    }
    return points;
}

std::vector<bool> sharesTexture(const Mesh& mesh, const UvCells& cells) {
    const std::vector<ModelObject> objects = objectsOf(mesh);
    std::vector<std::size_t> ofPart(mesh.parts.size(), 0);
    for (std::size_t o = 0; o < objects.size(); ++o)
        for (const std::size_t part : objects[o].parts) ofPart[part] = o;
    std::vector<float> u, v;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec2 uv = middleOf(mesh, t);
        u.push_back(uv.x), v.push_back(uv.y);
    }
    std::vector<std::uint32_t> found(u.size());
    std::vector<float> b1(u.size()), b2(u.size());
    cells.find(u.data(), v.data(), u.size(), found.data(), b1.data(), b2.data());
    std::vector<bool> shares(objects.size(), false);
    for (std::size_t t = 0; t < found.size(); ++t) {
        const std::size_t part = mesh.trianglePart[t];
        if (found[t] >= mesh.triangleCount() || part >= ofPart.size()) continue;
        const std::size_t other = mesh.trianglePart[found[t]];
        if (ofPart[part] != ofPart[other]) shares[ofPart[part]] = shares[ofPart[other]] = true;
    }
    return shares;
}

}  // namespace kettle
