#include "core/analysis/board_pictures.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "core/analysis/shown_pixels.h"
#include "core/colour/encoding.h"
#include "core/document/shown_steps.h"
#include "core/steps/blend.h"
#include "core/steps/map.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Pixel centres of a rectangle of texture space.
PointSet rectangle(int width, int height, double left, double bottom, double right, double top) {
    const auto count = static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    PointSet p{Plane(count), Plane(count), Plane(count)};
    const auto footprint = static_cast<float>(std::max((right - left) / width, (top - bottom) / height));
    std::size_t i = 0;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x, ++i) {
            p.u[i] = static_cast<float>(left + (right - left) * (x + 0.5) / width);
            p.v[i] = static_cast<float>(top - (top - bottom) * (y + 0.5) / height);
            p.footprint[i] = footprint;
        }
    return p;
}

/// Moves each point to the middle of the pixel that it lies in, of maps of that size in every tile.
void toTexelCentres(PointSet& points, int across, int up) {
    const auto snap = [](float x, int count) {
        return (std::floor(x * static_cast<float>(count)) + 0.5f) / static_cast<float>(count);
    };
    for (std::size_t i = 0; i < points.size(); ++i) {
        points.u[i] = snap(points.u[i], across);
        points.v[i] = snap(points.v[i], up);
        points.footprint[i] = 0;
    }
}

/// Numbers that a display or an integer map cannot hold.
void markClipped(const std::array<const float*, 3>& planes, std::size_t count,
                 std::vector<std::uint32_t>& pixels) {
    constexpr std::uint32_t kAbove = 0xFFA3281E, kBelow = 0xFF25665F;
    constexpr float kSlack = 1e-4f;
    for (std::size_t i = 0; i < count; ++i) {
        bool above = false, below = false;
        for (const float* plane : planes) {
            if (plane == nullptr) continue;
            above = above || plane[i] > 1 + kSlack;
            below = below || plane[i] < -kSlack;
        }
        if (above || below) pixels[i] = above ? kAbove : kBelow;
    }
}

std::array<const float*, 3> planesOf(const Compiled& compiled, std::size_t want,
                                     const std::vector<Plane>& outputs) {
    std::array<const float*, 3> planes{};
    for (std::size_t c = 0; c < 3; ++c)
        if (compiled.planes[want][c] >= 0)
            planes[c] = outputs[static_cast<std::size_t>(compiled.planes[want][c])].data();
    return planes;
}

std::vector<std::uint32_t> shownPixels(Kind kind, const std::array<const float*, 3>& p, std::size_t count) {
    std::vector<std::uint32_t> pixels(count);
    showPixels(kind, p, count, pixels.data());
    return pixels;
}

constexpr int kWholeSide = 80;

/// The wants of steps that read something else than the usual numbers of what comes in.
class UnusualReadings {
public:
    UnusualReadings(const Project& project, const Look* look, const Catalogue& steps,
                    std::vector<Want>& wants) {
        ShownSteps shown(project, look);
        std::size_t number = 0;
        for (const auto& line : project.lines)
            for (std::size_t s = 0; s < line->steps.size(); ++s, ++number) {
                const Step& step = shown.of(*line->steps[s]);
                const StepSpec* spec = steps.find(step.type);
                if (spec == nullptr) continue;
                const Reading reading = readingOf(*spec, StepView(*spec, step, line->kind));
                if (reading == Reading{} || (reading.input.empty() && (s == 0 || line->kind != Kind::Colour)))
                    continue;
                const auto joined = step.feeds.find(reading.input);
                Kind kind = line->kind;
                if (!reading.input.empty()) {
                    if (joined == step.feeds.end()) continue;
                    const auto declared =
                        std::find_if(spec->feeds.begin(), spec->feeds.end(),
                                     [&](const FeedSpec& f) { return f.id == reading.input; });
                    kind = declared->kind.value_or(kind);
                }
                m_all.push_back({number, wants.size(), kind, line->kind, reading});
                if (reading.input.empty())
                    wants.push_back({line->id, line->steps[s - 1]->id, 4});
                else
                    wants.push_back({line->id, step.id, kind == Kind::Scalar ? 1 : 4, false, reading.input});
            }
    }
    /// For each step, in the order of the network.
    std::map<std::size_t, std::shared_ptr<const StepPictures::Read>> read(const Sampled& all) const {
        std::map<std::size_t, std::shared_ptr<const StepPictures::Read>> made;
        for (const One& one : m_all) {
            const float* alpha = one.kind == Kind::Colour ? all.plane(one.want, 3) : nullptr;
            made[one.step] = std::make_shared<const StepPictures::Read>(
                StepPictures::Read{spreadOf(one.kind, all.colour(one.want), all.count, one.reading, alpha),
                                   spreadOf(one.lineKind, all.colour(one.step), all.count, one.reading)});
        }
        return made;
    }

private:
    struct One {
        std::size_t step, want;
        Kind kind, lineKind;
        Reading reading;
    };
    std::vector<One> m_all;
};

}  // namespace

BoardPictures::BoardPictures(int thumbnailWidth, int thumbnailHeight, int ribbonRows)
    : m_width(thumbnailWidth), m_height(thumbnailHeight), m_rows(ribbonRows) {}

void BoardPictures::takeTiles(const Project& project, const Resources& resources) {
    std::vector<int> tiles = tilesOf(project, resources);
    if (tiles == m_tiles) return;
    m_tiles = std::move(tiles);
    m_wholeSamples.clear();
    m_windowSamples.clear();
    // A part of the first tile a little above its middle, where a picture's subject mostly is.
    const double tall = std::min(1.0, static_cast<double>(m_height) / m_width);
    const double left = (m_tiles.front() - 1001) % 10,
                 bottom =
                     (m_tiles.front() - 1001) / 10 + (1 - tall) * 0.62;  // NOLINT(bugprone-integer-division)
    m_window = rectangle(m_width, m_height, left, bottom, left + 1, bottom + tall);
    m_whole = m_tiles == std::vector<int>{1001} ? rectangle(kWholeSide, kWholeSide, 0, 0, 1, 1)
                                                : pointsOver(m_tiles, kWholeSide);
}

ByName<StepPictures> BoardPictures::paint(const Project& project, const std::string& look,
                                          const Resources& resources, const CancelToken& cancel) {
    takeTiles(project, resources);
    std::vector<Want> wants;
    std::vector<std::pair<std::string, Kind>> steps;
    for (const auto& line : project.lines)
        for (const auto& step : line->steps) {
            wants.push_back({line->id, step->id, line->kind == Kind::Scalar ? 1 : 3, false});
            steps.emplace_back(step->id, line->kind);
        }
    // The whole is looked at with what the effects need besides: masks and what is laid over.
    const Network network(project);
    const EffectWants effects(project, network, project.findLook(look), resources.steps(), wants,
                              {.cancel = cancel});
    if (cancel.isCancelled()) return {};
    const UnusualReadings readings(project, project.findLook(look), resources.steps(), wants);
    Rules rules = resources.rules();
    rules.cancel = &cancel, rules.network = &network;
    CompiledTwice both = compileTwice(project, project.findLook(look), wants, steps.size(), rules);
    if (cancel.isCancelled()) return {};
    const Compiled& compiled = both.first;
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    m_windowSamples.prepare(compiled.program, maps, m_window);
    std::vector<Plane> window;
    Sampled all;
    all.compiled = std::move(both.all);
    all.maps = resources.resolve(project, all.compiled.program);
    all.count = m_whole.size();
    m_wholeSamples.prepare(all.compiled.program, all.maps, m_whole);
    if (!run(compiled.program, maps, m_windowSamples, m_window.size(), window, cancel) ||
        !run(all.compiled.program, all.maps, m_wholeSamples, m_whole.size(), all.planes, cancel))
        return {};
    // Steps without effect share their numbers with the step before: what shows them is made once.
    std::map<std::pair<Kind, std::array<int, 4>>, std::size_t> known;
    std::vector<std::size_t> first(steps.size()), alone;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const auto [at, isNew] = known.try_emplace({steps[i].second, compiled.planes[i]}, i);
        first[i] = at->second;
        if (isNew) alone.push_back(i);
    }
    std::vector<std::shared_ptr<const ResultPictures>> made(steps.size());
    parallelFor(alone.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t n = begin; n < end && !cancel.isCancelled(); ++n) {
            const std::size_t i = alone[n];
            const Kind kind = steps[i].second;
            const auto wholePlanes = all.colour(i);
            made[i] = std::make_shared<const ResultPictures>(ResultPictures{
                m_width, m_height, shownPixels(kind, planesOf(compiled, i, window), m_window.size()),
                toneRibbonOf(kind, wholePlanes, m_whole.size(), m_rows),
                spreadOf(kind, wholePlanes, m_whole.size())});
        }
    });
    if (cancel.isCancelled()) return {};
    std::vector<std::pair<std::string, StepPictures>> each(steps.size());
    for (auto& [step, read] : readings.read(all)) each[step].second.read = std::move(read);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        each[i].first = std::move(steps[i].first);
        each[i].second.result = made[first[i]];
    }
    ByName<StepPictures> pictures(std::move(each));
    for (auto& [step, reason] : effects.reasons(all)) pictures.find(step)->noEffect = std::move(reason);
    for (const auto& line : project.lines)
        for (const auto& step : line->steps) {
            const TextureSet* set = step->set.empty() ? nullptr : project.findSet(step->set);
            const Map* map = set != nullptr ? findMap(*set, step->role) : nullptr;
            if (map == nullptr) continue;
            StepPictures& shown = *pictures.find(step->id);
            if (const auto image = resources.map(*set, *map); !image) shown.warning = image.error().sentence;
            if (const auto encoding = resources.encodingOf(*set, *map))
                shown.encoding = *encoding + (map->encoding == encoding::kAuto ? ", automatic" : "");
        }
    return pictures;
}

std::vector<std::uint32_t> BoardPictures::paintLook(const Project& project, const std::string& look,
                                                    const Resources& resources) {
    const Line* line = project.lineOfChannel(channel::kBaseColour);
    if (line == nullptr && !project.lines.empty()) line = &*project.lines.front();
    if (line == nullptr) return {};
    takeTiles(project, resources);
    const Compiled compiled =
        compile(project, project.findLook(look), {{line->id, "", line->kind == Kind::Scalar ? 1 : 3, false}},
                resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    m_windowSamples.prepare(compiled.program, maps, m_window);
    std::vector<Plane> outputs;
    run(compiled.program, maps, m_windowSamples, m_window.size(), outputs);
    return shownPixels(line->kind, planesOf(compiled, 0, outputs), m_window.size());
}

std::map<std::string, std::vector<std::uint32_t>> paintModes(const Project& project, const std::string& look,
                                                             const std::string& step, int width, int height,
                                                             const Resources& resources,
                                                             const CancelToken& cancel) {
    std::map<std::string, std::vector<std::uint32_t>> pictures;
    const auto place = project.findStep(step);
    const StepSpec* spec = place ? resources.steps().find(project.stepAt(*place).type) : nullptr;
    if (spec == nullptr || spec->editor != StepEditor::BlendModes || place->step == 0) return pictures;
    // One step for each mode, all behind the same input: the program shares everything but the modes.
    const Line& line = *project.lines[place->line];
    Project variants = project;
    std::vector<Want> wants;
    for (const BlendModeInfo& mode : kBlendModes) {
        Line one = line;
        one.id = std::string("mode ") + mode.id;
        one.channel.clear();
        one.steps.resize(place->step + 1);
        Step changed = withLook(project, *line.steps[place->step], project.findLook(look));
        changed.id = one.id;
        changed.bypass = false;
        put(changed.controls, kBlendMode(mode.mode));
        one.steps.back() = Shared<Step>(std::move(changed));
        variants.lines.emplace_back(std::move(one));
        wants.push_back({variants.lines.back()->id, "", line.kind == Kind::Scalar ? 1 : 3});
    }
    const double tall = std::min(1.0, static_cast<double>(height) / width), bottom = (1 - tall) * 0.62;
    const Sampled s = sampleWants(variants, project.findLook(look), wants, resources,
                                  rectangle(width, height, 0, bottom, 1, bottom + tall), cancel);
    if (cancel.isCancelled()) return pictures;
    for (std::size_t m = 0; m < wants.size(); ++m)
        pictures[kBlendModes[m].id] = shownPixels(line.kind, s.colour(m), s.count);
    return pictures;
}

namespace {

/// The stamps of a step in the rectangle of a request; none if it is no map that is scattered.
std::vector<StampCorners> stampsOf(const Project& project, const std::string& look,
                                   const FlatRequest& request, const Resources& resources) {
    const auto at = project.findStep(request.stampsOf);
    if (!at) return {};
    const Step shown = withLook(project, project.stepAt(*at), project.findLook(look));
    const Line& line = *project.lines[at->line];
    const StepSpec* spec = resources.steps().find(shown.type);
    if (spec == nullptr || spec->editor != StepEditor::MapFile) return {};
    const StepView view(*spec, shown, line.kind);
    const Placed placed = placementOf(view);
    if (!placed.scatters) return {};
    const Vec2 low{static_cast<float>(request.left), static_cast<float>(request.bottom)},
        high{static_cast<float>(request.right), static_cast<float>(request.top)};
    if (view.feed(kWhere) == nullptr) return stampsIn(placed, low, high);
    const Want want{line.id, request.stampsOf, 3};
    const Program program = compile(project, project.findLook(look), {want}, resources.rules()).program;
    const auto found =
        std::find_if(program.sources.begin(), program.sources.end(), [&](const SourceKey& source) {
            const MapSource* map = source.map();
            return map != nullptr && map->placed == placed && map->set == shown.set &&
                   map->role == shown.role;
        });
    if (found == program.sources.end()) return {};
    const ResolvedMaps maps = resources.resolve(project, program);
    const auto which = static_cast<std::size_t>(found - program.sources.begin());
    return stampsIn(placed, low, high, 4096, maps.wheres[which].get());
}

}  // namespace

std::vector<std::uint32_t> FlatPainter::paint(const Project& project, const std::string& look,
                                              const FlatRequest& request, const Resources& resources,
                                              const CancelToken& cancel) {
    const Line* line = project.findLine(request.line);
    if (line == nullptr || request.width < 1 || request.height < 1) return {};
    FlatRequest place = request;
    place.line = place.after = "";
    place.component.reset();
    place.stampsOf = "";
    place.marksClipped = false;
    if (!(place == m_kept) || m_points.size() == 0) {
        m_kept = place;
        m_points = rectangle(request.width, request.height, request.left, request.bottom, request.right,
                             request.top);
        if (request.texelsAcross > 0 && request.texelsUp > 0)
            toTexelCentres(m_points, request.texelsAcross, request.texelsUp);
        m_samples.clear();
    }
    m_stamps = stampsOf(project, look, request, resources);
    Want want{request.line, request.after, 3};
    want.component = request.component;
    const Compiled compiled = compile(project, project.findLook(look), {want}, resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    m_samples.prepare(compiled.program, maps, m_points);
    std::vector<Plane> outputs;
    if (!run(compiled.program, maps, m_samples, m_points.size(), outputs, cancel)) return {};
    const Kind shown = request.component ? Kind::Scalar : line->kind;
    auto pixels = shownPixels(shown, planesOf(compiled, 0, outputs), m_points.size());
    if (request.marksClipped && shown != Kind::Normal)
        markClipped(planesOf(compiled, 0, outputs), m_points.size(), pixels);
    return pixels;
}

Result<ProbeValue> probe(const Project& project, const std::string& look, const std::string& line,
                         const std::string& after, float u, float v, const Resources& resources) {
    const Line* found = project.findLine(line);
    if (found == nullptr)
        return fail(ErrorKind::Refused,
                    fmt::format("There is no line {} in the project. Choose another.", line));
    const bool known = after.empty() || std::any_of(found->steps.begin(), found->steps.end(),
                                                    [&](const Shared<Step>& s) { return s->id == after; });
    if (!known)
        return fail(ErrorKind::Refused,
                    fmt::format("There is no step {} on the line {}. Choose another.", after, line));
    if (!look.empty() && project.findLook(look) == nullptr)
        return fail(ErrorKind::Refused,
                    fmt::format("There is no look {} in the project. Choose another.", look));
    ProbeValue value;
    value.kind = found->kind;
    const std::vector<Want> wants{{line, after, 4, false}};
    const Compiled compiled = compile(project, project.findLook(look), wants, resources.rules());
    const auto maps = resources.resolve(project, compiled.program);
    if (!maps.problems.empty()) return fail(ErrorKind::Unreadable, maps.problems.front());
    const auto values = runAt(compiled.program, maps, u, v);
    for (std::size_t c = 0; c < 4; ++c) {
        const float x = values[static_cast<std::size_t>(compiled.planes[0][c])];
        value.linear[c] = x;
        value.shown[c] = c == 3 || value.kind == Kind::Scalar ? x
                         : value.kind == Kind::Normal         ? x * 0.5f + 0.5f
                                                              : linearToSrgb(x);
    }
    return value;
}

}  // namespace kettle
