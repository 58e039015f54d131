#include "core/shading/opacity_fields.h"

#include <algorithm>

#include "core/engine/run.h"

namespace kettle {
namespace {

/// Numbers a side: a shadow's edge is softer than a texel of it.
constexpr int kFieldSize = 512;
constexpr std::size_t kMostTiles = 16;

/// The first tiles that a model lies in.
std::vector<int> tilesOf(const Mesh& mesh) {
    std::vector<int> tiles = mesh.tiles();
    if (tiles.size() > kMostTiles) tiles.resize(kMostTiles);
    return tiles;
}

/// True if a program reads maps that lie in tiles.
bool readsTiles(const Program& program, const Project& project) {
    return std::any_of(program.sources.begin(), program.sources.end(), [&](const SourceKey& key) {
        const MapSource* read = key.map();
        const TextureSet* set = read != nullptr ? project.findSet(read->set) : nullptr;
        const Map* map = set != nullptr ? findMap(*set, read->role) : nullptr;
        return map != nullptr && isTilePattern(map->file);
    });
}

}  // namespace

bool OpacityFields::make(const PreviewSide& side, const Resources& resources, const Line* line,
                         const Mesh& mesh, const CancelToken& cancel, Known& known) {
    const Project& project = side.project;
    const Compiled compiled =
        compile(project, project.findLook(side.look),
                line != nullptr ? std::vector{wantOfLine(*line)} : std::vector<Want>{}, resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    std::vector<std::uint64_t> ids{line != nullptr ? 1u : 0u};
    for (const auto& map : maps.maps) ids.push_back(map ? map->id() : 0);
    for (const auto& field : maps.fields) ids.push_back(field ? field->id() : 0);
    if (known.maps == ids && known.program.computesAs(compiled.program)) return true;
    OpacityPictures pictures;
    if (line != nullptr) {
        const auto plane = static_cast<std::size_t>(compiled.planes[0][0]);
        const bool isTiled = readsTiles(compiled.program, project);
        for (const int tile : isTiled ? tilesOf(mesh) : std::vector{1001}) {
            std::vector<float> opacity(std::size_t{kFieldSize} * kFieldSize);
            const RowSink sink = [&](int y, int x, std::size_t count, const float* const* planes) {
                float* to =
                    opacity.data() + static_cast<std::size_t>(y) * kFieldSize + static_cast<std::size_t>(x);
                // What is no number is not there.
                for (std::size_t i = 0; i < count; ++i)
                    to[i] = planes[plane][i] > 0 ? std::min(planes[plane][i], 1.0f) : 0.0f;
            };
            if (!runGrid(compiled.program, maps, kFieldSize, kFieldSize, tile, sink, cancel)) return false;
            pictures.set(tile, kFieldSize, std::move(opacity));
        }
    }
    known = {compiled.program, std::move(ids), std::move(pictures)};
    return true;
}

const SeeThrough* OpacityFields::of(const PreviewSide& side, const std::set<std::string>& off,
                                    const Resources& resources, const Mesh& mesh, const CancelToken& cancel) {
    // A result that is looked at stands for itself.
    if (side.lookHere || off.contains(channel::kOpacity)) return nullptr;
    const std::vector<std::string> surfaces = surfaceIds(side.project);
    std::vector<const Line*> lines;
    for (const std::string& surface : surfaces) {
        const Line* line = side.project.lineOfChannel(channel::kOpacity, surface);
        lines.push_back(line != nullptr && !line->steps.empty() ? line : nullptr);
    }
    if (std::all_of(lines.begin(), lines.end(), [](const Line* line) { return line == nullptr; }))
        return nullptr;
    m_known.resize(lines.size());
    m_made.pictures.resize(lines.size());
    for (std::size_t s = 0; s < lines.size(); ++s) {
        if (!make(side, resources, lines[s], mesh, cancel, m_known[s])) return nullptr;
        if (m_made.pictures[s].id() != m_known[s].pictures.id()) m_made.pictures[s] = m_known[s].pictures;
    }
    m_made.ofPart = surfacesOfParts(side.project, mesh.parts);
    return m_made.isOpaque() ? nullptr : &m_made;
}

}  // namespace kettle
