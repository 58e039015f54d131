#include "app/preview/model_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/compare/compare_menu.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "core/document/channels.h"

namespace kettle {
ModelView::ModelView(Session& session, PictureService& pictures, const QStringList& models,
                     const QStringList& environments, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_pictures(pictures),
      m_overlay(session),
      m_frameHand(session, {[this](QPointF uv) { return pixelOfPlace(uv); },
                            [this](QPointF pixel) { return placeAt(pixel); }}) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);  // nothing behind it is painted for nothing
    setMinimumSize(320, 200);
    setAccessibleName(tr("Model"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    auto* bar = new QHBoxLayout;
    bar->setSpacing(6);
    column->addLayout(bar);
    m_modelChip = addChip(*bar, tr("Model"));
    m_lightChip = addChip(*bar, tr("Light"));
    m_viewChip = addChip(*bar, tr("View"));
    m_compareChip = addChip(*bar, tr("Compare"));
    m_compareChip->setToolTip(
        tr("Puts this picture beside another: a wipe, side by side, or their difference."));
    bar->addStretch(1);
    m_offChip = new QToolButton(this);
    m_offChip->setObjectName(QStringLiteral("chip"));
    theme::setWarning(m_offChip, true);
    m_offChip->setToolTip(
        tr("Shown as if they had no line, to judge the others. Never exported so. A click "
           "brings all back (Esc)."));
    m_offChip->hide();
    connect(m_offChip, &QToolButton::clicked, &session, &Session::allChannelsOn);
    bar->addWidget(m_offChip);
    m_bareChip = new QLabel(this);
    m_bareChip->setObjectName(QStringLiteral("chip"));
    theme::setWarning(m_bareChip, true);
    m_bareChip->hide();
    bar->addWidget(m_bareChip);
    m_stateChip = new QLabel(this);
    m_stateChip->setObjectName(QStringLiteral("chip"));
    m_stateChip->setAccessibleName(tr("State of the picture"));
    bar->addWidget(m_stateChip);

    m_hereBar = new QWidget(this);
    auto* here = new QHBoxLayout(m_hereBar);
    here->setContentsMargins(0, 0, 0, 0);
    here->setSpacing(6);
    m_hereText = new QLabel(m_hereBar);
    m_hereText->setObjectName(QStringLiteral("chip"));
    auto* back = new QToolButton(m_hereBar);
    back->setObjectName(QStringLiteral("chip"));
    back->setText(tr("Back to surface (Esc)"));
    here->addWidget(m_hereText);
    here->addWidget(back);
    here->addStretch(1);
    column->addWidget(m_hereBar);
    column->addStretch(1);
    m_hereBar->hide();
    connect(back, &QToolButton::clicked, this, [this] {
        m_session.showTestCard(false);
        m_session.setLookHere(std::nullopt);
    });

    makeMenus(models, environments);
    connect(&session, &Session::projectChanged, this, &ModelView::ask);
    connect(&session, &Session::mapsArrived, this, &ModelView::ask);
    connect(&session, &Session::lookChanged, this, &ModelView::ask);
    connect(&session, &Session::viewChanged, this, &ModelView::ask);
    // "Before the chosen step" is another picture with another step.
    connect(&session, &Session::selectionChanged, this, [this] {
        const auto& now = m_session.comparison();
        if (now && now->with == Comparison::With::BeforeStep) ask();
    });
    connect(&session, &Session::objectsChanged, this, &ModelView::refreshOutline);
    connect(&session, &Session::fileChanged, this, [this] { m_needsFrame = true; });
    connect(&pictures, &PictureService::modelReady, this, &ModelView::showPicture);
    connect(&pictures, &PictureService::modelFailed, this, [this](quint64 number, const QString& sentence) {
        if (number != m_askedNumber) return;
        m_problem = sentence;
        refreshBar();
        Q_EMIT m_session.told(sentence, true);
    });
    connect(&pictures, &PictureService::modelShapeReady, this, &ModelView::showShape);
    connect(&pictures, &PictureService::modelShapeFailed, this, &ModelView::showNoShape);
    m_readingTimer = new QTimer(this);
    m_measuringTimer = new QTimer(this);
    for (QTimer* timer : {m_readingTimer, m_measuringTimer}) {
        timer->setInterval(250);
        connect(timer, &QTimer::timeout, this, [this] {
            refreshBar();
            Q_EMIT stateChanged();
            if (isCurrent()) m_measuringTimer->stop();
        });
    }
}

QToolButton* ModelView::addChip(QHBoxLayout& bar, const QString& name) {
    auto* chip = new QToolButton(this);
    chip->setObjectName(QStringLiteral("chip"));
    chip->setPopupMode(QToolButton::InstantPopup);
    chip->setAccessibleName(name);
    chip->setText(name);
    bar.addWidget(chip);
    return chip;
}

void ModelView::ask() {
    if (m_session.project().lines.empty() || width() < 2 || height() < 2) return refreshBar();
    const ViewSettings& view = m_session.project().view;
    if (m_sceneName != view.model || m_sceneUnit != view.unit) {
        m_needsFrame = m_needsFrame || m_sceneName != view.model || m_scene == nullptr;
        m_sceneName = view.model;
        m_sceneUnit = view.unit;
        m_scene.reset();
        m_problem.clear();
        m_reading.start();
        m_readingTimer->start();
        m_pictures.askModelShape(view.model, view.unit);
    }
    refreshBar();
    if (m_scene == nullptr) return;  // asked again as soon as the shape is known
    if (!m_measuringTimer->isActive()) m_measuringTimer->start();
    PreviewRequest request;
    request.project = m_session.shownProject();
    request.look = m_session.look();
    request.lookHere = m_session.lookHere();
    if (request.lookHere) request.lookHere->component = m_session.shownComponent();
    m_camera.fieldOfView = static_cast<float>(std::clamp(view.fieldOfView, 4.0, 120.0));
    request.camera = m_camera;
    if (!(m_outlinedFrom == m_camera)) m_outline = {};
    request.off = m_session.channelsOff();
    if (auto other = m_session.otherSide()) request.others.push_back(std::move(*other));
    const double scale = devicePixelRatioF();
    const QSize size = m_overlay.pictureSize(this->size());
    request.width = static_cast<int>(size.width() * scale);
    request.height = static_cast<int>(size.height() * scale);
    const QImage still = m_session.comparison() ? m_session.comparison()->picture : QImage();
    m_askedNumber = m_pictures.askModel(std::move(request), m_session.resources(), still);
    refreshBar();
}

void ModelView::showShape(const std::shared_ptr<const RayScene>& scene) {
    m_readingTimer->stop();
    m_scene = scene;
    m_squareSize = centimetresOfSquare(scene->mesh());
    // Another unit is the same picture at another scale, so it is framed too.
    frameModel();
    Q_EMIT shapeShown();
}

void ModelView::showNoShape(const QString& sentence) {
    m_readingTimer->stop();
    m_problem = sentence;
    m_picture = {};
    m_stage = -1;
    refreshBar();
    update();
    Q_EMIT m_session.told(sentence, true);
    Q_EMIT stateChanged();
}

std::vector<std::string> ModelView::bareParts() const {
    std::vector<std::string> bare;
    if (!m_scene) return bare;
    const auto& parts = m_scene->mesh().parts;
    const std::vector<int> surfaces = surfacesOfParts(m_session.project(), parts);
    for (std::size_t i = 0; i < parts.size(); ++i)
        if (surfaces[i] < 0) bare.push_back(parts[i]);
    return bare;
}

void ModelView::showPicture(quint64 number, const QImage& picture, int stage, const QString& problem,
                            const ComparedPtr& compared) {
    if (number < m_shownNumber || (number == m_shownNumber && stage < m_stage)) return;
    m_shownNumber = number;
    m_stage = stage;
    m_picture = picture;
    m_problem = problem;
    m_overlay.setCompared(compared);
    if (m_outline.isNull() && stage > 0 && !m_session.chosenObjects().empty()) refreshOutline();
    refreshBar();
    update();
    Q_EMIT stateChanged();
}

QString ModelView::state() const {
    if (m_session.project().lines.empty()) return tr("nothing to show yet");
    if (m_scene == nullptr && !m_problem.isEmpty()) return tr("no model");
    if (m_scene == nullptr && m_readingTimer->isActive()) {
        const auto seconds = m_reading.elapsed() / 1000;
        return seconds < 1 ? tr("reading the model") : tr("reading the model, %1 s").arg(seconds);
    }
    if (!m_problem.isEmpty()) return tr("map missing");
    // What the model hides takes rays the first time, and everything waits for it.
    if (const int percent = m_pictures.facts()->percent(); percent < 100)
        return tr("measuring the model %1 %").arg(percent);
    if (const auto arrived = m_session.arrived(); arrived.all > 0)
        return tr("reading maps, %1 of %2").arg(arrived.read).arg(arrived.all);
    if (const QString file = m_session.changingSource(); !file.isEmpty())
        return tr("%1 is changing").arg(file);
    if (m_shownNumber != m_askedNumber || m_stage < 0) return tr("working");
    if (m_stage >= Preview::kLastStage) return tr("current");
    return tr("refining %1 %").arg(100 * (m_stage + 1) / (Preview::kLastStage + 1));
}

void ModelView::refreshBar() {
    const ViewSettings& view = m_session.project().view;
    m_modelChip->setText(nameOfChoice(view.model));
    m_lightChip->setText(nameOfChoice(view.environment));
    const auto bare = bareParts();
    m_bareChip->setVisible(!bare.empty());
    m_bareChip->setText(bare.size() == 1 ? tr("1 part without a surface")
                                         : tr("%1 parts without a surface").arg(bare.size()));
    QStringList names;
    for (const std::string& part : bare) names << QString::fromStdString(part);
    m_bareChip->setToolTip(tr("They show neutral grey: %1. Give them to a surface in the menu of its heading "
                              "on the board.")
                               .arg(names.join(QStringLiteral(", "))));
    m_viewChip->setText(view.exposure == 0 ? tr("View")
                                           : tr("View %1%2 EV")
                                                 .arg(view.exposure > 0 ? QStringLiteral("+") : QString())
                                                 .arg(view.exposure, 0, 'f', 1));
    m_compareChip->setText(compareWords(m_session));
    QStringList off;
    for (const std::string& id : m_session.channelsOff())
        if (const ChannelSpec* channel = findChannel(id)) off << QString::fromLatin1(channel->name).toLower();
    m_offChip->setVisible(!off.isEmpty());
    m_offChip->setText(off.size() > 2 ? tr("%1 channels off").arg(off.size())
                                      : tr("%1 off").arg(off.join(tr(" and "))));
    m_stateChip->setText(state());
    m_stateChip->setToolTip(m_problem);
    theme::setWarning(m_stateChip, !m_problem.isEmpty());
    const auto& here = m_session.lookHere();
    const bool before = m_session.showsBefore();
    m_hereBar->setVisible(here.has_value() || before || m_session.showsTestCard());
    if (!here && !before) {
        m_hereText->setText(tr("Test card in place of the colours"));
    } else if (before) {
        m_hereText->setText(tr("Before this step"));
    } else if (here) {
        const Line* line = m_session.boardProject().findLine(here->line);
        const auto shown = m_session.shownStep(here->after);
        const StepSpec* spec = shown ? m_session.steps().find(shown->type) : nullptr;
        m_hereText->setText(tr("%1 after %2")
                                .arg(line != nullptr ? QString::fromStdString(line->name) : QString(),
                                     spec != nullptr ? QString::fromStdString(spec->name) : QString()));
    }
}

void ModelView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    ask();
}

}  // namespace kettle
