// The changed maps as files: which looks, surfaces and channels, in what format, where to.
#pragma once

#include "app/exporting/export_page.h"
#include "core/exchange/export.h"
#include "core/scene/scene_store.h"

class QComboBox;
class QLineEdit;

namespace kettle {

class MapsPage final : public ExportPage {
    Q_OBJECT

public:
    MapsPage(Session& session, QWidget* parent);
    void setFolder(const QString& folder);
    /// Where the model comes from, for it goes along if it is asked for.
    void setScenes(std::shared_ptr<SceneStore> scenes) { m_scenes = std::move(scenes); }
    bool hasSurfaces() const { return !m_surfaces.empty(); }
    void refresh() override;
    QString summary() const override;
    bool isReady() const override;
    Work work() const override;

private:
    ExportOptions options() const;
    void chooseEverything();

    Session& m_session;
    QVBoxLayout *m_lookList, *m_surfaceList, *m_channelList;
    QLabel* m_surfaceTitle;  ///< shown with its list where there are several
    Boxes m_looks, m_surfaces, m_channels;
    QComboBox *m_format, *m_size, *m_compression;
    QLineEdit *m_folder, *m_pattern;
    QCheckBox* m_eachObject;  ///< shown where lines differ from object to object
    QComboBox* m_arrangement;
    QCheckBox *m_model, *m_dither;
    std::shared_ptr<SceneStore> m_scenes;
    QString m_usualPattern;  ///< what the name was when nobody had typed one
};

}  // namespace kettle
