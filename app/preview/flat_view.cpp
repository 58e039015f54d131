#include "app/preview/flat_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace kettle {

FlatView::FlatView(Session& session, PictureService& pictures, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_pictures(pictures),
      m_frameHand(session, {[this](QPointF uv) { return pixelOf(uv); },
                            [this](QPointF pixel) { return std::optional(placeAt(pixel)); }}),
      m_overlay(session),
      m_what(new QLabel(this)),
      m_componentChip(new QToolButton(this)),
      m_tileChip(new QToolButton(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);  // nothing behind it is painted for nothing
    setMinimumSize(200, 200);
    setAccessibleName(tr("Flat"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    auto* bar = new QHBoxLayout;
    bar->setSpacing(6);
    column->addLayout(bar);
    column->addStretch(1);
    m_what->setObjectName(QStringLiteral("chip"));
    for (QToolButton* chip : {m_componentChip, m_tileChip}) {
        chip->setObjectName(QStringLiteral("chip"));
        chip->setPopupMode(QToolButton::InstantPopup);
    }
    m_tileChip->setAccessibleName(tr("Tile"));
    auto* tiles = new QMenu(m_tileChip);
    connect(tiles, &QMenu::aboutToShow, this, [this, tiles] { fillTileMenu(*tiles); });
    m_tileChip->setMenu(tiles);
    m_componentChip->setAccessibleName(tr("Component"));
    auto* menu = new QMenu(m_componentChip);
    menu->addAction(tr("All"), this, [this] { m_session.setShownComponent({}); });
    for (const Option<Component>& each : kComponents)
        menu->addAction(QString::fromLatin1(each.name), this,
                        [this, component = each.value] { m_session.setShownComponent(component); });
    menu->addSeparator();
    auto* clipped = menu->addAction(tr("Mark what lies beyond 0 and 1"), this, &FlatView::markClipped);
    clipped->setCheckable(true);
    m_componentChip->setMenu(menu);
    m_what->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    bar->addWidget(m_what);
    bar->addWidget(m_componentChip);
    bar->addStretch(1);
    bar->addWidget(m_tileChip);
    connect(&session, &Session::projectChanged, this, &FlatView::ask);
    connect(&session, &Session::mapsArrived, this, &FlatView::ask);
    connect(&session, &Session::lookChanged, this, &FlatView::ask);
    connect(&session, &Session::viewChanged, this, &FlatView::ask);
    connect(&session, &Session::selectionChanged, this, &FlatView::ask);
    connect(&pictures, &PictureService::flatReady, this,
            [this](quint64 number, const QImage& picture, const ComparedPtr& compared, const auto& stamps) {
                if (number < m_shown) return;
                m_shown = number;
                m_picture = picture;
                m_stamps = stamps;
                m_overlay.setCompared(compared);
                update();
                // The first picture of a map is asked for before anybody knows the map's size.
                if (m_askedWithoutSize && !texels().isEmpty()) ask();
            });
}

void FlatView::refreshBar() {
    const auto shown = m_session.shownStep(m_session.selectedStep());
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = shown ? m_session.steps().find(shown->type) : nullptr;
    QString words =
        spec != nullptr && line != nullptr
            ? tr("%1 after %2").arg(QString::fromStdString(line->name), QString::fromStdString(spec->name))
            : tr("Flat");
    if (const std::string& object = m_session.project().view.object; !object.empty())
        words += tr(" · %1").arg(QString::fromStdString(object));
    m_what->setText(m_isPicking ? tr("Click a place, or draw over an area · Esc leaves") : words);
    QString component = tr("All");
    for (const Option<Component>& each : kComponents)
        if (each.value == m_session.shownComponent()) component = QString::fromLatin1(each.name);
    m_componentChip->setText(component);
    QString where = m_pixelsPerTile > 0 ? tr("%1 px a tile").arg(scale(), 0, 'f', 0) : tr("fit");
    if (m_isAll)
        where = tr("all tiles");
    else if (m_repeats)
        where = tr("3 × 3");
    else if (m_tiles.size() > 1 || !m_tile.isNull())
        where = QString::number(1001 + m_tile.x() + 10 * m_tile.y()) + QStringLiteral(" · ") + where;
    m_tileChip->setText(where);
}

double FlatView::scale() const {
    if (m_pixelsPerTile > 0) return m_pixelsPerTile;
    const QSize one = m_overlay.pictureSize(size());
    const int least = std::min(one.width(), one.height());
    if (!m_isAll) return m_repeats ? least / 3.0 : least;
    int columns = 1, rows = 1;
    for (const int tile : m_tiles)
        columns = std::max(columns, (tile - 1001) % 10 + 1), rows = std::max(rows, (tile - 1001) / 10 + 1);
    return std::min(one.width() / static_cast<double>(columns), one.height() / static_cast<double>(rows));
}

QPointF FlatView::placeAt(QPointF pixel) const {
    const QSize one = m_overlay.pictureSize(size());
    const QPointF in = m_overlay.pictureAt(pixel, size());
    return {m_centre.x() + (in.x() - 0.5) * one.width() / scale(),
            m_centre.y() - (in.y() - 0.5) * one.height() / scale()};
}

QPointF FlatView::pixelOf(QPointF uv) const {
    return {width() / 2.0 + (uv.x() - m_centre.x()) * scale(),
            height() / 2.0 - (uv.y() - m_centre.y()) * scale()};
}

QSize FlatView::texels() const {
    const Line* line = m_session.selectedLine();
    if (line == nullptr || line->steps.empty()) return {};
    const TextureSet* set = m_session.project().findSet(line->steps.front()->set);
    if (set == nullptr) return {};
    const Map* map = findMap(*set, line->steps.front()->role);
    if (map == nullptr) return {};
    const auto info = m_session.resources().knownInfoOf(*set, *map);
    return info ? QSize(info->width, info->height) : QSize();
}

void FlatView::ask() {
    refreshBar();
    const Line* line = m_session.selectedLine();
    if (line == nullptr || width() < 2 || height() < 2) {
        m_picture = {};
        m_stamps = {};
        update();
        return;
    }
    FlatRequest request;
    const LookHere surface = m_session.surfacePlace();
    request.line = m_picksSurface ? surface.line : line->id;
    request.after = m_picksSurface ? surface.after : m_session.selectedStep();
    request.component = m_session.shownComponent();
    request.stampsOf = m_session.selectedStep();
    const double ratio = devicePixelRatioF();
    const QSize one = m_overlay.pictureSize(size());
    request.width = static_cast<int>(one.width() * ratio);
    request.height = static_cast<int>(one.height() * ratio);
    const QPointF half(one.width() / scale() / 2, one.height() / scale() / 2);
    const QPointF a = m_centre - half, b = m_centre + half;
    request.marksClipped = m_marksClipped;
    // From a dozen screen pixels on, a map's pixel is shown as the square that it is.
    const QSize map = texels();
    m_askedWithoutSize = map.isEmpty();
    if (!map.isEmpty() && scale() / map.width() >= 12)
        request.texelsAcross = map.width(), request.texelsUp = map.height();
    request.left = a.x(), request.bottom = a.y(), request.right = b.x(), request.top = b.y();
    UvEdges edges;
    const Line* shown = m_session.project().findLine(request.line);
    if (m_hasEdges && m_model && shown != nullptr) {
        edges.scene = m_model;
        const std::vector<int> ofPart = surfacesOfParts(m_session.project(), m_model->mesh().parts);
        const std::vector<std::string> ids = surfaceIds(m_session.project());
        for (const int of : ofPart)
            edges.isShown.push_back(shown->surface.empty() ||
                                    (of >= 0 && ids[static_cast<std::size_t>(of)] == shown->surface));
    }
    std::optional<FlatSide> other;
    if (const auto side = m_session.otherSide()) other = FlatSide{side->project, side->look};
    m_asked = m_pictures.askFlat(m_session.shownProject(), m_session.look(), request, m_session.resources(),
                                 std::move(edges), std::move(other));
}

void FlatView::setModel(std::shared_ptr<const RayScene> model) {
    m_squareSize = model != nullptr ? centimetresOfSquare(model->mesh()) : 0;
    m_model = std::move(model);
    m_tiles = m_model ? m_model->mesh().tiles() : std::vector<int>{};
    ask();
}

void FlatView::showTile(int tile) {
    m_tile = {(tile - 1001) % 10, (tile - 1001) / 10};
    fit();
}

void FlatView::showEdges(bool on) {
    m_hasEdges = on;
    ask();
}

void FlatView::showRepeats(bool on) {
    m_repeats = on;
    m_isAll = false;
    m_pixelsPerTile = 0;
    m_centre = QPointF(m_tile) + QPointF(0.5, 0.5);
    ask();
}

void FlatView::showAllTiles() {
    m_isAll = true;
    m_repeats = false;
    m_pixelsPerTile = 0;
    int columns = 1, rows = 1;
    for (const int tile : m_tiles)
        columns = std::max(columns, (tile - 1001) % 10 + 1), rows = std::max(rows, (tile - 1001) / 10 + 1);
    m_centre = {columns / 2.0, rows / 2.0};
    ask();
}

void FlatView::markClipped(bool on) {
    m_marksClipped = on;
    ask();
}

void FlatView::fillTileMenu(QMenu& menu) {
    menu.clear();
    menu.addAction(tr("Fit"), this, &FlatView::fit);
    menu.addAction(tr("With its repeats, 3 × 3"), this, [this] { showRepeats(true); });
    if (m_tiles.size() > 1) menu.addAction(tr("All tiles"), this, &FlatView::showAllTiles);
    auto* edges = menu.addAction(tr("The model's edges"), this, [this] { showEdges(!m_hasEdges); });
    edges->setCheckable(true);
    edges->setChecked(m_hasEdges);
    edges->setEnabled(m_model != nullptr);
    menu.addSeparator();
    for (const int tile : m_tiles.empty() ? std::vector<int>{1001} : m_tiles) {
        auto* action = menu.addAction(tr("Tile %1").arg(tile), this, [this, tile] { showTile(tile); });
        action->setCheckable(true);
        action->setChecked(tile == 1001 + m_tile.x() + 10 * m_tile.y());
    }
}

void FlatView::setMark(std::optional<QPointF> uv) {
    m_mark = uv;
    update();
}

void FlatView::fit() {
    m_pixelsPerTile = 0;
    m_repeats = m_isAll = false;
    m_centre = QPointF(m_tile) + QPointF(0.5, 0.5);
    ask();
}

void FlatView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    Q_EMIT resized();
    ask();
}

void FlatView::setPins(std::vector<QPointF> places) {
    m_pins = std::move(places);
    update();
}

void FlatView::startPicking(bool ofSurface) {
    m_isPicking = true;
    m_picksSurface = ofSurface;
    setCursor(Qt::CrossCursor);
    setFocus();
    ask();
}

void FlatView::stopPicking() {
    if (!m_isPicking) return;
    m_isPicking = m_picksSurface = false;
    m_band.reset();
    unsetCursor();
    ask();
    Q_EMIT pickingStopped();
}

}  // namespace kettle
