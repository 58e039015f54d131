// A model's edges laid over the flat map, on the pictures' thread.
#include <QPainter>

#include "app/pictures/picture_service.h"

namespace kettle {

void paintEdges(QImage& picture, const FlatRequest& request, const UvEdges& edges) {
    const Mesh& mesh = edges.scene->mesh();
    const double across = picture.width() / (request.right - request.left),
                 up = picture.height() / (request.top - request.bottom);
    const auto pixelOf = [&](Vec2 uv) {
        return QPointF((static_cast<double>(uv.x) - request.left) * across,
                       (request.top - static_cast<double>(uv.y)) * up);
    };
    const QRectF seen(picture.rect());
    std::vector<QLineF> lines;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t) {
        const std::uint16_t part = mesh.trianglePart[t];
        if (part >= edges.isShown.size() || !edges.isShown[part] || mesh.partHasUv[part] == 0) continue;
        const QPolygonF corners{pixelOf(mesh.uvs[mesh.indices[t * 3]]),
                                pixelOf(mesh.uvs[mesh.indices[t * 3 + 1]]),
                                pixelOf(mesh.uvs[mesh.indices[t * 3 + 2]])};
        if (!corners.boundingRect().adjusted(-1, -1, 1, 1).intersects(seen)) continue;
        for (qsizetype k = 0; k < 3; ++k) lines.emplace_back(corners[k], corners[(k + 1) % 3]);
    }
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing, lines.size() < 60000);
    p.setPen(QPen(QColor(250, 250, 250, 150), 2));
    if (lines.size() < 3000) p.drawLines(lines.data(), static_cast<int>(lines.size()));
    p.setPen(QPen(QColor(34, 34, 34, lines.size() < 3000 ? 190 : 110), 1));
    p.drawLines(lines.data(), static_cast<int>(lines.size()));
}

}  // namespace kettle
