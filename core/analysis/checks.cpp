#include "core/analysis/checks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/analysis/effects.h"
#include "core/analysis/statistics.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/channels.h"
#include "core/document/network.h"
#include "core/steps/map.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

constexpr int kSide = 128;
// Below these shares a finding would be noise: a few dark texels are no mistake.
constexpr double kFew = 0.01, kSome = 0.05, kMany = 0.2;

/// What every check reads.
struct Subject {
    const Project& project;
    const Look* look;
    const Resources& resources;
    const CancelToken& cancel;
    PointSet points;
    Network network;
    std::vector<Finding> found{};

    void add(Finding finding) { found.push_back(std::move(finding)); }
};

std::string percent(double share) {
    return share < 0.1 ? fmt::format("{:.1f} %", share * 100) : fmt::format("{:.0f} %", share * 100);
}

void checkStructure(Subject& s) {
    for (const std::string& sentence : problemsOf(s.project, s.resources.steps()))
        s.add({"project", Severity::Error, sentence, "", "", "", "", 0});
}

void checkFiles(Subject& s) {
    for (const FileProblem& p : s.resources.problemsOf(s.project))
        s.add({p.isNotice ? "size" : "file", p.isNotice ? Severity::Hint : Severity::Error, p.sentence, "",
               "", p.set, p.role, 0});
}

void checkEncodings(Subject& s) {
    for (const auto& set : s.project.sets)
        for (const Map& map : set->maps) {
            const auto encoding = s.resources.encodingOf(*set, map);
            if (!encoding) continue;  // told as a file
            if (isColourRole(map.role) && *encoding == encoding::kRaw)
                s.add({"encoding", Severity::Warning,
                       fmt::format(
                           "{} is a colour map that is read as raw numbers, so it looks too light. Set its "
                           "encoding to sRGB.",
                           map.file),
                       "", "", set->id, map.role, 0});
            if (!isColourRole(map.role) && *encoding != encoding::kRaw && findChannel(map.role) != nullptr)
                s.add({"encoding", Severity::Warning,
                       fmt::format(
                           "{} holds numbers, not colours, but is read as {}, which bends them. Set its "
                           "encoding to raw.",
                           map.file, *encoding),
                       "", "", set->id, map.role, 0});
        }
}

/// Lines that differ from object to object where several objects lie in one place of texture space: a flat
/// map shows but one of them.
void checkVariation(Subject& s) {
    for (const auto& line : s.project.lines) {
        if (line->channel.empty() || s.cancel.isCancelled()) continue;
        const Program program = compile(s.project, s.look, {wantOfLine(*line)}, s.resources.rules()).program;
        const auto facts = readsCopies(program) ? s.resources.facts(s.project) : nullptr;
        if (facts == nullptr) continue;
        const std::vector<std::string> surfaces = surfaceIds(s.project);
        int sharing = 0;
        std::string first;
        for (const ModelThing& thing : facts->things()) {
            const std::vector<int> of = surfacesOfParts(s.project, thing.parts);
            const bool isHere = std::any_of(of.begin(), of.end(), [&](int surface) {
                return surface >= 0 && surfaces[static_cast<std::size_t>(surface)] == line->surface;
            });
            if (!isHere || !thing.sharesTexture) continue;
            if (first.empty()) first = thing.name;
            ++sharing;
        }
        if (sharing < 2) continue;
        const std::string& shown = s.project.view.object.empty() ? first : s.project.view.object;
        s.add({"lost-variation", Severity::Warning,
               fmt::format(
                   "{} differs from object to object, and {} of them share one place in the texture, so "
                   "that a flat map shows {} alone. Export one file for each object.",
                   line->name, sharing, shown),
               line->id, "", "", "", 0});
    }
}

/// Normals as they stand in the file: a line makes unit vectors of them, which would hide what is wrong.
void checkNormals(Subject& s) {
    for (const auto& set : s.project.sets)
        for (const Map& map : set->maps) {
            if (map.role != channel::kNormal) continue;
            const auto image = s.resources.map(*set, map);
            if (!image) continue;
            // From the finest level: a mean of normals is shorter than one, rightly. A few points at a time,
            // since each may bring a piece of a large map into memory.
            constexpr std::size_t kPiece = 1024;
            Plane x(kPiece), y(kPiece), z(kPiece);
            float* const out[4]{x.data(), y.data(), z.data(), nullptr};
            const std::vector<float> exact(kPiece, 0.0f);
            double notUnit = 0, inward = 0;
            for (std::size_t first = 0; first < s.points.size() && !s.cancel.isCancelled(); first += kPiece) {
                const std::size_t count = std::min(kPiece, s.points.size() - first);
                (*image)->sample({s.points.u.data() + first, s.points.v.data() + first, exact.data(), count},
                                 7, out);
                for (std::size_t i = 0; i < count; ++i) {
                    const Vec3 n{x[i] * 2 - 1, y[i] * 2 - 1, z[i] * 2 - 1};
                    if (std::fabs(length(n) - 1) > 0.1f) notUnit += 1;
                    if (n.z < 0) inward += 1;
                }
                (*image)->rest();
            }
            const auto count = static_cast<double>(s.points.size());
            if (notUnit / count > kSome)
                s.add({"normal-length", Severity::Warning,
                       fmt::format(
                           "{} of {} are no unit vectors. It may have been saved as a colour or be no normal "
                           "map; export it again as raw numbers.",
                           percent(notUnit / count), map.file),
                       "", "", set->id, map.role, notUnit / count});
            if (inward / count > kFew)
                s.add({"normal-inward", Severity::Warning,
                       fmt::format("{} of {} point into the surface. Check that blue is its third component.",
                                   percent(inward / count), map.file),
                       "", "", set->id, map.role, inward / count});
        }
}

/// A mask whose picture is plain but whose alpha is not: luminance was read where transparency was meant.
void checkMasks(Subject& s) {
    for (const auto& line : s.project.lines) {
        if (line->kind != Kind::Scalar || line->steps.empty()) continue;
        const Step step = withLook(s.project, *line->steps.front(), s.look);
        const StepSpec* spec = s.resources.steps().find(step.type);
        if (spec == nullptr || spec->editor != StepEditor::MapFile) continue;
        const StepView view(*spec, step, line->kind);
        const TextureSet* set = s.project.findSet(step.set);
        const Map* map = set != nullptr ? findMap(*set, step.role) : nullptr;
        if (map == nullptr || view[kMapComponent] == Component::Alpha) continue;
        const auto image = s.resources.map(*set, *map);
        if (!image || ((*image)->channels() != 4 && (*image)->channels() != 2)) continue;
        Plane r(s.points.size()), a(s.points.size());
        float* const out[4]{r.data(), nullptr, nullptr, a.data()};
        (*image)->sample({s.points.u.data(), s.points.v.data(), s.points.footprint.data(), s.points.size()},
                         9, out);
        if (figuresOf(r.data(), r.size()).deviation < 0.002f &&
            figuresOf(a.data(), a.size()).deviation > 0.01f)
            s.add({"mask-alpha", Severity::Warning,
                   fmt::format(
                       "{} reads {} of {}, which is the same everywhere, while its alpha is not. Let it read "
                       "alpha.",
                       line->name, idOf(view[kMapComponent]), map->file),
                   line->id, step.id, set->id, map->role, 0});
    }
}

/// The results that the surface uses, looked at as numbers.
void checkChannels(Subject& s) {
    std::vector<Want> wants;
    std::vector<const Line*> lines;
    for (const auto& line : s.project.lines)
        if (!line->channel.empty() && !line->steps.empty()) {
            wants.push_back({line->id, "", line->kind == Kind::Scalar ? 1 : 3});
            lines.push_back(&*line);
        }
    const Sampled r = sampleWants(s.project, s.look, wants, s.resources, s.points, s.cancel);
    if (s.cancel.isCancelled()) return;
    std::map<std::string, const float*> metals;  // of each surface
    for (std::size_t w = 0; w < lines.size(); ++w)
        if (lines[w]->channel == channel::kMetalness) metals[lines[w]->surface] = r.plane(w, 0);
    const auto shareOf = [&](auto&& isBad) {
        std::size_t bad = 0;
        for (std::size_t i = 0; i < r.count; ++i) bad += isBad(i) ? 1u : 0u;
        return static_cast<double>(bad) / static_cast<double>(std::max<std::size_t>(r.count, 1));
    };
    for (std::size_t w = 0; w < lines.size(); ++w) {
        const Line& line = *lines[w];
        const auto tell = [&](const char* check, double share, const std::string& what) {
            s.add({check, Severity::Warning, fmt::format("{} of {} {}", percent(share), line.name, what),
                   line.id, "", "", "", share});
        };
        const auto p = r.colour(w);
        if (line.channel == channel::kBaseColour && line.kind == Kind::Colour) {
            const auto light = [&](std::size_t i) { return luminance({p[0][i], p[1][i], p[2][i]}); };
            const auto own = metals.find(line.surface);
            const float* metal = own == metals.end() ? nullptr : own->second;
            const auto dielectric = [&](std::size_t i) { return metal == nullptr || metal[i] < 0.5f; };
            const double dark = shareOf([&](std::size_t i) { return dielectric(i) && light(i) < 0.013f; });
            const double bright = shareOf([&](std::size_t i) { return light(i) > 0.87f; });
            if (dark > kSome)
                tell("albedo", dark,
                     "is darker than any dry paint (below 30 of 255). It will swallow all light; lift it "
                     "with Tone or Levels.");
            if (bright > kFew)
                tell("albedo", bright,
                     "is brighter than fresh snow (above 240 of 255). It will look as if it glowed; lower it "
                     "with Tone or Levels.");
        }
        if (line.channel == channel::kRoughness && line.kind == Kind::Scalar) {
            const double pinned = shareOf([&](std::size_t i) { return p[0][i] <= 0.001f; });
            const double rough = shareOf([&](std::size_t i) { return p[0][i] >= 0.999f; });
            if (pinned > kSome)
                tell("roughness-pinned", pinned,
                     "is 0, a perfect mirror. Let a ramp begin a little above 0.");
            if (rough > kMany)
                tell("roughness-pinned", rough,
                     "is 1, so all detail is lost there. Let a ramp end a little below 1.");
        }
        if (line.channel == channel::kMetalness && line.kind == Kind::Scalar) {
            const double middle = shareOf([&](std::size_t i) { return p[0][i] > 0.1f && p[0][i] < 0.9f; });
            if (middle > kMany)
                tell(
                    "metalness-middle", middle,
                    "is neither metal nor not. Sharpen it with Levels, unless it is meant as dirt on metal.");
        }
    }
}

void checkEffects(Subject& s) {
    for (const auto& [step, reason] :
         stepsWithoutEffect(s.project, s.look, s.resources, s.points, s.cancel)) {
        const Node node = s.network.find(step);
        const Line& line = s.network.line(node);
        const StepSpec* spec = s.resources.steps().find(s.network.step(node).type);
        s.add({"no-effect", Severity::Hint,
               fmt::format("{} on {} has no effect: {}.", spec->name, line.name, reason), line.id, step, "",
               "", 0});
    }
}

void checkUnused(Subject& s) {
    std::set<std::string> read;
    for (const auto& line : s.project.lines)
        for (const auto& step : line->steps)
            for (const auto& [name, feed] : step->feeds) read.insert(feed.line);
    for (const auto& line : s.project.lines)
        if (line->channel.empty() && !read.contains(line->id))
            s.add({"unused-line", Severity::Hint,
                   fmt::format("Nothing uses the line {}. Join it to a step, or remove it.", line->name),
                   line->id, "", "", "", 0});
}

/// What steps themselves say is probably wrong.
void checkSteps(Subject& s) {
    for (Node node = 0; node < s.network.size(); ++node) {
        const Step step = withLook(s.project, s.network.step(node), s.look);
        const StepSpec* spec = s.resources.steps().find(step.type);
        const Line& line = s.network.line(node);
        if (spec == nullptr || !spec->warning || step.bypass || !spec->fits(line.kind)) continue;
        if (const std::string words = spec->warning(StepView(*spec, step, line.kind)); !words.empty())
            s.add({"step", Severity::Warning, fmt::format("{} on {}: {}", spec->name, line.name, words),
                   line.id, step.id, "", "", 0});
    }
}

}  // namespace

const char* nameOf(Severity severity) {
    return severity == Severity::Error ? "error" : severity == Severity::Warning ? "warning" : "hint";
}

const std::vector<CheckInfo>& checkList() {
    static const std::vector<CheckInfo> list{
        {"project", "steps, controls, feeds and looks that make no sense"},
        {"file", "maps that are missing or cannot be read"},
        {"size", "maps of another size than the rest of their set"},
        {"encoding", "colour maps read as raw numbers, and the reverse"},
        {"lost-variation", "lines that differ from object to object where a flat map can show but one"},
        {"normal-length", "normal maps whose vectors are not of unit length"},
        {"normal-inward", "normal maps that point into the surface"},
        {"mask-alpha", "masks that read a plain component while the alpha is not plain"},
        {"albedo", "base colours darker or brighter than real materials"},
        {"roughness-pinned", "roughness at exactly 0 or 1 over a large part"},
        {"metalness-middle", "metalness that is neither 0 nor 1"},
        {"no-effect", "steps that change nothing, with the reason"},
        {"unused-line", "lines that nothing uses"},
        {"step", "what a step warns of: a formula with a fault, a contrast mode in linear light"}};
    return list;
}

std::vector<Finding> checkProject(const Project& project, const std::string& look, const Resources& resources,
                                  const CancelToken& cancel) {
    Subject s{
        project,         project.findLook(look), resources, cancel, analysisPoints(project, resources, kSide),
        Network(project)};
    for (const auto& check : {checkStructure, checkFiles, checkEncodings, checkVariation, checkNormals,
                              checkMasks, checkChannels, checkEffects, checkUnused, checkSteps})
        if (!cancel.isCancelled()) check(s);
    std::stable_sort(s.found.begin(), s.found.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return std::move(s.found);
}

}  // namespace kettle
