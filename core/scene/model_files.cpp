#include "core/scene/model_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cstdint>
#include <cstring>
#include <fstream>
#include <string>

#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/document/json_reader.h"
#include "core/document/model_format.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;
using json::Json;

constexpr std::uintmax_t kLargestModel = std::uintmax_t{4} << 30;

tl::unexpected<Error> cannot(const fs::path& file, const std::string& why) {
    return fail(
        ErrorKind::Unreadable,
        fmt::format("Cannot read the model {}: {}. Save it again as OBJ, GLB or PLY.", file.string(), why));
}

/// A file that the model names must be one that can be read to its end.
Result<void> checkNamed(const fs::path& model, const std::string& name) {
    const fs::path file = model.parent_path() / name;
    std::error_code code;
    if (!fs::exists(file, code)) return {};  // the library says what is missing
    return checkReadable(file, kLargestModel, "what the model names,");
}

/// The JSON part of a GLB: 12 bytes of header, then chunks of a length, a mark and that many bytes.
Result<std::string> jsonOfGlb(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::array<std::uint32_t, 5> head{};
    in.read(reinterpret_cast<char*>(head.data()), sizeof head);
    std::error_code code;
    const auto size = fs::file_size(file, code);
    constexpr std::uint32_t kJson = 0x4E4F534A;
    if (!in || code || head[4] != kJson) return cannot(file, "it is no whole GLB");
    const std::uint64_t whole = head[2], text = head[3];
    if (whole > size || text + sizeof head > size)
        return cannot(file, fmt::format("it says that it has {} bytes, and the file has {}",
                                        std::max(whole, text + sizeof head), size));
    if (text > kLargestText) return cannot(file, "its description takes " + sizeInWords(text));
    std::string json(static_cast<std::size_t>(text), '\0');
    in.read(json.data(), static_cast<std::streamsize>(json.size()));
    if (!in) return cannot(file, "it is no whole GLB");
    return json;
}

Result<void> checkGltfText(const fs::path& file, const std::string& text) {
    const Json j = json::parsed(text);
    if (!j.is_object()) return cannot(file, "it describes nothing");
    const auto list = [&](const char* key) {
        return j.contains(key) && j[key].is_array() ? j[key] : Json::array();
    };
    const Json nodes = list("nodes");
    std::vector<bool> hasParent(nodes.size(), false);
    for (const Json& node : nodes) {
        if (!node.is_object() || !node.contains("children") || !node["children"].is_array()) continue;
        for (const Json& child : node["children"]) {
            if (!child.is_number_unsigned() || child.get<std::uint64_t>() >= nodes.size())
                return cannot(file, "one of its nodes holds a node that is not there");
            const auto at = child.get<std::size_t>();
            if (hasParent[at])
                return cannot(file, fmt::format("its node {} has two parents, which glTF forbids", at));
            hasParent[at] = true;
        }
    }
    for (const Json& buffer : list("buffers")) {
        if (!buffer.is_object() || !buffer.contains("uri") || !buffer["uri"].is_string()) continue;
        const auto uri = buffer["uri"].get<std::string>();
        if (uri.starts_with("data:")) continue;
        if (auto fine = checkNamed(file, uri); !fine) return fine;
    }
    return {};
}

Result<void> checkGltf(const fs::path& file, bool isBinary) {
    const auto text = isBinary ? jsonOfGlb(file) : readFile(file);
    if (!text) return fail(text.error());
    try {
        return checkGltfText(file, *text);
    } catch (const json::Wrong& w) {
        return cannot(file, "its description " + w.what);
    } catch (const Json::exception&) {
        return cannot(file, "its description is no complete JSON");
    }
}

Result<void> checkObj(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    constexpr std::string_view kNames = "mtllib ";
    for (std::string line; std::getline(in, line);) {
        if (!line.starts_with(kNames)) continue;
        std::string name = line.substr(kNames.size());
        while (!name.empty() && std::isspace(static_cast<unsigned char>(name.back())) != 0) name.pop_back();
        if (auto fine = checkNamed(file, name); !fine) return fine;
    }
    return {};
}

/// The mesh library waits for ever for the end of a header that is cut off.
Result<void> checkPly(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::string head(std::size_t{1} << 20, '\0');
    in.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(in.gcount(), 0)));
    if (!head.starts_with("ply") || head.find("end_header") != std::string::npos) return {};
    return fail(
        ErrorKind::Unreadable,
        fmt::format("Cannot read the model {}: it ends in its header. Copy it again.", file.string()));
}

}  // namespace

Result<void> checkModelFile(const fs::path& file) {
    const auto format = modelFormatOf(file);
    std::array<char, 4> mark{};
    std::ifstream(file, std::ios::binary).read(mark.data(), mark.size());
    if (format == ModelFormat::Glb || std::memcmp(mark.data(), "glTF", mark.size()) == 0)
        return checkGltf(file, true);
    if (format == ModelFormat::Gltf) return checkGltf(file, false);
    return format == ModelFormat::Obj ? checkObj(file) : checkPly(file);
}

}  // namespace kettle
