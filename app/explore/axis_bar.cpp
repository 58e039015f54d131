#include "app/explore/axis_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <cmath>

#include "app/fields/range_slider.h"
#include "core/document/handles.h"

namespace kettle {
namespace {

const StepSpec* specOf(const Session& session, const std::string& step) {
    const auto shown = session.shownStep(step);
    return shown ? session.steps().find(shown->type) : nullptr;
}

QString controlName(const Session& session, const ExploreAxis& axis) {
    if (axis.control == kBypass.id) return AxisBar::tr("with and without");
    const StepSpec* spec = specOf(session, axis.step);
    const ControlSpec* control = spec != nullptr ? spec->findControl(axis.control) : nullptr;
    const QString name = QString::fromStdString(control != nullptr ? control->name : axis.control);
    return axis.what == ExploreWhat::Hue     ? AxisBar::tr("%1, its hue").arg(name)
           : axis.what == ExploreWhat::Value ? AxisBar::tr("%1, its value").arg(name)
                                             : name;
}

bool hasRange(const ExploreAxis& axis) {
    return axis.what == ExploreWhat::Number || axis.what == ExploreWhat::Hue ||
           axis.what == ExploreWhat::Value;
}

}  // namespace

QString wordsOf(const Session& session, const ExploreAxis& axis) {
    const StepSpec* spec = specOf(session, axis.step);
    return QStringLiteral("%1 · %2").arg(QString::fromStdString(spec != nullptr ? spec->name : axis.step),
                                         controlName(session, axis));
}

void fillAxisMenu(QMenu& menu, const Session& session, bool down,
                  const std::function<void(const ExploreAxis&)>& chosen) {
    const Project& project = session.project();
    const auto addStep = [&](QMenu& to, const std::string& step) {
        for (const ExploreAxis& axis : exploreAxes(project, step, session.steps(), down))
            to.addAction(wordsOf(session, axis), &menu, [chosen, axis] { chosen(axis); });
    };
    for (const std::string& step : session.selection()) addStep(menu, step);
    menu.addSeparator();
    for (const auto& line : project.lines) {
        QMenu* ofLine = nullptr;
        for (const auto& step : line->steps) {
            if (exploreAxes(project, step->id, session.steps(), down).empty()) continue;
            if (ofLine == nullptr)
                ofLine = menu.addMenu(QString::fromStdString(line->name));
            else
                ofLine->addSeparator();
            addStep(*ofLine, step->id);
        }
    }
}

AxisBar::AxisBar(Session& session, bool down, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_down(down),
      m_chip(new QToolButton(this)),
      m_range(new RangeSlider(this)),
      m_ends(new QLabel(this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    m_chip->setObjectName(down ? QStringLiteral("down") : QStringLiteral("across"));
    m_chip->setPopupMode(QToolButton::InstantPopup);
    m_chip->setToolTip(down ? tr("What changes from row to row") : tr("What changes from column to column"));
    auto* menu = new QMenu(m_chip);
    m_chip->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        fillAxisMenu(*menu, m_session, m_down, [this](const ExploreAxis& axis) { Q_EMIT changed(axis); });
        if (m_axis) {
            menu->addSeparator();
            menu->addAction(tr("Nothing"), this, [this] { Q_EMIT changed(std::nullopt); });
        }
    });
    m_range->setFixedWidth(130);
    m_range->setAccessibleName(down ? tr("Range down") : tr("Range across"));
    m_ends->setObjectName(QStringLiteral("quiet"));
    connect(m_range, &RangeSlider::edited, this, [this](double low, double high) {
        if (!m_axis) return;
        ExploreAxis axis = *m_axis;
        axis.low = low, axis.high = high;
        Q_EMIT changed(axis);
    });
    row->addWidget(m_chip);
    row->addWidget(m_range);
    row->addWidget(m_ends);
    refresh();
}

void AxisBar::setAxis(const std::optional<ExploreAxis>& axis) {
    m_axis = axis;
    refresh();
}

void AxisBar::refresh() {
    const QString side = m_down ? tr("Down") : tr("Across");
    m_chip->setText(m_axis ? tr("%1: %2").arg(side, wordsOf(m_session, *m_axis))
                           : tr("%1: nothing").arg(side));
    const bool ranges = m_axis && hasRange(*m_axis);
    m_range->setVisible(ranges);
    m_ends->setVisible(ranges);
    if (!ranges) return;
    const ExploreAxis whole = wholeRange(m_session.project(), *m_axis, m_session.steps());
    const StepSpec* spec = specOf(m_session, m_axis->step);
    const ControlSpec* control = spec != nullptr ? spec->findControl(m_axis->control) : nullptr;
    const bool isHue = m_axis->what == ExploreWhat::Hue, isNumber = m_axis->what == ExploreWhat::Number;
    const int decimals = isHue ? 0 : isNumber && control != nullptr ? control->decimals : 2;
    m_range->setWhole(std::min(whole.low, m_axis->low), std::max(whole.high, m_axis->high), decimals);
    m_range->setRange(m_axis->low, m_axis->high);
    const QString degrees = QString::fromUtf8(kDegrees);
    const QString unit = isHue                            ? degrees
                         : isNumber && control != nullptr ? QString::fromStdString(control->unit)
                                                          : QStringLiteral("×");
    const auto words = [&](double value) {
        return (whole.low < 0 && value > 0 ? QStringLiteral("+") : QString()) +
               QString::number(value, 'f', value == std::round(value) && unit == degrees ? 0 : decimals) +
               unit;
    };
    m_ends->setText(tr("%1 … %2").arg(words(m_axis->low), words(m_axis->high)));
}

}  // namespace kettle
