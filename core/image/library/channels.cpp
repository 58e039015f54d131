#include "core/image/library/channels.h"

#include <algorithm>
#include <cctype>
#include <initializer_list>
#include <map>

#include "core/image/image.h"
#include "core/image/library/library.h"

namespace kettle::library {
namespace {

std::string channelName(const OIIO::ImageSpec& spec, int channel) {
    const auto at = static_cast<std::size_t>(channel);
    return at < spec.channelnames.size() ? spec.channelnames[at] : std::string();
}

std::string inSmallLetters(std::string name) {
    for (char& letter : name) letter = static_cast<char>(std::tolower(static_cast<unsigned char>(letter)));
    return name;
}

/// Channels of one layer by the last parts of their names, if all are there.
std::vector<int> channelsNamed(const OIIO::ImageSpec& spec, const std::vector<int>& layer,
                               std::initializer_list<const char*> names) {
    std::vector<int> found;
    for (const char* name : names)
        for (const int c : layer) {
            const std::string called = channelName(spec, c);
            if (inSmallLetters(called.substr(called.rfind('.') + 1)) == name) found.push_back(c);
        }
    return found.size() == names.size() ? found : std::vector<int>();
}

/// What one part of a file holds beside `taken`: of each layer ("diffuse" of "diffuse.R") its colours, or its
/// three axes, and every other channel on its own.
void addOthers(const OIIO::ImageSpec& spec, int part, const Picked& taken, std::vector<Other>& others) {
    std::string partName = part > 0 ? std::string(spec.get_string_attribute("name")) : std::string();
    if (part > 0 && partName.empty()) partName = "part " + std::to_string(part + 1);
    const auto add = [&](const std::string& name, std::vector<int> channels, bool hasAlpha) {
        const std::string full = partName.empty() ? name : name.empty() ? partName : partName + "." + name;
        if (!full.empty() && others.size() < ImageInfo::kMostOthers)
            others.push_back({full, {std::move(channels), hasAlpha, part}});
    };
    std::map<std::string, std::vector<int>> layers;
    for (int c = 0; c < spec.nchannels; ++c) {
        const std::string called = channelName(spec, c);
        const auto dot = called.rfind('.');
        layers[dot == std::string::npos ? std::string() : called.substr(0, dot)].push_back(c);
    }
    for (auto& [layer, channels] : layers) {
        if (part == taken.part)
            std::erase_if(channels, [&](int c) {
                return std::find(taken.channels.begin(), taken.channels.end(), c) != taken.channels.end();
            });
        const bool hasName = !layer.empty() || !partName.empty();
        std::vector<int> picture;
        if (hasName) picture = channelsNamed(spec, channels, {"r", "g", "b"});
        const std::vector<int> alpha = channelsNamed(spec, channels, {"a"});
        const bool hasAlpha = !picture.empty() && !alpha.empty();
        if (hasName && picture.empty()) picture = channelsNamed(spec, channels, {"x", "y", "z"});
        if (hasAlpha) picture.push_back(alpha.front());
        if (!picture.empty()) add(layer, picture, hasAlpha);
        for (const int c : channels)
            if (std::find(picture.begin(), picture.end(), c) == picture.end())
                add(channelName(spec, c), {c}, false);
    }
}

}  // namespace

Picked pickChannels(const OIIO::ImageSpec& spec) {
    const auto find = [&](std::initializer_list<const char*> names) {
        for (const char* name : names)
            for (int c = 0; c < spec.nchannels; ++c) {
                const std::string called = channelName(spec, c);
                if (inSmallLetters(called.substr(called.rfind('.') + 1)) == name) return c;
            }
        return -1;
    };
    const int red = find({"r", "red"}), green = find({"g", "green"}), blue = find({"b", "blue"});
    const int grey = find({"y", "i", "l", "luminance", "grey", "gray"});
    const int anyAlpha = find({"a", "alpha"});
    Picked picked;
    if (red >= 0 && green >= 0 && blue >= 0)
        picked.channels = {red, green, blue};
    else if (red >= 0 && green >= 0)
        picked.channels = {red, green, -1};  // two components are no grey with alpha; the third is 0
    else if (grey >= 0)
        picked.channels = {grey};
    else
        for (int c = 0; c < spec.nchannels && picked.channels.empty(); ++c)
            if (c != anyAlpha) picked.channels = {c};
    if (picked.channels.empty()) picked.channels = {anyAlpha};  // an alpha on its own is a grey
    // Another layer's alpha is not that of these colours.
    const auto layerOf = [&](int c) {
        const std::string called = channelName(spec, c);
        return called.substr(0, called.rfind('.') + 1);
    };
    const int alpha = anyAlpha >= 0 && layerOf(anyAlpha) == layerOf(picked.channels.front()) ? anyAlpha : -1;
    picked.hasAlpha = alpha >= 0 && picked.channels.front() != alpha;
    if (picked.hasAlpha) picked.channels.push_back(alpha);
    return picked;
}

std::vector<Other> othersOf(OIIO::ImageInput& input) {
    std::vector<Other> others;
    if (std::string(input.format_name()) != kOpenExr) return others;
    const Picked taken = pickChannels(input.spec());
    constexpr int kMostParts = 64;
    for (int part = 0; part < kMostParts && input.seek_subimage(part, 0); ++part)
        addOthers(input.spec(), part, taken, others);
    input.seek_subimage(0, 0);
    return others;
}

}  // namespace kettle::library
