#include "core/analysis/tones.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <numeric>

#include "core/analysis/or_zero.h"
#include "core/analysis/shown_pixels.h"
#include "core/base/pi.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"

namespace kettle {
namespace {

Vec3 shownValue(Kind kind, float r, float g, float b) {
    if (kind == Kind::Normal) return {r * 0.5f + 0.5f, g * 0.5f + 0.5f, b * 0.5f + 0.5f};
    if (kind == Kind::Scalar) return {r, r, r};
    return {linearToSrgb(r), linearToSrgb(g), linearToSrgb(b)};
}

std::uint32_t pack(Vec3 v) {
    return 0xFF000000u | static_cast<std::uint32_t>(toByte(v.x)) << 16 |
           static_cast<std::uint32_t>(toByte(v.y)) << 8 | toByte(v.z);
}

}  // namespace

std::uint32_t shownPixel(Kind kind, float r, float g, float b) {
    return pack(shownValue(kind, r, g, b));
}

namespace {

std::size_t binOf(float x) {
    // A little above the half: what lies on a border goes up, whichever way the last bit of its encoding
    // fell.
    return static_cast<std::size_t>(std::clamp(orZero(x), 0.0f, 1.0f) * (Spread::kBins - 1) + 0.5001f);
}

void countHue(Spread& spread, const Hsv& hsv, float share) {
    const auto hue = static_cast<std::size_t>(hsv.hue / 5.0f) % Spread::kHues;
    spread.hues[hue] += share * hsv.saturation * std::min(hsv.value, 1.0f);
}

/// A chunk of colours: encoded together, counted one by one.
void countColours(Spread& spread, const std::array<const float*, 3>& planes, std::size_t begin,
                  std::size_t count, float share) {
    constexpr std::size_t kMost = 512;
    std::array<std::array<float, kMost>, 4> linear, shown;  // red, green, blue, luminance
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t c = 0; c < 3; ++c) linear[c][i] = orZero(planes[c][begin + i]);
        linear[3][i] = luminance({linear[0][i], linear[1][i], linear[2][i]});
    }
    for (std::size_t c = 0; c < 4; ++c) encodeForDisplay(linear[c].data(), count, shown[c].data());
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t c = 0; c < 3; ++c) spread.components[c][binOf(shown[c][i])] += share;
        spread.brightness[binOf(shown[3][i])] += share;
        countHue(spread, hsvOf({shown[0][i], shown[1][i], shown[2][i]}), share);
    }
}

Vec3 shownOf(Vec3 linear) {
    return {linearToSrgb(linear.x), linearToSrgb(linear.y), linearToSrgb(linear.z)};
}

/// Lightness and saturation of the double hexcone. Source: G. H. Joblove, D. Greenberg, 1978.
Vec3 hslOf(Vec3 rgb) {
    const float high = std::max({rgb.x, rgb.y, rgb.z, 0.0f}),
                low = std::max(std::min({rgb.x, rgb.y, rgb.z}), 0.0f);
    const float lightness = (high + low) / 2, room = 1 - std::fabs(2 * lightness - 1);
    return {hsvOf(rgb).hue / 360, room > 0 ? (high - low) / room : 0.0f, lightness};
}

/// Colours in a reading's own numbers, one by one.
void countAsRead(Spread& spread, const std::array<const float*, 3>& planes, std::size_t count,
                 const Reading& reading, const float* alpha) {
    const float share = 1.0f / static_cast<float>(count);
    for (std::size_t i = 0; i < count; ++i) {
        const Vec3 linear{orZero(planes[0][i]), orZero(planes[1][i]), orZero(planes[2][i])};
        const Vec3 numbers = numbersRead(linear, reading);
        spread.components[0][binOf(numbers.x)] += share;
        spread.components[1][binOf(numbers.y)] += share;
        spread.components[2][binOf(numbers.z)] += share;
        spread.brightness[binOf(
            numberRead(Kind::Colour, linear, reading, alpha != nullptr ? alpha[i] : 1.0f))] += share;
        countHue(spread, hsvOf(reading.numbers == NumberSpace::DisplayEncoded ? shownOf(linear) : linear),
                 share);
    }
}

/// Places in the list by falling key, equal keys in their order: three passes of a stable counting sort over
/// the keys' bits, several times as fast as comparing.
std::vector<std::uint32_t> fallingOrder(const std::vector<float>& keys) {
    constexpr int kDigit = 11;
    constexpr std::uint32_t kMask = (1u << kDigit) - 1;
    std::vector<std::uint32_t> bits(keys.size()), order(keys.size()), next(keys.size());
    for (std::size_t i = 0; i < keys.size(); ++i) {
        // Positive numbers fall with their bits turned round, negative ones as they are; -0 counts as 0.
        const auto b = std::bit_cast<std::uint32_t>(keys[i] + 0.0f);
        bits[i] = (b >> 31) != 0 ? b : ~b & 0x7FFFFFFFu;
    }
    std::iota(order.begin(), order.end(), 0u);
    for (int shift = 0; shift < 32; shift += kDigit) {
        std::array<std::uint32_t, kMask + 2> starts{};
        for (const std::uint32_t b : bits) ++starts[(b >> shift & kMask) + 1];
        std::partial_sum(starts.begin(), starts.end(), starts.begin());
        for (const std::uint32_t i : order) next[starts[bits[i] >> shift & kMask]++] = i;
        order.swap(next);
    }
    return order;
}

/// True for one value everywhere, as plain sources give it: then one point tells all.
bool areEven(Kind kind, const std::array<const float*, 3>& planes, std::size_t count) {
    const std::size_t components = kind == Kind::Scalar ? 1 : 3;
    for (std::size_t c = 0; c < components; ++c)
        if (count < 2 || std::memcmp(planes[c], planes[c] + 1, (count - 1) * sizeof(float)) != 0)
            return false;
    return true;
}

}  // namespace

float percentileOf(const std::array<float, Spread::kBins>& bins, float share) {
    float all = 0, below = 0;
    for (const float b : bins) all += b;
    const float wanted = std::clamp(share, 0.0f, 1.0f) * all;
    for (std::size_t i = 0; i < bins.size(); ++i) {
        if (bins[i] > 0 && below + bins[i] >= wanted)
            // Bin i counts what lies nearest to i / (kBins - 1).
            return std::clamp(
                (static_cast<float>(i) - 0.5f + (wanted - below) / bins[i]) / (Spread::kBins - 1), 0.0f,
                1.0f);
        below += bins[i];
    }
    return 0;
}

Vec3 numbersRead(Vec3 linear, const Reading& reading) {
    const Vec3 rgb = reading.numbers == NumberSpace::DisplayEncoded ? shownOf(linear) : linear;
    if (reading.model == Model::Hsv) {
        const Hsv hsv = hsvOf(rgb);
        return {hsv.hue / 360, hsv.saturation, hsv.value};
    }
    if (reading.model == Model::Hsl) return hslOf(rgb);
    if (reading.model == Model::Oklch) {
        const Vec3 lab = oklabOf(linear);
        const float turn = std::atan2(lab.z, lab.y) / (2 * kPi);
        return {lab.x, std::hypot(lab.y, lab.z), turn < 0 ? turn + 1 : turn};
    }
    return rgb;
}

float numberRead(Kind kind, Vec3 value, const Reading& reading, float alpha) {
    if (kind == Kind::Scalar) return value.x;
    if (kind == Kind::Normal) return 0;
    const bool isShown = reading.numbers == NumberSpace::DisplayEncoded;
    const Vec3 rgb = isShown ? shownOf(value) : value;
    switch (reading.component) {
        case Component::Alpha:
            return alpha;
        case Component::Red:
            return rgb.x;
        case Component::Green:
            return rgb.y;
        case Component::Blue:
            return rgb.z;
        case Component::Maximum:
            return std::max({rgb.x, rgb.y, rgb.z});
        case Component::Minimum:
            return std::min({rgb.x, rgb.y, rgb.z});
        case Component::Average:
            return (rgb.x + rgb.y + rgb.z) / 3;
        case Component::Hue:
            return hsvOf(rgb).hue / 360;
        case Component::Saturation:
            return hsvOf(rgb).saturation;
        case Component::Lightness:
            return hslOf(rgb).z;
        case Component::Luminance:
        case Component::DisplayedGrey:
            break;
    }
    return isShown ? linearToSrgb(luminance(value)) : luminance(value);
}

Spread spreadOf(Kind kind, const std::array<const float*, 3>& planes, std::size_t count,
                const Reading& reading, const float* alpha) {
    if (areEven(kind, planes, count) && (alpha == nullptr || reading.component != Component::Alpha))
        count = 1;
    Spread spread;
    spread.components.resize(kind == Kind::Scalar ? 1 : 3);
    for (auto& bins : spread.components) bins.fill(0);
    if (count == 0) return spread;
    const float share = 1.0f / static_cast<float>(count);
    Reading usual;
    usual.input = reading.input;
    if (kind == Kind::Colour && !(reading == usual)) {
        countAsRead(spread, planes, count, reading, alpha);
        return spread;
    }
    if (kind == Kind::Colour) {
        for (std::size_t at = 0; at < count; at += 512)
            countColours(spread, planes, at, std::min<std::size_t>(512, count - at), share);
        return spread;
    }
    for (std::size_t c = 0; c < spread.components.size(); ++c)
        for (std::size_t i = 0; i < count; ++i) {
            const float x = orZero(planes[c][i]);
            spread.components[c][binOf(kind == Kind::Normal ? x * 0.5f + 0.5f : x)] += share;
        }
    if (kind == Kind::Scalar) spread.brightness = spread.components[0];
    return spread;
}

std::vector<std::uint32_t> toneRibbonOf(Kind kind, const std::array<const float*, 3>& planes,
                                        std::size_t count, int rows) {
    std::vector<std::uint32_t> ribbon(static_cast<std::size_t>(rows), 0xFF808080u);
    if (count == 0) return ribbon;
    if (areEven(kind, planes, count)) count = 1;
    const auto at = [&](std::size_t i) {
        const float r = orZero(planes[0][i]);
        return kind == Kind::Scalar ? Vec3{r, r, r} : Vec3{r, orZero(planes[1][i]), orZero(planes[2][i])};
    };
    std::vector<float> key(count);
    for (std::size_t i = 0; i < count; ++i) key[i] = kind == Kind::Normal ? at(i).z : luminance(at(i));
    const std::vector<std::uint32_t> order = fallingOrder(key);
    for (std::size_t row = 0; row < ribbon.size(); ++row) {
        const std::size_t begin = row * count / ribbon.size(),
                          end = std::max(begin + 1, (row + 1) * count / ribbon.size());
        Vec3 sum;
        for (std::size_t i = begin; i < end; ++i) sum += at(order[i]);
        sum = sum * (1.0f / static_cast<float>(end - begin));
        ribbon[row] = shownPixel(kind, sum.x, sum.y, sum.z);
    }
    return ribbon;
}

}  // namespace kettle
