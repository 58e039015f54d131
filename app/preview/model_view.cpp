#include "app/preview/model_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/style/labels.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"

namespace kettle {
namespace {

QColor surroundColour(const std::string& name) {
    const int code = toByte(linearToSrgb(surroundOf(name)));
    return {code, code, code};
}

}  // namespace

ModelView::ModelView(Session& session, PictureService& pictures, const QStringList& models,
                     const QStringList& environments, QWidget* parent)
    : QWidget(parent), m_session(session), m_pictures(pictures) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
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
    bar->addStretch(1);
    m_bareChip = new QLabel(this);
    m_bareChip->setObjectName(QStringLiteral("chip"));
    m_bareChip->setStyleSheet(QStringLiteral("color: #A45A00;"));
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
    connect(back, &QToolButton::clicked, this, [this] { m_session.setLookHere(std::nullopt); });

    makeMenus(models, environments);
    connect(&session, &Session::projectChanged, this, &ModelView::ask);
    connect(&session, &Session::lookChanged, this, &ModelView::ask);
    connect(&session, &Session::viewChanged, this, &ModelView::ask);
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
    m_readingTimer->setInterval(250);
    connect(m_readingTimer, &QTimer::timeout, this, [this] {
        refreshBar();
        Q_EMIT stateChanged();
    });
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
    PreviewRequest request;
    request.project = m_session.shownProject();
    request.look = m_session.look();
    request.lookHere = m_session.lookHere();
    if (request.lookHere) request.lookHere->component = m_session.shownComponent();
    request.camera = m_camera;
    const double scale = devicePixelRatioF();
    request.width = static_cast<int>(width() * scale);
    request.height = static_cast<int>(height() * scale);
    m_askedNumber = m_pictures.askModel(std::move(request), m_session.resources());
    refreshBar();
}

void ModelView::showShape(const std::shared_ptr<const RayScene>& scene) {
    m_readingTimer->stop();
    m_scene = scene;
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

void ModelView::frameModel() {
    if (!m_scene) return;
    const float turn = m_camera.turn, tilt = m_camera.tilt;
    m_camera = Camera{};
    m_camera.turn = turn;
    m_camera.tilt = tilt;
    m_camera.frame(m_scene->mesh(), static_cast<float>(width()) / static_cast<float>(std::max(1, height())));
    m_needsFrame = false;
    ask();
}

void ModelView::showPicture(quint64 number, const QImage& picture, int stage, const QString& problem) {
    if (number < m_shownNumber || (number == m_shownNumber && stage < m_stage)) return;
    m_shownNumber = number;
    m_stage = stage;
    m_picture = picture;
    m_problem = problem;
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
    m_stateChip->setText(state());
    m_stateChip->setToolTip(m_problem);
    m_stateChip->setStyleSheet(m_problem.isEmpty() ? QString() : QStringLiteral("color: #A45A00;"));
    const auto& here = m_session.lookHere();
    const bool before = m_session.showsBefore();
    m_hereBar->setVisible(here.has_value() || before);
    if (before) {
        m_hereText->setText(tr("Before this step"));
    } else if (here) {
        const Line* line = m_session.project().findLine(here->line);
        const auto place = m_session.project().findStep(here->after);
        const StepSpec* spec =
            place ? m_session.steps().find(m_session.project().stepAt(*place).type) : nullptr;
        m_hereText->setText(tr("%1 after %2")
                                .arg(line != nullptr ? QString::fromStdString(line->name) : QString(),
                                     spec != nullptr ? QString::fromStdString(spec->name) : QString()));
    }
}

void ModelView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    if (m_picture.isNull()) {
        p.fillRect(rect(), surroundColour(m_session.project().view.surround));
        const bool isEmpty = m_session.project().lines.empty();
        if (isEmpty || !m_problem.isEmpty()) {
            p.setFont(theme::font(13));
            p.setPen(theme::kInk);
            p.drawText(rect().adjusted(24, 48, -24, -24), Qt::AlignCenter | Qt::TextWordWrap,
                       isEmpty ? tr("The lit model appears here.") : theme::breakable(m_problem));
        }
    } else {
        p.drawImage(rect(), m_picture);
    }
    if (!m_dimmed.isNull()) p.drawImage(rect(), m_dimmed);
    if (m_mark) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kCard, 3));
        p.drawEllipse(*m_mark, 6, 6);
        p.setPen(QPen(theme::kInk, 1.2));
        p.drawEllipse(*m_mark, 6, 6);
    }
    if (hasFocus()) {
        p.setPen(QPen(theme::kAccent, 2));
        p.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void ModelView::setLit(std::optional<std::string> surface) {
    m_dimmed = {};
    update();
    if (!surface || !m_scene) return;
    const std::vector<int> ofPart = surfacesOfParts(m_session.project(), m_scene->mesh().parts);
    const std::vector<std::string> ids = surfaceIds(m_session.project());
    const auto lit = std::find(ids.begin(), ids.end(), *surface) - ids.begin();
    // A coarse veil is enough to see which parts are meant, and costs the window little.
    const int columns = std::max(1, width() / 6), rows = std::max(1, height() / 6);
    const float aspect = static_cast<float>(width()) / static_cast<float>(height());
    m_dimmed = QImage(columns, rows, QImage::Format_ARGB32_Premultiplied);
    m_dimmed.fill(QColor(237, 237, 237, 170));
    for (int y = 0; y < rows; ++y)
        for (int x = 0; x < columns; ++x) {
            const SurfacePoint at = surfaceAt(*m_scene, m_camera, aspect,
                                              (static_cast<float>(x) + 0.5f) / static_cast<float>(columns),
                                              (static_cast<float>(y) + 0.5f) / static_cast<float>(rows));
            if (at.found && ofPart[at.part] == lit) m_dimmed.setPixelColor(x, y, Qt::transparent);
        }
}

void ModelView::setMark(std::optional<QPointF> uv) {
    m_mark.reset();
    if (uv && m_scene) {
        // The nearest visible place with these texture coordinates, on a coarse raster: enough for a mark.
        const float aspect = static_cast<float>(width()) / static_cast<float>(height());
        double best = 0.02 * 0.02;
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 72; ++x) {
                const float fx = (static_cast<float>(x) + 0.5f) / 72,
                            fy = (static_cast<float>(y) + 0.5f) / 48;
                const SurfacePoint s = surfaceAt(*m_scene, m_camera, aspect, fx, fy);
                if (!s.found) continue;
                const double du = static_cast<double>(s.u - std::floor(s.u)) - uv->x(),
                             dv = static_cast<double>(s.v - std::floor(s.v)) - uv->y();
                if (du * du + dv * dv >= best) continue;
                best = du * du + dv * dv;
                m_mark = QPointF(static_cast<double>(fx) * width(), static_cast<double>(fy) * height());
            }
    }
    update();
}

void ModelView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    ask();
}

SurfacePoint ModelView::pointAt(QPointF pixel) const {
    if (!m_scene) return {};
    return surfaceAt(*m_scene, m_camera, static_cast<float>(width()) / static_cast<float>(height()),
                     static_cast<float>(pixel.x()) / static_cast<float>(width()),
                     static_cast<float>(pixel.y()) / static_cast<float>(height()));
}

std::optional<QPointF> ModelView::placeAt(QPointF pixel) const {
    const SurfacePoint s = pointAt(pixel);
    if (!s.found) return std::nullopt;
    return QPointF(static_cast<double>(s.u), static_cast<double>(s.v));
}

void ModelView::startPicking() {
    m_isPicking = true;
    setCursor(Qt::CrossCursor);
}

void ModelView::stopPicking() {
    if (!m_isPicking) return;
    m_isPicking = false;
    unsetCursor();
    Q_EMIT pickingStopped();
}

void ModelView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (m_isPicking && event->button() == Qt::LeftButton) {
        // Beside the model there is nothing to pick; the choice stays open.
        const auto place = placeAt(event->position());
        if (!place) return;
        stopPicking();
        constexpr double kReach = 0.003;  // a few texels, so that one odd one does not decide
        Q_EMIT picked(QRectF(place->x() - kReach, place->y() - kReach, 2 * kReach, 2 * kReach));
        return;
    }
    if (event->button() == Qt::LeftButton && (event->modifiers() & Qt::ControlModifier) != 0 && m_scene) {
        const SurfacePoint at = pointAt(event->position());
        if (at.found) Q_EMIT partChosen(QString::fromStdString(m_scene->mesh().parts[at.part]));
        return;
    }
    m_last = event->pos();
    m_turning = event->button() == Qt::LeftButton && (event->modifiers() & Qt::ShiftModifier) == 0;
    m_panning = event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && !m_turning);
}

void ModelView::mouseMoveEvent(QMouseEvent* event) {
    const QPoint d = event->pos() - m_last;
    if (!m_turning && !m_panning) {
        if (const auto place = placeAt(event->position()))
            Q_EMIT pointed(place->x(), place->y());
        else
            Q_EMIT pointerLeft();
        return;
    }
    m_last = event->pos();
    if (m_turning) {
        m_camera.turn -= static_cast<float>(d.x()) * 0.5f;
        m_camera.tilt = std::clamp(m_camera.tilt + static_cast<float>(d.y()) * 0.4f, -85.0f, 85.0f);
    } else {
        const Vec3 forward = normalised(m_camera.target - m_camera.position()),
                   right = normalised(cross(forward, {0, 1, 0})), up = cross(right, forward);
        const float scale = 2 * m_camera.distance * std::tan(m_camera.fieldOfView * 0.00872665f) /
                            static_cast<float>(height());
        m_camera.target = m_camera.target - right * (static_cast<float>(d.x()) * scale) +
                          up * (static_cast<float>(d.y()) * scale);
    }
    ask();
}

void ModelView::mouseReleaseEvent(QMouseEvent*) {
    m_turning = m_panning = false;
}

void ModelView::leaveEvent(QEvent*) {
    Q_EMIT pointerLeft();
}

void ModelView::wheelEvent(QWheelEvent* event) {
    m_camera.distance =
        std::clamp(m_camera.distance * static_cast<float>(std::pow(0.88, event->angleDelta().y() / 120.0)),
                   1.0f, 20000.0f);
    ask();
}

void ModelView::keyPressEvent(QKeyEvent* event) {
    // Arrows alone walk the board; with Shift they turn the model.
    const bool turns = (event->modifiers() & Qt::ShiftModifier) != 0;
    switch (event->key()) {
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            if (!turns) return QWidget::keyPressEvent(event);
            if (event->key() == Qt::Key_Left) m_camera.turn -= 8;
            if (event->key() == Qt::Key_Right) m_camera.turn += 8;
            if (event->key() == Qt::Key_Up) m_camera.tilt = std::min(85.0f, m_camera.tilt + 6);
            if (event->key() == Qt::Key_Down) m_camera.tilt = std::max(-85.0f, m_camera.tilt - 6);
            break;
        case Qt::Key_Plus:
            m_camera.distance *= 0.9f;
            break;
        case Qt::Key_Minus:
            m_camera.distance *= 1.1f;
            break;
        case Qt::Key_Home:
            return frameModel();
        default:
            return QWidget::keyPressEvent(event);
    }
    ask();
}

}  // namespace kettle
