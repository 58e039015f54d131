// What the parts of the preview share. Within the folder.
#pragma once

#include "core/shading/preview.h"

namespace kettle {

struct Preview::Task {
    const PreviewSide& side;
    const ViewSettings& view;  ///< of the first side, for both
    const std::set<std::string>& off;
    const Resources& resources;
    const CancelToken& cancel;
    Light light;
    Vec3 paper;   ///< the surround
    float plain;  ///< what makes a number independent of the exposure
};

/// What is seen beside the model, and behind what is seen through.
inline void layGround(Vec3 paper, const ViewPoints& view, std::vector<Vec3>& pixels) {
    pixels.assign(static_cast<std::size_t>(view.width) * static_cast<std::size_t>(view.height), paper);
    for (const GroundPixel& g : view.ground) pixels[g.pixel] = paper * g.shade;
}

}  // namespace kettle
