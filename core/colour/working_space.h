// The space in which colour lines compute: linear Rec.709 by default, ACEScg by choice. Everything outside a
// program (controls, swatches, pictures, files) stays linear Rec.709; a program converts at its borders.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/base/vec.h"
#include "core/colour/encoding.h"

namespace kettle {

struct WorkingSpace {
    std::string name = encoding::kLinear;
    std::array<float, 9> toRec709{1, 0, 0, 0, 1, 0, 0, 0, 1};    ///< rows of a matrix on (r, g, b)
    std::array<float, 9> fromRec709{1, 0, 0, 0, 1, 0, 0, 0, 1};  ///< its inverse
    Vec3 luminanceWeights{0.2126f, 0.7152f, 0.0722f};

    /// True if nothing has to be converted at a program's borders.
    bool isRec709() const { return name == encoding::kLinear; }
    /// A linear Rec.709 colour in this space, and back: a matrix on (r, g, b); any finite range.
    Vec3 fromLinear(Vec3 rec709) const;
    Vec3 toLinear(Vec3 working) const;
};

/// The names to choose from, the default first.
const std::vector<std::string>& workingSpaceNames();
/// An unknown name gives the default. Sources: ITU-R BT.709; SMPTE ST 2065-1 and S-2014-004 (ACEScg), with
/// the Bradford adaptation from the ACES white to D65.
WorkingSpace workingSpaceOf(const std::string& name);

}  // namespace kettle
