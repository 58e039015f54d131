// What neighbouring points found of the light, put together. Within the folder.
#pragma once

#include <vector>

#include "core/scene/view_points.h"

namespace kettle {

/// The pixels of a picture that points belong to: from (left, top) on, `width` x `height`, each 1 to 32.
struct PixelBox {
    int left, top, width, height, pictureWidth;
};

/// Gives each point the mean of what arrives at the 4 x 4 pixels around it, which have cast their rays in all
/// ways (phaseOf): of those that lie on the same surface, by their part, their normal and their distance (the
/// discontinuity buffer of A. Keller and W. Heidrich 2001). `distances` stand beside `surfels`, in cm; those
/// of one surface differ by at most `step`. A key light without a size casts one ray, which is left as it is.
/// Threads: safe.
void smoothShadows(std::vector<Surfel>& surfels, const std::vector<float>& distances, const PixelBox& box,
                   float step, bool keyHasSize);

}  // namespace kettle
