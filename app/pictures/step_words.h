// What is told of a step wherever it is shown: why it has no effect, and what is wrong with it.
#pragma once

#include <QString>

#include "app/pictures/picture_service.h"

namespace kettle {

/// Why the step changes nothing, by its controls or by its numbers; empty if it does. `picture`: null while
/// there is none.
QString noEffectOf(const Step& shown, Kind kind, const CardPicture* picture,
                   const Catalogue& steps = shippedSteps());

/// What is wrong with it and what to do, as a sentence; empty if nothing is.
QString warningOf(const Step& shown, Kind kind, const CardPicture* picture,
                  const Catalogue& steps = shippedSteps());

/// What a fill lays, in a word or two: the set's name, the colour, the number, the line. `look`: null for the
/// base.
QString fillWords(const Project& project, const Look* look, const Step& fill,
                  const Catalogue& steps = shippedSteps());

}  // namespace kettle
