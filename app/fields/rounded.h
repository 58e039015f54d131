// Private to app/fields: numbers as a field shows them.
#pragma once

#include <cmath>

namespace kettle {

/// To so many decimals, halves away from zero.
inline double rounded(double v, int decimals) {
    const double scale = std::pow(10.0, decimals);
    return std::round(v * scale) / scale;
}

}  // namespace kettle
