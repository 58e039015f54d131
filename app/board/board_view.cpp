#include "app/board/board_view.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMimeData>
#include <QScrollBar>
#include <QToolTip>
#include <QWheelEvent>
#include <cmath>
#include <utility>

#include "app/board/board_accessible.h"
#include "app/board/finder.h"
#include "app/style/theme.h"
#include "core/document/layers.h"

namespace kettle {

using namespace board;

BoardView::BoardView(Session& session, QScrollArea& area, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_area(area),
      m_finder(new Finder(this)),
      m_foot(new BoardFoot(session, this)) {
    BoardAccessible::install();
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);  // nothing behind it is painted for nothing
    setAccessibleName(tr("Board"));
    setAccessibleDescription(
        tr("Lines with their steps. Arrows walk, Enter shows a step on the model, slash adds one."));
    m_area.viewport()->installEventFilter(this);
    setAcceptDrops(true);
    m_slide = new QVariantAnimation(this);
    m_slide->setStartValue(0.0);
    m_slide->setEndValue(1.0);
    m_slide->setDuration(140);
    m_slide->setEasingCurve(QEasingCurve::OutCubic);
    connect(m_slide, &QVariantAnimation::valueChanged, this, [this] { update(); });
    connect(&session, &Session::projectChanged, this, &BoardView::refresh);
    // Heads and caps stay in view.
    connect(area.horizontalScrollBar(), &QScrollBar::valueChanged, this, [this] { update(); });
    connect(&session, &Session::lookChanged, this, [this] { update(); });
    connect(&session, &Session::viewChanged, this, [this] { update(); });
    connect(&session, &Session::openedChanged, this, [this] {
        refresh();
        ensureVisible(m_session.selectedStep());
    });
    connect(&session, &Session::selectionChanged, this, [this] {
        openChosenFill();
        ensureVisible(m_session.selectedStep());
        tellFocus();
        m_foot->refresh();
        update();
    });
    connect(m_finder, &Finder::chosen, this, [this](const Offer& offer) {
        take(offer);
        setFocus();
    });
}

void BoardView::take(const Offer& offer) {
    const Gap& gap = m_finder->gap();
    if (const auto* step = std::get_if<Step>(&offer.what))
        m_session.insertStep(gap.line, gap.index, *step);
    else if (const auto* over = std::get_if<LaidOver>(&offer.what))
        m_session.blendOver(gap.line, gap.index, *over, offer.name);
    else if (const auto* ramp = std::get_if<NamedRampEntry>(&offer.what))
        m_session.insertRamp(gap.line, gap.index, ramp->ramp, QString::fromStdString(ramp->name));
    else if (const auto* recipe = std::get_if<Shared<Recipe>>(&offer.what))
        m_session.addRecipeAt(**recipe, gap.line, gap.index);
    else if (gap.layersBehind)
        takeLayer(offer, *gap.layersBehind);
}

void BoardView::takeLayer(const Offer& offer, const std::string& behind) {
    m_session.selectStep(behind);
    const auto* made = std::get_if<NewLayer>(&offer.what);
    if (made == nullptr)
        m_session.addKeptLayer(std::get<KeptLayer>(offer.what));
    else if (made->of == NewLayer::Of::Stamps)
        Q_EMIT stampsWanted();
    else if (made->of == NewLayer::Of::Set)
        m_session.addLayerOf(made->set);
    else
        m_session.addLayer();
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
    return m_pictures ? m_pictures->find(step) : nullptr;
}

// Pointer and keys.

const CardPlace* BoardView::cardAt(QPoint at) const {
    for (const CardPlace& c : m_layout.cards)
        if (c.rect.contains(at)) return &c;
    return nullptr;
}

const RibbonPlace* BoardView::ribbonAt(QPoint at) const {
    for (const RibbonPlace& r : m_layout.ribbons)
        if (r.gapIndex != kNoGap && r.rect.adjusted(0, -8, 0, 8).contains(at)) return &r;
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

void BoardView::toggleFold(const std::string& line) {
    if (m_options.folded.erase(line) == 0) m_options.folded.insert(line);
    refresh();
}

void BoardView::setOnlyWorked(bool only) {
    m_options.onlyWorked = only;
    refresh();
}

void BoardView::fitAll() {
    // The caps move with the width, so only the height and the cards' own extent count.
    int right = kLeft + kCardWidth, bottom = kTop;
    for (const CardPlace& c : m_layout.cards)
        right = std::max(right, c.rect.right()), bottom = std::max(bottom, c.rect.bottom());
    const QSize room = m_area.viewport()->size();
    setZoom(std::min({1.0, room.width() / static_cast<double>(right + kGap + kCapWidth + 24),
                      room.height() / static_cast<double>(bottom + kRowGap)}));
}

int BoardView::scrolledBy() const {
    return static_cast<int>(m_area.horizontalScrollBar()->value() / m_zoom);
}

QRect BoardView::headRect(const std::string& line) const {
    for (const HeadPlace& h : m_layout.heads)
        if (h.line == line) return toPixels(h.rect.translated(scrolledBy(), 0));
    return {};
}

const HeadPlace* BoardView::headAt(QPoint at) const {
    for (const HeadPlace& h : m_layout.heads)
        if (h.rect.translated(scrolledBy(), 0).contains(at)) return &h;
    return nullptr;
}

QRect BoardView::capShown(const CapPlace& cap) const {
    const int right = scrolledBy() + static_cast<int>(m_area.viewport()->width() / m_zoom) - kCapWidth - 16;
    return cap.rect.translated(std::min(0, right - cap.rect.left()), 0);
}

const CapPlace* BoardView::capAt(QPoint at) const {
    for (const CapPlace& cap : m_layout.caps)
        if (capShown(cap).adjusted(0, -4, 6, 4).contains(at)) return &cap;
    return nullptr;
}

QRect BoardView::capRect(const std::string& line) const {
    for (const CapPlace& cap : m_layout.caps)
        if (cap.line == line) return toPixels(capShown(cap));
    return {};
}

void BoardView::openFinderAt(const RibbonPlace& ribbon) {
    const Line* line = m_session.boardProject().findLine(ribbon.line);
    if (line == nullptr) return;
    const QPoint at = plusCentre(ribbon);
    m_finder->openAt(gapOf(*line, ribbon.gapIndex), mapToGlobal(QPoint(static_cast<int>(at.x() * m_zoom),
                                                                       static_cast<int>(at.y() * m_zoom))));
}

void BoardView::openFinder() {
    const CardPlace* card = m_layout.cardOf(m_session.selectedStep());
    // Within a recipe nothing is added, but behind it.
    if (card != nullptr && card->isInner) card = m_layout.cardOf(card->step.substr(0, card->step.find('/')));
    if (card == nullptr) return;
    // Behind a head its mask goes no further: what is added shapes the mask, in front of the head.
    const std::size_t gap = card->isHead ? card->index : card->index + 1;
    for (const RibbonPlace& r : m_layout.ribbons)
        if (r.line == card->line && r.gapIndex == gap) return openFinderAt(r);
    const Line* line = m_session.boardProject().findLine(card->line);
    if (!card->isHead || line == nullptr) return;
    m_finder->openAt(gapOf(*line, gap), mapToGlobal(toPixels(card->rect).center()));
}

Gap BoardView::gapOf(const Line& line, std::size_t index) const {
    Gap gap{m_session.boardProject(), m_session.steps(), m_session.look(), line.id, index, {}};
    if (isLayer(line))
        gap.layersBehind = headOf(line).id;
    else if (!line.channel.empty())
        gap.layersBehind = line.steps[std::min(index, line.steps.size()) - 1]->id;
    return gap;
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
        // A row is a line's; that of the masks is one row.
        const bool isRow = c.line == now->line ||
                           (isOfMasks(c) && isOfMasks(*now) && c.rect.top() - now->rect.top() < kHeadHeight &&
                            now->rect.top() - c.rect.top() < kHeadHeight);
        const bool along = dx != 0 ? d.x() * dx > 0 && isRow : d.y() * dy > 0 && !isRow;
        if (!along) continue;
        const long cost = dx != 0 ? std::abs(d.x()) : 4L * std::abs(d.y()) + std::abs(d.x());
        if (best == nullptr || cost < bestCost) best = &c, bestCost = cost;
    }
    if (best != nullptr) m_session.selectStep(best->step);
}

void BoardView::keyPressEvent(QKeyEvent* event) {
    if (pressLayerKey(*event)) return;
    const std::string step = m_session.selectedStep();
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Right: {
            const int way = event->key() == Qt::Key_Left ? -1 : 1;
            if ((event->modifiers() & Qt::ShiftModifier) == 0) return walk(way, 0);
            // Shift takes the neighbour into the choice.
            const auto chosen = m_session.selection();
            const Line* line = m_session.selectedLine();
            for (std::size_t i = 0; line != nullptr && i < line->steps.size(); ++i) {
                const std::string& edge = way < 0 ? chosen.front() : chosen.back();
                const std::size_t next = way < 0 ? i - 1 : i + 1;
                if (line->steps[i]->id == edge && next < line->steps.size()) {
                    m_session.toggleSelected(line->steps[next]->id);
                    break;
                }
            }
            return;
        }
        case Qt::Key_Up:
            return walk(0, -1);
        case Qt::Key_Down:
            return walk(0, 1);
        case Qt::Key_Return:
        case Qt::Key_Enter:
            return m_session.toggleLookHere();
        case Qt::Key_Escape:
            if (m_drag) {
                m_drag.reset();
                return update();
            }
            if (m_session.layerView() != LayerView::All) return m_session.viewLayer(LayerView::All, {});
            return m_session.setLookHere(std::nullopt);
        case Qt::Key_Slash:
            return openFinder();
        case Qt::Key_X:
            if (event->modifiers() == Qt::NoModifier && !step.empty()) return m_session.bypassSelection();
            break;
        case Qt::Key_Delete:
            if (!step.empty()) return m_session.removeSelection();
            break;
        case Qt::Key_F:
            if (const Line* line = m_session.selectedLine();
                event->modifiers() == Qt::NoModifier && line != nullptr)
                return m_options.openFills.contains(line->id) ? closeFill(*line) : toggleFold(line->id);
            break;
        case Qt::Key_R:
            if (event->modifiers() == Qt::NoModifier) return m_session.toggleOpen(recipeAround(step));
            break;
        case Qt::Key_Home:
            return fitAll();
        case Qt::Key_Space:
            if (!event->isAutoRepeat()) m_session.setShowBefore(true);
            return;
        default:
            break;
    }
    QWidget::keyPressEvent(event);
}

std::string BoardView::recipeAround(const std::string& step) const {
    const auto shown = m_session.shownStep(step);
    if (shown && !recipeOf(shown->type).empty()) return step;
    const auto slash = step.rfind('/');
    return m_session.isInner(step) ? step.substr(0, slash) : step;
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

void BoardView::setZoom(double zoom) {
    m_zoom = std::clamp(zoom, 0.4, 2.5);
    updateSize();
    update();
}

void BoardView::ensureVisible(const std::string& step) {
    const QRect r = cardRect(step);
    if (!r.isValid()) return;
    // Heads and caps lie over the ends of what is scrolled.
    const int ends = std::min(kHeadWidth + 8, m_area.viewport()->width() / 4);
    m_area.ensureVisible(r.center().x(), r.center().y(), r.width() / 2 + ends, r.height() / 2 + 16);
}

bool BoardView::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const QPoint at = toBoard(help->pos());
        if (const CardPlace* card = cardAt(at))
            QToolTip::showText(help->globalPos(), tipOf(card->step), this);
        else if (const CapPlace* cap = capAt(at))
            QToolTip::showText(help->globalPos(), capTip(cap->line), this);
        else if (ribbonAt(at) != nullptr)
            QToolTip::showText(help->globalPos(), tr("Add a step here ( / )"), this);
        else
            QToolTip::hideText();
        return true;
    }
    // Space is "before" on the board, so it must not travel as a shortcut.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Space || key->key() == Qt::Key_Slash || key->key() == Qt::Key_Delete)
            event->accept();
    }
    return QWidget::event(event);
}

}  // namespace kettle
