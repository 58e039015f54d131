#include "core/analysis/transfer.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/analysis/sampling.h"
#include "core/colour/encoding.h"
#include "core/document/network.h"
#include "core/document/sources.h"
#include "core/steps/formula.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// True if what the feed brings is a number, not a colour.
bool bringsNumber(const Project& project, const Feed& feed) {
    if (feed.constant) return std::holds_alternative<double>(*feed.constant);
    const Line* line = project.findLine(feed.line);
    return line != nullptr && line->kind == Kind::Scalar;
}

Feed constantFeed(ControlValue value) {
    Feed feed;
    feed.constant = std::move(value);
    return feed;
}

/// A line with a grey that rises from left to right, and one with the place's own under; the step over both.
Project laboratory(const Project& project, Kind kind, const Step& step, Vec3 under) {
    const auto formulaOf = [](std::string text) {
        Step s;
        s.id = "under";
        s.type = formula_step::kType;
        s.controls = {formula_step::kFormula(std::move(text))};
        return s;
    };
    Step own = plainSource(kind, under);
    own.id = "under";
    Project p;
    p.colour = project.colour;
    const auto add = [&](const char* id, Step first) {
        Line line{id, id, kind, "", {}, {}};
        line.steps.emplace_back(std::move(first));
        line.steps.emplace_back(step);
        p.lines.emplace_back(std::move(line));
    };
    add("rise", formulaOf(kind == Kind::Scalar ? "u" : "rgb(decode(u), decode(u), decode(u))"));
    add("own", std::move(own));
    return p;
}

PointSet onePoint(float u, float v) {
    PointSet p{Plane(1), Plane(1), Plane(1)};
    p.u[0] = u;
    p.v[0] = v;
    p.footprint[0] = 0;
    return p;
}

}  // namespace

Result<BlendTransfer> blendTransfer(const Project& project, const std::string& look, const std::string& step,
                                    float u, float v, const Resources& resources) {
    const Network network(project);
    const Node node = network.find(step), input = node != kNoNode ? network.before(node) : kNoNode;
    const StepSpec* spec = node != kNoNode ? resources.steps().find(network.step(node).type) : nullptr;
    if (spec == nullptr || !spec->blend || input == kNoNode)
        return fail(ErrorKind::Refused, fmt::format("{} is not a Blend on a line. Choose one.", step));
    const BlendPlace& blend = *spec->blend;
    const Line& line = network.line(node);
    Step shown = withLook(project, network.step(node), project.findLook(look));
    shown.bypass = false;
    const auto over = shown.feeds.find(blend.over.id);
    if (over == shown.feeds.end())
        return fail(ErrorKind::Refused, "Nothing is joined to over. Join a line or a colour.");
    const bool isScalar = line.kind == Kind::Scalar;
    const bool isNumber = isScalar || bringsNumber(project, over->second);
    const bool isMasked = shown.feeds.contains(blend.mask.id);
    const Sampled here = sampleWants(project, project.findLook(look),
                                     {{line.id, network.step(input).id, 3, false},
                                      {line.id, step, 4, false, blend.over.id},
                                      {line.id, step, 1, false, blend.mask.id}},
                                     resources, onePoint(u, v));
    if (!here.maps.problems.empty()) return fail(ErrorKind::Unreadable, here.maps.problems.front());
    const StepView view(*spec, shown, line.kind);
    const auto value = [&](std::size_t want, std::size_t c) { return here.plane(want, c)[0]; };

    BlendTransfer t;
    t.components = isScalar ? 1 : 3;
    float mask = isMasked ? value(2, 0) : 1.0f;
    if (view[blend.ownTransparency] && !isNumber) mask *= value(1, 3);
    t.weight = mask * static_cast<float>(view[blend.amount]);
    for (std::size_t c = 0; c < 3; ++c) {
        t.under[c] = isScalar ? value(0, 0) : linearToSrgb(value(0, c));
        const float brought = value(1, isNumber ? 0 : c);
        t.over[c] = isNumber ? brought : linearToSrgb(brought);
    }
    shown.feeds[blend.over.id] = isNumber ? constantFeed(static_cast<double>(value(1, 0)))
                                          : constantFeed(Colour{value(1, 0), value(1, 1), value(1, 2)});
    shown.feeds[blend.mask.id] = constantFeed(static_cast<double>(mask));
    put(shown.controls, blend.ownTransparency(false));

    const Project bench = laboratory(project, line.kind, shown,
                                     {value(0, 0), value(0, isScalar ? 0 : 1), value(0, isScalar ? 0 : 2)});
    PointSet points = PointSet::grid(BlendTransfer::kSamples, 1);
    for (std::size_t i = 0; i < points.size(); ++i)
        points.u[i] = static_cast<float>(i) / (BlendTransfer::kSamples - 1);
    const Sampled answer =
        sampleWants(bench, nullptr, {{"rise", "", 3, true}, {"own", "", 3, true}}, resources, points);
    for (std::size_t c = 0; c < 3; ++c) {
        const std::size_t from = isScalar ? 0 : c;
        std::copy_n(answer.plane(0, from), BlendTransfer::kSamples, t.result[c].begin());
        t.landed[c] = answer.plane(1, from)[0];
    }
    return t;
}

}  // namespace kettle
