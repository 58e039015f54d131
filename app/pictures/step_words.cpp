#include "app/pictures/step_words.h"

#include <QCoreApplication>

#include "core/steps/step.h"

namespace kettle {
namespace {

QString tr(const char* words) {
    return QCoreApplication::translate("StepWords", words);
}

}  // namespace

QString noEffectOf(const Step& shown, Kind kind, const CardPicture* picture) {
    const StepSpec* spec = findStepSpec(shown.type);
    if (spec == nullptr || shown.bypass) return {};
    std::string reason = spec->noEffect ? spec->noEffect(StepView(*spec, shown, kind)) : std::string();
    if (reason.empty() && picture != nullptr) reason = picture->noEffect;
    return QString::fromStdString(reason);
}

QString warningOf(const Step& shown, Kind kind, const CardPicture* picture) {
    const StepSpec* spec = findStepSpec(shown.type);
    if (spec == nullptr) return tr("This program does not know the step. It passes its input on.");
    if (picture != nullptr && !picture->warning.empty()) return QString::fromStdString(picture->warning);
    if (shown.type == "formula") {
        const std::string text = StepView(*spec, shown, kind).text("formula");
        return QString::fromStdString(formulaProblem(text, kind));
    }
    if (shown.type != "blend") return {};
    Step automatic = shown;
    automatic.controls["space"] = std::string("auto");
    if (blendSpaceReason(StepView(*spec, shown, kind)) == "linear light: chosen" &&
        blendSpaceReason(StepView(*spec, automatic, kind)).starts_with("display-encoded"))
        return tr("In linear light mid grey is not neutral in this mode. Set the blend space to automatic.");
    return {};
}

}  // namespace kettle
