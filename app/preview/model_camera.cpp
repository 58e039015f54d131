// The camera over the model: framing, axes, kept views, and going to where two pictures differ most.
#include <QMenu>
#include <algorithm>
#include <cmath>

#include "app/preview/model_view.h"
#include "core/document/edits.h"

namespace kettle {

void ModelView::frame(const std::vector<bool>& parts) {
    if (!m_scene) return;
    const float turn = m_camera.turn, tilt = m_camera.tilt, lens = m_camera.fieldOfView;
    m_camera = Camera{};
    m_camera.turn = turn, m_camera.tilt = tilt, m_camera.fieldOfView = lens;
    m_camera.frame(m_scene->mesh(), static_cast<float>(width()) / static_cast<float>(std::max(1, height())),
                   parts);
    m_needsFrame = false;
    ask();
}

void ModelView::dragCamera(QPoint d) {
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

void ModelView::frameModel() {
    frame({});
}

void ModelView::frameParts() {
    if (!m_scene) return;
    const Line* line = m_session.selectedLine();
    const std::vector<int> ofPart = surfacesOfParts(m_session.project(), m_scene->mesh().parts);
    const std::vector<std::string> ids = surfaceIds(m_session.project());
    std::vector<bool> parts;
    for (const int of : ofPart)
        parts.push_back(line == nullptr || line->surface.empty() ||
                        (of >= 0 && ids[static_cast<std::size_t>(of)] == line->surface));
    frame(parts);
}

void ModelView::lookFrom(float turn, float tilt) {
    m_camera.turn = turn;
    m_camera.tilt = tilt;
    frameModel();
}

void ModelView::keepPicture() {
    if (m_picture.isNull()) return;
    m_session.keepPicture(m_picture, m_camera);
    Q_EMIT m_session.told(
        tr("The picture is kept at the end of the looks. Compare with it, save or drop it there."), false);
}

void ModelView::goToLargest() {
    const auto& compared = m_overlay.compared();
    if (!compared || !m_scene || compared->largest <= 0) return;
    const QSize one = m_overlay.pictureSize(size());
    const SurfacePoint at =
        surfaceAt(*m_scene, m_camera, static_cast<float>(one.width()) / static_cast<float>(one.height()),
                  static_cast<float>(compared->largestAt.x()), static_cast<float>(compared->largestAt.y()));
    if (!at.found) return;
    m_camera.target = at.position;
    m_camera.distance *= 0.4f;
    ask();
}

void ModelView::keepView() {
    setView([this](ViewSettings& v) {
        v.views.push_back({tr("View %1").arg(v.views.size() + 1).toStdString(),
                           static_cast<double>(m_camera.turn), static_cast<double>(m_camera.tilt),
                           static_cast<double>(m_camera.distance), m_camera.target});
    });
}

void ModelView::fillCameraMenu(QMenu& menu) {
    menu.addAction(tr("Frame the model"), this, [this] { frameModel(); });
    menu.addAction(tr("Frame the chosen surface"), this, &ModelView::frameParts);
    menu.addAction(tr("From the front"), this, [this] { lookFrom(0, 0); });
    menu.addAction(tr("From the side"), this, [this] { lookFrom(90, 0); });
    menu.addAction(tr("From the top"), this, [this] { lookFrom(0, 85); });
    QMenu* lens = menu.addMenu(tr("Field of view"));
    const double now = m_session.project().view.fieldOfView;
    for (const double degrees : {12.0, 20.0, 28.0, 45.0, 65.0}) {
        QAction* action = lens->addAction(tr("%1°").arg(degrees), this, [this, degrees] {
            setView([degrees](ViewSettings& v) { v.fieldOfView = degrees; });
            m_camera.fieldOfView = static_cast<float>(degrees);
            frameModel();
        });
        action->setCheckable(true);
        action->setChecked(now == degrees);
    }
    QMenu* kept = menu.addMenu(tr("Kept views"));
    const auto& views = m_session.project().view.views;
    for (std::size_t i = 0; i < views.size(); ++i)
        kept->addAction(QString::fromStdString(views[i].name), this, [this, view = views[i]] {
            m_camera.turn = static_cast<float>(view.turn), m_camera.tilt = static_cast<float>(view.tilt);
            m_camera.distance = static_cast<float>(view.distance), m_camera.target = view.target;
            ask();
        });
    if (!views.empty()) kept->addSeparator();
    kept->addAction(tr("Keep this view"), this, &ModelView::keepView);
    if (views.empty()) return;
    QMenu* drop = kept->addMenu(tr("Drop"));
    for (std::size_t i = 0; i < views.size(); ++i)
        drop->addAction(QString::fromStdString(views[i].name), this, [this, i] {
            setView([i](ViewSettings& v) {
                if (i < v.views.size()) v.views.erase(v.views.begin() + static_cast<std::ptrdiff_t>(i));
            });
        });
}

void ModelView::addNumber(QMenu& menu, const QString& words, double ViewSettings::*setting, double value) {
    QAction* action = menu.addAction(
        words, this, [this, setting, value] { setView([=](ViewSettings& v) { v.*setting = value; }); });
    action->setCheckable(true);
    action->setChecked(m_session.project().view.*setting == value);
}

void ModelView::fillKeyLightMenu(QMenu& menu) {
    for (const auto& [words, value] : {std::pair{tr("Without"), 0.0},
                                       {tr("Half as strong"), 0.5},
                                       {tr("As the environment has it"), 1.0},
                                       {tr("Twice as strong"), 2.0},
                                       {tr("Four times as strong"), 4.0}})
        addNumber(menu, words, &ViewSettings::keyStrength, value);
    menu.addSeparator();
    for (const auto& [words, value] : {std::pair{tr("Sharp shadow (1°)"), 1.0},
                                       {tr("Soft shadow (4°)"), 4.0},
                                       {tr("Very soft shadow (12°)"), 12.0}})
        addNumber(menu, words, &ViewSettings::keySoftness, value);
}

void ModelView::fillDisplacementMenu(QMenu& menu) {
    for (const auto& [words, value] : {std::pair{tr("Off"), 0.0},
                                       {tr("1 mm deep"), 0.1},
                                       {tr("3 mm deep"), 0.3},
                                       {tr("1 cm deep"), 1.0},
                                       {tr("3 cm deep"), 3.0}})
        addNumber(menu, words, &ViewSettings::displacement, value);
    menu.addSeparator();
    for (const auto& [words, value] : {std::pair{tr("Black stays, white rises"), 0.0},
                                       {tr("Mid grey stays"), 0.5},
                                       {tr("White stays, black sinks"), 1.0}})
        addNumber(menu, words, &ViewSettings::displacementMiddle, value);
}

}  // namespace kettle
