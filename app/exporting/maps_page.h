// The changed maps as files: which looks, surfaces and channels, in what format, where to.
#pragma once

#include "app/exporting/export_page.h"
#include "core/exchange/export.h"
#include "core/exchange/library.h"
#include "core/scene/scene_store.h"

class QComboBox;
class QLineEdit;
class QToolButton;

namespace kettle {

class ArrangementEditor;

/// Where arrangements of packed files are kept.
struct ArrangementShelf {
    std::function<const std::vector<LibraryEntry>&()> entries;
    std::function<bool(const LibraryEntry&)> keep, forget;
};

class MapsPage final : public ExportPage {
    Q_OBJECT

public:
    MapsPage(Session& session, QWidget* parent);
    void setFolder(const QString& folder);
    /// Where the model comes from, for it goes along if it is asked for.
    void setScenes(std::shared_ptr<SceneStore> scenes) { m_scenes = std::move(scenes); }
    void setShelf(ArrangementShelf shelf) { m_shelf = std::move(shelf); }
    /// The shelf's entries are other ones now.
    void refreshArrangements();
    ArrangementEditor& arrangementEditor() { return *m_editor; }
    /// Chooses a kept arrangement and shows what its files hold.
    void arrange(const QString& name);
    /// True if the page asks for more width than usual.
    bool isWide() const;
    bool hasSurfaces() const { return !m_surfaces.empty(); }
    void refresh() override;
    QString summary() const override;
    bool isReady() const override;
    Work work() const override;

    QString command() const override;
    /// True if a contact sheet of the same looks is exported too.
    bool wantsSheet() const;
    /// True if the model or the sheet goes along, which the command does not write.
    bool hasCompanions() const;
    /// Which looks go where.
    ExportOptions options() const;

private:
    void chooseEverything();
    void makeReadyChoices(QVBoxLayout& page);
    void fillChoices();
    void makeForm(QHBoxLayout& lists);
    void makeEditor(QVBoxLayout& page);
    /// What the box names; without files: one file a channel.
    Arrangement arrangement() const;
    void showArrangement();
    void keepArrangement();
    void forgetArrangement();

    Session& m_session;
    QVBoxLayout *m_lookList, *m_surfaceList, *m_channelList;
    QLabel* m_surfaceTitle;  ///< shown with its list where there are several
    Boxes m_looks, m_surfaces, m_channels;
    QComboBox *m_format, *m_size, *m_compression, *m_space;
    QLineEdit *m_folder, *m_pattern;
    QCheckBox* m_eachObject;  ///< shown where lines differ from object to object
    QComboBox* m_arrangement;
    QToolButton* m_arrange;
    ArrangementEditor* m_editor;
    ArrangementShelf m_shelf;
    std::vector<Arrangement> m_arrangements;  ///< those of the box, from its second place on
    std::optional<Arrangement> m_changed;     ///< the one that is worked on, not kept yet; the box's last
    std::string m_kept;                       ///< a name that was kept and is not on the shelf yet
    QCheckBox *m_model, *m_sheet, *m_dither, *m_manifest;
    std::shared_ptr<SceneStore> m_scenes;
    QString m_usualPattern;  ///< what the name was when nobody had typed one
};

}  // namespace kettle
