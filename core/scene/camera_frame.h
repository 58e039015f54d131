// The axes of a camera, for rays through a picture and for places in it. For the files of this folder alone.
#pragma once

#include <cmath>
#include <numbers>

#include "core/scene/view_points.h"

namespace kettle {

inline float radians(float degrees) {
    return degrees * std::numbers::pi_v<float> / 180.0f;
}

/// The camera's axes and the size of the picture plane at distance 1.
struct CameraFrame {
    Vec3 from, right, up, forward;
    float halfWidth, halfHeight;
    CameraFrame(const Camera& camera, float aspect) : from(camera.position()) {
        forward = normalised(camera.target - from);
        right = normalised(cross(forward, {0, 1, 0}));
        up = cross(right, forward);
        halfHeight = std::tan(radians(camera.fieldOfView) / 2);
        halfWidth = halfHeight * aspect;
    }
    /// x, y in 0..1 from the top left
    Vec3 direction(float x, float y) const {
        return normalised(forward + right * ((2 * x - 1) * halfWidth) + up * ((1 - 2 * y) * halfHeight));
    }
};

}  // namespace kettle
