// Colour models as instructions: Convert, Component, Join, Curves, Formula and Colour match read and write
// them.
#include "core/steps/emitting.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/model_ops.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/steps/models-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {

template <class F>
HWY_INLINE void Colours(const KernelCall& k, F&& f) {
    const hn::ScalableTag<float> d;
    for (const std::size_t i : VectorsOf(d, k)) {
        auto x = hn::Zero(d), y = hn::Zero(d), z = hn::Zero(d);
        f(d, hn::Load(d, k.in[0] + i), hn::Load(d, k.in[1] + i), hn::Load(d, k.in[2] + i), x, y, z);
        StoreIf(d, x, k.out[0], i);
        StoreIf(d, y, k.out[1], i);
        StoreIf(d, z, k.out[2], i);
    }
}

// In data a hue is 0..1 of a turn; the models compute in sixths.
constexpr float kSixth = 1.0f / 6.0f;

void RgbToHsv(const KernelCall& k) {
    Colours(k, [](auto d, auto r, auto g, auto b, auto& h, auto& s, auto& v) {
        ToHsv(d, r, g, b, h, s, v);
        h = hn::Mul(h, hn::Set(d, kSixth));
    });
}
void HsvToRgb(const KernelCall& k) {
    Colours(k, [](auto d, auto h, auto s, auto v, auto& r, auto& g, auto& b) {
        FromHsv(d, hn::Mul(h, hn::Set(d, 6.0f)), s, v, r, g, b);
    });
}
void RgbToHsl(const KernelCall& k) {
    Colours(k, [](auto d, auto r, auto g, auto b, auto& h, auto& s, auto& l) {
        ToHsl(d, r, g, b, h, s, l);
        h = hn::Mul(h, hn::Set(d, kSixth));
    });
}
void HslToRgb(const KernelCall& k) {
    Colours(k, [](auto d, auto h, auto s, auto l, auto& r, auto& g, auto& b) {
        FromHsl(d, hn::Mul(h, hn::Set(d, 6.0f)), s, l, r, g, b);
    });
}
void RgbToOklab(const KernelCall& k) {
    Colours(k,
            [](auto d, auto r, auto g, auto b, auto& x, auto& y, auto& z) { ToOklab(d, r, g, b, x, y, z); });
}
void OklabToRgb(const KernelCall& k) {
    Colours(
        k, [](auto d, auto x, auto y, auto z, auto& r, auto& g, auto& b) { FromOklab(d, x, y, z, r, g, b); });
}

/// Lightness, a, b to lightness, chroma, hue in turns.
void ToPolar(const KernelCall& k) {
    Colours(k, [](auto d, auto x, auto y, auto z, auto& l, auto& c, auto& h) {
        l = x;
        c = hn::Sqrt(hn::MulAdd(y, y, hn::Mul(z, z)));
        h = TurnsOf(d, y, z);
    });
}
void FromPolar(const KernelCall& k) {
    Colours(k, [](auto d, auto l, auto c, auto h, auto& x, auto& y, auto& z) {
        const auto turn = hn::Mul(hn::Sub(h, hn::Floor(h)), hn::Set(d, 6.28318530718f));
        x = l;
        y = hn::Mul(c, hn::Cos(d, turn));
        z = hn::Mul(c, hn::Sin(d, turn));
    });
}

/// XYZ of D65, white at Y = 1, to CIE Lab. Source: CIE 15:2004, 8.2.1.
void XyzToLab(const KernelCall& k) {
    Colours(k, [](auto d, auto x, auto y, auto z, auto& l, auto& a, auto& b) {
        const auto f = [&](auto t) {
            constexpr float kEdge = 216.0f / 24389.0f;  // (6/29)^3
            const auto straight = hn::MulAdd(t, hn::Set(d, 841.0f / 108.0f), hn::Set(d, 4.0f / 29.0f));
            return hn::IfThenElse(hn::Gt(t, hn::Set(d, kEdge)), CubeRoot(d, t), straight);
        };
        const auto fx = f(hn::Mul(x, hn::Set(d, 1 / 0.95047f))), fy = f(y),
                   fz = f(hn::Mul(z, hn::Set(d, 1 / 1.08883f)));
        l = hn::MulSub(fy, hn::Set(d, 116.0f), hn::Set(d, 16.0f));
        a = hn::Mul(hn::Sub(fx, fy), hn::Set(d, 500.0f));
        b = hn::Mul(hn::Sub(fy, fz), hn::Set(d, 200.0f));
    });
}
void LabToXyz(const KernelCall& k) {
    Colours(k, [](auto d, auto l, auto a, auto b, auto& x, auto& y, auto& z) {
        const auto fy = hn::Mul(hn::Add(l, hn::Set(d, 16.0f)), hn::Set(d, 1 / 116.0f));
        const auto fx = hn::MulAdd(a, hn::Set(d, 0.002f), fy), fz = hn::NegMulAdd(b, hn::Set(d, 0.005f), fy);
        const auto back = [&](auto t) {
            const auto straight = hn::Mul(hn::Sub(t, hn::Set(d, 4.0f / 29.0f)), hn::Set(d, 108.0f / 841.0f));
            return hn::IfThenElse(hn::Gt(t, hn::Set(d, 6.0f / 29.0f)), hn::Mul(t, hn::Mul(t, t)), straight);
        };
        x = hn::Mul(back(fx), hn::Set(d, 0.95047f));
        y = back(fy);
        z = hn::Mul(back(fz), hn::Set(d, 1.08883f));
    });
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kettle {
namespace {
#define KETTLE_MODEL_OP(Name, text)                                      \
    HWY_EXPORT(Name);                                                    \
    const Op k##Name {                                                   \
        text, [](const KernelCall& k) { HWY_DYNAMIC_DISPATCH(Name)(k); } \
    }
KETTLE_MODEL_OP(RgbToHsv, "rgb-to-hsv");
KETTLE_MODEL_OP(HsvToRgb, "hsv-to-rgb");
KETTLE_MODEL_OP(RgbToHsl, "rgb-to-hsl");
KETTLE_MODEL_OP(HslToRgb, "hsl-to-rgb");
KETTLE_MODEL_OP(RgbToOklab, "rgb-to-oklab");
KETTLE_MODEL_OP(OklabToRgb, "oklab-to-rgb");
KETTLE_MODEL_OP(ToPolar, "to-polar");
KETTLE_MODEL_OP(FromPolar, "from-polar");
KETTLE_MODEL_OP(XyzToLab, "xyz-to-lab");
KETTLE_MODEL_OP(LabToXyz, "lab-to-xyz");
#undef KETTLE_MODEL_OP

// IEC 61966-2-1, annex: linear Rec.709 to XYZ, D65.
constexpr std::array<float, 9> kToXyz{0.4124564f, 0.3575761f, 0.1804375f, 0.2126729f, 0.7151522f,
                                      0.0721750f, 0.0193339f, 0.1191920f, 0.9503041f};
constexpr std::array<float, 9> kFromXyz{3.2404542f, -1.5371385f, -0.4985314f, -0.9692660f, 1.8760108f,
                                        0.0415560f, 0.0556434f,  -0.2040259f, 1.0572252f};

bool needsRec709(Model model) {
    return model == Model::Oklab || model == Model::Oklch || model == Model::CieLab || model == Model::Xyz;
}

}  // namespace

Value toModel(ProgramBuilder& p, const Value& value, Model model, const WorkingSpace& space) {
    Value v = value;
    v.kind = Kind::Colour;
    if (needsRec709(model) && !space.isRec709()) v = transformValue(p, v, space.toRec709);
    switch (model) {
        case Model::Rgb:
            return v;
        case Model::Encoded:
            return encodeValue(p, v);
        case Model::Hsv:
            return wholeColour(p, v, kRgbToHsv);
        case Model::Hsl:
            return wholeColour(p, v, kRgbToHsl);
        case Model::Oklab:
            return wholeColour(p, v, kRgbToOklab);
        case Model::Oklch:
            return wholeColour(p, wholeColour(p, v, kRgbToOklab), kToPolar);
        case Model::CieLab:
            return wholeColour(p, transformValue(p, v, kToXyz), kXyzToLab);
        case Model::Xyz:
            return transformValue(p, v, kToXyz);
    }
    return v;
}

Value fromModel(ProgramBuilder& p, const Value& value, Model model, const WorkingSpace& space) {
    Value v = value;
    v.kind = Kind::Colour;
    switch (model) {
        case Model::Rgb:
            break;
        case Model::Encoded:
            v = decodeValue(p, v);
            break;
        case Model::Hsv:
            v = wholeColour(p, v, kHsvToRgb);
            break;
        case Model::Hsl:
            v = wholeColour(p, v, kHslToRgb);
            break;
        case Model::Oklab:
            v = wholeColour(p, v, kOklabToRgb);
            break;
        case Model::Oklch:
            v = wholeColour(p, wholeColour(p, v, kFromPolar), kOklabToRgb);
            break;
        case Model::CieLab:
            v = transformValue(p, wholeColour(p, v, kLabToXyz), kFromXyz);
            break;
        case Model::Xyz:
            v = transformValue(p, v, kFromXyz);
            break;
    }
    return needsRec709(model) && !space.isRec709() ? transformValue(p, v, space.fromRec709) : v;
}

}  // namespace kettle
#endif
