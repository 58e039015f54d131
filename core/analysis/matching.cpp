#include "core/analysis/matching.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/analysis/sampling.h"
#include "core/analysis/tones.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "core/document/network.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kMatchSide = 96;
constexpr int kRounds = 24;

PointSet pointsOf(Area a) {
    PointSet p = PointSet::grid(kMatchSide, kMatchSide);
    const float width = a.right - a.left, height = a.top - a.bottom;
    for (std::size_t i = 0; i < p.size(); ++i) {
        p.u[i] = a.left + p.u[i] * width;
        p.v[i] = a.bottom + p.v[i] * height;
        p.footprint[i] *= std::max(width, height);
    }
    return p;
}

Result<void> notEmpty(Area a) {
    if (a.right > a.left && a.top > a.bottom) return {};
    return fail(ErrorKind::Refused, "The area is empty. Draw it again over the picture.");
}

Vec3 meanOf(const Sampled& s, std::size_t want) {
    const auto planes = s.colour(want);
    return {figuresOf(planes[0], s.count).mean, figuresOf(planes[1], s.count).mean,
            figuresOf(planes[2], s.count).mean};
}

/// A step with what it is wanted for.
struct Found {
    const StepSpec* spec;
    const Line* line;
    const Step* step;
    Want before;  ///< what comes into it
};

/// `part` is what such a step declares; the error names it by `name`.
template <class Part>
Result<Found> findWith(Part part, const Project& project, const std::string& step, const Catalogue& steps,
                       const char* name) {
    const Network network(project);
    const Node node = network.find(step);
    const StepSpec* spec = node != kNoNode ? steps.find(network.step(node).type) : nullptr;
    if (spec == nullptr || !(spec->*part) || network.before(node) == kNoNode)
        return fail(ErrorKind::Refused,
                    fmt::format("{} is not a step {} of the project. Choose one.", step, name));
    const Line& line = network.line(node);
    return Found{spec, &line, &network.step(node), {line.id, network.step(network.before(node)).id, 3}};
}

Colour colourOf(Vec3 v) {
    return {v.x, v.y, v.z};
}

/// Sets several controls one after the other; each is known to exist.
Result<Project> withControls(Project project, const std::string& look, const std::string& step,
                             const Controls& controls) {
    for (const auto& [id, value] : controls) {
        auto next = edits::setControl(project, look, step, id, value);
        if (!next) return fail(next.error());
        project = std::move(*next);
    }
    return project;
}

}  // namespace

Result<AimResult> solveAim(const Project& project, const std::string& look, const std::string& step,
                           Area area, const Resources& resources) {
    const auto found = findWith(&StepSpec::aim, project, step, resources.steps(), "Aim");
    if (!found) return fail(found.error());
    if (const auto filled = notEmpty(area); !filled) return fail(filled.error());
    const AimPlace& aims = *found->spec->aim;
    const PointSet points = pointsOf(area);
    const Want& before = found->before;
    const Want after{found->line->id, step, 3};
    const Step shown = withLook(project, *found->step, project.findLook(look));
    const StepView view(*found->spec, shown, found->line->kind);
    const bool isTrimmed = aims.isTrimmed(view);
    const Colour to = view[aims.to];
    const Vec3 wanted{to.r, to.g, to.b};

    const Vec3 mean = meanOf(sampleWants(project, project.findLook(look), {before}, resources, points), 0);
    Controls controls{aims.from(colourOf(mean)), aims.hue(0), aims.saturation(1), aims.value(1)};
    auto next = withControls(project, look, step, controls);
    if (!next) return fail(next.error());
    const auto landing = [&] {
        return meanOf(sampleWants(*next, next->findLook(look), {after}, resources, points), 0);
    };
    Vec3 landed = landing();
    double hue = 0, saturation = 1, value = 1;
    const Hsv aim = hsvOf(wanted);
    const auto distance = [&](Vec3 c) { return ciede2000(cieLabOf(c), cieLabOf(wanted)); };
    for (int round = 0; round < kRounds && isTrimmed && distance(landed) > 0.01; ++round) {
        const Hsv at = hsvOf(landed);
        if (at.saturation > 1e-5f && aim.saturation > 1e-5f) {
            hue += std::remainder(static_cast<double>(aim.hue - at.hue), 360.0);
            saturation *= std::clamp(static_cast<double>(aim.saturation / at.saturation), 0.5, 2.0);
        }
        if (at.value > 1e-5f) value *= std::clamp(static_cast<double>(aim.value / at.value), 0.5, 2.0);
        controls = {aims.hue(hue), aims.saturation(saturation), aims.value(value)};
        auto tried = withControls(*next, look, step, controls);
        if (!tried) return fail(tried.error());
        const Project kept = std::exchange(*next, std::move(*tried));
        const Vec3 now = landing();
        if (distance(now) > distance(landed)) {  // it cannot be reached any better than this
            *next = kept;
            break;
        }
        landed = now;
    }
    return AimResult{std::move(*next), colourOf(mean), colourOf(landed), distance(landed)};
}

Result<Project> pickBand(const Project& project, const std::string& look, const std::string& step, Area area,
                         const Resources& resources) {
    const auto place = project.findStep(step);
    const StepSpec* spec = place ? resources.steps().find(project.stepAt(*place).type) : nullptr;
    if (spec == nullptr || !spec->hueBand)
        return fail(ErrorKind::Refused, "This step has no hue band. Choose an HSV shift or a Hue band.");
    const Line& line = *project.lines[place->line];
    Want want;
    const HueBandPlace& band = *spec->hueBand;
    if (band.feed) {
        if (!line.steps[place->step]->feeds.contains(band.feed->id))
            return fail(ErrorKind::Refused, "Nothing is joined to look at. Join a colour line first.");
        want = {line.id, step, 3, false, band.feed->id};
    } else {
        want = {line.id, line.steps[place->step - 1]->id, 3};
    }
    const Vec3 mean =
        meanOf(sampleWants(project, project.findLook(look), {want}, resources, pointsOf(area)), 0);
    const Step shown = withLook(project, *line.steps[place->step], project.findLook(look));
    Reading hsv = readingOf(*spec, StepView(*spec, shown, line.kind));
    hsv.model = Model::Hsv;
    const Vec3 picked = numbersRead(mean, hsv);
    if (picked.y < 0.02f)
        return fail(ErrorKind::Refused, "What you picked is grey and has no hue. Pick a coloured place.");
    Controls controls{band.band.centre(std::round(static_cast<double>(picked.x) * 3600) / 10)};
    if (band.toggle) put(controls, (*band.toggle)(true));
    return withControls(project, look, step, controls);
}

Result<Colour> meanColour(const Project& project, const std::string& look, const std::string& line,
                          const std::string& after, Area area, const Resources& resources) {
    const Line* found = project.findLine(line);
    if (found == nullptr)
        return fail(ErrorKind::Refused,
                    fmt::format("There is no line {} in the project. Choose another.", line));
    if (const auto filled = notEmpty(area); !filled) return fail(filled.error());
    const Sampled s =
        sampleWants(project, project.findLook(look), {{line, after, 3}}, resources, pointsOf(area));
    if (!s.maps.problems.empty()) return fail(ErrorKind::Unreadable, s.maps.problems.front());
    if (found->kind != Kind::Scalar) return colourOf(meanOf(s, 0));
    const float grey = srgbToLinear(figuresOf(s.plane(0, 0), s.count).mean);
    return Colour{grey, grey, grey};
}

Result<Project> measureMatch(const Project& project, const std::string& look, const std::string& step,
                             const Resources& resources) {
    const auto found = findWith(&StepSpec::match, project, step, resources.steps(), "Colour match");
    if (!found) return fail(found.error());
    const MatchPlace& match = *found->spec->match;
    if (!found->step->feeds.contains(match.reference.id))
        return fail(ErrorKind::Refused,
                    "Nothing is joined as the reference. Join the line whose colours are wanted.");
    const PointSet points = analysisPoints(project, resources, kMatchSide);
    const Sampled s = sampleWants(project, project.findLook(look),
                                  {found->before, {found->line->id, step, 3, false, match.reference.id}},
                                  resources, points);
    const LabFigures from = oklabFigures(s.colour(0), s.count), to = oklabFigures(s.colour(1), s.count);
    return withControls(project, look, step,
                        {match.fromMean(colourOf(from.mean)), match.fromSpread(colourOf(from.deviation)),
                         match.toMean(colourOf(to.mean)), match.toSpread(colourOf(to.deviation))});
}

}  // namespace kettle
