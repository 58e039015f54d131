#include "core/engine/resources.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/engine/stamps_where.h"
#include "core/steps/recipe_steps.h"
#include "core/threads/parallel.h"

namespace kettle {
namespace {

/// As a map would store it: a normal in 0..1.
std::array<float, 4> neutralOf(const std::string& role) {
    const ChannelSpec* channel = findChannel(role);
    if (channel == nullptr) return {0.5f, 0.5f, 0.5f, 1.0f};
    Vec3 v = channel->neutral;
    if (channel->kind == Kind::Normal) v = (v + Vec3{1, 1, 1}) * 0.5f;
    return {v.x, v.y, v.z, 1.0f};
}

/// The source without which there is nothing to see: the base colour, or the first map.
std::size_t mostTelling(const Program& program) {
    const auto& all = program.sources;
    const auto find = [&](auto&& isIt) {
        return static_cast<std::size_t>(std::find_if(all.begin(), all.end(), isIt) - all.begin());
    };
    const std::size_t colour = find(
        [](const SourceKey& key) { return key.map() != nullptr && key.map()->role == channel::kBaseColour; });
    if (colour < all.size()) return colour;
    return find([](const SourceKey& key) { return key.map() != nullptr; });
}

/// A stride is a texel of the largest map that is read around the same points; the nets that read no map have
/// one of the finest that shows.
void findStrides(const Program& program, ResolvedMaps& resolved) {
    constexpr float kWithoutMaps = 1.0f / 4096;
    std::map<int, float> ofNet;
    resolved.texels.assign(program.sources.size(), 0.0f);
    for (std::size_t i = 0; i < program.sources.size(); ++i) {
        const MapImage* map = resolved.maps[i].get();
        if (program.sources[i].offset.isNone() || map == nullptr) continue;
        const float texel = 1.0f / static_cast<float>(std::max(map->width(), map->height()));
        const auto [at, isNew] = ofNet.try_emplace(program.sources[i].offset.net, texel);
        at->second = std::min(at->second, texel);
    }
    for (std::size_t i = 0; i < program.sources.size(); ++i)
        if (const int net = program.sources[i].offset.net; net != 0)
            resolved.texels[i] = ofNet.contains(net) ? ofNet.at(net) : kWithoutMaps;
}

void findFacts(const Project& project, const Program& program, ResolvedMaps& resolved, ModelFinder* models) {
    const ViewSettings& view = project.view;
    if (models != nullptr) resolved.model = models->facts(view.model, view.unit);
    if (resolved.model == nullptr) {
        resolved.problems.push_back(fmt::format(
            "The model {} could not be read, so that patterns and masks that follow its shape are the same "
            "everywhere. Choose another model.",
            view.model));
        return;
    }
    // An object that another model had is shown by the first again.
    if (!view.object.empty())
        if (auto one = resolved.model->only(view.object); one != nullptr) resolved.model = std::move(one);
    for (std::size_t i = 0; i < program.sources.size(); ++i) {
        const SourceKey& key = program.sources[i];
        if (key.mesh() != nullptr) resolved.fields[i] = resolved.model->field(*key.mesh(), project.objects);
        if (key.isTriplanar() && resolved.position == nullptr) {
            resolved.position = resolved.model->field(SurfaceAttribute::Position);
            resolved.normal = resolved.model->field(SurfaceAttribute::Normal);
            resolved.size = resolved.model->field(SurfaceAttribute::Size);
        }
        if (key.is(PointAttribute::Covered))
            resolved.fields[i] = resolved.model->field(SurfaceAttribute::Size);
    }
}

}  // namespace

Resources::Resources(std::filesystem::path folder) : Resources(std::move(folder), Project{}) {}

Resources::Resources(std::filesystem::path folder, const Project& project)
    : m_folder(std::move(folder)),
      m_store(std::make_shared<ImageStore>()),
      m_colours(ColourManagement::shipped()) {
    std::string problem;
    m_colours = ColourManagement::chosen(project.colour.configuration, m_folder.string(), problem);
    if (!problem.empty()) m_problems.push_back(problem);
    m_steps = withRecipes(m_steps, project.recipes);
}

std::filesystem::path Resources::fileOf(const TextureSet& set, const Map& map) const {
    return (m_folder / set.folder / map.file).lexically_normal();
}

Result<ImageInfo> Resources::infoOf(const TextureSet& set, const Map& map) const {
    return m_store->info(fileOf(set, map), map.channels);
}

std::optional<ImageInfo> Resources::knownInfoOf(const TextureSet& set, const Map& map) const {
    return m_store->knownInfo(fileOf(set, map), map.channels);
}

Result<std::string> Resources::encodingOf(const TextureSet& set, const Map& map) const {
    if (map.encoding != encoding::kAuto) return map.encoding;
    auto info = infoOf(set, map);
    if (!info) return fail(info.error());
    return automaticEncoding(isColourRole(map.role), *info);
}

Result<std::shared_ptr<const MapImage>> Resources::map(const TextureSet& set, const Map& map,
                                                       bool waits) const {
    auto encoding = encodingOf(set, map);
    if (!encoding) return fail(encoding.error());
    // For whoever may not wait for the disk; an encoding that is given asks for nothing.
    if (map.encoding != encoding::kAuto) static_cast<void>(infoOf(set, map));
    if (!map.channels.empty())
        static_cast<void>(m_store->info(fileOf(set, map)));  // the names of its other pictures
    const MapReading how(*encoding, map.channels);
    return m_isHurried ? m_store->soFar(fileOf(set, map), how, m_colours, waits)
                       : m_store->get(fileOf(set, map), how, m_colours);
}

ResolvedMaps Resources::resolve(const Project& project, const Program& program) const {
    m_store->rest();
    const std::size_t count = program.sources.size();
    ResolvedMaps resolved;
    resolved.maps.resize(count);
    resolved.holes.resize(count);
    std::vector<std::string> problems(count);
    const std::size_t awaited = mostTelling(program);
    parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const MapSource* read = program.sources[i].map();
            resolved.holes[i].neutral = neutralOf(read != nullptr ? read->role : std::string());
            if (read == nullptr) continue;  // the point itself is read, no picture
            const TextureSet* set = project.findSet(read->set);
            const Map* found = set != nullptr ? findMap(*set, read->role) : nullptr;
            if (found == nullptr) {
                problems[i] = fmt::format(
                    "The project has no map {} in the set {}. Bring the set in again, or choose another map.",
                    read->role, read->set);
                continue;
            }
            auto image = map(*set, *found, i == awaited);
            if (image)
                resolved.maps[i] = *image;
            else
                problems[i] = image.error().sentence;
        }
    });
    resolved.fields.resize(count);
    if (program.readsModel()) findFacts(project, program, resolved, m_models.get());
    resolved.wheres.resize(count);
    for (std::size_t i = 0; i < count; ++i) {
        const MapSource* map = program.sources[i].map();
        if (map == nullptr || map->where == nullptr) continue;
        const std::shared_ptr<const Program>& where = map->where;
        ResolvedMaps asked = resolve(project, *where);
        problems.insert(problems.end(), asked.problems.begin(), asked.problems.end());
        resolved.wheres[i] = StampsWhere::of(where, std::move(asked));
    }
    findStrides(program, resolved);
    // A map that is read around a point as well is one problem.
    auto& told = resolved.problems;
    for (std::string& problem : problems)
        if (!problem.empty() && std::find(told.begin(), told.end(), problem) == told.end())
            told.push_back(std::move(problem));
    return resolved;
}

std::vector<FileProblem> Resources::problemsOf(const Project& project) const {
    std::vector<FileProblem> problems;
    for (const std::string& sentence : m_problems) problems.push_back({sentence, true});
    for (const auto& set : project.sets) {
        // Pixels, not only the header: a file that ends too early is found here and not in the middle of the
        // work.
        std::vector<Result<std::shared_ptr<const MapImage>>> images(set->maps.size());
        parallelFor(images.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t m = begin; m < end; ++m) images[m] = map(*set, set->maps[m]);
        });
        int width = 0, height = 0;
        std::string first;
        for (std::size_t m = 0; m < images.size(); ++m) {
            const Map& map = set->maps[m];
            const auto& image = images[m];
            const auto tell = [&](bool isNotice, std::string sentence) {
                problems.push_back({std::move(sentence), isNotice, set->id, map.role});
            };
            if (!image) {
                tell(false, image.error().sentence);
                continue;
            }
            if ((*image)->notFinite() > 0)
                tell(true,
                     fmt::format("{} holds {} numbers that are infinite or none at all; they are read as "
                                 "65504 and 0. Export it again without them.",
                                 map.file, (*image)->notFinite()));
            const int w = (*image)->width(), h = (*image)->height();
            if (first.empty()) {
                first = map.file, width = w, height = h;
            } else if (w != width || h != height) {
                tell(true,
                     fmt::format(
                         "{} is {} x {} and {} is {} x {}. It is stretched to fit; export it again in one "
                         "size if that is not meant.",
                         map.file, w, h, first, width, height));
            }
        }
    }
    return problems;
}

}  // namespace kettle
