// From one level of a map's pyramid to the next coarser one. For map_image.cpp alone.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>

#include "core/colour/encoding.h"
#include "core/image/image.h"
#include "core/threads/parallel.h"

namespace kettle {

/// One level to the next: the mean of the four texels, taken in decoded numbers so that a distant red and
/// green mix as light does, and stored as before.
template <class T, class Decode, class Encode>
PixelBuffer halve(const PixelBuffer& from, Decode decode, Encode encode) {
    PixelBuffer to = PixelBuffer::make(std::max(1, from.width / 2), std::max(1, from.height / 2),
                                       from.channels, from.depth);
    const auto halveRow = [&](int y) {
        const T* a = from.row<T>(std::min(2 * y, from.height - 1));
        const T* b = from.row<T>(std::min(2 * y + 1, from.height - 1));
        T* out = to.row<T>(y);
        for (int x = 0; x < to.width; ++x) {
            const int x0 = std::min(2 * x, from.width - 1) * from.channels;
            const int x1 = std::min(2 * x + 1, from.width - 1) * from.channels;
            for (int c = 0; c < from.channels; ++c) {
                const bool alpha = c == 3 || (from.channels == 2 && c == 1);
                const float sum = decode(a[x0 + c], alpha) + decode(a[x1 + c], alpha) +
                                  decode(b[x0 + c], alpha) + decode(b[x1 + c], alpha);
                out[x * from.channels + c] = encode(sum * 0.25f, alpha);
            }
        }
    };
    parallelFor(static_cast<std::size_t>(to.height), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) halveRow(static_cast<int>(y));
    });
    return to;
}

/// The same for bytes that are numbers as they stand: the rounded mean of four integers, in plain loops that
/// the compiler turns into vectors.
inline PixelBuffer halvePlainBytes(const PixelBuffer& from) {
    PixelBuffer to = PixelBuffer::make(std::max(1, from.width / 2), std::max(1, from.height / 2),
                                       from.channels, Depth::U8);
    const auto n = static_cast<std::size_t>(from.channels);
    const auto halveRows = [&]<std::size_t kChannels>(std::size_t begin, std::size_t end) {
        for (std::size_t y = begin; y < end; ++y) {
            const auto* a = from.row<std::uint8_t>(std::min(static_cast<int>(2 * y), from.height - 1));
            const auto* b = from.row<std::uint8_t>(std::min(static_cast<int>(2 * y) + 1, from.height - 1));
            auto* out = to.row<std::uint8_t>(static_cast<int>(y));
            const std::size_t right = from.width > 1 ? kChannels : 0;
            for (std::size_t x = 0; x < static_cast<std::size_t>(to.width); ++x)
                for (std::size_t c = 0; c < kChannels; ++c) {
                    const std::size_t at = 2 * x * kChannels + c;
                    out[x * kChannels + c] =
                        static_cast<std::uint8_t>((a[at] + a[at + right] + b[at] + b[at + right] + 2) / 4);
                }
        }
    };
    parallelFor(static_cast<std::size_t>(to.height), 64, [&](std::size_t begin, std::size_t end) {
        if (n == 1) return halveRows.template operator()<1>(begin, end);
        if (n == 2) return halveRows.template operator()<2>(begin, end);
        if (n == 3) return halveRows.template operator()<3>(begin, end);
        halveRows.template operator()<4>(begin, end);
    });
    return to;
}

/// Rounds numbers in linear light to sRGB codes of 8 bits, as linearToSrgb would, without its power: between
/// two codes lies the least number that rounds to the upper one.
class ByteEncoder {
public:
    /// Fills the table; takes some microseconds, so keep one.
    ByteEncoder() {
        for (std::size_t code = 1; code < 256; ++code) {
            // Bisection over the floats in between, whose order is that of their bits.
            std::uint32_t low = 0, high = std::bit_cast<std::uint32_t>(1.0f);
            while (low + 1 < high) {
                const std::uint32_t middle = (low + high) / 2;
                (rounded(std::bit_cast<float>(middle)) >= code ? high : low) = middle;
            }
            m_least[code] = std::bit_cast<float>(high);
        }
        for (std::size_t i = 0; i < m_guess.size(); ++i)
            m_guess[i] = static_cast<std::uint8_t>(rounded(static_cast<float>(i) / kSteps));
    }
    /// A linear number as an sRGB code, rounded; beyond 0..1 (and none at all) as 0 and 255.
    std::uint8_t operator()(float linear) const {
        if (!(linear > 0)) return 0;
        if (linear >= 1) return 255;
        std::size_t code = m_guess[static_cast<std::size_t>(linear * kSteps)];
        while (code < 255 && linear >= m_least[code + 1]) ++code;
        return static_cast<std::uint8_t>(code);
    }

private:
    static constexpr float kSteps = 4096;
    static std::size_t rounded(float linear) {
        return static_cast<std::size_t>(std::clamp(linearToSrgb(linear), 0.0f, 1.0f) * 255 + 0.5f);
    }
    std::array<float, 257> m_least{};
    std::array<std::uint8_t, 4097> m_guess{};
};

}  // namespace kettle
