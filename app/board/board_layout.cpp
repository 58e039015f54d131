#include "app/board/board_layout.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>
#include <utility>

#include "app/board/band_columns.h"
#include "app/board/board_brackets.h"
#include "core/base/name_index.h"
#include "core/document/handles.h"
#include "core/document/layers.h"
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
          m_byLine(project.lines.size()),
          m_side(sideLines(project)),
          m_fills(fillLines(project)),
          m_width(width),
          m_options(options),
          m_columns(
              {}, {}, [](const Step&) { return 0; }, options) {
        std::size_t steps = 0;
        for (std::size_t i = 0; i < project.lines.size(); ++i) {
            m_byLine.add(project.lines[i]->id, i);
            steps += project.lines[i]->steps.size();
        }
        m_layout.cards.reserve(steps);
        m_layout.ribbons.reserve(steps);
        m_layout.heads.reserve(project.lines.size());
    }

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
        m_layout.narrowest = right + kGap + kCapWidth + 2 * 8;
        return std::move(m_layout);
    }

private:
    struct OpenEnd {
        std::size_t ribbon;
        int capHeight = 30;
    };

    const Line* findLine(const std::string& id) const {
        const std::size_t at = m_byLine.find(id);
        return at == NameIndex::kNone ? nullptr : &*m_project.lines[at];
    }
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
        std::vector<const Line*> rows;
        for (const auto& line : m_project.lines) {
            if (!isUnder(*line, surface) || m_side.contains(line->id) || isLayer(*line)) continue;
            if (m_fills.contains(line->id) && !m_options.openFills.contains(line->id)) continue;
            if (m_options.onlyWorked && line->steps.size() < 2 && !line->channel.empty()) continue;
            rows.push_back(&*line);
        }
        if (!rows.empty()) placeHeading();
        if (isFolded) return;
        placeBands(surface, rows);
        for (const Line* line : rows) placeLine(*line);
        closeBands();
    }
    /// The columns of a surface's layers, their heads and masks in a row above its lines.
    void placeBands(const std::string& surface, const std::vector<const Line*>& rows) {
        std::vector<const Line*> crossed;
        for (const Line* line : rows)
            if (!line->channel.empty() && !m_options.folded.contains(line->id)) crossed.push_back(line);
        m_columns = BandColumns(
            layersOf(m_project, surface), crossed, [this](const Step& step) { return sidesBefore(step); },
            m_options);
        m_firstBand = m_layout.bands.size();
        if (m_columns.isEmpty()) return;
        if (m_layout.headings.empty()) m_y -= 8;
        m_layout.maskRows.emplace_back(8, m_y, kHeadWidth - 8, kHeadHeight);
        for (std::size_t i = 0; i < m_columns.layers().size(); ++i) {
            const Line& layer = *m_columns.layers()[i];
            const QRect head(m_columns.bandLeft(i) - kBandPad, m_y, m_columns.bandWidth(i), kHeadHeight);
            m_layout.bands.push_back({layer.id, headOf(layer).id, head, m_columns.isFolded(i)});
            placeMask(layer, head);
            m_right = std::max(m_right, head.right());
        }
        m_y += kHeadHeight + 8;
        m_wasSlim = false;
    }
    /// The steps of a mask, one beside the other, ending in the head.
    void placeMask(const Line& layer, const QRect& head) {
        const std::size_t count = BandColumns::maskCards(layer);
        const int y = m_y + kHeadHeight - kSlimThumbHeight - 6;
        int x = head.left() - static_cast<int>(count) * (kSlimWidth + kMaskGap);
        for (std::size_t i = 0; i < count; ++i) {
            CardPlace card{layer.id, layer.steps[i]->id, i, QRect(x, y, kSlimWidth, kSlimThumbHeight)};
            card.isSlim = true;
            m_layout.cards.push_back(card);
            addRibbon(layer, *layer.steps[i], x + kSlimWidth, x + kSlimWidth + kMaskGap,
                      y + (kSlimThumbHeight - kRibbonHeight) / 2, i + 1);
            x += kSlimWidth + kMaskGap;
        }
        CardPlace card{layer.id, headOf(layer).id, layer.steps.size() - 1, head};
        card.isHead = true;
        m_layout.cards.push_back(card);
        const auto within = headOf(layer).feeds.find(kMask.id);
        if (within == headOf(layer).feeds.end()) return;
        const Feed& feed = within->second;
        const QString words = flagText(QObject::tr("in"), findLine(feed.line), feed);
        m_layout.flags.push_back({headOf(layer).id, within->first, feed.line, words,
                                  QRect(head.left() - 4 - kCardWidth, head.top() - 2, kCardWidth, 18)});
    }
    /// Bands end below the last line that they cover.
    void closeBands() {
        for (std::size_t i = m_firstBand; i < m_layout.bands.size(); ++i)
            m_layout.bands[i].rect.setBottom(std::max(m_layout.bands[i].rect.bottom(), m_bandBottom[i] + 6));
        m_columns = BandColumns(
            {}, {}, [](const Step&) { return 0; }, m_options);
        m_bandBottom.clear();
        m_firstBand = m_layout.bands.size();
    }
    /// A fill's card stands in its band, which reaches so far down.
    void addFill(const BandColumns::Walk::Place& place, CardPlace card) {
        card.isFill = true;
        m_bandBottom[m_firstBand + static_cast<std::size_t>(place.band)] = card.rect.bottom();
        m_layout.cards.push_back(std::move(card));
    }
    int sidesBefore(const Step& step) const {
        int columns = 0;
        for (const auto& side : sidesOf(step))
            columns = std::max(columns, static_cast<int>(side.second->steps.size()));
        return columns;
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
    /// Picture, fills, ribbon and cap in one low row.
    int placeSlim(const Line& line, int y, int& right) {
        const Step& source = *line.steps.front();
        m_layout.heads.push_back({line.id, QRect(8, y, kHeadWidth - 8, kSlimHeight), false, true});
        const QRect rect(kLeft, y + (kSlimHeight - kSlimThumbHeight) / 2, kSlimWidth, kSlimThumbHeight);
        m_layout.cards.push_back({line.id, source.id, 0, rect, false, true});
        const int ribbonY = y + (kSlimHeight - kRibbonHeight) / 2;
        int from = rect.right() + 1;
        std::size_t gap = 1;
        const Step* tones = &source;
        BandColumns::Walk walk(m_columns);
        walk.next(source, 0);
        for (std::size_t i = 1; i < line.steps.size(); ++i) {
            const auto place = walk.next(*line.steps[i], 0);
            if (!place.isHidden) {
                const QRect card(place.x, y + 1, kCardWidth, kSlimHeight - 2);
                addRibbon(line, *tones, from, card.left(), ribbonY, gap);
                addFill(place, {line.id, line.steps[i]->id, i, card, false, true});
                from = card.right() + 1;
            }
            tones = &*line.steps[i];
            gap = i + 1;
        }
        m_open.push_back({m_layout.ribbons.size(), 26});
        addRibbon(line, *tones, from, from + kGap, ribbonY, gap);
        right = std::max(right, from + kGap - 1);
        return kSlimHeight;
    }

    /// The line that a feed reads if it hangs below the reader; else null.
    const Line* sideLineOf(const Feed& feed) const {
        const Line* line = feed.constant ? nullptr : findLine(feed.line);
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
        int height = kCardHeight, flagsBelow = 0;
        struct Hanging {
            int readerX;
            const Step* reader;
            std::pair<std::string, const Line*> side;
        };
        std::vector<Hanging> hanging;
        const int ribbonY = y + kThumbHeight / 2 - kRibbonHeight / 2 + 12;
        BandColumns::Walk walk(m_columns);
        int from = 0;
        for (std::size_t i = 0; i < line.steps.size(); ++i) {
            const Step& step = *line.steps[i];
            const auto sides = sidesOf(step);
            // A side line needs as many columns on the left as it has steps.
            const auto place = walk.next(step, sidesBefore(step));
            if (place.isHidden) continue;
            const QRect rect(place.x, y, kCardWidth, kCardHeight);
            if (i > 0) addRibbon(line, *line.steps[i - 1], from, rect.left(), ribbonY, i);
            from = rect.right() + 1;
            right = std::max(right, rect.right());
            if (place.band >= 0) {
                addFill(place, {line.id, step.id, i, rect});
                continue;
            }
            m_layout.cards.push_back({line.id, step.id, i, rect});
            for (const auto& side : sides) hanging.push_back({place.x, &step, side});
            flagsBelow = std::max(flagsBelow, placeFlags(step, rect, static_cast<int>(sides.size())));
        }
        if (!line.steps.empty()) {
            m_open.push_back({m_layout.ribbons.size()});
            addRibbon(line, *line.steps.back(), from, from + kGap, ribbonY, line.steps.size());
        }
        height += flagsBelow;
        if (!hanging.empty()) height = std::max(height, kCardHeight + kSideGap);
        int row = 0;
        for (const Hanging& what : hanging) {
            const int top =
                y + kCardHeight + std::max(kSideGap, flagsBelow + 4) + row * (kSmallCardHeight + 12);
            placeSide(*what.reader, what.side.first, *what.side.second, what.readerX, top, y + kCardHeight,
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
            const QString words = flagText(feedName(m_options.steps, step, name), findLine(feed.line), feed);
            m_layout.flags.push_back({step.id, name, feed.line, words, QRect(card.left(), y, width, 18)});
            y += 21;
        }
        return y - card.bottom() - 5;
    }

    void placeSide(const Step& owner, const std::string& feed, const Line& line, int readerX, int top,
                   int cardBottom, int row) {
        const int count = static_cast<int>(line.steps.size());
        for (int i = 0; i < count; ++i) {
            const QRect rect(readerX - (count - i) * (kCardWidth + kGap), top, kCardWidth, kSmallCardHeight);
            if (i > 0)
                addRibbon(line, *line.steps[static_cast<std::size_t>(i - 1)], rightOfLast(), rect.left(),
                          top + 10, static_cast<std::size_t>(i));
            m_layout.cards.push_back({line.id, line.steps[static_cast<std::size_t>(i)]->id,
                                      static_cast<std::size_t>(i), rect, true});
        }
        // Each further elbow turns up a little more to the right, so that they stay apart.
        const int x = readerX + kCardWidth - 9 - row * 20;
        const int from = rightOfLast();
        addRibbon(line, *line.steps.back(), from, x - 14, top + 10, line.steps.size());
        m_layout.elbows.push_back({line.steps.back()->id, owner.id, feedName(m_options.steps, owner, feed),
                                   QPoint(x - 14, top + 10 + kRibbonHeight / 2), QPoint(x, cardBottom)});
    }

    const Project& m_project;
    NameIndex m_byLine;
    std::set<std::string> m_side, m_fills;
    int m_width;
    const LayoutOptions& m_options;
    Layout m_layout;
    std::vector<OpenEnd> m_open;
    int m_y = kTop, m_right = 0;
    bool m_wasSlim = false;  ///< the row above
    BandColumns m_columns;   ///< of the group that is placed
    std::size_t m_firstBand = 0;
    std::map<std::size_t, int> m_bandBottom;  ///< by the band's place in the layout
};

}  // namespace

bool isSlim(const Line& line) {
    return !line.steps.empty() && line.steps.front()->feeds.empty() &&
           std::all_of(line.steps.begin() + 1, line.steps.end(),
                       [](const auto& step) { return !layerOf(*step).empty(); });
}

std::set<std::string> fillLines(const Project& project) {
    std::map<std::string, int> readers;
    std::set<std::string> laid;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps)
            for (const auto& [name, feed] : step->feeds) {
                if (feed.constant) continue;
                ++readers[feed.line];
                if (name == kOver.id && feed.after.empty() && !layerOf(*step).empty()) laid.insert(feed.line);
            }
    std::set<std::string> inside;
    for (const auto& line : project.lines)
        if (line->channel.empty() && !isLayer(*line) && laid.contains(line->id) && readers[line->id] == 1)
            inside.insert(line->id);
    return inside;
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
                if (!feed.after.empty() || line->channel.empty() || !layerOf(*step).empty())
                    alone.insert(feed.line);
            }
    std::set<std::string> side;
    for (const auto& line : project.lines)
        if (line->channel.empty() && !isLayer(*line) && !alone.contains(line->id))
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
    match(now.bands, from.bands, [](const BandPlace& b) { return b.layer; });
    match(now.brackets, from.brackets, [](const BracketPlace& b) { return b.step; });
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
    Layout layout = Planner(project, width, options).plan();
    placeBrackets(layout, project, options.openRecipes);
    return layout;
}

}  // namespace kettle::board
