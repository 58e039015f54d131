#include "app/board/board_layout.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>
#include <utility>

#include "core/document/network.h"
#include "core/steps/step.h"

namespace kettle::board {
namespace {

QString feedName(const Catalogue& steps, const Step& step, const std::string& feed) {
    const StepSpec* spec = steps.find(step.type);
    if (spec != nullptr)
        for (const FeedSpec& f : spec->feeds)
            if (f.id == feed) return QString::fromStdString(f.name).toLower();
    return QString::fromStdString(feed);
}

QString flagText(const QString& name, const Line* line, const Feed& feed) {
    QString text = name + QStringLiteral(": ");
    if (feed.constant) {
        const double* number = std::get_if<double>(&*feed.constant);
        return text + (number != nullptr ? QString::number(*number, 'f', 2) : QObject::tr("colour"));
    }
    text += line != nullptr ? QString::fromStdString(line->name).toLower() : QObject::tr("missing");
    if (!feed.component.empty()) text += QStringLiteral(" ") + QString::fromStdString(feed.component);
    return text;
}

class Planner {
public:
    Planner(const Project& project, int width, const LayoutOptions& options)
        : m_project(project),
          m_network(project),
          m_side(sideLines(project)),
          m_width(width),
          m_options(options) {}

    Layout plan() {
        const bool hasHeadings = m_project.surfaces.size() > 1;
        if (hasHeadings)
            for (const auto& surface : m_project.surfaces) placeGroup(surface->id, true);
        placeGroup({}, hasHeadings);
        const int y = m_y + (m_wasSlim ? kRowGap - kSlimGap : 0), right = m_right;
        const int capX = std::max(m_width - kCapWidth - 2 * 8, right + kGap);
        for (std::size_t i = 0; i < m_open.size(); ++i) {
            RibbonPlace& ribbon = m_layout.ribbons[m_open[i].ribbon];
            ribbon.rect.setRight(capX - 1);
            m_layout.caps.push_back({ribbon.line, ribbon.step,
                                     QRect(capX, ribbon.rect.center().y() - m_open[i].capHeight / 2,
                                           kCapWidth, m_open[i].capHeight)});
        }
        for (HeadingPlace& heading : m_layout.headings) heading.rect.setRight(capX + kCapWidth);
        m_layout.size = QSize(capX + kCapWidth + 2 * 8, y);
        return std::move(m_layout);
    }

private:
    struct OpenEnd {
        std::size_t ribbon;
        int capHeight = 30;
    };

    /// True for a line that stands under this heading: a surface's own, or with "" all that are no surface's.
    bool isUnder(const Line& line, const std::string& surface) const {
        if (surface.empty()) return line.surface.empty() || m_project.findSurface(line.surface) == nullptr;
        return line.surface == surface;
    }
    void placeGroup(const std::string& surface, bool hasHeading) {
        bool isFolded = false, isFirst = true;
        const auto placeHeading = [&] {
            if (!std::exchange(isFirst, false) || !hasHeading) return;
            if (!m_layout.headings.empty()) m_y += m_wasSlim ? kRowGap - kSlimGap : 0;
            isFolded = m_options.foldedSurfaces.contains(surface);
            m_layout.headings.push_back({surface, QRect(8, m_y, m_width - 16, kHeadingHeight - 4), isFolded});
            m_y += kHeadingHeight;
            m_wasSlim = false;
        };
        if (!surface.empty()) placeHeading();
        for (const auto& line : m_project.lines) {
            if (!isUnder(*line, surface) || m_side.contains(line->id)) continue;
            if (m_options.onlyWorked && line->steps.size() < 2 && !line->channel.empty()) continue;
            placeHeading();
            if (!isFolded) placeLine(*line);
        }
    }
    void placeLine(const Line& line) {
        const bool folded = m_options.folded.contains(line.id) && !line.steps.empty();
        const bool slim = !folded && isSlim(line);
        // Rows with cards keep their distance from slim ones too.
        if (m_wasSlim && !slim) m_y += kRowGap - kSlimGap;
        m_y += folded ? placeFolded(line, m_y, m_right)
               : slim ? placeSlim(line, m_y, m_right)
                      : placeRow(line, m_y, m_right);
        m_y += slim ? kSlimGap : kRowGap;
        m_wasSlim = slim;
    }
    /// Picture, ribbon and cap in one low row.
    int placeSlim(const Line& line, int y, int& right) {
        const Step& source = *line.steps.front();
        m_layout.heads.push_back({line.id, QRect(8, y, kHeadWidth - 8, kSlimHeight), false, true});
        const QRect rect(kLeft, y + (kSlimHeight - kSlimThumbHeight) / 2, kSlimWidth, kSlimThumbHeight);
        m_layout.cards.push_back({line.id, source.id, 0, rect, false, true});
        m_open.push_back({m_layout.ribbons.size(), 26});
        addRibbon(line, source, rect.right() + 1, rect.right() + 1 + kGap,
                  y + (kSlimHeight - kRibbonHeight) / 2, 1);
        right = std::max(right, rect.right() + kGap);
        return kSlimHeight;
    }

    /// The line that a feed reads if it hangs below the reader; else null.
    const Line* sideLineOf(const Feed& feed) const {
        const Line* line = feed.constant ? nullptr : m_network.findLine(feed.line);
        return line != nullptr && !line->steps.empty() && m_side.contains(line->id) ? line : nullptr;
    }
    std::vector<std::pair<std::string, const Line*>> sidesOf(const Step& step) const {
        std::vector<std::pair<std::string, const Line*>> sides;
        for (const auto& [name, feed] : step.feeds)
            if (const Line* line = sideLineOf(feed)) sides.emplace_back(name, line);
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
            const auto sides = sidesOf(step);
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
            if (sideLineOf(feed) != nullptr) continue;
            const QString words =
                flagText(feedName(m_options.steps, step, name), m_network.findLine(feed.line), feed);
            m_layout.flags.push_back({step.id, name, feed.line, words, QRect(card.left(), y, width, 18)});
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
        m_layout.elbows.push_back({line.steps.back()->id, owner.id, feedName(m_options.steps, owner, feed),
                                   QPoint(x - 14, top + 10 + kRibbonHeight / 2), QPoint(x, cardBottom)});
    }

    const Project& m_project;
    Network m_network;
    std::set<std::string> m_side;
    int m_width;
    const LayoutOptions& m_options;
    Layout m_layout;
    std::vector<OpenEnd> m_open;
    int m_y = kTop, m_right = 0;
    bool m_wasSlim = false;  ///< the row above
};

}  // namespace

bool isSlim(const Line& line) {
    return line.steps.size() == 1 && line.steps.front()->feeds.empty();
}

std::set<std::string> sideLines(const Project& project) {
    std::map<std::string, int> readers;
    std::set<std::string> alone;  // lines that need a row of their own
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            for (const auto& [name, feed] : step->feeds) {
                if (feed.constant) continue;
                ++readers[feed.line];
                // A tap, or a reader that itself hangs or stands on this line.
                if (!feed.after.empty() || line->channel.empty()) alone.insert(feed.line);
            }
    std::set<std::string> side;
    for (const auto& line : project.lines)
        if (line->channel.empty() && !alone.contains(line->id))
            if (const auto at = readers.find(line->id); at != readers.end() && at->second == 1)
                side.insert(line->id);
    return side;
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
    // Whatever stands for the same thing in both, by a key of its own.
    const auto match = [&](auto& list, const auto& old, auto keyOf) {
        std::unordered_map<std::string, QRect> places;
        for (const auto& before : old) places.try_emplace(keyOf(before), before.rect);
        for (auto& item : list)
            if (const auto at = places.find(keyOf(item)); at != places.end())
                item.rect = slide(at->second, item.rect);
    };
    match(now.cards, from.cards, [](const CardPlace& c) { return c.step; });
    match(now.ribbons, from.ribbons, [](const RibbonPlace& r) { return r.step; });
    match(now.heads, from.heads, [](const HeadPlace& h) { return h.line; });
    match(now.headings, from.headings, [](const HeadingPlace& h) { return h.surface; });
    match(now.caps, from.caps, [](const CapPlace& c) { return c.line; });
    match(now.flags, from.flags, [](const FlagPlace& f) { return f.owner + '\n' + f.feed; });
    std::unordered_map<std::string, const ElbowPlace*> elbows;
    const auto keyOf = [](const ElbowPlace& e) { return e.step + '\n' + e.owner; };
    for (const ElbowPlace& before : from.elbows) elbows.try_emplace(keyOf(before), &before);
    for (ElbowPlace& e : now.elbows)
        if (const auto at = elbows.find(keyOf(e)); at != elbows.end()) {
            e.from = slide({at->second->from, QSize(1, 1)}, {e.from, QSize(1, 1)}).topLeft();
            e.to = slide({at->second->to, QSize(1, 1)}, {e.to, QSize(1, 1)}).topLeft();
        }
    return now;
}

Layout layOut(const Project& project, int width, const LayoutOptions& options) {
    return Planner(project, width, options).plan();
}

}  // namespace kettle::board
