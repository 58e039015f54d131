// check: the findings of a project. docs: the documents that are written from declarations.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "batch/commands.h"
#include "batch/opening.h"
#include "batch/step_reference.h"
#include "core/analysis/checks.h"
#include "core/base/files.h"

namespace kettle::batch {

using Json = nlohmann::ordered_json;

Problems checkProjectFile(Console& out, const CheckArguments& a) {
    auto opened = open(out, a.project);
    if (!opened) return {sentenceOf(opened.error())};
    if (!a.look.empty() && opened->project.findLook(a.look) == nullptr)
        return {fmt::format("The project has no look {}. Choose another.", a.look)};
    const auto findings = checkProject(opened->project, a.look, opened->resources);
    Problems errors;
    Json list = Json::array();
    for (const Finding& f : findings) {
        Json j{{"check", f.check}, {"severity", nameOf(f.severity)}, {"sentence", f.sentence}};
        for (const auto& [key, value] :
             {std::pair{"line", f.line}, {"step", f.step}, {"set", f.set}, {"role", f.role}})
            if (!value.empty()) j[key] = value;
        if (f.share > 0) j["share"] = f.share;
        list.push_back(std::move(j));
        if (f.severity == Severity::Error) errors.push_back(f.sentence);
        if (!out.isJson() && f.severity != Severity::Error)
            out.say(fmt::format("{}: {} [{}]", nameOf(f.severity), f.sentence, f.check));
    }
    out.set("findings", list);
    if (!out.isJson() && findings.empty()) out.say("Nothing looks wrong.");
    return errors;
}

Problems writeDocuments(Console& console, const std::string& folder) {
    const std::filesystem::path to = folder;
    if (auto done = writeStepPictures(dataFolder(), to / "steps"); !done) return {sentenceOf(done.error())};
    if (auto done = writeFileAtomically(to / "steps.md", stepReference()); !done)
        return {sentenceOf(done.error())};
    if (auto done = writeFileAtomically(to / "project.schema.json", projectSchema()); !done)
        return {sentenceOf(done.error())};
    if (auto done = writeFileAtomically(to / "library.schema.json", librarySchema()); !done)
        return {sentenceOf(done.error())};
    const auto recipes = recipeReference(dataFolder());
    if (!recipes) return {sentenceOf(recipes.error())};
    if (auto done = writeFileAtomically(to / "recipes.md", *recipes); !done)
        return {sentenceOf(done.error())};
    for (const char* name : {"steps.md", "recipes.md", "project.schema.json", "library.schema.json"})
        console.wrote(to / name);
    return {};
}

}  // namespace kettle::batch
