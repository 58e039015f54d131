#include "app/window/place_menu.h"

#include <QMenu>
#include <cmath>

#include "core/document/layers.h"
#include "core/steps/ramp_remap.h"

namespace kettle {
namespace {

/// A few texels around, so that one odd one does not decide.
Area areaAround(QPointF uv) {
    constexpr double kReach = 0.003;
    return {static_cast<float>(uv.x() - kReach), static_cast<float>(uv.y() - kReach),
            static_cast<float>(uv.x() + kReach), static_cast<float>(uv.y() + kReach)};
}

}  // namespace

PlaceMenu::PlaceMenu(Session& session, PictureService& pictures, QWidget& window)
    : QObject(&window), m_session(session), m_pictures(pictures), m_window(window) {
    connect(&pictures, &PictureService::measured, this, [this](quint64 number, const Project& project) {
        if (number != m_number) return;
        m_number = 0;
        if (m_session.history().revision() != m_from) {
            Q_EMIT m_session.told(tr("The project was changed meanwhile, so nothing was added. Try again."),
                                  false);
            return;
        }
        if (m_session.applyTo(m_target, project, m_name)) m_session.selectStep(*m_chosen);
    });
    connect(&pictures, &PictureService::measureFailed, this, [this](quint64 number, const QString& sentence) {
        if (number != m_number) return;
        m_number = 0;
        Q_EMIT m_session.told(sentence, true);
    });
}

void PlaceMenu::make(const QString& name, Make what) {
    // A figure of half the tiles would look like one of all.
    if (m_session.arrived().all > 0) {
        Q_EMIT m_session.told(tr("The maps are still being read. Try again when all tiles are there."), true);
        return;
    }
    m_name = name;
    m_target = m_session.target();
    m_from = m_session.history().revision();
    m_chosen = std::make_shared<std::string>();
    m_number = m_pictures.askMeasure(m_target.project, m_session.resources(),
                                     [what = std::move(what), look = m_target.look, chosen = m_chosen](
                                         const Project& p, const Resources& r) -> Result<Project> {
                                         auto edit = what(p, look, r);
                                         if (!edit) return fail(edit.error());
                                         *chosen = edit->step;
                                         return std::move(edit->project);
                                     });
}

void PlaceMenu::openOnModel(QPointF uv, const QString& part, QPoint globalPos) {
    const Project& project = m_session.project();
    const std::vector<int> of = surfacesOfParts(project, {part.toStdString()});
    const std::vector<std::string> ids = surfaceIds(project);
    const std::string surface =
        !of.empty() && of.front() >= 0 ? ids[static_cast<std::size_t>(of.front())] : std::string();
    LinePlace place;
    const Line* chosen = m_session.selectedLine();
    if (const auto& here = m_session.lookHere()) {
        place = {here->line, here->after};
    } else if (const Line* line = project.lineOfChannel(channel::kBaseColour, surface)) {
        place.line = line->id;
        if (chosen == line) place.after = m_session.selectedStep();
    }
    open(uv, place, surface, globalPos);
}

void PlaceMenu::openOnFlat(QPointF uv, QPoint globalPos) {
    const Line* line = m_session.selectedLine();
    if (line == nullptr) return;
    open(uv, {line->id, m_session.selectedStep()}, line->surface, globalPos);
}

void PlaceMenu::open(QPointF uv, const LinePlace& place, const std::string& surface, QPoint globalPos) {
    auto* menu = new QMenu(&m_window);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    m_menu = menu;
    connect(menu, &QObject::destroyed, this, [this, menu] {
        if (m_menu == menu) m_menu = nullptr;
    });
    const Area area = areaAround(uv);
    const Line* line = m_session.project().findLine(place.line);
    const bool isColour = line != nullptr && line->kind == Kind::Colour;
    const std::string user = m_session.selectedStep();
    const auto add = [&](const QString& words, bool fits, Make what) {
        menu->addAction(words, this, [this, words, what] { make(words, what); })->setEnabled(fits);
    };
    add(tr("Shift this hue"), isColour, [=](const Project& p, const std::string& look, const Resources& r) {
        return shiftHueAt(p, look, place, area, r);
    });
    add(tr("Aim this colour"), isColour, [=](const Project& p, const std::string& look, const Resources& r) {
        return aimAt(p, look, place, area, r);
    });
    menu->addSeparator();
    add(tr("Mask from this hue"), isColour,
        [=](const Project& p, const std::string& look, const Resources& r) {
            return maskFromHue(p, look, place, area, user, r);
        });
    add(tr("Mask from this value"), line != nullptr && line->kind != Kind::Normal,
        [=](const Project& p, const std::string& look, const Resources& r) {
            return maskFromValue(p, look, place, area, user, r);
        });
    const auto at = m_session.project().findStep(user);
    const bool hasRamp = at && m_session.project().stepAt(*at).type == ramp_remap::kType;
    add(tr("Stop on the ramp here"), hasRamp,
        [=](const Project& p, const std::string& look, const Resources& r) {
            return rampStopAt(p, look, user, static_cast<float>(uv.x()), static_cast<float>(uv.y()), r);
        });
    menu->addSeparator();
    QMenu* makers = menu->addMenu(tr("What makes this?"));
    connect(makers, &QMenu::aboutToShow, this,
            [this, makers, uv, surface] { addMakers(*makers, uv, surface); });
    menu->popup(globalPos);
}

/// One place of a few lines: a fraction of a millisecond once the maps are there, as they are when one sees
/// them.
void PlaceMenu::addMakers(QMenu& menu, QPointF uv, const std::string& surface) {
    menu.clear();
    const auto changes = whatMakes(m_session.project(), m_session.look(), surface, static_cast<float>(uv.x()),
                                   static_cast<float>(uv.y()), m_session.resources());
    constexpr std::size_t kMost = 12;
    for (std::size_t i = 0; i < std::min(changes.size(), kMost); ++i) {
        const PlaceChange& change = changes[i];
        const Line* line = m_session.project().findLine(change.line);
        const auto place = m_session.project().findStep(change.step);
        const StepSpec* spec =
            place ? m_session.steps().find(m_session.project().stepAt(*place).type) : nullptr;
        if (line == nullptr || spec == nullptr) continue;
        const QString much = line->kind == Kind::Colour ? tr("ΔE %1").arg(change.difference, 0, 'f', 1)
                                                        : tr("%1 %").arg(change.difference, 0, 'f', 1);
        const Line* layer = m_session.project().findLine(layerOf(m_session.project().stepAt(*place)));
        const QString name = layer != nullptr ? tr("Layer %1").arg(QString::fromStdString(layer->name))
                                              : QString::fromStdString(spec->name);
        menu.addAction(tr("%1 on %2\t%3").arg(name, QString::fromStdString(line->name), much), this,
                       [this, step = change.step] { m_session.selectStep(step); });
    }
    if (menu.isEmpty()) menu.addAction(tr("No step changes this place"))->setEnabled(false);
}

}  // namespace kettle
