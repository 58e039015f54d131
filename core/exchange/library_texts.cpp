// Palettes, layers and arrangements of a library as text, and back.
#include <algorithm>

#include "core/colour/encoding.h"
#include "core/document/channels.h"
#include "core/document/json.h"
#include "core/document/json_reader.h"
#include "core/document/layers.h"
#include "core/document/path_text.h"
#include "core/exchange/library.h"

namespace kettle {
namespace {

using json::Json;

constexpr const char* kPaletteFormat = "pale-kettle-palette";
constexpr const char* kLayerFormat = "pale-kettle-layer";
constexpr const char* kArrangementFormat = "pale-kettle-arrangement";
constexpr int kVersion = 1;

/// Reads one file of a format; what is wrong becomes a sentence.
template <class T, class F>
Result<T> read(const std::string& text, const std::string& name, const char* what, const char* format,
               F&& f) {
    const auto isWrong = [&](const std::string& why) {
        return fail(
            ErrorKind::Invalid,
            fmt::format("Cannot read the {} {}: {}. Correct the file, or remove it.", what, name, why));
    };
    try {
        const Json j = json::parsed(text);
        json::Reader r(j, "");
        if (r.text("format") != format) return isWrong(fmt::format("it is no {} that was kept here", what));
        if (r.number("version", kVersion) > kVersion)
            return fail(
                ErrorKind::Newer,
                fmt::format("The {} {} was kept by a newer Pale Kettle. Take it with the newer program; the "
                            "file was not changed.",
                            what, name));
        return f(r);
    } catch (const json::Wrong& w) {
        return isWrong(fmt::format("{} {}", w.path.empty() ? "it" : w.path, w.what));
    } catch (const Json::exception&) {
        return isWrong("it is not complete JSON");
    }
}

}  // namespace

std::string paletteToText(const Palette& palette) {
    Json j{{"format", kPaletteFormat}, {"version", kVersion}, {"name", palette.name}};
    if (!palette.purpose.empty()) j["purpose"] = palette.purpose;
    j["colours"] = Json::array();
    for (const Vec3& c : palette.colours) j["colours"].push_back(hexOfLinear(c.x, c.y, c.z));
    if (!palette.weights.empty()) j["weights"] = palette.weights;
    return json::textOf(j, 2) + "\n";
}

Result<Palette> paletteFromText(const std::string& text, const std::string& name) {
    return read<Palette>(text, name, "palette", kPaletteFormat, [](json::Reader& r) -> Result<Palette> {
        Palette palette;
        palette.name = r.needText("name");
        palette.purpose = r.text("purpose");
        r.each("colours", [&](const Json& j, const std::string& path) {
            Vec3 c;
            if (!j.is_string() || !linearOfHex(j.get<std::string>(), c.x, c.y, c.z))
                json::wrong(path, "should be a colour like \"#7A9E8F\"");
            palette.colours.push_back(c);
        });
        r.each("weights", [&](const Json& j, const std::string& path) {
            if (!j.is_number() || j.get<double>() < 0) json::wrong(path, "should be a number from 0");
            palette.weights.push_back(json::real(j.get<double>(), path));
        });
        if (palette.colours.empty()) json::wrong("colours", "is empty");
        if (!palette.weights.empty() && palette.weights.size() != palette.colours.size())
            json::wrong("weights", "should have one number for each colour");
        return palette;
    });
}

std::vector<std::string> KeptLayer::slots() const {
    std::vector<std::string> ids;
    for (const auto& set : layers.sets)
        if (set->folder.empty()) ids.push_back(set->id);
    return ids;
}

std::string arrangementToText(const Arrangement& arrangement) {
    Json j{{"format", kArrangementFormat}, {"version", kVersion}, {"name", arrangement.name}};
    if (!arrangement.purpose.empty()) j["purpose"] = arrangement.purpose;
    j["files"] = Json::array();
    for (const PackedFile& file : arrangement.files) {
        Json components = Json::array();
        for (const PackedComponent& c : file.components) {
            Json one{{"channel", c.line}};
            if (!c.component.empty()) one["component"] = c.component;
            if (c.otherwise != 0) one["otherwise"] = c.otherwise;
            if (c.isInverted) one["inverted"] = true;
            components.push_back(std::move(one));
        }
        j["files"].push_back({{"name", file.name}, {"components", std::move(components)}});
    }
    return json::textOf(j, 2) + "\n";
}

namespace {

PackedComponent componentOf(const Json& j, const std::string& path) {
    json::Reader r(j, path);
    PackedComponent c;
    c.line = r.text("channel");
    c.component = r.text("component");
    c.otherwise = json::real(r.number("otherwise", 0.0), path);
    c.isInverted = r.flag("inverted", false);
    if (!c.line.empty() && findChannel(c.line) == nullptr)
        json::wrong(path, fmt::format("names \"{}\", which is no channel", c.line));
    if (!(c.otherwise >= 0 && c.otherwise <= 1)) json::wrong(path, "has a value beyond 0 to 1");
    const auto& known = packedComponentChoices();
    if (!c.component.empty() && std::find(known.begin(), known.end(), c.component) == known.end())
        json::wrong(path, fmt::format("names \"{}\", which is no component", c.component));
    return c;
}

}  // namespace

Result<Arrangement> arrangementFromText(const std::string& text, const std::string& name) {
    return read<Arrangement>(text, name, "arrangement", kArrangementFormat,
                             [](json::Reader& r) -> Result<Arrangement> {
                                 Arrangement arrangement;
                                 arrangement.name = r.needText("name");
                                 arrangement.purpose = r.text("purpose");
                                 r.each("files", [&](const Json& j, const std::string& path) {
                                     json::Reader one(j, path);
                                     PackedFile file;
                                     file.name = one.needText("name");
                                     one.each("components", [&](const Json& c, const std::string& where) {
                                         file.components.push_back(componentOf(c, where));
                                     });
                                     if (file.components.empty() || file.components.size() > 4)
                                         json::wrong(path, "should have one to four components");
                                     arrangement.files.push_back(std::move(file));
                                 });
                                 if (arrangement.files.empty()) json::wrong("files", "is empty");
                                 return arrangement;
                             });
}

KeptLayer withoutFiles(KeptLayer layer) {
    for (Shared<TextureSet>& set : layer.layers.sets) {
        TextureSet slot;
        slot.id = set->id;
        slot.name = set->name;
        for (const Map& map : set->maps) {
            Map role = map;
            role.file = map.role;
            role.encoding = "auto";
            slot.maps.push_back(std::move(role));
        }
        set = Shared<TextureSet>(std::move(slot));
    }
    layer.layers.view = {};
    layer.layers.colour = {};
    return layer;
}

std::string layerToText(const KeptLayer& layer) {
    Json j{{"format", kLayerFormat}, {"version", kVersion}, {"name", layer.name}};
    if (!layer.purpose.empty()) j["purpose"] = layer.purpose;
    if (!layer.note.empty()) j["note"] = layer.note;
    j["layers"] = Json::parse(projectToJson(layer.layers));
    return json::textOf(j, 2) + "\n";
}

Result<KeptLayer> layerFromText(const std::string& text, const std::string& name) {
    return read<KeptLayer>(text, name, "layer", kLayerFormat, [&](json::Reader& r) -> Result<KeptLayer> {
        KeptLayer layer;
        layer.name = r.needText("name");
        layer.purpose = r.text("purpose");
        layer.note = r.text("note");
        const Json* layers = r.find("layers");
        if (layers == nullptr) json::wrong("layers", "is missing");
        auto project = projectFromJson(json::textOf(*layers), name);
        if (!project) return fail(project.error());
        layer.layers = std::move(*project);
        if (layersOf(layer.layers, {}).empty()) json::wrong("layers", "holds no layer");
        return layer;
    });
}

}  // namespace kettle
