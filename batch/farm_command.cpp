// Exports in pieces: plan, bake, status, collect.
#include <fmt/format.h>

#include <charconv>
#include <cstdlib>
#include <nlohmann/json.hpp>

#include "batch/commands.h"
#include "batch/opening.h"
#include "core/engine/source_files.h"
#include "core/handover/farm.h"

namespace kettle::batch {
namespace {

using Json = nlohmann::ordered_json;

/// "3", "3-7" (both among them) of items counted from 0.
bool parseItems(const std::string& text, std::size_t& first, std::size_t& last) {
    const auto dash = text.find('-');
    const char* const end = text.data() + text.size();
    const char* const middle = dash == std::string::npos ? end : text.data() + dash;
    const auto one = std::from_chars(text.data(), middle, first);
    if (one.ec != std::errc() || one.ptr != middle) return false;
    last = first;
    if (dash != std::string::npos) {
        const auto two = std::from_chars(middle + 1, end, last);
        if (two.ec != std::errc() || two.ptr != end) return false;
    }
    ++last;
    return last > first;
}

}  // namespace

Problems planExportOf(Console& out, const ExportArguments& a, const std::string& output) {
    auto opened = open(out, a.project);
    if (!opened) return {sentenceOf(opened.error())};
    ExportOptions options;
    if (Problems wrong = optionsOf(a, *opened, options); !wrong.empty()) return wrong;
    auto plan = planFarm(opened->project, opened->resources, a.project, options);
    if (!plan) return {sentenceOf(plan.error())};
    SourceFiles sources(opened->project, opened->resources);
    sources.add(a.project);
    if (auto free = sources.mayWrite(output); !free) return {sentenceOf(free.error())};
    if (auto saved = savePlan(*plan, output, sources); !saved) return {sentenceOf(saved.error())};
    out.say(fmt::format("{} has {} items, 0 to {}.", output, plan->items.size(),
                        plan->items.empty() ? 0 : plan->items.size() - 1));
    out.set("plan", output);
    out.set("items", plan->items.size());
    return {};
}

Problems bakePlan(Console& out, const std::string& file, const std::string& items, bool isArray) {
    auto plan = loadPlan(file);
    if (!plan) return {sentenceOf(plan.error())};
    std::size_t first = 0, last = plan->items.size(), step = 1;
    if (!items.empty() && !parseItems(items, first, last))
        return {fmt::format("\"{}\" are no items. Give them as 7 or as 0-99.", items)};
    if (isArray) {
        const auto place = arrayPlace([](const char* name) { return std::getenv(name); });
        if (!place)
            return {
                "This is no job of an array: no scheduler has said which. Run it as one, or give --items."};
        first = place->index;
        step = place->count;
        if (first >= last) return {};  // more jobs than items
    }
    auto opened = open(out, plan->project.string());
    if (!opened) return {sentenceOf(opened.error())};
    const auto wanted = static_cast<double>((last - first + step - 1) / step);
    double count = 0;
    auto done = bakeFarm(*plan, opened->project, opened->resources, first, last, step, {},
                         [&](const std::string& written) {
                             out.wrote(written);
                             out.progress(++count / wanted, written);
                         });
    if (!done) return {sentenceOf(done.error())};
    out.warn(done->notes);
    out.set("made", done->made);
    out.set("upToDate", done->skipped);
    if (!out.isJson()) out.tell(fmt::format("{} made, {} up to date.", done->made, done->skipped));
    return {};
}

Problems tellStatus(Console& out, const std::string& file) {
    auto plan = loadPlan(file);
    if (!plan) return {sentenceOf(plan.error())};
    const std::vector<FileState> states = statesOf(*plan);
    Json missing = Json::array(), outdated = Json::array();
    std::size_t done = 0;
    for (std::size_t i = 0; i < states.size(); ++i)
        if (states[i] == FileState::Done)
            ++done;
        else
            (states[i] == FileState::Missing ? missing : outdated).push_back(i);
    out.set("items", states.size());
    out.set("done", done);
    out.set("missing", missing);
    out.set("outdated", outdated);
    out.say(fmt::format("{} of {} items are done, {} are missing, {} are outdated.", done, states.size(),
                        missing.size(), outdated.size()));
    return {};
}

Problems collectPlan(Console& out, const std::string& file, const std::string& output) {
    auto plan = loadPlan(file);
    if (!plan) return {sentenceOf(plan.error())};
    auto opened = open(out, plan->project.string());
    if (!opened) return {sentenceOf(opened.error())};
    const std::string to = output.empty() ? (plan->folder / "manifest.json").string() : output;
    SourceFiles sources(opened->project, opened->resources);
    sources.add(plan->project);
    if (auto free = sources.mayWrite(to); !free) return {sentenceOf(free.error())};
    if (auto written = collectFarm(*plan, opened->project, to); !written)
        return {sentenceOf(written.error())};
    out.wrote(to);
    return {};
}

}  // namespace kettle::batch
