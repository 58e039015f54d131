// pale-kettle-batch: projects without a screen, for scripts and farms.
#include <spdlog/sinks/stdout_sinks.h>
#include <spdlog/spdlog.h>

#include <CLI/CLI.hpp>
#include <cstdio>
#include <optional>
#include <system_error>

#include "batch/commands.h"
#include "batch/step_reference.h"
#include "core/base/machine.h"
#include "core/base/result.h"

namespace {

/// What an export and a plan of one can be asked for.
void addExportOptions(CLI::App* command, kettle::batch::ExportArguments& a) {
    command->add_option("project", a.project, "The project")->required();
    command->add_option("--out", a.folder, "The folder to write to")->required();
    auto* looks = command->add_option("--look", a.looks,
                                      "A look's id, more than once for several; otherwise as received");
    command->add_flag("--all-looks", a.allLooks, "Every look, and as received")->excludes(looks);
    command->add_option("--channel", a.channels, "A channel, more than once for several; otherwise all");
    command->add_option("--surface", a.surfaces, "A surface, more than once for several; otherwise all");
    command->add_option("--object", a.object,
                        "The object whose texture is shown where several share a place");
    command->add_flag("--each-object", a.eachObject,
                      "One file for each object where a line differs between them");
    command->add_flag("--dither", a.dither, "Files of 8 bits keep finer steps by an ordered pattern");
    command->add_flag("--packed", a.packed,
                      "Occlusion, roughness and metalness in one file, opacity as the base colour's alpha");
    command->add_option("--arrangement", a.arrangement,
                        "Packed files as the library keeps them: a name, or a .arrangement.json");
    command->add_option("--colours", a.space,
                        "What colours are written in: sRGB, linear Rec.709, Display P3 or ACEScg");
    command->add_option("--size", a.size, "The longer side in pixels; otherwise as the sources")
        ->check(CLI::Range(1, 65536));
    command->add_option("--format", a.format, "png8, png16, tiff16, exr-half, exr-float or jpeg");
    command->add_option("--name", a.pattern, "How files are named: {set}_{look}_{channel}, also {surface}");
    command->add_option("--compression", a.compression, "fast, small or none");
    command->add_option("--quality", a.quality, "Of JPEG")->check(CLI::Range(1, 100));
}

int runCommands(int argc, char** argv) {
    using namespace kettle::batch;
    CLI::App app{"Pale Kettle without a screen: makes, reads, probes, exports and pictures projects."};
    app.set_version_flag("--version", "Pale Kettle " + kettle::programVersion());
    app.require_subcommand(1);
    Problems problems;

    // These stand before or behind a command's own.
    Manner manner;
    app.fallthrough();
    app.add_flag("--json", manner.json, "One JSON object with everything, instead of lines");
    auto* quiet = app.add_flag("-q,--quiet", manner.quiet, "Nothing but errors");
    app.add_flag("-v,--verbose", manner.verbose, "Tell what is done meanwhile")->excludes(quiet);
    std::optional<Console> console;
    // Made when all flags are known.
    const auto out = [&]() -> Console& { return console ? *console : console.emplace(manner); };

    std::string folder, output, project;
    bool force = false;
    auto* create = app.add_subcommand("new", "Makes a project from a folder of finished maps");
    create->add_option("folder", folder, "The folder")->required();
    create->add_option("-o,--output", output, "The project file to write")->required();
    create->add_flag("--force", force, "Replace a project that is there");
    create->callback([&] { problems = createProject(out(), folder, output, force); });

    UpgradeArguments upgrade;
    auto* upgrading = app.add_subcommand("upgrade", "Writes a project in the newest format");
    upgrading->add_option("project", upgrade.project, "The project")->required();
    upgrading->add_option("-o,--output", upgrade.output, "The project file to write")->required();
    upgrading->add_flag("--newest-steps", upgrade.newestSteps,
                        "Steps of earlier versions become new ones, which may change pictures");
    upgrading->add_flag("--force", upgrade.force, "Replace a project that is there");
    upgrading->callback([&] { problems = upgradeProject(out(), upgrade); });

    auto* info = app.add_subcommand("info", "Tells a project's sets, lines and looks");
    info->add_option("project", project, "The project")->required();
    info->callback([&] { problems = printInfo(out(), project); });

    ProbeArguments probe;
    auto* probing = app.add_subcommand("probe", "Gives the value of a line at a place, as JSON");
    probing->add_option("project", probe.project, "The project")->required();
    probing->add_option("--line", probe.line, "The line's id, or with --surface its channel")->required();
    probing->add_option("--surface", probe.surface, "The surface whose channel --line names");
    probing->add_option("--after", probe.after, "A step's id; otherwise the line's end");
    probing->add_option("--uv", probe.uv, "The place, U,V")->required();
    probing->add_option("--look", probe.look, "A look's id; otherwise as received");
    probing->add_option("--set", probe.set,
                        "STEP.CONTROL=VALUE before, for a recipe by its control's id; more than once");
    probing->callback([&] { problems = probeProject(out(), probe); });

    ExportArguments maps;
    auto* exporting = app.add_subcommand("export", "Writes the changed maps");
    addExportOptions(exporting, maps);
    exporting->add_flag("--again", maps.again, "What is up to date is made all the same");
    exporting->add_flag("--manifest", maps.manifest, "manifest.json beside the files");
    exporting->add_flag("--strict", maps.strict, "What is only warned of otherwise is an error");
    exporting->callback([&] { problems = exportProject(out(), maps); });

    ExportArguments planned;
    std::string planFile, items, manifest;
    bool isArray = false;
    auto* planning = app.add_subcommand("plan", "Plans an export that many workers share");
    addExportOptions(planning, planned);
    planning->add_option("-o,--output", planFile, "The plan to write")->required();
    planning->callback([&] { problems = planExportOf(out(), planned, planFile); });
    auto* baking = app.add_subcommand("bake", "Makes items of a plan; what is up to date is skipped");
    baking->add_option("plan", planFile, "The plan")->required();
    auto* chosen = baking->add_option("--items", items, "Which, as 7 or 0-99; otherwise all");
    baking->add_flag("--array", isArray, "This job's share of a job array, by the scheduler's environment")
        ->excludes(chosen);
    baking->callback([&] { problems = bakePlan(out(), planFile, items, isArray); });
    auto* status = app.add_subcommand("status", "Tells what of a plan is done");
    status->add_option("plan", planFile, "The plan")->required();
    status->callback([&] { problems = tellStatus(out(), planFile); });
    auto* collecting = app.add_subcommand("collect", "Writes the manifest of a plan that is done");
    collecting->add_option("plan", planFile, "The plan")->required();
    collecting->add_option("-o,--output", manifest, "Otherwise manifest.json beside the files");
    collecting->callback([&] { problems = collectPlan(out(), planFile, manifest); });

    PictureArguments picture;
    auto* picturing = app.add_subcommand("picture", "Writes a picture of the lit model");
    picturing->add_option("project", picture.project, "The project")->required();
    picturing->add_option("-o,--output", picture.output, "The PNG to write")->required();
    picturing->add_option("--look", picture.look, "A look's id; otherwise as received");
    picturing->add_option("--size", picture.size, "WIDTHxHEIGHT");
    picturing->callback([&] { problems = takePicture(out(), picture); });

    MaterialArguments materials;
    auto* handing =
        app.add_subcommand("materials", "Writes the model as glTF, or its materials as MaterialX");
    handing->add_option("project", materials.project, "The project")->required();
    handing->add_option("--out", materials.folder, "The folder to write to")->required();
    handing
        ->add_option("--format", materials.format,
                     "glb, gltf, mtlx-baked, mtlx-network (standard_surface) or mtlx-openpbr")
        ->check(CLI::IsMember({"glb", "gltf", "mtlx-baked", "mtlx-network", "mtlx-openpbr"}));
    auto* handedLooks =
        handing->add_option("--look", materials.looks, "A look's id, more than once for several variants");
    handing->add_flag("--all-looks", materials.allLooks, "Every look as a variant")->excludes(handedLooks);
    handing->add_option("--size", materials.size, "The longer side of a texture at most")
        ->check(CLI::Range(1, 65536));
    handing->add_option("--name", materials.name, "The file's name without ending; otherwise the project's");
    handing->add_flag("--jpeg", materials.jpeg, "Colours without alpha as JPEG");
    handing->callback([&] { problems = exportMaterials(out(), materials); });

#ifdef KETTLE_SHEETS
    SheetArguments sheet;
    auto* sheeting =
        app.add_subcommand("sheet", "Writes a contact sheet of looks and views, or turned views");
    sheeting->add_option("project", sheet.project, "The project")->required();
    sheeting->add_option("-o,--output", sheet.output, "The .png, .tif, .exr or .pdf to write")->required();
    auto* sheetLooks = sheeting->add_option("--look", sheet.looks, "A look's id, more than once for several");
    sheeting->add_flag("--all-looks", sheet.allLooks, "As received, and every look")->excludes(sheetLooks);
    sheeting->add_option(
        "--view", sheet.views,
        "front, right, back, left or above, more than once for several; otherwise one that frames "
        "the model");
    sheeting->add_option("--light", sheet.environments, "An environment, more than once for several");
    sheeting->add_option("--size", sheet.size, "WIDTHxHEIGHT of each picture");
    sheeting->add_option("--columns", sheet.columns, "Otherwise as it fits")->check(CLI::Range(1, 20));
    sheeting->add_option("--margin", sheet.margin, "Around the sheet, in pixels")->check(CLI::Range(0, 1000));
    sheeting->add_option("--surround", sheet.surround, "pale, middle or dark")
        ->check(CLI::IsMember({"pale", "middle", "dark"}));
    sheeting->add_flag("--plain", sheet.plain, "Without names, differences and heading");
    sheeting
        ->add_option("--frames", sheet.frames,
                     "So many pictures once around the model, numbered, of one look")
        ->check(CLI::Range(1, 3600));
    sheeting->callback([&] { problems = makeSheet(out(), sheet); });
#endif

    CheckArguments checked;
    auto* checking = app.add_subcommand("check", "Looks for what is probably wrong in a project");
    checking->add_option("project", checked.project, "The project")->required();
    checking->add_option("--look", checked.look, "A look's id; otherwise as received");
    checking->callback([&] { problems = checkProjectFile(out(), checked); });

    app.add_subcommand("steps", "Prints the step reference as Markdown")->callback([&] {
        if (manner.json)
            out().set("steps", stepsAsJson());
        else
            std::fputs(stepReference().c_str(), stdout);
    });
    app.add_subcommand("schema", "Prints the JSON Schema of a project file")->callback([&] {
        if (manner.json)
            out().set("schema", Console::Json::parse(projectSchema()));
        else
            std::fputs(projectSchema().c_str(), stdout);
    });
    std::string documents;
    auto* docs = app.add_subcommand("docs", "Writes the step reference, its pictures and the schema");
    docs->add_option("folder", documents, "The folder to write to")->required();
    docs->callback([&] { problems = writeDocuments(out(), documents); });

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e);
    }
    return out().finish(problems);
}

}  // namespace

int main(int argc, char** argv) {
    spdlog::set_default_logger(spdlog::stderr_logger_mt("batch"));
    spdlog::set_pattern("%v");
    try {
        return runCommands(argc, argv);
    } catch (const std::system_error& e) {  // printing throws it
        spdlog::error(
            "Cannot print the result: where it goes has no room or is closed. Print it elsewhere. [{}]",
            e.what());
        return 1;
    } catch (...) {
        const kettle::Error error = kettle::errorOfException("do that");
        spdlog::error("{}{}", error.sentence, error.detail.empty() ? "" : " [" + error.detail + "]");
        return 1;
    }
}
