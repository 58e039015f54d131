// Blend modes of the step Blend and of a layer's fills.
#pragma once

#include <array>

#include "core/document/handles.h"

namespace kettle {

/// ByHeight, fills only: the layer's mask is sharpened by the height difference.
enum class BlendMode {
    Normal,
    Average,
    Darken,
    Multiply,
    ColourBurn,
    LinearBurn,
    Lighten,
    Screen,
    ColourDodge,
    Add,
    Overlay,
    SoftLight,
    HardLight,
    VividLight,
    LinearLight,
    PinLight,
    Difference,
    Exclusion,
    Subtract,
    Divide,
    Hue,
    Saturation,
    Colour,
    Luminosity,
    ByHeight
};
/// Groups of the gallery. Components: hue, saturation, colour and luminosity, which need a colour.
enum class BlendGroup { Plain, Darken, Lighten, Contrast, Compare, Components };

inline constexpr const char* nameOf(BlendGroup group) {
    constexpr const char* kNames[] = {"plain", "darken", "lighten", "contrast", "compare", "component"};
    return kNames[static_cast<std::size_t>(group)];
}

struct BlendModeInfo {
    BlendMode mode;
    const char* id;
    const char* name;
    BlendGroup group;
    constexpr bool needsColour() const { return group == BlendGroup::Components; }
};
/// In the order of the enumeration, without ByHeight.
inline constexpr std::array<BlendModeInfo, 24> kBlendModes{{
    {BlendMode::Normal, "normal", "normal", BlendGroup::Plain},
    {BlendMode::Average, "average", "average", BlendGroup::Plain},
    {BlendMode::Darken, "darken", "darken", BlendGroup::Darken},
    {BlendMode::Multiply, "multiply", "multiply", BlendGroup::Darken},
    {BlendMode::ColourBurn, "colour-burn", "colour burn", BlendGroup::Darken},
    {BlendMode::LinearBurn, "linear-burn", "linear burn", BlendGroup::Darken},
    {BlendMode::Lighten, "lighten", "lighten", BlendGroup::Lighten},
    {BlendMode::Screen, "screen", "screen", BlendGroup::Lighten},
    {BlendMode::ColourDodge, "colour-dodge", "colour dodge", BlendGroup::Lighten},
    {BlendMode::Add, "add", "add", BlendGroup::Lighten},
    {BlendMode::Overlay, "overlay", "overlay", BlendGroup::Contrast},
    {BlendMode::SoftLight, "soft-light", "soft light", BlendGroup::Contrast},
    {BlendMode::HardLight, "hard-light", "hard light", BlendGroup::Contrast},
    {BlendMode::VividLight, "vivid-light", "vivid light", BlendGroup::Contrast},
    {BlendMode::LinearLight, "linear-light", "linear light", BlendGroup::Contrast},
    {BlendMode::PinLight, "pin-light", "pin light", BlendGroup::Contrast},
    {BlendMode::Difference, "difference", "difference", BlendGroup::Compare},
    {BlendMode::Exclusion, "exclusion", "exclusion", BlendGroup::Compare},
    {BlendMode::Subtract, "subtract", "subtract", BlendGroup::Compare},
    {BlendMode::Divide, "divide", "divide", BlendGroup::Compare},
    {BlendMode::Hue, "hue", "hue", BlendGroup::Components},
    {BlendMode::Saturation, "saturation", "saturation", BlendGroup::Components},
    {BlendMode::Colour, "colour", "colour", BlendGroup::Components},
    {BlendMode::Luminosity, "luminosity", "luminosity", BlendGroup::Components},
}};

/// Modes of a fill; Blend has all but ByHeight.
inline constexpr std::array<Option<BlendMode>, 25> kFillModes = [] {
    std::array<Option<BlendMode>, 25> all{};
    for (std::size_t i = 0; i < kBlendModes.size(); ++i)
        all[i] = {kBlendModes[i].mode, kBlendModes[i].id, kBlendModes[i].name};
    all.back() = {BlendMode::ByHeight, "by-height", "by height"};
    return all;
}();
inline constexpr ChoiceHandle<BlendMode> kFillMode{"mode", kFillModes};
inline constexpr ChoiceHandle<BlendMode> kBlendMode{
    "mode", std::span<const Option<BlendMode>>(kFillModes).first<kBlendModes.size()>()};

}  // namespace kettle
