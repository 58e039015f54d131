// What the tuner tells beside its controls: where a change goes, why a step has no effect, what is wrong, and
// what each value of a slider would give.
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/fields/number_field.h"
#include "app/fields/rows.h"
#include "app/fields/telling_place.h"
#include "app/pictures/step_words.h"
#include "app/style/labels.h"
#include "app/tuner/tuner_view.h"
#include "core/analysis/explore.h"

namespace kettle {

namespace {

/// A formula's fault is told where it is typed.
bool hasOwnFault(const Catalogue& steps, const Step& step) {
    const StepSpec* spec = steps.find(step.type);
    return spec != nullptr && spec->editor == StepEditor::Formula;
}

}  // namespace

/// Why the step has no effect, or what is wrong, in a place that is always there: nothing below it moves when
/// a sentence comes or goes under the hand.
void TunerView::addTelling(QVBoxLayout& column, const StepSpec& spec) {
    auto* place = new TellingPlace(spec.editor == StepEditor::MapFile ? 3 : 2, column.parentWidget());
    // What the controls tell at once; what only the numbers tell comes with the pictures.
    const auto tell = [this, place] {
        const auto now = m_session.shownStep(m_step);
        const Line* on = m_session.selectedLine();
        if (!now || on == nullptr) return;
        const QString wrong = hasOwnFault(m_session.steps(), *now)
                                  ? QString()
                                  : warningOf(*now, on->kind, pictureOf(m_step), m_session.steps());
        if (!wrong.isEmpty()) return place->tell(theme::breakable(wrong), true);
        const QString reason = noEffectOf(*now, on->kind, pictureOf(m_step), m_session.steps());
        place->tell(reason.isEmpty() ? QString() : tr("No effect: %1.").arg(reason), false);
    };
    m_refreshers.push_back([tell](const StepView&) { tell(); });
    m_spreadRefreshers.push_back(tell);
    auto* row = new QHBoxLayout;
    row->addWidget(place, 1);
    row->addWidget(newVersionButton(spec, column.parentWidget()));
    column.addLayout(row);
}

QPushButton* TunerView::newVersionButton(const StepSpec& spec, QWidget* parent) {
    auto* button = new QPushButton(tr("Use the new version"), parent);
    button->setObjectName(QStringLiteral("newest-version"));
    button->setProperty("compact", true);
    button->setMinimumWidth(button->fontMetrics().horizontalAdvance(button->text()) + 24);
    button->setToolTip(tr("This step computes as it did when it was made. %1 Its values stay.")
                           .arg(spec.changed.empty() ? tr("New steps read colours as they are displayed.")
                                                     : text(spec.changed)));
    connect(button, &QPushButton::clicked, this, [this] { m_session.useNewestVersion(m_step); });
    m_refreshers.push_back([this, button, &spec](const StepView& v) {
        button->setVisible(isEarlierVersion(m_session.projectWith(m_step), spec, v.step(), v.kind()));
    });
    return button;
}

/// Whether a change here is one of this look, of all looks, or begins one.
void TunerView::tellWhere(QLabel& where) const {
    if (m_session.isInner(m_step)) return where.setText(tr("in the recipe"));
    const Look* look = m_session.project().findLook(m_session.look());
    if (look == nullptr) {
        where.setText(m_session.isAsReceived() ? tr("a change begins a look") : tr("in the base"));
        return;
    }
    const std::string prefix = m_step + ".";
    const Changes& all = m_session.project().allLooks;
    const auto at = all.lower_bound(prefix);
    const bool isAll = at != all.end() && at->first.starts_with(prefix);
    const QString name = where.fontMetrics().elidedText(text(look->name), Qt::ElideRight, 130);
    where.setText(isAll ? tr("in all looks") : tr("in %1").arg(name));
}

void TunerView::openControlMenu(const std::string& control, QPoint at) {
    // A recipe's own steps are set for all who use it, and are not tried in one place.
    if (m_session.isInner(m_step)) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    if (exploreAxis(m_session.project(), m_step, control, m_session.steps()))
        for (const bool down : {false, true})
            menu->addAction(down ? tr("Explore down") : tr("Explore across"), this, [this, control, down] {
                Q_EMIT exploreWanted(text(m_step), text(control), down);
            });
    const Look* look = m_session.project().findLook(m_session.look());
    if (changeIn(m_session.project(), look, m_step + "." + control) != nullptr) {
        const bool isAll = m_session.holdsInAllLooks(m_step, control);
        menu->addAction(isAll ? tr("Hold in this look only") : tr("Hold in all looks"), this,
                        [this, control, isAll] { m_session.holdInAllLooks(m_step, control, !isAll); });
    }
    if (menu->isEmpty()) return menu->deleteLater();
    menu->popup(at);
}

void TunerView::offerMenu(QWidget* on, const std::string& control) {
    on->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(on, &QWidget::customContextMenuRequested, this,
            [this, on, control](QPoint at) { openControlMenu(control, on->mapToGlobal(at)); });
}

/// The track of a slider in what its values would give, of the hue that most of what comes in has.
void TunerView::paintTrack(ValueSlider& slider, SliderTrack track) const {
    const auto in = spreadIn();
    double hue = -1;
    if (in) {
        const auto most = std::max_element(in->hues.begin(), in->hues.end());
        if (*most > 0) hue = (static_cast<double>(most - in->hues.begin()) + 0.5) * 360.0 / Spread::kHues;
    }
    const auto colour = [](double h, double s, double v) {
        const double turned = std::fmod(std::fmod(h, 360.0) + 360.0, 360.0) / 360.0;
        return QColor::fromHsvF(static_cast<float>(turned), static_cast<float>(std::clamp(s, 0.0, 1.0)),
                                static_cast<float>(std::clamp(v, 0.0, 1.0)));
    };
    switch (track) {
        case SliderTrack::Hue:
            return slider.setTrack([colour](double v) { return colour(v, 0.75, 0.85); });
        case SliderTrack::HueTurned:
            if (hue < 0) return slider.setTrack({});
            return slider.setTrack([colour, hue](double v) { return colour(hue + v, 0.75, 0.85); });
        case SliderTrack::Saturation:
            if (hue < 0) return slider.setTrack({});
            return slider.setTrack([colour, hue](double v) { return colour(hue, v * 0.5, 0.85); });
        case SliderTrack::Brightness:
            return slider.setTrack(
                [colour, hue](double v) { return colour(hue, hue < 0 ? 0 : 0.5, v * 0.5); });
        case SliderTrack::Grey:
            return slider.setTrack([colour](double v) { return colour(0, 0, v); });
        case SliderTrack::Plain:
            return;
    }
}

}  // namespace kettle
