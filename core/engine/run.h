// Runs a program over points, block by block, on all cores. A flat map, a thumbnail, a view of the model and
// an export differ only in the list of points.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <tuple>
#include <vector>

#include "core/base/plane.h"
#include "core/engine/kept_results.h"
#include "core/engine/resources.h"
#include "core/program/program.h"
#include "core/threads/parallel.h"

namespace kettle {

/// Points in texture space; all planes have the same size. `footprint` is how much of texture space a point
/// covers.
struct PointSet {
    Plane u, v, footprint;
    ModelPlaces places{};  ///< where they lie on the model; empty: found by u and v when it is asked for
    /// How many points; u, v and footprint have as many.
    std::size_t size() const { return u.size(); }
    /// A regular picture of tile `tile`: pixel centres, rows from the top. Errors: none; width and height at
    /// least 1.
    static PointSet grid(int width, int height, int tile = 1001);
};

/// What a set of points read from the maps, kept so that moving a slider samples nothing again, and the
/// results of long instructions that come again.
class SampleCache {
public:
    /// Samples what the program needs and is not there yet, and forgets what belonged to maps that are gone.
    /// `points` must be the same set in every call.
    void prepare(const Program& program, const ResolvedMaps& maps, const PointSet& points);
    /// The plane of a source register of a prepared program; null if it was not prepared.
    const float* plane(const Program& program, const ResolvedMaps& maps, const SourceReg& source) const;
    /// What of a prepared program must run, and what of it is there already from programs before.
    ProgramPlan plan(const Program& program, const ResolvedMaps& maps) const;
    std::size_t byteSize() const;
    void clear() { m_planes.clear(), m_results.clear(); }

private:
    struct Key {
        std::uint64_t map;  ///< its id, or that of the model's fact; 0: none
        std::array<float, 4> neutral;
        int component;
        int kind;
        int u, v;     ///< in half strides
        float texel;  ///< the least stride
        Placed placed;
        std::uint64_t
            model;  ///< that the map lies on, by its positions' id; 0: it lies by texture coordinates
        std::uint64_t where;  ///< what says which of its stamps lie, by its id; 0: all do
        auto order() const {
            return std::tie(map, component, kind, neutral, u, v, texel, placed, model, where);
        }
        bool operator<(const Key& o) const { return order() < o.order(); }
    };
    static Key keyOf(const Program& program, const ResolvedMaps& maps, const SourceReg& source);
    struct Kept {
        Plane plane;
        std::weak_ptr<const MapImage> of{};  ///< whose numbers they are, if a map's
        bool isOfMap = false;
        std::uint64_t id = 0;                        ///< of all planes that ever were
        std::shared_ptr<const StampsWhere> where{};  ///< held, so that it is the same in the next program
    };
    std::vector<std::uint64_t> identities(const Program& program, const ResolvedMaps& maps) const;
    void keepResults(const Program& program, const ResolvedMaps& maps, std::size_t count);
    std::map<Key, Kept> m_planes;
    KeptResults m_results;
};

/// Evaluates a prepared program: one plane for each of program.outputs. False if cancelled; the planes are
/// then unfinished. Bit for bit the same for any number of threads and any `block` (points at a time, a
/// multiple of kPad up to kBlock; only measuring and tests choose another).
bool run(const Program& program, const ResolvedMaps& maps, const SampleCache& samples, std::size_t count,
         std::vector<Plane>& outputs, const CancelToken& cancel = {}, std::size_t block = kBlock);

/// Evaluates over a whole picture without keeping samples: `sink` gets each finished piece of a row, on any
/// thread: sink(y, x, count, planes), planes in the order of program.outputs. False if cancelled.
using RowSink = std::function<void(int y, int x, std::size_t count, const float* const* planes)>;
bool runGrid(const Program& program, const ResolvedMaps& maps, int width, int height, int tile,
             const RowSink& sink, const CancelToken& cancel = {},
             const std::function<void(double)>& progress = {});

/// One point at a time, for the probe: the outputs' values at a place in texture space, read from the finest
/// level.
std::vector<float> runAt(const Program& program, const ResolvedMaps& maps, float u, float v);

}  // namespace kettle
