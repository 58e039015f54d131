#include "app/tuner/layer_mask.h"

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/rows.h"
#include "app/session/session.h"
#include "app/style/theme.h"
#include "core/document/layers.h"
#include "core/document/sources.h"
#include "core/steps/model_height.h"

namespace kettle {
namespace {

constexpr int kInRow = 4;
constexpr QSize kPicture{120, 98};

/// What a mask begins with first: the step's type and its word.
constexpr std::pair<const char*, const char*> kFirst[] = {
    {"noise", "Noise"},       {"curvature", "Curvature"}, {"occlusion", "Occlusion"},
    {"hue-band", "Hue band"}, {"shape", "Shape"},         {"model-height", "Height"}};

}  // namespace

int percentCovered(const Spread& mask) {
    double sum = 0, all = 0;
    constexpr std::size_t last = Spread::kBins - 1;
    for (std::size_t i = 0; i <= last; ++i) {
        // The outer bins hold what is plainly black and white.
        const double at = i == 0 ? 0 : i == last ? 1 : (static_cast<double>(i) + 0.5) / Spread::kBins;
        sum += at * static_cast<double>(mask.brightness[i]);
        all += static_cast<double>(mask.brightness[i]);
    }
    return all > 0 ? static_cast<int>(std::lround(100 * sum / all)) : 0;
}

LayerMask::LayerMask(Session& session, std::string layer, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_layer(std::move(layer)),
      m_picture(new QPushButton(this)),
      m_covers(quietLabel({}, this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->setSpacing(12);
    m_picture->setObjectName(QStringLiteral("layer-mask"));
    m_picture->setAccessibleName(tr("Mask"));
    m_picture->setToolTip(tr("The layer's mask: white where it lies. Click to tune what it begins with."));
    m_picture->setIconSize(kPicture);
    m_picture->setFixedSize(kPicture + QSize(8, 8));
    connect(m_picture, &QPushButton::clicked, this, [this] {
        if (const Line* line = m_session.project().findLine(m_layer))
            m_session.selectStep(line->steps.front()->id);
    });
    m_covers->setObjectName(QStringLiteral("covers"));
    top->addWidget(m_picture);
    auto* beside = new QVBoxLayout;
    beside->setSpacing(4);
    beside->addWidget(m_covers);
    beside->addStretch(1);
    addViews(*beside);
    top->addLayout(beside, 1);
    column->addLayout(top);
    column->addWidget(quietLabel(tr("The mask begins with"), this));
    addSources(*column);
    refresh();
}

void LayerMask::addSources(QVBoxLayout& column) {
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    int at = 0;
    const auto place = [&](QPushButton* button, const QString& words) {
        button->setText(words);
        button->setProperty("compact", true);
        button->setMinimumWidth(30);
        grid->addWidget(button, at / kInRow, at % kInRow);
        ++at;
    };
    for (const auto& [type, words] : kFirst) {
        auto* button = new QPushButton(this);
        button->setObjectName(QStringLiteral("mask-") + QLatin1String(type));
        button->setCheckable(true);
        connect(button, &QPushButton::clicked, this, [this, kind = std::string(type)] { begin(kind); });
        place(button, tr(words));
        m_sources.emplace_back(button, type);
    }
    const auto withMenu = [&](const char* name, const QString& words, auto fill) {
        auto* button = new QPushButton(this);
        button->setObjectName(QLatin1String(name));
        place(button, words);
        connect(button, &QPushButton::clicked, this, [this, button, fill] {
            auto* menu = new QMenu(button);
            menu->setAttribute(Qt::WA_DeleteOnClose);
            (this->*fill)(*menu);
            menu->popup(button->mapToGlobal(QPoint(0, button->height() + 2)));
        });
    };
    withMenu("mask-picture", tr("Picture…"), &LayerMask::fillPictureMenu);
    withMenu("mask-more", tr("More…"), &LayerMask::fillMoreMenu);
    column.addLayout(grid);
}

void LayerMask::begin(const std::string& type) {
    const StepSpec* spec = m_session.steps().find(type);
    const Line* line = m_session.project().findLine(m_layer);
    if (spec == nullptr || line == nullptr) return;
    Step source;
    source.type = type;
    if (type == kValueSource) source.controls = {kValue(1)};
    // White at the foot, where most gathers.
    if (type == model_height::kType) source.controls = {model_height::kLow(30), model_height::kHigh(0)};
    // What looks at a colour looks at what this layer is laid over.
    for (const FeedSpec& f : spec->feeds)
        if (f.id == kOf.id)
            for (const auto& channel : m_session.project().lines)
                if (channel->channel == channel::kBaseColour && channel->surface == line->surface) {
                    std::size_t end = channel->steps.size();
                    for (std::size_t i = channel->steps.size(); i-- > 1;)
                        if (layerOf(*channel->steps[i]) == m_layer) end = i;
                    source.feeds[kOf.id].line = channel->id;
                    source.feeds[kOf.id].after = channel->steps[end - 1]->id;
                }
    m_session.setMaskSource(m_layer, std::move(source));
}

void LayerMask::fillPictureMenu(QMenu& menu) {
    for (const auto& set : m_session.project().sets) {
        QMenu* maps = menu.addMenu(QString::fromStdString(set->name));
        for (const Map& map : set->maps)
            maps->addAction(QString::fromStdString(map.role), this, [this, id = set->id, role = map.role] {
                m_session.setMaskSource(m_layer,
                                        m_session.newMapStep(id, role, Kind::Scalar, PicturePurpose::Mask));
            });
    }
    menu.addSeparator();
    menu.addAction(tr("A picture's file…"), this, [this] { Q_EMIT fileWanted(); });
}

void LayerMask::fillMoreMenu(QMenu& menu) {
    menu.addAction(tr("Everywhere"), this, [this] { begin(kValueSource); });
    menu.addSeparator();
    for (const StepSpec& spec : m_session.steps()) {
        const bool isFirst = std::any_of(std::begin(kFirst), std::end(kFirst),
                                         [&](const auto& f) { return spec.type == f.first; });
        if (!spec.source || !spec.fits(Kind::Scalar) || isFirst || spec.type == kValueSource ||
            spec.editor == StepEditor::MapFile)
            continue;
        menu.addAction(QString::fromStdString(spec.name), this, [this, type = spec.type] { begin(type); })
            ->setToolTip(QString::fromStdString(spec.purpose));
    }
    menu.setToolTipsVisible(true);
}

void LayerMask::addViews(QVBoxLayout& column) {
    const std::tuple<LayerView, const char*, QString, QString> views[] = {
        {LayerView::Only, "view-only", tr("Only this"), tr("Only this layer over neutral channels (O)")},
        {LayerView::Mask, "view-mask", tr("Mask on model"), tr("The mask laid over the model (M)")},
        {LayerView::UpTo, "view-up-to", tr("Up to here"),
         tr("The surface with this layer and those below (, and . step through)")}};
    for (const auto& [how, name, words, tip] : views) {
        auto* button = new QToolButton(this);
        button->setObjectName(QLatin1String(name));
        button->setText(words);
        button->setToolTip(tip);
        button->setCheckable(true);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        button->setProperty("compact", true);
        connect(button, &QToolButton::clicked, this, [this, how = how] {
            const bool isOn = m_session.layerView() == how && m_session.viewedLayer() == m_layer;
            m_session.viewLayer(isOn ? LayerView::All : how, isOn ? std::string() : m_layer);
            refresh();
        });
        column.addWidget(button);
        m_views.emplace_back(button, static_cast<int>(how));
    }
    connect(&m_session, &Session::viewChanged, this, &LayerMask::refresh);
}

void LayerMask::refresh() {
    const Line* line = m_session.project().findLine(m_layer);
    if (line == nullptr || line->steps.empty()) return;
    for (const auto& [button, how] : m_views)
        button->setChecked(static_cast<int>(m_session.layerView()) == how &&
                           m_session.viewedLayer() == m_layer);
    for (const auto& [button, type] : m_sources) button->setChecked(line->steps.front()->type == type);
}

void LayerMask::setPicture(const CardPicture* picture) {
    if (picture == nullptr || picture->thumbnail.isNull()) return;
    const int percent = percentCovered(picture->spread());
    m_covers->setText(percent >= 100 ? tr("covers all of the surface")
                                     : tr("covers %1 % of the surface").arg(percent));
    const QImage& from = picture->thumbnail;
    const int wide = std::min(from.width(), from.height() * kPicture.width() / kPicture.height());
    const int tall = std::min(from.height(), from.width() * kPicture.height() / kPicture.width());
    constexpr int kFine = 2;
    QPixmap pixmap(kPicture * kFine);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(pixmap.rect(), from,
                QRect((from.width() - wide) / 2, (from.height() - tall) / 2, wide, tall));
    p.end();
    pixmap.setDevicePixelRatio(kFine);
    m_picture->setIcon(QIcon(pixmap));
}

}  // namespace kettle
