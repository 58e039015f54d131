// What a program can ask of the model at a place, each with what it is asked with.
#pragma once

#include <string>
#include <variant>

namespace kettle {

/// Of the surface itself. Position: three components in centimetres. Normal, Tangent: unit vectors.
/// TangentSide: 1 or -1, which way the bitangent points. Height: from the model's foot, 0, to its top, 1.
/// Size: how many centimetres a unit of texture space is.
enum class SurfaceFact { Position, Normal, Tangent, TangentSide, Height, Size };

/// A number that each object or part has. Number: given by hand, or its place in the model's order. Share:
/// the number by the largest. X, Y, Z: where its middle lies within the model, 0 to 1.
struct CopyNumber {
    bool ofParts = false;
    enum class What { Number, Share, X, Y, Z } what = What::Number;
    bool operator==(const CopyNumber&) const = default;
};

/// 1 on the part or object of that name.
struct PartMask {
    std::string name;
    bool operator==(const PartMask&) const = default;
};

/// The mean curvature over `spread` centimetres, times it: edges above 0, hollows below.
struct MeanCurvature {
    float spread = 0;
    bool operator==(const MeanCurvature&) const = default;
};

/// How much the model hides of the hemisphere over a place, each ray counting 1 - (distance / spread)^falloff
/// up to `spread` centimetres.
struct AmbientOcclusion {
    float spread = 0, falloff = 1;
    bool operator==(const AmbientOcclusion&) const = default;
};

using MeshAttribute = std::variant<SurfaceFact, CopyNumber, PartMask, MeanCurvature, AmbientOcclusion>;

}  // namespace kettle
