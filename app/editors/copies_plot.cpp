#include "app/editors/copies_plot.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

/// As a display shows it: a colour, or a grey's number.
QColor shown(const ObjectColours& objects, std::size_t i) {
    const Vec3 c = objects.ofObjects[i];
    if (objects.kind == Kind::Colour) return QColor(QString::fromStdString(hexOfLinear(c.x, c.y, c.z)));
    const int grey = static_cast<int>(255 * std::clamp(c.x, 0.0f, 1.0f) + 0.5f);
    return {grey, grey, grey};
}

void paintDot(QPainter& p, QPointF at, const QColor& colour) {
    p.setPen(QPen(theme::kCard, 2));
    p.setBrush(colour);
    p.drawEllipse(at, 4.5, 4.5);
    p.setPen(QPen(theme::kInk, 0.8));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, 4.5, 4.5);
}

}  // namespace

CopiesPlot::CopiesPlot(QWidget* parent) : QWidget(parent) {
    setFixedHeight(kDial + 8);
    setAccessibleName(tr("Where the copies land"));
    setToolTip(tr("Every object by hue (around) and saturation (outwards). Greys by their number."));
}

void CopiesPlot::setObjects(std::shared_ptr<const ObjectColours> objects) {
    m_objects = std::move(objects);
    setFixedHeight(m_objects && m_objects->kind != Kind::Colour ? 40 : kDial + 8);
    update();
}

void CopiesPlot::paintDial(QPainter& p) const {
    const QPointF middle(width() / 2.0, height() / 2.0);
    const double radius = kDial / 2.0 - 4;
    QConicalGradient hues(middle, 0);
    // Muted, so that the dots are what is seen.
    for (int i = 0; i <= 12; ++i) hues.setColorAt(i / 12.0, QColor::fromHsv(i % 12 * 30, 90, 220));
    p.setPen(QPen(QBrush(hues), 6));
    p.setBrush(theme::kCard);
    p.drawEllipse(middle, radius, radius);
    p.setPen(QPen(theme::kEdge, 1));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(middle, radius / 2, radius / 2);
    for (std::size_t i = 0; i < m_objects->ofObjects.size(); ++i) {
        const Vec3& own = m_objects->ofObjects[i];
        const Hsv hsv = hsvOf({linearToSrgb(own.x), linearToSrgb(own.y), linearToSrgb(own.z)});
        const double angle = static_cast<double>(hsv.hue) * 3.14159265358979 / 180,
                     out = (radius - 6) * static_cast<double>(std::clamp(hsv.saturation, 0.0f, 1.0f));
        paintDot(p, middle + QPointF(std::cos(angle) * out, -std::sin(angle) * out), shown(*m_objects, i));
    }
}

void CopiesPlot::paintTrack(QPainter& p) const {
    const QRectF track(8, height() / 2.0 - 4, width() - 16.0, 8);
    QLinearGradient greys(track.topLeft(), track.topRight());
    greys.setColorAt(0, Qt::black);
    greys.setColorAt(1, Qt::white);
    p.setPen(QPen(theme::kEdge, 1));
    p.setBrush(greys);
    p.drawRoundedRect(track, 4, 4);
    for (std::size_t i = 0; i < m_objects->ofObjects.size(); ++i) {
        const auto v = static_cast<double>(std::clamp(m_objects->ofObjects[i].x, 0.0f, 1.0f));
        paintDot(p, {track.left() + v * track.width(), track.center().y()}, shown(*m_objects, i));
    }
}

void CopiesPlot::paintEvent(QPaintEvent*) {
    if (!m_objects) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    m_objects->kind == Kind::Colour ? paintDial(p) : paintTrack(p);
}

CopiesStrip::CopiesStrip(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("All objects in their colours"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setCursor(Qt::PointingHandCursor);
}

void CopiesStrip::setObjects(std::shared_ptr<const ObjectColours> objects, std::vector<int> numbers) {
    const std::size_t before = m_objects ? m_objects->ofObjects.size() : 0;
    m_objects = std::move(objects);
    m_numbers = std::move(numbers);
    if (m_objects && m_objects->ofObjects.size() != before) updateGeometry();
    update();
}

void CopiesStrip::setChosen(std::set<std::string> names) {
    m_chosen = std::move(names);
    update();
}

int CopiesStrip::cell() const {
    const std::size_t count = m_objects ? m_objects->ofObjects.size() : 0;
    return count <= 60 ? 20 : count <= 300 ? 12 : count <= 2000 ? 6 : 3;
}

int CopiesStrip::columns(int width) const {
    return std::max(1, width / cell());
}

int CopiesStrip::heightForWidth(int width) const {
    const int count = m_objects ? static_cast<int>(m_objects->ofObjects.size()) : 0;
    const int across = columns(width);
    // Ten thousand objects still leave room for the controls.
    return std::min(160, std::max(1, (count + across - 1) / across) * cell());
}

QRect CopiesStrip::rectOf(std::size_t index) const {
    const int i = static_cast<int>(index), across = columns(width()), side = cell(), gap = side > 6 ? 1 : 0;
    return {i % across * side, i / across * side, side - gap, side - gap};
}

int CopiesStrip::indexAt(QPoint at) const {
    if (!m_objects || at.x() < 0 || at.y() < 0 || at.x() / cell() >= columns(width())) return -1;
    const int index = at.y() / cell() * columns(width()) + at.x() / cell();
    return index < static_cast<int>(m_objects->ofObjects.size()) ? index : -1;
}

void CopiesStrip::paintEvent(QPaintEvent*) {
    if (!m_objects) return;
    QPainter p(this);
    for (std::size_t i = 0; i < m_objects->ofObjects.size(); ++i) {
        const QRect r = rectOf(i);
        if (r.top() > height()) break;
        p.fillRect(r, shown(*m_objects, i));
        if (!m_chosen.contains(m_objects->objects[i].name)) continue;
        p.setPen(QPen(theme::kAccent, 2));
        p.drawRect(r.adjusted(1, 1, -1, -1));
    }
}

void CopiesStrip::mousePressEvent(QMouseEvent* event) {
    const int index = indexAt(event->pos());
    if (index >= 0)
        Q_EMIT chosen(QString::fromStdString(m_objects->objects[static_cast<std::size_t>(index)].name),
                      (event->modifiers() & Qt::ControlModifier) != 0);
}

bool CopiesStrip::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int index = indexAt(help->pos());
    if (index < 0) {
        QToolTip::hideText();
        return true;
    }
    const auto i = static_cast<std::size_t>(index);
    const QString name = QString::fromStdString(m_objects->objects[i].name);
    QToolTip::showText(help->globalPos(),
                       i < m_numbers.size() ? tr("%1, number %2").arg(name).arg(m_numbers[i]) : name, this);
    return true;
}

}  // namespace kettle
