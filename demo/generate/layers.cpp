// The look Forty years afloat: the kettle as received under four layers that only this look has on: the
// ferry's mark, rust streaks, edges worn to the metal, and a damp foot.
#include "core/colour/encoding.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

constexpr const char* kLook = "forty-years-afloat";

Step sourceOf(const char* type, Controls controls = {}) {
    Step step;
    step.type = type;
    step.controls = std::move(controls);
    return step;
}
Step colourOf(unsigned rgb) {
    const Vec3 c = hex(rgb);
    return sourceOf("colour", {{"colour", Colour{srgbToLinear(c.x), srgbToLinear(c.y), srgbToLinear(c.z)}}});
}
Step valueOf(double v) {
    return sourceOf("value", {{"value", v}});
}

/// A layer under construction: the first edit that fails ends it.
class LayerMaker {
public:
    LayerMaker(Result<Project>& project, const char* name, Step mask) : m_project(project) {
        if (m_project) m_project = edits::addLayer(*m_project, kLook, {name, "", ""}, m_id);
        if (m_project) m_project = edits::replaceSource(*m_project, m_id, std::move(mask));
    }
    LayerMaker& head(const char* control, ControlValue value) {
        if (m_project)
            m_project = edits::setControl(*m_project, "", headOf(*m_project->findLine(m_id)).id, control,
                                          std::move(value));
        return *this;
    }
    LayerMaker& within(const Feed& feed) {
        if (m_project)
            m_project = edits::setFeed(*m_project, headOf(*m_project->findLine(m_id)).id, "mask", feed);
        return *this;
    }
    LayerMaker& fill(const char* channel, Step source, Controls controls = {}) {
        std::string fill;
        const Line* line = m_project ? m_project->lineOfChannel(channel) : nullptr;
        if (line == nullptr) return *this;
        m_project = edits::cover(*m_project, kLook, m_id, line->id, std::move(source), fill);
        for (const auto& [control, value] : controls)
            if (m_project) m_project = edits::setControl(*m_project, "", fill, control, value);
        return *this;
    }

private:
    Result<Project>& m_project;
    std::string m_id;
};

using Words = std::string;

void addMark(Result<Project>& project, const std::filesystem::path& folder) {
    if (!project) return;
    Project with = *project;
    TextureSet set;
    set.id = "ferry_mark", set.name = "Ferry's mark", set.folder = (folder / "ferry_mark").string();
    set.maps = {{"base-colour", "ferry_mark.png", "auto", {}}};
    with.sets.emplace_back(set);
    project = std::move(with);
    // A sixth of the texture's square, on the shoulder above the painted band.
    Step map = sourceOf("map", {{"repeats", 6.0},
                                {"across", Words("once")},
                                {"up", Words("once")},
                                {"offset-u", 0.1},
                                {"offset-v", 4.87}});
    map.set = set.id;
    map.role = "base-colour";
    Step mask = map;
    mask.controls["component"] = Words("alpha");
    LayerMaker(project, "Ferry's mark", mask)
        .head("amount", 0.92)
        .fill("base-colour", map)
        .fill("roughness", valueOf(0.32), {{"amount", 0.8}});
}

/// Where rust has begun at all: a few large patches, as a line that others can read too.
void addPatches(Result<Project>& project) {
    if (!project) return;
    Line line;
    line.id = "rust-patches", line.name = "Rust patches", line.kind = Kind::Scalar;
    Step noise = sourceOf("noise", {{"repeats", 3.0}, {"octaves", 3.0}, {"seed", 5.0}});
    Step sharp = sourceOf("levels", {{"in-black", 0.46}, {"in-white", 0.72}});
    noise.id = "patches", sharp.id = "patches-sharp";
    line.steps = {Shared<Step>(noise), Shared<Step>(sharp)};
    project = edits::addLine(*project, std::move(line));
}

void addRust(Result<Project>& project) {
    addPatches(project);
    Feed patches;
    patches.line = "rust-patches";
    LayerMaker(
        project, "Rust streaks",
        sourceOf(
            "noise",
            {{"repeats", 40.0}, {"stretch", 7.0}, {"octaves", 5.0}, {"distortion", 0.25}, {"seed", 12.0}}))
        .head("mask-contrast", 5.0)
        .head("mask-gamma", 0.8)
        .within(patches)
        .fill("base-colour", colourOf(0x6B3418), {{"amount", 0.92}})
        .fill("metalness", valueOf(0.0))
        .fill("roughness", valueOf(0.86))
        .fill("height", valueOf(0.54), {{"mode", Words("lighten")}});
}

void addWear(Result<Project>& project) {
    LayerMaker(project, "Worn edges",
               sourceOf("curvature", {{"reading", Words("edges")}, {"spread", 0.5}, {"strength", 2.2}}))
        .head("mask-contrast", 2.5)
        .fill("base-colour", colourOf(0x3B3633))
        .fill("metalness", valueOf(0.85))
        .fill("roughness", valueOf(0.42));
}

void addDamp(Result<Project>& project) {
    LayerMaker(project, "Damp foot", sourceOf("model-height", {{"low", 24.0}, {"high", 3.0}}))
        .head("mask-gamma", 0.8)
        .fill("base-colour", colourOf(0x6B7B74), {{"mode", Words("multiply")}, {"amount", 0.9}})
        .fill("roughness", valueOf(0.12), {{"amount", 0.85}})
        .fill("normal", sourceOf("flat-normal"), {{"normals", Words("flatten")}, {"amount", 0.8}});
}

}  // namespace

Result<Project> withLayers(const Project& kettle, const std::filesystem::path& folder) {
    Result<Project> project = edits::addLook(kettle, kLook, "Forty years afloat", {});
    addMark(project, folder);
    addRust(project);
    addWear(project);
    addDamp(project);
    return project;
}

}  // namespace kettle::demo
