// Ramps: colours or greys along 0..1. A Ramp is what the artist edits; a RampCurve is the same as cubic
// pieces, exact and without a table, which both the kernels and the plain evaluation use.
#pragma once

#include <string>
#include <vector>

#include "core/base/vec.h"

namespace kettle {

enum class RampInterpolation { Hold, Linear, Smooth, Spline, SoftSpline };
enum class RampMixing { Linear, Encoded, HsvShort, HsvLong, Oklab };

struct RampStop {
    float position = 0;   ///< 0..1 along the ramp
    Vec3 colour;          ///< linear; a grey ramp keeps its value in all three
    std::string extra{};  ///< as Ramp::extra
    bool operator==(const RampStop&) const = default;
};

struct Ramp {
    std::vector<RampStop> stops{{0, {0, 0, 0}}, {1, {1, 1, 1}}};
    RampInterpolation interpolation = RampInterpolation::Linear;
    RampMixing mixing = RampMixing::Linear;
    std::string extra{};  ///< JSON object of fields that this version does not know; kept and written back
    bool operator==(const Ramp&) const = default;
    /// True if it gives every input in 0..1 back unchanged on each component.
    bool isIdentity() const;
};

/// Piece i covers [starts[i], starts[i+1]); its value is ((c3 t + c2) t + c1) t + c0 per component, t = x -
/// starts[i]. The first piece also covers everything below. Components are in the ramp's mixing model.
struct RampCurve {
    std::vector<float> starts;
    std::vector<Vec3> c0, c1, c2, c3;
    int degree = 0;  ///< 0, 1 or 3: the highest power in use
    RampMixing mixing = RampMixing::Linear;
};

/// Stops are sorted by position, equal positions keep their order and make a hard edge. Outside the ends: the
/// end's colour. An empty ramp is black. Sources: Fritsch and Carlson 1980 (spline); uniform cubic B-spline
/// with doubled ends over the stops' positions (soft spline, which does not pass through the stops).
RampCurve compileRamp(const Ramp& ramp);

/// The linear colour at x; any x, NaN counts as 0.
Vec3 rampAt(const RampCurve& curve, float x);

/// What share of 0..1 each stop of a held ramp covers; the first from 0. They add up to 1.
std::vector<float> sharesOf(const Ramp& ramp);
/// The ramp with its stops, in order, moved so that they cover these shares of their sum. Unchanged if there
/// are not as many as stops, one is below 0, or all are 0.
Ramp withShares(const Ramp& ramp, const std::vector<double>& shares);

/// Names as in the project file: "hold", "linear", "smooth", "spline", "soft-spline".
const char* nameOf(RampInterpolation interpolation);
const char* nameOf(RampMixing mixing);
bool interpolationOf(const std::string& name, RampInterpolation& out);
bool mixingOf(const std::string& name, RampMixing& out);

}  // namespace kettle
