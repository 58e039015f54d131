// How the lit model is painted: its picture or two that are compared, what is lit, marked, and has the keys.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/preview/model_view.h"
#include "app/style/labels.h"
#include "app/style/strips.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

QColor surroundColour(const std::string& name) {
    const int code = toByte(linearToSrgb(surroundOf(name)));
    return {code, code, code};
}

}  // namespace

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
        if (!m_overlay.paint(p, rect(), m_picture)) theme::drawImage(p, rect(), m_picture);
    }
    if (!m_dimmed.isNull() && !m_overlay.isOn()) theme::drawImage(p, rect(), m_dimmed);
    if (!m_outline.isNull() && !m_overlay.isBeside()) theme::drawImage(p, rect(), m_outline);
    if (m_mark && !m_overlay.isBeside()) paintMark(p);
    paintFrame(p);
    if (hasFocus()) {
        p.setPen(QPen(theme::kAccent, 2));
        p.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void ModelView::paintMark(QPainter& p) const {
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kCard, 3));
    p.drawEllipse(*m_mark, 6, 6);
    p.setPen(QPen(theme::kInk, 1.2));
    p.drawEllipse(*m_mark, 6, 6);
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
    m_dimmed.fill(theme::veil(170));
    for (int y = 0; y < rows; ++y)
        for (int x = 0; x < columns; ++x) {
            const SurfacePoint at = surfaceAt(*m_scene, m_camera, aspect,
                                              (static_cast<float>(x) + 0.5f) / static_cast<float>(columns),
                                              (static_cast<float>(y) + 0.5f) / static_cast<float>(rows));
            if (at.found && ofPart[at.part] == lit) m_dimmed.setPixelColor(x, y, Qt::transparent);
        }
}

/// A line around the objects that are chosen, on a raster that is fine enough for a line.
void ModelView::refreshOutline() {
    m_outline = {};
    m_outlinedFrom = m_camera;
    update();
    const std::set<std::string>& chosen = m_session.chosenObjects();
    if (!m_scene || chosen.empty()) return;
    const Mesh& mesh = m_scene->mesh();
    std::vector<bool> isChosen(mesh.parts.size(), false);
    for (std::size_t p = 0; p < isChosen.size(); ++p)
        isChosen[p] = chosen.contains(p < mesh.partObjects.size() ? mesh.partObjects[p] : mesh.parts[p]);
    constexpr int kCell = 2;
    const int columns = std::max(1, width() / kCell), rows = std::max(1, height() / kCell);
    const float aspect = static_cast<float>(width()) / static_cast<float>(height());
    // Which object is seen where; -1: none that is chosen.
    std::vector<int> seen(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), -1);
    parallelFor(static_cast<std::size_t>(rows), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y)
            for (int x = 0; x < columns; ++x) {
                const SurfacePoint at = surfaceAt(
                    *m_scene, m_camera, aspect, (static_cast<float>(x) + 0.5f) / static_cast<float>(columns),
                    (static_cast<float>(y) + 0.5f) / static_cast<float>(rows));
                if (at.found && isChosen[at.part])
                    seen[y * static_cast<std::size_t>(columns) + static_cast<std::size_t>(x)] = at.part;
            }
    });
    m_outline = QImage(columns, rows, QImage::Format_ARGB32_Premultiplied);
    m_outline.fill(Qt::transparent);
    const auto at = [&](int x, int y) {
        if (x < 0 || y < 0 || x >= columns || y >= rows) return -1;
        return seen[static_cast<std::size_t>(y) * static_cast<std::size_t>(columns) +
                    static_cast<std::size_t>(x)];
    };
    for (int y = 0; y < rows; ++y)
        for (int x = 0; x < columns; ++x)
            if (at(x, y) >= 0 &&
                (at(x - 1, y) < 0 || at(x + 1, y) < 0 || at(x, y - 1) < 0 || at(x, y + 1) < 0))
                m_outline.setPixelColor(x, y, theme::kAccent);
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

}  // namespace kettle
