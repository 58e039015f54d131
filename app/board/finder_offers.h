// What can be added at a gap of the board, by the words that are typed: steps, blends in a mode, patterns,
// colours and lines to blend over, recipes, ramps, layers.
#pragma once

#include <QStringList>
#include <optional>
#include <utility>
#include <variant>
#include <vector>

#include "core/exchange/library.h"
#include "core/steps/laying_over.h"

namespace kettle {

/// A layer behind a step: of values, of pictures as stamps, or of a set.
struct NewLayer {
    enum class Of { Values, Stamps, Set };
    Of of = Of::Values;
    std::string set;
};
struct Offer {
    QString name, purpose;
    /// A step without an id is a new one, with what was asked for set and joined.
    std::variant<Step, LaidOver, NamedRampEntry, Shared<Recipe>, NewLayer, KeptLayer> what;
};

/// Where it is added, and what there is.
struct Gap {
    Project project;
    Catalogue steps = shippedSteps();
    std::string look, line;
    std::size_t index = 0;
    /// The step that a layer would go behind; none: layers have no place here.
    std::optional<std::string> layersBehind;
};
/// What the library has: recipes, layers, and ramps for a colour line.
struct OfferedLibrary {
    std::vector<Shared<Recipe>> recipes;
    std::vector<KeptLayer> layers;
    std::vector<NamedRampEntry> ramps;
};

/// The best first: what is called so, in the order above, and then what only speaks of it. `recent`: types of
/// steps, the last used first. Words may be a blend mode, what is blended over, and an amount: "multiply
/// wear 0.35", "noise difference", "#c0a080"; or a step and the line that it is for: "height to normal
/// grain". Nothing for a line that the project does not have.
std::vector<Offer> offersFor(const QString& words, const Gap& gap, const OfferedLibrary& library,
                             const QStringList& recent);

/// Why nothing is offered there for these words.
QString whyNothing(const QString& words, const Gap& gap);

}  // namespace kettle
