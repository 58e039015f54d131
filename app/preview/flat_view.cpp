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
      m_zoomChip(new QLabel(this)),
      m_componentChip(new QToolButton(this)) {
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
    for (QLabel* chip : {m_what, m_zoomChip}) chip->setObjectName(QStringLiteral("chip"));
    m_componentChip->setObjectName(QStringLiteral("chip"));
    m_componentChip->setPopupMode(QToolButton::InstantPopup);
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
    bar->addWidget(m_zoomChip);
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
    m_zoomChip->setText(m_pixelsPerTile > 0 ? tr("%1 px a tile").arg(scale, 0, 'f', 0) : tr("fit"));
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
    m_asked = m_pictures.askFlat(m_session.shownProject(), m_session.look(), request, m_session.resources());
}

void FlatView::setMark(std::optional<QPointF> uv) {
    m_mark = uv;
    update();
}

void FlatView::fit() {
    m_pixelsPerTile = 0;
    m_centre = {0.5, 0.5};
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
        const QRectF tile(pixelOf({0, 1}), pixelOf({1, 0}));
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
    switch (event->key()) {
        case Qt::Key_Escape:
            return m_isPicking ? stopPicking() : QWidget::keyPressEvent(event);
        case Qt::Key_Left:
            m_centre.rx() -= step;
            break;
        case Qt::Key_Right:
            m_centre.rx() += step;
            break;
        case Qt::Key_Up:
            m_centre.ry() += step;
            break;
        case Qt::Key_Down:
            m_centre.ry() -= step;
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
