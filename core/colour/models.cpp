#include "core/colour/models.h"

#include <numbers>

namespace kettle {

Hsv hsvOf(Vec3 rgb) {
    const float r = std::max(rgb.x, 0.0f), g = std::max(rgb.y, 0.0f), b = std::max(rgb.z, 0.0f);
    const float high = std::max({r, g, b}), low = std::min({r, g, b}), range = high - low;
    if (!(range > 0.0f)) return {0, 0, high};
    float sector = 0;
    if (high == r)
        sector = (g - b) / range + (g < b ? 6.0f : 0.0f);
    else if (high == g)
        sector = (b - r) / range + 2.0f;
    else
        sector = (r - g) / range + 4.0f;
    return {sector * 60.0f, range / high, high};
}

Vec3 rgbOf(Hsv hsv) {
    float h = std::fmod(hsv.hue, 360.0f) / 60.0f;
    if (h < 0) h += 6.0f;
    const auto channel = [&](float n) {
        const float k = std::fmod(n + h, 6.0f);
        return hsv.value - hsv.value * hsv.saturation * std::clamp(std::min(k, 4.0f - k), 0.0f, 1.0f);
    };
    return {channel(5), channel(3), channel(1)};
}

Vec3 oklabOf(Vec3 c) {
    const float l = std::cbrt(0.4122214708f * c.x + 0.5363325363f * c.y + 0.0514459929f * c.z);
    const float m = std::cbrt(0.2119034982f * c.x + 0.6806995451f * c.y + 0.1073969566f * c.z);
    const float s = std::cbrt(0.0883024619f * c.x + 0.2817188376f * c.y + 0.6299787005f * c.z);
    return {0.2104542553f * l + 0.7936177850f * m - 0.0040720468f * s,
            1.9779984951f * l - 2.4285922050f * m + 0.4505937099f * s,
            0.0259040371f * l + 0.7827717662f * m - 0.8086757660f * s};
}

Vec3 linearOfOklab(Vec3 lab) {
    const float l0 = lab.x + 0.3963377774f * lab.y + 0.2158037573f * lab.z;
    const float m0 = lab.x - 0.1055613458f * lab.y - 0.0638541728f * lab.z;
    const float s0 = lab.x - 0.0894841775f * lab.y - 1.2914855480f * lab.z;
    const float l = l0 * l0 * l0, m = m0 * m0 * m0, s = s0 * s0 * s0;
    return {4.0767416621f * l - 3.3077115913f * m + 0.2309699292f * s,
            -1.2684380046f * l + 2.6097574011f * m - 0.3413193965f * s,
            -0.0041960863f * l - 0.7034186147f * m + 1.7076147010f * s};
}

Vec3 cieLabOf(Vec3 c) {
    // IEC 61966-2-1 matrix to XYZ, divided by the D65 white point.
    const double x = (0.4124564 * c.x + 0.3575761 * c.y + 0.1804375 * c.z) / 0.95047;
    const double y = 0.2126729 * c.x + 0.7151522 * c.y + 0.0721750 * c.z;
    const double z = (0.0193339 * c.x + 0.1191920 * c.y + 0.9503041 * c.z) / 1.08883;
    const auto f = [](double t) {
        constexpr double d = 6.0 / 29.0;
        return t > d * d * d ? std::cbrt(t) : t / (3 * d * d) + 4.0 / 29.0;
    };
    return {static_cast<float>(116 * f(y) - 16), static_cast<float>(500 * (f(x) - f(y))),
            static_cast<float>(200 * (f(y) - f(z)))};
}

namespace {
constexpr double kPi = std::numbers::pi;
double degrees(double radians) {
    return radians * 180.0 / kPi;
}
double radians(double degrees) {
    return degrees * kPi / 180.0;
}
double hueAngle(double a, double b) {
    if (a == 0 && b == 0) return 0;
    const double h = degrees(std::atan2(b, a));
    return h < 0 ? h + 360 : h;
}
}  // namespace

double ciede2000(Vec3 lab1, Vec3 lab2) {
    const double c1 = std::hypot(lab1.y, lab1.z), c2 = std::hypot(lab2.y, lab2.z);
    const double c7 = std::pow((c1 + c2) / 2, 7), g = 0.5 * (1 - std::sqrt(c7 / (c7 + std::pow(25.0, 7))));
    const double a1 = lab1.y * (1 + g), a2 = lab2.y * (1 + g);
    const double cp1 = std::hypot(a1, lab1.z), cp2 = std::hypot(a2, lab2.z);
    const double h1 = hueAngle(a1, lab1.z), h2 = hueAngle(a2, lab2.z);
    const double dL = lab2.x - lab1.x, dC = cp2 - cp1;
    double dh = 0, hMean = h1 + h2;
    if (cp1 * cp2 != 0) {
        dh = h2 - h1;
        if (dh > 180) dh -= 360;
        if (dh < -180) dh += 360;
        if (std::fabs(h1 - h2) <= 180)
            hMean = (h1 + h2) / 2;
        else
            hMean = h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
    }
    const double dH = 2 * std::sqrt(cp1 * cp2) * std::sin(radians(dh / 2));
    const double lMean = (lab1.x + lab2.x) / 2, cMean = (cp1 + cp2) / 2;
    const double t = 1 - 0.17 * std::cos(radians(hMean - 30)) + 0.24 * std::cos(radians(2 * hMean)) +
                     0.32 * std::cos(radians(3 * hMean + 6)) - 0.20 * std::cos(radians(4 * hMean - 63));
    const double turn = 30 * std::exp(-std::pow((hMean - 275) / 25, 2));
    const double rc = 2 * std::sqrt(std::pow(cMean, 7) / (std::pow(cMean, 7) + std::pow(25.0, 7)));
    const double l50 = (lMean - 50) * (lMean - 50);
    const double sl = 1 + 0.015 * l50 / std::sqrt(20 + l50), sc = 1 + 0.045 * cMean,
                 sh = 1 + 0.015 * cMean * t;
    const double rt = -std::sin(radians(2 * turn)) * rc;
    const double l = dL / sl, c = dC / sc, h = dH / sh;
    return std::sqrt(l * l + c * c + h * h + rt * c * h);
}

}  // namespace kettle
