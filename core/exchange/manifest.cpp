#include "core/exchange/manifest.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/machine.h"
#include "core/engine/compile.h"
#include "core/exchange/item_maker.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

Json componentOf(const Project& project, const PackedComponent& c) {
    const Line* line = project.findLine(c.line);
    if (line == nullptr) return {{"value", c.isInverted ? 1 - c.otherwise : c.otherwise}};
    Json j{{"line", line->id}};
    if (!line->channel.empty()) j["channel"] = line->channel;
    if (!c.component.empty()) j["component"] = c.component;
    if (c.isInverted) j["inverted"] = true;
    return j;
}

/// What each component of a file of one line is, of so many.
std::vector<PackedComponent> componentsOf(const Project& project, const ExportItem& item, int count) {
    if (!item.components.empty()) return item.components;
    const Line* line = project.findLine(item.line);
    if (line == nullptr || kindGiven(*line) == Kind::Scalar) return {{item.line, ""}};
    static constexpr const char* kNames[] = {"red", "green", "blue", "alpha"};
    static constexpr const char* kAxes[] = {"x", "y", "z"};
    std::vector<PackedComponent> components;
    for (int c = 0; c < count && c < 4; ++c)
        components.push_back({item.line, kindGiven(*line) == Kind::Normal && c < 3 ? kAxes[c] : kNames[c]});
    return components;
}

Result<Json> entryOf(const ManifestEntry& entry, const Project& project, FileFormat format) {
    const ExportItem& item = entry.item;
    auto bytes = readFile(item.file, std::uintmax_t{1} << 40);
    if (!bytes) return fail(bytes.error());
    const auto info = inspectImage(item.file);
    if (!info) return fail(info.error());
    Json j{{"file", item.file.filename().string()},
           {"look", item.look},
           {"tile", item.tile},
           {"width", info->width},
           {"height", info->height}};
    if (const Line* line = project.findLine(item.line); line != nullptr && !line->surface.empty())
        j["surface"] = line->surface;
    if (!item.object.empty()) j["object"] = item.object;
    j["depth"] = nameOf(info->depth);
    j["encoding"] = encodingOf(project, item, format);
    j["components"] = Json::array();
    for (const PackedComponent& c : componentsOf(project, item, info->channels))
        j["components"].push_back(componentOf(project, c));
    j["identity"] = entry.identity;
    j["bytes"] = bytes->size();
    j["hash"] = fmt::format("{:016x}", hashText(*bytes));
    return j;
}

}  // namespace

Result<void> writeManifest(const std::vector<ManifestEntry>& entries, const Project& project,
                           FileFormat format, const fs::path& file, const ProtectedFiles& sources) {
    return guarded("write the manifest " + file.string(), [&]() -> Result<void> {
        Json files = Json::array();
        for (const ManifestEntry& entry : entries) {
            auto j = entryOf(entry, project, format);
            if (!j) return fail(j.error());
            files.push_back(std::move(*j));
        }
        const Json j{{"format", "pale-kettle-manifest"},
                     {"version", 1},
                     {"program", programVersion()},
                     {"files", std::move(files)}};
        return sources.write(file, j.dump(1, ' ', false, Json::error_handler_t::replace) + "\n");
    });
}

}  // namespace kettle
