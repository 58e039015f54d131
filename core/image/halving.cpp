#include "core/image/halving.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <limits>
#include <type_traits>

#include "core/colour/encoding.h"
#include "core/image/pixel_kernels.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

void decode(const std::uint8_t* from, std::size_t count, int channels, unsigned curved, float* const out[]) {
    decodeBytes(from, count, channels, curved, out);
}
void decode(const std::uint16_t* from, std::size_t count, int channels, unsigned curved, float* const out[]) {
    decodeWords(from, count, channels, curved, out);
}
void encode(const float* const from[], int channels, std::size_t count, unsigned curved, std::uint8_t* out) {
    encodeBytes(from, channels, count, curved, out);
}
void encode(const float* const from[], int channels, std::size_t count, unsigned curved, std::uint16_t* out) {
    encodeWords(from, channels, count, curved, out);
}

/// Between two codes of 8 bits lies the least number in linear light that rounds to the upper one.
class ByteBounds {
public:
    ByteBounds() {
        m_least.front() = -std::numeric_limits<float>::infinity();
        m_least.back() = std::numeric_limits<float>::infinity();
        for (std::size_t code = 1; code < 256; ++code) {
            // Bisection over the floats in between, whose order is that of their bits.
            std::uint32_t low = 0, high = std::bit_cast<std::uint32_t>(1.0f);
            while (low + 1 < high) {
                const std::uint32_t middle = (low + high) / 2;
                const float shown = linearToSrgb(std::bit_cast<float>(middle)) * 255 + 0.5f;
                (shown >= static_cast<float>(code) ? high : low) = middle;
            }
            m_least[code] = std::bit_cast<float>(high);
        }
    }
    /// The code of a number, from one that is at most one beside it.
    std::uint8_t corrected(std::uint8_t code, float linear) const {
        return static_cast<std::uint8_t>(code - (linear < m_least[code] ? 1 : 0) +
                                         (linear >= m_least[code + 1u] ? 1 : 0));
    }

private:
    std::array<float, 257> m_least;
};

/// The two rows of a level from which a row of the next is made. `right`: from a texel to the one beside it,
/// in components; 0 where there is none.
template <class T>
struct TwoRows {
    const T *upper, *lower;
    std::size_t right;
};

/// `halving` gives, for each thread's rows, what halves one of them.
template <class T, class Halving>
PixelBuffer byRows(const PixelBuffer& from, const Halving& halving) {
    PixelBuffer to = PixelBuffer::make(std::max(1, from.width / 2), std::max(1, from.height / 2),
                                       from.channels, from.depth);
    const std::size_t right = from.width > 1 ? static_cast<std::size_t>(from.channels) : 0;
    parallelFor(static_cast<std::size_t>(to.height), 64, [&](std::size_t begin, std::size_t end) {
        auto halve = halving();
        for (int y = static_cast<int>(begin); y < static_cast<int>(end); ++y)
            halve(TwoRows<T>{from.row<T>(std::min(2 * y, from.height - 1)),
                             from.row<T>(std::min(2 * y + 1, from.height - 1)), right},
                  to.row<T>(y), static_cast<std::size_t>(to.width));
    });
    return to;
}

/// Numbers as they stand, in plain loops that the compiler turns into vectors.
template <class T, std::size_t kChannels, class Mean>
PixelBuffer halveAsTheyStand(const PixelBuffer& from, const Mean& mean) {
    const auto halve = [&mean](const TwoRows<T>& rows, T* out, std::size_t width) {
        for (std::size_t x = 0; x < width; ++x)
            for (std::size_t c = 0; c < kChannels; ++c) {
                const std::size_t at = 2 * x * kChannels + c;
                out[x * kChannels + c] = mean(rows.upper[at], rows.upper[at + rows.right], rows.lower[at],
                                              rows.lower[at + rows.right]);
            }
    };
    return byRows<T>(from, [&] { return halve; });
}

template <class T, class Mean>
PixelBuffer halvePlain(const PixelBuffer& from, const Mean& mean) {
    switch (from.channels) {
        case 1:
            return halveAsTheyStand<T, 1>(from, mean);
        case 2:
            return halveAsTheyStand<T, 2>(from, mean);
        case 3:
            return halveAsTheyStand<T, 3>(from, mean);
        default:
            return halveAsTheyStand<T, 4>(from, mean);
    }
}

/// Codes in sRGB: a piece of both rows is decoded to planes, which stay in the nearest memory; their mean is
/// encoded again.
template <class T>
class CurvedHalving {
public:
    explicit CurvedHalving(int channels) : m_channels(channels), m_curved(channels < 3 ? 1u : 7u) {}

    void operator()(const TwoRows<T>& rows, T* out, std::size_t width) {
        const auto n = static_cast<std::size_t>(m_channels);
        for (std::size_t x = 0; x < width; x += kPiece) {
            const std::size_t count = std::min(kPiece, width - x), finer = rows.right > 0 ? 2 * count : 1;
            const auto upper = pointers(m_upper), lower = pointers(m_lower), mean = pointers(m_mean);
            decode(rows.upper + 2 * x * n, finer, m_channels, m_curved, upper.data());
            decode(rows.lower + 2 * x * n, finer, m_channels, m_curved, lower.data());
            const std::size_t right = rows.right > 0 ? 1 : 0;
            for (std::size_t c = 0; c < n; ++c) {
                const float *a = upper[c], *b = lower[c];
                for (std::size_t i = 0; i < count; ++i)
                    mean[c][i] = (a[2 * i] + a[2 * i + right] + b[2 * i] + b[2 * i + right]) * 0.25f;
            }
            encodePiece(mean, count, out + x * n);
        }
    }

private:
    static constexpr std::size_t kPiece = 512;
    template <std::size_t kSize>
    using Planes = std::array<std::array<float, kSize>, 4>;
    template <std::size_t kSize>
    static std::array<float*, 4> pointers(Planes<kSize>& planes) {
        return {planes[0].data(), planes[1].data(), planes[2].data(), planes[3].data()};
    }

    void encodePiece(const std::array<float*, 4>& mean, std::size_t count, T* out) const {
        if (m_channels != 2) {
            encode(mean.data(), m_channels, count, m_curved, out);
            return correct(mean, count, out);
        }
        // A grey and its transparency are encoded one by one.
        std::array<std::array<T, kPiece>, 2> codes;
        for (std::size_t c = 0; c < 2; ++c)
            encode(mean.data() + c, 1, count, c == 0 ? m_curved : 0, codes[c].data());
        for (std::size_t i = 0; i < count; ++i) out[2 * i] = codes[0][i], out[2 * i + 1] = codes[1][i];
        correct(mean, count, out);
    }
    /// The kernel is exact to a hundredth of a byte's code; levels are made of levels, so that the last bit
    /// is put right.
    void correct([[maybe_unused]] const std::array<float*, 4>& mean, [[maybe_unused]] std::size_t count,
                 [[maybe_unused]] T* out) const {
        if constexpr (std::is_same_v<T, std::uint8_t>) {
            static const ByteBounds kBounds;
            const auto n = static_cast<std::size_t>(m_channels), colours = n < 3 ? std::size_t{1} : 3;
            for (std::size_t c = 0; c < colours; ++c)
                for (std::size_t i = 0; i < count; ++i)
                    out[i * n + c] = kBounds.corrected(out[i * n + c], mean[c][i]);
        }
    }

    int m_channels;
    unsigned m_curved;
    alignas(64) Planes<2 * kPiece> m_upper{}, m_lower{};
    alignas(64) Planes<kPiece> m_mean{};
};

template <class T>
PixelBuffer halveCodes(const PixelBuffer& from, bool isSrgb) {
    if (!isSrgb)
        return halvePlain<T>(from, [](unsigned a, unsigned b, unsigned c, unsigned d) {
            return static_cast<T>((a + b + c + d + 2) / 4);
        });
    return byRows<T>(from, [&] { return CurvedHalving<T>(from.channels); });
}

}  // namespace

PixelBuffer halved(const PixelBuffer& from, bool isSrgb) {
    switch (from.depth) {
        case Depth::U8:
            return halveCodes<std::uint8_t>(from, isSrgb);
        case Depth::U16:
            return halveCodes<std::uint16_t>(from, isSrgb);
        default:
            return halvePlain<float>(
                from, [](float a, float b, float c, float d) { return (a + b + c + d) * 0.25f; });
    }
}

}  // namespace kettle
