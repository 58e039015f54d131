#include "core/exchange/item_maker.h"

#include <fmt/format.h>

#include <cstdlib>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/document/json_reader.h"
#include "core/engine/compile.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

constexpr const char* kRecords = ".pale-kettle";
/// Some disks keep times to two seconds.
constexpr std::int64_t kSameTime = 2'000'000'000;

/// When a file was written, in nanoseconds; 0 if the disk does not say.
std::int64_t timeOf(const fs::path& file) {
    std::error_code code;
    const auto time = fs::last_write_time(file, code);
    return code ? 0 : std::chrono::nanoseconds(time.time_since_epoch()).count();
}

Result<void> record(const fs::path& file, const std::string& identity) {
    std::error_code code;
    fs::create_directory(file.parent_path() / kRecords, code);  // the folder itself, if it is gone, stays so
    const Json j{{"identity", identity}, {"size", fs::file_size(file, code)}, {"written", timeOf(file)}};
    return writeFileAtomically(recordOf(file), j.dump() + "\n");
}

/// Of a packed file the first component that a line drives tells.
Kind kindOf(const Project& project, const ExportItem& item) {
    std::string id = item.line;
    for (const PackedComponent& c : item.components)
        if (!c.line.empty()) {
            id = c.line;
            break;
        }
    const Line* line = project.findLine(id);
    return line == nullptr ? Kind::Scalar : kindGiven(*line);
}

}  // namespace

fs::path recordOf(const fs::path& file) {
    return file.parent_path() / kRecords / (file.filename().string() + ".json");
}

FileState stateOf(const fs::path& file, const std::string& identity) {
    std::error_code code;
    const auto size = fs::file_size(file, code);
    if (code) return FileState::Missing;
    const auto text = readFile(recordOf(file), 1 << 16);
    if (!text) return FileState::Outdated;
    Json j;
    try {
        j = json::parsed(*text);
    } catch (const json::Wrong&) {
        return FileState::Outdated;
    } catch (const Json::exception&) {
        return FileState::Outdated;
    }
    const auto number = [&](const char* key) {
        return j.contains(key) && j.at(key).is_number_integer() ? j.at(key).get<std::int64_t>() : -1;
    };
    if (!j.is_object() || !j.contains("identity") || j.at("identity") != identity) return FileState::Outdated;
    const bool isSame = number("size") == static_cast<std::int64_t>(size) &&
                        std::abs(number("written") - timeOf(file)) <= kSameTime;
    return isSame ? FileState::Done : FileState::Outdated;
}

std::string encodingOf(const Project& project, const ExportItem& item, FileFormat format) {
    if (kindOf(project, item) != Kind::Colour) return encoding::kRaw;
    if (!item.space.empty()) return item.space;
    return isFloat(format) && item.components.empty() ? encoding::kLinear : encoding::kSrgb;
}

std::string tagOf(const Project& project, const ExportItem& item, FileFormat format) {
    const std::string held = encodingOf(project, item, format);
    return held == encoding::kRaw || (isFloat(format) && held == encoding::kLinear) ? "" : held;
}

Result<MadeItem> makeItem(const Project& project, const Resources& resources, const ExportItem& item,
                          const std::string& identity, FileFormat format, const WriteChoices& choices,
                          const ProtectedFiles& sources, PixelBuffer& pixels, std::vector<std::string>& notes,
                          const CancelToken& cancel, const std::function<void(double)>& progress) {
    if (stateOf(item.file, identity) == FileState::Done) return MadeItem{true, {}};
    auto done = sources.mayWrite(item.file);  // before the work
    if (!done) return fail(done.error());
    done = renderItem(project, resources, item, format, pixels, notes, cancel, progress);
    if (!done) return fail(done.error());
    done = writeImage(item.file, pixels, format, tagOf(project, item, format), choices, sources);
    if (!done) return fail(done.error());
    // After the file, so that a record always tells of a whole one.
    if (auto kept = record(item.file, identity); !kept) return MadeItem{false, kept.error()};
    return MadeItem{};
}

}  // namespace kettle
