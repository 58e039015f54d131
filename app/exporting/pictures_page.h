// Pictures of the model: a contact sheet of looks and views, the view alone, or frames once around it.
#pragma once

#include "app/exporting/export_page.h"
#include "core/handover/contact_sheet.h"

class QComboBox;
class QLineEdit;
class QSpinBox;

namespace kettle {

class PicturesPage final : public ExportPage {
    Q_OBJECT

public:
    /// `environments`: the shipped ones' names.
    PicturesPage(Session& session, const QStringList& environments, QWidget* parent);
    /// What renders: models and environments' folder; and the camera of the window, for pictures as wide /
    /// high.
    void setView(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments,
                 std::function<Camera(double aspect)> camera);
    void refresh() override;
    QString summary() const override;
    bool isReady() const override;
    Work work() const override;
    /// A contact sheet of these looks in a folder, else as the page is set.
    Work sheetWork(const std::vector<std::string>& looks, const std::filesystem::path& folder) const;
    /// None: the batch tool does not know where the window looks from.
    QString command() const override { return {}; }
    /// These looks as a sheet; none: all of them.
    void chooseSheet(const QStringList& looks);
    QLineEdit& file() { return *m_file; }

private:
    enum What { Sheet, View, Frames };
    What what() const;
    SheetPlan plan() const;
    Work sheetWork(SheetPlan plan, const std::filesystem::path& file) const;
    QSize size() const;
    void showParts();

    Session& m_session;
    QStringList m_environments;
    std::shared_ptr<SceneStore> m_scenes;
    std::filesystem::path m_environmentsFolder;
    std::function<Camera(double)> m_camera;
    QVBoxLayout *m_lookList, *m_viewList, *m_lightList;
    QLabel *m_viewTitle, *m_lightTitle, *m_columnsTitle, *m_framesTitle;
    Boxes m_looks, m_views, m_lights;
    QComboBox *m_what, *m_size, *m_surround;
    QSpinBox *m_columns, *m_frames;
    QCheckBox *m_names, *m_differences, *m_heading;
    QLineEdit* m_file;
    QString m_usualFile;  ///< what the name was when nobody had typed one
};

}  // namespace kettle
