#include "batch/commands.h"

#include "batch/json_text.h"
#include "batch/opening.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <charconv>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <thread>

#include "core/analysis/board_pictures.h"
#include "core/colour/encoding.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/path_text.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/export.h"
#include "core/exchange/library.h"
#include "core/exchange/recognise.h"
#include "core/shading/preview.h"
#include "core/steps/step.h"

namespace kettle::batch {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

/// True if a step that bringing in made stands behind the map: gloss that is read as roughness.
bool isInverted(const Project& project, const TextureSet& set, const Map& map) {
    for (const auto& line : project.lines) {
        if (line->steps.empty() || line->steps.front()->set != set.id ||
            line->steps.front()->role != map.role)
            continue;
        for (const auto& step : line->steps) {
            const StepSpec* spec = shippedSteps().find(step->type);
            if (spec != nullptr && spec->isAsReceived && !step->bypass &&
                spec->isAsReceived(StepView(*spec, *step, line->kind)))
                return true;
        }
    }
    return false;
}

/// What can be set of a recipe from outside, and what it reads.
Json recipeInfo(const Recipe& recipe) {
    Json j{{"name", recipe.name},
           {"edition", recipe.edition},
           {"controls", Json::array()},
           {"inputs", Json::array()}};
    for (const RecipeControl& control : recipe.controls) j["controls"].push_back(control.id);
    for (const RecipeFeed& feed : recipe.feeds) j["inputs"].push_back(feed.id);
    return j;
}

Json infoOf(const Opened& opened) {
    Json j{{"sets", Json::array()},
           {"surfaces", Json::array()},
           {"lines", Json::array()},
           {"looks", Json::array()}};
    for (const auto& set : opened.project.sets) {
        Json maps = Json::array();
        for (const Map& map : set->maps) {
            const auto encoding = opened.resources.encodingOf(*set, map);
            maps.push_back({{"role", map.role},
                            {"file", textOfPath(map.file)},
                            {"encoding", encoding ? *encoding : map.encoding},
                            {"channels", map.channels},
                            {"automatic", map.encoding == encoding::kAuto},
                            {"inverted", isInverted(opened.project, *set, map)}});
        }
        j["sets"].push_back(
            {{"id", set->id}, {"name", set->name}, {"folder", textOfPath(set->folder)}, {"maps", maps}});
    }
    for (const auto& surface : opened.project.surfaces)
        j["surfaces"].push_back({{"id", surface->id},
                                 {"name", surface->name},
                                 {"coversAll", surface->coversAll},
                                 {"parts", surface->parts}});
    for (const auto& line : opened.project.lines) {
        Json steps = Json::array();
        for (const auto& step : line->steps) {
            const StepSpec* spec = opened.resources.steps().find(step->type);
            Json s{{"id", step->id}, {"type", step->type}};
            if (spec != nullptr) s["shows"] = spec->telling(StepView(*spec, *step, line->kind));
            if (step->bypass) s["bypass"] = true;
            if (const Recipe* recipe = opened.project.findRecipe(recipeOf(step->type)))
                s["recipe"] = recipeInfo(*recipe);
            steps.push_back(std::move(s));
        }
        Json l{{"id", line->id},
               {"name", line->name},
               {"kind", nameOf(line->kind)},
               {"channel", line->channel},
               {"steps", steps}};
        if (!line->surface.empty()) l["surface"] = line->surface;
        j["lines"].push_back(std::move(l));
    }
    for (const auto& look : opened.project.looks)
        j["looks"].push_back({{"id", look->id}, {"name", look->name}, {"changes", look->changes.size()}});
    return j;
}

/// ", its diffuse" of a map that is not its file's colours.
std::string inFile(const Json& map) {
    const std::string channels = map["channels"].get<std::string>();
    return channels.empty() ? channels : ", its " + channels;
}

void printText(Console& out, const Json& j) {
    for (const Json& set : j["sets"]) {
        out.say(fmt::format("Set {} ({})", set["name"].get<std::string>(), set["folder"].get<std::string>()));
        for (const Json& map : set["maps"])
            out.say(fmt::format("  {:<18} {:<32} {}{}{}", map["role"].get<std::string>(),
                                map["file"].get<std::string>() + inFile(map),
                                map["encoding"].get<std::string>(),
                                map["automatic"].get<bool>() ? " (automatic)" : "",
                                map["inverted"].get<bool>() ? ", inverted" : ""));
    }
    for (const Json& surface : j["surfaces"])
        out.say(fmt::format(
            "Surface {} ({}) covers {}", surface["id"].get<std::string>(), surface["name"].get<std::string>(),
            surface["coversAll"].get<bool>()
                ? "all parts"
                : fmt::format("{}", fmt::join(surface["parts"].get<std::vector<std::string>>(), ", "))));
    for (const Json& line : j["lines"]) {
        out.say(fmt::format("Line {} ({}, {}{})", line["id"].get<std::string>(),
                            line["name"].get<std::string>(), line["kind"].get<std::string>(),
                            line.contains("surface") ? ", of " + line["surface"].get<std::string>() : ""));
        for (const Json& step : line["steps"])
            out.say(fmt::format("  {:<8} {:<12} {}{}", step["id"].get<std::string>(),
                                step["type"].get<std::string>(), step.value("shows", ""),
                                step.contains("bypass") ? "  (bypassed)" : ""));
    }
    for (const Json& look : j["looks"])
        out.say(fmt::format("Look {} ({}, {} changes)", look["id"].get<std::string>(),
                            look["name"].get<std::string>(), look["changes"].get<int>()));
}

template <class T>
bool parsePair(const std::string& text, char separator, T& a, T& b) {
    const auto at = text.find(separator);
    if (at == std::string::npos) return false;
    const char* const end = text.data() + text.size();
    const auto first = std::from_chars(text.data(), text.data() + at, a);
    const auto second = std::from_chars(text.data() + at + 1, end, b);
    return first.ec == std::errc() && first.ptr == text.data() + at && second.ec == std::errc() &&
           second.ptr == end;
}

}  // namespace

Problems createProject(Console& out, const std::string& folder, const std::string& output, bool force) {
    std::error_code code;
    if (fs::exists(output, code) && !force)
        return {
            fmt::format("{} is there already. Choose another name, or add --force to replace it.", output)};
    auto made = projectFromFolder(folder);
    if (!made) return {sentenceOf(made.error())};
    // The pictures that it is made of are never written to, and --force does not change that.
    if (auto free =
            SourceFiles(made->project, Resources(fs::absolute(output).parent_path())).mayWrite(output);
        !free)
        return {sentenceOf(free.error())};
    if (auto saved = saveProject(made->project, output); !saved) return {sentenceOf(saved.error())};
    for (const std::string& note : made->notes) out.say(note);
    out.say(fmt::format("{} has {} maps on {} lines.", output, made->project.sets.front()->maps.size(),
                        made->project.lines.size()));
    out.set("project", output);
    out.set("maps", made->project.sets.front()->maps.size());
    out.set("lines", made->project.lines.size());
    // What could not be read was left out and named: the project is there, but not everything that was asked
    // for.
    Problems left;
    for (const std::string& note : made->notes)
        if (note.ends_with("It was left out.")) left.push_back(note);
    return left;
}

Problems upgradeProject(Console& out, const UpgradeArguments& a) {
    std::error_code code;
    const bool isThere = fs::exists(a.output, code);
    if (isThere && !a.force)
        return {
            fmt::format("{} is there already. Choose another name, or add --force to replace it.", a.output)};
    auto opened = open(out, a.project);
    if (!opened) return {sentenceOf(opened.error())};
    if (auto free = SourceFiles(opened->project, opened->resources).mayWrite(a.output); !free)
        return {sentenceOf(free.error())};
    std::size_t earlier = 0;
    const Catalogue& steps = opened->resources.steps();
    for (const auto& line : opened->project.lines)
        for (const auto& step : line->steps) {
            const StepSpec* spec = steps.find(step->type);
            if (spec != nullptr && isEarlierVersion(opened->project, *spec, *step, line->kind)) ++earlier;
        }
    const Project written = a.newestSteps ? withNewestSteps(opened->project) : opened->project;
    if (auto saved = saveProject(written, a.output); !saved) return {sentenceOf(saved.error())};
    out.wrote(a.output);
    out.set("earlierSteps", earlier);
    out.set("madeNew", a.newestSteps ? earlier : 0);
    out.say(earlier == 0 ? "All steps are new."
            : a.newestSteps
                ? fmt::format("{} steps were made new: their pictures may differ.", earlier)
                : fmt::format("{} steps keep what they computed before. Add --newest-steps to make them new.",
                              earlier));
    return {};
}

Problems printInfo(Console& out, const std::string& file) {
    auto opened = open(out, file);
    if (!opened) return {sentenceOf(opened.error())};
    const Json j = infoOf(*opened);
    if (out.isJson())
        for (const auto& [key, value] : j.items()) out.set(key, value);
    else
        printText(out, j);
    Problems problems = problemsOf(opened->project);
    for (const FileProblem& p : opened->resources.problemsOf(opened->project)) {
        if (p.isNotice)
            out.warn(p.sentence);
        else
            problems.push_back(p.sentence);
    }
    return problems;
}

namespace {

/// "step.control=value" in the project that was opened; the sentence says what is wrong with it.
std::string setControl(Opened& opened, const std::string& look, const std::string& text) {
    const auto dot = text.find('.'), equals = text.find('=', dot == std::string::npos ? 0 : dot);
    if (dot == std::string::npos || equals == std::string::npos)
        return fmt::format("\"{}\" sets nothing. Give it as STEP.CONTROL=VALUE, for example s3.how-wet=0.5.",
                           text);
    const std::string step = text.substr(0, dot), control = text.substr(dot + 1, equals - dot - 1),
                      value = text.substr(equals + 1);
    const auto place = opened.project.findStep(step);
    const StepSpec* spec =
        place ? opened.resources.steps().find(opened.project.stepAt(*place).type) : nullptr;
    const ControlSpec* known = spec != nullptr ? spec->findControl(control) : nullptr;
    if (known == nullptr)
        return fmt::format(
            "There is no {}.{} in the project. `info` lists steps and what their recipes can be set by.",
            step, control);
    ControlValue wanted = value;
    if (known->type == ControlType::Number)
        if (const auto number = numberOf(value)) wanted = *number;
    static const std::map<std::string, bool> kSwitch{{"true", true}, {"false", false}};
    if (known->type == ControlType::Toggle && kSwitch.contains(value)) wanted = kSwitch.at(value);
    if (known->type == ControlType::Colour) {
        Colour c;
        if (linearOfHex(value, c.r, c.g, c.b)) wanted = c;
    }
    if (const auto wrong = checkControl(*known, wanted))
        return fmt::format("{}.{} {}.", step, control, *wrong);
    auto next = edits::setControl(opened.project, look, step, control, wanted);
    if (!next) return next.error().sentence;
    opened.project = std::move(*next);
    return {};
}

}  // namespace

Problems probeProject(Console& out, const ProbeArguments& a) {
    auto opened = open(out, a.project);
    if (!opened) return {sentenceOf(opened.error())};
    double u = 0, v = 0;
    if (!parsePair(a.uv, ',', u, v))
        return {fmt::format("\"{}\" is not a place. Give it as U,V, for example 0.25,0.6.", a.uv)};
    std::string id = a.line;
    if (!a.surface.empty()) {
        const Line* line = opened->project.lineOfChannel(a.line, a.surface);
        if (line == nullptr)
            return {fmt::format("The surface {} has no channel {}. Choose another.", a.surface, a.line)};
        id = line->id;
    }
    for (const std::string& set : a.set)
        if (std::string problem = setControl(*opened, a.look, set); !problem.empty()) return {problem};
    auto value = probe(opened->project, a.look, id, a.after, static_cast<float>(u), static_cast<float>(v),
                       opened->resources);
    if (!value) return {sentenceOf(value.error())};
    const std::size_t count = value->kind == Kind::Scalar ? 1 : value->kind == Kind::Normal ? 3 : 4;
    Json j{{"line", id},
           {"kind", nameOf(value->kind)},
           {"uv", {u, v}},
           {"linear", Json::array()},
           {"display", Json::array()}};
    if (!a.after.empty()) j["after"] = a.after;
    if (!a.look.empty()) j["look"] = a.look;
    for (std::size_t c = 0; c < count; ++c) {
        j["linear"].push_back(value->linear[c]);
        j["display"].push_back(value->shown[c]);
    }
    if (value->kind == Kind::Colour)
        j["hex"] = hexOfLinear(value->linear[0], value->linear[1], value->linear[2]);
    if (out.isJson())
        for (const auto& [key, item] : j.items()) out.set(key, item);
    else
        fmt::print("{}\n", printed(j));
    return {};
}

namespace {

/// By its file, or by its name among those that are shipped and one's own.
Result<Arrangement> arrangementCalled(const std::string& name) {
    std::error_code code;
    if (fs::is_regular_file(name, code)) {
        const LibraryEntry entry = readEntry(name, EntryOrigin::Own);
        if (const auto* found = std::get_if<Arrangement>(&entry.content)) return *found;
        return fail(ErrorKind::Invalid, entry.problem.empty()
                                            ? fmt::format("{} is no arrangement. Choose one that ends in "
                                                          ".arrangement.json.",
                                                          name)
                                            : entry.problem);
    }
    std::string known;
    for (const LibraryEntry& entry : readLibrary(libraryFolders(), EntryKind::Arrangement)) {
        const auto* found = std::get_if<Arrangement>(&entry.content);
        if (found == nullptr) continue;
        if (found->name == name) return *found;
        known += (known.empty() ? "" : "; ") + found->name;
    }
    return fail(ErrorKind::Missing,
                fmt::format("There is no arrangement \"{}\". Give the name of one that is "
                            "kept ({}), or its file.",
                            name, known));
}

}  // namespace

Problems optionsOf(const ExportArguments& a, Opened& opened, ExportOptions& options) {
    options.folder = a.folder;
    options.channels = a.channels;
    options.surfaces = a.surfaces;
    options.eachObject = a.eachObject;
    if (a.packed) options.packed = packedFiles();
    if (!a.arrangement.empty()) {
        const auto arrangement = arrangementCalled(a.arrangement);
        if (!arrangement) return {sentenceOf(arrangement.error())};
        options.packed = arrangement->files;
    }
    options.dither = a.dither;
    options.space = a.space;
    options.again = a.again;
    options.manifest = a.manifest;
    if (!a.object.empty()) {
        const auto facts = opened.resources.facts(opened.project);
        if (facts == nullptr || facts->only(a.object) == nullptr)
            return {fmt::format("The model has no object {}. Choose another.", a.object)};
        opened.project.view.object = a.object;
    }
    options.size = a.size;
    if (!a.pattern.empty()) options.pattern = a.pattern;
    if (!fileFormatOf(a.format, options.format))
        return {fmt::format(
            "\"{}\" is not a format. Choose png8, png16, tiff16, exr-half, exr-float or jpeg.", a.format)};
    if (!a.looks.empty()) options.looks = a.looks;
    if (a.allLooks)
        for (const auto& look : opened.project.looks) options.looks.push_back(look->id);
    if (!compressionOf(a.compression, options.choices.compression))
        return {fmt::format("\"{}\" is no compression. Choose fast, small or none.", a.compression)};
    options.choices.quality = a.quality;
    return {};
}

Problems exportProject(Console& out, const ExportArguments& a) {
    auto opened = open(out, a.project);
    if (!opened) return {sentenceOf(opened.error())};
    ExportOptions options;
    if (Problems wrong = optionsOf(a, *opened, options); !wrong.empty()) return wrong;
    auto made = exportMaps(opened->project, opened->resources, options, {},
                           [&](const ExportProgress& p) { out.progress(p.fraction, p.what); });
    if (!made) return {sentenceOf(made.error())};
    const std::set<fs::path> unchanged(made->unchanged.begin(), made->unchanged.end());
    for (const fs::path& file : made->files) out.wrote(file, !unchanged.contains(file));
    out.set("upToDate", unchanged.size());
    // The maps are there; what is wrong with the document or with some numbers is told all the same.
    Problems warnings = problemsOf(opened->project);
    warnings.insert(warnings.end(), made->notes.begin(), made->notes.end());
    for (const FileProblem& p : opened->resources.problemsOf(opened->project)) warnings.push_back(p.sentence);
    if (a.strict) return warnings;
    out.warn(warnings);
    return {};
}

Problems takePicture(Console& out, const PictureArguments& a) {
    auto opened = open(out, a.project, true);
    if (!opened) return {sentenceOf(opened.error())};
    PreviewRequest request;
    if (!parsePair(a.size, 'x', request.width, request.height) || request.width < 1 || request.height < 1 ||
        request.width > 8192 || request.height > 8192)
        return {fmt::format("\"{}\" is not a size. Give it as WIDTHxHEIGHT up to 8192, for example 900x600.",
                            a.size)};
    if (!a.look.empty() && opened->project.findLook(a.look) == nullptr)
        return {fmt::format("The project has no look {}. Choose another.", a.look)};
    SourceFiles sources(opened->project, opened->resources);
    sources.add(a.project);
    if (auto free = sources.mayWrite(a.output); !free) return {sentenceOf(free.error())};
    // Each pixel keeps its rays, what it reads from the maps and its light: 157 bytes on the demo at 3000 x
    // 3000, and more where more maps are read.
    constexpr std::uint64_t kBytesAPixel = 240;
    const auto pixelCount =
        static_cast<std::uint64_t>(request.width) * static_cast<std::uint64_t>(request.height);
    if (auto fits = needMemory(
            pixelCount * kBytesAPixel, "make a picture of " + a.size,
            fmt::format("Ask for {} pixels a side or fewer.",
                        static_cast<int>(std::sqrt(static_cast<double>(memoryLeft()) / kBytesAPixel))));
        !fits)
        return {sentenceOf(fits.error())};
    request.project = opened->project;
    request.look = a.look;
    // The maps are read while the model and the light are made ready.
    const std::jthread reading([&] {
        // What goes wrong here goes wrong again where it is wanted, and is told there.
        static_cast<void>(guarded("read the maps", [&]() -> Result<void> {
            std::vector<Want> wants;
            for (const auto& line : request.project.lines)
                if (!line->channel.empty()) wants.push_back(wantOfLine(*line));
            const Compiled compiled = compile(request.project, request.project.findLook(request.look), wants,
                                              opened->resources.rules());
            static_cast<void>(opened->resources.resolve(request.project, compiled.program));
            return {};
        }));
    });
    Preview preview(opened->scenes, dataFolder() / "environments");
    auto scene = preview.scene(request.project.view.model, request.project.view.unit);
    if (!scene) return {sentenceOf(scene.error())};
    request.camera.frame((*scene)->mesh(),
                         static_cast<float>(request.width) / static_cast<float>(request.height));
    const auto picture = preview.renderAtRest(request, opened->resources);
    if (!picture) return {sentenceOf(picture.error())};
    PixelBuffer pixels = PixelBuffer::make(picture->width, picture->height, 3, Depth::U8);
    for (std::size_t i = 0; i < picture->pixels.size(); ++i)
        for (int c = 0; c < 3; ++c)
            pixels.bytes[i * 3 + static_cast<std::size_t>(c)] =
                static_cast<std::byte>(picture->pixels[i] >> (16 - 8 * c));
    if (auto done = writeImage(a.output, pixels, FileFormat::Png8, encoding::kSrgb, {}, sources); !done)
        return {sentenceOf(done.error())};
    out.wrote(a.output);
    return preview.problems();
}

}  // namespace kettle::batch
