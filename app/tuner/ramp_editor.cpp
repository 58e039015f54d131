#include "app/tuner/ramp_editor.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <algorithm>

#include "app/tuner/colour_field.h"
#include "app/tuner/number_field.h"
#include "app/tuner/tuner_rows.h"
#include "core/colour/encoding.h"
#include "core/exchange/palette.h"

namespace kettle {

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
    // As the tuner's other rows stand (tuner_rows.h): behind the reset dots.
    grid->setContentsMargins(kDotColumn, 0, 0, 0);
    grid->setColumnMinimumWidth(0, kLabelWidth);
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
