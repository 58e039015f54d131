#include "core/handover/farm.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/machine.h"
#include "core/document/json_reader.h"
#include "core/engine/source_files.h"
#include "core/exchange/identity.h"
#include "core/exchange/item_maker.h"
#include "core/exchange/manifest.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

constexpr const char* kFormat = "pale-kettle-plan";
constexpr int kVersionOfPlan = 1;

Json toJson(const PackedComponent& c) {
    return {
        {"line", c.line}, {"component", c.component}, {"otherwise", c.otherwise}, {"inverted", c.isInverted}};
}

Json toJson(const FarmItem& one) {
    const ExportItem& item = one.item;
    Json j{{"file", item.file.string()}, {"identity", one.identity}, {"look", item.look},
           {"line", item.line},          {"tile", item.tile},        {"width", item.width},
           {"height", item.height}};
    if (!item.object.empty()) j["object"] = item.object;
    if (item.dither) j["dither"] = true;
    if (!item.space.empty()) j["space"] = item.space;
    for (const PackedComponent& c : item.components) j["components"].push_back(toJson(c));
    return j;
}

FarmItem itemOf(const Json& j) {
    FarmItem one;
    one.item.file = j.at("file").get<std::string>();
    one.identity = j.at("identity").get<std::string>();
    one.item.look = j.at("look").get<std::string>();
    one.item.line = j.at("line").get<std::string>();
    one.item.tile = j.at("tile").get<int>();
    one.item.width = j.at("width").get<int>();
    one.item.height = j.at("height").get<int>();
    one.item.object = j.value("object", std::string());
    one.item.dither = j.value("dither", false);
    one.item.space = j.value("space", std::string());
    if (j.contains("components"))
        for (const Json& c : j.at("components"))
            one.item.components.push_back({c.at("line").get<std::string>(),
                                           c.at("component").get<std::string>(),
                                           c.at("otherwise").get<float>(), c.at("inverted").get<bool>()});
    return one;
}

/// The item as it lies in the plan's folder.
ExportItem placed(const FarmPlan& plan, const FarmItem& one) {
    ExportItem item = one.item;
    item.file = plan.folder / item.file;
    return item;
}

tl::unexpected<Error> noPlan(const fs::path& file, const std::string& why) {
    return fail(ErrorKind::Unreadable,
                fmt::format("{} is no plan that this program can follow: {}. Make it again with `plan`.",
                            file.string(), why));
}

class Worker {
public:
    Worker(const FarmPlan& plan, const Project& project, const Resources& resources,
           const CancelToken& cancel)
        : m_plan(plan),
          m_project(project),
          m_resources(resources),
          m_identities(project, resources, plan.format, plan.choices),
          m_sources(project, resources),
          m_cancel(cancel) {}

    Result<void> make(const FarmItem& one, FarmDone& done) {
        const ExportItem item = placed(m_plan, one);
        // What is up to date is not even asked about.
        if (stateOf(item.file, one.identity) == FileState::Done) {
            ++done.skipped;
            return {};
        }
        if (m_project.findLine(one.item.line) == nullptr || m_identities.of(one.item) != one.identity)
            return fail(
                ErrorKind::Refused,
                fmt::format("What {} is made of has changed since the plan was made: the project, or one of "
                            "its maps. Make the plan again.",
                            one.item.file.string()));
        auto made = makeItem(m_project, m_resources, item, one.identity, m_plan.format, m_plan.choices,
                             m_sources, m_pixels, done.notes, m_cancel);
        if (!made) return fail(made.error());
        // Without its record nobody would know that the item is done.
        if (made->unrecorded) return fail(*made->unrecorded);
        ++(made->wasUpToDate ? done.skipped : done.made);
        return {};
    }

private:
    const FarmPlan& m_plan;
    const Project& m_project;
    const Resources& m_resources;
    Identities m_identities;
    const SourceFiles m_sources;
    const CancelToken& m_cancel;
    PixelBuffer m_pixels;
};

}  // namespace

Result<FarmPlan> planFarm(const Project& project, const Resources& resources, const fs::path& projectFile,
                          const ExportOptions& options) {
    return guarded("plan the export", [&]() -> Result<FarmPlan> {
        auto items = planExport(project, resources, options);
        if (!items) return fail(items.error());
        FarmPlan plan;
        plan.project = fs::absolute(projectFile).lexically_normal();
        plan.folder = fs::absolute(options.folder).lexically_normal();
        plan.arithmetic = arithmeticName();
        plan.format = options.format;
        plan.choices = options.choices;
        Identities identities(project, resources, options.format, options.choices);
        for (ExportItem& item : *items) {
            std::string identity = identities.of(item);
            item.file = item.file.filename();
            plan.items.push_back({std::move(item), std::move(identity)});
        }
        return plan;
    });
}

Result<void> savePlan(const FarmPlan& plan, const fs::path& file, const ProtectedFiles& sources) {
    Json j{{"format", kFormat},
           {"version", kVersionOfPlan},
           {"program", programVersion()},
           {"project", plan.project.string()},
           {"folder", plan.folder.string()},
           {"arithmetic", plan.arithmetic},
           {"fileFormat", nameOf(plan.format)},
           {"compression", static_cast<int>(plan.choices.compression)},
           {"quality", plan.choices.quality},
           {"items", Json::array()}};
    for (const FarmItem& one : plan.items) j["items"].push_back(toJson(one));
    return sources.write(file, j.dump(1) + "\n");
}

Result<FarmPlan> loadPlan(const fs::path& file) {
    auto text = readFile(file);
    if (!text) return fail(text.error());
    return guarded("read the plan " + file.string(), [&]() -> Result<FarmPlan> {
        Json j;
        try {
            j = json::parsed(*text);
        } catch (const json::Wrong& w) {
            return noPlan(file, "it " + w.what);
        } catch (const Json::exception&) {
            return noPlan(file, "it is no complete JSON");
        }
        if (!j.is_object() || j.value("format", std::string()) != kFormat)
            return noPlan(file, "it is another kind of file");
        if (j.value("version", 0) != kVersionOfPlan) return noPlan(file, "it is of another version");
        if (j.value("program", std::string()) != programVersion())
            return noPlan(file, fmt::format("it was made by version {} of the program, and this is {}",
                                            j.value("program", std::string("?")), programVersion()));
        try {
            FarmPlan plan;
            plan.project = j.at("project").get<std::string>();
            plan.folder = j.at("folder").get<std::string>();
            plan.arithmetic = j.at("arithmetic").get<std::string>();
            if (!fileFormatOf(j.at("fileFormat").get<std::string>(), plan.format))
                return noPlan(file, "its files' format is unknown");
            plan.choices.compression =
                static_cast<Compression>(std::clamp(j.at("compression").get<int>(), 0, 2));
            plan.choices.quality = std::clamp(j.at("quality").get<int>(), 1, 100);
            for (const Json& item : j.at("items")) {
                plan.items.push_back(itemOf(item));
                const ExportItem& one = plan.items.back().item;
                // A plan says names, and no way out of its folder.
                if (one.file != one.file.filename() || one.file.empty() || one.width < 1 || one.height < 1 ||
                    one.width > 65536 || one.height > 65536)
                    return noPlan(file, "an item of it is broken");
            }
            return plan;
        } catch (const Json::exception&) {
            return noPlan(file, "something is missing in it");
        }
    });
}

Result<FarmDone> bakeFarm(const FarmPlan& plan, const Project& project, const Resources& resources,
                          std::size_t first, std::size_t last, std::size_t step, const CancelToken& cancel,
                          const std::function<void(const std::string&)>& wrote) {
    return guarded("bake", [&]() -> Result<FarmDone> {
        if (first > last || last > plan.items.size() || step == 0)
            return fail(ErrorKind::Refused,
                        fmt::format("The plan has {} items, and {} to {} are not among them. Choose others.",
                                    plan.items.size(), first, last));
        if (plan.arithmetic != arithmeticName())
            return fail(
                ErrorKind::Refused,
                fmt::format("The plan was made on a machine with {} arithmetic, and this one's is {}: "
                            "its files could differ in the last bit. Make plan and files on machines "
                            "of one kind.",
                            plan.arithmetic, arithmeticName()));
        std::error_code code;
        fs::create_directories(plan.folder, code);
        if (code)
            return fail(ErrorKind::Write,
                        fmt::format("Cannot make the folder {}. Choose another.", plan.folder.string()),
                        code.message());
        Worker worker(plan, project, resources, cancel);
        FarmDone done;
        for (std::size_t i = first; i < last; i += step) {
            if (cancel.isCancelled())
                return fail(ErrorKind::Cancelled, "The baking was stopped. What was finished stays.");
            const int before = done.made;
            if (auto made = worker.make(plan.items[i], done); !made) return fail(made.error());
            if (wrote && done.made > before) wrote((plan.folder / plan.items[i].item.file).string());
        }
        return done;
    });
}

std::vector<FileState> statesOf(const FarmPlan& plan) {
    std::vector<FileState> states;
    for (const FarmItem& one : plan.items)
        states.push_back(stateOf(plan.folder / one.item.file, one.identity));
    return states;
}

Result<void> collectFarm(const FarmPlan& plan, const Project& project, const fs::path& file) {
    std::vector<ManifestEntry> entries;
    for (const FarmItem& one : plan.items) {
        entries.push_back({placed(plan, one), one.identity});
        if (stateOf(entries.back().item.file, one.identity) != FileState::Done)
            return fail(ErrorKind::Refused,
                        fmt::format("{} is not done yet. Bake the missing items first; `status` tells which.",
                                    one.item.file.string()));
    }
    return writeManifest(entries, project, plan.format, file);
}

std::optional<ArrayPlace> arrayPlace(const std::function<const char*(const char*)>& environment) {
    const auto number = [&](const char* name) -> std::optional<long> {
        const char* text = environment(name);
        if (text == nullptr) return std::nullopt;
        const std::string_view word(text);
        long value = 0;
        const auto read = std::from_chars(word.data(), word.data() + word.size(), value);
        if (read.ec != std::errc() || read.ptr != word.data() + word.size()) return std::nullopt;
        return value;
    };
    // The index, the first and the last one, and how many, as each of the common schedulers calls them.
    struct Names {
        const char *index, *first, *last, *count;
    };
    constexpr Names kNames[] = {
        {"SLURM_ARRAY_TASK_ID", "SLURM_ARRAY_TASK_MIN", "SLURM_ARRAY_TASK_MAX", "SLURM_ARRAY_TASK_COUNT"},
        {"SGE_TASK_ID", "SGE_TASK_FIRST", "SGE_TASK_LAST", nullptr},
        {"PBS_ARRAY_INDEX", nullptr, nullptr, "PBS_ARRAY_COUNT"},
        {"LSB_JOBINDEX", nullptr, "LSB_JOBINDEX_END", nullptr}};
    for (const Names& names : kNames) {
        const auto index = number(names.index);
        if (!index) continue;
        const auto read = [&](const char* name) { return name != nullptr ? number(name) : std::nullopt; };
        const auto last = read(names.last), count = read(names.count);
        // Without a first one, arrays begin at 0 if the index does, else at 1.
        const long first = read(names.first).value_or(*index == 0 ? 0 : 1);
        ArrayPlace place;
        place.index = static_cast<std::size_t>(std::max(0L, *index - first));
        place.count = static_cast<std::size_t>(
            std::max({1L, count.value_or(last ? *last - first + 1 : 1), *index - first + 1}));
        return place;
    }
    return std::nullopt;
}

}  // namespace kettle
