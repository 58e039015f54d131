#include "core/shading/preview.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

#include "core/colour/encoding.h"
#include "core/scene/prepared_ground.h"
#include "core/shading/preview_tasks.h"
#include "core/shading/surface.h"
#include "core/shading/wanted.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kCoarseFactor = 3;
/// Places across the ground's shadow: while one turns the camera, at rest, and under a model that was moved
/// just now.
constexpr int kCoarseNet = 96, kFineNet = 288, kMovedNet = 144;
/// Views of so many pixels keep what their passes see, so that a slider's full picture needs no rays.
constexpr long kMostKeptPixels = 1'200'000;
constexpr std::size_t kMostKeptSides = 4;

/// Sub-pixel offsets of the passes: the R2 sequence (M. Roberts 2018), the first in the pixel's centre.
Vec2 jitterOf(int pass) {
    const float x = 0.5f + 0.7548777f * static_cast<float>(pass),
                y = 0.5f + 0.5698403f * static_cast<float>(pass);
    return {x - std::floor(x), y - std::floor(y)};
}

/// A number between 0 and 1; what is no number is not there.
float opacityOf(const float* plane, std::size_t i) {
    return plane == nullptr ? 1.0f : plane[i] > 0 ? std::min(plane[i], 1.0f) : 0.0f;
}

}  // namespace

Preview::Preview(std::filesystem::path models, std::filesystem::path environments)
    : Preview(std::make_shared<SceneStore>(std::move(models)), std::move(environments)) {}

Preview::Preview(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments)
    : m_environments(std::move(environments)), m_scenes(std::move(scenes)) {}

Result<std::shared_ptr<const RayScene>> Preview::scene(const std::string& model, const std::string& unit) {
    return m_scenes->load(model, unit);
}

Result<std::shared_ptr<const Environment>> Preview::environment(const std::string& name,
                                                                const ImageStore& store) {
    if (const auto known = m_lights.find(name); known != m_lights.end()) return known->second;
    const auto [prepared, keeps] = store.prepared();
    auto loaded = Environment::load(
        isFile(name) ? std::filesystem::path(name) : m_environments / (name + ".exr"), prepared.get(), keeps);
    if (!loaded) return fail(loaded.error());
    return m_lights[name] = *loaded;
}

const GroundShade* Preview::groundOf(const std::shared_ptr<const RayScene>& scene, const ViewOptions& options,
                                     std::uint64_t seeThrough, int size, const ViewSettings* model,
                                     const ImageStore& store, bool keeps) {
    Ground& known = m_grounds[size == kCoarseNet ? 0 : 1];
    const auto [prepared, mayKeep] = store.prepared();
    const bool canBePrepared = model != nullptr && seeThrough == 0 && size == kFineNet && prepared != nullptr;
    const auto key = [&] {
        return GroundKey{m_scenes->fileOf(model->model), model->unit, options.keyDirection, options.keyRadius,
                         size};
    };
    if (known.scene != scene || !(known.keyDirection == options.keyDirection) ||
        known.keyRadius != options.keyRadius || known.seeThrough != seeThrough) {
        known = {scene, options.keyDirection, options.keyRadius, seeThrough, {}, false};
        if (canBePrepared) known.shade = findPreparedGround(*prepared, key());
        known.isPrepared = known.shade.has_value();
        if (!known.shade)
            known.shade.emplace(*scene, options.keyDirection, options.keyRadius, size, options.seeThrough);
    }
    if (canBePrepared && keeps && mayKeep && !std::exchange(known.isPrepared, true))
        keepPreparedGround(*prepared, key(), *known.shade);
    return &*known.shade;
}

bool Preview::followsModel(const PreviewSide& side, const Catalogue& steps) {
    const Look* look = side.project.findLook(side.look);
    const auto& lines = side.project.lines;
    if (!m_plainBy || m_plainBy->begin() != steps.begin()) {
        m_plain.clear();
        m_plainBy = steps;
    }
    m_plain.resize(lines.size());
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (m_plain[i] && m_plain[i]->sameAs(lines[i])) continue;
        bool isPlain = true;
        for (const auto& step : lines[i]->steps) {
            const StepSpec* spec = steps.find(step->type);
            if (spec == nullptr || !spec->onModel) continue;
            isPlain = false;
            const Step shown = withLook(side.project, *step, look);
            if (spec->onModel(StepView(*spec, shown, lines[i]->kind))) return true;
        }
        m_plain[i] = isPlain ? std::optional(lines[i]) : std::nullopt;
    }
    return false;
}

Result<Preview::Kept*> Preview::keep(const PreviewRequest& request, const Resources& resources, int stage,
                                     const CancelToken& cancel) {
    const bool keepsAll = static_cast<long>(request.width) * request.height <= kMostKeptPixels;
    Kept& kept = m_kept[static_cast<std::size_t>(keepsAll ? stage : std::min(stage, 2))];
    const int width = stage == 0 ? std::max(1, request.width / kCoarseFactor) : request.width;
    const int height = stage == 0 ? std::max(1, request.height / kCoarseFactor) : request.height;
    const ViewSettings& view = request.project.view;
    auto scene_ = scene(view.model, view.unit);
    if (!scene_) return fail(scene_.error());
    const auto asItIs = scene_;
    // Undisplaced at once, displaced at rest.
    if (stage > 0) scene_ = displaced(request, resources, *scene_, cancel);
    if (!scene_) return fail(scene_.error());
    std::vector<int> ofPart = surfacesOfParts(request.project, (*scene_)->mesh().parts);
    std::vector<std::string> surfaces = surfaceIds(request.project);
    // The triangles of a moved model are its own: there a point is found by its place in texture space.
    const bool places =
        *scene_ == *asItIs &&
        (followsModel(request, resources.steps()) ||
         std::any_of(request.others.begin(), request.others.end(),
                     [&](const PreviewSide& side) { return followsModel(side, resources.steps()); }));
    const Openings openings = openingsOf(request, resources, (*scene_)->mesh(), cancel);
    const bool same = (keepsAll || stage < 2) && kept.scene == *scene_ &&
                      kept.environment == view.environment && kept.camera == request.camera &&
                      kept.width == width && kept.height == height && kept.turn == view.environmentTurn &&
                      kept.softness == view.keySoftness && kept.ground == view.groundShadow &&
                      (kept.places || !places) && kept.ofPart == ofPart && kept.surfaces == surfaces &&
                      kept.seeThrough == openings.id && kept.goesOn == openings.goesOn;
    if (same) return &kept;
    auto light = environment(view.environment, resources.store());
    if (!light) return fail(light.error());
    ViewOptions options;
    const float turn = static_cast<float>(view.environmentTurn * std::numbers::pi / 180);
    const Vec3 key = (*light)->keyDirection();
    options.keyDirection = {key.x * std::cos(turn) + key.z * std::sin(turn), key.y,
                            -key.x * std::sin(turn) + key.z * std::cos(turn)};
    options.keyRadius = static_cast<float>(std::clamp(view.keySoftness, 0.0, 60.0));
    options.groundShadow = view.groundShadow;
    options.places = places;
    options.seeThrough = openings.seeThrough;
    options.goesOn = openings.goesOn;
    options.jitter = jitterOf(std::max(0, stage - 1));
    // Each pass casts other rays, so that they add up; neighbouring points share theirs.
    constexpr int kFirstPass = 2, kPass = 1;
    options.shadowRays = stage == 1 ? kFirstPass : kPass;
    options.firstRay = stage < 2 ? 0 : kFirstPass + (stage - 2) * kPass;
    if (options.groundShadow)
        options.ground = groundOf(*scene_, options, openings.id,
                                  stage == 0                     ? kCoarseNet
                                  : *scene_ == m_displaced.scene ? kMovedNet
                                                                 : kFineNet,
                                  *scene_ == *asItIs ? &view : nullptr, resources.store(),
                                  stage > 1);  // at rest: not each light that a hand passes by
    kept = Kept{};
    ViewPoints points = castView(**scene_, request.camera, width, height, options, cancel);
    if (cancel.isCancelled())
        return fail(ErrorKind::Cancelled, "The picture was outdated before it was finished.");
    kept.view = std::move(points);
    kept.groups = pointsBySurface(request.project, ofPart, kept.view);
    kept.covered.assign(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), 0);
    for (const SurfacePoints& group : kept.groups)
        for (const std::uint32_t pixel : group.pixels) kept.covered[pixel] = 1;
    kept.scene = *scene_;
    kept.environment = view.environment;
    kept.camera = request.camera;
    kept.width = width;
    kept.height = height;
    kept.turn = view.environmentTurn;
    kept.softness = view.keySoftness;
    kept.ground = view.groundShadow;
    kept.places = places;
    kept.seeThrough = openings.id;
    kept.goesOn = openings.goesOn;
    kept.ofPart = std::move(ofPart);
    kept.surfaces = std::move(surfaces);
    return &kept;
}

struct Preview::SideOfSurface {
    std::size_t side;
    Wanted wanted;
    Compiled compiled;
    ResolvedMaps maps;
    std::vector<std::uint64_t> parts;
};

bool Preview::shadeViews(const std::vector<Task>& tasks, Kept& kept) {
    kept.shown.resize(tasks.size());
    std::vector<bool> isNew;
    std::vector<std::string> settings;
    for (std::size_t k = 0; k < tasks.size(); ++k) {
        const Task& task = tasks[k];
        const ViewSettings& view = task.view;
        const LookHere looked = task.side.lookHere.value_or(LookHere{});
        settings.push_back(fmt::format("{} {} {} {}|{}|{}|{}", view.exposure, view.surround,
                                       view.environmentTurn, view.keyStrength, fmt::join(task.off, " "),
                                       looked.line, looked.component ? idOf(*looked.component) : ""));
        Shown& shown = kept.shown[k];
        isNew.push_back(shown.settings != settings[k] || shown.programs.size() != kept.groups.size());
        if (!isNew[k]) continue;
        shown = Shown{};
        shown.programs.resize(kept.groups.size());
        shown.parts.resize(kept.groups.size());
        shown.sent.resize(kept.goesOn.empty() ? 0 : kept.groups.size());
        shown.hiding.resize(shown.sent.size());
        if (kept.goesOn.empty()) layGround(task.paper, kept.view, shown.pixels);
    }
    for (std::size_t g = 0; g < kept.groups.size(); ++g)
        if (!shadeSurface(tasks, kept, g, isNew)) {
            kept.shown.clear();  // half a picture
            return false;
        }
    for (std::size_t k = 0; k < tasks.size(); ++k) {
        if (!kept.goesOn.empty()) joinLayers(tasks[k], kept, kept.shown[k]);
        kept.shown[k].settings = std::move(settings[k]);
    }
    return true;
}

bool Preview::shadeSurface(const std::vector<Task>& tasks, Kept& kept, std::size_t groupIndex,
                           const std::vector<bool>& isNew) {
    const SurfacePoints& group = kept.groups[groupIndex];
    std::vector<SideOfSurface> changed;
    for (std::size_t k = 0; k < tasks.size(); ++k) {
        const Task& task = tasks[k];
        const Project& project = task.side.project;
        SideOfSurface side{k, wantedOf(task.side, task.off, group), {}, {}, {}};
        Rules rules = task.resources.rules();
        rules.cancel = &task.cancel;
        side.compiled = compile(project, project.findLook(task.side.look), side.wanted.wants, rules);
        if (task.cancel.isCancelled()) return false;
        side.maps = task.resources.resolve(project, side.compiled.program);
        m_problems.insert(m_problems.end(), side.maps.problems.begin(), side.maps.problems.end());
        side.parts = partsOf(side.maps, side.compiled, side.wanted);
        const Shown& shown = kept.shown[k];
        if (isNew[k] || shown.parts[groupIndex] != side.parts ||
            !shown.programs[groupIndex].computesAs(side.compiled.program))
            changed.push_back(std::move(side));
    }
    if (changed.empty()) return true;
    const bool shareSets = std::all_of(changed.begin(), changed.end(), [&](const SideOfSurface& side) {
        return tasks[side.side].side.project.sets == tasks[changed.front().side].side.project.sets;
    });
    std::vector<std::vector<SideOfSurface>> runs;
    if (shareSets) {
        runs.push_back(std::move(changed));
    } else {
        for (SideOfSurface& side : changed) runs.emplace_back().push_back(std::move(side));
    }
    for (std::vector<SideOfSurface>& sides : runs)
        if (!runTogether(tasks, kept, groupIndex, sides)) return false;
    return true;
}

/// Sides that read the same sets are one program, so that what they share is computed once.
bool Preview::runTogether(const std::vector<Task>& tasks, Kept& kept, std::size_t groupIndex,
                          std::vector<SideOfSurface>& sides) {
    SurfacePoints& group = kept.groups[groupIndex];
    const Task& first = tasks[sides.front().side];
    CompiledTogether together;
    std::optional<ResolvedMaps> joint;
    if (sides.size() > 1) {
        std::vector<CompileSide> all;
        for (const SideOfSurface& side : sides) {
            const PreviewSide& of = tasks[side.side].side;
            all.push_back(
                {&of.project, of.project.findLook(of.look), &side.wanted.wants, &side.compiled.program});
        }
        together = compileTogether(all, first.resources.rules());
        joint = first.resources.resolve(first.side.project, together.program);
    }
    const Program& program = joint ? together.program : sides.front().compiled.program;
    const ResolvedMaps& maps = joint ? *joint : sides.front().maps;
    group.samples.prepare(program, maps, group.points);
    if (!run(program, maps, group.samples, group.points.size(), m_outputs, first.cancel)) return false;
    for (std::size_t i = 0; i < sides.size(); ++i) {
        SideOfSurface& side = sides[i];
        Shown& shown = kept.shown[side.side];
        if (joint) std::swap(side.compiled.planes, together.planes[i]);
        shown.isNew = true;
        shadeSide(tasks[side.side], kept, groupIndex, side, shown);
        shown.parts[groupIndex] = std::move(side.parts);
        shown.programs[groupIndex] = std::move(side.compiled.program);
    }
    return !first.cancel.isCancelled();
}

/// Lights what m_outputs hold for a side, into its picture.
void Preview::shadeSide(const Task& task, const Kept& kept, std::size_t groupIndex, const SideOfSurface& side,
                        Shown& shown) {
    const SurfacePoints& group = kept.groups[groupIndex];
    const Wanted& wanted = side.wanted;
    const bool hasLayers = !kept.goesOn.empty();
    const std::size_t count = group.points.size();
    SurfacePlanes surface;
    const float *opacity = nullptr, *looked[3]{};
    for (std::size_t w = 0; w < wanted.wants.size(); ++w)
        for (int k = 0; k < wanted.wants[w].components; ++k) {
            const auto output =
                static_cast<std::size_t>(side.compiled.planes[w][static_cast<std::size_t>(k)]);
            const float* plane = m_outputs[output].data();
            if (const auto first = wanted.first[w])
                surface.planes[static_cast<std::size_t>(*first) + static_cast<std::size_t>(k)] = plane;
            else if (wanted.isLooked)
                looked[k] = plane;
            else if (k == 0)
                opacity = plane;
        }
    if (hasLayers) {
        shown.sent[groupIndex].resize(count);
        shown.hiding[groupIndex].resize(count);
    }
    const auto put = [&](std::size_t i, Vec3 light, float hiding) {
        if (hasLayers)
            shown.sent[groupIndex][i] = light, shown.hiding[groupIndex][i] = hiding;
        else
            shown.pixels[group.pixels[i]] = hiding < 1 ? mix(task.paper, light, hiding) : light;
    };
    parallelFor((count + kBlock - 1) / kBlock, 4, [&](std::size_t begin, std::size_t end) {
        alignas(64) float lit[3][kBlock];
        for (std::size_t block = begin; block < end && !task.cancel.isCancelled(); ++block) {
            const std::size_t first = block * kBlock, size = std::min(kBlock, count - first);
            if (!wanted.isLooked)
                shadePoints(surface, group.shading, task.light, first, (size + kPad - 1) / kPad * kPad,
                            lit[0], lit[1], lit[2]);
            for (std::size_t i = 0; i < size; ++i) {
                if (wanted.isLooked) {
                    Vec3 v{looked[0][first + i], looked[1][first + i], looked[2][first + i]};
                    if (wanted.isRaw) v = {srgbToLinear(v.x), srgbToLinear(v.y), srgbToLinear(v.z)};
                    put(first + i, v * task.plain, 1);
                    continue;
                }
                put(first + i, {lit[0][i], lit[1][i], lit[2][i]}, opacityOf(opacity, first + i));
            }
        }
    });
}

Result<Picture> Preview::render(const PreviewRequest& request, const Resources& resources, int stage,
                                const CancelToken& cancel) {
    return guarded("make the picture", [&] { return renderStage(request, resources, stage, cancel, true); });
}

Result<Picture> Preview::renderAtRest(const PreviewRequest& request, const Resources& resources,
                                      const CancelToken& cancel, const std::function<void()>& afterStage) {
    return guarded("make the picture", [&] {
        Result<Picture> picture = Picture{};
        for (int stage = 1; stage <= kLastStage && picture; ++stage) {
            picture = renderStage(request, resources, stage, cancel, stage == kLastStage);
            if (afterStage) afterStage();
        }
        return picture;
    });
}

Result<Picture> Preview::renderStage(const PreviewRequest& request, const Resources& resources, int stage,
                                     const CancelToken& cancel, bool shows) {
    const ViewSettings& view = request.project.view;
    auto environment_ = environment(view.environment, resources.store());
    if (!environment_) return fail(environment_.error());
    auto kept = keep(request, resources, stage, cancel);
    if (!kept) return fail(kept.error());
    // The surround stays as it is at any exposure: it is the paper, not the scene.
    const float plain = static_cast<float>(std::exp2(-view.exposure)),
                paper = surroundOf(view.surround) * plain;
    const Light light{environment_->get(), static_cast<float>(view.environmentTurn * std::numbers::pi / 180),
                      static_cast<float>(std::clamp(view.keyStrength, 0.0, 1000.0))};
    m_problems.clear();
    m_others.clear();
    m_last = *kept;
    std::vector<Task> tasks;
    for (std::size_t k = 0; k <= request.others.size(); ++k)
        tasks.push_back(Task{k == 0 ? request : request.others[k - 1],
                             view,
                             request.off,
                             resources,
                             cancel,
                             light,
                             {paper, paper, paper},
                             plain});
    if (!shadeViews(tasks, **kept))
        return fail(ErrorKind::Cancelled, "The picture was outdated before it was finished.");
    m_sums.resize(tasks.size());
    Picture picture;
    for (std::size_t k = 0; k < tasks.size(); ++k) {
        if (!shows) meanOf((*kept)->shown[k].pixels, k, stage);
        Picture shown = shows ? displayOf(request, resources, **kept, k, stage) : Picture{};
        if (k == 0)
            picture = std::move(shown);
        else
            m_others.push_back(std::move(shown));
    }
    // Of many sides the passes are not kept: 48 candidates would lie in memory seven times.
    if (stage > 1 && tasks.size() > kMostKeptSides) (*kept)->shown.clear();
    return picture;
}

const std::vector<std::uint8_t>& Preview::covered() const {
    static const std::vector<std::uint8_t> kNothing;
    return m_last == nullptr ? kNothing : m_last->covered;
}

std::size_t Preview::Kept::byteSize() const {
    std::size_t sum = view.ground.size() * sizeof(GroundPixel) + covered.size();
    for (const SurfacePoints& g : groups) sum += g.byteSize();
    for (const Shown& s : shown) sum += s.byteSize();
    return sum;
}

std::size_t Preview::bytesInUse() const {
    std::size_t sum = m_mean.size() * sizeof(Vec3);
    for (const auto& s : m_sums) sum += s.size() * sizeof(Vec3);
    for (const Kept& k : m_kept) sum += k.byteSize();
    return sum;
}

}  // namespace kettle
