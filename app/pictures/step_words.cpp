#include "app/pictures/step_words.h"

#include <QCoreApplication>

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

}  // namespace kettle
