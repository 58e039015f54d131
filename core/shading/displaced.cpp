// The model of the finer stages, moved by its height lines.
#include <algorithm>
#include <cmath>

#include "core/geometry/displacement.h"
#include "core/shading/preview.h"

namespace kettle {
namespace {

constexpr std::size_t kMostTriangles = 2'000'000;
constexpr float kEdgePixels = 2;

/// The length of two pixels at the model's distance, rounded to steps of a quarter, so that a camera that
/// turns or moves a little finds the same mesh.
float longestEdge(const PreviewRequest& request) {
    const float angle = request.camera.fieldOfView * 3.14159265f / 180;
    const float pixel =
        2 * request.camera.distance * std::tan(angle / 2) / static_cast<float>(std::max(1, request.height));
    return std::exp2(std::round(2 * std::log2(std::max(kEdgePixels * pixel, 1e-6f))) / 2);
}

/// For each vertex the part of a triangle that it belongs to.
std::vector<std::uint16_t> partsOfVertices(const Mesh& mesh) {
    std::vector<std::uint16_t> parts(mesh.positions.size(), 0);
    for (std::size_t i = 0; i < mesh.indices.size(); ++i) parts[mesh.indices[i]] = mesh.trianglePart[i / 3];
    return parts;
}

/// How much of texture space an edge covers, on the whole.
float meanFootprint(const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const Vec2 d = mesh.uvs[mesh.indices[3 * t]] - mesh.uvs[mesh.indices[3 * t + 1]];
        sum += static_cast<double>(std::sqrt(d.x * d.x + d.y * d.y));
    }
    return static_cast<float>(sum / static_cast<double>(std::max<std::size_t>(1, mesh.triangleCount())));
}

}  // namespace

/// Fitting the boxes anew takes a tenth of building them, but nobody else may be looking.
void Preview::moveTo(std::shared_ptr<const Mesh> mesh) {
    std::shared_ptr<RayScene>& scene = m_displaced.scene;
    for (Kept& kept : m_kept)
        if (kept.scene == scene) kept = {};
    for (Ground& ground : m_grounds)
        if (ground.scene == scene) ground = {};
    if (scene != nullptr && scene.use_count() == 1)
        scene->move(std::move(mesh));
    else
        scene = std::make_shared<RayScene>(std::move(mesh), RayScene::Use::Moving);
}

Result<std::shared_ptr<const RayScene>> Preview::displaced(const PreviewRequest& request,
                                                           const Resources& resources,
                                                           const std::shared_ptr<const RayScene>& from,
                                                           const CancelToken& cancel) {
    const ViewSettings& view = request.project.view;
    const std::vector<std::string> surfaces = surfaceIds(request.project);
    std::vector<const Line*> lines;
    for (const std::string& surface : surfaces) {
        const Line* line = request.project.lineOfChannel(channel::kHeight, surface);
        lines.push_back(line != nullptr && !line->steps.empty() ? line : nullptr);
    }
    const bool isFlat = view.displacement == 0 || request.off.contains(channel::kHeight) ||
                        std::all_of(lines.begin(), lines.end(), [](const Line* l) { return l == nullptr; });
    if (isFlat) return from;
    std::vector<Compiled> compiled;
    std::vector<ResolvedMaps> maps;
    std::vector<Program> programs;
    std::vector<std::uint64_t> parts;
    for (const Line* line : lines) {
        compiled.push_back(compile(request.project, request.project.findLook(request.look),
                                   line != nullptr ? std::vector{wantOfLine(*line)} : std::vector<Want>{},
                                   resources.rules()));
        maps.push_back(resources.resolve(request.project, compiled.back().program));
        programs.push_back(compiled.back().program);
        for (const auto& map : maps.back().maps) parts.push_back(map ? map->id() : 0);
        parts.push_back(line != nullptr ? 1 : 0);
    }
    Displaced& known = m_displaced;
    const float longest = longestEdge(request);
    const bool hasMesh = known.from == from && known.longest == longest && known.fine != nullptr;
    const bool same =
        hasMesh && known.scene != nullptr && known.depth == view.displacement &&
        known.middle == view.displacementMiddle && known.parts == parts &&
        std::equal(programs.begin(), programs.end(), known.programs.begin(), known.programs.end(),
                   [](const Program& a, const Program& b) { return a.computesAs(b); });
    if (same) return known.scene;
    const auto outdated = [] {
        return fail(ErrorKind::Cancelled, "The picture was outdated before it was finished.");
    };
    if (!hasMesh) {
        Mesh fine = tessellated(from->mesh(), longest, kMostTriangles, cancel);
        if (cancel.isCancelled()) return outdated();
        known = {};
        known.from = from, known.longest = longest, known.footprint = meanFootprint(fine);
        known.fine = std::make_shared<const MovableMesh>(std::move(fine));
    }
    const Mesh& fine = known.fine->mesh();
    std::vector<float> by(fine.positions.size(), 0.0f);
    Vec3 low, high;
    fine.bounds(low, high);
    const float most = length(high - low), footprint = known.footprint;
    const std::vector<int> ofPart = surfacesOfParts(request.project, fine.parts);
    const std::vector<std::uint16_t> partOf = partsOfVertices(fine);
    for (std::size_t s = 0; s < lines.size(); ++s) {
        if (lines[s] == nullptr) continue;
        std::vector<std::uint32_t> vertices;
        for (std::uint32_t i = 0; i < by.size(); ++i) {
            const std::size_t part = partOf[i];
            const bool hasUv = part >= fine.partHasUv.size() || fine.partHasUv[part] != 0;
            if (hasUv && part < ofPart.size() && ofPart[part] == static_cast<int>(s)) vertices.push_back(i);
        }
        PointSet points{Plane(vertices.size()), Plane(vertices.size()), Plane(vertices.size())};
        for (std::size_t i = 0; i < vertices.size(); ++i) {
            points.u[i] = fine.uvs[vertices[i]].x;
            points.v[i] = fine.uvs[vertices[i]].y;
            points.footprint[i] = footprint;
        }
        SampleCache samples;
        samples.prepare(compiled[s].program, maps[s], points);
        std::vector<Plane> planes;
        if (!run(compiled[s].program, maps[s], samples, points.size(), planes, cancel)) return outdated();
        const Plane& heights = planes[static_cast<std::size_t>(compiled[s].planes[0][0])];
        const float depth = static_cast<float>(view.displacement),
                    middle = static_cast<float>(view.displacementMiddle);
        for (std::size_t i = 0; i < vertices.size(); ++i) {
            // A height that is no number moves nothing, and none moves farther than the model is large.
            const float d = (heights[i] - middle) * depth;
            by[vertices[i]] = std::isnan(d) ? 0.0f : std::clamp(d, -most, most);
        }
    }
    moveTo(std::make_shared<const Mesh>(known.fine->moved(by)));
    known.depth = view.displacement, known.middle = view.displacementMiddle;
    known.programs = std::move(programs), known.parts = std::move(parts);
    return known.scene;
}

}  // namespace kettle
