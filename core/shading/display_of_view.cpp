// From a view's light to the picture on the screen.
#include <fmt/format.h>

#include <utility>

#include "core/shading/preview.h"
#include "core/threads/parallel.h"

namespace kettle {

Picture Preview::displayOf(const PreviewRequest& request, const Resources& resources, Kept& kept,
                           std::size_t side, int stage) {
    const ViewSettings& view = request.project.view;
    Shown& shown = kept.shown[side];
    const std::vector<Vec3>& pixels = meanOf(shown.pixels, side, stage);
    const auto show = [&] {
        return toDisplay(pixels, kept.width, kept.height, view.exposure, view.transform, resources.colours());
    };
    // Of several sides one changes, again and again; what the others showed is kept when it is shown again.
    const bool isNew = std::exchange(shown.isNew, false);
    if (stage > 1 || isNew || request.others.empty()) {
        shown.displayed = {};
        return show();
    }
    std::string by = fmt::format("{}|{}|{}", view.exposure, view.transform, resources.colours().identity());
    if (shown.displayed.empty() || shown.displayedBy != by) {
        shown.displayed = show();
        shown.displayedBy = std::move(by);
    }
    return shown.displayed;
}

const std::vector<Vec3>& Preview::meanOf(const std::vector<Vec3>& pixels, std::size_t side, int stage) {
    std::vector<Vec3>& sum = m_sums[side];
    if (stage <= 1) {
        sum.clear();  // begun with the first pass at rest, which most full pictures of a moving hand never
                      // see
        return pixels;
    }
    if (sum.empty()) {
        const std::vector<Shown>& first = m_kept[1].shown;
        if (stage > 2 || side >= first.size() || first[side].pixels.size() != pixels.size()) return pixels;
        sum = first[side].pixels;
    }
    m_mean.resize(sum.size());
    parallelFor(sum.size(), 16384, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            sum[i] += pixels[i];
            m_mean[i] = sum[i] * (1.0f / static_cast<float>(stage));
        }
    });
    return m_mean;
}

}  // namespace kettle
