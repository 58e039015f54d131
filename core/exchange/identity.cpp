#include "core/exchange/identity.h"

#include <fmt/format.h>

#include <set>

#include "core/base/hash.h"
#include "core/base/machine.h"
#include "core/document/json.h"
#include "core/document/network.h"
#include "core/document/recipes.h"
#include "core/image/map_image.h"
#include "core/steps/step.h"

namespace kettle {

namespace fs = std::filesystem;

Identities::Identities(const Project& project, const Resources& resources, FileFormat format,
                       const WriteChoices& choices)
    : m_project(project),
      m_resources(resources),
      m_settings(fmt::format("{} {} {} {} {} {}", programVersion(), nameOf(format),
                             static_cast<int>(choices.compression), choices.quality,
                             project.colour.workingSpace, project.colour.configuration)) {}

struct Identities::OfLook {
    OfLook(const Project& project, const std::string& id)
        : look(id), open(withoutRecipes(project, project.findLook(id))), network(open.project) {}
    std::string look;
    Opened open;
    Network network;
    const Look* shownBy() const { return open.look ? &*open.look : nullptr; }
};

Identities::~Identities() = default;

const Identities::OfLook& Identities::openedFor(const std::string& look) {
    if (m_last == nullptr || m_last->look != look) m_last = std::make_unique<OfLook>(m_project, look);
    return *m_last;
}

std::uint64_t Identities::ofFile(const fs::path& file) {
    if (const auto known = m_files.find(file); known != m_files.end()) return known->second;
    std::error_code code;
    const auto size = fs::file_size(file, code);
    const auto time = code ? fs::file_time_type{} : fs::last_write_time(file, code);
    const std::string words =
        code ? file.string() + " missing"
             : fmt::format("{} {} {}", file.string(), size, time.time_since_epoch().count());
    return m_files[file] = hashText(words);
}

std::uint64_t Identities::ofLine(const std::string& look, const std::string& line) {
    if (const auto known = m_lines.find({look, line}); known != m_lines.end()) return known->second;
    const OfLook& opened = openedFor(look);
    const Network& network = opened.network;
    std::vector<Step> steps;
    std::set<std::pair<std::string, std::string>> maps;
    std::string kinds;
    bool followsModel = false;
    network.walk(
        {network.endOf(line)}, [&](Node node) { return network.inputs(node); },
        [&](Node node) {
            Step step = withLook(opened.open.project, network.step(node), opened.shownBy());
            step.note.clear();
            if (!step.set.empty()) maps.insert({step.set, step.role});
            const StepSpec* spec = m_resources.steps().find(step.type);
            const Kind kind = network.line(node).kind;
            if (spec != nullptr && spec->onModel && spec->onModel(StepView(*spec, step, kind)))
                followsModel = true;
            kinds += nameOf(kind);
            steps.push_back(std::move(step));
        },
        [](Node) {});
    std::uint64_t hash = combine(hashText(stepsToText(steps)), hashText(kinds));
    for (const auto& [setId, role] : maps) {
        const TextureSet* set = m_project.findSet(setId);
        const Map* map = set != nullptr ? findMap(*set, role) : nullptr;
        if (map == nullptr) continue;
        const fs::path file = m_resources.fileOf(*set, *map);
        hash = combine(hash, hashText(map->encoding + " " + file.string()));
        if (!map->channels.empty()) hash = combine(hash, hashText("channels " + map->channels));
        if (!isTilePattern(file)) {
            hash = combine(hash, ofFile(file));
            continue;
        }
        std::string pattern = file.string();
        const auto token = pattern.find("<UDIM>");
        for (const int tile : tilesOnDisk(file)) {
            std::string one = pattern;
            if (token != std::string::npos) one.replace(token, 6, std::to_string(tile));
            hash = combine(hash, ofFile(one));
        }
    }
    if (followsModel) {
        hash = combine(hash, hashText(m_project.view.model + " " + m_project.view.unit));
        if (isFile(m_project.view.model)) hash = combine(hash, ofFile(m_project.view.model));
        for (const auto& [name, number] : m_project.objects->objects)
            hash = combine(hash, hashText(fmt::format("{} {}", name, number)));
        for (const auto& [name, number] : m_project.objects->parts)
            hash = combine(hash, hashText(fmt::format("part {} {}", name, number)));
    }
    return m_lines[{look, line}] = hash;
}

std::string Identities::of(const ExportItem& item) {
    std::uint64_t hash = hashText(fmt::format("{} {} {}x{} {} {}", m_settings, item.tile, item.width,
                                              item.height, item.object, m_project.view.object));
    if (!item.space.empty()) hash = combine(hash, hashText("space " + item.space));
    if (item.dither) hash = combine(hash, hashText("dither"));
    if (item.components.empty()) hash = combine(hash, ofLine(item.look, item.line));
    for (const PackedComponent& c : item.components) {
        hash = combine(hash, hashText(fmt::format("{} {} {}", c.component, c.otherwise, c.isInverted)));
        if (!c.line.empty()) hash = combine(hash, ofLine(item.look, c.line));
    }
    return fmt::format("{:016x}", hash);
}

}  // namespace kettle
