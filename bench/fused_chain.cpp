// The reference chain as a programmer would write it for this chain alone: one plain loop over a block's
// bytes, left to the compiler (-O3 -march=native -ffast-math, see CMakeLists.txt). It shares no code with the
// engine. Its curves are polynomials of least error (Remez) and only as exact as a byte needs: within
// 0.004 of a code.
#include <hwy/highway.h>

#include <algorithm>
#include <cmath>

#include "bench/reference_chain.h"

namespace kettle::bench {
namespace {

/// 0.004 of a code at most, where a code of the encoded result is the measure.
inline float decode(float c) {
    float p = -0.08768032661457884f;
    p = p * c + 0.3234361626503628f;
    p = p * c - 0.5411779699792125f;
    p = p * c + 0.7718933808359116f;
    p = p * c + 0.49812447677935767f;
    p = p * c + 0.034501247030100955f;
    p = p * c + 0.0008716133452030758f;
    return c <= 0.04045f ? c * (1 / 12.92f) : p;
}

/// In the fourth root of x; 0.002 of a code at most.
inline float encode(float x) {
    const float q = std::sqrt(std::sqrt(x));
    float p = -0.06814734960497607f;
    p = p * q + 0.28953312224621786f;
    p = p * q - 0.5774828433213992f;
    p = p * q + 1.255404456723525f;
    p = p * q + 0.16202625985700161f;
    p = p * q - 0.06134021629964202f;
    return x <= 0.0031308f ? x * 12.92f : p;
}

inline float unit(float x) {
    return std::min(std::max(x, 0.0f), 1.0f);
}

/// A ramp as the sum of what each of its pieces adds: no stop is looked for.
template <std::size_t kStops>
struct Pieces {
    float from[kStops], length[kStops], first[3], rise[kStops][3];
    explicit Pieces(const std::array<ChainStop, kStops>& stops) : first{stops[0].r, stops[0].g, stops[0].b} {
        for (std::size_t i = 0; i + 1 < kStops; ++i) {
            const ChainStop &a = stops[i], &b = stops[i + 1];
            from[i] = a.at, length[i] = b.at - a.at;
            const float by = 1 / length[i];
            rise[i][0] = (b.r - a.r) * by, rise[i][1] = (b.g - a.g) * by, rise[i][2] = (b.b - a.b) * by;
        }
    }
    template <std::size_t kComponents>
    [[gnu::always_inline]] void at(float x, float (&out)[kComponents]) const {
        for (std::size_t c = 0; c < kComponents; ++c) out[c] = first[c];
#pragma GCC unroll 8
        for (std::size_t i = 0; i + 1 < kStops; ++i) {
            const float t = std::min(std::max(x - from[i], 0.0f), length[i]);
            for (std::size_t c = 0; c < kComponents; ++c) out[c] += rise[i][c] * t;
        }
    }
};
const Pieces<4> kMask(kMaskRamp);
const Pieces<5> kOver(kOverRamp);

/// Hue in sixths of a turn, by which component is the largest; back by three tents.
[[gnu::always_inline]] inline void shift(float& r, float& g, float& b) {
    const float most = std::max(r, std::max(g, b)), least = std::min(r, std::min(g, b)),
                chroma = most - least;
    const bool red = most == r, green = most == g;
    const float across = red ? g - b : green ? b - r : r - g, sector = red ? 0.0f : green ? 2.0f : 4.0f;
    float turn = (across / (chroma + 1e-20f) + sector) * (1 / 6.0f) + kHue / 360;
    turn = (turn - std::floor(turn)) * 6;
    const float value = most * kValue, width = value * std::min(chroma / (most + 1e-20f) * kSaturation, 1.0f),
                low = value - width;
    r = low + width * unit(std::fabs(turn - 3) - 1);
    g = low + width * unit(2 - std::fabs(turn - 2));
    b = low + width * unit(2 - std::fabs(turn - 4));
}

[[gnu::always_inline]] inline void chain(float& r, float& g, float& b, float grey, const Pieces<4>& mask,
                                         const Pieces<5>& over) {
    shift(r, g, b);
    float weight[1], o[3];
    mask.at(grey, weight);
    over.at(grey, o);
    const float w = weight[0] * kAmount;
    r += w * (r * o[0] - r), g += w * (g * o[1] - g), b += w * (b * o[2] - b);
}

inline std::uint8_t code(float x) {
    return static_cast<std::uint8_t>(static_cast<int>(unit(x) * 255 + 0.5f));
}

}  // namespace

void fusedChain(const std::uint8_t* rgb, const std::uint8_t* grey, std::size_t count, std::uint8_t* out) {
    constexpr std::size_t kBlock = 512, kBytes = 16;
    namespace hn = hwy::HWY_NAMESPACE;
    const hn::FixedTag<std::uint8_t, kBytes> bytes;  // only takes the components apart
    alignas(64) std::uint8_t r[kBlock], g[kBlock], b[kBlock], x[kBlock], y[kBlock], z[kBlock];
    const Pieces<4> mask = kMask;  // copied, so that no store can change them
    const Pieces<5> over = kOver;
    for (std::size_t at = 0; at < count; at += kBlock) {
        for (std::size_t i = 0; i < kBlock; i += kBytes) {
            auto u = hn::Zero(bytes), v = u, w = u;
            hn::LoadInterleaved3(bytes, rgb + 3 * (at + i), u, v, w);
            hn::Store(u, bytes, r + i), hn::Store(v, bytes, g + i), hn::Store(w, bytes, b + i);
        }
        const std::uint8_t* t = grey + at;
#pragma GCC ivdep
        for (std::size_t i = 0; i < kBlock; ++i) {
            float red = decode(r[i] * (1 / 255.0f)), green = decode(g[i] * (1 / 255.0f)),
                  blue = decode(b[i] * (1 / 255.0f));
            chain(red, green, blue, t[i] * (1 / 255.0f), mask, over);
            x[i] = code(encode(red)), y[i] = code(encode(green)), z[i] = code(encode(blue));
        }
        for (std::size_t i = 0; i < kBlock; i += kBytes)
            hn::StoreInterleaved3(hn::Load(bytes, x + i), hn::Load(bytes, y + i), hn::Load(bytes, z + i),
                                  bytes, out + 3 * (at + i));
    }
}

void fusedChainPlanes(const float* const in[4], std::size_t count, float* const out[3]) {
    const float *const red = in[0], *const green = in[1], *const blue = in[2], *const grey = in[3];
    float *const x = out[0], *const y = out[1], *const z = out[2];
    const Pieces<4> mask = kMask;
    const Pieces<5> over = kOver;
#pragma GCC ivdep
    for (std::size_t i = 0; i < count; ++i) {
        float r = red[i], g = green[i], b = blue[i];
        chain(r, g, b, grey[i], mask, over);
        x[i] = r, y[i] = g, z[i] = b;
    }
}

}  // namespace kettle::bench
