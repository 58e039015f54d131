#include "app/board/board_view.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QScrollBar>
#include <QToolTip>
#include <QWheelEvent>
#include <cmath>

#include "app/board/finder.h"
#include "app/style/theme.h"

namespace kettle {

using namespace board;

BoardView::BoardView(Session& session, QScrollArea& area, QWidget* parent)
    : QWidget(parent), m_session(session), m_area(area), m_finder(new Finder(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Board"));
    setAccessibleDescription(tr("Lines with their steps. Arrows walk, Enter shows a step on the model, slash adds one."));
    m_area.viewport()->installEventFilter(this);
    connect(&session, &Session::projectChanged, this, &BoardView::refresh);
    connect(&session, &Session::lookChanged, this, [this] { update(); });
    connect(&session, &Session::viewChanged, this, [this] { update(); });
    connect(&session, &Session::selectionChanged, this, [this] {
        ensureVisible(m_session.selectedStep());
        update();
    });
    connect(m_finder, &Finder::chosen, this, [this](const QString& line, int index, const QString& type) {
        m_session.insertStep(line.toStdString(), static_cast<std::size_t>(index), type.toStdString());
        setFocus();
    });
}

void BoardView::setPictures(std::shared_ptr<const CardPictures> pictures) {
    m_pictures = std::move(pictures);
    update();
}

void BoardView::refresh() {
    updateSize();
    update();
}

void BoardView::updateSize() {
    m_layout = layOut(m_session.project(), static_cast<int>(m_area.viewport()->width() / m_zoom));
    const QSize wanted(static_cast<int>(m_layout.size.width() * m_zoom), static_cast<int>(m_layout.size.height() * m_zoom));
    resize(wanted.expandedTo(m_area.viewport()->size()));
}

bool BoardView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_area.viewport() && event->type() == QEvent::Resize) {
        // The area lays its viewport out in the same event; measure it afterwards.
        QMetaObject::invokeMethod(this, [this] { updateSize(); }, Qt::QueuedConnection);
    }
    return QWidget::eventFilter(watched, event);
}

QPoint BoardView::toBoard(QPoint pixel) const {
    return {static_cast<int>(pixel.x() / m_zoom), static_cast<int>(pixel.y() / m_zoom)};
}
QRect BoardView::toPixels(const QRect& r) const {
    return QRectF(r.x() * m_zoom, r.y() * m_zoom, r.width() * m_zoom, r.height() * m_zoom).toAlignedRect();
}

QRect BoardView::cardRect(const std::string& step) const {
    const CardPlace* card = m_layout.cardOf(step);
    return card != nullptr ? toPixels(card->rect) : QRect();
}

QRect BoardView::gapRect(const std::string& line, std::size_t index) const {
    for (const RibbonPlace& r : m_layout.ribbons)
        if (r.line == line && r.gapIndex == index) return toPixels(r.rect);
    return {};
}

const CardPicture* BoardView::pictureOf(const std::string& step) const {
    if (!m_pictures) return nullptr;
    const auto at = m_pictures->find(step);
    return at == m_pictures->end() ? nullptr : &at->second;
}

// Painting.

void BoardView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme::kPaper);
    p.scale(m_zoom, m_zoom);
    for (const RibbonPlace& r : m_layout.ribbons) paintRibbon(p, r.rect, r.step);
    for (const ElbowPlace& e : m_layout.elbows) paintElbow(p, e);
    for (const CapPlace& c : m_layout.caps) paintCap(p, c);
    for (const HeadPlace& h : m_layout.heads) paintHead(p, h);
    for (const CardPlace& c : m_layout.cards) paintCard(p, c);
    for (const FlagPlace& f : m_layout.flags) paintFlag(p, f);
    if (m_layout.heads.empty()) {
        p.setFont(theme::font(13));
        p.setPen(theme::kQuiet);
        p.drawText(QRectF(0, 0, width() / m_zoom, height() / m_zoom), Qt::AlignCenter,
                   tr("No lines yet. Bring in a folder of finished maps (Ctrl+B), or open a project (Ctrl+O)."));
    }
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

void BoardView::paintRibbon(QPainter& p, const QRect& r, const std::string& step) const {
    const CardPicture* picture = pictureOf(step);
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    if (picture == nullptr || picture->ribbon.empty()) {
        p.fillRect(r, theme::kHairline);
    } else {
        const auto rows = picture->ribbon.size();
        for (std::size_t i = 0; i < rows; ++i) {
            const double h = static_cast<double>(r.height()) / static_cast<double>(rows);
            p.fillRect(QRectF(r.x(), r.y() + h * static_cast<double>(i), r.width(), h), QColor::fromRgb(picture->ribbon[i]));
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
        return picture != nullptr && !picture->ribbon.empty() ? QColor::fromRgb(picture->ribbon[std::min(i, picture->ribbon.size() - 1)])
                                                              : theme::kHairline;
    };
    // The ribbon bends as bands one beside the other: light outside, dark inside.
    p.setBrush(Qt::NoBrush);
    for (const auto& [width, row] : {std::pair<int, std::size_t>{14, 1}, {10, 4}, {6, 8}, {2, 11}}) {
        p.setPen(QPen(tone(row), width, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
        p.drawPath(path);
    }
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    p.drawText(QPoint(e.to.x() + 12, y - 8), e.name);
}

void BoardView::paintCap(QPainter& p, const CapPlace& c) const {
    const Line* line = m_session.project().findLine(c.line);
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
        p.drawImage(r, picture->thumbnail, QRectF(picture->thumbnail.width() * 0.35, 0, picture->thumbnail.height() * 0.73, picture->thumbnail.height()));
        p.setClipping(false);
    } else {
        p.setBrush(theme::kHairline);
    }
    p.setPen(QPen(theme::kEdge, 1));
    p.drawPath(shape);
    p.restore();
}

void BoardView::paintHead(QPainter& p, const HeadPlace& h) const {
    const Line* line = m_session.project().findLine(h.line);
    if (line == nullptr) return;
    const bool lit = h.line == m_litLine;
    p.setPen(lit ? theme::kAccent : theme::kInk);
    p.setFont(theme::font(12, true));
    const QRect text = h.rect.adjusted(4, 10, -4, 0);
    p.drawText(text, Qt::AlignLeft | Qt::AlignTop, p.fontMetrics().elidedText(QString::fromStdString(line->name), Qt::ElideRight, text.width()));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    QString about = line->kind == Kind::Colour ? tr("colour") : line->kind == Kind::Scalar ? tr("grey, raw") : tr("normal, raw");
    if (!line->steps.empty() && line->steps.front()->type == "map") {
        const Step& source = *line->steps.front();
        const TextureSet* set = m_session.project().findSet(source.set);
        const Map* map = set != nullptr ? findMap(*set, source.role) : nullptr;
        if (map != nullptr && line->kind == Kind::Colour)
            about = map->encoding == "auto" ? tr("sRGB, automatic") : QString::fromStdString(map->encoding);
    }
    if (line->channel.empty()) about += QStringLiteral("\n") + tr("shared line");
    p.drawText(text.adjusted(0, 18, 0, 0), Qt::AlignLeft | Qt::AlignTop, about);
}

void BoardView::paintCard(QPainter& p, const CardPlace& c) const {
    const auto shown = m_session.shownStep(c.step);
    if (!shown) return;
    const StepSpec* spec = findStepSpec(shown->type);
    const Line* line = m_session.project().findLine(c.line);
    const bool selected = c.step == m_session.selectedStep();
    const QRectF r = QRectF(c.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    const int thumb = c.isSmall ? kSmallThumbHeight : kThumbHeight;
    QPainterPath outline;
    outline.addRoundedRect(r, theme::kCorner, theme::kCorner);
    p.save();
    p.fillPath(outline, theme::kCard);
    p.setClipPath(outline);
    const QRectF picture(r.left(), r.top(), r.width(), thumb);
    if (const CardPicture* made = pictureOf(c.step); made != nullptr && !made->thumbnail.isNull()) {
        const double tall = made->thumbnail.width() * picture.height() / picture.width();
        p.drawImage(picture, made->thumbnail, QRectF(0, (made->thumbnail.height() - tall) / 2, made->thumbnail.width(), tall));
    } else {
        p.fillRect(picture, theme::kHairline);
    }
    if (shown->bypass) {
        p.fillRect(picture, QColor(237, 237, 237, 150));
        p.setPen(QPen(theme::kQuiet, 1));
        for (int x = -thumb; x < kCardWidth; x += 8) p.drawLine(QPointF(r.left() + x, r.top() + thumb), QPointF(r.left() + x + thumb, r.top()));
    }
    p.setPen(QPen(theme::kHairline, 1));
    p.drawLine(QPointF(r.left(), r.top() + thumb), QPointF(r.right(), r.top() + thumb));
    p.setClipping(false);

    const QRect text = QRect(c.rect.left() + 7, c.rect.top() + thumb + 3, c.rect.width() - 12, 16);
    p.setFont(theme::font(11));
    p.setPen(theme::kInk);
    const QString name = spec != nullptr ? QString::fromStdString(spec->name) : QString::fromStdString(shown->type);
    p.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, p.fontMetrics().elidedText(name, Qt::ElideRight, text.width()));
    if (c.isSmall && spec != nullptr && line != nullptr) {
        const int used = p.fontMetrics().horizontalAdvance(name) + 6;
        const QString telling = QString::fromStdString(spec->telling(StepView(*spec, *shown, line->kind)));
        p.setPen(theme::kQuiet);
        p.drawText(text.adjusted(used, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, p.fontMetrics().elidedText(telling, Qt::ElideRight, text.width() - used));
    }
    if (!c.isSmall && spec != nullptr && line != nullptr) {
        const StepView view(*spec, *shown, line->kind);
        const QString reason = spec->noEffect ? QString::fromStdString(spec->noEffect(view)) : QString();
        QString telling = QString::fromStdString(spec->telling(view));
        if (shown->bypass)
            telling = tr("bypassed");
        else if (!reason.isEmpty())
            telling = tr("no effect");
        p.setPen(theme::kQuiet);
        p.drawText(text.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter, p.fontMetrics().elidedText(telling, Qt::ElideRight, text.width()));
    }
    const auto& here = m_session.lookHere();
    if (here && here->after == c.step) {
        const QRectF tag(r.left() + 5, r.top() + 5, 42, 15);
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
    if (selected && hasFocus()) {
        p.setPen(QPen(theme::kAccent, 1, Qt::DotLine));
        p.drawRoundedRect(r.adjusted(-3, -3, 3, 3), theme::kCorner + 2, theme::kCorner + 2);
    }
    p.restore();
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
    p.setFont(theme::font(11));
    p.setPen(theme::kInk);
    const QRect text = f.rect.adjusted(5, 0, -7, 0);
    p.drawText(text, Qt::AlignLeft | Qt::AlignVCenter, p.fontMetrics().elidedText(f.text, Qt::ElideRight, text.width()));
}

// Pointer and keys.

const CardPlace* BoardView::cardAt(QPoint at) const {
    for (const CardPlace& c : m_layout.cards)
        if (c.rect.contains(at)) return &c;
    return nullptr;
}

const RibbonPlace* BoardView::ribbonAt(QPoint at) const {
    for (const RibbonPlace& r : m_layout.ribbons)
        if (r.rect.adjusted(0, -8, 0, 8).contains(at)) return &r;
    return nullptr;
}

const FlagPlace* BoardView::flagAt(QPoint at) const {
    for (const FlagPlace& f : m_layout.flags)
        if (f.rect.contains(at)) return &f;
    return nullptr;
}

QPoint BoardView::plusCentre(const RibbonPlace& r) const {
    // In a long last stretch the plus stays near the last card, where the new one will stand.
    return {std::min(r.rect.center().x(), r.rect.left() + kGap / 2 + 10), r.rect.center().y()};
}

void BoardView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const QPoint at = toBoard(event->pos());
    if (event->button() != Qt::LeftButton) return;
    if (const CardPlace* card = cardAt(at))
        m_session.selectStep(card->step);
    else if (const FlagPlace* flag = flagAt(at))
        m_session.selectStep(flag->owner);
    else if (const RibbonPlace* ribbon = ribbonAt(at))
        openFinderAt(*ribbon);
}

void BoardView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || cardAt(toBoard(event->pos())) == nullptr) return;
    m_session.toggleLookHere();
}

void BoardView::mouseMoveEvent(QMouseEvent* event) {
    const QPoint at = toBoard(event->pos());
    const RibbonPlace* ribbon = cardAt(at) != nullptr ? nullptr : ribbonAt(at);
    const FlagPlace* flag = flagAt(at);
    const std::string lit = flag != nullptr ? flag->line : std::string();
    const bool changed = m_hasHover != (ribbon != nullptr) || lit != m_litLine ||
                         (ribbon != nullptr && (ribbon->line != m_hoverLine || ribbon->gapIndex != m_hoverGap));
    m_hasHover = ribbon != nullptr;
    if (ribbon != nullptr) {
        m_hoverLine = ribbon->line;
        m_hoverGap = ribbon->gapIndex;
    }
    m_litLine = lit;
    setCursor(ribbon != nullptr || cardAt(at) != nullptr || flag != nullptr ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (changed) update();
}

void BoardView::leaveEvent(QEvent*) {
    m_hasHover = false;
    m_litLine.clear();
    update();
}

void BoardView::openFinderAt(const RibbonPlace& ribbon) {
    const Line* line = m_session.project().findLine(ribbon.line);
    if (line == nullptr) return;
    const QPoint at = plusCentre(ribbon);
    m_finder->openFor(QString::fromStdString(line->id), static_cast<int>(ribbon.gapIndex), line->kind,
                      mapToGlobal(QPoint(static_cast<int>(at.x() * m_zoom), static_cast<int>(at.y() * m_zoom))));
}

void BoardView::openFinder() {
    const CardPlace* card = m_layout.cardOf(m_session.selectedStep());
    if (card == nullptr) return;
    for (const RibbonPlace& r : m_layout.ribbons)
        if (r.line == card->line && r.gapIndex == card->index + 1) return openFinderAt(r);
}

void BoardView::walk(int dx, int dy) {
    const CardPlace* now = m_layout.cardOf(m_session.selectedStep());
    if (now == nullptr) {
        if (!m_layout.cards.empty()) m_session.selectStep(m_layout.cards.front().step);
        return;
    }
    const CardPlace* best = nullptr;
    long bestCost = 0;
    for (const CardPlace& c : m_layout.cards) {
        const QPoint d = c.rect.center() - now->rect.center();
        const bool along = dx != 0 ? d.x() * dx > 0 && c.line == now->line : d.y() * dy > 0;
        if (!along) continue;
        const long cost = dx != 0 ? std::abs(d.x()) : 4L * std::abs(d.y()) + std::abs(d.x());
        if (best == nullptr || cost < bestCost) best = &c, bestCost = cost;
    }
    if (best != nullptr) m_session.selectStep(best->step);
}

void BoardView::keyPressEvent(QKeyEvent* event) {
    const std::string step = m_session.selectedStep();
    switch (event->key()) {
        case Qt::Key_Left: return walk(-1, 0);
        case Qt::Key_Right: return walk(1, 0);
        case Qt::Key_Up: return walk(0, -1);
        case Qt::Key_Down: return walk(0, 1);
        case Qt::Key_Return:
        case Qt::Key_Enter: return m_session.toggleLookHere();
        case Qt::Key_Escape: return m_session.setLookHere(std::nullopt);
        case Qt::Key_Slash: return openFinder();
        case Qt::Key_X:
            if (event->modifiers() == Qt::NoModifier && !step.empty()) return m_session.toggleBypass(step);
            break;
        case Qt::Key_Delete:
            if (!step.empty()) return m_session.removeStep(step);
            break;
        case Qt::Key_Home: return setZoom(1);
        case Qt::Key_Space:
            if (!event->isAutoRepeat()) m_session.setShowBefore(true);
            return;
        default: break;
    }
    QWidget::keyPressEvent(event);
}

void BoardView::keyReleaseEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat())
        m_session.setShowBefore(false);
    else
        QWidget::keyReleaseEvent(event);
}

void BoardView::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void BoardView::focusOutEvent(QFocusEvent* event) {
    m_session.setShowBefore(false);
    QWidget::focusOutEvent(event);
    update();
}

void BoardView::wheelEvent(QWheelEvent* event) {
    if ((event->modifiers() & Qt::ControlModifier) == 0) return QWidget::wheelEvent(event);
    setZoom(m_zoom * std::pow(1.15, event->angleDelta().y() / 120.0));
    event->accept();
}

void BoardView::setZoom(double zoom) {
    m_zoom = std::clamp(zoom, 0.4, 2.5);
    updateSize();
    update();
}

void BoardView::contextMenuEvent(QContextMenuEvent* event) {
    const CardPlace* card = cardAt(toBoard(event->pos()));
    if (card == nullptr) return;
    const std::string step = card->step;
    const bool isSource = card->index == 0;
    m_session.selectStep(step);
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Look here"), this, [this] { m_session.toggleLookHere(); });
    menu->addAction(tr("Add behind…"), this, [this] { openFinder(); });
    auto* bypass = menu->addAction(tr("Bypass"), this, [this, step] { m_session.toggleBypass(step); });
    auto* remove = menu->addAction(tr("Remove"), this, [this, step] { m_session.removeStep(step); });
    bypass->setEnabled(!isSource);
    remove->setEnabled(!isSource);
    menu->popup(event->globalPos());
}

void BoardView::ensureVisible(const std::string& step) {
    const QRect r = cardRect(step);
    if (r.isValid()) m_area.ensureVisible(r.center().x(), r.center().y(), r.width() / 2 + 16, r.height() / 2 + 16);
}

QString BoardView::tipFor(const CardPlace& card) const {
    const auto shown = m_session.shownStep(card.step);
    const Line* line = m_session.project().findLine(card.line);
    const StepSpec* spec = shown ? findStepSpec(shown->type) : nullptr;
    if (spec == nullptr || line == nullptr) return {};
    const StepView view(*spec, *shown, line->kind);
    QString tip = QString::fromStdString(spec->purpose);
    if (shown->bypass) return tip + QLatin1Char('\n') + tr("Bypassed: it passes its input on. X switches it on.");
    const std::string reason = spec->noEffect ? spec->noEffect(view) : std::string();
    if (!reason.empty()) tip += QLatin1Char('\n') + tr("No effect: %1.").arg(QString::fromStdString(reason));
    return tip;
}

bool BoardView::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const QPoint at = toBoard(help->pos());
        if (const CardPlace* card = cardAt(at))
            QToolTip::showText(help->globalPos(), tipFor(*card), this);
        else if (ribbonAt(at) != nullptr)
            QToolTip::showText(help->globalPos(), tr("Add a step here ( / )"), this);
        else
            QToolTip::hideText();
        return true;
    }
    // Space is "before" on the board, so it must not travel as a shortcut.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Space || key->key() == Qt::Key_Slash || key->key() == Qt::Key_Delete) event->accept();
    }
    return QWidget::event(event);
}

}  // namespace kettle
