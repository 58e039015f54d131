// Tables that the peers' fastest routes share: whatever depends on the grey alone, or on the hue alone, is
// folded into one lookup.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "bench/reference_chain.h"

namespace kettle::bench {

inline float peerDecode(float x) {
    return x <= 0.04045f ? x / 12.92f : std::pow((x + 0.055f) / 1.055f, 2.4f);
}
inline float peerEncode(float x) {
    return x <= 0.0031308f ? 12.92f * x : 1.055f * std::pow(x, 1 / 2.4f) - 0.055f;
}

/// 256 linear values of the sRGB codes.
inline std::vector<float> decodeTable() {
    std::vector<float> table(256);
    for (std::size_t i = 0; i < 256; ++i) table[i] = peerDecode(static_cast<float>(i) / 255);
    return table;
}

/// 65536 steps of linear light to 8-bit codes.
inline std::vector<unsigned char> encodeTable() {
    std::vector<unsigned char> table(65536);
    for (std::size_t i = 0; i < table.size(); ++i)
        table[i] = static_cast<unsigned char>(peerEncode(static_cast<float>(i) / 65535) * 255 + 0.5f);
    return table;
}

/// 256 x 3: what mask, ramp and multiply come to for a grey: 1 + amount * mask * (over - 1), times `scale`.
inline std::vector<float> factorTable(float scale) {
    const auto ramp = [](const auto& stops, float x, float ChainStop::*c) {
        if (x <= stops.front().at) return stops.front().*c;
        for (std::size_t i = 1; i < stops.size(); ++i)
            if (x < stops[i].at)
                return stops[i - 1].*c + (x - stops[i - 1].at) / (stops[i].at - stops[i - 1].at) *
                                             (stops[i].*c - stops[i - 1].*c);
        return stops.back().*c;
    };
    std::vector<float> table(256 * 3);
    for (std::size_t i = 0; i < 256; ++i) {
        const float x = static_cast<float>(i) / 255, w = kAmount * ramp(kMaskRamp, x, &ChainStop::r);
        const float over[3]{ramp(kOverRamp, x, &ChainStop::r), ramp(kOverRamp, x, &ChainStop::g),
                            ramp(kOverRamp, x, &ChainStop::b)};
        for (std::size_t c = 0; c < 3; ++c) table[3 * i + c] = scale * (1 + w * (over[c] - 1));
    }
    return table;
}

/// How much of the chroma is missing in red, green and blue at a hue in sixths before the shift: the shift
/// and the wrap are in the table. `at` in [0, 6].
inline std::array<float, 3> missingChroma(float at) {
    std::array<float, 3> out{};
    const float turned = at + kHue / 60;
    for (std::size_t c = 0; c < 3; ++c) {
        const float k = std::fmod(turned + (c == 0 ? 5.0f : c == 1 ? 3.0f : 1.0f), 6.0f);
        out[c] = std::clamp(std::min(k, 4 - k), 0.0f, 1.0f);
    }
    return out;
}

}  // namespace kettle::bench
