#include "core/handover/materialx.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/files.h"
#include "core/engine/compile.h"
#include "core/engine/source_files.h"
#include "core/exchange/export.h"
#include "core/handover/material_format.h"
#include "core/handover/materialx_document.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

/// "kettle-celadon-roughness.<UDIM>.png" of a file that bears a tile.
std::string tokenOf(const fs::path& file, int tile, bool isTiled) {
    std::string name = file.filename().string();
    const std::string number = fmt::format(".{}.", tile);
    if (const auto at = name.rfind(number); isTiled && at != std::string::npos)
        name.replace(at, number.size(), ".<UDIM>.");
    return name;
}

}  // namespace

Result<HandedOver> writeMaterialX(const Project& project, const Resources& resources,
                                  const std::vector<std::string>& modelParts,
                                  const std::vector<std::string>& looks, const std::string& baseName,
                                  int size, const MaterialXOptions& options, const CancelToken& cancel,
                                  const std::function<void(double, const std::string&)>& progress) {
    return guarded("write " + options.file.string(), [&]() -> Result<HandedOver> {
        if (options.file.extension() != infoOf(MaterialFormat::MaterialXBaked).extension)
            return fail(ErrorKind::Refused, fmt::format("{} does not end in .mtlx. Choose a name that does.",
                                                        options.file.filename().string()));
        if (looks.empty()) return fail(ErrorKind::Refused, "Choose at least one look.");
        const std::string folder = options.file.stem().string() + "-maps";
        ExportOptions maps;
        maps.folder = options.file.parent_path() / folder;
        maps.pattern = project.surfaces.size() > 1 ? "{surface}_{look}_{channel}" : "{look}_{channel}";
        maps.looks = looks;
        maps.size = size;
        std::set<std::string> channels;
        HandedOver made;
        for (const auto& line : project.lines) {
            const bool isKnown = hasMaterialX(line->channel);
            if (isKnown) channels.insert(line->channel);
            if (!isKnown && !line->channel.empty())
                made.notes.push_back(fmt::format(
                    "{} is not part of these materials and was left out; export it as a map.", line->name));
        }
        if (channels.empty())
            return fail(ErrorKind::Refused, "There is no material to write. Bring in maps first.");
        maps.channels.assign(channels.begin(), channels.end());
        auto items = planExport(project, resources, maps);
        if (!items) return fail(items.error());
        auto exported = exportMaps(project, resources, maps, cancel, [&](const ExportProgress& p) {
            if (progress) progress(p.fraction * 0.95, p.what);
        });
        if (!exported) return fail(exported.error());
        MaterialXDocument document(project, modelParts, baseName, options);
        for (const std::string& look : looks) {
            MaterialXDocument::Sources images;
            for (const ExportItem& item : *items) {
                if (item.look != look) continue;
                const Line& line = *project.findLine(item.line);
                const bool isTiled = std::count_if(items->begin(), items->end(),
                                                   [&](const ExportItem& other) {
                                                       return other.look == look && other.line == item.line;
                                                   }) > 1 ||
                                     item.tile != 1001;
                images[{line.surface, line.channel}] = {folder + "/" + tokenOf(item.file, item.tile, isTiled),
                                                        {}};
            }
            document.addLook(look, images);
        }
        made.files = exported->files;
        made.notes.insert(made.notes.end(), exported->notes.begin(), exported->notes.end());
        if (auto done = SourceFiles(project, resources).write(options.file, document.text()); !done)
            return fail(done.error());
        made.files.push_back(options.file);
        return made;
    });
}

}  // namespace kettle
