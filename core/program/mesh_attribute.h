// Mesh attributes that a program can sample, with their parameters.
#pragma once

#include <string>
#include <variant>

namespace kettle {

/// Position: 3 components (cm). Normal, Tangent: unit vectors. TangentSide: 1 or -1, the sign of the
/// bitangent. Height: 0 at the bottom of the model, 1 at its top. Size: cm per unit of texture space.
enum class SurfaceAttribute { Position, Normal, Tangent, TangentSide, Height, Size };

/// A number per object or part. Number: assigned by the artist, or its index in the model. Share: the number
/// divided by the largest. X, Y, Z: centre of its bounding box within the model's, 0..1.
struct CopyNumber {
    bool ofParts = false;
    enum class What { Number, Share, X, Y, Z } what = What::Number;
    bool operator==(const CopyNumber&) const = default;
};

/// 1 on the part or object with this name, else 0.
struct PartMask {
    std::string name;
    bool operator==(const PartMask&) const = default;
};

/// Mean curvature over `spread` (cm), multiplied by it: positive on edges, negative in cavities.
struct MeanCurvature {
    float spread = 0;
    bool operator==(const MeanCurvature&) const = default;
};

/// Occluded share of the hemisphere; a hit counts 1 - (distance / spread)^falloff up to `spread` (cm).
struct AmbientOcclusion {
    float spread = 0, falloff = 1;
    bool operator==(const AmbientOcclusion&) const = default;
};

using MeshAttribute = std::variant<SurfaceAttribute, CopyNumber, PartMask, MeanCurvature, AmbientOcclusion>;

}  // namespace kettle
