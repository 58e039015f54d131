// What sources hold that are no maps: facts of a point, of texture space and of the model.
#pragma once

#include <optional>
#include <vector>

#include "core/engine/resources.h"

namespace kettle {

class PlacedLookup;

/// `count` places beside those of u and v. `texel`: the least stride.
void shift(const Offset& offset, float texel, const float* u, const float* v, const float* footprint,
           std::size_t count, float* shiftedU, float* shiftedV);

/// Reads facts at some points after others; one a thread. Borrows everything.
class FactReader {
public:
    FactReader(const Program& program, const ResolvedMaps& maps) : m_program(program), m_maps(maps) {}
    /// From now on at these points. `places`: theirs on the model from number `first` on; null or empty:
    /// found by u and v when they are needed.
    void at(const float* u, const float* v, const float* footprint, std::size_t count,
            const ModelPlaces* places = nullptr, std::size_t first = 0);
    /// Component i of a source to out[i] where bit i of `mask` is set. The source must be no map.
    void read(std::size_t source, unsigned mask, float* const out[4]);
    /// The same of a map that is placed. The source must have one.
    void readPlaced(std::size_t source, unsigned mask, float* const out[4]);

private:
    void findPlaces();
    struct Beside {
        const float *b1, *b2;
    };
    Beside beside(const SourceKey& key, std::size_t source);
    void readModel(const SourceKey& key, std::size_t source, unsigned mask, float* const out[4]);
    void readPoint(PointAttribute fact, const SourceKey& key, std::size_t source, float* out);
    void readCovered(std::size_t source, float* out);

    const Program& m_program;
    const ResolvedMaps& m_maps;
    const float *m_u = nullptr, *m_v = nullptr, *m_footprint = nullptr;
    std::size_t m_count = 0;
    const std::uint32_t* m_triangles = nullptr;  ///< null: not found yet
    const float *m_b1 = nullptr, *m_b2 = nullptr, *m_covered = nullptr;
    std::vector<std::uint32_t> m_foundTriangles;
    std::vector<float> m_found1, m_found2, m_moved1, m_moved2, m_shiftedU, m_shiftedV;
    // For maps that lie on the model: position (3), normal (3) and what a point covers, beside the
    // points by m_planesOffset; then place (2) and what is covered of the plane that is looked at, of its
    // runs of points one behind the other.
    void findPlanes(const SourceKey& key, std::size_t source);
    std::size_t findRuns(const SourceKey& key, std::size_t side);
    void putRuns(std::size_t runs, unsigned mask, const float* const read[4],
                 const std::array<float, 4>& neutral, float* const out[4]) const;
    void readSide(PlacedLookup& lookup, std::size_t source, unsigned mask, float* const out[4]);
    std::vector<float> m_planes, m_read;
    std::vector<std::uint32_t> m_runs;
    std::optional<Offset> m_planesOffset;
};

}  // namespace kettle
