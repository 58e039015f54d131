#include "core/handover/baked_materials.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <set>

#include "core/base/hash.h"
#include "core/base/names.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/exchange/export.h"
#include "core/exchange/packed_map.h"
#include "core/steps/tone.h"

namespace kettle {
namespace {

struct Layout {
    BakedTexture texture;
    const char* name;
    bool isColour;
};
constexpr Layout kLayouts[] = {
    {BakedTexture::Base, "base", true},         {BakedTexture::Surface, "surface", false},
    {BakedTexture::Normal, "normal", false},    {BakedTexture::Emission, "emission", true},
    {BakedTexture::Coat, "coat", false},        {BakedTexture::Sheen, "sheen", true},
    {BakedTexture::Specular, "specular", false}};

class Baker {
public:
    Baker(const Project& project, const Resources& resources, const BakeOptions& options,
          const CancelToken& cancel, const std::function<void(double, const std::string&)>& progress)
        : m_project(project),
          m_resources(resources),
          m_options(options),
          m_cancel(cancel),
          m_progress(progress) {}

    Result<BakedMaterials> bake() {
        struct Place {
            std::string surface, look;
            int tile, width, height;
        };
        std::vector<Place> places;
        for (const std::string& look : m_options.looks)
            for (const std::string& surface : surfaceIds(m_project)) {
                auto sizes = sizesOf(surface, look);
                if (!sizes) return fail(sizes.error());
                for (const auto& [tile, size] : *sizes)
                    places.push_back({surface, look, tile, size.first, size.second});
            }
        for (std::size_t i = 0; i < places.size(); ++i) {
            const Place& p = places[i];
            if (m_progress)
                m_progress(static_cast<double>(i) / static_cast<double>(places.size()),
                           nameOf(p.surface, p.look));
            if (auto done = bakeOne(p.surface, p.look, p.tile, p.width, p.height); !done)
                return fail(done.error());
        }
        tellLosses();
        return std::move(m_made);
    }

private:
    using Sizes = std::map<int, std::pair<int, int>>;

    std::string nameOf(const std::string& surface, const std::string& look) const {
        const Look* known = m_project.findLook(look);
        const std::string lookName = known != nullptr ? known->name : m_options.baseName;
        std::string name = surfaceName(m_project, surface);
        if (name.empty() && !m_project.sets.empty()) name = m_project.sets.front()->name;
        return name.empty() ? lookName : name + ", " + lookName;
    }
    /// The tiles of a surface in a look, each as large as the largest of its maps.
    Result<Sizes> sizesOf(const std::string& surface, const std::string& look) {
        ExportOptions options;
        options.folder = "/";
        options.pattern = "{surface} {look} {channel}";
        options.looks = {look};
        if (!surface.empty()) options.surfaces = {surface};
        Sizes sizes;
        const bool hasLines =
            std::any_of(m_project.lines.begin(), m_project.lines.end(),
                        [&](const auto& line) { return !line->channel.empty() && line->surface == surface; });
        if (!hasLines) return sizes;
        auto items = planExport(m_project, m_resources, options);
        if (!items) return fail(items.error());
        for (const ExportItem& item : *items) {
            auto& [width, height] = sizes[item.tile];
            width = std::max(width, item.width), height = std::max(height, item.height);
        }
        for (auto& [tile, size] : sizes)
            if (const int longer = std::max(size.first, size.second);
                m_options.size > 0 && longer > m_options.size) {
                const double shrink = static_cast<double>(m_options.size) / longer;
                size.first = std::max(1, static_cast<int>(std::lround(size.first * shrink)));
                size.second = std::max(1, static_cast<int>(std::lround(size.second * shrink)));
            }
        return sizes;
    }
    const Line* lineOf(const char* channel, const std::string& surface) const {
        const Line* line = m_project.lineOfChannel(channel, surface);
        return line != nullptr && !line->steps.empty() ? line : nullptr;
    }
    Result<void> bakeOne(const std::string& surface, const std::string& look, int tile, int width,
                         int height) {
        BakedMaterial material;
        material.surface = surface, material.look = look, material.tile = tile;
        material.name = nameOf(surface, look);
        if (tile != 1001) material.name += fmt::format(", {}", tile);
        for (const Layout& layout : kLayouts) {
            const bool isWanted =
                std::any_of(channels().begin(), channels().end(), [&](const ChannelSpec& channel) {
                    return channel.packing && channel.packing->texture == layout.texture &&
                           channel.packing->isSufficient && lineOf(channel.id, surface) != nullptr;
                });
            if (!isWanted) continue;
            std::vector<PackedComponent> components;
            bool hasAlpha = false;
            for (const PackedPart& part : partsOf(layout.texture)) {
                const Line* line = lineOf(part.channel, surface);
                if (part.isOptional && line == nullptr) continue;
                hasAlpha = hasAlpha || part.isOptional;
                components.push_back(
                    {line != nullptr ? line->id : std::string(), part.component, part.stored});
            }
            Project scaled = m_project;
            if (layout.texture == BakedTexture::Emission)
                material.emissionStrength = weaken(scaled, components.front().line, look, tile);
            auto pixels = renderPacked(scaled, m_resources, look, components, width, height, tile, Depth::U8,
                                       false, {}, {}, m_cancel);
            if (!pixels) return fail(pixels.error());
            if (hasAlpha) material.alpha = alphaOf(*pixels);
            BakedValue value;
            if (!isUniform(*pixels, value.value)) {
                value.value.clear();
                const std::string stem = stemOf(fmt::format("{} {} {}", surface.empty() ? "surface" : surface,
                                                            look.empty() ? "as received" : look, layout.name),
                                                "map");
                value.image = keep(tile == 1001 ? stem : fmt::format("{}.{}", stem, tile), layout.isColour,
                                   std::move(*pixels));
            }
            material.textures[layout.texture] = std::move(value);
        }
        m_made.materials.push_back(std::move(material));
        return {};
    }
    /// An emission that is brighter than 1 is stored as a part of it: the line ends in a step that divides it
    /// in `project`. Returns by how much.
    float weaken(Project& project, const std::string& lineId, const std::string& look, int tile) const {
        constexpr int kSide = 256;
        const Compiled compiled = compile(project, project.findLook(look),
                                          {wantOfLine(*project.findLine(lineId))}, m_resources.rules());
        const ResolvedMaps maps = m_resources.resolve(project, compiled.program);
        std::atomic<float> most{1};
        runGrid(compiled.program, maps, kSide, kSide, tile,
                [&](int, int, std::size_t count, const float* const* planes) {
                    float own = 1;
                    for (const int plane : compiled.planes[0])
                        for (std::size_t i = 0; plane >= 0 && i < count; ++i)
                            if (std::isfinite(planes[plane][i])) own = std::max(own, planes[plane][i]);
                    for (float now = most; own > now && !most.compare_exchange_weak(now, own);) continue;
                });
        if (most <= 1) return 1;
        for (Shared<Line>& line : project.lines) {
            if (line->id != lineId) continue;
            Step weaker;
            weaker.id = "weaker emission";
            weaker.type = tone::kType;
            weaker.controls = {tone::kGain(1.0 / static_cast<double>(most))};
            line.edit().steps.emplace_back(std::move(weaker));
        }
        return most;
    }
    /// Only all or nothing can be cut out; anything between is blended.
    static BakedAlpha alphaOf(const PixelBuffer& pixels) {
        bool isCut = false;
        for (int y = 0; y < pixels.height; ++y)
            for (int x = 0; x < pixels.width; ++x) {
                const std::uint8_t a = pixels.row<std::uint8_t>(y)[x * pixels.channels + 3];
                if (a != 0 && a != 255) return BakedAlpha::Blend;
                isCut = isCut || a == 0;
            }
        return isCut ? BakedAlpha::Mask : BakedAlpha::Opaque;
    }
    /// Looks that leave a channel alone share its texture.
    int keep(std::string name, bool isColour, PixelBuffer pixels) {
        const std::string_view bytes(reinterpret_cast<const char*>(pixels.bytes.data()), pixels.bytes.size());
        const std::uint64_t hash =
            combine(hashText(bytes), static_cast<std::uint64_t>(pixels.width * 5 + pixels.channels));
        const auto known = m_known.find(hash);
        if (known != m_known.end()) {
            const PixelBuffer& other = m_made.images[static_cast<std::size_t>(known->second)].pixels;
            if (other.width == pixels.width && other.channels == pixels.channels &&
                other.bytes == pixels.bytes)
                return known->second;
        }
        const int index = static_cast<int>(m_made.images.size());
        m_known[hash] = index;
        m_made.images.push_back({std::move(name), std::move(pixels), isColour});
        return index;
    }
    void tellLosses() {
        const auto goesAcross = [](const std::string& id) {
            const ChannelSpec* channel = findChannel(id);
            return channel != nullptr && channel->packing;
        };
        std::set<std::string> told;
        for (const auto& line : m_project.lines)
            if (!line->channel.empty() && !goesAcross(line->channel) && told.insert(line->channel).second)
                m_made.notes.push_back(
                    fmt::format("{} is not part of these materials and was left out; export it as "
                                "a map.",
                                line->name));
        if (differsByObject(m_project))
            m_made.notes.push_back("What differs from object to object is baked as the first object has it.");
    }

    const Project& m_project;
    const Resources& m_resources;
    const BakeOptions& m_options;
    const CancelToken& m_cancel;
    const std::function<void(double, const std::string&)>& m_progress;
    BakedMaterials m_made;
    std::map<std::uint64_t, int> m_known;
};

}  // namespace

const BakedMaterial* BakedMaterials::find(const std::string& surface, int tile,
                                          const std::string& look) const {
    for (const BakedMaterial& material : materials)
        if (material.surface == surface && material.tile == tile && material.look == look) return &material;
    return nullptr;
}

Result<BakedMaterials> bakeMaterials(const Project& project, const Resources& resources,
                                     const BakeOptions& options, const CancelToken& cancel,
                                     const std::function<void(double, const std::string&)>& progress) {
    return guarded("bake materials",
                   [&] { return Baker(project, resources, options, cancel, progress).bake(); });
}

}  // namespace kettle
