// Materials for other programs: glTF with the model, or MaterialX.
#include <fmt/format.h>

#include "batch/commands.h"
#include "batch/opening.h"
#include "core/base/names.h"
#include "core/engine/source_files.h"
#include "core/handover/gltf.h"
#include "core/handover/material_format.h"
#include "core/handover/materialx.h"
#include "core/handover/materialx_network.h"
#include "core/scene/scene_store.h"

namespace kettle::batch {
namespace {

namespace fs = std::filesystem;
constexpr const char* kBaseName = "As received";

Problems told(Console& out, const Result<HandedOver>& made) {
    if (!made) return {sentenceOf(made.error())};
    for (const fs::path& file : made->files) out.wrote(file);
    out.warn(made->notes);
    return {};
}

}  // namespace

Problems exportMaterials(Console& out, const MaterialArguments& a) {
    auto opened = open(out, a.project, true);
    if (!opened) return {sentenceOf(opened.error())};
    std::vector<std::string> looks = a.looks;
    if (a.allLooks || looks.empty()) {
        looks = {};
        if (!a.allLooks || opened->project.looks.empty()) looks.emplace_back();
        if (a.allLooks)
            for (const auto& look : opened->project.looks) looks.push_back(look->id);
    }
    for (const std::string& look : looks)
        if (!look.empty() && opened->project.findLook(look) == nullptr)
            return {fmt::format("The project has no look {}. Choose another.", look)};
    auto scene = opened->scenes->load(opened->project.view.model, opened->project.view.unit);
    if (!scene) return {sentenceOf(scene.error())};
    if (a.name.find('/') != std::string::npos)
        return {fmt::format(
            "\"{}\" holds a \"/\", which no name of a file can have. Name the folder by --out.", a.name)};
    const fs::path folder = a.folder,
                   stem = stemOf(a.name.empty() ? fs::path(a.project).stem().string() : a.name, "materials");
    std::error_code code;
    fs::create_directories(folder, code);
    if (code) return {fmt::format("Cannot make the folder {}. Choose another.", a.folder)};
    // The command line has refused other words.
    const MaterialFormat format = materialFormatOf(a.format).value_or(MaterialFormat::Glb);
    fs::path file = folder / stem;
    file += infoOf(format).extension;
    SourceFiles sources(opened->project, opened->resources);
    sources.add(a.project);
    if (auto free = sources.mayWrite(file); !free) return {sentenceOf(free.error())};
    const auto progress = [&](double part, const std::string& what) { out.progress(part, what); };
    if (format == MaterialFormat::MaterialXNetwork)
        return told(out, writeMaterialXNetwork(opened->project, opened->resources, (*scene)->mesh().parts,
                                               looks, kBaseName, a.size, file, {}, progress));
    if (!infoOf(format).hasModel) {
        MaterialXOptions options;
        options.file = file;
        if (format == MaterialFormat::MaterialXOpenPbr) options.surface = MaterialXSurface::OpenPbr;
        return told(out, writeMaterialX(opened->project, opened->resources, (*scene)->mesh().parts, looks,
                                        kBaseName, a.size, options, {}, progress));
    }
    BakeOptions bake;
    bake.looks = looks;
    bake.size = a.size;
    auto baked = bakeMaterials(opened->project, opened->resources, bake, {}, progress);
    if (!baked) return {sentenceOf(baked.error())};
    GltfOptions options;
    options.file = file;
    options.isJpeg = a.jpeg;
    options.sources = sources;
    return told(out, writeGltf((*scene)->mesh(), opened->project, *baked, looks, kBaseName, options));
}

}  // namespace kettle::batch
