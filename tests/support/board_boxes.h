// What stands on the board as boxes, for tests that nothing lies over anything else.
#pragma once

#include "app/board/board_layout.h"

namespace kettle::test {

/// The first two things that meet, by name; empty if none do. Ribbons run from card to card and touch
/// neither.
inline QString overlapIn(const board::Layout& l) {
    std::vector<std::pair<QRect, std::string>> boxes;
    for (const board::CardPlace& c : l.cards) boxes.emplace_back(c.rect, c.step);
    for (const board::FlagPlace& f : l.flags) boxes.emplace_back(f.rect, f.owner + "." + f.feed);
    for (const board::CapPlace& c : l.caps) boxes.emplace_back(c.rect, "cap " + c.line);
    for (const board::HeadPlace& h : l.heads)
        boxes.emplace_back(h.rect.adjusted(0, 0, 0, h.isSlim ? 0 : -40), "head " + h.line);
    for (const board::RibbonPlace& r : l.ribbons) boxes.emplace_back(r.rect, "ribbon after " + r.step);
    for (std::size_t i = 0; i < boxes.size(); ++i)
        for (std::size_t j = i + 1; j < boxes.size(); ++j)
            if (boxes[i].first.intersects(boxes[j].first))
                return QString::fromStdString(boxes[i].second + " meets " + boxes[j].second);
    return {};
}

}  // namespace kettle::test
