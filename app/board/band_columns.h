// Where the layers of a surface stand across the board: a column for each band, and between them room for the
// steps before, between and after. Columns line up over all lines. Pure numbers, without a window.
#pragma once

#include <functional>
#include <string>
#include <unordered_map>
#include <vector>

#include "app/board/board_layout.h"

namespace kettle::board {

class BandColumns {
public:
    /// How many columns a step needs before it for what hangs there.
    using Sides = std::function<int(const Step&)>;
    /// `lines`: those of the surface that drive a channel and are not folded away.
    BandColumns(const std::vector<const Line*>& layers, const std::vector<const Line*>& lines,
                const Sides& sides, const LayoutOptions& options);

    bool isEmpty() const { return m_layers.empty(); }
    const std::vector<const Line*>& layers() const { return m_layers; }
    /// Left edges of a band's cards, and of the steps behind band `i - 1`.
    int bandLeft(std::size_t i) const { return m_bandLeft[i]; }
    int segmentLeft(std::size_t i) const { return m_segmentLeft[i]; }
    /// How many steps of a layer's mask have a card: none of one that is plainly white.
    static std::size_t maskCards(const Line& layer);
    bool isFolded(std::size_t i) const { return m_folded[i]; }
    int bandWidth(std::size_t i) const { return m_folded[i] ? kFoldedBand : kBandWidth; }

    /// Walks along a line: where each step stands. Bands are passed in their order; a fill that lies below
    /// one that was passed stands among the steps.
    class Walk {
    public:
        explicit Walk(const BandColumns& columns) : m_columns(columns), m_base(columns.segmentLeft(0)) {}
        struct Place {
            int x = 0;
            int column = 0;         ///< within the stretch between two bands
            int band = -1;          ///< the band that it is a fill of
            bool isHidden = false;  ///< its band is folded
        };
        /// `sides`: columns that the step needs before it for what hangs there.
        Place next(const Step& step, int sides);
        std::size_t segment() const { return m_segment; }

    private:
        const BandColumns& m_columns;
        int m_base, m_column = 0;
        std::size_t m_segment = 0;
    };

private:
    int rankOf(const Step& step) const;
    std::vector<const Line*> m_layers;
    std::unordered_map<std::string, int> m_rank;
    std::vector<int> m_bandLeft, m_segmentLeft;
    std::vector<bool> m_folded;
};

}  // namespace kettle::board
