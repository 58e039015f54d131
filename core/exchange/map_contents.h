// What the pixels of a map say of what it is, beside its name.
#pragma once

#include <array>
#include <string>

#include "core/exchange/map_names.h"
#include "core/image/image.h"
#include "core/image/prepared_maps.h"

namespace kettle {

/// Figures of stored numbers, 0..1 for integers, over at most 256 x 256 pixels spread over the picture.
struct MapContents {
    std::array<double, 4> mean{}, deviation{};
    bool isGrey = false;     ///< one component, or red, green and blue alike
    bool isPlain = false;    ///< the same everywhere, but for the alpha
    bool isNormal = false;   ///< unit vectors around (0.5, 0.5, 1)
    bool isPacked = false;   ///< red, green and blue are three pictures: none follows another
    bool alphaSays = false;  ///< there is an alpha, and it is not the same everywhere
};
MapContents contentsOf(const PixelView& pixels);
inline MapContents contentsOf(const PixelBuffer& pixels) {
    return contentsOf(PixelView(pixels));
}

/// A sentence if the name says one thing and the pixels another; else empty.
std::string contradictionOf(const MapName& name, const MapContents& contents);

}  // namespace kettle
