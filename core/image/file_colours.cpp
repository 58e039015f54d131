#include "core/image/file_colours.h"

#include <fmt/format.h>
#include <lcms2.h>

#include <array>
#include <cmath>
#include <cstring>
#include <functional>
#include <optional>
#include <vector>

#include "core/colour/encoding.h"

namespace kettle {
namespace {

/// CIE 1931 x, y of red, green, blue and white.
struct Primaries {
    std::array<double, 8> xy;
};
constexpr Primaries kRec709{{0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290}};
constexpr Primaries kRec2020{{0.708, 0.292, 0.170, 0.797, 0.131, 0.046, 0.3127, 0.3290}};
constexpr Primaries kDisplayP3{{0.680, 0.320, 0.265, 0.690, 0.150, 0.060, 0.3127, 0.3290}};
constexpr Primaries kAcesCg{{0.713, 0.293, 0.165, 0.830, 0.128, 0.044, 0.32168, 0.33767}};
constexpr Primaries kAces{{0.7347, 0.2653, 0.0, 1.0, 0.0001, -0.0770, 0.32168, 0.33767}};

bool near(const Primaries& a, const Primaries& b) {
    for (std::size_t i = 0; i < 8; ++i)
        if (std::fabs(a.xy[i] - b.xy[i]) > 0.002) return false;
    return true;
}

// A matrix/curve profile of the colour library from primaries and a curve, or a file's own profile: both end
// in one transform to linear Rec.709.
struct CloseProfile {
    void operator()(void* p) const { cmsCloseProfile(p); }
};
using Profile = std::unique_ptr<void, CloseProfile>;
struct FreeCurve {
    void operator()(cmsToneCurve* c) const { cmsFreeToneCurve(c); }
};
using Curve = std::unique_ptr<cmsToneCurve, FreeCurve>;

Profile profileOf(const Primaries& p, const Curve& curve) {
    const cmsCIExyY white{p.xy[6], p.xy[7], 1};
    const cmsCIExyYTRIPLE corners{{p.xy[0], p.xy[1], 1}, {p.xy[2], p.xy[3], 1}, {p.xy[4], p.xy[5], 1}};
    cmsToneCurve* const curves[]{curve.get(), curve.get(), curve.get()};
    return Profile(cmsCreateRGBProfile(&white, &corners, curves));
}

Curve gammaCurve(double gamma) {
    return Curve(cmsBuildGamma(nullptr, gamma));
}
/// x <= d: c x, else (a x + b)^g; ICC.1, parametric curve of type 3.
Curve pieceCurve(double g, double a, double b, double c, double d) {
    const cmsFloat64Number numbers[]{g, a, b, c, d};
    return Curve(cmsBuildParametricToneCurve(nullptr, 4, numbers));
}

class ByProfile final : public FileColours {
public:
    static std::shared_ptr<const FileColours> make(cmsHPROFILE from) {
        const Profile to = profileOf(kRec709, gammaCurve(1));
        const bool isGrey = cmsGetColorSpace(from) == cmsSigGrayData;
        if (!to || (!isGrey && cmsGetColorSpace(from) != cmsSigRgbData)) return nullptr;
        // No clipping and no tables: the numbers are exact.
        cmsHTRANSFORM made =
            cmsCreateTransform(from, isGrey ? TYPE_GRAY_FLT : TYPE_RGB_FLT, to.get(), TYPE_RGB_FLT,
                               INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE | cmsFLAGS_NOOPTIMIZE);
        if (made == nullptr) return nullptr;
        return std::shared_ptr<const FileColours>(new ByProfile(made, isGrey));
    }
    ~ByProfile() override { cmsDeleteTransform(m_transform); }
    void toLinear(float* rgb, std::size_t count) const override {
        if (!m_isGrey) return cmsDoTransform(m_transform, rgb, rgb, static_cast<cmsUInt32Number>(count));
        for (std::size_t i = 0; i < count; ++i) {
            const float grey = rgb[3 * i];
            cmsDoTransform(m_transform, &grey, rgb + 3 * i, 1);
        }
    }

private:
    ByProfile(cmsHTRANSFORM transform, bool isGrey) : m_transform(transform), m_isGrey(isGrey) {}
    cmsHTRANSFORM m_transform;
    bool m_isGrey;
};

/// The tag of a conversion: by a plain name if it does what that does, so that the fast ways are taken.
FileColourTag tagOf(std::shared_ptr<const FileColours> colours, std::string told) {
    if (!colours) return {};
    double fromSrgb = 0, fromLinear = 0;
    for (int i = 0; i <= 64; ++i) {
        const float x = static_cast<float>(i) / 64, y = static_cast<float>(i * 7 % 65) / 64;
        std::array<float, 3> got{x, y, 1 - x};
        const std::array<float, 3> asked = got;
        colours->toLinear(got.data(), 1);
        for (std::size_t c = 0; c < 3; ++c) {
            fromSrgb = std::max(fromSrgb, std::fabs(static_cast<double>(got[c] - srgbToLinear(asked[c]))));
            fromLinear = std::max(fromLinear, std::fabs(static_cast<double>(got[c] - asked[c])));
        }
    }
    // Profiles store their numbers in steps of 1 / 65536 and their curves as tables.
    constexpr double kSame = 0.002;
    if (fromSrgb < kSame) return {encoding::kSrgb, std::move(told), std::move(colours)};
    if (fromLinear < kSame) return {encoding::kLinear, std::move(told), std::move(colours)};
    return {kOwnColours, std::move(told), std::move(colours)};
}

std::string nameOfProfile(cmsHPROFILE profile) {
    char name[128] = "";
    cmsGetProfileInfoASCII(profile, cmsInfoDescription, "en", "US", name, sizeof name);
    for (char* c = name; *c != 0; ++c)
        if (std::iscntrl(static_cast<unsigned char>(*c)) != 0 || static_cast<unsigned char>(*c) > 126)
            *c = ' ';
    return name;
}

FileColourTag tagOfProfile(const std::vector<std::uint8_t>& bytes) {
    const Profile profile(cmsOpenProfileFromMem(bytes.data(), static_cast<cmsUInt32Number>(bytes.size())));
    if (!profile) return {"", "a profile that cannot be read, and is not used", nullptr};
    FileColourTag tag = tagOf(ByProfile::make(profile.get()), "profile " + nameOfProfile(profile.get()));
    if (tag.colours == nullptr) tag.told = "a profile that is neither RGB nor grey, and is not used";
    return tag;
}

FileColourTag tagOfPrimaries(const Primaries& primaries, const Curve& curve, std::string told) {
    const Profile profile = profileOf(primaries, curve);
    return profile ? tagOf(ByProfile::make(profile.get()), std::move(told)) : FileColourTag{};
}

/// Code points of ITU-T H.273.
FileColourTag tagOfCodes(const std::array<std::uint8_t, 4>& codes) {
    const Primaries* primaries = codes[0] == 1    ? &kRec709
                                 : codes[0] == 9  ? &kRec2020
                                 : codes[0] == 12 ? &kDisplayP3
                                                  : nullptr;
    Curve curve;
    switch (codes[1]) {
        case 1:
        case 6:
        case 14:
        case 15:
            curve = pieceCurve(1 / 0.45, 1 / 1.0993, 0.0993 / 1.0993, 1 / 4.5, 0.0812);
            break;
        case 4:
            curve = gammaCurve(2.2);
            break;
        case 5:
            curve = gammaCurve(2.8);
            break;
        case 8:
            curve = gammaCurve(1);
            break;
        case 13:
            curve = pieceCurve(2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045);
            break;
        default:
            break;
    }
    const std::string told = fmt::format("code points {}/{}", codes[0], codes[1]);
    if (primaries == nullptr || !curve) return {"", told + ", which are not used", nullptr};
    return tagOfPrimaries(*primaries, curve, told);
}

FileColourTag tagOfPng(const PngHead& words, const std::vector<std::uint8_t>& profile) {
    if (words.codes) {
        FileColourTag tag = tagOfCodes(*words.codes);
        if (tag.colours != nullptr) return tag;
    }
    if (!profile.empty()) return tagOfProfile(profile);
    if (words.srgb) return {encoding::kSrgb, "sRGB", nullptr};
    if (!words.gamma) return {};
    // 0.45455 is what encoders write for sRGB when they leave its own chunk out; the true curve is meant.
    const bool isDisplay = std::fabs(*words.gamma - 0.45455) < 0.0005;
    const Primaries primaries = words.primaries ? Primaries{*words.primaries} : kRec709;
    if (isDisplay && near(primaries, kRec709))
        return {encoding::kSrgb, "gamma 1/2.2, which stands for sRGB", nullptr};
    return tagOfPrimaries(
        primaries, gammaCurve(1 / *words.gamma),
        fmt::format("gamma 1/{:.3g}{}", 1 / *words.gamma, words.primaries ? ", own primaries" : ""));
}

}  // namespace

FileColourTag colourTagOf(const PngHead& head, const std::vector<std::uint8_t>& profile) {
    cmsSetLogErrorHandler(nullptr);
    return tagOfPng(head, profile);
}

FileColourTag colourTagOfProfile(const std::vector<std::uint8_t>& profile) {
    cmsSetLogErrorHandler(nullptr);
    return tagOfProfile(profile);
}

FileColourTag colourTagOfChromaticities(const std::array<double, 8>& xy) {
    cmsSetLogErrorHandler(nullptr);
    const Primaries p{xy};
    if (near(p, kRec709)) return {encoding::kLinear, "chromaticities of Rec.709", nullptr};
    const char* name = near(p, kAcesCg)      ? "ACEScg"
                       : near(p, kAces)      ? "ACES2065-1"
                       : near(p, kRec2020)   ? "Rec.2020"
                       : near(p, kDisplayP3) ? "Display P3"
                                             : "its own";
    return tagOfPrimaries(p, gammaCurve(1), fmt::format("chromaticities: {}", name));
}

}  // namespace kettle
