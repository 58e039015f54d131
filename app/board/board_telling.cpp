// What a card tells: its value, why it has no effect, what is wrong at it; for the eye, the pointer's tip and
// screen readers.
#include <QAccessible>

#include "app/board/board_view.h"
#include "app/pictures/step_words.h"
#include "core/document/layers.h"

namespace kettle {

std::vector<std::string> BoardView::steps() const {
    std::vector<std::string> all;
    for (const board::CardPlace& card : m_layout.cards) all.push_back(card.step);
    return all;
}

QString BoardView::nameOf(const Step& shown) const {
    const StepSpec* spec = m_session.steps().find(shown.type);
    return QString::fromStdString(spec != nullptr ? spec->name : shown.type);
}

QString BoardView::tellingOf(const Step& shown, Kind kind) const {
    const StepSpec* spec = m_session.steps().find(shown.type);
    if (spec == nullptr) return {};
    if (shown.bypass) return tr("bypassed");
    if (const Line* layer =
            layerOf(shown).empty() ? nullptr : m_session.boardProject().findLine(layerOf(shown));
        layer != nullptr && isLayer(*layer))
        if (const auto head = m_session.shownStep(headOf(*layer).id); head && head->bypass)
            return tr("layer off");
    if (!noEffectOf(shown, kind, pictureOf(shown.id), m_session.steps()).isEmpty()) return tr("no effect");
    return QString::fromStdString(spec->telling(StepView(*spec, shown, kind)));
}

QString BoardView::spokenName(const std::string& step) const {
    const auto shown = m_session.shownStep(step);
    const auto place = m_session.boardProject().findStep(step);
    if (!shown || !place) return {};
    const Line& line = *m_session.boardProject().lines[place->line];
    const QString telling = tellingOf(*shown, line.kind), name = QString::fromStdString(line.name);
    if (isLayer(line) && headOf(line).id == step)
        return tr("Layer %1, %2, covers %3 channels")
            .arg(name, telling)
            .arg(fillsOf(m_session.boardProject(), line.id).size());
    if (const Line* layer = m_session.boardProject().findLine(layerOf(*shown)))
        return tr("%1, %2, of the layer %3 on %4")
            .arg(fillWords(m_session.boardProject(), m_session.boardProject().findLook(m_session.look()),
                           *shown, m_session.steps()),
                 telling, QString::fromStdString(layer->name), name);
    return telling.isEmpty() ? tr("%1 on %2").arg(nameOf(*shown), name)
                             : tr("%1, %2, on %3").arg(nameOf(*shown), telling, name);
}

QString BoardView::tipOf(const std::string& step) const {
    const auto shown = m_session.shownStep(step);
    const auto place = m_session.boardProject().findStep(step);
    if (!shown || !place) return {};
    const Kind kind = m_session.boardProject().lines[place->line]->kind;
    const StepSpec* spec = m_session.steps().find(shown->type);
    QStringList tip;
    if (spec != nullptr) tip << QString::fromStdString(spec->purpose);
    if (shown->bypass) {
        tip << tr("Bypassed: it passes its input on. X switches it on.");
        return tip.join(QLatin1Char('\n'));
    }
    if (const QString reason = noEffectOf(*shown, kind, pictureOf(step), m_session.steps());
        !reason.isEmpty())
        tip << tr("No effect: %1.").arg(reason);
    if (const QString warning = warningAt(*shown, kind); !warning.isEmpty())
        tip << tr("Warning: %1").arg(warning);
    if (!shown->note.empty()) tip << tr("Note: %1").arg(QString::fromStdString(shown->note));
    const Line& line = *m_session.boardProject().lines[place->line];
    if (isLayer(line) && !line.note.empty()) tip << tr("Note: %1").arg(QString::fromStdString(line.note));
    return tip.join(QLatin1Char('\n'));
}

QString BoardView::capTip(const std::string& id) const {
    const Line* line = m_session.boardProject().findLine(id);
    if (line == nullptr || line->channel.empty()) return tr("A shared line: others read it.");
    return m_session.channelsOff().contains(line->channel)
               ? tr("Off while you look. A click, or Esc, brings it back.")
               : tr("Click to look at the surface without this channel. Exports are never touched by it.");
}

bool BoardView::isChosen(const std::string& step) const {
    return m_session.isSelected(step);
}

void BoardView::choose(const std::string& step) {
    m_session.selectStep(step);
}

/// A screen reader is told what the arrows have come to.
void BoardView::tellFocus() {
    if (!QAccessible::isActive()) return;
    QAccessibleInterface* board = QAccessible::queryAccessibleInterface(this);
    QAccessibleInterface* card = board != nullptr ? board->focusChild() : nullptr;
    if (card == nullptr) return;
    QAccessibleEvent told(card, QAccessible::Focus);
    QAccessible::updateAccessibility(&told);
}

}  // namespace kettle
