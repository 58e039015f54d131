// Rows of a picture that covers a whole tile, as one thread computes them. Within the folder.
#pragma once

#include <vector>

#include "core/base/plane.h"
#include "core/engine/block_runner.h"
#include "core/engine/fact_reader.h"
#include "core/engine/run.h"

namespace kettle {

/// Reads a program's sources block by block along a row, each as cheaply as it can be read there, and runs
/// the program over them. Not for several threads.
class GridRows {
public:
    /// Program and maps must outlive it. `tile`: a UDIM number.
    GridRows(const Program& program, const ResolvedMaps& maps, int width, int height, int tile);
    GridRows(const GridRows&) = delete;
    GridRows& operator=(const GridRows&) = delete;

    /// Row `y` from the top, 0 <= y < height; `sink` gets each block when it is done.
    void run(int y, const RowSink& sink);

private:
    /// A block's pixels: `count` of them from (x, y) on. Where they lie in the texture is worked out for
    /// those sources that ask for it.
    struct Block {
        int x, y;
        std::size_t count;
        bool isPlaced = false;
    };
    void place(Block& block);
    void read(std::size_t source, Block& block);
    void readMap(std::size_t source, Block& block, float* const out[4]);

    const Program& m_program;
    const ResolvedMaps& m_maps;
    int m_width, m_height, m_tile;
    BlockRunner m_runner;
    FactReader m_facts;
    Plane m_memory;  ///< a block each of outputs, sources' components, places, and places beside those
    float *m_in, *m_u, *m_v, *m_footprint, *m_besideU, *m_besideV;
    std::vector<unsigned> m_masks;        ///< of each source the components that are read, as bits
    std::vector<const float*> m_results;  ///< in the order of the program's outputs
};

}  // namespace kettle
