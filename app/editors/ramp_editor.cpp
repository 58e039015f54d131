#include "app/editors/ramp_editor.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpression>
#include <algorithm>
#include <cmath>

#include "app/editors/ramp_shelf.h"
#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "app/fields/rows.h"

namespace kettle {

RampEditor::RampEditor(bool isGrey, QWidget* parent)
    : QWidget(parent),
      m_isGrey(isGrey),
      m_strip(new RampStrip(isGrey, this)),
      m_position(new NumberField({}, this)),
      m_interpolation(new QComboBox(this)),
      m_count(new QLabel(this)),
      m_shelf(new RampShelf(isGrey, this)) {
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
    m_from = new QPushButton(tr("Take from…"), this);
    m_from->setObjectName(QStringLiteral("ramp-from"));
    m_from->setToolTip(
        tr("Shipped ramps and your own, copied colours, or the picture's own tones; keep this one"));
    connect(m_from, &QPushButton::clicked, this, [this] {
        const auto tones = m_tonesOf ? m_tonesOf() : std::vector<std::uint32_t>{};
        m_shelf->makeMenu(tones, m_from)->popup(m_from->mapToGlobal(QPoint(0, m_from->height() + 2)));
    });
    connect(m_shelf, &RampShelf::taken, this, &RampEditor::take);
    connect(m_shelf, &RampShelf::keepAsked, this, &RampEditor::startKeeping);
    buttons->addWidget(flip);
    buttons->addWidget(spread);
    buttons->addWidget(m_from);
    buttons->addStretch(1);
    column->addLayout(buttons);
    m_keepRow = makeKeepRow();
    column->addWidget(m_keepRow);

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
    m_sharesRow = makeSharesRow();
    column->addWidget(m_sharesRow);

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

/// Of a ramp that is held: how much of 0..1 each stop has, typed for all at once.
QWidget* RampEditor::makeSharesRow() {
    auto* row = new QWidget(this);
    auto* across = new QHBoxLayout(row);
    across->setContentsMargins(kDotColumn, 0, 0, 0);
    across->setSpacing(8);
    auto* label = new QLabel(tr("Shares"), row);
    label->setMinimumWidth(kLabelWidth);
    m_shares = new QLineEdit(row);
    m_shares->setObjectName(QStringLiteral("ramp-shares"));
    m_shares->setAccessibleName(tr("Shares of the stops"));
    m_shares->setToolTip(
        tr("A number for each stop, in order: how much of the whole it has. 3 1 1 gives the "
           "first three fifths."));
    across->addWidget(label);
    across->addWidget(m_shares, 1);
    connect(m_shares, &QLineEdit::editingFinished, this, &RampEditor::takeShares);
    row->hide();
    return row;
}

void RampEditor::takeShares() {
    if (!m_shares->isModified()) return;
    m_shares->setModified(false);
    static const QRegularExpression between(QStringLiteral("[\\s;%:]+"));
    std::vector<double> shares;
    for (const QString& word : m_shares->text().split(between, Qt::SkipEmptyParts)) {
        bool isNumber = false;
        shares.push_back(QString(word).replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&isNumber));
        if (!isNumber) shares.back() = -1;
    }
    const bool areAll = shares.size() == m_strip->ramp().stops.size() &&
                        std::all_of(shares.begin(), shares.end(), [](double s) { return s >= 0; }) &&
                        std::any_of(shares.begin(), shares.end(), [](double s) { return s > 0; });
    if (!areAll) {
        Q_EMIT m_shelf->told(tr("The ramp has %1 stops: type a number of 0 or more for each, such as 3 1 1.")
                                 .arg(m_strip->ramp().stops.size()),
                             true);
        return showChosen();
    }
    change([&](Ramp& r) { r = withShares(r, shares); });
}

QWidget* RampEditor::makeKeepRow() {
    auto* row = new QWidget(this);
    auto* across = new QHBoxLayout(row);
    across->setContentsMargins(0, 0, 0, 0);
    across->setSpacing(8);
    m_keepName = new QLineEdit(row);
    m_keepName->setObjectName(QStringLiteral("ramp-name"));
    m_keepName->setPlaceholderText(tr("Name of this ramp"));
    m_keepName->setAccessibleName(tr("Name of this ramp"));
    m_keepName->setToolTip(tr("Enter keeps the ramp, Esc leaves it"));
    m_keepName->setMaxLength(60);
    m_keepName->installEventFilter(this);
    m_keep = new QPushButton(tr("Keep"), row);
    m_keep->setObjectName(QStringLiteral("ramp-keep"));
    m_keep->setEnabled(false);
    across->addWidget(m_keepName, 1);
    across->addWidget(m_keep);
    connect(m_keepName, &QLineEdit::textChanged, this, [this](const QString& name) {
        m_keep->setEnabled(!name.trimmed().isEmpty());
        m_keep->setText(m_shelf->holds(name) ? tr("Replace") : tr("Keep"));
    });
    connect(m_keepName, &QLineEdit::returnPressed, this, &RampEditor::keepNow);
    connect(m_keep, &QPushButton::clicked, this, &RampEditor::keepNow);
    row->hide();
    return row;
}

void RampEditor::startKeeping() {
    m_keepName->clear();
    m_keepRow->show();
    m_keepName->setFocus();
}

void RampEditor::keepNow() {
    if (m_keep->isEnabled() && m_shelf->keep(m_keepName->text(), m_strip->ramp())) endKeeping();
}

void RampEditor::endKeeping() {
    m_keepRow->hide();
    m_from->setFocus();
}

bool RampEditor::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_keepName && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        endKeeping();
        return true;
    }
    return QWidget::eventFilter(watched, event);
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
    m_sharesRow->setVisible(ramp.interpolation == RampInterpolation::Hold);
    if (!m_shares->isModified() || !m_shares->hasFocus()) {
        QStringList words;
        for (const float share : sharesOf(ramp)) words << QString::number(std::round(share * 1000) / 10);
        m_shares->setText(words.join(QLatin1Char(' ')));
    }
    m_count->setText(tr("Stop %1 of %2").arg(m_strip->chosen() + 1).arg(ramp.stops.size()));
    m_position->setValue(static_cast<double>(stop.position));
    if (m_value != nullptr) m_value->setValue(static_cast<double>(stop.colour.x));
    if (m_colour != nullptr) m_colour->setColour({stop.colour.x, stop.colour.y, stop.colour.z});
}

}  // namespace kettle
