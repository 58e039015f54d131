#include "core/colour/ramp.h"

#include <algorithm>
#include <array>
#include <utility>

#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

constexpr std::array<std::pair<RampInterpolation, const char*>, 5> kInterpolations{{
    {RampInterpolation::Hold, "hold"},
    {RampInterpolation::Linear, "linear"},
    {RampInterpolation::Smooth, "smooth"},
    {RampInterpolation::Spline, "spline"},
    {RampInterpolation::SoftSpline, "soft-spline"},
}};
constexpr std::array<std::pair<RampMixing, const char*>, 5> kMixings{{
    {RampMixing::Linear, "linear"},
    {RampMixing::Encoded, "encoded"},
    {RampMixing::HsvShort, "hsv-short"},
    {RampMixing::HsvLong, "hsv-long"},
    {RampMixing::Oklab, "oklab"},
}};

Vec3 toMixing(RampMixing mixing, Vec3 c) {
    switch (mixing) {
        case RampMixing::Linear:
            return c;
        case RampMixing::Encoded:
            return {linearToSrgb(c.x), linearToSrgb(c.y), linearToSrgb(c.z)};
        case RampMixing::HsvShort:
        case RampMixing::HsvLong: {
            const Hsv h = hsvOf(c);
            return {h.hue, h.saturation, h.value};
        }
        case RampMixing::Oklab:
            return oklabOf(c);
    }
    return c;
}

Vec3 fromMixing(RampMixing mixing, Vec3 c) {
    switch (mixing) {
        case RampMixing::Linear:
            return c;
        case RampMixing::Encoded:
            return {srgbToLinear(c.x), srgbToLinear(c.y), srgbToLinear(c.z)};
        case RampMixing::HsvShort:
        case RampMixing::HsvLong:
            return rgbOf({c.x, c.y, c.z});
        case RampMixing::Oklab:
            return linearOfOklab(c);
    }
    return c;
}

/// Unrolls hues so that neighbouring stops are reached the short or the long way round; greys take their
/// neighbour's.
void unrollHues(std::vector<Vec3>& values, bool longWay) {
    for (std::size_t i = 0; i < values.size(); ++i)
        if (values[i].y <= 0 && i > 0) values[i].x = values[i - 1].x;
    for (std::size_t i = values.size(); i-- > 1;)
        if (values[i - 1].y <= 0) values[i - 1].x = values[i].x;
    for (std::size_t i = 1; i < values.size(); ++i) {
        float step = std::fmod(values[i].x - values[i - 1].x, 360.0f);
        if (step > 180) step -= 360;
        if (step < -180) step += 360;
        if (longWay && step != 0) step += step > 0 ? -360.0f : 360.0f;
        values[i].x = values[i - 1].x + step;
    }
}

/// Slopes that keep the cubic monotone between stops: F. N. Fritsch, R. E. Carlson, SIAM J. Numer. Anal. 17
/// (1980).
std::vector<float> monotoneSlopes(const std::vector<float>& x, const std::vector<float>& y) {
    const std::size_t n = x.size();
    std::vector<float> secant(n, 0), slope(n, 0);
    for (std::size_t i = 0; i + 1 < n; ++i) {
        const float width = x[i + 1] - x[i];
        secant[i] = width > 0 ? (y[i + 1] - y[i]) / width : 0;
    }
    if (n < 2) return slope;
    slope[0] = secant[0];
    slope[n - 1] = secant[n - 2];
    for (std::size_t i = 1; i + 1 < n; ++i)
        slope[i] = secant[i - 1] * secant[i] <= 0 ? 0 : (secant[i - 1] + secant[i]) / 2;
    for (std::size_t i = 0; i + 1 < n; ++i) {
        if (secant[i] == 0) {
            slope[i] = slope[i + 1] = 0;
            continue;
        }
        const float a = slope[i] / secant[i], b = slope[i + 1] / secant[i], r = a * a + b * b;
        if (r > 9) {
            const float t = 3 / std::sqrt(r);
            slope[i] = t * a * secant[i];
            slope[i + 1] = t * b * secant[i];
        }
    }
    return slope;
}

struct Builder {
    RampCurve curve;
    void add(float start, Vec3 a, Vec3 b = {}, Vec3 c = {}, Vec3 d = {}) {
        curve.starts.push_back(start);
        curve.c0.push_back(a);
        curve.c1.push_back(b);
        curve.c2.push_back(c);
        curve.c3.push_back(d);
    }
};

void addSplines(Builder& out, const std::vector<float>& x, const std::vector<Vec3>& y) {
    std::array<std::vector<float>, 3> slopes;
    for (int k = 0; k < 3; ++k) {
        std::vector<float> column;
        for (const Vec3& v : y) column.push_back(k == 0 ? v.x : k == 1 ? v.y : v.z);
        slopes[static_cast<std::size_t>(k)] = monotoneSlopes(x, column);
    }
    for (std::size_t i = 0; i + 1 < x.size(); ++i) {
        const float w = x[i + 1] - x[i];
        if (w <= 0) continue;
        const Vec3 m0{slopes[0][i], slopes[1][i], slopes[2][i]},
            m1{slopes[0][i + 1], slopes[1][i + 1], slopes[2][i + 1]};
        const Vec3 secant = (y[i + 1] - y[i]) * (1 / w);
        out.add(x[i], y[i], m0, (3 * secant - 2 * m0 - m1) * (1 / w), (m0 + m1 - 2 * secant) * (1 / (w * w)));
    }
}

void addSoftSplines(Builder& out, const std::vector<float>& x, const std::vector<Vec3>& y) {
    const auto at = [&](std::ptrdiff_t i) {
        return y[static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(i, 0, static_cast<std::ptrdiff_t>(y.size()) - 1))];
    };
    for (std::size_t i = 0; i + 1 < x.size(); ++i) {
        const float w = x[i + 1] - x[i];
        if (w <= 0) continue;
        const auto k = static_cast<std::ptrdiff_t>(i);
        const Vec3 p0 = at(k - 1), p1 = at(k), p2 = at(k + 1), p3 = at(k + 2);
        out.add(x[i], (p0 + 4 * p1 + p2) * (1 / 6.0f), (p2 - p0) * (0.5f / w),
                (p0 - 2 * p1 + p2) * (0.5f / (w * w)),
                (p3 - 3 * p2 + 3 * p1 - p0) * (1 / (6.0f * w * w * w)));
    }
}

}  // namespace

bool Ramp::isIdentity() const {
    if (interpolation == RampInterpolation::Hold || interpolation == RampInterpolation::SoftSpline)
        return false;
    if (interpolation == RampInterpolation::Smooth || mixing != RampMixing::Linear) return false;
    if (stops.size() < 2 || stops.front().position > 0 || stops.back().position < 1) return false;
    return std::all_of(stops.begin(), stops.end(), [](const RampStop& s) {
        return s.colour.x == s.position && s.colour.y == s.position && s.colour.z == s.position;
    });
}

RampCurve compileRamp(const Ramp& ramp) {
    std::vector<RampStop> stops = ramp.stops;
    std::stable_sort(stops.begin(), stops.end(),
                     [](const RampStop& a, const RampStop& b) { return a.position < b.position; });
    Builder out;
    out.curve.mixing = ramp.mixing;
    if (stops.empty()) {
        out.add(0, toMixing(ramp.mixing, {0, 0, 0}));
        return out.curve;
    }
    std::vector<float> x;
    std::vector<Vec3> y;
    for (const RampStop& stop : stops) {
        x.push_back(stop.position);
        y.push_back(toMixing(ramp.mixing, stop.colour));
    }
    if (ramp.mixing == RampMixing::HsvShort || ramp.mixing == RampMixing::HsvLong)
        unrollHues(y, ramp.mixing == RampMixing::HsvLong);

    const bool soft = ramp.interpolation == RampInterpolation::SoftSpline && x.size() > 1;
    // A B-spline with doubled ends starts a sixth of the way to its neighbour: the flat end must start there
    // too.
    out.add(-1e30f, soft ? (5 * y[0] + y[1]) * (1 / 6.0f) : y[0]);
    switch (ramp.interpolation) {
        case RampInterpolation::Hold:
            for (std::size_t i = 0; i + 1 < x.size(); ++i) out.add(x[i], y[i]);
            break;
        case RampInterpolation::Linear:
        case RampInterpolation::Smooth:
            for (std::size_t i = 0; i + 1 < x.size(); ++i) {
                const float w = x[i + 1] - x[i];
                if (w <= 0) continue;
                const Vec3 d = y[i + 1] - y[i];
                if (ramp.interpolation == RampInterpolation::Linear)
                    out.add(x[i], y[i], d * (1 / w));
                else
                    out.add(x[i], y[i], {}, d * (3 / (w * w)), d * (-2 / (w * w * w)));
            }
            break;
        case RampInterpolation::Spline:
            addSplines(out, x, y);
            break;
        case RampInterpolation::SoftSpline:
            addSoftSplines(out, x, y);
            break;
    }
    const std::size_t n = y.size();
    out.add(x.back(), soft ? (5 * y[n - 1] + y[n - 2]) * (1 / 6.0f) : y[n - 1]);
    out.curve.starts.front() = out.curve.starts[1];  // t stays small; the first piece is flat anyway
    out.curve.degree = ramp.interpolation == RampInterpolation::Hold     ? 0
                       : ramp.interpolation == RampInterpolation::Linear ? 1
                                                                         : 3;
    return out.curve;
}

Vec3 rampAt(const RampCurve& curve, float x) {
    std::size_t i = 0;
    for (std::size_t k = 1; k < curve.starts.size(); ++k)
        if (x >= curve.starts[k]) i = k;
    const float t = x - curve.starts[i];
    const Vec3 v = i == 0 || i + 1 == curve.starts.size()
                       ? curve.c0[i]
                       : curve.c0[i] + (curve.c1[i] + (curve.c2[i] + curve.c3[i] * t) * t) * t;
    return fromMixing(curve.mixing, v);
}

const char* nameOf(RampInterpolation interpolation) {
    for (const auto& [value, name] : kInterpolations)
        if (value == interpolation) return name;
    return "linear";
}

const char* nameOf(RampMixing mixing) {
    for (const auto& [value, name] : kMixings)
        if (value == mixing) return name;
    return "linear";
}

bool interpolationOf(const std::string& name, RampInterpolation& out) {
    for (const auto& [value, text] : kInterpolations)
        if (name == text) return out = value, true;
    return false;
}

bool mixingOf(const std::string& name, RampMixing& out) {
    for (const auto& [value, text] : kMixings)
        if (name == text) return out = value, true;
    return false;
}

std::vector<float> sharesOf(const Ramp& ramp) {
    std::vector<float> shares;
    for (std::size_t i = 0; i < ramp.stops.size(); ++i) {
        const float from = i == 0 ? 0 : std::clamp(ramp.stops[i].position, 0.0f, 1.0f);
        const float to =
            i + 1 < ramp.stops.size() ? std::clamp(ramp.stops[i + 1].position, 0.0f, 1.0f) : 1.0f;
        shares.push_back(to - from);
    }
    return shares;
}

Ramp withShares(const Ramp& ramp, const std::vector<double>& shares) {
    double all = 0;
    for (const double share : shares) {
        if (!(share >= 0)) return ramp;
        all += share;
    }
    if (shares.size() != ramp.stops.size() || !(all > 0) || !std::isfinite(all)) return ramp;
    Ramp next = ramp;
    double before = 0;
    for (std::size_t i = 0; i < shares.size(); ++i) {
        next.stops[i].position = static_cast<float>(before / all);
        before += shares[i];
    }
    return next;
}

}  // namespace kettle
