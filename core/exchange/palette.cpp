#include "core/exchange/palette.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdlib>
#include <optional>
#include <set>
#include <sstream>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/exchange/colour_names.h"

namespace kettle {
namespace {

constexpr std::size_t kMost = 64;

bool isHex(char c) {
    return std::isxdigit(static_cast<unsigned char>(c)) != 0;
}
bool isWordPart(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_';
}

/// "  34 120  90  Verdigris"
bool paletteLine(const std::string& line, Vec3& out) {
    std::istringstream in(line);
    int r = -1, g = -1, b = -1;
    if (!(in >> r >> g >> b) || r < 0 || g < 0 || b < 0 || r > 255 || g > 255 || b > 255) return false;
    out = {srgbTable()[static_cast<std::size_t>(r)], srgbTable()[static_cast<std::size_t>(g)],
           srgbTable()[static_cast<std::size_t>(b)]};
    return true;
}

/// "rgb(12, 34, 56)", "rgba(12 34 56 / 0.5)", "rgb(10%, 20%, 30%)" from `at` on; where it ends, or nothing.
/// What is beyond the range is brought into it, as CSS does.
std::optional<std::size_t> functionAt(const std::string& line, std::size_t at, Vec3& out) {
    const auto letter = [&](std::size_t i) {
        return i < line.size() ? static_cast<char>(std::tolower(static_cast<unsigned char>(line[i]))) : '\0';
    };
    if (letter(at) != 'r' || letter(at + 1) != 'g' || letter(at + 2) != 'b') return std::nullopt;
    std::size_t i = at + 3;
    if (letter(i) == 'a') ++i;
    if (letter(i++) != '(') return std::nullopt;
    float parts[3];
    for (float& part : parts) {
        while (i < line.size() && (line[i] == ' ' || line[i] == ',')) ++i;
        char* end = nullptr;
        const float number = std::strtof(line.c_str() + i, &end);
        const auto next = static_cast<std::size_t>(end - line.c_str());
        if (next == i || !std::isfinite(number)) return std::nullopt;
        const bool isShare = next < line.size() && line[next] == '%';
        part = std::clamp(isShare ? number / 100 : number / 255, 0.0f, 1.0f);
        i = next + (isShare ? 1 : 0);
    }
    const std::size_t end = line.find(')', i);
    if (end == std::string::npos) return std::nullopt;
    out = {srgbToLinear(parts[0]), srgbToLinear(parts[1]), srgbToLinear(parts[2])};
    return end + 1;
}

/// The names of colours in a text that is made of such: at least every second word is one.
std::vector<Vec3> namedIn(const std::string& text) {
    std::vector<Vec3> found;
    std::string word;
    std::size_t words = 0;
    for (std::size_t i = 0; i <= text.size(); ++i) {
        if (i < text.size() && isWordPart(text[i])) {
            word += text[i];
            continue;
        }
        if (!word.empty()) ++words;
        if (const auto colour = colourOfName(word)) found.push_back(*colour);
        word.clear();
    }
    if (2 * found.size() < words) found.clear();
    found.resize(std::min(found.size(), kMost));
    return found;
}

Ramp greys(const std::vector<std::pair<float, float>>& stops, RampInterpolation interpolation) {
    Ramp ramp;
    ramp.interpolation = interpolation;
    ramp.mixing = RampMixing::Encoded;  // on colour lines greys are mixed as they are looked up
    ramp.stops.clear();
    for (const auto& [at, v] : stops) ramp.stops.push_back({at, {v, v, v}});
    return ramp;
}

Ramp hexes(const char* text) {
    return rampOfColours(coloursIn(text));
}

}  // namespace

std::vector<Vec3> coloursIn(const std::string& text) {
    std::vector<Vec3> found;
    std::istringstream lines(text);
    for (std::string line; std::getline(lines, line) && found.size() < kMost;) {
        Vec3 c;
        if (paletteLine(line, c)) {
            found.push_back(c);
            continue;
        }
        for (std::size_t i = 0; i < line.size() && found.size() < kMost; ++i) {
            if (i == 0 || !isWordPart(line[i - 1]))
                if (const auto end = functionAt(line, i, c)) {
                    found.push_back(c);
                    i = *end - 1;
                    continue;
                }
            const bool hash = line[i] == '#';
            if (!hash && (!isHex(line[i]) || (i > 0 && isWordPart(line[i - 1])))) continue;
            const std::size_t start = i + (hash ? 1 : 0);
            std::size_t end = start;
            while (end < line.size() && isHex(line[end])) ++end;
            const bool ends = end >= line.size() || !isWordPart(line[end]);
            // Without a "#" a number has no letter and a word ("facade") no digit; a colour has both.
            bool letter = hash, digit = hash;
            for (std::size_t k = start; k < end; ++k) {
                const bool decimal = std::isdigit(static_cast<unsigned char>(line[k])) != 0;
                (decimal ? digit : letter) = true;
            }
            if (end - start == 6 && ends && letter && digit &&
                linearOfHex(std::string_view(line).substr(start, 6), c.x, c.y, c.z))
                found.push_back(c);
            i = end > i ? end - 1 : i;
        }
    }
    // Words are colours only where nothing says so more clearly: prose speaks of tan and of salmon.
    return found.empty() ? namedIn(text) : found;
}

Ramp rampOfColours(const std::vector<Vec3>& colours) {
    Ramp ramp;
    ramp.mixing = RampMixing::Oklab;
    ramp.stops.clear();
    const auto last = static_cast<float>(colours.size() > 1 ? colours.size() - 1 : 1);
    for (std::size_t i = 0; i < colours.size(); ++i)
        ramp.stops.push_back({static_cast<float>(i) / last, colours[i]});
    return ramp;
}

namespace {

/// The colour of an OKLab place that a display can show: as it is, or nearer to its grey.
Vec3 shownOf(Vec3 lab) {
    const auto fits = [](Vec3 c) {
        const float low = -1e-4f, high = 1 + 1e-4f;
        return std::min({c.x, c.y, c.z}) >= low && std::max({c.x, c.y, c.z}) <= high;
    };
    float inside = 0, outside = 1;
    const auto at = [&](float share) { return linearOfOklab({lab.x, lab.y * share, lab.z * share}); };
    Vec3 colour = at(1);
    for (int round = 0; round < 16 && !fits(colour); ++round) {
        const float middle = (inside + outside) / 2;
        (fits(at(middle)) ? inside : outside) = middle;
        if (round == 15) colour = at(inside);
    }
    const auto unit = [](float x) { return std::clamp(x, 0.0f, 1.0f); };
    return {unit(colour.x), unit(colour.y), unit(colour.z)};
}

}  // namespace

std::vector<Vec3> harmonyOf(Vec3 linear, Harmony harmony) {
    const Vec3 lab = oklabOf(linear);
    const auto turned = [&](double degrees) {
        const double a = degrees * 3.14159265358979 / 180;
        const auto cosine = static_cast<float>(std::cos(a)), sine = static_cast<float>(std::sin(a));
        return shownOf({lab.x, lab.y * cosine - lab.z * sine, lab.y * sine + lab.z * cosine});
    };
    switch (harmony) {
        case Harmony::Opposite:
            return {linear, turned(180)};
        case Harmony::Neighbours:
            return {turned(-60), turned(-30), linear, turned(30), turned(60)};
        case Harmony::ThreeAround:
            return {linear, turned(120), turned(240)};
        case Harmony::Lightness:
            break;
    }
    std::vector<Vec3> steps;
    for (const float l : {0.2f, 0.35f, 0.5f, 0.65f, 0.8f, 0.93f}) steps.push_back(shownOf({l, lab.y, lab.z}));
    const auto lighter = [](Vec3 a, Vec3 b) { return oklabOf(a).x < oklabOf(b).x; };
    steps.insert(std::upper_bound(steps.begin(), steps.end(), linear, lighter), linear);
    return steps;
}

std::vector<Vec3> coloursOf(const Project& project) {
    std::vector<Vec3> found;
    std::set<std::string> known;
    const auto add = [&](Vec3 c) {
        if (found.size() < kMost && known.insert(hexOfLinear(c.x, c.y, c.z)).second) found.push_back(c);
    };
    const auto addValue = [&](const ControlValue& value) {
        if (const auto* colour = std::get_if<Colour>(&value)) add({colour->r, colour->g, colour->b});
        if (const auto* ramp = std::get_if<Ramp>(&value))
            for (const RampStop& stop : ramp->stops)
                if (stop.colour.x != stop.colour.y || stop.colour.y != stop.colour.z) add(stop.colour);
    };
    for (const auto& line : project.lines)
        for (const auto& step : line->steps) {
            for (const auto& [id, value] : step->controls) addValue(value);
            for (const auto& [id, feed] : step->feeds)
                if (feed.constant) addValue(*feed.constant);
        }
    for (const auto& look : project.looks)
        for (const auto& [id, value] : look->changes) addValue(value);
    return found;
}

std::vector<RampPreset> rampPresets(bool grey) {
    if (grey)
        return {{"Straight", greys({{0, 0}, {1, 1}}, RampInterpolation::Linear)},
                {"More contrast",
                 greys({{0, 0}, {0.3f, 0.12f}, {0.7f, 0.88f}, {1, 1}}, RampInterpolation::Spline)},
                {"Wetter", greys({{0, 0.02f}, {0.5f, 0.12f}, {1, 0.45f}}, RampInterpolation::Spline)},
                {"Drier", greys({{0, 0.45f}, {0.5f, 0.75f}, {1, 0.96f}}, RampInterpolation::Spline)},
                {"Only the middle", greys({{0.2f, 0}, {0.5f, 1}, {0.8f, 0}}, RampInterpolation::Smooth)},
                {"Four levels",
                 greys({{0, 0}, {0.25f, 0.33f}, {0.5f, 0.66f}, {0.75f, 1}}, RampInterpolation::Hold)}};
    return {{"Celadon glaze", hexes("#1F3B36 #4E7F72 #8DB8A6 #DCE8DD")},
            {"Marmalade", hexes("#3A1C07 #A1520B #E39A17 #F7DFA2")},
            {"River dusk", hexes("#0E1422 #2B4460 #7A7F8C #E2B48A #F6E6CF")},
            {"Rust", hexes("#1B100B #5A2A14 #A3501F #D79A5F")},
            {"Tin", hexes("#15171A #55585C #A9ABAD #F2F2F0")}};
}

}  // namespace kettle
