// The batch tool's commands: the same core without a screen. Each tells its result to the console and returns
// the problems as sentences; an empty list means that everything asked for is done.
#pragma once

#include <string>
#include <vector>

#include "batch/console.h"
#include "core/exchange/export.h"
#include "core/image/image.h"

namespace kettle::batch {

struct ExportArguments {
    std::string project, folder, format = "png8", pattern;
    std::vector<std::string> looks, channels, surfaces;
    std::string compression = "fast";
    bool allLooks = false, strict = false;
    int size = 0, quality = 95;
    bool eachObject = false, packed = false, dither = false, again = false, manifest = false;
    std::string object, arrangement, space;
};
struct ProbeArguments {
    std::string project, line, surface, after, look, uv;
    std::vector<std::string> set;
};
struct PictureArguments {
    std::string project, output, look, size = "900x600";
};

struct Opened;
/// What the arguments ask for, of an opened project; problems as sentences.
Problems optionsOf(const ExportArguments& arguments, Opened& opened, ExportOptions& options);
/// A farm: the plan of an export; some of its items made; what is done; the manifest when all is.
Problems planExportOf(Console& out, const ExportArguments& arguments, const std::string& output);
Problems bakePlan(Console& out, const std::string& plan, const std::string& items, bool isArray);
Problems tellStatus(Console& out, const std::string& plan);
Problems collectPlan(Console& out, const std::string& plan, const std::string& output);
Problems createProject(Console& out, const std::string& folder, const std::string& output, bool force);
struct UpgradeArguments {
    std::string project, output;
    bool newestSteps = false, force = false;
};
/// Writes a project in the newest format; its steps keep what they compute unless they are made new.
Problems upgradeProject(Console& out, const UpgradeArguments& arguments);
Problems printInfo(Console& out, const std::string& project);
Problems probeProject(Console& out, const ProbeArguments& arguments);
Problems exportProject(Console& out, const ExportArguments& arguments);
Problems takePicture(Console& out, const PictureArguments& arguments);
struct SheetArguments {
    std::string project, output, size = "640x400", surround;
    std::vector<std::string> looks, views, environments;
    bool allLooks = false, plain = false;
    int columns = 0, margin = 32, frames = 0;
};
/// A contact sheet, or with frames pictures once around the model.
Problems makeSheet(Console& out, const SheetArguments& arguments);
struct MaterialArguments {
    std::string project, folder, format = "glb", name;
    std::vector<std::string> looks;
    bool allLooks = false, jpeg = false;
    int size = 2048;
};
/// The model with its materials as glTF, or the materials as MaterialX.
Problems exportMaterials(Console& out, const MaterialArguments& arguments);
struct CheckArguments {
    std::string project, look;
};
/// Prints the findings. What is returned as problems are its errors: warnings and hints are no failure.
Problems checkProjectFile(Console& out, const CheckArguments& arguments);
/// Writes steps.md, steps/*.png, recipes.md and the schemas into a folder.
Problems writeDocuments(Console& out, const std::string& folder);

}  // namespace kettle::batch
