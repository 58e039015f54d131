// The placement's frame on the lit model: where its lines lie on the surface, as far as they are seen.
#include <QPainter>
#include <cmath>
#include <limits>

#include "app/preview/model_view.h"
#include "core/geometry/uv_positions.h"

namespace kettle {
namespace {

constexpr int kPieces = 24;  ///< of an edge, which bends with the surface
const QPointF kUnseen(std::numeric_limits<double>::quiet_NaN(), std::numeric_limits<double>::quiet_NaN());

}  // namespace

/// Its triangles are sorted on a thread of their own, the first time a frame is wanted.
const UvPositions* ModelView::positions() {
    if (m_positions && m_positions->scene() == m_scene) return m_positions.get();
    if (!m_scene) return nullptr;
    if (!m_sorting.valid())
        m_sorting = std::async(std::launch::async,
                               [scene = m_scene] { return std::make_shared<const UvPositions>(scene); });
    if (m_sorting.wait_for(std::chrono::seconds(0)) != std::future_status::ready) return nullptr;
    m_positions = m_sorting.get();
    return m_positions->scene() == m_scene ? m_positions.get() : nullptr;
}

QPointF ModelView::pixelOfPlace(QPointF uv) {
    const UvPositions* known = positions();
    const auto position =
        known != nullptr ? known->at(static_cast<float>(uv.x()), static_cast<float>(uv.y())) : std::nullopt;
    if (!position) return kUnseen;
    const float aspect = static_cast<float>(width()) / static_cast<float>(height());
    const auto at = pictureOf(m_camera, aspect, *position);
    if (!at || at->x < 0 || at->x > 1 || at->y < 0 || at->y > 1) return kUnseen;
    // Seen, if the ray through that pixel ends there.
    const SurfacePoint seen = surfaceAt(*m_scene, m_camera, aspect, at->x, at->y);
    if (!seen.found || length(seen.position - *position) > 0.01f * m_camera.distance) return kUnseen;
    return {static_cast<double>(at->x) * width(), static_cast<double>(at->y) * height()};
}

/// What lies as it came needs no frame on the model.
bool ModelView::showsFrame() const {
    if (m_overlay.isOn() || m_isPicking || !m_scene) return false;
    const auto frame = m_frameHand.frame();
    return frame && !(frame->numbers() == PlacementNumbers{});
}

void ModelView::paintFrame(QPainter& p) {
    if (showsFrame() && (underMouse() || m_frameHand.isDragging()))
        m_frameHand.paint(p, m_squareSize, kPieces);
}

}  // namespace kettle
