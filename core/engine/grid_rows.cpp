#include "core/engine/grid_rows.h"

#include <algorithm>
#include <array>

namespace kettle {
namespace {

/// For each source the components that are read, as bits.
std::vector<unsigned> masksOf(const Program& program) {
    std::vector<unsigned> masks(program.sources.size(), 0);
    for (const SourceReg& s : program.sourceRegs)
        masks[static_cast<std::size_t>(s.source)] |= 1u << s.component;
    return masks;
}

}  // namespace

GridRows::GridRows(const Program& program, const ResolvedMaps& maps, int width, int height, int tile)
    : m_program(program),
      m_maps(maps),
      m_width(width),
      m_height(height),
      m_tile(tile),
      m_runner(program),
      m_facts(program, maps),
      m_memory((program.outputs.size() + program.sources.size() * 4 + 5) * kBlock),
      m_in(m_memory.data() + program.outputs.size() * kBlock),
      m_u(m_in + program.sources.size() * 4 * kBlock),
      m_v(m_u + kBlock),
      m_footprint(m_v + kBlock),
      m_besideU(m_footprint + kBlock),
      m_besideV(m_besideU + kBlock),
      m_masks(masksOf(program)) {
    std::fill_n(m_footprint, kBlock, 1.0f / static_cast<float>(std::max(width, height)));
    const std::vector<bool> computed = computedRegs(program);
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (computed[static_cast<std::size_t>(program.outputs[o])])
            m_runner.place(program.outputs[o], m_memory.data() + o * kBlock);
    for (const SourceReg& s : program.sourceRegs)
        m_runner.place(s.reg, m_in + static_cast<std::size_t>(s.source * 4 + s.component) * kBlock);
    for (const Reg r : program.outputs) m_results.push_back(m_runner.at(r));
}

void GridRows::run(int y, const RowSink& sink) {
    constexpr int kStep = kBlock;
    for (int x = 0; x < m_width; x += kStep) {
        Block block{x, y, static_cast<std::size_t>(std::min(kStep, m_width - x))};
        for (std::size_t s = 0; s < m_program.sources.size(); ++s) read(s, block);
        m_runner.run(block.count);
        sink(y, x, block.count, m_results.data());
    }
}

void GridRows::place(Block& block) {
    if (block.isPlaced) return;
    const float left = static_cast<float>((m_tile - 1001) % 10),
                bottom = static_cast<float>((m_tile - 1001) / 10);
    const float v = bottom + 1.0f - (static_cast<float>(block.y) + 0.5f) / static_cast<float>(m_height);
    for (std::size_t i = 0; i < block.count; ++i) {
        const auto x = static_cast<float>(static_cast<std::size_t>(block.x) + i);
        m_u[i] = left + (x + 0.5f) / static_cast<float>(m_width);
        m_v[i] = v;
    }
    m_facts.at(m_u, m_v, m_footprint, block.count);
    block.isPlaced = true;
}

void GridRows::read(std::size_t source, Block& block) {
    std::array<float*, 4> out{};
    for (std::size_t c = 0; c < 4; ++c) out[c] = m_in + (source * 4 + c) * kBlock;
    const SourceKey& key = m_program.sources[source];
    if (key.map() == nullptr) {
        place(block);
        m_facts.read(source, m_masks[source], out.data());
    } else if (m_maps.maps[source] == nullptr) {
        for (std::size_t c = 0; c < 4; ++c) std::fill_n(out[c], kBlock, m_maps.holes[source].neutral[c]);
    } else if (!key.map()->placed.isPlain()) {
        place(block);
        m_facts.readPlaced(source, m_masks[source], out.data());
    } else {
        readMap(source, block, out.data());
    }
}

void GridRows::readMap(std::size_t source, Block& block, float* const out[4]) {
    const MapImage& map = *m_maps.maps[source];
    const Offset& offset = m_program.sources[source].offset;
    const unsigned mask = m_masks[source];
    if (offset.isNone() && map.readRow(m_tile, m_width, m_height, block.x, block.y, block.count, mask, out))
        return;
    place(block);
    const float *u = m_u, *v = m_v;
    if (!offset.isNone()) {
        shift(offset, m_maps.texels[source], m_u, m_v, m_footprint, block.count, m_besideU, m_besideV);
        u = m_besideU, v = m_besideV;
    }
    map.sample({u, v, m_footprint, block.count}, mask, out);
}

}  // namespace kettle
