#include "core/exchange/set_channels.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <filesystem>

#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/engine/resources.h"
#include "core/exchange/bring_plan.h"
#include "core/exchange/picture_reading.h"
#include "core/image/image.h"
#include "core/steps/invert.h"
#include "core/steps/map.h"

namespace kettle {
namespace {

constexpr std::array kPacked{Component::Red, Component::Green, Component::Blue, Component::Alpha};

/// Where `wanted` stands among the roles that a packed map's role joins by "-"; -1: nowhere.
int componentIn(const std::string& packed, const std::string& wanted) {
    std::size_t from = 0;
    for (int place = 0; from < packed.size(); ++place) {
        // The longest role that stands here, since some bear a dash themselves.
        std::size_t longest = packed.find('-', from);
        longest = longest == std::string::npos ? packed.size() : longest;
        for (const ChannelSpec& c : channels())
            if (const std::string id = c.id; packed.compare(from, id.size(), id) == 0)
                longest = std::max(longest, from + id.size());
        if (packed.substr(from, longest - from) == wanted) return place;
        from = longest + 1;
    }
    return -1;
}

/// A step of the project that reads this map for this channel, or null.
const Step* readerOf(const Project& project, const std::string& set, const std::string& role,
                     const std::string& channel) {
    for (const auto& line : project.lines)
        if (line->channel == channel && !line->steps.empty() && line->steps.front()->set == set &&
            line->steps.front()->role == role)
            return &*line->steps.front();
    return nullptr;
}

Step sourceOf(const Project& project, const std::string& set, const std::string& role,
              const std::string& channel, int component) {
    Step source;
    source.type = kMap;
    source.set = set;
    source.role = role;
    if (component > 0) put(source.controls, kMapComponent(kPacked[static_cast<std::size_t>(component)]));
    if (const Step* reader = readerOf(project, set, role, channel))
        for (const char* said : {kGreen.id, kMapComponent.id})
            if (const auto at = reader->controls.find(said); at != reader->controls.end())
                source.controls[said] = at->second;
    return source;
}

/// The colour of a picture that has alpha and, where that is not 0, no other colour.
std::optional<Colour> onlyColourOf(const PixelBuffer& pixels) {
    if (pixels.channels != 4 || pixels.depth != Depth::U8) return std::nullopt;
    std::optional<std::array<std::uint8_t, 3>> only;
    for (int y = 0; y < pixels.height; ++y) {
        const auto* row = pixels.row<std::uint8_t>(y);
        for (int x = 0; x < pixels.width; ++x, row += 4) {
            if (row[3] == 0) continue;
            const std::array<std::uint8_t, 3> colour{row[0], row[1], row[2]};
            if (only && *only != colour) return std::nullopt;
            only = colour;
        }
    }
    if (!only) return std::nullopt;
    return Colour{srgbToLinear(static_cast<float>((*only)[0]) / 255),
                  srgbToLinear(static_cast<float>((*only)[1]) / 255),
                  srgbToLinear(static_cast<float>((*only)[2]) / 255)};
}

Result<Project> inverted(const Project& project, const std::string& fill) {
    const Line* own = ownLineOf(project, project.stepAt(*project.findStep(fill)));
    if (own == nullptr || own->steps.size() > 1) return project;
    Step step;
    step.id = edits::freshId(project, "s");
    step.type = invert::kType;
    step.controls = {invert::kFrom(invert::Reason::Gloss)};
    return edits::insertStep(project, {}, own->id, 1, std::move(step));
}

}  // namespace

std::vector<SetChannel> channelsOfSet(const Project& project, const std::string& id) {
    std::vector<SetChannel> found;
    const TextureSet* set = project.findSet(id);
    if (set == nullptr) return found;
    const auto search = [&](const std::string& channel, const std::string& role, bool isGloss) {
        if (findMap(*set, role) != nullptr) {
            found.push_back({channel, sourceOf(project, id, role, channel, 0), isGloss});
            return true;
        }
        for (const Map& map : set->maps)
            if (const int at = componentIn(map.role, role); at >= 0 && at < 4 && map.role != role) {
                found.push_back({channel, sourceOf(project, id, map.role, channel, at), isGloss});
                return true;
            }
        return false;
    };
    for (const ChannelSpec& c : channels())
        if (!search(c.id, c.id, false) && std::string(c.id) == channel::kRoughness)
            search(c.id, "gloss", true);
    return found;
}

Result<Project> fillFromSet(const Project& project, const std::string& look, const std::string& layer,
                            const std::string& set, std::vector<std::string>& lacking) {
    const Line* mask = project.findLine(layer);
    const TextureSet* from = project.findSet(set);
    if (mask == nullptr || !isLayer(*mask) || from == nullptr)
        return fail(ErrorKind::Refused, "There is no such layer or set in the project. Choose another.");
    const auto has = channelsOfSet(project, set);
    Result<Project> next = project;
    bool fillsAny = false;
    lacking.clear();
    for (const auto& line : project.lines) {
        if (line->channel.empty() || line->surface != mask->surface) continue;
        const auto at = std::find_if(has.begin(), has.end(),
                                     [&](const SetChannel& c) { return c.channel == line->channel; });
        if (at == has.end()) {
            lacking.push_back(line->name);
            continue;
        }
        fillsAny = true;
        std::string fill;
        for (const FillPlace& place : fillsOf(*next, layer))
            if (place.line->id == line->id) fill = place.step->id;
        next = fill.empty() ? edits::cover(*next, look, layer, line->id, at->source, fill)
                            : edits::setFillSource(*next, fill, at->source);
        if (next && at->isGloss) next = inverted(*next, fill);
        if (!next) return next;
    }
    if (!fillsAny)
        return fail(
            ErrorKind::Refused,
            fmt::format("{} has no map for any channel of this surface. Choose another set.", from->name));
    return next;
}

TextureSet setOfPicture(const Project& project, const std::filesystem::path& file, const std::string& role) {
    TextureSet set;
    set.name = titleOfName(file.stem().string());
    set.id = edits::freshIdOf(project, file.stem().string(), "picture");
    set.folder = std::filesystem::absolute(file).parent_path().lexically_normal().string();
    set.maps.push_back({role, file.filename().string(), "auto", {}});
    return set;
}

namespace {

/// True if a picture of this size may have been drawn for the whole texture: as wide for its height as the
/// map that the line begins with.
bool isOfWholeTexture(const Project& project, const Line& base, const PixelBuffer& picture,
                      const Resources& resources) {
    const Step& source = *base.steps.front();
    const TextureSet* set = project.findSet(source.set);
    const Map* map = set != nullptr ? findMap(*set, source.role) : nullptr;
    if (map == nullptr) return false;
    const auto of = resources.infoOf(*set, *map);
    return of &&
           static_cast<long>(picture.width) * of->height == static_cast<long>(picture.height) * of->width;
}

}  // namespace

Result<Project> addStamps(const Project& project, const std::string& look,
                          const std::vector<std::string>& files, const edits::LayerWish& wish,
                          const Resources& resources, std::vector<std::string>& ids) {
    ids.clear();
    Result<Project> next = project;
    for (const std::string& file : files) {
        const std::filesystem::path path = file;
        const auto pixels = readImage(path);
        if (!pixels) return fail(pixels.error());
        const Line* base = next->lineOfChannel(channel::kBaseColour, wish.surface);
        if (base == nullptr)
            return fail(ErrorKind::Refused,
                        "The surface has no base colour for a stamp to lie on. Add that channel at the "
                        "board's foot.");
        Project with = *next;
        const TextureSet set = setOfPicture(with, path, "base-colour");
        with.sets.emplace_back(set);
        edits::LayerWish named = wish;
        named.name = set.name;
        std::string id, fill;
        next = edits::addLayer(with, look, named, id);
        if (!next) return next;
        Step source;
        source.type = kMap;
        source.set = set.id;
        source.role = channel::kBaseColour;
        // Once, a quarter of the square wide, in its middle; the offset counts in repeats.
        if (!isOfWholeTexture(project, *base, *pixels, resources))
            source.controls = {kRepeats(4), kWrapU(Placed::Beyond::Once), kWrapV(Placed::Beyond::Once),
                               kOffsetU(1.5), kOffsetV(1.5)};
        const MapContents contents = contentsOf(*pixels);
        const bool isMask = contents.isGrey && !contents.alphaSays && !contents.isPlain;
        const auto only = contents.alphaSays ? onlyColourOf(*pixels) : std::nullopt;
        Step plain;
        plain.type = kColourSource;
        if (only) put(plain.controls, kColour(*only));
        next = edits::cover(*next, look, id, base->id, only || isMask ? plain : source, fill);
        if (!next) return next;
        // Without an alpha that says something the mask is 1 within the rectangle, as a missing alpha reads.
        put(source.controls,
            kMapComponent(isMask ? readingFor(contents, PicturePurpose::Mask).component : Component::Alpha));
        next = edits::replaceSource(*next, id, source);
        if (!next) return next;
        ids.push_back(id);
    }
    return next;
}

}  // namespace kettle
