// The tuner: the chosen step's controls, made from its declaration, with the special editors where they help.
#pragma once

#include <QPointer>
#include <QWidget>
#include <functional>
#include <map>
#include <memory>
#include <vector>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

class QScrollArea;
class QVBoxLayout;
class QGridLayout;
class QLabel;
class QCheckBox;
class QComboBox;

namespace kettle {

class ColourField;
class CopiesPlot;
class CopiesStrip;
class ModeGallery;
class PaletteShelf;
class SpreadPlot;
class TransferPlot;
class ValueSlider;

class TunerView final : public QWidget {
    Q_OBJECT

public:
    /// All rows again, in the colours of the theme in force.
    void rebuildForTheme() { rebuild(); }
    /// Puts the cursor into the name of the chosen layer.
    void editLayerName();
    TunerView(Session& session, PictureService& service, QWidget* parent = nullptr);
    /// Palettes for all colour fields.
    PaletteShelf& palettes() { return *m_shelf; }
    void setPictures(std::shared_ptr<const CardPictures> pictures);
    /// Marks the probed value on ramp, dial and curves; null: the pointer has left.
    void setProbe(const ProbeAnswer* answer);
    /// What was clicked or drawn in the picture after pickWanted.
    void picked(const QRectF& uv);

Q_SIGNALS:
    /// What the library has of a recipe, in the place of the project's.
    void updateWanted(const QString& recipe);
    /// The chosen step's recipe is to be kept in the artist's library.
    /// A control is to be tried along a side of the sheet of candidates.
    void exploreWanted(const QString& step, const QString& control, bool down);
    void keepRecipeWanted(const QString& recipe);
    /// `ofSurface`: a colour of what the surface takes is wanted, not a place in what the chosen step gives.
    void pickWanted(bool ofSurface);

protected:
    void showEvent(QShowEvent* event) override;

private:
    /// Those that come by themselves, of an opened project, come a few an event: each is short then.
    enum class Rows { AtOnce, FewAnEvent };
    void rebuild(Rows rows = Rows::AtOnce);
    /// The controls from one on, and then what stands below them, on the page of the head that was made.
    void addRows(QScrollArea& area, std::size_t from, Rows rows);
    /// With the headings that stand above it.
    void addControlAt(QVBoxLayout& column, const StepSpec& spec, std::size_t index, Kind kind);
    void addFoot(QScrollArea& area, const StepSpec& spec, const Step& shown, const Line& line);
    /// What the rows depend on as a whole.
    std::string stateNow() const;
    void refresh();
    void addControl(QVBoxLayout& column, const StepSpec& spec, const ControlSpec& control, Kind kind);
    void addNumber(QGridLayout& row, const ControlSpec& control);
    void addChoice(QGridLayout& row, const StepSpec& spec, const ControlSpec& control);
    void addToggle(QGridLayout& row, const ControlSpec& control);
    void addRamp(QVBoxLayout& column, const ControlSpec& control, Kind kind);
    void addColour(QVBoxLayout& column, const ControlSpec& control);
    void addSpecial(QVBoxLayout& column, const StepSpec& spec, Kind kind);
    void addDial(QVBoxLayout& column);
    void addPick(QVBoxLayout& column, const QString& words);
    void addMatch(QVBoxLayout& column, const MatchPlace& measured);
    QWidget* makeMatchTable(QWidget* parent, const MatchPlace& measured);
    void addGallery(QVBoxLayout& column);
    void addCurves(QVBoxLayout& column, Kind kind);
    void addFormula(QVBoxLayout& column);
    void addLevels(QVBoxLayout& column);
    void addSpace(QGridLayout& row, const ControlSpec& control);
    void addPart(QGridLayout& row, const ControlSpec& control);
    void addPlacementTitle(QVBoxLayout& column);
    /// How many centimetres of the model the texture's square covers on the whole; 0 without a model.
    double squareSize() const;
    void addTransfer(QVBoxLayout& column);
    // Of copies and recipes (tuner_recipes.cpp).
    void addCopies(QVBoxLayout& column);
    void askCopies();
    void showCopies(quint64 number, const std::shared_ptr<const ObjectColours>& objects);
    void addRecipeBar(QVBoxLayout& column, const Recipe& recipe);
    void addRecipeBack(QVBoxLayout& column);
    /// The reads of a step within a recipe: told, and joined outside.
    void tellFeeds(QVBoxLayout& column, const StepSpec& spec, const Step& shown);
    void addSection(QVBoxLayout& column, const std::string& section);
    const Recipe* recipeOfStep() const;
    // Of a layer (tuner_layers.cpp): its name with what it covers; the way back to it from its mask and
    // fills; its mask; its channels.
    void addLayerTitle(QVBoxLayout& column, const Line& layer);
    void addLayerBack(QVBoxLayout& column, const Step& shown, const Line& line);
    void addLayerMask(QVBoxLayout& column);
    void addLayerTable(QVBoxLayout& column, const Line& layer);
    void rebuildSoon();
    void askGallery();
    void askTransfer();
    void connectService();
    /// Palettes and picking for a colour field, wherever it stands.
    void equip(ColourField* field);
    void measure(const QString& name, PictureService::Measure what);
    void addTelling(QVBoxLayout& column, const StepSpec& spec);
    void tellWhere(QLabel& where) const;
    void paintTrack(ValueSlider& slider, SliderTrack track) const;
    void openControlMenu(const std::string& control, QPoint at);
    /// The same menu by the right button on any part of a control's row.
    void offerMenu(QWidget* on, const std::string& control);
    void addFeed(QVBoxLayout& column, const FeedSpec& feed, Kind kind);
    void addMapRows(QVBoxLayout& column);
    void addPictureRow(QVBoxLayout& column, const std::string& setId, const std::string& role);
    QComboBox* makePictureBox(QVBoxLayout& column, const std::string& setId, const std::string& role);
    QStringList picturesIn(const std::string& setId, const std::string& role) const;
    QWidget* makeResetDot(const ControlSpec& control, QWidget* parent);
    /// The same for a place that shows one of several controls.
    QWidget* makeResetDot(const QString& name, const std::function<std::string()>& idNow, QWidget* parent);
    template <class Editor>
    void joinGesture(Editor* editor) {
        connect(editor, &Editor::gestureStarted, this, [this] { m_gesture = m_session.newGesture(); });
    }
    void set(const std::string& control, ControlValue value, bool inGesture);
    const CardPicture* pictureOf(const std::string& step) const;
    /// A button that makes a step of an earlier version new, with what changes; hidden on new steps.
    QPushButton* newVersionButton(const StepSpec& spec, QWidget* parent);
    std::optional<Spread> spreadIn() const;
    /// What the chosen step looks up.
    Reading reading() const;
    /// The number that it looks up of a probed value, or that of one of the model's components; none where it
    /// reads something else than what comes in.
    std::optional<double> readOf(const ProbeAnswer* answer, int component = -1) const;

    Session& m_session;
    PictureService& m_service;
    std::shared_ptr<const CardPictures> m_pictures;
    ModeGallery* m_gallery = nullptr;
    TransferPlot* m_transfer = nullptr;
    PaletteShelf* m_shelf;
    std::string m_picking;                 ///< the step that a place was asked for
    QPointer<ColourField> m_pickingField;  ///< or the field that a colour was asked for
    QPointF m_probed{0.5, 0.5};            ///< where the pointer rested last
    QString m_measureName;
    std::uint64_t m_measureFrom = 0;  ///< the revision that was measured
    quint64 m_galleryNumber = 0, m_measureNumber = 0, m_transferNumber = 0, m_colourNumber = 0;
    std::map<std::string, int> m_scrolled;  ///< how far each step's controls were scrolled
    QWidget* m_body = nullptr;
    Catalogue m_catalogue = shippedSteps();  ///< what the rows were made of lives as long as they do
    std::optional<Shared<Recipe>> m_recipe;  ///< that the chosen step is
    CopiesPlot* m_copies = nullptr;
    CopiesStrip* m_strip = nullptr;
    quint64 m_copiesNumber = 0;
    mutable std::weak_ptr<const RayScene> m_measured;
    mutable double m_squareSize = 0;
    std::string m_step, m_type;
    /// The project's revision, look and chosen steps that the rows were last made for.
    std::string m_builtFor;
    bool m_isStale = false;  ///< nobody saw it when its rows should have been made
    std::uint64_t m_gesture = 0;
    std::vector<std::function<void(const StepView&)>> m_refreshers;
    std::vector<std::function<void()>> m_spreadRefreshers;
    std::vector<std::function<void(const ProbeAnswer*)>> m_probeRefreshers;
};

}  // namespace kettle
