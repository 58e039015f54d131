#include "app/board/board_layout.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/steps/step.h"

namespace kettle::board {
namespace {

QString feedName(const Step& step, const std::string& feed) {
    const StepSpec* spec = findStepSpec(step.type);
    if (spec != nullptr)
        for (const FeedSpec& f : spec->feeds)
            if (f.id == feed) return QString::fromStdString(f.name).toLower();
    return QString::fromStdString(feed);
}

QString flagText(const Project& project, const Step& step, const std::string& name, const Feed& feed) {
    QString text = feedName(step, name) + QStringLiteral(": ");
    if (feed.constant) {
        const double* number = std::get_if<double>(&*feed.constant);
        return text + (number != nullptr ? QString::number(*number, 'f', 2) : QObject::tr("colour"));
    }
    const Line* line = project.findLine(feed.line);
    text += line != nullptr ? QString::fromStdString(line->name).toLower() : QObject::tr("missing");
    if (!feed.component.empty()) text += QStringLiteral(" ") + QString::fromStdString(feed.component);
    return text;
}

class Planner {
public:
    Planner(const Project& project, int width, const LayoutOptions& options)
        : m_project(project), m_width(width), m_options(options) {}

    Layout plan() {
        int y = kTop, right = 0;
        for (const auto& line : m_project.lines) {
            if (isSideLine(m_project, *line)) continue;
            if (m_options.onlyWorked && line->steps.size() < 2 && !line->channel.empty()) continue;
            const bool folded = m_options.folded.contains(line->id) && !line->steps.empty();
            y += (folded ? placeFolded(*line, y, right) : placeRow(*line, y, right)) + kRowGap;
        }
        const int capX = std::max(m_width - kCapWidth - 2 * 8, right + kGap);
        for (std::size_t i = 0; i < m_open.size(); ++i) {
            RibbonPlace& ribbon = m_layout.ribbons[m_open[i].ribbon];
            ribbon.rect.setRight(capX - 1);
            m_layout.caps.push_back(
                {ribbon.line, ribbon.step, QRect(capX, ribbon.rect.center().y() - 15, kCapWidth, 30)});
        }
        m_layout.size = QSize(capX + kCapWidth + 2 * 8, y);
        return std::move(m_layout);
    }

private:
    struct OpenEnd {
        std::size_t ribbon;
    };

    std::vector<std::pair<std::string, const Line*>> sideLines(const Step& step) const {
        std::vector<std::pair<std::string, const Line*>> sides;
        for (const auto& [name, feed] : step.feeds) {
            const Line* line = feed.constant ? nullptr : m_project.findLine(feed.line);
            if (line != nullptr && !line->steps.empty() && isSideLine(m_project, *line))
                sides.emplace_back(name, line);
        }
        return sides;
    }

    /// Places a line and what hangs below it; returns the row's height. `right` grows to the last card's
    /// right edge.
    int placeRow(const Line& line, int y, int& right) {
        m_layout.heads.push_back({line.id, QRect(8, y, kHeadWidth - 8, kCardHeight)});
        int column = 0, height = kCardHeight, flagsBelow = 0;
        std::vector<std::pair<int, std::pair<const Step*, std::pair<std::string, const Line*>>>> hanging;
        for (std::size_t i = 0; i < line.steps.size(); ++i) {
            const Step& step = *line.steps[i];
            const auto sides = sideLines(step);
            // A side line needs as many columns on the left as it has steps.
            for (const auto& side : sides)
                column = std::max(column, static_cast<int>(side.second->steps.size()));
            const QRect rect(kLeft + column * (kCardWidth + kGap), y, kCardWidth, kCardHeight);
            if (i > 0)
                addRibbon(line, *line.steps[i - 1], rightOfLast(), rect.left(),
                          y + kThumbHeight / 2 - kRibbonHeight / 2 + 12, i);
            m_layout.cards.push_back({line.id, step.id, i, rect, false});
            right = std::max(right, rect.right());
            for (const auto& side : sides) hanging.push_back({column, {&step, side}});
            flagsBelow = std::max(flagsBelow, placeFlags(step, rect, static_cast<int>(sides.size())));
            ++column;
        }
        if (!line.steps.empty()) {
            m_open.push_back({m_layout.ribbons.size()});
            const int from = rightOfLast();
            addRibbon(line, *line.steps.back(), from, from + kGap,
                      y + kThumbHeight / 2 - kRibbonHeight / 2 + 12, line.steps.size());
        }
        height += flagsBelow;
        if (!hanging.empty()) height = std::max(height, kCardHeight + kSideGap);
        int row = 0;
        for (const auto& [readerColumn, what] : hanging) {
            const int top =
                y + kCardHeight + std::max(kSideGap, flagsBelow + 4) + row * (kSmallCardHeight + 12);
            placeSide(*what.first, what.second.first, *what.second.second, readerColumn, top, y + kCardHeight,
                      row);
            height = top + kSmallCardHeight - y;
            ++row;
        }
        return height;
    }

    /// Head, ribbon and cap: the line's result without the way to it.
    int placeFolded(const Line& line, int y, int& right) {
        m_layout.heads.push_back({line.id, QRect(8, y - 10, kHeadWidth - 8, kFoldedHeight + 10), true});
        m_open.push_back({m_layout.ribbons.size()});
        addRibbon(line, *line.steps.back(), kLeft, kLeft + kGap, y + kFoldedHeight / 2 - kRibbonHeight / 2,
                  line.steps.size());
        right = std::max(right, kLeft + kGap);
        return kFoldedHeight;
    }

    int rightOfLast() const { return m_layout.cards.back().rect.right() + 1; }

    void addRibbon(const Line& line, const Step& step, int from, int to, int y, std::size_t gapIndex) {
        m_layout.ribbons.push_back({line.id, step.id, QRect(from, y, to - from, kRibbonHeight), gapIndex});
    }

    /// Flags hang under the card's lower edge, one below the other; returns the room they take below it.
    int placeFlags(const Step& step, const QRect& card, int elbows) {
        // Elbows come up into the card's right part; the flags leave them that room.
        const int width = kCardWidth - (elbows > 0 ? elbows * 20 - 2 : 0);
        int y = card.bottom() + 5;
        for (const auto& [name, feed] : step.feeds) {
            const Line* line = feed.constant ? nullptr : m_project.findLine(feed.line);
            if (line != nullptr && !line->steps.empty() && isSideLine(m_project, *line)) continue;
            m_layout.flags.push_back({step.id, name, feed.line, flagText(m_project, step, name, feed),
                                      QRect(card.left(), y, width, 18)});
            y += 21;
        }
        return y - card.bottom() - 5;
    }

    void placeSide(const Step& owner, const std::string& feed, const Line& line, int readerColumn, int top,
                   int cardBottom, int row) {
        const int count = static_cast<int>(line.steps.size());
        for (int i = 0; i < count; ++i) {
            const int column = readerColumn - count + i;
            const QRect rect(kLeft + column * (kCardWidth + kGap), top, kCardWidth, kSmallCardHeight);
            if (i > 0)
                addRibbon(line, *line.steps[static_cast<std::size_t>(i - 1)], rightOfLast(), rect.left(),
                          top + 10, static_cast<std::size_t>(i));
            m_layout.cards.push_back({line.id, line.steps[static_cast<std::size_t>(i)]->id,
                                      static_cast<std::size_t>(i), rect, true});
        }
        // Each further elbow turns up a little more to the right, so that they stay apart.
        const int x = kLeft + readerColumn * (kCardWidth + kGap) + kCardWidth - 9 - row * 20;
        const int from = rightOfLast();
        addRibbon(line, *line.steps.back(), from, x - 14, top + 10, line.steps.size());
        m_layout.elbows.push_back({line.steps.back()->id, owner.id, feedName(owner, feed),
                                   QPoint(x - 14, top + 10 + kRibbonHeight / 2), QPoint(x, cardBottom)});
    }

    const Project& m_project;
    int m_width;
    const LayoutOptions& m_options;
    Layout m_layout;
    std::vector<OpenEnd> m_open;
};

}  // namespace

bool isSideLine(const Project& project, const Line& line) {
    if (!line.channel.empty()) return false;
    int readers = 0;
    for (const auto& other : project.lines)
        for (const auto& step : other->steps)
            for (const auto& [name, feed] : step->feeds) {
                if (feed.constant || feed.line != line.id) continue;
                // A tap, or a reader that itself hangs or stands on this line, needs the line in a row of its
                // own.
                if (!feed.after.empty() || other->channel.empty()) return false;
                ++readers;
            }
    return readers == 1;
}

const CardPlace* Layout::cardOf(const std::string& step) const {
    const auto at =
        std::find_if(cards.begin(), cards.end(), [&](const CardPlace& c) { return c.step == step; });
    return at == cards.end() ? nullptr : &*at;
}

Layout between(const Layout& from, const Layout& to, double t) {
    if (t >= 1) return to;
    Layout now = to;
    const auto slide = [t](const QRect& a, const QRect& b) {
        const auto mix = [t](int x, int y) { return static_cast<int>(std::lround(x + (y - x) * t)); };
        return QRect(mix(a.x(), b.x()), mix(a.y(), b.y()), mix(a.width(), b.width()),
                     mix(a.height(), b.height()));
    };
    // Whatever stands for the same thing in both: lists are short enough to be searched.
    const auto match = [&](auto& list, const auto& old, auto same) {
        for (auto& item : list)
            for (const auto& before : old)
                if (same(item, before)) {
                    item.rect = slide(before.rect, item.rect);
                    break;
                }
    };
    match(now.cards, from.cards, [](const CardPlace& a, const CardPlace& b) { return a.step == b.step; });
    match(now.ribbons, from.ribbons,
          [](const RibbonPlace& a, const RibbonPlace& b) { return a.step == b.step; });
    match(now.heads, from.heads, [](const HeadPlace& a, const HeadPlace& b) { return a.line == b.line; });
    match(now.caps, from.caps, [](const CapPlace& a, const CapPlace& b) { return a.line == b.line; });
    match(now.flags, from.flags,
          [](const FlagPlace& a, const FlagPlace& b) { return a.owner == b.owner && a.feed == b.feed; });
    for (ElbowPlace& e : now.elbows)
        for (const ElbowPlace& before : from.elbows)
            if (e.step == before.step && e.owner == before.owner) {
                e.from = slide({before.from, QSize(1, 1)}, {e.from, QSize(1, 1)}).topLeft();
                e.to = slide({before.to, QSize(1, 1)}, {e.to, QSize(1, 1)}).topLeft();
            }
    return now;
}

Layout layOut(const Project& project, int width, const LayoutOptions& options) {
    return Planner(project, width, options).plan();
}

}  // namespace kettle::board
