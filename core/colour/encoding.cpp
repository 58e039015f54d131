#include "core/colour/encoding.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>

namespace kettle {

float srgbToLinear(float encoded) {
    const double x = std::fabs(static_cast<double>(encoded));
    const double y = x <= 0.04045 ? x / 12.92 : std::pow((x + 0.055) / 1.055, 2.4);
    return static_cast<float>(std::copysign(y, encoded));
}

float linearToSrgb(float linear) {
    const double x = std::fabs(static_cast<double>(linear));
    const double y = x <= 0.0031308 ? x * 12.92 : 1.055 * std::pow(x, 1.0 / 2.4) - 0.055;
    return static_cast<float>(std::copysign(y, linear));
}

const std::array<float, 256>& srgbTable() {
    static const std::array<float, 256> table = [] {
        std::array<float, 256> t{};
        for (std::size_t i = 0; i < t.size(); ++i) t[i] = srgbToLinear(static_cast<float>(i) / 255.0f);
        return t;
    }();
    return table;
}

unsigned char toByte(float value) {
    if (!(value > 0.0f)) return 0;
    if (value >= 1.0f) return 255;
    return static_cast<unsigned char>(value * 255.0f + 0.5f);
}

std::string hexOfLinear(float r, float g, float b) {
    return fmt::format("#{:02X}{:02X}{:02X}", toByte(linearToSrgb(r)), toByte(linearToSrgb(g)),
                       toByte(linearToSrgb(b)));
}

bool linearOfHex(std::string_view text, float& r, float& g, float& b) {
    if (!text.empty() && text.front() == '#') text.remove_prefix(1);
    if (text.size() != 6) return false;
    unsigned value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + 6, value, 16);
    if (error != std::errc() || end != text.data() + 6) return false;
    r = srgbTable()[(value >> 16) & 255];
    g = srgbTable()[(value >> 8) & 255];
    b = srgbTable()[value & 255];
    return true;
}

}  // namespace kettle
