#include "core/exchange/learnt_names.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/files.h"
#include "core/document/json_reader.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using json::Json;
constexpr const char* kFormat = "pale-kettle-names";

LearntName nameOf(const Json& j, const std::string& path) {
    json::Reader r(j, path);
    LearntName name;
    name.words = r.needText("words");
    name.role = r.text("role");
    std::size_t count = 0;
    r.each("components", [&](const Json& c, const std::string& at) {
        if (!c.is_string() || count >= name.components.size()) json::wrong(at, "should be one of four texts");
        name.components[count++] = c.get<std::string>();
    });
    name.greenDown = r.flag("green-down");
    name.isKnown = r.flag("known", true);
    name.isTaken = r.flag("taken", true);
    return name;
}

}  // namespace

void learn(LearntNames& names, const BringPlan& plan) {
    for (const PlannedSet& set : plan.sets)
        for (const PlannedMap& map : set.maps) {
            if (!map.isChosen || !map.channels.empty()) continue;
            const LearntName learnt{ownWordsOf(map.name), map.name.role,    map.name.components,
                                    map.name.greenDown,   map.name.isKnown, map.isTaken};
            // One albedo that is left out says nothing of the next: only words that name no map are learnt
            // so.
            const bool namesAMap = readMapNames({learnt.words + ".png"}).front().isKnown;
            if (learnt.words.empty() || (!learnt.isTaken && namesAMap)) continue;
            std::erase_if(names, [&](const LearntName& n) { return n.words == learnt.words; });
            names.insert(names.begin(), learnt);
        }
    names.resize(std::min(names.size(), kMostLearntNames));
}

void recall(const LearntNames& names, BringPlan& plan) {
    for (PlannedSet& set : plan.sets)
        for (PlannedMap& map : set.maps) {
            const std::string own = map.channels.empty() ? ownWordsOf(map.name) : std::string();
            const auto at =
                std::find_if(names.begin(), names.end(), [&](const LearntName& n) { return n.words == own; });
            if (own.empty() || at == names.end()) continue;
            map.name.role = at->role;
            map.name.components = at->components;
            map.name.greenDown = at->greenDown;
            map.name.isKnown = at->isKnown;
            map.name.isGuess = false;
            map.name.reason = fmt::format("as you chose for \"{}\" before", own);
            map.isTaken = at->isTaken;
            map.warning.clear();
        }
}

Result<LearntNames> readLearntNames(const fs::path& file) {
    std::error_code error;
    if (!fs::exists(file, error)) return LearntNames();
    const auto text = readFile(file);
    if (!text) return fail(text.error());
    const auto isWrong = [&](const std::string& why) {
        return fail(
            ErrorKind::Invalid,
            fmt::format("Cannot read the names that were learnt, {}: {}. Correct the file, or remove it.",
                        file.string(), why));
    };
    try {
        const Json j = json::parsed(*text);
        json::Reader r(j, "");
        if (r.text("format") != kFormat) json::wrong("format", fmt::format("is not \"{}\"", kFormat));
        if (r.number("version", 1) > 1) json::wrong("version", "is that of a newer Pale Kettle");
        LearntNames names;
        r.each("names", [&](const Json& n, const std::string& path) { names.push_back(nameOf(n, path)); });
        names.resize(std::min(names.size(), kMostLearntNames));
        return names;
    } catch (const json::Wrong& w) {
        return isWrong(fmt::format("{} {}", w.path.empty() ? "it" : w.path, w.what));
    } catch (const Json::exception&) {
        return isWrong("it is not complete JSON");
    }
}

Result<void> writeLearntNames(const fs::path& file, const LearntNames& names) {
    Json j{{"format", kFormat}, {"version", 1}, {"names", Json::array()}};
    for (const LearntName& name : names) {
        Json one{{"words", name.words}, {"role", name.role}};
        if (name.components != Components{}) one["components"] = name.components;
        if (name.greenDown) one["green-down"] = true;
        if (!name.isKnown) one["known"] = false;
        if (!name.isTaken) one["taken"] = false;
        j["names"].push_back(std::move(one));
    }
    std::error_code error;
    fs::create_directories(file.parent_path(), error);
    if (error)
        return fail(ErrorKind::Write,
                    fmt::format("Cannot make the folder {}: {}. Check that it can be written.",
                                file.parent_path().string(), error.message()));
    return writeFileAtomically(file, json::textOf(j, 2) + "\n");
}

}  // namespace kettle
