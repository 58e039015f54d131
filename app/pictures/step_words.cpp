#include "app/pictures/step_words.h"

#include <QCoreApplication>

#include "core/document/handles.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

QString tr(const char* words) {
    return QCoreApplication::translate("StepWords", words);
}

}  // namespace

QString noEffectOf(const Step& shown, Kind kind, const CardPicture* picture, const Catalogue& steps) {
    const StepSpec* spec = steps.find(shown.type);
    if (spec == nullptr || shown.bypass) return {};
    std::string reason = spec->noEffect ? spec->noEffect(StepView(*spec, shown, kind)) : std::string();
    if (reason.empty() && picture != nullptr) reason = picture->noEffect;
    return QString::fromStdString(reason);
}

QString warningOf(const Step& shown, Kind kind, const CardPicture* picture, const Catalogue& steps) {
    const StepSpec* spec = steps.find(shown.type);
    if (spec == nullptr) return tr("This program does not know the step. It passes its input on.");
    if (picture != nullptr && !picture->warning.empty()) return QString::fromStdString(picture->warning);
    return spec->warning ? QString::fromStdString(spec->warning(StepView(*spec, shown, kind))) : QString();
}

QString fillWords(const Project& project, const Look* look, const Step& fill, const Catalogue& steps) {
    const auto over = fill.feeds.find(kOver.id);
    if (over == fill.feeds.end()) return tr("nothing");
    if (over->second.constant)
        return std::holds_alternative<Colour>(*over->second.constant) ? tr("a colour") : tr("a number");
    const Line* line = project.findLine(over->second.line);
    if (line == nullptr || line->steps.empty()) return tr("missing");
    if (!line->channel.empty()) return QString::fromStdString(line->name);
    const Step source = withLook(project, *line->steps.front(), look);
    const StepSpec* spec = steps.find(source.type);
    QString words = QString::fromStdString(line->name);
    if (spec != nullptr && spec->editor == StepEditor::MapFile) {
        const TextureSet* set = project.findSet(source.set);
        words = set != nullptr ? QString::fromStdString(set->name) : tr("missing set");
    } else if (spec != nullptr && source.feeds.empty() && spec->controls.size() < 2) {
        words = QString::fromStdString(spec->telling(StepView(*spec, source, line->kind)));
    } else if (spec != nullptr) {
        words = QString::fromStdString(spec->name);
    }
    return line->steps.size() > 1 ? tr("%1 +%2").arg(words).arg(line->steps.size() - 1) : words;
}

}  // namespace kettle
