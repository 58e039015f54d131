// Materials for other programs: the model as glTF with looks as variants, or MaterialX.
#pragma once

#include "app/exporting/export_page.h"
#include "core/handover/material_format.h"
#include "core/scene/scene_store.h"

class QComboBox;
class QLineEdit;

namespace kettle {

class MaterialsPage final : public ExportPage {
    Q_OBJECT

public:
    MaterialsPage(Session& session, QWidget* parent);
    /// Where the model comes from.
    void setScenes(std::shared_ptr<SceneStore> scenes) { m_scenes = std::move(scenes); }
    void refresh() override;
    QString summary() const override;
    bool isReady() const override;
    Work work() const override;
    QString command() const override;
    QLineEdit& file() { return *m_file; }

private:
    MaterialFormat format() const;
    void followFormat();

    Session& m_session;
    std::shared_ptr<SceneStore> m_scenes;
    QVBoxLayout* m_lookList;
    Boxes m_looks;
    QComboBox *m_format, *m_size;
    QCheckBox* m_jpeg;
    QLineEdit* m_file;
    QString m_usualFile;  ///< what the name was when nobody had typed one
};

}  // namespace kettle
