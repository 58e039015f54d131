// Recipes that are open on the board: where their brackets lie, and how they are painted.
#include <QPainter>
#include <algorithm>
#include <unordered_map>

#include "app/board/board_brackets.h"
#include "app/board/board_view.h"
#include "app/style/theme.h"

namespace kettle::board {
namespace {

constexpr int kPad = 7;

bool isWithin(const std::string& id, const std::string& step) {
    return id.size() > step.size() && id[step.size()] == '/' && id.starts_with(step);
}

/// Where a place of a line is without the steps of open recipes; kNoGap between these.
std::vector<std::size_t> closedPlaces(const Line& line, const std::set<std::string>& open) {
    std::vector<std::size_t> places{0};
    std::size_t closed = 0;
    for (const auto& step : line.steps) {
        const bool isInner = std::any_of(
            open.begin(), open.end(), [&](const std::string& recipe) { return isWithin(step->id, recipe); });
        // In front of the first of them is in front of the recipe.
        if (!isInner) ++closed;
        places.push_back(isInner ? kNoGap : closed);
    }
    return places;
}

}  // namespace

void placeBrackets(Layout& layout, const Project& shown, const std::set<std::string>& open) {
    if (open.empty()) return;
    std::unordered_map<std::string, std::vector<std::size_t>> placesOf;
    for (const auto& line : shown.lines) {
        const bool isOwn = std::any_of(open.begin(), open.end(),
                                       [&](const std::string& recipe) { return isWithin(line->id, recipe); });
        placesOf[line->id] =
            isOwn ? std::vector<std::size_t>(line->steps.size() + 1, kNoGap) : closedPlaces(*line, open);
    }
    const auto isInner = [&](const std::string& step) {
        return std::any_of(open.begin(), open.end(),
                           [&](const std::string& recipe) { return isWithin(step, recipe); });
    };
    for (CardPlace& card : layout.cards) {
        card.isInner = isInner(card.step);
        if (card.isInner) continue;
        // The place behind a step is told for it; its own is one before.
        const std::size_t behind = placesOf[card.line][card.index + 1];
        card.index = behind - 1;
    }
    for (RibbonPlace& ribbon : layout.ribbons) ribbon.gapIndex = placesOf[ribbon.line][ribbon.gapIndex];
    for (const std::string& step : open) {
        const CardPlace* own = layout.cardOf(step);
        if (own == nullptr) continue;
        QRect around = own->rect;
        for (const CardPlace& card : layout.cards)
            if (isWithin(card.step, step)) around |= card.rect;
        layout.brackets.push_back({step, around.adjusted(-kPad, -kPad, kPad, kPad)});
    }
}

}  // namespace kettle::board

namespace kettle {

void BoardView::paintBrackets(QPainter& p, const board::Layout& now, const QRegion& seen) const {
    p.save();
    for (const board::BracketPlace& bracket : now.brackets) {
        if (!seen.intersects(bracket.rect)) continue;
        const bool isChosen = m_session.isSelected(bracket.step);
        p.setPen(QPen(isChosen ? theme::kAccent : theme::kEdge, 1, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(bracket.rect).adjusted(0.5, 0.5, -0.5, -0.5), theme::kCorner + 2,
                          theme::kCorner + 2);
    }
    p.restore();
}

}  // namespace kettle
