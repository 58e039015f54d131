#include "core/handover/materialx_network.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/files.h"
#include "core/base/names.h"
#include "core/document/layers.h"
#include "core/document/recipes.h"
#include "core/document/sources.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/export.h"
#include "core/handover/material_format.h"
#include "core/handover/materialx_document.h"
#include "core/steps/blend.h"
#include "core/steps/clamp.h"
#include "core/steps/hsv_shift.h"
#include "core/steps/invert.h"
#include "core/steps/maths.h"
#include "core/steps/step.h"
#include "core/steps/tone.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

/// How deep feeds of feeds are followed; beyond it they are baked.
constexpr int kDeepest = 16;

std::string number(double v) {
    return fmt::format("{:.7g}", v);
}

std::string colour(const Colour& c) {
    return fmt::format("{:.7g}, {:.7g}, {:.7g}", c.r, c.g, c.b);
}

/// Writes the lines of one look, without recipes, into a document.
class LookWriter {
public:
    LookWriter(MaterialXDocument& document, const Project& project, const Look* look,
               const std::string& lookName, const Resources& resources, const fs::path& folder, int size,
               const CancelToken& cancel)
        : m_document(document),
          m_project(project),
          m_look(look),
          m_lookName(lookName),
          m_resources(resources),
          m_folder(folder),
          m_size(size),
          m_cancel(cancel) {}

    /// The node that gives a line after its step `last`.
    Result<std::string> nodeOf(const Line& line, std::size_t last, int depth = 0) {
        if (const auto known = m_made.find({line.id, last}); known != m_made.end()) return known->second;
        // Back to the last step that cannot be said; from there forward, node by node.
        std::size_t from = last;
        while (from > 0 && depth < kDeepest && isSaid(line, from)) --from;
        auto node = depth < kDeepest && isSource(line, from) ? Result<std::string>(addSource(line))
                                                             : bake(line, from);
        for (std::size_t i = from + 1; node && i <= last; ++i) node = addStep(line, i, *node, depth);
        if (node) m_made[{line.id, last}] = *node;
        return node;
    }
    /// What a channel's line gives, as the channel takes it.
    Result<std::string> channelNode(const Line& line) {
        Feed whole;
        whole.line = line.id;
        return fed(whole, kindGiven(line), 0);
    }
    const std::vector<fs::path>& files() const { return m_files; }
    const std::vector<std::string>& notes() const { return m_notes; }

private:
    Step shown(const Line& line, std::size_t i) const { return withLook(m_project, *line.steps[i], m_look); }
    /// Sources of one colour or number are nodes of their own.
    bool isSource(const Line& line, std::size_t i) const {
        const std::string& type = line.steps[i]->type;
        return i == 0 && ((type == kColourSource && line.kind == Kind::Colour) ||
                          (type == kValueSource && line.kind == Kind::Scalar));
    }
    std::string nameOf(const Line& line, const std::string& what) const {
        return materialXName(m_lookName + "-" + line.id + "-" + what);
    }
    std::string addSource(const Line& line) {
        const Step step = shown(line, 0);
        const StepView view(*m_resources.steps().find(step.type), step, line.kind);
        pugi::xml_node node;
        std::string name =
            m_document.addNode("constant", nameOf(line, step.id), materialXType(line.kind), node);
        MaterialXDocument::setValue(node, "value", materialXType(line.kind),
                                    line.kind == Kind::Colour ? colour(view[kColour]) : number(view[kValue]));
        return name;
    }

    /// A step that is bypassed, or the fill of a layer that is.
    bool passesOn(const Step& step) const {
        if (step.bypass) return true;
        const Line* layer = layerOf(step).empty() ? nullptr : m_project.findLine(layerOf(step));
        return layer != nullptr && isLayer(*layer) && withLook(m_project, headOf(*layer), m_look).bypass;
    }
    /// True if standard nodes give just what the step does.
    bool isSaid(const Line& line, std::size_t i) const {
        if (line.kind == Kind::Normal) return false;
        const Step step = shown(line, i);
        const StepSpec* spec = m_resources.steps().find(step.type);
        if (spec == nullptr) return false;
        if (passesOn(step)) return true;
        if (!layerOf(step).empty()) return false;
        const StepView v(*spec, step, line.kind);
        if (line.kind == Kind::Colour && spec->findControl(kWorksIn.id) != nullptr &&
            v[kWorksIn] != NumberSpace::LinearLight)
            return false;
        for (const auto& [name, feed] : step.feeds)
            if (!feed.component.empty()) return false;
        if (step.type == invert::kType || step.type == clamp::kType) return true;
        if (step.type == maths::kType) {
            static const std::set<std::string> functions{"add", "subtract", "multiply", "min", "max"};
            return functions.contains(v[maths::kFunction]) && v.feed(maths::kBFrom) == nullptr;
        }
        if (step.type == tone::kType)
            return v[tone::kContrast] == 1 && v[tone::kGamma] == 1 && v[tone::kOffset] == 0;
        if (step.type == hsv_shift::kType)
            return !v[hsv_shift::kBand] && v[hsv_shift::kSaturation] >= 0 && v[hsv_shift::kSaturation] <= 1;
        if (step.type == kBlend) {
            static const std::set<BlendMode> modes{BlendMode::Normal, BlendMode::Multiply, BlendMode::Screen,
                                                   BlendMode::Add};
            const bool isLinear = line.kind == Kind::Scalar || v[kBlendSpace] != BlendSpace::DisplayEncoded;
            return modes.contains(v[kBlendMode]) && isLinear && !v[kLimit] && !v[kSwap] &&
                   !v[kOwnTransparency];
        }
        return false;
    }

    Result<std::string> addStep(const Line& line, std::size_t i, const std::string& in, int depth) {
        const Step step = shown(line, i);
        const StepSpec& spec = *m_resources.steps().find(step.type);
        const StepView v(spec, step, line.kind);
        if (passesOn(step)) return in;
        const char* type = materialXType(line.kind);
        pugi::xml_node node;
        const auto add = [&](const char* category, const char* input) {
            std::string name = m_document.addNode(category, nameOf(line, step.id), type, node);
            MaterialXDocument::connect(node, input, type, in);
            return name;
        };
        if (step.type == invert::kType) return add("invert", "in");
        if (step.type == clamp::kType) {
            const std::string name = add("clamp", "in");
            MaterialXDocument::setValue(node, "low", "float", number(v[clamp::kLow]));
            MaterialXDocument::setValue(node, "high", "float", number(v[clamp::kHigh]));
            return name;
        }
        std::string made;
        if (step.type == maths::kType) {
            made = add(v[maths::kFunction].c_str(), "in1");
            MaterialXDocument::setValue(node, "in2", "float", number(v[maths::kB]));
        } else if (step.type == tone::kType) {
            made = add("multiply", "in1");
            MaterialXDocument::setValue(node, "in2", "float",
                                        number(v[tone::kGain] * std::exp2(v[tone::kExposure])));
        } else if (step.type == hsv_shift::kType) {
            made = add("hsvadjust", "in");
            MaterialXDocument::setValue(node, "amount", "vector3",
                                        fmt::format("{:.7g}, {:.7g}, {:.7g}", v[hsv_shift::kHue] / 360,
                                                    v[hsv_shift::kSaturation], v[hsv_shift::kValue]));
        } else {
            const Feed* over = v.feed(kOver);
            if (over == nullptr) return in;
            auto laid = fed(*over, line.kind, depth);
            if (!laid) return laid;
            made = *laid;
            const BlendMode mode = v[kBlendMode];
            if (mode == BlendMode::Multiply || mode == BlendMode::Add) {
                made = add(kBlendMode.idOf(mode), "in1");
                MaterialXDocument::connect(node, "in2", type, *laid);
            } else if (mode == BlendMode::Screen) {
                made = m_document.addNode("screen", nameOf(line, step.id), type, node);
                MaterialXDocument::connect(node, "fg", type, *laid);
                MaterialXDocument::connect(node, "bg", type, in);
            }
        }
        return mixed(line, step, v, in, made, depth);
    }
    /// The result taken by amount and mask.
    Result<std::string> mixed(const Line& line, const Step& step, const StepView& v, const std::string& in,
                              const std::string& made, int depth) {
        const double amount = v[kAmount];
        const Feed* mask = v.feed(kMask);
        if (mask == nullptr && amount == 1) return made;
        pugi::xml_node node;
        std::string weight;
        if (mask != nullptr) {
            auto from = fed(*mask, Kind::Scalar, depth);
            if (!from) return from;
            weight = *from;
            if (amount != 1) {
                const std::string scaled =
                    m_document.addNode("multiply", nameOf(line, step.id + "-mask"), "float", node);
                MaterialXDocument::connect(node, "in1", "float", weight);
                MaterialXDocument::setValue(node, "in2", "float", number(amount));
                weight = scaled;
            }
        }
        std::string name =
            m_document.addNode("mix", nameOf(line, step.id + "-mixed"), materialXType(line.kind), node);
        MaterialXDocument::connect(node, "fg", materialXType(line.kind), made);
        MaterialXDocument::connect(node, "bg", materialXType(line.kind), in);
        if (weight.empty())
            MaterialXDocument::setValue(node, "mix", "float", number(amount));
        else
            MaterialXDocument::connect(node, "mix", "float", weight);
        return name;
    }
    /// What a feed brings, as a kind: a number as a grey, a colour's luminance as a number.
    Result<std::string> fed(const Feed& feed, Kind wanted, int depth) {
        pugi::xml_node node;
        if (feed.constant) {
            std::string name = m_document.addNode("constant", materialXName(m_lookName + "-constant"),
                                                  materialXType(wanted), node);
            const Colour* c = std::get_if<Colour>(&*feed.constant);
            const double* n = std::get_if<double>(&*feed.constant);
            const double grey = n != nullptr ? *n : c != nullptr ? static_cast<double>(c->r) : 0;
            MaterialXDocument::setValue(node, "value", materialXType(wanted),
                                        wanted == Kind::Scalar ? number(grey)
                                        : c != nullptr         ? colour(*c)
                                                               : fmt::format("{0}, {0}, {0}", number(grey)));
            return name;
        }
        const Line* line = m_project.findLine(feed.line);
        if (line == nullptr || line->steps.empty())
            return fail(ErrorKind::Refused,
                        fmt::format("A step reads a line {} that is not there. Join it again.", feed.line));
        std::size_t last = line->steps.size() - 1;
        for (std::size_t i = 0; i < line->steps.size(); ++i)
            if (line->steps[i]->id == feed.after) last = i;
        auto made = nodeOf(*line, last, depth + 1);
        if (!made || line->kind == wanted) return made;
        if (wanted == Kind::Colour) {
            std::string name = m_document.addNode(
                "convert", materialXName(m_lookName + "-" + line->id + "-grey"), kMaterialXColour, node);
            MaterialXDocument::connect(node, "in", "float", *made);
            return name;
        }
        // Luminance gives a grey colour; any of its components is the number.
        const std::string grey = m_document.addNode(
            "luminance", materialXName(m_lookName + "-" + line->id + "-luminance"), kMaterialXColour, node);
        MaterialXDocument::connect(node, "in", kMaterialXColour, *made);
        MaterialXDocument::setValue(node, "lumacoeffs", kMaterialXColour, "0.2126, 0.7152, 0.0722");
        std::string name = m_document.addNode(
            "extract", materialXName(m_lookName + "-" + line->id + "-number"), "float", node);
        MaterialXDocument::connect(node, "in", kMaterialXColour, grey);
        MaterialXDocument::setValue(node, "index", "integer", "0");
        return name;
    }
    /// An image of a line as it is after a step.
    Result<std::string> bake(const Line& line, std::size_t last) {
        // A line beside the others, as the look shows it; what taps the own line still finds all of it.
        Project cut = m_project;
        Line copy = line;
        copy.id = "baked line";
        copy.channel.clear();
        copy.steps.clear();
        for (std::size_t i = 0; i <= last; ++i) {
            Step step = shown(line, i);
            step.id = fmt::format("baked step {}", i);
            copy.steps.emplace_back(std::move(step));
        }
        cut.lines.emplace_back(std::move(copy));
        ExportOptions options;
        options.folder = m_folder;
        options.pattern = fmt::format("{}_{}_{}", m_lookName, stemOf(line.id, "line"), last);
        options.looks = {m_look != nullptr ? m_look->id : std::string()};
        options.channels = {"baked line"};
        options.size = m_size;
        auto items = planExport(cut, m_resources, options);
        if (!items) return fail(items.error());
        auto exported = exportMaps(cut, m_resources, options, m_cancel);
        if (!exported) return fail(exported.error());
        m_files.insert(m_files.end(), exported->files.begin(), exported->files.end());
        if (last > 0 && m_told.insert(line.id).second) {
            const StepSpec* spec = m_resources.steps().find(line.steps[last]->type);
            m_notes.push_back(fmt::format(
                "{} is baked up to {}{}.", line.name, spec != nullptr ? spec->name : line.steps[last]->type,
                last + 1 < line.steps.size() ? ", the steps behind it are nodes" : ""));
        }
        std::string file = items->front().file.filename().string();
        if (items->front().isTiled)
            if (const auto at = file.rfind(fmt::format(".{}.", items->front().tile)); at != std::string::npos)
                file.replace(at + 1, 4, "<UDIM>");
        const Kind kind = line.kind;
        return m_document.addImage(nameOf(line, fmt::format("baked-{}", last)), materialXType(kind),
                                   m_folder.filename().string() + "/" + file);
    }

    MaterialXDocument& m_document;
    const Project& m_project;
    const Look* m_look;
    const std::string& m_lookName;
    const Resources& m_resources;
    fs::path m_folder;
    int m_size;
    const CancelToken& m_cancel;
    std::map<std::pair<std::string, std::size_t>, std::string> m_made;
    std::vector<fs::path> m_files;
    std::vector<std::string> m_notes;
    std::set<std::string> m_told;
};

}  // namespace

Result<HandedOver> writeMaterialXNetwork(const Project& all, const Resources& resources,
                                         const std::vector<std::string>& modelParts,
                                         const std::vector<std::string>& looks, const std::string& baseName,
                                         int size, const fs::path& file, const CancelToken& cancel,
                                         const std::function<void(double, const std::string&)>& progress) {
    return guarded("write " + file.string(), [&]() -> Result<HandedOver> {
        if (file.extension() != infoOf(MaterialFormat::MaterialXBaked).extension)
            return fail(ErrorKind::Refused, fmt::format("{} does not end in .mtlx. Choose a name that does.",
                                                        file.filename().string()));
        if (looks.empty()) return fail(ErrorKind::Refused, "Choose at least one look.");
        const MaterialXOptions options{file, MaterialXSurface::Standard};
        MaterialXDocument document(all, modelParts, baseName, options);
        HandedOver made;
        bool hasAny = false;
        for (std::size_t l = 0; l < looks.size(); ++l) {
            const Look* look = all.findLook(looks[l]);
            if (!looks[l].empty() && look == nullptr)
                return fail(ErrorKind::Refused,
                            fmt::format("The project has no look {}. Choose another.", looks[l]));
            if (progress) progress(static_cast<double>(l) / static_cast<double>(looks.size()), looks[l]);
            const Opened open = withoutRecipes(all, look);
            const std::string lookName = stemOf(looks[l].empty() ? baseName : looks[l], "look");
            LookWriter writer(document, open.project, open.look ? &*open.look : nullptr, lookName, resources,
                              file.parent_path() / (file.stem().string() + "-maps"), size, cancel);
            MaterialXDocument::Sources sources;
            for (const auto& line : open.project.lines) {
                const bool isKnown = hasMaterialX(line->channel);
                if (!isKnown || line->steps.empty()) continue;
                auto node = writer.channelNode(*line);
                if (!node) return fail(node.error());
                sources[{line->surface, line->channel}] = {{}, *node};
                hasAny = true;
            }
            document.addLook(looks[l], sources);
            made.files.insert(made.files.end(), writer.files().begin(), writer.files().end());
            for (const std::string& note : writer.notes())
                if (std::find(made.notes.begin(), made.notes.end(), note) == made.notes.end())
                    made.notes.push_back(note);
        }
        if (!hasAny) return fail(ErrorKind::Refused, "There is no material to write. Bring in maps first.");
        if (auto done = SourceFiles(all, resources).write(file, document.text()); !done)
            return fail(done.error());
        made.files.push_back(file);
        return made;
    });
}

}  // namespace kettle
