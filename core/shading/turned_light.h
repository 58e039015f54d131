// The light as the kernel takes it: the environment's tables and its key light, turned.
#pragma once

#include "core/base/vec.h"
#include "core/shading/environment.h"

namespace kettle {

struct TurnedLight {
    const EnvironmentTables* tables = nullptr;
    float cosine = 1, sine = 0;  ///< of the turn about the vertical
    Vec3 key;                    ///< towards the key light, unit
    Vec3 keyIrradiance;          ///< on a surface facing it
};

}  // namespace kettle
