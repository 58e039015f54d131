// Pictures in which something is seen through: which parts those are, and how their points are laid over each
// other.
#include "core/shading/preview_tasks.h"

namespace kettle {

Preview::Openings Preview::openingsOf(const PreviewRequest& request, const Resources& resources,
                                      const Mesh& mesh, const CancelToken& cancel) {
    Openings openings;
    m_opacity.resize(1 + request.others.size());
    for (std::size_t k = 0; k < m_opacity.size(); ++k) {
        const PreviewSide& side = k == 0 ? request : request.others[k - 1];
        const SeeThrough* own = m_opacity[k].of(side, request.off, resources, mesh, cancel);
        if (own == nullptr) continue;
        if (k == 0) openings.seeThrough = own, openings.id = own->id();
        openings.goesOn.resize(mesh.parts.size(), false);
        for (std::size_t part = 0; part < mesh.parts.size(); ++part)
            if (own->of(part) != nullptr) openings.goesOn[part] = true;
    }
    return openings;
}

void Preview::joinLayers(const Task& task, const Kept& kept, Shown& shown) {
    layGround(task.paper, kept.view, shown.pixels);
    for (std::size_t layer = ViewOptions::kMostLayers; layer-- > 0;)
        for (std::size_t g = 0; g < kept.groups.size(); ++g) {
            const SurfacePoints& group = kept.groups[g];
            const std::size_t first = group.layers[layer], count = group.layers[layer + 1] - first;
            // No two of a layer's points share a pixel.
            parallelFor(count, 8192, [&](std::size_t begin, std::size_t end) {
                for (std::size_t i = first + begin; i < first + end; ++i) {
                    Vec3& pixel = shown.pixels[group.pixels[i]];
                    pixel = mix(pixel, shown.sent[g][i], shown.hiding[g][i]);
                }
            });
        }
}

std::size_t Preview::Shown::byteSize() const {
    std::size_t sum = pixels.size() * sizeof(Vec3) + displayed.pixels.size() * sizeof(std::uint32_t);
    for (const auto& group : sent) sum += group.size() * (sizeof(Vec3) + sizeof(float));
    return sum;
}

}  // namespace kettle
