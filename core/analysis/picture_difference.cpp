#include "core/analysis/picture_difference.h"

#include "core/colour/encoding.h"
#include "core/threads/parallel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/analysis/picture_difference.cpp"
#include <hwy/foreach_target.h>
// The dispatching header must come first.
#include "core/colour/curve-inl.h"

HWY_BEFORE_NAMESPACE();
namespace kettle::HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

HWY_INLINE V Number(float v) {
    return hn::Set(D(), v);
}
HWY_INLINE V Seventh(V x) {
    const V two = hn::Mul(x, x), four = hn::Mul(two, two);
    return hn::Mul(hn::Mul(four, two), x);
}
/// An angle by its cosine and sine.
struct Angle {
    V cosine, sine;
    HWY_INLINE Angle Plus(Angle o) const {
        return {hn::MulSub(cosine, o.cosine, hn::Mul(sine, o.sine)),
                hn::MulAdd(sine, o.cosine, hn::Mul(cosine, o.sine))};
    }
};

/// 2^(e / 3) for e from -7 to 0, where OfExponent() looks for them; nobody asks for the first eight.
constexpr PowerTable kCubeExponent = {{1, 1, 1, 1, 1, 1, 1, 1, 0.198425131f, 0.25f, 0.314980262f,
                                       0.396850263f, 0.5f, 0.629960525f, 0.793700526f, 1}};
/// m^(1/3) over 1..2 by minimax: 1.8e-7.
constexpr float kCubeMantissa[] = {0.44714086f,  0.95010138f,  -0.66618166f,  0.38536752f,
                                   -0.14447300f, 0.030904774f, -0.0028597038f};

/// From light, 0..1, to CIE Lab (D65), in place.
HWY_INLINE void ToLab(V& r, V& g, V& b) {
    const D d;
    const auto row = [&](float x, float y, float z) {
        return hn::MulAdd(Number(x), r, hn::MulAdd(Number(y), g, hn::Mul(Number(z), b)));
    };
    // IEC 61966-2-1, over the white of D65.
    const V x = row(0.4339530f, 0.3762190f, 0.1898280f), y = row(0.2126390f, 0.7151687f, 0.0721923f),
            z = row(0.0177578f, 0.1094770f, 0.8727652f);
    const auto f = [&](V t) {
        const V low = hn::MulAdd(t, Number(7.787037f), Number(16.0f / 116));
        return hn::IfThenElse(hn::Gt(t, Number(0.008856452f)),
                              PowerByParts(d, t, kCubeExponent, kCubeMantissa), low);
    };
    const V fx = f(x), fy = f(y), fz = f(z);
    r = hn::MulSub(Number(116), fy, Number(16));
    g = hn::Mul(Number(500), hn::Sub(fx, fy));
    b = hn::Mul(Number(200), hn::Sub(fy, fz));
}

/// The formula with angles as cosines and sines: of the mean hue only the rotation's bell needs the angle
/// itself.
HWY_INLINE V Ciede2000(V l1, V a1, V b1, V l2, V a2, V b2) {
    const D d;
    const V one = Number(1), half = Number(0.5f), zero = hn::Zero(d), tiny = Number(1e-12f);
    const auto length = [&](V x, V y) { return hn::Sqrt(hn::MulAdd(x, x, hn::Mul(y, y))); };
    const V mean7 = Seventh(hn::Mul(half, hn::Add(length(a1, b1), length(a2, b2))));
    constexpr float k25 = 6103515625.0f;  // 25^7
    const V g = hn::Mul(half, hn::Sub(one, hn::Sqrt(hn::Div(mean7, hn::Add(mean7, Number(k25))))));
    a1 = hn::MulAdd(a1, g, a1);
    a2 = hn::MulAdd(a2, g, a2);
    const V c1 = length(a1, b1), c2 = length(a2, b2);
    const V product = hn::Mul(c1, c2);
    const auto coloured = hn::Gt(product, tiny);
    // 2 sqrt(c1 c2) sin(dh / 2), from the half angle's square and the sense of the turn.
    const V along = hn::MulAdd(a1, a2, hn::Mul(b1, b2)), across = hn::MulSub(a1, b2, hn::Mul(b1, a2));
    const V square = hn::Max(hn::Mul(Number(2), hn::Sub(product, along)), zero);
    const V dH = hn::IfThenElseZero(coloured, hn::CopySign(hn::Sqrt(square), across));
    // The mean hue halves the angle between the two; where one has none it is the other's.
    const auto direction = [&](V x, V y, V c) {
        const auto has = hn::Gt(c, Number(1e-6f));
        const V scale = hn::Div(one, hn::IfThenElse(has, c, one));
        return Angle{hn::IfThenElseZero(has, hn::Mul(x, scale)), hn::IfThenElseZero(has, hn::Mul(y, scale))};
    };
    const Angle h1 = direction(a1, b1, c1), h2 = direction(a2, b2, c2);
    const V sumX = hn::Add(h1.cosine, h2.cosine), sumY = hn::Add(h1.sine, h2.sine);
    const V sum = length(sumX, sumY);
    const auto has = hn::Gt(sum, Number(1e-6f));
    const V scale = hn::Div(one, hn::IfThenElse(has, sum, one));
    // Without a hue at all it counts as 0 degrees.
    const Angle h{hn::IfThenElse(has, hn::Mul(sumX, scale), one),
                  hn::IfThenElseZero(has, hn::Mul(sumY, scale))};
    const Angle twice = h.Plus(h), thrice = twice.Plus(h), four = twice.Plus(twice);
    const auto shifted = [&](const Angle& a, float cosine, float sine) {  // cosine of a plus that angle
        return hn::MulSub(a.cosine, Number(cosine), hn::Mul(a.sine, Number(sine)));
    };
    V t = hn::NegMulAdd(Number(0.17f), shifted(h, 0.8660254f, -0.5f), one);
    t = hn::MulAdd(Number(0.24f), twice.cosine, t);
    t = hn::MulAdd(Number(0.32f), shifted(thrice, 0.99452190f, 0.10452846f), t);
    t = hn::NegMulAdd(Number(0.20f), shifted(four, 0.45399050f, -0.89100652f), t);
    // How far the mean hue lies from 275 degrees. Beyond some 100 of them nothing turns (2e-7).
    const Angle from275 = h.Plus({Number(0.08715574f), Number(0.99619470f)});
    const V cMean = hn::Mul(half, hn::Add(c1, c2));
    V rotation = zero;
    if (!hn::AllFalse(d, hn::Gt(from275.cosine, Number(-0.17f)))) {
        const V away =
            hn::Mul(Number(2 * 57.29577951f),
                    hn::Atan(d, hn::Div(from275.sine, hn::Max(hn::Add(one, from275.cosine), Number(1e-6f)))));
        const V bell = hn::Mul(away, Number(1 / 25.0f));
        const V turn =
            hn::Mul(Number(60 * 0.01745329252f), hn::Exp(d, hn::Neg(hn::Mul(bell, bell))));  // twice 30
        const V c7 = Seventh(cMean);
        rotation = hn::Mul(hn::Neg(hn::Sin(d, turn)),
                           hn::Mul(Number(2), hn::Sqrt(hn::Div(c7, hn::Add(c7, Number(k25))))));
    }
    const V l50 = hn::Sub(hn::Mul(half, hn::Add(l1, l2)), Number(50)), lSquare = hn::Mul(l50, l50);
    const V sl = hn::MulAdd(Number(0.015f), hn::Div(lSquare, hn::Sqrt(hn::Add(Number(20), lSquare))), one);
    const V sc = hn::MulAdd(Number(0.045f), cMean, one),
            sh = hn::MulAdd(hn::Mul(Number(0.015f), cMean), t, one);
    const V l = hn::Div(hn::Sub(l2, l1), sl), c = hn::Div(hn::Sub(c2, c1), sc), hue = hn::Div(dH, sh);
    const V all =
        hn::MulAdd(l, l, hn::MulAdd(c, c, hn::MulAdd(hue, hue, hn::Mul(rotation, hn::Mul(c, hue)))));
    return hn::Sqrt(hn::Max(all, zero));
}

void LabDifference(const float* const lab1[3], const float* const lab2[3], std::size_t count, float* out) {
    const D d;
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        const auto at = [&](const float* plane) { return hn::LoadU(d, plane + i); };
        hn::StoreU(Ciede2000(at(lab1[0]), at(lab1[1]), at(lab1[2]), at(lab2[0]), at(lab2[1]), at(lab2[2])), d,
                   out + i);
    }
}

/// Of pixels 0xAARRGGBB.
void PixelDifference(const std::uint32_t* a, const std::uint32_t* b, std::size_t count, float* out) {
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::RebindToUnsigned<D> du;
    const auto light = [&](auto shifted) {
        return DecodeStored(d, hn::ConvertTo(d, hn::BitCast(di, hn::And(shifted, hn::Set(du, 255u)))),
                            255.0f);
    };
    for (std::size_t i = 0; i < count; i += hn::Lanes(d)) {
        const auto one = hn::LoadU(du, a + i), two = hn::LoadU(du, b + i);
        // Equal pixels are not apart, whatever is rounded.
        const auto isEqual = hn::Eq(one, two);
        if (hn::AllTrue(du, isEqual)) {
            hn::StoreU(hn::Zero(d), d, out + i);
            continue;
        }
        V v[6];
        for (std::size_t side = 0; side < 2; ++side) {
            const auto pixels = side == 0 ? one : two;
            V* const rgb = v + 3 * side;
            rgb[0] = light(hn::ShiftRight<16>(pixels));
            rgb[1] = light(hn::ShiftRight<8>(pixels));
            rgb[2] = light(pixels);
            ToLab(rgb[0], rgb[1], rgb[2]);
        }
        const V apart = Ciede2000(v[0], v[1], v[2], v[3], v[4], v[5]);
        hn::StoreU(hn::IfThenZeroElse(hn::RebindMask(d, isEqual), apart), d, out + i);
    }
}

}  // namespace kettle::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
#include <algorithm>
#include <array>
#include <mutex>

namespace kettle {
namespace {
HWY_EXPORT(LabDifference);
HWY_EXPORT(PixelDifference);

constexpr std::size_t kPiece = 128, kTogether = 256, kHeatSteps = 1024, kBins = 4096;
constexpr float kBin = 0.03f;  // up to 122, beyond any two colours of a display

const std::vector<std::uint32_t>& heatTable() {
    static const auto table = [] {
        struct Stop {
            double at;
            int r, g, b;
        };
        constexpr std::array kStops{Stop{0, 0xF4, 0xF4, 0xF4}, Stop{1, 0xD2, 0xE0, 0xDB},
                                    Stop{3, 0x7F, 0xAC, 0xA1}, Stop{6, 0xD6, 0x96, 0x3A},
                                    Stop{kHeatEnd, 0x8A, 0x1C, 0x14}};
        std::vector<std::uint32_t> t(kHeatSteps + 1);
        for (std::size_t i = 0; i <= kHeatSteps; ++i) {
            const double x = kHeatEnd * static_cast<double>(i) / kHeatSteps;
            std::size_t k = 0;
            while (k + 2 < kStops.size() && x > kStops[k + 1].at) ++k;
            const Stop &a = kStops[k], &b = kStops[k + 1];
            const double part = std::clamp((x - a.at) / (b.at - a.at), 0.0, 1.0);
            const auto mixed = [&](int from, int to) {
                return static_cast<std::uint32_t>(from + (to - from) * part + 0.5);
            };
            t[i] = 0xFF000000u | mixed(a.r, b.r) << 16 | mixed(a.g, b.g) << 8 | mixed(a.b, b.b);
        }
        return t;
    }();
    return table;
}

std::size_t heatIndex(float difference) {
    constexpr float kLast = kHeatSteps, kScale = kLast / static_cast<float>(kHeatEnd);
    return difference > 0 ? static_cast<std::size_t>(std::min(difference * kScale + 0.5f, kLast)) : 0;
}

/// What is found in some of the pixels.
struct Part {
    std::vector<std::uint32_t> bins = std::vector<std::uint32_t>(kBins);
    double sum = 0;
    float largest = -1;
    std::size_t largestAt = 0, counted = 0;

    /// A piece of up to kPiece pixels, the first of them number `first` of the picture.
    void add(const std::uint32_t* a, const std::uint32_t* b, const std::uint8_t* covered, std::size_t first,
             std::size_t size, std::uint32_t* heat) {
        alignas(64) float apart[kPiece];
        if (size == kPiece) {
            HWY_DYNAMIC_DISPATCH(PixelDifference)(a, b, kPiece, apart);
        } else {
            std::uint32_t whole[2][kPiece]{};
            std::copy_n(a, size, whole[0]), std::copy_n(b, size, whole[1]);
            HWY_DYNAMIC_DISPATCH(PixelDifference)(whole[0], whole[1], kPiece, apart);
        }
        const auto& colours = heatTable();
        for (std::size_t i = 0; i < size; ++i) heat[i] = colours[heatIndex(apart[i])];
        float ofPiece = 0;
        for (std::size_t i = 0; i < size; ++i) {
            if (covered != nullptr && covered[i] == 0) continue;
            ++counted;
            ofPiece += apart[i];
            ++bins[std::min(kBins - 1, static_cast<std::size_t>(apart[i] * (1 / kBin)))];
            if (apart[i] > largest) largest = apart[i], largestAt = first + i;
        }
        sum += static_cast<double>(ofPiece);
    }
};
}  // namespace

std::uint32_t heatColour(double difference) {
    return heatTable()[heatIndex(static_cast<float>(difference))];
}

void ciede2000Of(const float* const lab1[3], const float* const lab2[3], std::size_t count, float* out) {
    HWY_DYNAMIC_DISPATCH(LabDifference)(lab1, lab2, count, out);
}

PictureDifference differenceOfPictures(const std::uint32_t* a, const std::uint32_t* b, std::size_t count,
                                       const std::uint8_t* covered) {
    PictureDifference result;
    result.heat.resize(count);
    const std::size_t pieces = (count + kPiece - 1) / kPiece;
    std::vector<Part> parts((pieces + kTogether - 1) / kTogether);
    // A number of pieces at a time belong together, so that the sums do not depend on the number of threads.
    parallelFor(parts.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t p = begin; p < end; ++p)
            for (std::size_t piece = p * kTogether; piece < std::min(pieces, (p + 1) * kTogether); ++piece) {
                const std::size_t first = piece * kPiece, size = std::min(kPiece, count - first);
                parts[p].add(a + first, b + first, covered == nullptr ? nullptr : covered + first, first,
                             size, result.heat.data() + first);
            }
    });
    Part all;
    for (const Part& part : parts) {
        all.sum += part.sum, all.counted += part.counted;
        if (part.largest > all.largest) all.largest = part.largest, all.largestAt = part.largestAt;
        for (std::size_t i = 0; i < kBins; ++i) all.bins[i] += part.bins[i];
    }
    result.counted = all.counted;
    if (all.counted == 0) return result;
    result.mean = all.sum / static_cast<double>(all.counted);
    result.largest = static_cast<double>(all.largest);
    result.largestAt = all.largestAt;
    std::size_t below = 0;
    for (std::size_t i = 0; i < kBins; ++i) {
        below += all.bins[i];
        if (20 * below >= 19 * all.counted) {
            result.percentile95 =
                std::min((static_cast<double>(i) + 0.5) * static_cast<double>(kBin), result.largest);
            break;
        }
    }
    return result;
}

}  // namespace kettle
#endif
