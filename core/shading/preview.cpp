#include "core/shading/preview.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/colour/encoding.h"
#include "core/shading/surface.h"

namespace kettle {
namespace {

constexpr int kCoarseFactor = 3;
constexpr std::array<const char*, 8> kShadedChannels{
    "base-colour", "metalness", "roughness", "specular-level", "normal", "occlusion", "emission", "opacity"};

/// Sub-pixel offsets of the passes: the R2 sequence (M. Roberts 2018), the first in the pixel's centre.
Vec2 jitterOf(int pass) {
    const float x = 0.5f + 0.7548777f * static_cast<float>(pass),
                y = 0.5f + 0.5698403f * static_cast<float>(pass);
    return {x - std::floor(x), y - std::floor(y)};
}

/// Planes of the shaded channels; null where the project has no line.
struct ChannelPlanes {
    std::array<std::array<const float*, 3>, kShadedChannels.size()> planes{};
    Vec3 colour(std::size_t channel, std::size_t i, Vec3 otherwise) const {
        const auto& p = planes[channel];
        return p[0] == nullptr ? otherwise : Vec3{p[0][i], p[1][i], p[2][i]};
    }
    float scalar(std::size_t channel, std::size_t i, float otherwise) const {
        const float* p = planes[channel][0];
        return p == nullptr ? otherwise : p[i];
    }
};

SurfaceValues surfaceAt(const ChannelPlanes& c, std::size_t i) {
    SurfaceValues s;
    s.baseColour = c.colour(0, i, s.baseColour);
    s.metalness = c.scalar(1, i, s.metalness);
    s.roughness = c.scalar(2, i, s.roughness);
    s.specularLevel = c.scalar(3, i, s.specularLevel);
    s.normal = c.colour(4, i, s.normal);
    s.occlusion = c.scalar(5, i, s.occlusion);
    s.emission = c.colour(6, i, s.emission);
    const float opacity = c.scalar(7, i, s.opacity);
    s.opacity = opacity > 0 ? std::min(opacity, 1.0f) : 0.0f;  // what is no number is not there
    return s;
}

/// 0..1 in steps fine enough that every 8-bit code is met.
const std::vector<unsigned char>& displayTable() {
    static const auto table = [] {
        std::vector<unsigned char> t(16385);
        for (std::size_t i = 0; i < t.size(); ++i)
            t[i] = toByte(linearToSrgb(static_cast<float>(i) / 16384.0f));
        return t;
    }();
    return table;
}

/// Our own soft shoulder: straight up to 0.6, then a hyperbola that meets it in value and slope and ends
/// at 1.
float softShoulder(float x) {
    constexpr float kKnee = 0.6f, kRoom = 1 - kKnee;
    return x <= kKnee ? x : kKnee + kRoom * (x - kKnee) / (x - kKnee + kRoom);
}

}  // namespace

float surroundOf(const std::string& name) {
    return srgbToLinear(name == "pale" ? 0.87f : name == "dark" ? 0.30f : 0.725f);
}

std::vector<std::string> displayTransforms(const ColourManagement& colours) {
    std::vector<std::string> names{"standard", "soft"};
    for (const std::string& view : colours.views())
        if (std::find(names.begin(), names.end(), view) == names.end()) names.push_back(view);
    return names;
}

namespace {

/// Through the colour library, a piece at a time; its answer is display numbers.
void viewPixels(const std::vector<Vec3>& linear, float gain, const ColourTransform& view,
                std::vector<std::uint32_t>& out) {
    parallelFor(linear.size(), 4096, [&](std::size_t begin, std::size_t end) {
        std::vector<Vec3> part(linear.begin() + static_cast<std::ptrdiff_t>(begin),
                               linear.begin() + static_cast<std::ptrdiff_t>(end));
        for (Vec3& v : part) v = v * gain;
        view.applyPixels(&part.front().x, part.size());
        for (std::size_t i = 0; i < part.size(); ++i)
            out[begin + i] = 0xFF000000u | std::uint32_t{toByte(part[i].x)} << 16 |
                             std::uint32_t{toByte(part[i].y)} << 8 | toByte(part[i].z);
    });
}

}  // namespace

Picture toDisplay(const std::vector<Vec3>& linear, int width, int height, double exposure,
                  const std::string& transform, const ColourManagement& colours) {
    Picture picture{width, height, std::vector<std::uint32_t>(linear.size())};
    const auto& table = displayTable();
    const float gain = static_cast<float>(std::exp2(exposure));
    const bool soft = transform == "soft";
    if (!soft && transform != "standard")
        if (const auto view = colours.viewTransform(transform)) {
            viewPixels(linear, gain, **view, picture.pixels);
            return picture;
        }
    parallelFor(linear.size(), 16384, [&](std::size_t begin, std::size_t end) {
        const auto code = [&](float x) -> std::uint32_t {
            x *= gain;
            if (soft) x = softShoulder(x);
            return table[static_cast<std::size_t>(x > 0 ? std::min(x, 1.0f) * 16384.0f + 0.5f : 0.0f)];
        };
        for (std::size_t i = begin; i < end; ++i)
            picture.pixels[i] =
                0xFF000000u | code(linear[i].x) << 16 | code(linear[i].y) << 8 | code(linear[i].z);
    });
    return picture;
}

Preview::Preview(std::filesystem::path models, std::filesystem::path environments)
    : Preview(std::make_shared<SceneStore>(std::move(models)), std::move(environments)) {}

Preview::Preview(std::shared_ptr<SceneStore> scenes, std::filesystem::path environments)
    : m_environments(std::move(environments)), m_scenes(std::move(scenes)) {}

Result<std::shared_ptr<const RayScene>> Preview::scene(const std::string& model, const std::string& unit) {
    return m_scenes->load(model, unit);
}

Result<std::shared_ptr<const Environment>> Preview::environment(const std::string& name) {
    if (const auto known = m_lights.find(name); known != m_lights.end()) return known->second;
    auto loaded =
        Environment::load(isFile(name) ? std::filesystem::path(name) : m_environments / (name + ".exr"));
    if (!loaded) return fail(loaded.error());
    return m_lights[name] = *loaded;
}

Result<Preview::Kept*> Preview::keep(const PreviewRequest& request, int stage, const CancelToken& cancel) {
    Kept& kept = stage == 0 ? m_coarse : stage == 1 ? m_full : m_pass;
    const int width = stage == 0 ? std::max(1, request.width / kCoarseFactor) : request.width;
    const int height = stage == 0 ? std::max(1, request.height / kCoarseFactor) : request.height;
    const ViewSettings& view = request.project.view;
    auto scene_ = scene(view.model, view.unit);
    if (!scene_) return fail(scene_.error());
    std::vector<int> ofPart = surfacesOfParts(request.project, (*scene_)->mesh().parts);
    std::vector<std::string> surfaces = surfaceIds(request.project);
    const bool same = stage < 2 && kept.scene == *scene_ && kept.environment == view.environment &&
                      kept.camera == request.camera && kept.width == width && kept.height == height &&
                      kept.turn == view.environmentTurn && kept.ofPart == ofPart && kept.surfaces == surfaces;
    if (same) return &kept;
    auto light = environment(view.environment);
    if (!light) return fail(light.error());
    ViewOptions options;
    const float turn = static_cast<float>(view.environmentTurn * std::numbers::pi / 180);
    const Vec3 key = (*light)->keyDirection();
    options.keyDirection = {key.x * std::cos(turn) + key.z * std::sin(turn), key.y,
                            -key.x * std::sin(turn) + key.z * std::cos(turn)};
    options.pass = static_cast<std::uint32_t>(std::max(0, stage - 1));
    options.jitter = jitterOf(std::max(0, stage - 1));
    kept = Kept{};
    ViewPoints points = castView(**scene_, request.camera, width, height, options, cancel);
    if (cancel.isCancelled())
        return fail(ErrorKind::Cancelled, "The picture was outdated before it was finished.");
    kept.view = std::move(points);
    kept.groups = pointsBySurface(request.project, ofPart, kept.view);
    kept.scene = *scene_;
    kept.environment = view.environment;
    kept.camera = request.camera;
    kept.width = width;
    kept.height = height;
    kept.turn = view.environmentTurn;
    kept.ofPart = std::move(ofPart);
    kept.surfaces = std::move(surfaces);
    return &kept;
}

bool Preview::shadeView(const PreviewRequest& request, const Resources& resources, Kept& kept,
                        std::vector<Vec3>& pixels, const CancelToken& cancel) {
    const ViewSettings& view = request.project.view;
    // The surround stays as it is at any exposure: it is the paper, not the scene.
    const float paper = surroundOf(view.surround) / static_cast<float>(std::exp2(view.exposure));
    pixels.assign(static_cast<std::size_t>(kept.width) * kept.height, {paper, paper, paper});
    for (const GroundPixel& g : kept.view.ground) pixels[g.pixel] = pixels[g.pixel] * g.shade;
    m_problems.clear();
    for (SurfacePoints& group : kept.groups)
        if (!shadeSurface(request, resources, kept, group, pixels, cancel)) return false;
    return true;
}

bool Preview::shadeSurface(const PreviewRequest& request, const Resources& resources, Kept& kept,
                           SurfacePoints& group, std::vector<Vec3>& pixels, const CancelToken& cancel) {
    const Project& project = request.project;
    std::vector<Want> wants;
    std::vector<std::size_t> channelOfWant;
    const Line* looked = request.lookHere ? project.findLine(request.lookHere->line) : nullptr;
    // One surface's line is shown on its own parts; the rest stands beside it in neutral grey.
    const bool isBeside = !group.isCovered ||
                          (looked != nullptr && !looked->surface.empty() && looked->surface != group.surface);
    if (isBeside) looked = nullptr;
    if (looked != nullptr) {
        wants.push_back({looked->id, request.lookHere->after, 3, looked->kind == Kind::Normal});
        wants.back().component = request.lookHere->component;
    } else if (!isBeside) {
        for (std::size_t c = 0; c < kShadedChannels.size(); ++c) {
            const Line* line = project.lineOfChannel(kShadedChannels[c], group.surface);
            if (line == nullptr || line->steps.empty()) continue;
            wants.push_back(wantOfLine(*line));
            channelOfWant.push_back(c);
        }
    }
    const Compiled compiled = compile(project, project.findLook(request.look), wants, resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    m_problems.insert(m_problems.end(), maps.problems.begin(), maps.problems.end());
    group.samples.prepare(compiled.program, maps, group.points);
    const std::size_t count = group.points.size();
    if (!run(compiled.program, maps, group.samples, count, m_outputs, cancel)) return false;

    ChannelPlanes channels;
    for (std::size_t w = 0; w < wants.size(); ++w)
        for (int k = 0; k < wants[w].components; ++k) {
            const auto plane = static_cast<std::size_t>(compiled.planes[w][static_cast<std::size_t>(k)]);
            channels.planes[looked != nullptr ? 6 : channelOfWant[w]][static_cast<std::size_t>(k)] =
                m_outputs[plane].data();
        }
    const Environment& light = *m_lights.at(project.view.environment);
    const float turn = static_cast<float>(project.view.environmentTurn * std::numbers::pi / 180);
    const bool raw =
        looked != nullptr && (looked->kind != Kind::Colour || !request.lookHere->component.empty());
    parallelFor(count, 2048, [&](std::size_t begin, std::size_t end) {
        if (cancel.isCancelled()) return;
        for (std::size_t i = begin; i < end; ++i) {
            const Surfel& s = kept.view.surfels[group.first + i];
            if (looked != nullptr) {
                Vec3 v = channels.colour(6, i, {});
                if (raw) v = {srgbToLinear(v.x), srgbToLinear(v.y), srgbToLinear(v.z)};
                pixels[s.pixel] = v * static_cast<float>(std::exp2(-project.view.exposure));
                continue;
            }
            const SurfaceValues surface = surfaceAt(channels, i);
            const Vec3 lit =
                shade(surface, {s.normal, s.tangent, s.view, s.side, s.keyLight, s.openness}, light, turn);
            pixels[s.pixel] = mix(pixels[s.pixel], lit, surface.opacity);
        }
    });
    return !cancel.isCancelled();
}

Result<Picture> Preview::render(const PreviewRequest& request, const Resources& resources, int stage,
                                const CancelToken& cancel) {
    return guarded("make the picture", [&] { return renderStage(request, resources, stage, cancel); });
}

Result<Picture> Preview::renderStage(const PreviewRequest& request, const Resources& resources, int stage,
                                     const CancelToken& cancel) {
    const auto outdated = [] {
        return fail(ErrorKind::Cancelled, "The picture was outdated before it was finished.");
    };
    auto light = environment(request.project.view.environment);
    if (!light) return fail(light.error());
    auto kept = keep(request, stage, cancel);
    if (!kept) return fail(kept.error());
    std::vector<Vec3> pixels;
    if (!shadeView(request, resources, **kept, pixels, cancel)) return outdated();
    const ViewSettings& view = request.project.view;
    if (stage == 0)
        return toDisplay(pixels, (*kept)->width, (*kept)->height, view.exposure, view.transform,
                         resources.colours());
    if (stage == 1 || m_sum.size() != pixels.size()) {
        m_sum = pixels;
    } else {
        for (std::size_t i = 0; i < pixels.size(); ++i) m_sum[i] += pixels[i];
        for (std::size_t i = 0; i < pixels.size(); ++i)
            pixels[i] = m_sum[i] * (1.0f / static_cast<float>(stage));
    }
    return toDisplay(pixels, (*kept)->width, (*kept)->height, view.exposure, view.transform,
                     resources.colours());
}

std::size_t Preview::bytesInUse() const {
    std::size_t sum = m_sum.size() * sizeof(Vec3);
    for (const Kept* k : {&m_coarse, &m_full, &m_pass}) {
        sum += k->view.surfels.size() * sizeof(Surfel);
        for (const SurfacePoints& g : k->groups)
            sum += g.samples.byteSize() + 3 * g.points.size() * sizeof(float);
    }
    return sum;
}

}  // namespace kettle
