#include "app/preview/flat_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/style/theme.h"

namespace kettle {

FlatView::FlatView(Session& session, PictureService& pictures, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_pictures(pictures),
      m_what(new QLabel(this)),
      m_componentChip(new QToolButton(this)),
      m_tileChip(new QToolButton(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
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
    for (const Choice& choice : componentChoices())
        menu->addAction(QString::fromStdString(choice.name), this,
                        [this, id = choice.id] { m_session.setShownComponent(id); });
    m_componentChip->setMenu(menu);
    m_what->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    bar->addWidget(m_what);
    bar->addWidget(m_componentChip);
    bar->addStretch(1);
    bar->addWidget(m_tileChip);
    connect(&session, &Session::projectChanged, this, &FlatView::ask);
    connect(&session, &Session::lookChanged, this, &FlatView::ask);
    connect(&session, &Session::viewChanged, this, &FlatView::ask);
    connect(&session, &Session::selectionChanged, this, &FlatView::ask);
    connect(&pictures, &PictureService::flatReady, this, [this](quint64 number, const QImage& picture) {
        if (number < m_shown) return;
        m_shown = number;
        m_picture = picture;
        update();
    });
}

void FlatView::refreshBar() {
    const auto shown = m_session.shownStep(m_session.selectedStep());
    const Line* line = m_session.selectedLine();
    const StepSpec* spec = shown ? m_session.steps().find(shown->type) : nullptr;
    const QString words =
        spec != nullptr && line != nullptr
            ? tr("%1 after %2").arg(QString::fromStdString(line->name), QString::fromStdString(spec->name))
            : tr("Flat");
    m_what->setText(m_isPicking ? tr("Click a place, or draw over an area · Esc leaves") : words);
    QString component = tr("All");
    for (const Choice& choice : componentChoices())
        if (choice.id == m_session.shownComponent()) component = QString::fromStdString(choice.name);
    m_componentChip->setText(component);
    const double scale = m_pixelsPerTile > 0 ? m_pixelsPerTile : std::min(width(), height());
    QString where = m_pixelsPerTile > 0 ? tr("%1 px a tile").arg(scale, 0, 'f', 0) : tr("fit");
    if (m_tiles.size() > 1 || !m_tile.isNull())
        where = QString::number(1001 + m_tile.x() + 10 * m_tile.y()) + QStringLiteral(" · ") + where;
    m_tileChip->setText(where);
}

QPointF FlatView::placeAt(QPointF pixel) const {
    const double scale = m_pixelsPerTile > 0 ? m_pixelsPerTile : std::min(width(), height());
    return {m_centre.x() + (pixel.x() - width() / 2.0) / scale,
            m_centre.y() - (pixel.y() - height() / 2.0) / scale};
}

void FlatView::ask() {
    refreshBar();
    const Line* line = m_session.selectedLine();
    if (line == nullptr || width() < 2 || height() < 2) {
        m_picture = {};
        update();
        return;
    }
    FlatRequest request;
    const LookHere surface = m_session.surfacePlace();
    request.line = m_picksSurface ? surface.line : line->id;
    request.after = m_picksSurface ? surface.after : m_session.selectedStep();
    request.component = m_session.shownComponent();
    const double scale = devicePixelRatioF();
    request.width = static_cast<int>(width() * scale);
    request.height = static_cast<int>(height() * scale);
    const QPointF a = placeAt({0, static_cast<double>(height())}),
                  b = placeAt({static_cast<double>(width()), 0});
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
    m_asked = m_pictures.askFlat(m_session.shownProject(), m_session.look(), request, m_session.resources(),
                                 std::move(edges));
}

void FlatView::setModel(std::shared_ptr<const RayScene> model) {
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

void FlatView::fillTileMenu(QMenu& menu) {
    menu.clear();
    menu.addAction(tr("Fit"), this, &FlatView::fit);
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
    m_centre = QPointF(m_tile) + QPointF(0.5, 0.5);
    ask();
}

void FlatView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (m_picture.isNull())
        p.fillRect(rect(), theme::kHairline);
    else
        p.drawImage(rect(), m_picture);
    const double scale = m_pixelsPerTile > 0 ? m_pixelsPerTile : std::min(width(), height());
    const auto pixelOf = [&](QPointF uv) {
        return QPointF(width() / 2.0 + (uv.x() - m_centre.x()) * scale,
                       height() / 2.0 - (uv.y() - m_centre.y()) * scale);
    };
    // What repeats around the one tile is paled, so that its edges are seen without a line over the picture.
    if (!m_picture.isNull()) {
        const QRectF tile(pixelOf(QPointF(m_tile) + QPointF(0, 1)), pixelOf(QPointF(m_tile) + QPointF(1, 0)));
        QPainterPath outside;
        outside.addRect(rect());
        QPainterPath inside;
        inside.addRect(tile);
        p.fillPath(outside.subtracted(inside), QColor(237, 237, 237, 190));
    }
    if (m_mark) {
        p.setRenderHint(QPainter::Antialiasing);
        const QPointF at =
            pixelOf({m_mark->x() - std::floor(m_mark->x()), m_mark->y() - std::floor(m_mark->y())});
        p.setPen(QPen(theme::kCard, 3));
        p.drawEllipse(at, 6, 6);
        p.setPen(QPen(theme::kInk, 1.2));
        p.drawEllipse(at, 6, 6);
    }
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(theme::font(10, true));
    for (std::size_t i = 0; i < m_pins.size(); ++i) {
        const QPointF at =
            pixelOf({m_pins[i].x() - std::floor(m_pins[i].x()), m_pins[i].y() - std::floor(m_pins[i].y())});
        p.setPen(QPen(theme::kCard, 1));
        p.setBrush(theme::kInk);
        p.drawEllipse(at, 8, 8);
        p.drawText(QRectF(at.x() - 8, at.y() - 8, 16, 16), Qt::AlignCenter, QString::number(i + 1));
    }
    p.setBrush(Qt::NoBrush);
    if (m_band) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kCard, 3));
        p.drawRect(m_band->normalized());
        p.setPen(QPen(theme::kInk, 1));
        p.drawRect(m_band->normalized());
    }
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kAccent, 2));
        p.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void FlatView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    Q_EMIT resized();
    ask();
}

void FlatView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    m_last = event->pos();
    if (m_isPicking) m_band = QRect(event->pos(), QSize(1, 1));
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

void FlatView::mouseReleaseEvent(QMouseEvent*) {
    if (!m_band) return;
    QRect drawn = std::exchange(m_band, std::nullopt)->normalized();
    // A click means the few pixels around it, so that one odd texel does not decide.
    if (drawn.width() < 4 || drawn.height() < 4) drawn = QRect(drawn.center() - QPoint(3, 3), QSize(7, 7));
    const QPointF low = placeAt(QPointF(drawn.left(), drawn.bottom() + 1)),
                  high = placeAt(QPointF(drawn.right() + 1, drawn.top()));
    stopPicking();
    Q_EMIT picked(QRectF(low, high));
}

void FlatView::mouseMoveEvent(QMouseEvent* event) {
    if (m_band) {
        m_band->setBottomRight(event->pos());
        return update();
    }
    if ((event->buttons() & (Qt::LeftButton | Qt::MiddleButton)) != 0) {
        const QPointF before = placeAt(m_last), now = placeAt(event->position());
        m_centre -= now - before;
        m_last = event->pos();
        if (m_pixelsPerTile <= 0) m_pixelsPerTile = std::min(width(), height());
        ask();
        return;
    }
    const QPointF uv = placeAt(event->position());
    Q_EMIT pointed(uv.x(), uv.y());
}

void FlatView::leaveEvent(QEvent*) {
    Q_EMIT pointerLeft();
}

void FlatView::zoomAt(QPointF pixel, double factor) {
    const QPointF kept = placeAt(pixel);
    const double now = m_pixelsPerTile > 0 ? m_pixelsPerTile : std::min(width(), height());
    m_pixelsPerTile = std::clamp(now * factor, 40.0, 200000.0);
    m_centre += kept - placeAt(pixel);
    ask();
}

void FlatView::wheelEvent(QWheelEvent* event) {
    zoomAt(event->position(), std::pow(1.2, event->angleDelta().y() / 120.0));
}

void FlatView::keyPressEvent(QKeyEvent* event) {
    const double step = 0.1 * std::min(width(), height()) /
                        (m_pixelsPerTile > 0 ? m_pixelsPerTile : std::min(width(), height()));
    // Arrows alone walk the board; with Shift they move the map.
    const bool moves = (event->modifiers() & Qt::ShiftModifier) != 0;
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            if (!moves) return QWidget::keyPressEvent(event);
            if (event->key() == Qt::Key_Left) m_centre.rx() -= step;
            if (event->key() == Qt::Key_Right) m_centre.rx() += step;
            if (event->key() == Qt::Key_Up) m_centre.ry() += step;
            if (event->key() == Qt::Key_Down) m_centre.ry() -= step;
            break;
        case Qt::Key_Plus:
            return zoomAt(QRectF(rect()).center(), 1.2);
        case Qt::Key_Minus:
            return zoomAt(QRectF(rect()).center(), 1 / 1.2);
        case Qt::Key_Home:
            return fit();
        default:
            return QWidget::keyPressEvent(event);
    }
    ask();
}

}  // namespace kettle
