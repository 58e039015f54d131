// The same network as the engine runs, evaluated the plain way: one point at a time, in doubles, by walking
// the lines. Written from the formulas, not from the kernels, so that the two can be compared.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <string>

#include "core/document/project.h"
#include "core/steps/step.h"

namespace kettle::test {

struct Number4 {
    double r = 0, g = 0, b = 0, a = 1;
    Kind kind = Kind::Colour;
};

class PlainEvaluator {
public:
    /// Values of the maps at the point, by role.
    using Texels = std::map<std::string, std::array<double, 4>>;
    PlainEvaluator(const Project& project, Texels texels, double u, double v)
        : m_project(project), m_texels(std::move(texels)), m_u(u), m_v(v) {}

    Number4 line(const std::string& id, const std::string& after = {}) const {
        const Line& line = *m_project.findLine(id);
        Number4 value{0.5, 0.5, 0.5, 1, line.kind};
        for (const auto& stored : line.steps) {
            const StepSpec& spec = *shippedSteps().find(stored->type);
            if (!stored->bypass) value = step(StepView(spec, *stored, line.kind), value);
            value.kind = line.kind;
            if (stored->id == after) break;
        }
        return value;
    }

    static double encode(double x) {
        const double a = std::fabs(x);
        return std::copysign(a <= 0.0031308 ? 12.92 * a : 1.055 * std::pow(a, 1 / 2.4) - 0.055, x);
    }
    static double decode(double x) {
        const double a = std::fabs(x);
        return std::copysign(a <= 0.04045 ? a / 12.92 : std::pow((a + 0.055) / 1.055, 2.4), x);
    }
    struct Triple {
        double x, y, z;
    };
    /// Hue in degrees.
    static Triple toHsv(double r, double g, double b) {
        r = std::max(r, 0.0), g = std::max(g, 0.0), b = std::max(b, 0.0);
        const double v = std::max({r, g, b}), c = v - std::min({r, g, b});
        if (c <= 0) return {0, 0, v};
        double h = v == r ? (g - b) / c : v == g ? 2 + (b - r) / c : 4 + (r - g) / c;
        if (h < 0) h += 6;
        return {h * 60, c / v, v};
    }
    static Triple fromHsv(Triple t) {
        const double h = (t.x / 60) - 6 * std::floor(t.x / 360);
        const auto part = [&](double n) {
            const double k = std::fmod(n + h, 6);
            return t.z - t.z * t.y * std::clamp(std::min(k, 4 - k), 0.0, 1.0);
        };
        return {part(5), part(3), part(1)};
    }
    static double luminance(const Number4& c) {
        return c.kind == Kind::Scalar ? c.r : 0.2126 * c.r + 0.7152 * c.g + 0.0722 * c.b;
    }
    static double smooth(double low, double high, double x) {
        const double t = std::clamp((x - low) / (high - low), 0.0, 1.0);
        return t * t * (3 - 2 * t);
    }

    /// W3C Compositing and Blending level 1, and the trade's others.
    static double blend(const std::string& mode, double u, double o) {
        const auto screen = [](double a, double b) { return a + b - a * b; };
        const auto burn = [](double a, double b) {
            return a >= 1 ? 1 : b <= 0 ? 0 : 1 - std::min(1.0, (1 - a) / b);
        };
        const auto dodge = [](double a, double b) {
            return a <= 0 ? 0 : b >= 1 ? 1 : std::min(1.0, a / (1 - b));
        };
        const auto hard = [&](double a, double b) { return b <= 0.5 ? 2 * a * b : screen(a, 2 * b - 1); };
        if (mode == "normal") return o;
        if (mode == "average") return (u + o) / 2;
        if (mode == "darken") return std::min(u, o);
        if (mode == "multiply") return u * o;
        if (mode == "colour-burn") return burn(u, o);
        if (mode == "linear-burn") return u + o - 1;
        if (mode == "lighten") return std::max(u, o);
        if (mode == "screen") return screen(u, o);
        if (mode == "colour-dodge") return dodge(u, o);
        if (mode == "add") return u + o;
        if (mode == "overlay") return hard(o, u);
        if (mode == "hard-light") return hard(u, o);
        if (mode == "soft-light") {
            const double d = u <= 0.25 ? ((16 * u - 12) * u + 4) * u : std::sqrt(u);
            return o <= 0.5 ? u - (1 - 2 * o) * u * (1 - u) : u + (2 * o - 1) * (d - u);
        }
        if (mode == "vivid-light") return o <= 0.5 ? burn(u, 2 * o) : dodge(u, 2 * o - 1);
        if (mode == "linear-light") return u + 2 * o - 1;
        if (mode == "pin-light") return o <= 0.5 ? std::min(u, 2 * o) : std::max(u, 2 * o - 1);
        if (mode == "difference") return std::fabs(u - o);
        if (mode == "exclusion") return u + o - 2 * u * o;
        if (mode == "subtract") return u - o;
        if (mode == "divide") return o == 0 ? u : u / o;
        return std::nan("");
    }

private:
    Number4 fed(const StepView& v, const char* name, Kind kind, Number4 otherwise) const {
        const Feed* feed = v.feed(name);
        if (feed == nullptr) return otherwise;
        if (feed->constant) {
            if (const Colour* c = std::get_if<Colour>(&*feed->constant))
                return {c->r, c->g, c->b, 1, Kind::Colour};
            const double x = std::get<double>(*feed->constant);
            return {x, x, x, 1, Kind::Scalar};
        }
        Number4 value = line(feed->line, feed->after);
        if (kind == Kind::Scalar && value.kind != Kind::Scalar) {
            const double x = feed->component == "red"     ? value.r
                             : feed->component == "alpha" ? value.a
                                                          : luminance(value);
            value = {x, x, x, 1, Kind::Scalar};
        }
        return value;
    }
    template <class F>
    static Number4 each(const Number4& in, F f) {
        Number4 out = in;
        out.r = f(in.r), out.g = f(in.g), out.b = f(in.b);
        return out;
    }
    static bool encoded(const StepView& v) {
        return v.kind() == Kind::Colour && v[TextHandle{"works-in"}] == "encoded";
    }
    template <class F>
    static Number4 inSpace(const StepView& v, const Number4& in, F f) {
        return each(in, [&](double x) { return encoded(v) ? decode(f(encode(x))) : f(x); });
    }
    Number4 mixed(const StepView& v, const Number4& from, const Number4& to) const {
        const double w =
            v[NumberHandle{"amount"}] * fed(v, "mask", Kind::Scalar, {1, 1, 1, 1, Kind::Scalar}).r;
        Number4 out = from;
        out.r += w * (to.r - from.r), out.g += w * (to.g - from.g), out.b += w * (to.b - from.b);
        return out;
    }
    static double band(const StepView& v, const std::string& prefix, Triple hsv) {
        const double away =
            std::fabs(std::remainder(hsv.x - v[NumberHandle{(prefix + "centre").c_str()}], 360.0));
        const double half = v[NumberHandle{(prefix + "width").c_str()}] / 2,
                     softness = std::max(v[NumberHandle{(prefix + "softness").c_str()}], 1e-4);
        double w = 1 - smooth(half, half + softness, away);
        w *= smooth(0, std::max(v[NumberHandle{(prefix + "threshold").c_str()}], 1e-6), hsv.y);
        return v[ToggleHandle{(prefix + "invert").c_str()}] ? 1 - w : w;
    }

    Number4 step(const StepView& v, const Number4& in) const {
        const std::string& type = v.step().type;
        if (type == "map") return map(v);
        if (type == "colour") {
            const Colour c = v[ColourHandle{"colour"}];
            return {c.r, c.g, c.b, 1};
        }
        if (type == "value") return grey(v[NumberHandle{"value"}]);
        if (type == "gradient") return grey(std::clamp(m_u, 0.0, 1.0));
        if (type == "hue-band") {
            const Number4 of = fed(v, "of", Kind::Colour, {});
            return grey(band(v, "", toHsv(of.r, of.g, of.b)));
        }
        if (type == "hsv-shift") return hsvShift(v, in);
        if (type == "ramp-remap") return rampRemap(v, in);
        if (type == "blend") return blendStep(v, in);
        if (type == "levels") return levels(v, in);
        if (type == "invert") return inSpace(v, in, [](double x) { return 1 - x; });
        if (type == "tone") return tone(v, in);
        if (type == "desaturate") return mixed(v, in, each(in, [&](double) { return luminance(in); }));
        if (type == "tint") return tint(v, in);
        if (type == "clamp")
            return each(
                in, [&](double x) { return std::clamp(x, v[NumberHandle{"low"}], v[NumberHandle{"high"}]); });
        if (type == "maths") return maths(v, in);
        return {std::nan(""), 0, 0, 1};
    }
    static Number4 grey(double x) { return {x, x, x, 1, Kind::Scalar}; }
    Number4 map(const StepView& v) const {
        const auto& t = m_texels.at(v.step().role);
        if (v.kind() != Kind::Scalar) return {t[0], t[1], t[2], t[3]};
        const std::string& c = v[TextHandle{"component"}];
        return grey(c == "alpha" ? t[3] : c == "green" ? t[1] : c == "blue" ? t[2] : t[0]);
    }
    Number4 hsvShift(const StepView& v, const Number4& in) const {
        const Number4 from = encoded(v) ? each(in, encode) : in;
        const Triple hsv = toHsv(from.r, from.g, from.b);
        const Triple rgb = fromHsv({hsv.x + v[NumberHandle{"hue"}],
                                    std::clamp(hsv.y * v[NumberHandle{"saturation"}], 0.0, 1.0),
                                    hsv.z * v[NumberHandle{"value"}]});
        double w = v[NumberHandle{"amount"}] * fed(v, "mask", Kind::Scalar, grey(1)).r;
        if (v[ToggleHandle{"band"}]) w *= band(v, "band-", hsv);
        Number4 out = from;
        out.r += w * (rgb.x - from.r), out.g += w * (rgb.y - from.g), out.b += w * (rgb.z - from.b);
        return encoded(v) ? each(out, decode) : out;
    }
    Number4 rampRemap(const StepView& v, const Number4& in) const {
        Ramp ramp = v[RampHandle{"ramp"}];
        double x = luminance(in);
        if (in.kind == Kind::Colour && v[TextHandle{"scale"}] == "encoded") x = encode(x);
        // Linear interpolation alone; the others have tests of their own.
        const auto& s = ramp.stops;
        const auto at = [&](float Vec3::*c) -> double {
            if (x <= s.front().position) return s.front().colour.*c;
            for (std::size_t i = 1; i < s.size(); ++i)
                if (x < s[i].position) {
                    const double t =
                        (x - s[i - 1].position) / (static_cast<double>(s[i].position) - s[i - 1].position);
                    return s[i - 1].colour.*c + t * (s[i].colour.*c - s[i - 1].colour.*c);
                }
            return s.back().colour.*c;
        };
        Number4 out = in;
        out.r = at(&Vec3::x), out.g = at(&Vec3::y), out.b = at(&Vec3::z);
        return mixed(v, in, out);
    }
    Number4 blendStep(const StepView& v, const Number4& in) const {
        Number4 over = fed(v, "over", v.kind(), in);
        const std::string& mode = v[TextHandle{"mode"}];
        const bool space = blendSpaceReason(v).starts_with("display-encoded");
        const double w = v[NumberHandle{"amount"}] * fed(v, "mask", Kind::Scalar, grey(1)).r;
        const auto one = [&](double u, double o) {
            if (!space) return u + w * (blend(mode, u, o) - u);
            const double e = encode(u), f = over.kind == Kind::Scalar ? o : encode(o);
            return decode(e + w * (blend(mode, e, f) - e));
        };
        Number4 out = in;
        out.r = one(in.r, over.r), out.g = one(in.g, over.g), out.b = one(in.b, over.b);
        return out;
    }
    static Number4 levels(const StepView& v, const Number4& in) {
        return inSpace(v, in, [&](double x) {
            double t = (x - v[NumberHandle{"in-black"}]) /
                       (v[NumberHandle{"in-white"}] - v[NumberHandle{"in-black"}]);
            if (v[ToggleHandle{"limit"}]) t = std::clamp(t, 0.0, 1.0);
            t = std::copysign(std::pow(std::fabs(t), 1 / v[NumberHandle{"gamma"}]), t);
            return t * (v[NumberHandle{"out-white"}] - v[NumberHandle{"out-black"}]) +
                   v[NumberHandle{"out-black"}];
        });
    }
    Number4 tone(const StepView& v, const Number4& in) const {
        return mixed(v, in, inSpace(v, in, [&](double x) {
                         x = (x + v[NumberHandle{"offset"}]) * v[NumberHandle{"gain"}] *
                             std::exp2(v[NumberHandle{"exposure"}]);
                         x = (x - v[NumberHandle{"pivot"}]) * v[NumberHandle{"contrast"}] +
                             v[NumberHandle{"pivot"}];
                         return std::copysign(std::pow(std::fabs(x), 1 / v[NumberHandle{"gamma"}]), x);
                     }));
    }
    Number4 tint(const StepView& v, const Number4& in) const {
        const Colour c = v[ColourHandle{"colour"}];
        const double y = luminance(in), own = luminance({c.r, c.g, c.b});
        const auto one = [&](double k) {
            return y <= own ? k * y / own : k + (y - own) / (1 - own) * (1 - k);
        };
        Number4 out = in;
        out.r = one(c.r), out.g = one(c.g), out.b = one(c.b);
        return mixed(v, in, out);
    }
    Number4 maths(const StepView& v, const Number4& in) const {
        const std::string& f = v[TextHandle{"function"}];
        const double b = v[NumberHandle{"b"}], c = v[NumberHandle{"c"}];
        return mixed(v, in, inSpace(v, in, [&](double x) {
                         if (f == "add") return x + b;
                         if (f == "multiply") return x * b;
                         if (f == "power") return std::copysign(std::pow(std::fabs(x), b), x);
                         if (f == "distance") return std::fabs(x - b);
                         if (f == "smoothstep") return smooth(b, c, x);
                         return f == "one-minus" ? 1 - x : std::sqrt(std::max(x, 0.0));
                     }));
    }

    const Project& m_project;
    Texels m_texels;
    double m_u, m_v;
};

}  // namespace kettle::test
