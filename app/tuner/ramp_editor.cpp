#include "app/tuner/ramp_editor.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"
#include "app/tuner/colour_field.h"
#include "app/tuner/number_field.h"
#include "app/tuner/spread_plot.h"
#include "core/colour/encoding.h"
#include "core/exchange/palette.h"

namespace kettle {
namespace {

constexpr int kSpreadHeight = 34, kRampHeight = 22, kStopsHeight = 18, kCurveHeight = 132;
constexpr double kDragOff = 36;  // pixels outside the strip that take a stop away

void sortStops(Ramp& ramp, int& chosen) {
    const RampStop kept = ramp.stops[static_cast<std::size_t>(chosen)];
    std::stable_sort(ramp.stops.begin(), ramp.stops.end(),
                     [](const RampStop& a, const RampStop& b) { return a.position < b.position; });
    for (std::size_t i = 0; i < ramp.stops.size(); ++i)
        if (ramp.stops[i] == kept) chosen = static_cast<int>(i);
}

QColor shownColour(Vec3 linear, bool isGrey) {
    // A grey ramp's numbers are raw and are shown as they stand.
    if (isGrey) return QColor(toByte(linear.x), toByte(linear.x), toByte(linear.x));
    return QColor(toByte(linearToSrgb(linear.x)), toByte(linearToSrgb(linear.y)),
                  toByte(linearToSrgb(linear.z)));
}

}  // namespace

RampStrip::RampStrip(bool isGrey, QWidget* parent) : QWidget(parent), m_isGrey(isGrey) {
    setFixedHeight(isGrey ? kCurveHeight + kRampHeight + 6 : kSpreadHeight + kRampHeight + kStopsHeight);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(isGrey ? tr("Ramp curve") : tr("Ramp stops"));
    setToolTip(tr("Click to add a stop, drag to move it, drag it off or press Delete to remove it."));
}

QRectF RampStrip::field() const {
    const QRectF r = QRectF(rect()).adjusted(8, 0, -8, 0);
    return m_isGrey ? QRectF(r.left(), 7, r.width(), kCurveHeight - 14)
                    : QRectF(r.left(), kSpreadHeight, r.width(), kRampHeight);
}

float RampStrip::positionAt(double x) const {
    return static_cast<float>(std::clamp((x - field().left()) / field().width(), 0.0, 1.0));
}
float RampStrip::valueAt(double y) const {
    return static_cast<float>(std::clamp(1 - (y - field().top()) / field().height(), 0.0, 1.0));
}

QPointF RampStrip::handleAt(int stop) const {
    const RampStop& s = m_ramp.stops[static_cast<std::size_t>(stop)];
    const QRectF f = field();
    const double x = f.left() + f.width() * static_cast<double>(s.position);
    if (!m_isGrey) return {x, f.bottom() + kStopsHeight / 2.0};
    return {x, f.bottom() - f.height() * std::clamp(static_cast<double>(s.colour.x), 0.0, 1.0)};
}

int RampStrip::stopAt(QPointF at) const {
    int best = -1;
    double nearest = 9;
    for (int i = 0; i < static_cast<int>(m_ramp.stops.size()); ++i) {
        const QPointF d = handleAt(i) - at;
        const double distance = std::hypot(d.x(), d.y());
        if (distance < nearest) nearest = distance, best = i;
    }
    return best;
}

void RampStrip::setRamp(const Ramp& ramp) {
    m_ramp = ramp;
    m_chosen = std::clamp(m_chosen, 0, std::max(0, static_cast<int>(ramp.stops.size()) - 1));
    update();
}

void RampStrip::setSpread(std::optional<Spread> in) {
    m_spread = std::move(in);
    update();
}

void RampStrip::setMark(std::optional<double> position) {
    if (position == m_mark) return;
    m_mark = position;
    update();
}

void RampStrip::choose(int stop) {
    m_chosen = stop;
    update();
    Q_EMIT chosenChanged();
}

void RampStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF f = field();
    const RampCurve curve = compileRamp(m_ramp);
    const QRectF plot = m_isGrey ? f : QRectF(f.left(), 2, f.width(), kSpreadHeight - 4);
    p.setPen(theme::kHairline);
    p.setBrush(theme::kCard);
    p.drawRect(m_isGrey ? QRectF(f.adjusted(-0.5, -0.5, 0.5, 0.5)) : plot.adjusted(-0.5, 0, 0.5, 2));
    if (m_spread) {
        QPolygonF spread = spreadCurve(*m_spread, plot);
        spread << plot.bottomRight() << plot.bottomLeft();
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(0xD2, 0xD2, 0xD2));
        p.drawPolygon(spread);
    }
    const QRectF strip = m_isGrey ? QRectF(f.left(), kCurveHeight + 2, f.width(), kRampHeight) : f;
    for (int x = 0; x < static_cast<int>(strip.width()); ++x)
        p.fillRect(QRectF(strip.left() + x, strip.top(), 1.5, strip.height()),
                   shownColour(rampAt(curve, static_cast<float>((x + 0.5) / strip.width())), m_isGrey));
    p.setPen(theme::kEdge);
    p.setBrush(Qt::NoBrush);
    p.drawRect(strip);
    if (m_isGrey) {
        QPolygonF line;
        for (int x = 0; x <= static_cast<int>(f.width()); ++x) {
            const double v = static_cast<double>(rampAt(curve, static_cast<float>(x / f.width())).x);
            line << QPointF(f.left() + x, f.bottom() - f.height() * std::clamp(v, 0.0, 1.0));
        }
        p.setPen(QPen(theme::kInk, 1.5));
        p.drawPolyline(line);
    }
    for (int i = 0; i < static_cast<int>(m_ramp.stops.size()); ++i) {
        const QPointF h = handleAt(i);
        const bool chosen = i == m_chosen;
        p.setPen(QPen(chosen ? theme::kAccent : theme::kEdge, chosen ? 2 : 1));
        p.setBrush(shownColour(m_ramp.stops[static_cast<std::size_t>(i)].colour, m_isGrey));
        if (m_isGrey) {
            p.drawEllipse(h, 5, 5);
        } else {
            // A drop that hangs from the ramp at its place.
            QPainterPath drop;
            drop.moveTo(h.x(), f.bottom() + 1);
            drop.lineTo(h.x() + 6, f.bottom() + 8);
            drop.lineTo(h.x() + 6, f.bottom() + 16);
            drop.lineTo(h.x() - 6, f.bottom() + 16);
            drop.lineTo(h.x() - 6, f.bottom() + 8);
            drop.closeSubpath();
            p.drawPath(drop);
        }
    }
    if (m_mark) {
        const double x = f.left() + std::clamp(*m_mark, 0.0, 1.0) * f.width();
        p.setPen(QPen(theme::kCard, 3));
        p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
        p.setPen(QPen(theme::kInk, 1));
        p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
    }
}

void RampStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    Q_EMIT gestureStarted();
    m_dragging = true;
    int stop = stopAt(event->position());
    if (stop < 0) {
        const float x = positionAt(event->position().x());
        const RampCurve curve = compileRamp(m_ramp);
        Vec3 colour = rampAt(curve, x);
        if (m_isGrey) {
            const float v = valueAt(event->position().y());
            colour = event->position().y() <= kCurveHeight ? Vec3{v, v, v} : colour;
        }
        m_ramp.stops.push_back({x, colour});
        stop = static_cast<int>(m_ramp.stops.size()) - 1;
        m_chosen = stop;
        sortStops(m_ramp, m_chosen);
        Q_EMIT edited(true);
    } else {
        m_chosen = stop;
    }
    update();
    Q_EMIT chosenChanged();
}

void RampStrip::mouseMoveEvent(QMouseEvent* event) {
    if (!m_dragging) {
        setCursor(stopAt(event->position()) >= 0 ? Qt::PointingHandCursor : Qt::CrossCursor);
        return;
    }
    const double outside = std::max({-event->position().y(), event->position().y() - height(), 0.0});
    if (outside > kDragOff && !m_draggedOff && m_ramp.stops.size() > 1) {
        m_draggedOff = m_ramp.stops[static_cast<std::size_t>(m_chosen)];
        m_ramp.stops.erase(m_ramp.stops.begin() + m_chosen);
        m_chosen = std::min(m_chosen, static_cast<int>(m_ramp.stops.size()) - 1);
    } else if (outside <= kDragOff && m_draggedOff) {
        m_ramp.stops.push_back(*m_draggedOff);
        m_chosen = static_cast<int>(m_ramp.stops.size()) - 1;
        m_draggedOff.reset();
        sortStops(m_ramp, m_chosen);
    } else if (!m_draggedOff) {
        RampStop& stop = m_ramp.stops[static_cast<std::size_t>(m_chosen)];
        stop.position = positionAt(event->position().x());
        if (m_isGrey) {
            const float v = valueAt(event->position().y());
            stop.colour = {v, v, v};
        }
        sortStops(m_ramp, m_chosen);
    }
    update();
    Q_EMIT edited(true);
    Q_EMIT chosenChanged();
}

void RampStrip::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !m_dragging) return;
    m_dragging = false;
    m_draggedOff.reset();
    Q_EMIT gestureEnded();
}

void RampStrip::keyPressEvent(QKeyEvent* event) {
    const int count = static_cast<int>(m_ramp.stops.size());
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
        choose(std::clamp(m_chosen + (event->key() == Qt::Key_Right ? 1 : -1), 0, count - 1));
    } else if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && count > 1) {
        m_ramp.stops.erase(m_ramp.stops.begin() + m_chosen);
        m_chosen = std::min(m_chosen, count - 2);
        update();
        Q_EMIT edited(false);
        Q_EMIT chosenChanged();
    } else {
        QWidget::keyPressEvent(event);
    }
}

RampEditor::RampEditor(bool isGrey, QWidget* parent)
    : QWidget(parent),
      m_isGrey(isGrey),
      m_strip(new RampStrip(isGrey, this)),
      m_position(new NumberField({}, this)),
      m_interpolation(new QComboBox(this)),
      m_count(new QLabel(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(m_strip);

    auto* stop = new QHBoxLayout;
    stop->setSpacing(8);
    m_count->setObjectName(QStringLiteral("quiet"));
    m_position->setAccessibleName(tr("Position of the stop"));
    m_position->setToolTip(tr("Where the chosen stop lies, 0 to 1"));
    m_position->setFixedWidth(60);
    const auto quiet = [this](const QString& words) {
        auto* label = new QLabel(words, this);
        label->setObjectName(QStringLiteral("quiet"));
        return label;
    };
    stop->addWidget(m_count, 1);
    stop->addWidget(quiet(tr("at")));
    stop->addWidget(m_position);
    if (isGrey) {
        m_value = new NumberField({}, this);
        m_value->setAccessibleName(tr("Value of the stop"));
        m_value->setToolTip(tr("What the chosen stop gives"));
        m_value->setFixedWidth(60);
        stop->addWidget(quiet(tr("gives")));
        stop->addWidget(m_value);
        connect(m_value, &NumberField::edited, this, [this](double v, bool g) {
            change(
                [&](Ramp& r) {
                    const auto grey = static_cast<float>(v);
                    r.stops[static_cast<std::size_t>(m_strip->chosen())].colour = {grey, grey, grey};
                },
                g);
        });
        connect(m_value, &NumberField::gestureStarted, this, &RampEditor::gestureStarted);
        connect(m_value, &NumberField::gestureEnded, this, &RampEditor::gestureEnded);
    }
    column->addLayout(stop);
    if (!isGrey) {
        m_colour = new ColourField(this);
        column->addWidget(m_colour);
        connect(m_colour, &ColourField::edited, this, [this](const Colour& c, bool g) {
            change(
                [&](Ramp& r) {
                    r.stops[static_cast<std::size_t>(m_strip->chosen())].colour = {c.r, c.g, c.b};
                },
                g);
        });
        connect(m_colour, &ColourField::gestureStarted, this, &RampEditor::gestureStarted);
        connect(m_colour, &ColourField::gestureEnded, this, &RampEditor::gestureEnded);
    }

    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    auto* flip = new QPushButton(tr("Flip"), this);
    flip->setToolTip(tr("Turns the ramp end for end"));
    auto* spread = new QPushButton(tr("Spread evenly"), this);
    spread->setToolTip(tr("Puts the stops at equal distances from 0 to 1"));
    auto* from = new QPushButton(tr("Take from…"), this);
    from->setObjectName(QStringLiteral("ramp-from"));
    from->setToolTip(tr("A shipped ramp, copied colours, or the picture's own tones"));
    connect(from, &QPushButton::clicked, this,
            [this, from] { makePresetMenu(from)->popup(from->mapToGlobal(QPoint(0, from->height() + 2))); });
    buttons->addWidget(flip);
    buttons->addWidget(spread);
    buttons->addWidget(from);
    buttons->addStretch(1);
    column->addLayout(buttons);

    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(6);
    const std::pair<const char*, QString> shapes[] = {{"hold", tr("hold")},
                                                      {"linear", tr("straight")},
                                                      {"smooth", tr("smooth")},
                                                      {"spline", tr("spline")},
                                                      {"soft-spline", tr("soft spline")}};
    for (const auto& [id, name] : shapes) m_interpolation->addItem(name, QString::fromLatin1(id));
    m_interpolation->setAccessibleName(tr("Between stops"));
    grid->addWidget(new QLabel(tr("Between stops"), this), 0, 0);
    grid->addWidget(m_interpolation, 0, 1);
    connect(m_interpolation, &QComboBox::activated, this, [this](int i) {
        change([&](Ramp& r) {
            interpolationOf(m_interpolation->itemData(i).toString().toStdString(), r.interpolation);
        });
    });
    if (!isGrey) {
        m_mixing = new QComboBox(this);
        const std::pair<const char*, QString> spaces[] = {{"linear", tr("linear light")},
                                                          {"encoded", tr("display-encoded")},
                                                          {"hsv-short", tr("HSV, short way")},
                                                          {"hsv-long", tr("HSV, long way")},
                                                          {"oklab", tr("perceptual (OKLab)")}};
        for (const auto& [id, name] : spaces) m_mixing->addItem(name, QString::fromLatin1(id));
        m_mixing->setAccessibleName(tr("Mixing"));
        grid->addWidget(new QLabel(tr("Mixing"), this), 1, 0);
        grid->addWidget(m_mixing, 1, 1);
        connect(m_mixing, &QComboBox::activated, this, [this](int i) {
            change([&](Ramp& r) { mixingOf(m_mixing->itemData(i).toString().toStdString(), r.mixing); });
        });
    }
    grid->setColumnStretch(1, 1);
    column->addLayout(grid);

    connect(flip, &QPushButton::clicked, this, [this] {
        change([](Ramp& r) {
            for (RampStop& s : r.stops) s.position = 1 - s.position;
            std::reverse(r.stops.begin(), r.stops.end());
        });
    });
    connect(spread, &QPushButton::clicked, this, [this] {
        change([](Ramp& r) {
            const auto last = static_cast<float>(std::max<std::size_t>(r.stops.size(), 2) - 1);
            for (std::size_t i = 0; i < r.stops.size(); ++i)
                r.stops[i].position = static_cast<float>(i) / last;
        });
    });
    connect(m_strip, &RampStrip::gestureStarted, this, &RampEditor::gestureStarted);
    connect(m_strip, &RampStrip::gestureEnded, this, &RampEditor::gestureEnded);
    connect(m_strip, &RampStrip::edited, this, [this](bool g) { Q_EMIT edited(m_strip->ramp(), g); });
    connect(m_strip, &RampStrip::chosenChanged, this, &RampEditor::showChosen);
    connect(m_position, &NumberField::gestureStarted, this, &RampEditor::gestureStarted);
    connect(m_position, &NumberField::gestureEnded, this, &RampEditor::gestureEnded);
    connect(m_position, &NumberField::edited, this, [this](double v, bool g) {
        change(
            [&](Ramp& r) {
                r.stops[static_cast<std::size_t>(m_strip->chosen())].position =
                    static_cast<float>(std::clamp(v, 0.0, 1.0));
            },
            g);
    });
}

QMenu* RampEditor::makePresetMenu(QWidget* parent) {
    auto* menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const RampPreset& preset : rampPresets(m_isGrey))
        menu->addAction(QString::fromStdString(preset.name), this,
                        [this, ramp = preset.ramp] { take(ramp); });
    if (m_isGrey) return menu;
    menu->addSeparator();
    const auto copied = coloursIn(QApplication::clipboard()->text().toStdString());
    auto* paste = menu->addAction(
        copied.empty() ? tr("Copied colours (none are copied)") : tr("%1 copied colours").arg(copied.size()),
        this, [this, copied] { take(rampOfColours(copied)); });
    paste->setEnabled(!copied.empty());
    const auto tones = m_tonesOf ? m_tonesOf() : std::vector<std::uint32_t>{};
    auto* picture = menu->addAction(tr("The tones that come in"), this, [this, tones] {
        // Five of the ribbon's rows, dark to light: what the ribbon shows as a ramp.
        std::vector<Vec3> colours;
        for (int i = 4; i >= 0; --i) {
            const std::uint32_t c = tones[static_cast<std::size_t>(i) * (tones.size() - 1) / 4];
            colours.push_back({srgbTable()[c >> 16 & 255], srgbTable()[c >> 8 & 255], srgbTable()[c & 255]});
        }
        take(rampOfColours(colours));
    });
    picture->setEnabled(!tones.empty());
    return menu;
}

void RampEditor::take(const Ramp& ramp) {
    m_strip->setRamp(ramp);
    m_strip->choose(0);
    setRamp(ramp);
    Q_EMIT edited(ramp, false);
}

void RampEditor::change(const std::function<void(Ramp&)>& edit, bool inGesture) {
    Ramp ramp = m_strip->ramp();
    if (ramp.stops.empty()) return;
    edit(ramp);
    std::stable_sort(ramp.stops.begin(), ramp.stops.end(),
                     [](const RampStop& a, const RampStop& b) { return a.position < b.position; });
    m_strip->setRamp(ramp);
    Q_EMIT edited(ramp, inGesture);
    showChosen();
}

void RampEditor::setRamp(const Ramp& ramp) {
    if (!(m_strip->ramp() == ramp)) m_strip->setRamp(ramp);
    m_interpolation->setCurrentIndex(
        m_interpolation->findData(QString::fromLatin1(nameOf(ramp.interpolation))));
    if (m_mixing != nullptr)
        m_mixing->setCurrentIndex(m_mixing->findData(QString::fromLatin1(nameOf(ramp.mixing))));
    showChosen();
}

void RampEditor::showChosen() {
    const Ramp& ramp = m_strip->ramp();
    if (ramp.stops.empty()) return;
    const RampStop& stop = ramp.stops[static_cast<std::size_t>(m_strip->chosen())];
    m_count->setText(tr("Stop %1 of %2").arg(m_strip->chosen() + 1).arg(ramp.stops.size()));
    m_position->setValue(static_cast<double>(stop.position));
    if (m_value != nullptr) m_value->setValue(static_cast<double>(stop.colour.x));
    if (m_colour != nullptr) m_colour->setColour({stop.colour.x, stop.colour.y, stop.colour.z});
}

}  // namespace kettle
