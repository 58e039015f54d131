#include "core/geometry/mesh_facts.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/geometry/curvature.h"
#include "core/geometry/object_points.h"
#include "core/geometry/outward.h"

namespace kettle {
namespace {

/// Slow fields are kept for spreads that are dragged back and forth.
constexpr std::size_t kKeptFields = 16;
/// Objects that are looked at by turns; an export of all of them asks for each once.
constexpr std::size_t kKeptObjects = 8;

/// Numbers of the vertices, three each, between which a triangle goes on straight, beyond its edges as well.
class VertexField final : public ModelField {
public:
    VertexField(const Mesh& mesh, const std::vector<Vec3>& numbers, std::array<float, 4> nowhere, bool isUnit)
        : m_corners(mesh.indices), m_numbers(numbers), m_nowhere(nowhere), m_isUnit(isUnit) {}
    void read(const std::uint32_t* triangles, const float* b1, const float* b2, std::size_t count,
              unsigned mask, float* const out[4]) const override {
        for (std::size_t i = 0; i < count; ++i) {
            Vec3 p{m_nowhere[0], m_nowhere[1], m_nowhere[2]};
            if (const std::size_t t = triangles[i]; 3 * t < m_corners.size()) {
                p = m_numbers[m_corners[3 * t]] * (1 - b1[i] - b2[i]) +
                    m_numbers[m_corners[3 * t + 1]] * b1[i] + m_numbers[m_corners[3 * t + 2]] * b2[i];
                if (m_isUnit) p = normalised(p);
            }
            if (mask & 1u) out[0][i] = p.x;
            if (mask & 2u) out[1][i] = p.y;
            if (mask & 4u) out[2][i] = p.z;
        }
    }

private:
    std::vector<std::uint32_t> m_corners;
    std::vector<Vec3> m_numbers;
    std::array<float, 4> m_nowhere;
    bool m_isUnit;
};

/// One number a triangle.
class TriangleField final : public ModelField {
public:
    TriangleField(std::vector<float> numbers, float nowhere)
        : m_numbers(std::move(numbers)), m_nowhere(nowhere) {}
    void read(const std::uint32_t* triangles, const float*, const float*, std::size_t count, unsigned mask,
              float* const out[4]) const override {
        if ((mask & 1u) == 0) return;
        for (std::size_t i = 0; i < count; ++i)
            out[0][i] = triangles[i] < m_numbers.size() ? m_numbers[triangles[i]] : m_nowhere;
    }

private:
    std::vector<float> m_numbers;
    float m_nowhere;
};

/// One number a place of the net.
class SampledField final : public ModelField {
public:
    SampledField(std::shared_ptr<const SurfaceSamples> samples, std::vector<float> numbers, float nowhere)
        : m_samples(std::move(samples)), m_numbers(std::move(numbers)), m_nowhere(nowhere) {}
    void read(const std::uint32_t* triangles, const float* b1, const float* b2, std::size_t count,
              unsigned mask, float* const out[4]) const override {
        if (mask & 1u) m_samples->read(m_numbers, m_nowhere, triangles, b1, b2, count, out[0]);
    }

private:
    std::shared_ptr<const SurfaceSamples> m_samples;
    std::vector<float> m_numbers;
    float m_nowhere;
};

/// How many centimetres a unit of texture space covers on each triangle; 0 without texture coordinates.
std::vector<float> sizesOf(const Mesh& mesh) {
    std::vector<float> sizes(mesh.triangleCount(), 0.0f);
    for (std::size_t t = 0; t < sizes.size(); ++t) {
        const std::uint32_t* c = &mesh.indices[3 * t];
        const Vec3 e1 = mesh.positions[c[1]] - mesh.positions[c[0]],
                   e2 = mesh.positions[c[2]] - mesh.positions[c[0]];
        const Vec2 f1 = mesh.uvs[c[1]] - mesh.uvs[c[0]], f2 = mesh.uvs[c[2]] - mesh.uvs[c[0]];
        const float inTexture = std::fabs(f1.x * f2.y - f1.y * f2.x);
        if (inTexture > 0) sizes[t] = std::sqrt(length(cross(e1, e2)) / inTexture);
    }
    return sizes;
}

std::vector<float> partMask(const Mesh& mesh, const std::string& name) {
    std::vector<float> isPart(mesh.triangleCount(), 0.0f);
    for (std::size_t t = 0; t < isPart.size(); ++t) {
        const std::size_t part = mesh.trianglePart[t];
        const bool named =
            part < mesh.parts.size() &&
            (mesh.parts[part] == name || (part < mesh.partObjects.size() && mesh.partObjects[part] == name));
        isPart[t] = named ? 1.0f : 0.0f;
    }
    return isPart;
}

/// Objects or parts by number, in the order in which the model tells them: which one each triangle belongs
/// to, and how many there are.
struct Things {
    std::vector<std::uint32_t> ofTriangle;
    std::vector<std::string> names;
    std::size_t count = 0;
    Things(const Mesh& mesh, bool parts) : ofTriangle(mesh.triangleCount(), 0) {
        std::vector<std::uint32_t> ofPart(mesh.parts.size(), 0);
        std::unordered_map<std::string, std::uint32_t> known;
        for (std::size_t p = 0; p < mesh.parts.size(); ++p) {
            const std::string& name =
                parts || p >= mesh.partObjects.size() ? mesh.parts[p] : mesh.partObjects[p];
            const auto [at, isNew] = known.try_emplace(name, static_cast<std::uint32_t>(known.size()));
            if (isNew) names.push_back(name);
            ofPart[p] = at->second;
        }
        count = known.size();
        for (std::size_t t = 0; t < ofTriangle.size(); ++t)
            if (mesh.trianglePart[t] < ofPart.size()) ofTriangle[t] = ofPart[mesh.trianglePart[t]];
    }
    /// The middle of each thing's box along an axis, 0 to 1 within the model's.
    std::vector<float> middles(const Mesh& mesh, int axis) const {
        const auto along = [axis](Vec3 p) { return axis == 0 ? p.x : axis == 1 ? p.y : p.z; };
        std::vector<float> low(count, 1e30f), high(count, -1e30f);
        for (std::size_t t = 0; t < ofTriangle.size(); ++t)
            for (std::size_t c = 0; c < 3; ++c) {
                const float x = along(mesh.positions[mesh.indices[3 * t + c]]);
                low[ofTriangle[t]] = std::min(low[ofTriangle[t]], x);
                high[ofTriangle[t]] = std::max(high[ofTriangle[t]], x);
            }
        Vec3 from, to;
        mesh.bounds(from, to);
        const float width = std::max(1e-6f, along(to) - along(from));
        for (std::size_t i = 0; i < count; ++i) low[i] = ((low[i] + high[i]) / 2 - along(from)) / width;
        return low;
    }
};

/// A number of each triangle's thing.
std::vector<float> thingNumbers(const Mesh& mesh, const CopyNumber& asked, const ObjectNumbers& given) {
    using What = CopyNumber::What;
    const Things things(mesh, asked.ofParts);
    std::vector<float> of(std::max<std::size_t>(1, things.count), 0.0f);
    for (std::size_t i = 0; i < of.size(); ++i) of[i] = static_cast<float>(i);
    const auto& byHand = asked.ofParts ? given.parts : given.objects;
    for (std::size_t i = 0; i < things.count && !byHand.empty(); ++i)
        if (const auto number = byHand.find(things.names[i]); number != byHand.end())
            of[i] = static_cast<float>(number->second);
    if (asked.what == What::Share) {
        const float most = std::max(1.0f, *std::max_element(of.begin(), of.end()));
        for (float& number : of) number /= most;
    }
    if (asked.what == What::X) of = things.middles(mesh, 0);
    if (asked.what == What::Y) of = things.middles(mesh, 1);
    if (asked.what == What::Z) of = things.middles(mesh, 2);
    std::vector<float> numbers(things.ofTriangle.size());
    for (std::size_t t = 0; t < numbers.size(); ++t) numbers[t] = of[things.ofTriangle[t]];
    return numbers;
}

/// Another model field under a number of its own: points lie elsewhere, so that what is kept of the first is
/// not its.
class SameField final : public ModelField {
public:
    explicit SameField(std::shared_ptr<const ModelField> field) : m_field(std::move(field)) {}
    void read(const std::uint32_t* triangles, const float* b1, const float* b2, std::size_t count,
              unsigned mask, float* const out[4]) const override {
        m_field->read(triangles, b1, b2, count, mask, out);
    }
    bool isOf(const std::shared_ptr<const ModelField>& field) const { return field == m_field; }

private:
    std::shared_ptr<const ModelField> m_field;
};

}  // namespace

/// Where one object or part lies in texture space, and the fields that are read there.
struct MeshFacts::Alone {
    Alone(const Mesh& mesh, const std::vector<bool>& wanted) : cells(mesh, wanted) {}
    UvCells cells;
    std::mutex mutex;
    std::deque<std::shared_ptr<const SameField>> fields;  ///< newest first
};

/// A model's facts where texture space means one object or part of it.
class MeshFacts::OneObject final : public ModelFacts {
public:
    OneObject(std::shared_ptr<const MeshFacts> all, std::shared_ptr<Alone> alone)
        : m_all(std::move(all)), m_alone(std::move(alone)) {}
    void find(const float* u, const float* v, std::size_t count, std::uint32_t* triangles, float* b1,
              float* b2) const override {
        m_alone->cells.find(u, v, count, triangles, b1, b2);
    }
    void move(const std::uint32_t* triangles, const float* u, const float* v, std::size_t count, float* b1,
              float* b2) const override {
        m_all->move(triangles, u, v, count, b1, b2);
    }
    std::shared_ptr<const ModelField> field(const MeshAttribute& attribute,
                                            const Shared<ObjectNumbers>& numbers) const override {
        auto of = m_all->field(attribute, numbers);
        const std::lock_guard lock(m_alone->mutex);
        auto& fields = m_alone->fields;
        for (const auto& known : fields)
            if (known->isOf(of)) return known;
        fields.push_front(std::make_shared<SameField>(std::move(of)));
        if (fields.size() > kKeptFields) fields.pop_back();
        return fields.front();
    }
    std::shared_ptr<const ModelFacts> only(const std::string& object) const override {
        return m_all->only(object);
    }
    const std::vector<ModelThing>& things() const override { return m_all->things(); }

private:
    std::shared_ptr<const MeshFacts> m_all;
    std::shared_ptr<Alone> m_alone;
};

namespace {

std::vector<Vec3> tangentsOf(const Mesh& mesh) {
    std::vector<Vec3> all;
    for (const Tangent& t : mesh.tangents) all.push_back(t.direction);
    return all;
}
std::vector<float> tangentSides(const Mesh& mesh) {
    std::vector<float> all(mesh.triangleCount());
    for (std::size_t t = 0; t < all.size(); ++t) all[t] = mesh.tangents[mesh.indices[3 * t]].side;
    return all;
}

std::vector<Vec3> heightsOf(const Mesh& mesh) {
    Vec3 low, high;
    mesh.bounds(low, high);
    const float scale = 1 / std::max(1e-6f, high.y - low.y);
    std::vector<Vec3> heights;
    heights.reserve(mesh.positions.size());
    for (const Vec3& p : mesh.positions) heights.push_back({(p.y - low.y) * scale, 0, 0});
    return heights;
}

}  // namespace

MeshFacts::MeshFacts(std::shared_ptr<const RayScene> scene, std::atomic<int>* percent)
    : m_scene(std::move(scene)), m_cells(m_scene->mesh()), m_percent(percent) {}

const std::shared_ptr<const SurfaceSamples>& MeshFacts::samples() const {
    if (m_samples == nullptr) m_samples = std::make_shared<SurfaceSamples>(outward());
    return m_samples;
}

const Mesh& MeshFacts::outward() const {
    if (!m_knowsSides) m_turned = turnedOutward(*m_scene);
    m_knowsSides = true;
    return m_turned ? *m_turned : m_scene->mesh();
}

std::shared_ptr<const ModelField> MeshFacts::field(const MeshAttribute& attribute,
                                                   const Shared<ObjectNumbers>& numbers) const {
    // Asked for by several threads at once, a slow field is made by the first and waited for by the others.
    const std::lock_guard lock(m_mutex);
    const bool counts = std::holds_alternative<CopyNumber>(attribute);
    const auto known = std::find_if(m_fields.begin(), m_fields.end(), [&](const Kept& kept) {
        return kept.attribute == attribute && (!counts || kept.numbers == numbers);
    });
    if (known != m_fields.end()) {
        Kept found = *known;
        m_fields.erase(known);
        m_fields.push_front(found);
        return found.field;
    }
    auto field = made(attribute, *numbers);
    m_fields.push_front({attribute, numbers, field});
    if (m_fields.size() > kKeptFields) m_fields.pop_back();
    return field;
}

std::shared_ptr<const ModelFacts> MeshFacts::only(const std::string& object) const {
    const std::lock_guard lock(m_mutex);
    for (const auto& [name, alone] : m_objects)
        if (name == object) return std::make_shared<OneObject>(shared_from_this(), alone);
    const Mesh& mesh = m_scene->mesh();
    std::vector<bool> wanted(mesh.parts.size(), false);
    for (std::size_t p = 0; p < wanted.size(); ++p)
        wanted[p] = mesh.parts[p] == object || (p < mesh.partObjects.size() && mesh.partObjects[p] == object);
    if (std::find(wanted.begin(), wanted.end(), true) == wanted.end()) return nullptr;
    m_objects.emplace_front(object, std::make_shared<Alone>(mesh, wanted));
    if (m_objects.size() > kKeptObjects) m_objects.pop_back();
    return std::make_shared<OneObject>(shared_from_this(), m_objects.front().second);
}

const std::vector<ModelThing>& MeshFacts::things() const {
    const std::lock_guard lock(m_mutex);
    if (m_things) return *m_things;
    const Mesh& mesh = m_scene->mesh();
    const std::vector<bool> shares = sharesTexture(mesh, m_cells);
    m_things.emplace();
    std::size_t at = 0;
    for (const ModelObject& object : objectsOf(mesh)) {
        ModelThing thing{object.name, {}, shares[at++]};
        for (const std::size_t part : object.parts) thing.parts.push_back(mesh.parts[part]);
        m_things->push_back(std::move(thing));
    }
    return *m_things;
}

std::shared_ptr<const ModelField> MeshFacts::made(SurfaceAttribute fact) const {
    const Mesh& mesh = m_scene->mesh();
    const std::array<float, 4> nowhere = neutralFact(fact);
    switch (fact) {
        case SurfaceAttribute::Normal:
            return std::make_shared<VertexField>(mesh, outward().normals, nowhere, true);
        case SurfaceAttribute::Tangent:
            return std::make_shared<VertexField>(mesh, tangentsOf(mesh), nowhere, true);
        case SurfaceAttribute::TangentSide:
            return std::make_shared<TriangleField>(tangentSides(mesh), nowhere[0]);
        case SurfaceAttribute::Height:
            return std::make_shared<VertexField>(mesh, heightsOf(mesh), nowhere, false);
        case SurfaceAttribute::Size:
            return std::make_shared<TriangleField>(sizesOf(mesh), nowhere[0]);
        case SurfaceAttribute::Position:
            break;
    }
    return std::make_shared<VertexField>(mesh, mesh.positions, nowhere, false);
}

std::shared_ptr<const ModelField> MeshFacts::made(const AmbientOcclusion& occlusion) const {
    if (!m_hidden) {
        m_hidden.emplace(*m_scene, *samples(), [this](double done) {
            if (m_percent != nullptr) *m_percent = static_cast<int>(done * 100);
        });
        if (m_percent != nullptr) *m_percent = 100;
    }
    const float spread = std::max(1e-4f, occlusion.spread),
                falloff = std::clamp(occlusion.falloff, 0.01f, 100.0f);
    return std::make_shared<SampledField>(samples(), m_hidden->hidden(spread, falloff), 0.0f);
}

std::shared_ptr<const ModelField> MeshFacts::made(const MeshAttribute& attribute,
                                                  const ObjectNumbers& numbers) const {
    const Mesh& mesh = m_scene->mesh();
    if (const auto* fact = std::get_if<SurfaceAttribute>(&attribute)) return made(*fact);
    if (const auto* occlusion = std::get_if<AmbientOcclusion>(&attribute)) return made(*occlusion);
    if (const auto* part = std::get_if<PartMask>(&attribute))
        return std::make_shared<TriangleField>(partMask(mesh, part->name), 0.0f);
    if (const auto* copies = std::get_if<CopyNumber>(&attribute))
        return std::make_shared<TriangleField>(thingNumbers(mesh, *copies, numbers), 0.0f);
    return std::make_shared<SampledField>(
        samples(), curvatureOf(outward(), *samples(), std::get<MeanCurvature>(attribute).spread), 0.0f);
}

std::shared_ptr<const ModelFacts> FactsStore::facts(const std::string& model, const std::string& unit) {
    const auto scene = m_scenes->load(model, unit);
    if (!scene) return nullptr;
    const std::lock_guard lock(m_mutex);
    if (m_kept == nullptr || m_kept->scene() != *scene)
        m_kept = std::make_shared<MeshFacts>(*scene, &m_percent);
    return m_kept;
}

}  // namespace kettle
