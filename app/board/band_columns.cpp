#include "app/board/band_columns.h"

#include <algorithm>

#include "core/document/layers.h"
#include "core/document/sources.h"

namespace kettle::board {

BandColumns::BandColumns(const std::vector<const Line*>& layers, const std::vector<const Line*>& lines,
                         const Sides& sides, const LayoutOptions& options)
    : m_layers(layers) {
    for (std::size_t i = 0; i < layers.size(); ++i) {
        m_rank[layers[i]->id] = static_cast<int>(i);
        m_folded.push_back(options.foldedBands.contains(layers[i]->id));
    }
    // How many columns each stretch needs, over all lines. The places are not known yet, and do not matter.
    std::vector<int> columns(layers.size() + 1, 0);
    m_bandLeft.assign(layers.size(), kLeft);
    m_segmentLeft.assign(layers.size() + 1, kLeft);
    for (const Line* line : lines) {
        const bool slim = isSlim(*line);
        Walk walk(*this);
        for (const auto& step : line->steps) {
            const Walk::Place place = walk.next(*step, sides(*step));
            if (place.band >= 0) continue;
            int& most = columns[walk.segment()];
            most = std::max(most, slim ? 0 : place.column + 1);
        }
    }
    int x = kLeft;
    for (std::size_t i = 0; i <= layers.size(); ++i) {
        m_segmentLeft[i] = x;
        if (i == layers.size()) break;
        // The first stretch has at least the slim sources, which stand in every surface.
        const int cards = std::max(columns[i] * (kCardWidth + kGap), i == 0 ? kSlimWidth + kGap : kMaskGap);
        const int cardsOfMask = static_cast<int>(maskCards(*layers[i])) * (kSlimWidth + kMaskGap) + kMaskGap;
        // The flag of a line that it lies within stands above its mask's cards.
        const bool hasFlag = headOf(*layers[i]).feeds.contains("mask");
        const int masks = hasFlag ? std::max(cardsOfMask, kCardWidth + kMaskGap) : cardsOfMask;
        m_bandLeft[i] = x + std::max(cards, masks) + kBandPad;
        x = m_bandLeft[i] + bandWidth(i) - kBandPad + kGap / 2;
    }
}

std::size_t BandColumns::maskCards(const Line& layer) {
    const std::size_t steps = layer.steps.size() - 1;
    if (steps > 1) return steps;
    const Step& source = *layer.steps.front();
    const auto value = source.controls.find(kValue.id);
    const bool isWhite = source.type == kValueSource && value != source.controls.end() && *value == kValue(1);
    return isWhite ? 0 : 1;
}

int BandColumns::rankOf(const Step& step) const {
    const auto at = m_rank.find(layerOf(step));
    return at == m_rank.end() ? -1 : at->second;
}

BandColumns::Walk::Place BandColumns::Walk::next(const Step& step, int sides) {
    Place place;
    const int rank = m_columns.rankOf(step);
    if (rank >= static_cast<int>(m_segment)) {
        const auto at = static_cast<std::size_t>(rank);
        place = {m_columns.bandLeft(at), 0, rank, m_columns.isFolded(at)};
        m_segment = at + 1;
        m_base = m_columns.segmentLeft(m_segment);
        m_column = 0;
        return place;
    }
    m_column = std::max(m_column, sides);
    place.column = m_column;
    place.x = m_base + m_column * (kCardWidth + kGap);
    ++m_column;
    return place;
}

}  // namespace kettle::board
