#include "core/analysis/place_actions.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/analysis/sampling.h"
#include "core/analysis/tones.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/colour/ramp.h"
#include "core/document/edits.h"
#include "core/steps/component.h"
#include "core/steps/hsv_shift.h"
#include "core/steps/hue_band.h"
#include "core/steps/ramp_remap.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Where a step would be put, or nothing with the reason.
Result<std::size_t> indexOf(const Project& project, const LinePlace& place, std::optional<Kind> kind) {
    const Line* line = project.findLine(place.line);
    if (line == nullptr || line->steps.empty())
        return fail(ErrorKind::Refused,
                    "Nothing drives the colour there. Add a line for the base colour first.");
    if (kind && line->kind != *kind)
        return fail(ErrorKind::Refused,
                    fmt::format("{} carries no colours. Point at a line of colours.", line->name));
    for (std::size_t i = 0; i < line->steps.size(); ++i)
        if (line->steps[i]->id == place.after) return i + 1;
    return line->steps.size();
}

/// As the status bar and the hue dial have it, and as new steps work.
Hsv displayedHsv(Vec3 linear) {
    return hsvOf({linearToSrgb(linear.x), linearToSrgb(linear.y), linearToSrgb(linear.z)});
}

Result<double> hueAt(const Project& project, const std::string& look, const LinePlace& place, Area area,
                     const Resources& resources) {
    const auto mean = meanColour(project, look, place.line, place.after, area, resources);
    if (!mean) return fail(mean.error());
    const Hsv hsv = displayedHsv({mean->r, mean->g, mean->b});
    if (hsv.saturation < 0.02f)
        return fail(ErrorKind::Refused,
                    "What you point at is grey and has no hue. Point at a coloured place.");
    return std::round(static_cast<double>(hsv.hue) * 10) / 10;
}

/// A band of hues, in degrees.
struct Band {
    double centre, width, softness;
};

/// How the hues of a picture are spread: the share of each bin, weighted by chroma so that greys do not
/// count.
class HueHistogram {
public:
    static constexpr int kBins = 180;
    static constexpr double kBin = 360.0 / kBins;

    HueHistogram(const std::array<const float*, 3>& planes, std::size_t count) {
        for (std::size_t i = 0; i < count; ++i) {
            const Hsv hsv = displayedHsv({planes[0][i], planes[1][i], planes[2][i]});
            const auto bin = static_cast<std::size_t>(static_cast<double>(hsv.hue) / kBin) % kBins;
            m_counts[bin] += static_cast<double>(hsv.saturation * hsv.value);
        }
    }
    /// Smoothed over three bins; any whole number, the circle goes round.
    double at(int bin) const { return 0.25 * count(bin - 1) + 0.5 * count(bin) + 0.25 * count(bin + 1); }

private:
    double count(int bin) const { return m_counts[static_cast<std::size_t>((bin % kBins + kBins) % kBins)]; }
    std::array<double, kBins> m_counts{};
};

/// How far a band may reach from bin `own` to one side, in degrees: over the hill, down to where less than a
/// tenth of its height `top` is left, and on over the valley to where the next hill begins, but no further
/// than `enough`.
double reachOf(const HueHistogram& hues, int own, int way, double top, double enough) {
    constexpr double kFarthest = 30, kFoot = 0.1, kNextHill = 0.03;
    const auto at = [&](int far) { return hues.at(own + way * far); };
    int far = 2;
    while (far * HueHistogram::kBin < kFarthest && at(far) > kFoot * top) ++far;
    double lowest = at(far);
    while (far * HueHistogram::kBin < enough) {
        const double next = at(far + 1);
        if (next > kNextHill * top && next > 2 * lowest) break;
        lowest = std::min(lowest, next);
        ++far;
    }
    return far * HueHistogram::kBin;
}

/// The hues around `hue` in the whole picture, from valley to valley: what an artist means by "this red"
/// where rust is near. A flat paint is a hill of a few degrees, but its soft edges are mixtures with other
/// paints whose hues reach further: the band is at least 12 degrees wide and 8 soft where no other hill
/// stands in its way.
Band bandAround(double hue, const Project& project, const std::string& look, const LinePlace& place,
                const Resources& resources) {
    constexpr int kSide = 160;
    constexpr double kLeastWidth = 12, kSoftness = 8;
    const PointSet points = analysisPoints(project, resources, kSide);
    const Sampled s =
        sampleWants(project, project.findLook(look), {{place.line, place.after, 3}}, resources, points);
    const HueHistogram hues(s.colour(0), s.count);
    const int own = static_cast<int>(hue / HueHistogram::kBin);
    double top = 0;
    for (int b = own - 2; b <= own + 2; ++b) top = std::max(top, hues.at(b));
    const double enough = kLeastWidth / 2 + kSoftness;
    const double low = reachOf(hues, own, -1, top, enough), high = reachOf(hues, own, 1, top, enough);
    const double centre = std::fmod(hue + (high - low) / 2 + 360, 360.0), reach = (low + high) / 2;
    // The soft edge ends in the valleys; where there is less room than wanted, both parts shrink alike.
    const double softness = kSoftness * std::min(1.0, reach / enough);
    return {std::round(centre * 10) / 10, std::round(2 * (reach - softness) * 10) / 10,
            std::round(softness * 10) / 10};
}

Result<PlaceEdit> withStep(const Project& project, const std::string& look, const LinePlace& place,
                           std::size_t index, Step step) {
    std::vector<std::string> ids;
    auto next = edits::pasteSteps(project, look, place.line, index, {std::move(step)}, ids);
    if (!next) return fail(next.error());
    return PlaceEdit{std::move(*next), ids.empty() ? std::string() : ids.back()};
}

Step made(const Project& project, const std::string& type, Controls controls) {
    Step step;
    step.id = edits::freshId(project, type);
    step.type = type;
    step.controls = std::move(controls);
    return step;
}

Feed feedOf(const LinePlace& place) {
    Feed feed;
    feed.line = place.line;
    feed.after = place.after;
    return feed;
}

/// The mask's line added, and joined to its user.
Result<PlaceEdit> withMask(const Project& project, Line line, const std::string& user,
                           const Resources& resources) {
    const std::string step = line.steps.back()->id, id = line.id;
    auto next = edits::addLine(project, std::move(line));
    if (!next) return fail(next.error());
    const auto place = next->findStep(user);
    const Step* used = place ? &next->stepAt(*place) : nullptr;
    const StepSpec* spec = used != nullptr ? resources.steps().find(used->type) : nullptr;
    const bool hasMask = spec != nullptr && std::any_of(spec->feeds.begin(), spec->feeds.end(),
                                                        [](const FeedSpec& f) { return f.id == kMask.id; });
    if (hasMask && !used->feeds.contains("mask")) {
        Feed feed;
        feed.line = id;
        // Where the mask would read what it masks, it stays for the artist to join.
        if (auto joined = edits::setFeed(*next, user, "mask", feed)) next = std::move(joined);
    }
    return PlaceEdit{std::move(*next), step};
}

Line maskLine(const Project& project, const std::string& name) {
    Line line;
    line.id = edits::freshId(project, "mask");
    line.name = name;
    line.kind = Kind::Scalar;
    return line;
}

}  // namespace

Result<PlaceEdit> shiftHueAt(const Project& project, const std::string& look, const LinePlace& place,
                             Area area, const Resources& resources) {
    const auto index = indexOf(project, place, Kind::Colour);
    if (!index) return fail(index.error());
    const auto hue = hueAt(project, look, place, area, resources);
    if (!hue) return fail(hue.error());
    const Band band = bandAround(*hue, project, look, place, resources);
    return withStep(project, look, place, *index,
                    made(project, hsv_shift::kType,
                         {hsv_shift::kBand(true), hsv_shift::kHues.centre(band.centre),
                          hsv_shift::kHues.width(band.width), hsv_shift::kHues.softness(band.softness)}));
}

Result<PlaceEdit> aimAt(const Project& project, const std::string& look, const LinePlace& place, Area area,
                        const Resources& resources) {
    const auto index = indexOf(project, place, Kind::Colour);
    if (!index) return fail(index.error());
    const auto mean = meanColour(project, look, place.line, place.after, area, resources);
    if (!mean) return fail(mean.error());
    auto edit = withStep(project, look, place, *index, made(project, "aim", {}));
    if (!edit) return edit;
    const StepSpec* spec = resources.steps().find("aim");
    if (spec == nullptr || !spec->aim) return fail(ErrorKind::Refused, "There is no step Aim.");
    auto aimed = edits::setControl(edit->project, look, edit->step, spec->aim->to.id, *mean);
    if (!aimed) return fail(aimed.error());
    auto solved = solveAim(*aimed, look, edit->step, area, resources);
    if (!solved) return fail(solved.error());
    return PlaceEdit{std::move(solved->project), edit->step};
}

Result<PlaceEdit> maskFromHue(const Project& project, const std::string& look, const LinePlace& place,
                              Area area, const std::string& user, const Resources& resources) {
    if (const auto index = indexOf(project, place, Kind::Colour); !index) return fail(index.error());
    const auto hue = hueAt(project, look, place, area, resources);
    if (!hue) return fail(hue.error());
    Line line = maskLine(project, fmt::format("Hue at {:.0f}°", *hue));
    const Band found = bandAround(*hue, project, look, place, resources);
    Step band = made(project, hue_band::kType,
                     {hue_band::kHues.centre(found.centre), hue_band::kHues.width(found.width),
                      hue_band::kHues.softness(found.softness)});
    band.feeds[kOf.id] = feedOf(place);
    line.steps.emplace_back(std::move(band));
    return withMask(project, std::move(line), user, resources);
}

Result<PlaceEdit> maskFromValue(const Project& project, const std::string& look, const LinePlace& place,
                                Area area, const std::string& user, const Resources& resources) {
    const Line* from = project.findLine(place.line);
    if (const auto index = indexOf(project, place, std::nullopt); !index) return fail(index.error());
    if (from->kind == Kind::Normal)
        return fail(ErrorKind::Refused, "Normals have no value. Point at a line of colours or greys.");
    const auto mean = meanColour(project, look, place.line, place.after, area, resources);
    if (!mean) return fail(mean.error());
    const double value =
        std::clamp(static_cast<double>(linearToSrgb(luminance({mean->r, mean->g, mean->b}))), 0.0, 1.0);
    Line line = maskLine(project, fmt::format("Value near {:.2f}", value));
    Step read = made(project, component_step::kType,
                     {component_step::kComponent(Component::Luminance),
                      component_step::kEncoded(from->kind == Kind::Colour)});
    read.feeds[kOf.id] = feedOf(place);
    // White around the value, black a little away: a hill on a ramp, whose stops are dragged.
    Ramp hill;
    hill.stops.clear();
    for (const auto& [away, grey] : {std::pair{-0.2, 0.0f}, {-0.06, 1.0f}, {0.06, 1.0f}, {0.2, 0.0f}}) {
        RampStop stop;
        stop.position = static_cast<float>(value + away);
        stop.colour = {grey, grey, grey};
        hill.stops.push_back(stop);
    }
    Step ramp = made(project, "ramp-remap", {{"ramp", hill}});
    line.steps.emplace_back(std::move(read));
    line.steps.emplace_back(std::move(ramp));
    return withMask(project, std::move(line), user, resources);
}

Result<PlaceEdit> rampStopAt(const Project& project, const std::string& look, const std::string& step,
                             float u, float v, const Resources& resources) {
    const auto place = project.findStep(step);
    const StepSpec* spec = place ? resources.steps().find(project.stepAt(*place).type) : nullptr;
    if (spec == nullptr || spec->type != ramp_remap::kType || place->step == 0)
        return fail(ErrorKind::Refused, "The chosen step has no ramp. Choose a Ramp remap first.");
    const Line& line = *project.lines[place->line];
    const Step shown = withLook(project, *line.steps[place->step], project.findLook(look));
    const StepView view(*spec, shown, line.kind);
    Want want{line.id, line.steps[place->step - 1]->id, 1};
    const bool isFed = view.feed(ramp_remap::kReadsFrom) != nullptr;
    if (isFed)
        want = {line.id, step, 1, false, ramp_remap::kReadsFrom.id};
    else if (line.kind == Kind::Colour)
        want.components = 4;
    const Compiled compiled = compile(project, project.findLook(look), {want}, resources.rules());
    const auto values = runAt(compiled.program, resources.resolve(project, compiled.program), u, v);
    const auto value = [&](std::size_t c) { return values[static_cast<std::size_t>(compiled.planes[0][c])]; };
    const float x =
        isFed || line.kind != Kind::Colour
            ? value(0)
            : numberRead(Kind::Colour, {value(0), value(1), value(2)}, readingOf(*spec, view), value(3));
    Ramp ramp = view[ramp_remap::kRamp];
    const Vec3 there = rampAt(compileRamp(ramp), x);
    RampStop stop;
    stop.position = x;
    stop.colour = {there.x, there.y, there.z};
    const auto after = std::upper_bound(ramp.stops.begin(), ramp.stops.end(), x,
                                        [](float at, const RampStop& s) { return at < s.position; });
    ramp.stops.insert(after, stop);
    auto next = edits::setControl(project, look, step, ramp_remap::kRamp.id, ramp);
    if (!next) return fail(next.error());
    return PlaceEdit{std::move(*next), step};
}

std::vector<PlaceChange> whatMakes(const Project& project, const std::string& look,
                                   const std::string& surface, float u, float v, const Resources& resources) {
    std::vector<Want> wants;
    std::vector<PlaceChange> changes;
    std::vector<Kind> kinds;
    for (const auto& line : project.lines) {
        if (line->channel.empty() || line->surface != surface) continue;
        for (std::size_t i = 1; i < line->steps.size(); ++i) {
            wants.push_back({line->id, line->steps[i - 1]->id, 3});
            wants.push_back({line->id, line->steps[i]->id, 3});
            changes.push_back({line->id, line->steps[i]->id, 0});
            kinds.push_back(line->kind);
        }
    }
    if (wants.empty()) return changes;
    const Compiled compiled = compile(project, project.findLook(look), wants, resources.rules());
    const auto values = runAt(compiled.program, resources.resolve(project, compiled.program), u, v);
    const auto at = [&](std::size_t want) {
        const auto one = [&](std::size_t c) {
            return values[static_cast<std::size_t>(compiled.planes[want][c])];
        };
        return Vec3{one(0), one(1), one(2)};
    };
    for (std::size_t i = 0; i < changes.size(); ++i) {
        const Vec3 before = at(2 * i), after = at(2 * i + 1), d = after - before;
        changes[i].difference =
            kinds[i] == Kind::Colour
                ? ciede2000(cieLabOf(before), cieLabOf(after))
                : 100 * static_cast<double>(std::max({std::fabs(d.x), std::fabs(d.y), std::fabs(d.z)}));
    }
    std::erase_if(changes, [](const PlaceChange& c) { return !(c.difference >= 0.01); });
    std::stable_sort(changes.begin(), changes.end(),
                     [](const PlaceChange& a, const PlaceChange& b) { return a.difference > b.difference; });
    return changes;
}

}  // namespace kettle
