// check: the findings of a project. docs: the documents that are written from declarations.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "batch/commands.h"
#include "batch/json_text.h"
#include "batch/opening.h"
#include "batch/step_reference.h"
#include "core/analysis/checks.h"
#include "core/base/files.h"

namespace kettle::batch {

using Json = nlohmann::ordered_json;

Problems checkProjectFile(const CheckArguments& a) {
    auto opened = open(a.project);
    if (!opened) return {detailOf(opened.error())};
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
        if (!a.asJson && f.severity != Severity::Error)
            fmt::print("{}: {} [{}]\n", nameOf(f.severity), f.sentence, f.check);
    }
    if (a.asJson) fmt::print("{}\n", printed(Json{{"findings", list}}));
    if (!a.asJson && findings.empty()) fmt::print("Nothing looks wrong.\n");
    return errors;
}

Problems writeDocuments(const std::string& folder) {
    const std::filesystem::path out = folder;
    if (auto done = writeStepPictures(dataFolder(), out / "steps"); !done) return {detailOf(done.error())};
    if (auto done = writeFileAtomically(out / "steps.md", stepReference()); !done)
        return {detailOf(done.error())};
    if (auto done = writeFileAtomically(out / "project.schema.json", projectSchema()); !done)
        return {detailOf(done.error())};
    if (auto done = writeFileAtomically(out / "library.schema.json", librarySchema()); !done)
        return {detailOf(done.error())};
    const auto recipes = recipeReference(dataFolder());
    if (!recipes) return {detailOf(recipes.error())};
    if (auto done = writeFileAtomically(out / "recipes.md", *recipes); !done) return {detailOf(done.error())};
    fmt::print("{}\n{}\n", (out / "steps.md").string(), (out / "project.schema.json").string());
    return {};
}

}  // namespace kettle::batch
