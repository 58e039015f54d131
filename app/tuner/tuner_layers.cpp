// The tuner of a layer: what stands around the controls of its head.
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/fields/rows.h"
#include "app/style/file_choice.h"
#include "app/tuner/layer_mask.h"
#include "app/tuner/layer_table.h"
#include "app/tuner/tuner_view.h"
#include "core/document/handles.h"
#include "core/document/layers.h"
#include "core/exchange/set_channels.h"

namespace kettle {

void TunerView::addLayerTitle(QVBoxLayout& column, const Line& layer) {
    auto* name = new QLineEdit(text(layer.name), column.parentWidget());
    name->setObjectName(QStringLiteral("layer-name"));
    name->setAccessibleName(tr("Name of the layer"));
    name->setToolTip(tr("The layer's name (F2)"));
    connect(name, &QLineEdit::editingFinished, this, [this, name, id = layer.id] {
        if (name->isModified()) m_session.renameLayer(id, name->text());
        name->setModified(false);
    });
    m_refreshers.push_back([this, name, id = layer.id](const StepView&) {
        const Line* now = m_session.project().findLine(id);
        if (now != nullptr && !name->hasFocus()) name->setText(text(now->name));
    });
    column.addWidget(name);
    auto* about = quietLabel({}, column.parentWidget());
    about->setObjectName(QStringLiteral("layer-about"));
    m_refreshers.push_back([this, about, id = layer.id](const StepView&) {
        const Line* now = m_session.project().findLine(id);
        if (now == nullptr) return;
        int channels = 0;
        for (const auto& line : m_session.project().lines)
            channels += !line->channel.empty() && line->surface == now->surface;
        about->setText(
            tr("Layer, covers %1 of %2 channels").arg(fillsOf(m_session.project(), id).size()).arg(channels));
    });
    column.addWidget(about);
}

void TunerView::addLayerBack(QVBoxLayout& column, const Step& shown, const Line& line) {
    const Line* layer = isLayer(line) ? &line : m_session.project().findLine(layerOf(shown));
    std::string fill;
    if (layer == nullptr && line.channel.empty())
        for (const auto& other : m_session.project().lines)
            for (const auto& step : other->steps)
                if (const auto over = step->feeds.find(kOver.id);
                    !layerOf(*step).empty() && over != step->feeds.end() && over->second.line == line.id)
                    layer = m_session.project().findLine(layerOf(*step)), fill = step->id;
    if (layer == nullptr) return;
    const QString name = text(layer->name);
    auto* back = new QPushButton(isLayer(line)  ? tr("Mask of %1").arg(name)
                                 : fill.empty() ? tr("Fill of %1").arg(name)
                                                : tr("Laid by %1").arg(name),
                                 column.parentWidget());
    back->setObjectName(QStringLiteral("layer-back"));
    back->setToolTip(tr("Back to the layer"));
    back->setProperty("left", true);
    connect(back, &QPushButton::clicked, this, [this, id = layer->id] {
        if (const Line* now = m_session.project().findLine(id)) m_session.selectStep(headOf(*now).id);
    });
    column.addWidget(back);
}

void TunerView::addLayerMask(QVBoxLayout& column) {
    const Line* layer = m_session.selectedLayer();
    if (layer == nullptr) return;
    auto* mask = new LayerMask(m_session, layer->id, column.parentWidget());
    m_refreshers.push_back([mask](const StepView&) { mask->refresh(); });
    m_spreadRefreshers.push_back([this, mask] { mask->setPicture(pictureOf(m_step)); });
    connect(mask, &LayerMask::fileWanted, this, [this, id = layer->id] {
        const QString file =
            chooseFile(this, tr("A picture for the mask"), {},
                       tr("Pictures (*.png *.tif *.tiff *.exr *.jpg *.jpeg *.tga);;All files (*)"));
        if (!file.isEmpty()) m_session.setMaskFile(id, file);
    });
    column.addWidget(mask);
}

void TunerView::addLayerTable(QVBoxLayout& column, const Line& layer) {
    auto* table = new LayerTable(m_session, layer.id, column.parentWidget());
    m_refreshers.push_back([table](const StepView&) { table->refresh(); });
    m_spreadRefreshers.push_back([this, table] { table->setPictures(m_pictures); });
    column.addWidget(table);
}

void TunerView::editLayerName() {
    auto* name = m_body != nullptr ? m_body->findChild<QLineEdit*>(QStringLiteral("layer-name")) : nullptr;
    if (name == nullptr) return;
    name->setFocus();
    name->selectAll();
}

}  // namespace kettle
