// Where objects are seen on the lit model.
#pragma once

#include <QPoint>
#include <algorithm>
#include <vector>

#include "app/preview/model_view.h"
#include "core/scene/view_points.h"

namespace kettle::test {

/// A pixel well inside what is seen of an object: what is beside it is the same object. Null if it is hidden.
inline QPoint pixelOfObject(const ModelView& model, const char* object) {
    const Mesh& mesh = *model.mesh();
    const auto wide = static_cast<float>(model.width()), tall = static_cast<float>(model.height());
    std::vector<QPoint> seen;
    for (int y = 60; y < model.height(); y += 2)
        for (int x = 0; x < model.width(); x += 2) {
            const SurfacePoint at =
                surfaceAt(*model.scene(), model.camera(), wide / tall, (static_cast<float>(x) + 0.5f) / wide,
                          (static_cast<float>(y) + 0.5f) / tall);
            if (at.found && mesh.partObjects[at.part] == object) seen.emplace_back(x, y);
        }
    const auto isSeen = [&](QPoint at) { return std::find(seen.begin(), seen.end(), at) != seen.end(); };
    for (const QPoint at : seen)
        if (isSeen(at + QPoint(2, 0)) && isSeen(at - QPoint(2, 0)) && isSeen(at + QPoint(0, 2)) &&
            isSeen(at - QPoint(0, 2)))
            return at;
    return {};
}

}  // namespace kettle::test
