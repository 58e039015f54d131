// What the pointer does on the board: choosing, dragging cards, dropping files, the menu of a card.
#include <QContextMenuEvent>
#include <QFileInfo>
#include <QMenu>
#include <QMimeData>
#include <QUrl>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/board/board_view.h"
#include "app/board/finder.h"
#include "core/document/handles.h"
#include "core/document/layers.h"

namespace kettle {

using namespace board;

namespace {

bool isPictureFile(const QString& file) {
    static const QStringList endings{QStringLiteral("png"), QStringLiteral("tif"), QStringLiteral("tiff"),
                                     QStringLiteral("exr"), QStringLiteral("jpg"), QStringLiteral("jpeg"),
                                     QStringLiteral("tga")};
    return endings.contains(QFileInfo(file).suffix().toLower());
}

}  // namespace

void BoardView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

std::string BoardView::setAt(QPoint at) const {
    const CardPlace* card = cardAt(at);
    const auto place = card != nullptr ? m_session.boardProject().findStep(card->step) : std::nullopt;
    return place ? m_session.boardProject().stepAt(*place).set : std::string();
}

const Step* BoardView::maskedAt(QPoint at) const {
    const CardPlace* card = cardAt(at);
    const auto place = card != nullptr ? m_session.boardProject().findStep(card->step) : std::nullopt;
    if (!place) return nullptr;
    const Step& step = m_session.boardProject().stepAt(*place);
    const StepSpec* spec = m_session.steps().find(step.type);
    const bool takesMask =
        spec != nullptr && std::any_of(spec->feeds.begin(), spec->feeds.end(),
                                       [](const FeedSpec& feed) { return feed.id == kMask.id; });
    return takesMask ? &step : nullptr;
}

BoardView::Drop BoardView::dropAt(QPoint at, const QStringList& files) const {
    using What = Drop::What;
    const Project& project = m_session.boardProject();
    if (files.isEmpty() || project.lines.empty()) return {};
    const QString& first = files.front();
    const QString name = QFileInfo(first).fileName();
    const bool isFolder = files.size() == 1 && QFileInfo(first).isDir();
    if (first.endsWith(QStringLiteral(".layer.json")))
        return {What::LibraryEntry, files, {}, {}, 0, tr("Adds the layer %1").arg(name)};
    if (isFolder) {
        if (const TextureSet* set = project.findSet(setAt(at)); set != nullptr)
            return {What::OtherMaps,
                    files,
                    set->id,
                    {},
                    0,
                    tr("Replaces the maps of %1; all steps and looks stay")
                        .arg(QString::fromStdString(set->name))};
        return {What::LayerFromFolder,
                files,
                {},
                {},
                0,
                tr("Lays the maps of %1 over the surface, as a layer").arg(name)};
    }
    if (const Step* masked = maskedAt(at); masked != nullptr && files.size() == 1 && isPictureFile(first))
        return {What::Mask,
                files,
                {},
                {},
                0,
                tr("Makes %1 the mask of %2")
                    .arg(name, QString::fromStdString(m_session.steps().find(masked->type)->name)),
                masked->id};
    if (const RibbonPlace* ribbon = ribbonAt(at); ribbon != nullptr)
        return {What::OverLine,
                files,
                {},
                ribbon->line,
                ribbon->gapIndex,
                files.size() == 1 ? tr("Lays %1 over this line").arg(name)
                                  : tr("Lays %1 pictures over this line, the first below").arg(files.size())};
    if (std::all_of(files.begin(), files.end(), [](const QString& file) { return isPictureFile(file); }))
        return {What::Layers,
                files,
                {},
                {},
                0,
                files.size() == 1 ? tr("Adds %1 as a layer, once in the middle").arg(name)
                                  : tr("Adds %1 layers, one for each picture").arg(files.size())};
    return {};
}

namespace {

QStringList localFiles(const QMimeData& dragged) {
    QStringList files;
    for (const QUrl& url : dragged.urls())
        if (url.isLocalFile()) files << url.toLocalFile();
    return files;
}

}  // namespace

void BoardView::dragMoveEvent(QDragMoveEvent* event) {
    const Drop drop = dropAt(toBoard(event->position().toPoint()), localFiles(*event->mimeData()));
    m_hasHover = drop.what == Drop::What::OverLine;
    if (m_hasHover) m_hoverLine = drop.line, m_hoverGap = drop.gap;
    Q_EMIT dropTold(drop.words);
    update();
    event->acceptProposedAction();
}

void BoardView::dragLeaveEvent(QDragLeaveEvent*) {
    m_hasHover = false;
    update();
    Q_EMIT dropGone();
}

void BoardView::dropEvent(QDropEvent* event) {
    m_hasHover = false;
    Q_EMIT dropGone();
    const Drop drop = dropAt(toBoard(event->position().toPoint()), localFiles(*event->mimeData()));
    switch (drop.what) {
        case Drop::What::Elsewhere:  // a file means what it means anywhere in the window
            return event->ignore();
        case Drop::What::LibraryEntry:
            m_session.insertEntry(drop.files.front(), {}, 0);
            break;
        case Drop::What::OtherMaps:
            Q_EMIT otherSetDropped(QString::fromStdString(drop.set), drop.files.front());
            break;
        case Drop::What::LayerFromFolder:
            Q_EMIT layOverDropped(drop.files.front());
            break;
        case Drop::What::Mask:
            m_session.joinMaskFile(drop.step, drop.files.front());
            break;
        case Drop::What::OverLine:
            m_session.insertFiles(drop.files, drop.line, drop.gap);
            break;
        case Drop::What::Layers:
            m_session.addStamps(drop.files);
            break;
    }
    event->acceptProposedAction();
}

void BoardView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const QPoint at = toBoard(event->pos());
    if (event->button() != Qt::LeftButton) return;
    if (const HeadPlace* head = headAt(at)) {  // it may lie over a card that was scrolled away
        const Line* line = m_session.boardProject().findLine(head->line);
        if (head->isSlim && line != nullptr)
            m_session.selectStep(line->steps.front()->id);
        else
            toggleFold(head->line);
    } else if (const CapPlace* cap = capAt(at)) {
        if (const Line* line = m_session.boardProject().findLine(cap->line))
            m_session.toggleChannel(line->channel);
    } else if (const HeadingPlace* heading = headingAt(at)) {
        toggleSurface(heading->surface);
    } else if (const CardPlace* card = cardAt(at)) {
        if ((event->modifiers() & Qt::ControlModifier) != 0)
            m_session.toggleSelected(card->step);
        else if ((event->modifiers() & Qt::ShiftModifier) != 0)
            m_session.selectTo(card->step);
        else if (!m_session.isSelected(card->step) || m_session.selection().size() == 1)
            m_session.selectStep(card->step);
        if (card->isHead)
            m_drag = Drag{card->step, event->pos(), event->pos(), false, {}, card->line};
        else if (card->index > 0 && !card->isFill && !card->isInner)
            m_drag = Drag{card->step, event->pos(), event->pos(), false, {}};
    } else if (const FlagPlace* flag = flagAt(at)) {
        m_session.selectStep(flag->owner);
    } else if (const RibbonPlace* ribbon = ribbonAt(at)) {
        openFinderAt(*ribbon);
    } else if (const BandPlace* band = bandAt(at)) {
        m_session.selectStep(band->head);
    }
}

void BoardView::dragTo(QPoint pixel) {
    m_drag->now = pixel;
    if (!m_drag->moves && (pixel - m_drag->press).manhattanLength() < 8) return;
    m_drag->moves = true;
    if (!m_drag->layer.empty()) return dragBandTo(toBoard(pixel));
    m_drag->target.reset();
    const Step& step = m_session.boardProject().stepAt(*m_session.boardProject().findStep(m_drag->step));
    const StepSpec* spec = m_session.steps().find(step.type);
    const QPoint at = toBoard(pixel);
    long nearest = 90;  // further from any gap than this is nowhere
    for (const RibbonPlace& r : m_layout.ribbons) {
        if (r.gapIndex == kNoGap) continue;
        const Line* line = m_session.boardProject().findLine(r.line);
        if (line == nullptr || spec == nullptr || !spec->fits(line->kind)) continue;
        const QPoint d = plusCentre(r) - at;
        // A row's whole height belongs to its gaps, so the pointer need not be on the ribbon.
        const long away = std::abs(d.x()) + std::abs(d.y()) / 2;
        if (away < nearest) nearest = away, m_drag->target = {r.line, r.gapIndex};
    }
    setCursor(m_drag->target ? Qt::ClosedHandCursor : Qt::ForbiddenCursor);
    update();
}

void BoardView::mouseReleaseEvent(QMouseEvent* event) {
    if (!m_drag) return;
    if (m_drag->bandTo) {
        setCursor(Qt::ArrowCursor);
        dropBand();
        m_drag.reset();
        return update();
    }
    const Drag drag = *std::exchange(m_drag, std::nullopt);
    if (!drag.moves) {
        // A click on one of several that are chosen chooses it alone.
        if (event->modifiers() == Qt::NoModifier) m_session.selectStep(drag.step);
        return;
    }
    setCursor(Qt::ArrowCursor);
    if (drag.target)
        m_session.moveStep(drag.step, drag.target->first, drag.target->second,
                           (event->modifiers() & Qt::ControlModifier) != 0);
    update();
}

void BoardView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || cardAt(toBoard(event->pos())) == nullptr) return;
    m_session.toggleLookHere();
}

void BoardView::mouseMoveEvent(QMouseEvent* event) {
    if (m_drag && (event->buttons() & Qt::LeftButton) != 0) return dragTo(event->pos());
    const QPoint at = toBoard(event->pos());
    const RibbonPlace* ribbon = cardAt(at) != nullptr ? nullptr : ribbonAt(at);
    const FlagPlace* flag = flagAt(at);
    const std::string lit = flag != nullptr ? flag->line : std::string();
    const bool changed =
        m_hasHover != (ribbon != nullptr) || lit != m_litLine ||
        (ribbon != nullptr && (ribbon->line != m_hoverLine || ribbon->gapIndex != m_hoverGap));
    m_hasHover = ribbon != nullptr;
    if (ribbon != nullptr) {
        m_hoverLine = ribbon->line;
        m_hoverGap = ribbon->gapIndex;
    }
    m_litLine = lit;
    const HeadingPlace* heading = headingAt(at);
    const std::optional<std::string> surface =
        heading != nullptr ? std::optional(heading->surface) : std::nullopt;
    if (surface != std::exchange(m_litSurface, surface)) {
        Q_EMIT surfacePointed(QString::fromStdString(surface.value_or(std::string())));
        update();
    }
    setCursor(heading != nullptr || ribbon != nullptr || cardAt(at) != nullptr || flag != nullptr ||
                      headAt(at) != nullptr
                  ? Qt::PointingHandCursor
                  : Qt::ArrowCursor);
    if (changed) update();
}

void BoardView::leaveEvent(QEvent*) {
    m_hasHover = false;
    m_litLine.clear();
    if (std::exchange(m_litSurface, std::nullopt)) Q_EMIT surfacePointed({});
    update();
}

void BoardView::wheelEvent(QWheelEvent* event) {
    if ((event->modifiers() & Qt::ControlModifier) == 0) return QWidget::wheelEvent(event);
    setZoom(m_zoom * std::pow(1.15, event->angleDelta().y() / 120.0));
    event->accept();
}

void BoardView::contextMenuEvent(QContextMenuEvent* event) {
    if (const HeadingPlace* heading = headingAt(toBoard(event->pos()))) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        fillSurfaceMenu(*menu, heading->surface);
        return menu->popup(event->globalPos());
    }
    const CardPlace* card = cardAt(toBoard(event->pos()));
    const BandPlace* band = bandAt(toBoard(event->pos()));
    const HeadPlace* head = headAt(toBoard(event->pos()));
    if (card == nullptr && band == nullptr && head == nullptr) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto addNote = [&](const std::string& id) {
        menu->addAction(noteOf(id).empty() ? tr("Add a note…") : tr("Change the note…"), this,
                        [this, id, at = event->pos()] { editNote(id, at); });
    };
    const auto addRemoveLine = [&](const std::string& id) {
        if (const Line* line = m_session.project().findLine(id); line != nullptr)
            menu->addAction(tr("Remove the line %1").arg(QString::fromStdString(line->name)), this,
                            [this, id] { m_session.removeLine(id); });
    };
    if (card == nullptr && band == nullptr) {
        addNote(head->line);
        addRemoveLine(head->line);
        return menu->popup(event->globalPos());
    }
    if (card == nullptr || card->isHead) {
        const std::string layer = card != nullptr ? card->line : band->layer;
        const std::string step = card != nullptr ? card->step : band->head;
        if (!m_session.isSelected(step)) m_session.selectStep(step);
        fillBandMenu(*menu, layer);
        addNote(layer);
        addHoldEntry(*menu, step);
        return menu->popup(event->globalPos());
    }
    const std::string step = card->step;
    const bool isSource = card->index == 0;
    if (!m_session.isSelected(step)) m_session.selectStep(step);
    menu->addAction(tr("Look here\tEnter"), this, [this] { m_session.toggleLookHere(); });
    if (card->isInner) {
        menu->addAction(tr("Bypass\tX"), this, [this, step] { m_session.toggleBypass(step); });
        menu->addAction(tr("Close the recipe\tR"), this,
                        [this, step] { m_session.toggleOpen(recipeAround(step)); });
        return menu->popup(event->globalPos());
    }
    menu->addAction(tr("Add behind…\t/"), this, [this] { openFinder(); });
    auto* bypass = menu->addAction(tr("Bypass\tX"), this, [this, step] { m_session.toggleBypass(step); });
    auto* remove = menu->addAction(tr("Remove\tDel"), this, [this, step] { m_session.removeStep(step); });
    auto* copy =
        menu->addAction(tr("Duplicate\tCtrl+D"), &m_session, [this] { m_session.duplicateSelection(); });
    if (!isSource && !card->isFill) {
        menu->addAction(tr("Pack as a recipe…\tCtrl+Shift+P"), this, [this] { Q_EMIT packWanted(); });
        const auto shown = m_session.shownStep(step);
        if (shown && !recipeOf(shown->type).empty())
            menu->addAction(m_session.isOpen(step) ? tr("Close the recipe\tR") : tr("Open the recipe\tR"),
                            this, [this, step] { m_session.toggleOpen(step); });
        if (shown && !recipeOf(shown->type).empty())
            menu->addAction(tr("Unpack"), this, [this, step] { m_session.unpackRecipe(step); });
    }
    if (m_session.canPushOut(step))
        menu->addAction(tr("Push out by this"), this, [this, step] { m_session.pushOutBy(step); });
    addHoldEntry(*menu, step);
    addNote(step);
    if (card->isFill) {
        if (const auto place = m_session.boardProject().findStep(step))
            if (const Line* own =
                    ownLineOf(m_session.boardProject(), m_session.boardProject().stepAt(*place)))
                menu->addAction(m_options.openFills.contains(own->id) ? tr("Close its own line")
                                                                      : tr("Open its own line"),
                                this, [this, id = own->id] { toggleFillLine(id); });
        copy->setEnabled(false);
    } else if (!isSource && m_session.selectedLine() != nullptr &&
               !m_session.selectedLine()->channel.empty()) {
        menu->addAction(tr("Layer from these steps"), this, [this] { m_session.layerFromSelection(); });
    }
    if (isSource)
        for (QAction* action : {bypass, copy}) action->setEnabled(false);
    remove->setVisible(!isSource);
    if (isSource) addRemoveLine(card->line);
    menu->popup(event->globalPos());
}

}  // namespace kettle
