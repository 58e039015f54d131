// How the board looks: ribbons, elbows, caps, heads, cards and flags. What the pointer and the keys do is in
// board_view.cpp.
#include <QPaintEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/board/board_view.h"
#include "app/pictures/step_words.h"
#include "app/style/labels.h"
#include "app/style/notes.h"
#include "app/style/strips.h"
#include "app/style/theme.h"

namespace kettle {

using namespace board;

void BoardView::paintEvent(QPaintEvent* event) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme::kPaper);
    p.scale(m_zoom, m_zoom);
    const bool slides = m_slide->state() == QAbstractAnimation::Running;
    const Layout sliding = slides ? shownLayout() : Layout();
    const Layout& now = slides ? sliding : m_layout;
    // Only what is seen: a long board is mostly outside of its window.
    QRegion seen;
    for (const QRect& part : event->region())
        seen += QRectF(part.x() / m_zoom, part.y() / m_zoom, part.width() / m_zoom, part.height() / m_zoom)
                    .toAlignedRect()
                    .adjusted(-8, -8, 8, 8);
    const QRect bounds = seen.boundingRect();
    paintBands(p, now, seen);
    paintBrackets(p, now, seen);
    for (const RibbonPlace& r : now.ribbons)
        if (seen.intersects(r.rect))
            paintRibbon(p, r.rect.intersected(bounds.adjusted(-40, 0, 40, 0)), r.step);
    for (const ElbowPlace& e : now.elbows)
        if (seen.intersects(QRect(e.from, e.to).normalized().adjusted(0, 0, 80, 14))) paintElbow(p, e);
    for (const CardPlace& c : now.cards)
        if (seen.intersects(c.rect))
            c.isHead   ? paintBandHead(p, c)
            : c.isFill ? paintFill(p, c)
            : c.isSlim ? paintSlim(p, c)
                       : paintCard(p, c);
    for (const FlagPlace& f : now.flags)
        if (seen.intersects(f.rect)) paintFlag(p, f);
    paintEnds(p, now, seen);
    if (m_layout.heads.empty()) {
        p.setFont(theme::font(13));
        p.setPen(theme::kQuiet);
        p.drawText(
            QRectF(0, 0, width() / m_zoom, height() / m_zoom), Qt::AlignCenter,
            tr("No lines yet. Bring in a folder of finished maps (Ctrl+B), or open a project (Ctrl+O)."));
    }
    if (m_drag && m_drag->bandTo) {
        // Where the band will stand: an upright line over all that it covers.
        if (const BandPlace* band = bandOf(m_drag->layer)) {
            p.setPen(QPen(theme::kAccent, 3));
            p.drawLine(QPoint(*m_drag->bandTo, band->rect.top()),
                       QPoint(*m_drag->bandTo, band->rect.bottom()));
        }
        return;
    }
    if (m_drag && m_drag->moves) return paintDrag(p);
    if (!m_hasHover) return;
    for (const RibbonPlace& r : m_layout.ribbons) {
        if (r.line != m_hoverLine || r.gapIndex != m_hoverGap) continue;
        const QPoint c = plusCentre(r);
        p.setPen(QPen(theme::kAccent, 1.2));
        p.setBrush(theme::kCard);
        p.drawEllipse(c, 9, 9);
        p.drawLine(c - QPoint(4, 0), c + QPoint(4, 0));
        p.drawLine(c - QPoint(0, 4), c + QPoint(0, 4));
    }
}

/// Heads and caps, which stay in view however far the lines are scrolled sideways.
void BoardView::paintEnds(QPainter& p, const Layout& now, const QRegion& seen) const {
    const int scrolled = scrolledBy();
    const QRect bounds = seen.boundingRect();
    const auto strip = [&](int left, int width) {
        p.fillRect(QRect(left, bounds.top(), width, bounds.height()), theme::kPaper);
    };
    if (scrolled > 0) {
        strip(scrolled, kHeadWidth + 4);
        p.fillRect(QRect(scrolled + kHeadWidth + 4, bounds.top(), 1, bounds.height()), theme::kHairline);
    }
    const bool hasMore = std::any_of(now.caps.begin(), now.caps.end(),
                                     [&](const CapPlace& c) { return capShown(c).left() < c.rect.left(); });
    if (hasMore) {
        const int left = capShown(now.caps.front()).left();
        strip(left - 1, kCapWidth + 40);
        p.fillRect(QRect(left - 1, bounds.top(), 1, bounds.height()), theme::kHairline);
    }
    for (const CapPlace& c : now.caps) {
        const CapPlace shown{c.line, c.step, capShown(c)};
        if (seen.intersects(shown.rect)) paintCap(p, shown);
    }
    for (HeadPlace h : now.heads) {
        h.rect.translate(scrolled, 0);
        if (seen.intersects(h.rect)) paintHead(p, h);
    }
    for (HeadingPlace h : now.headings) {
        h.rect.translate(scrolled, 0);
        if (seen.intersects(h.rect)) paintHeading(p, h);
    }
}

void BoardView::paintDrag(QPainter& p) const {
    for (const RibbonPlace& r : m_layout.ribbons) {
        if (!m_drag->target || m_drag->target->first != r.line || m_drag->target->second != r.gapIndex)
            continue;
        // Where it will stand: an upright bar across the ribbon.
        const QPoint c = plusCentre(r);
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kAccent);
        p.drawRoundedRect(QRectF(c.x() - 2, c.y() - 34, 4, 68), 2, 2);
    }
    const CardPicture* dragged = m_pictures ? m_pictures->find(m_drag->step) : nullptr;
    const QRectF ghost(QPointF(toBoard(m_drag->now)) - QPointF(kCardWidth / 2.0, 18),
                       QSizeF(kCardWidth, kThumbHeight));
    p.setOpacity(0.85);
    if (dragged != nullptr && !dragged->thumbnail.isNull()) p.drawImage(ghost, dragged->thumbnail);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kAccent, 2));
    p.drawRoundedRect(ghost, theme::kCorner, theme::kCorner);
    p.setOpacity(1);
}

void BoardView::paintRibbon(QPainter& p, const QRect& r, const std::string& step) const {
    const CardPicture* picture = pictureOf(step);
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    if (picture == nullptr || picture->ribbon().empty()) {
        p.fillRect(r, theme::kHairline);
    } else {
        const auto rows = picture->ribbon().size();
        for (std::size_t i = 0; i < rows; ++i) {
            const double h = static_cast<double>(r.height()) / static_cast<double>(rows);
            p.fillRect(QRectF(r.x(), r.y() + h * static_cast<double>(i), r.width(), h),
                       QColor::fromRgb(picture->ribbon()[i]));
        }
    }
    p.restore();
}

void BoardView::paintElbow(QPainter& p, const ElbowPlace& e) const {
    QPainterPath path(e.from);
    const int y = e.from.y();
    path.cubicTo(QPointF(e.to.x() - 4, y), QPointF(e.to.x(), y - 4), QPointF(e.to.x(), y - 14));
    path.lineTo(e.to);
    const CardPicture* picture = pictureOf(e.step);
    const auto tone = [&](std::size_t i) {
        return picture != nullptr && !picture->ribbon().empty()
                   ? QColor::fromRgb(picture->ribbon()[std::min(i, picture->ribbon().size() - 1)])
                   : theme::kHairline;
    };
    // The ribbon bends as bands one beside the other: light outside, dark inside.
    p.setBrush(Qt::NoBrush);
    for (const auto& [width, row] : {std::pair<int, std::size_t>{14, 1}, {10, 4}, {6, 8}, {2, 11}}) {
        p.setPen(QPen(tone(row), width, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
        p.drawPath(path);
    }
    p.setPen(theme::kQuiet);
    theme::drawLabel(p, QRectF(e.to.x() + 12, y - 20, 120, 16), e.name, 11);
}

void BoardView::paintCap(QPainter& p, const CapPlace& c) const {
    const Line* line = m_session.boardProject().findLine(c.line);
    QPainterPath shape;
    const QRectF r = c.rect;
    shape.moveTo(r.topLeft());
    shape.arcTo(QRectF(r.left() - r.width(), r.top(), r.width() * 2, r.height()), 90, -180);
    shape.closeSubpath();
    const CardPicture* picture = pictureOf(c.step);
    p.save();
    if (line != nullptr && line->channel.empty()) {
        p.setBrush(theme::kPaper);  // a shared line ends open: others read it
    } else if (picture != nullptr && !picture->thumbnail.isNull()) {
        p.setClipPath(shape);
        theme::drawImage(p, r, picture->thumbnail,
                         QRectF(picture->thumbnail.width() * 0.35, 0, picture->thumbnail.height() * 0.73,
                                picture->thumbnail.height()));
        p.setClipping(false);
        p.setBrush(Qt::NoBrush);
    } else {
        p.setBrush(theme::kHairline);
    }
    const bool isOff = line != nullptr && m_session.channelsOff().contains(line->channel);
    if (isOff) {
        // Hatched, as what is bypassed.
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kPaper);
        p.drawPath(shape);
        p.setBrush(QBrush(theme::kAmber, Qt::BDiagPattern));
        p.drawPath(shape);
        p.setBrush(Qt::NoBrush);
    }
    p.setPen(QPen(isOff ? theme::kAmber : theme::kEdge, 1));
    p.drawPath(shape);
    p.restore();
}

QString BoardView::encodingOf(const Line& line) const {
    // What the file is read as, once its picture has come.
    if (!line.steps.empty() && line.kind == Kind::Colour && m_pictures != nullptr)
        if (const CardPicture* source = m_pictures->find(line.steps.front()->id);
            source != nullptr && !source->encoding.empty())
            return QString::fromStdString(source->encoding);
    return line.kind == Kind::Colour   ? tr("colour")
           : line.kind == Kind::Scalar ? tr("grey, raw")
                                       : tr("normal, raw");
}

void BoardView::paintHead(QPainter& p, const HeadPlace& h) const {
    const Line* line = m_session.boardProject().findLine(h.line);
    if (line == nullptr) return;
    const QString name = QString::fromStdString(line->name);
    p.setPen(h.line == m_litLine ? theme::kAccent : theme::kInk);
    const int down = h.isSlim ? (kSlimHeight - 16) / 2 : h.isFolded ? 16 : 10;
    const QRect text(h.rect.left() + 4, h.rect.top() + down, h.rect.width() - 8, 16);
    theme::drawLabel(p, text, name, 12, true);
    if (!line->note.empty()) theme::drawNote(p, QPointF(text.right() - 4, text.center().y()));
    if (h.isFolded) return;
    p.setPen(theme::kQuiet);
    if (h.isSlim) {
        // Beside the name, if it fits: half a word tells nothing.
        const double used = theme::labelWidth(name, 12, true) + 6;
        const QString about = line->channel.empty()        ? tr("shared")
                              : line->kind == Kind::Colour ? encodingOf(*line).section(QLatin1Char(','), 0, 0)
                                                           : tr("raw");
        if (used + theme::labelWidth(about, 11) <= text.width())
            theme::drawLabel(p, QRectF(text).adjusted(used, 0, 0, 0), about, 11);
        return;
    }
    theme::drawLabel(p, text.translated(0, 18), encodingOf(*line), 11);
    if (line->channel.empty()) theme::drawLabel(p, text.translated(0, 32), tr("shared line"), 11);
}

void BoardView::paintSlim(QPainter& p, const CardPlace& c) const {
    const auto shown = m_session.shownStep(c.step);
    if (!shown) return;
    const QRectF r = QRectF(c.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    QPainterPath outline;
    outline.addRoundedRect(r, 4, 4);
    p.save();
    p.setClipPath(outline);
    const CardPicture* made = pictureOf(c.step);
    if (made != nullptr && !made->thumbnail.isNull()) {
        const QImage& picture = made->thumbnail;
        const int wide = std::min(picture.width(), picture.height() * c.rect.width() / c.rect.height());
        theme::drawImage(p, c.rect, picture, QRect((picture.width() - wide) / 2, 0, wide, picture.height()));
    } else {
        p.fillRect(c.rect, theme::kHairline);
    }
    p.setClipping(false);
    paintMarks(p, c, *shown, outline);
    p.restore();
}

void BoardView::paintCard(QPainter& p, const CardPlace& c) const {
    const auto shown = m_session.shownStep(c.step);
    if (!shown) return;
    const Line* line = m_session.boardProject().findLine(c.line);
    const QRectF r = QRectF(c.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    const int thumb = c.isSmall ? kSmallThumbHeight : kThumbHeight;
    QPainterPath outline;
    outline.addRoundedRect(r, theme::kCorner, theme::kCorner);
    p.save();
    p.fillPath(outline, theme::kCard);
    // On whole pixels and in its own size, so that it is copied and not scaled.
    const QRect picture(c.rect.left() + 1, c.rect.top() + 1, c.rect.width() - 2, thumb);
    if (const CardPicture* made = pictureOf(c.step); made != nullptr && !made->thumbnail.isNull()) {
        const int tall =
            std::min(made->thumbnail.height(), made->thumbnail.width() * picture.height() / picture.width());
        theme::drawImage(p, picture, made->thumbnail,
                         QRect(0, (made->thumbnail.height() - tall) / 2, made->thumbnail.width(), tall));
    } else {
        p.fillRect(picture, theme::kHairline);
    }
    if (shown->bypass) {
        p.fillRect(picture, theme::veil(150));
        p.setClipRect(picture);
        p.setPen(QPen(theme::kQuiet, 1));
        for (int x = -thumb; x < kCardWidth; x += 8)
            p.drawLine(QPointF(r.left() + x, r.top() + thumb), QPointF(r.left() + x + thumb, r.top()));
        p.setClipping(false);
    }
    p.setPen(QPen(theme::kHairline, 1));
    p.drawLine(QPointF(r.left(), r.top() + thumb + 1), QPointF(r.right(), r.top() + thumb + 1));
    // The picture's upper corners go under the paper: much quicker than clipping every picture to a round
    // shape.
    for (const double x : {r.left(), r.right()}) {
        const double inward = x == r.left() ? theme::kCorner : -theme::kCorner;
        QPainterPath corner(QPointF(x, r.top() - 0.5));
        corner.lineTo(x, r.top() + theme::kCorner);
        corner.quadTo(QPointF(x, r.top()), QPointF(x + inward, r.top()));
        corner.lineTo(x + inward, r.top() - 0.5);
        corner.closeSubpath();
        p.fillPath(corner, theme::kPaper);
    }

    const QRect text = QRect(c.rect.left() + 7, c.rect.top() + thumb + 3, c.rect.width() - 12, 16);
    p.setPen(theme::kInk);
    const QString name = nameOf(*shown);
    theme::drawLabel(p, text, name, 11);
    if (line != nullptr) {
        const QString telling = tellingOf(*shown, line->kind);
        // A small card has it beside the name, if it fits: half a number tells nothing.
        const double used = theme::labelWidth(name, 11) + 6;
        p.setPen(theme::kQuiet);
        if (!c.isSmall)
            theme::drawLabel(p, text.translated(0, 15), telling, 11);
        else if (used + theme::labelWidth(telling, 11) <= text.width())
            theme::drawLabel(p, QRectF(text).adjusted(used, 0, 2, 0), telling, 11);
    }
    paintMarks(p, c, *shown, outline);
    p.restore();
}

/// What lies over a card: its warning, whether it is shown, whether it is chosen.
void BoardView::paintMarks(QPainter& p, const CardPlace& c, const Step& shown,
                           const QPainterPath& outline) const {
    if (!shown.note.empty() && !c.isFill) theme::drawNote(p, QPointF(c.rect.right() - 8, c.rect.top() + 8));
    const Line* line = m_session.boardProject().findLine(c.line);
    const bool selected = m_session.isSelected(c.step);
    const QRectF r = QRectF(c.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    if (line != nullptr && !warningAt(shown, line->kind).isEmpty()) {
        // An amber corner with its mark, so that it does not speak by colour alone.
        QPainterPath corner;
        const double side = c.isSlim ? 20 : 26;
        corner.moveTo(r.topRight() + QPointF(-side, 0));
        corner.lineTo(r.topRight());
        corner.lineTo(r.topRight() + QPointF(0, side));
        corner.closeSubpath();
        p.setClipPath(outline);
        p.fillPath(corner, theme::kAmber);
        p.setPen(theme::kCard);
        p.setFont(theme::font(12, true));
        p.drawText(
            QRectF(r.right() - (c.isSlim ? 11 : 15), r.top() + (c.isSlim ? -1 : 1), c.isSlim ? 10 : 12, 14),
            Qt::AlignCenter, QStringLiteral("!"));
        p.setClipping(false);
    }
    const auto& here = m_session.lookHere();
    if (here && here->after == c.step) {
        const QRectF tag = c.isSlim ? QRectF(r.left(), r.bottom() - 14, r.width(), 14)
                                    : QRectF(r.left() + 5, r.top() + 5, 42, 15);
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kInk);
        p.drawRoundedRect(tag, 4, 4);
        p.setPen(theme::kCard);
        p.setFont(theme::font(10));
        p.drawText(tag, Qt::AlignCenter, tr("shown"));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(selected ? theme::kAccent : theme::kHairline, selected ? 2 : 1));
    p.drawPath(outline);
    if (c.step == m_session.selectedStep() && hasFocus()) {
        p.setPen(QPen(theme::kAccent, 1, Qt::DotLine));
        p.drawRoundedRect(r.adjusted(-3, -3, 3, 3), theme::kCorner + 2, theme::kCorner + 2);
    }
}

void BoardView::paintFlag(QPainter& p, const FlagPlace& f) const {
    const bool lit = f.line == m_litLine && !f.line.empty();
    const QRectF r = QRectF(f.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    // A pennant: square at the card, pointed away from it.
    QPainterPath shape;
    shape.moveTo(r.topLeft());
    shape.lineTo(r.right() - 7, r.top());
    shape.lineTo(r.right(), r.center().y());
    shape.lineTo(r.right() - 7, r.bottom());
    shape.lineTo(r.bottomLeft());
    shape.closeSubpath();
    p.setPen(QPen(lit ? theme::kAccent : theme::kEdge, lit ? 2 : 1));
    p.setBrush(theme::kCard);
    p.drawPath(shape);
    p.setPen(theme::kInk);
    theme::drawLabel(p, f.rect.adjusted(5, 0, -7, 0), f.text, 11);
}

}  // namespace kettle
