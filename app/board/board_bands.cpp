// Layers on the board: upright bands with their heads, the fills in them, and what is done with them by hand.
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <map>

#include "app/board/band_columns.h"
#include "app/board/board_view.h"
#include "app/pictures/step_words.h"
#include "app/style/labels.h"
#include "app/style/notes.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/document/layer_edits.h"
#include "core/steps/blend.h"

namespace kettle {

using namespace board;

namespace {

constexpr int kMaskWidth = 40, kMaskHeight = 26;

}  // namespace

void BoardView::paintBands(QPainter& p, const Layout& now, const QRegion& seen) const {
    for (const BandPlace& b : now.bands) {
        if (!seen.intersects(b.rect)) continue;
        const Line* layer = m_session.boardProject().findLine(b.layer);
        const bool isChosen = m_session.isSelected(b.head);
        const auto shown = m_session.shownStep(b.head);
        p.setBrush(theme::kBand);
        p.setPen(QPen(isChosen ? theme::kAccent : theme::kHairline, isChosen ? 2 : 1));
        p.drawRoundedRect(QRectF(b.rect).adjusted(0.5, 0.5, -0.5, -0.5), theme::kCorner, theme::kCorner);
        if (layer != nullptr && shown && shown->bypass) {
            p.setPen(Qt::NoPen);
            p.setBrush(QBrush(theme::kHairline, Qt::BDiagPattern));
            p.drawRoundedRect(QRectF(b.rect).adjusted(1, 1, -1, -1), theme::kCorner, theme::kCorner);
        }
    }
    for (const QRect& row : now.maskRows) {
        p.setPen(theme::kQuiet);
        theme::drawLabel(p, QRect(row.left() + 4 + scrolledBy(), row.top() + 19, row.width() - 8, 16),
                         tr("masks"), 11);
    }
}

QString BoardView::maskWords(const Line& layer) const {
    const auto named = [&](const Step& step) {
        const StepSpec* spec = m_session.steps().find(step.type);
        return QString::fromStdString(spec != nullptr ? spec->name : step.type);
    };
    if (BandColumns::maskCards(layer) == 0) return tr("all");
    return named(*layer.steps.front());
}

void BoardView::paintBandHead(QPainter& p, const CardPlace& c) const {
    const Line* layer = m_session.boardProject().findLine(c.line);
    const auto shown = m_session.shownStep(c.step);
    if (layer == nullptr || !shown) return;
    const bool isNarrow = c.rect.width() < kBandWidth;
    const QRect room = c.rect.adjusted(kBandPad, 4, -kBandPad, -4);
    p.setPen(theme::kInk);
    theme::drawLabel(p, QRect(room.left(), room.top(), room.width(), 16), QString::fromStdString(layer->name),
                     12, true);
    const QRect mask(room.left(), room.top() + 19, kMaskWidth, kMaskHeight);
    const CardPicture* made = pictureOf(c.step);
    if (made != nullptr && !made->thumbnail.isNull()) {
        const int wide =
            std::min(made->thumbnail.width(), made->thumbnail.height() * mask.width() / mask.height());
        p.drawImage(mask, made->thumbnail,
                    QRect((made->thumbnail.width() - wide) / 2, 0, wide, made->thumbnail.height()));
    } else {
        p.fillRect(mask, theme::kHairline);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kEdge, 1));
    p.drawRect(QRectF(mask).adjusted(0.5, 0.5, -0.5, -0.5));
    if (!isNarrow) {
        const QRect words(mask.right() + 7, room.top() + 17, room.right() - mask.right() - 6, 15);
        p.setPen(theme::kQuiet);
        QString begins = maskWords(*layer);
        if (theme::labelWidth(begins, 11) > words.width()) begins = begins.section(QLatin1Char(' '), 0, 0);
        theme::drawLabel(p, words, begins, 11);
        theme::drawLabel(p, words.translated(0, 14), tellingOf(*shown, Kind::Scalar), 11);
    }
    if (!layer->note.empty() || !shown->note.empty())
        theme::drawNote(p, QPointF(c.rect.right() - 9, c.rect.top() + 8));
    const auto& here = m_session.lookHere();
    if (here && here->after == c.step) {
        p.setPen(QPen(theme::kInk, 2));
        p.drawRect(mask.adjusted(-1, -1, 1, 1));
    }
    if (m_session.viewedLayer() == layer->id) {
        // An eye's worth: what is looked at has a dark bar at its head.
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kInk);
        p.drawRoundedRect(QRectF(c.rect.left() + 6, c.rect.top() + 1, c.rect.width() - 12, 3), 1.5, 1.5);
    }
    if (c.step == m_session.selectedStep() && hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kAccent, 1, Qt::DotLine));
        p.drawRoundedRect(QRectF(c.rect).adjusted(3.5, 3.5, -3.5, -3.5), theme::kCorner - 2,
                          theme::kCorner - 2);
    }
}

std::string BoardView::laidBy(const Step& fill) const {
    const auto over = fill.feeds.find(kOver.id);
    const Line* line =
        over == fill.feeds.end() ? nullptr : m_session.boardProject().findLine(over->second.line);
    if (line == nullptr || line->steps.empty()) return {};
    return over->second.after.empty() ? line->steps.back()->id : over->second.after;
}

void BoardView::paintThumbnail(QPainter& p, const QRect& frame, const Step& fill, Kind kind) const {
    const auto over = fill.feeds.find(kOver.id);
    const auto flat = fill.controls.find(kNormals.id);
    const bool flattens =
        kind == Kind::Normal && flat != fill.controls.end() && *flat == kNormals(NormalFill::Flatten);
    if (flattens || over == fill.feeds.end())
        return p.fillRect(frame, kind == Kind::Normal ? QColor(128, 128, 255) : theme::kHairline);
    if (over->second.constant) {
        const Colour* c = std::get_if<Colour>(&*over->second.constant);
        return p.fillRect(frame, c != nullptr ? QColor(QString::fromStdString(hexOfLinear(c->r, c->g, c->b)))
                                              : theme::kHairline);
    }
    const CardPicture* made = pictureOf(laidBy(fill));
    if (made == nullptr || made->thumbnail.isNull()) return p.fillRect(frame, theme::kHairline);
    const QImage& picture = made->thumbnail;
    const double shape = static_cast<double>(frame.width()) / frame.height();
    const int wide = std::min(picture.width(), static_cast<int>(picture.height() * shape));
    const int tall = std::min(picture.height(), static_cast<int>(picture.width() / shape));
    p.drawImage(frame, picture,
                QRect((picture.width() - wide) / 2, (picture.height() - tall) / 2, wide, tall));
}

void BoardView::paintFill(QPainter& p, const CardPlace& c) const {
    const auto shown = m_session.shownStep(c.step);
    const Line* line = m_session.boardProject().findLine(c.line);
    if (!shown || line == nullptr) return;
    const QRectF r = QRectF(c.rect).adjusted(0.5, 0.5, -0.5, -0.5);
    QPainterPath outline;
    outline.addRoundedRect(r, theme::kCorner, theme::kCorner);
    p.save();
    p.fillPath(outline, theme::kCard);
    p.setClipPath(outline);
    const QRect picture = c.isSlim
                              ? QRect(c.rect.left() + 1, c.rect.top() + 1, 36, c.rect.height() - 2)
                              : QRect(c.rect.left() + 1, c.rect.top() + 1, c.rect.width() - 2, kThumbHeight);
    paintThumbnail(p, picture, *shown, line->kind);
    if (shown->bypass) {
        p.fillRect(picture, theme::veil(150));
        p.fillRect(picture, QBrush(theme::kQuiet, Qt::BDiagPattern));
    }
    p.setClipping(false);
    p.setPen(QPen(theme::kHairline, 1));
    if (c.isSlim)
        p.drawLine(QPointF(picture.right() + 1.5, r.top()), QPointF(picture.right() + 1.5, r.bottom()));
    else
        p.drawLine(QPointF(r.left(), r.top() + kThumbHeight + 1),
                   QPointF(r.right(), r.top() + kThumbHeight + 1));
    const QRect words =
        c.isSlim ? QRect(picture.right() + 6, c.rect.top() + 2, c.rect.right() - picture.right() - 8, 15)
                 : QRect(c.rect.left() + 7, c.rect.top() + kThumbHeight + 3, c.rect.width() - 12, 16);
    p.setPen(theme::kInk);
    const Look* look = m_session.boardProject().findLook(m_session.look());
    theme::drawLabel(p, words, fillWords(m_session.boardProject(), look, *shown, m_session.steps()), 11);
    p.setPen(theme::kQuiet);
    theme::drawLabel(p, words.translated(0, 15), tellingOf(*shown, line->kind), 11);
    if (!shown->note.empty()) theme::drawNote(p, r.topRight() + QPointF(-8, 8));
    paintMarks(p, c, *shown, outline);
    p.restore();
}

const BandPlace* BoardView::bandAt(QPoint at) const {
    for (const BandPlace& b : m_layout.bands)
        if (b.rect.contains(at)) return &b;
    return nullptr;
}

const BandPlace* BoardView::bandOf(const std::string& layer) const {
    for (const BandPlace& b : m_layout.bands)
        if (b.layer == layer) return &b;
    return nullptr;
}

QRect BoardView::bandRect(const std::string& layer) const {
    const BandPlace* band = bandOf(layer);
    return band != nullptr ? toPixels(band->rect) : QRect();
}

void BoardView::toggleBand(const std::string& layer) {
    if (m_options.foldedBands.erase(layer) == 0) m_options.foldedBands.insert(layer);
    refresh();
}

void BoardView::toggleFillLine(const std::string& line) {
    if (m_options.openFills.erase(line) == 0) m_options.openFills.insert(line);
    refresh();
}

void BoardView::openChosenFill() {
    const Line* line = m_session.selectedLine();
    if (line == nullptr || !line->channel.empty() || m_options.openFills.contains(line->id)) return;
    if (fillLines(m_session.boardProject()).contains(line->id)) toggleFillLine(line->id);
}

void BoardView::closeFill(const Line& line) {
    const std::string id = line.id;
    for (const auto& other : m_session.boardProject().lines)
        for (const auto& step : other->steps)
            if (const auto over = step->feeds.find(kOver.id);
                over != step->feeds.end() && over->second.line == id)
                m_session.selectStep(step->id);
    toggleFillLine(id);
}

bool BoardView::isOfMasks(const CardPlace& card) const {
    const Line* line = m_session.boardProject().findLine(card.line);
    return line != nullptr && isLayer(*line);
}

void BoardView::dragBandTo(QPoint at) {
    m_drag->bandTo = at.x();
    setCursor(Qt::ClosedHandCursor);
    update();
}

/// The band's fills go to the gaps that lie where it was dropped, on every line that it covers.
void BoardView::dropBand() {
    const int x = *m_drag->bandTo;
    const std::string layer = m_drag->layer;
    std::map<std::string, std::size_t> targets;
    for (const FillPlace& fill : fillsOf(m_session.boardProject(), layer)) {
        std::size_t index = 1;
        for (const CardPlace& c : m_layout.cards)
            if (c.line == fill.line->id && c.step != fill.step->id && c.rect.center().x() < x)
                index = std::max(index, c.index + 1);
        targets[fill.line->id] = index;
    }
    if (!targets.empty()) m_session.moveFills(layer, targets);
}

bool BoardView::pressLayerKey(const QKeyEvent& key) {
    const bool isPlain = (key.modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)) == Qt::NoModifier;
    if (!isPlain) return false;
    // On a step of its mask the layer is meant as well.
    const Line* layer = m_session.selectedLine();
    if (layer != nullptr && !isLayer(*layer)) layer = nullptr;
    switch (key.key()) {
        case Qt::Key_Comma:
            return m_session.stepThroughLayers(-1), true;
        case Qt::Key_Period:
            return m_session.stepThroughLayers(1), true;
        case Qt::Key_O:
            if (layer != nullptr) m_session.viewLayer(LayerView::Only, layer->id);
            return layer != nullptr;
        case Qt::Key_M:
            if (layer != nullptr) m_session.viewLayer(LayerView::Mask, layer->id);
            return layer != nullptr;
        case Qt::Key_F:
            if (layer != nullptr) toggleBand(layer->id);
            return layer != nullptr;
        case Qt::Key_F2:
            // Without a layer it is the look that is named.
            if (layer != nullptr) m_session.selectStep(headOf(*layer).id);
            Q_EMIT nameWanted();
            return true;
        default:
            return false;
    }
}

void BoardView::fillBandMenu(QMenu& menu, const std::string& layer) {
    const bool isFolded = m_options.foldedBands.contains(layer);
    const auto viewed = [this, layer](LayerView how) {
        return m_session.layerView() == how && m_session.viewedLayer() == layer;
    };
    const auto look = [&](const QString& words, LayerView how) {
        QAction* action =
            menu.addAction(words, this, [this, layer, how] { m_session.viewLayer(how, layer); });
        action->setCheckable(true);
        action->setChecked(viewed(how));
    };
    look(tr("Only this layer\tO"), LayerView::Only);
    look(tr("Its mask on the model\tM"), LayerView::Mask);
    look(tr("The surface up to here\t, ."), LayerView::UpTo);
    menu.addAction(tr("Look at the mask\tEnter"), this, [this] { m_session.toggleLookHere(); });
    menu.addSeparator();
    menu.addAction(tr("Bypass\tX"), this, [this] { m_session.bypassSelection(); });
    menu.addAction(isFolded ? tr("Show its fills\tF") : tr("Fold to its head\tF"), this,
                   [this, layer] { toggleBand(layer); });
    menu.addAction(tr("Rename…\tF2"), this, [this] { Q_EMIT nameWanted(); });
    menu.addAction(tr("Move under the layer below\tAlt+Left"), this, [this] { m_session.moveLayers(-1); });
    menu.addAction(tr("Move over the layer above\tAlt+Right"), this, [this] { m_session.moveLayers(1); });
    menu.addAction(tr("Duplicate\tCtrl+D"), this, [this] { m_session.duplicateSelection(); });
    menu.addAction(tr("Keep in the library…\tCtrl+Shift+P"), this, [this] { Q_EMIT packWanted(); });
    menu.addAction(tr("Remove\tDel"), this, [this] { m_session.removeSelection(); });
}

void BoardView::fillLayerMenu(QMenu& menu) {
    menu.addAction(tr("Layer: colour and values"), this, [this] { m_session.addLayer(); });
    menu.addAction(tr("Layer: stamps…"), this, [this] { Q_EMIT stampsWanted(); });
    for (const auto& set : m_session.boardProject().sets)
        menu.addAction(tr("Layer: %1").arg(QString::fromStdString(set->name)), this,
                       [this, id = set->id] { m_session.addLayerOf(id); });
    auto* made =
        menu.addAction(tr("Layer from these steps"), this, [this] { m_session.layerFromSelection(); });
    const Line* line = m_session.selectedLine();
    made->setEnabled(line != nullptr && !line->channel.empty() && !m_session.selection().empty() &&
                     m_session.selection().front() != line->steps.front()->id);
    const Line* layer = m_session.selectedLayer();
    if (layer == nullptr) return;
    menu.addSeparator();
    fillBandMenu(menu, layer->id);
}

std::string BoardView::noteOf(const std::string& id) const {
    if (const Line* line = m_session.boardProject().findLine(id)) return line->note;
    const auto place = m_session.boardProject().findStep(id);
    return place ? m_session.boardProject().stepAt(*place).note : std::string();
}

void BoardView::editNote(const std::string& id, QPoint at) {
    theme::editNote(*this, at, QString::fromStdString(noteOf(id)),
                    [this, id](const QString& note) { m_session.setNote(id, note); });
}

/// What is wrong at a step, for a fill also at what it lays.
QString BoardView::warningAt(const Step& shown, Kind kind) const {
    if (const QString own = warningOf(shown, kind, pictureOf(shown.id), m_session.steps()); !own.isEmpty())
        return own;
    const Line* laid = layerOf(shown).empty() ? nullptr : ownLineOf(m_session.boardProject(), shown);
    if (laid == nullptr) return {};
    for (const auto& step : laid->steps)
        if (const auto of = m_session.shownStep(step->id))
            if (const QString warning = warningOf(*of, laid->kind, pictureOf(step->id), m_session.steps());
                !warning.isEmpty())
                return warning;
    return {};
}

}  // namespace kettle
