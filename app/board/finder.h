// The finder: type to filter the steps that fit a gap, one line of purpose each, recent first; then patterns
// that are laid over it.
#pragma once

#include <QFrame>
#include <QStringList>
#include <optional>
#include <utility>
#include <vector>

#include "core/exchange/library.h"
#include "core/steps/catalogue.h"

class QLineEdit;
class QListWidget;

namespace kettle {

class Finder final : public QFrame {
    Q_OBJECT

public:
    Finder(Catalogue steps, QWidget* parent);
    /// What layers can be made of at the place that it is opened for next; nothing: none is offered there.
    struct Layers {
        QString behind;                                 ///< the step that a new layer goes behind
        std::vector<std::pair<QString, QString>> sets;  ///< ids and names
    };
    void setLayers(std::optional<Layers> layers) { m_layers = std::move(layers); }
    /// What the library has: recipes for a gap, layers by their names with their purposes, which are told by
    /// their places in this list, and ramps for a colour line.
    struct Library {
        std::vector<Shared<Recipe>> recipes;
        std::vector<std::pair<QString, QString>> layers;
        std::vector<NamedRampEntry> ramps;
    };
    /// The steps with the project's own recipes.
    void setSteps(Catalogue steps, Library library);
    static constexpr const char* kStamps = "/stamps";  ///< no set has such an id
    void openFor(const QString& line, int index, Kind kind, QPoint globalPos);

    /// Types of steps, the last used first.
    const QStringList& recent() const { return m_recent; }
    void setRecent(const QStringList& types) { m_recent = types; }

Q_SIGNALS:
    void chosen(const QString& line, int index, const QString& type);
    /// A source of this type on a line of its own, laid over the line; `mode` is a blend mode's id, or empty.
    void patternChosen(const QString& line, int index, const QString& type, const QString& mode);
    /// A step of this type that blends, in the mode of this id.
    void blendChosen(const QString& line, int index, const QString& type, const QString& mode);
    void rampChosen(const QString& line, int index, const kettle::NamedRampEntry& ramp);
    void recipeChosen(const QString& line, int index, const kettle::Recipe& recipe);
    void keptLayerChosen(const QString& behind, int index);
    /// A layer behind a step: of this set, kStamps, or of colour and values.
    void layerChosen(const QString& behind, const QString& what);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    int behindNames(const QString& wanted) const;
    void fillLibrary(const QString& wanted);
    void fillRamps(const QString& wanted);
    void fillModes(const QString& wanted);
    void fillPatterns(const QString& wanted);
    void fillLayers(const QString& wanted);
    void accept();

    Catalogue m_steps;
    Library m_library;
    QLineEdit* m_filter;
    QListWidget* m_list;
    QString m_line;
    int m_index = 0;
    Kind m_kind = Kind::Colour;
    QStringList m_recent;
    std::optional<Layers> m_layers;
};

}  // namespace kettle
