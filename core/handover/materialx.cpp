#include "core/handover/materialx.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <sstream>

#include "core/base/files.h"
#include "core/base/names.h"
#include "core/engine/compile.h"
#include "core/exchange/export.h"

namespace kettle {
namespace {

namespace fs = std::filesystem;

/// How a channel goes into a surface shader.
struct Input {
    const char* channel;
    const char* type;      ///< of the image and the input
    const char* standard;  ///< its name in standard_surface; null: it has none
    const char* openPbr;   ///< and in open_pbr_surface
};
constexpr Input kInputs[] = {{"base-colour", "color3", "base_color", "base_color"},
                             {"metalness", "float", "metalness", "base_metalness"},
                             {"roughness", "float", "specular_roughness", "specular_roughness"},
                             {"emission", "color3", "emission_color", "emission_color"},
                             {"opacity", "float", "opacity", "geometry_opacity"},
                             {"coat", "float", "coat", "coat_weight"},
                             {"coat-roughness", "float", "coat_roughness", "coat_roughness"},
                             {"sheen-colour", "color3", "sheen_color", "fuzz_color"},
                             {"sheen-roughness", "float", "sheen_roughness", "fuzz_roughness"},
                             {"normal", "vector3", "normal", "geometry_normal"},
                             {"specular-level", "float", nullptr, nullptr},
                             {"occlusion", "float", nullptr, nullptr}};

/// A name as MaterialX allows it: letters, digits and underscores.
std::string nameOf(const std::string& words) {
    std::string name = stemOf(words, "x");
    std::replace(name.begin(), name.end(), '-', '_');
    if (name[0] >= '0' && name[0] <= '9') name.insert(name.begin(), '_');
    return name;
}

class Document {
public:
    Document(const Project& project, const std::vector<std::string>& parts, const std::string& baseName,
             const MaterialXOptions& options)
        : m_project(project), m_parts(parts), m_baseName(baseName), m_options(options) {
        m_root = m_xml.append_child("materialx");
        m_root.append_attribute("version") = isOpenPbr() ? "1.39" : "1.38";
        m_root.append_attribute("colorspace") = "lin_rec709";
        m_root.append_attribute("distanceunit") = "centimeter";
    }

    /// Images by surface and channel, as they are named in the document.
    void addLook(const std::string& look,
                 const std::map<std::pair<std::string, std::string>, std::string>& images) {
        const Look* known = m_project.findLook(look);
        const std::string lookName = nameOf(look.empty() ? m_baseName : look);
        std::vector<std::pair<std::string, std::string>> materials;
        for (const std::string& surface : surfaceIds(m_project)) {
            const std::string name =
                nameOf((surface.empty() ? std::string("surface") : surface) + "-" + lookName);
            if (addMaterial(name, surface, images)) materials.emplace_back(surface, name);
        }
        pugi::xml_node node = m_looks.append_child("look");
        node.append_attribute("name") = lookName.c_str();
        node.append_attribute("doc") = (known != nullptr ? known->name : m_baseName).c_str();
        for (const auto& [surface, material] : materials) {
            pugi::xml_node assign = node.append_child("materialassign");
            assign.append_attribute("name") = ("assign_" + material).c_str();
            assign.append_attribute("material") = material.c_str();
            assign.append_attribute("geom") = geometryOf(surface).c_str();
        }
    }
    std::string text() {
        for (const pugi::xml_node look : m_looks.children()) m_root.append_copy(look);
        std::ostringstream out;
        m_xml.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
        return out.str();
    }

private:
    bool isOpenPbr() const { return m_options.surface == MaterialXSurface::OpenPbr; }
    static pugi::xml_node input(pugi::xml_node to, const char* name, const char* type) {
        pugi::xml_node node = to.append_child("input");
        node.append_attribute("name") = name;
        node.append_attribute("type") = type;
        return node;
    }
    static void setValue(pugi::xml_node to, const char* name, const char* type, const std::string& value) {
        input(to, name, type).append_attribute("value") = value.c_str();
    }
    static void connect(pugi::xml_node to, const char* name, const char* type, const std::string& node) {
        input(to, name, type).append_attribute("nodename") = node.c_str();
    }
    pugi::xml_node addNode(const char* category, const std::string& name, const char* type) {
        pugi::xml_node node = m_root.append_child(category);
        node.append_attribute("name") = name.c_str();
        node.append_attribute("type") = type;
        return node;
    }
    /// An image node; what carries light says its encoding.
    std::string addImage(const std::string& name, const char* type, const std::string& file) {
        pugi::xml_node node = addNode("image", name, type);
        pugi::xml_node in = input(node, "file", "filename");
        in.append_attribute("value") = file.c_str();
        if (std::string_view(type) == "color3") in.append_attribute("colorspace") = "srgb_texture";
        return name;
    }
    /// False if the surface has no images.
    bool addMaterial(const std::string& name, const std::string& surface,
                     const std::map<std::pair<std::string, std::string>, std::string>& images) {
        std::map<std::string, std::string> nodes;  // by channel, what its input reads
        for (const Input& in : kInputs) {
            const auto at = images.find({surface, in.channel});
            if (at == images.end()) continue;
            nodes[in.channel] = addImage(nameOf(name + "-" + in.channel), in.type, at->second);
        }
        if (nodes.empty()) return false;
        addBetween(name, nodes);
        const std::string shader = name + "_shader";
        pugi::xml_node node =
            addNode(isOpenPbr() ? "open_pbr_surface" : "standard_surface", shader, "surfaceshader");
        if (!isOpenPbr()) setValue(node, "base", "float", "1");
        for (const Input& in : kInputs) {
            const char* const to = isOpenPbr() ? in.openPbr : in.standard;
            if (to == nullptr || !nodes.contains(in.channel)) continue;
            const bool isCut = std::string_view(in.channel) == "opacity" && !isOpenPbr();
            connect(node, to, isCut ? "color3" : in.type, nodes[in.channel]);
        }
        if (!nodes.contains("roughness")) setValue(node, "specular_roughness", "float", "0.5");
        if (nodes.contains("emission"))
            setValue(node, isOpenPbr() ? "emission_luminance" : "emission", "float", "1");
        if (nodes.contains("sheen-colour"))
            setValue(node, isOpenPbr() ? "fuzz_weight" : "sheen", "float", "1");
        // A level of 0.5 reflects 4 %, which is what a weight of 1 gives at the usual index of 1.5.
        if (nodes.contains("specular-level"))
            connect(node, isOpenPbr() ? "specular_weight" : "specular", "float", nodes["specular-level"]);
        pugi::xml_node material = addNode("surfacematerial", name, "material");
        connect(material, "surfaceshader", "surfaceshader", shader);
        return true;
    }
    /// What stands between an image and the shader.
    void addBetween(const std::string& name, std::map<std::string, std::string>& nodes) {
        if (const auto normal = nodes.find("normal"); normal != nodes.end()) {
            pugi::xml_node map = addNode("normalmap", name + "_normalmap", "vector3");
            connect(map, "in", "vector3", normal->second);
            normal->second = name + "_normalmap";
        }
        if (const auto level = nodes.find("specular-level"); level != nodes.end()) {
            pugi::xml_node twice = addNode("multiply", name + "_specular_twice", "float");
            connect(twice, "in1", "float", level->second);
            setValue(twice, "in2", "float", "2");
            level->second = name + "_specular_twice";
        }
        if (const auto opacity = nodes.find("opacity"); opacity != nodes.end() && !isOpenPbr()) {
            pugi::xml_node grey = addNode("convert", name + "_opacity_grey", "color3");
            connect(grey, "in", "float", opacity->second);
            opacity->second = name + "_opacity_grey";
        }
        // Occlusion darkens what is diffuse, as the preview has it.
        const auto occlusion = nodes.find("occlusion"), base = nodes.find("base-colour");
        if (occlusion != nodes.end() && base != nodes.end()) {
            pugi::xml_node dark = addNode("multiply", name + "_occluded", "color3");
            connect(dark, "in1", "color3", base->second);
            connect(dark, "in2", "float", occlusion->second);
            base->second = name + "_occluded";
        }
    }
    /// "*", or the parts of the model, as paths.
    std::string geometryOf(const std::string& surface) const {
        const Surface* known = m_project.findSurface(surface);
        if (known == nullptr || known->coversAll) return "*";
        std::string paths;
        for (const std::string& part : m_parts)
            if (std::find(known->parts.begin(), known->parts.end(), part) != known->parts.end())
                paths += (paths.empty() ? "/" : ", /") + part;
        return paths.empty() ? "*" : paths;
    }

    const Project& m_project;
    const std::vector<std::string>& m_parts;
    const std::string& m_baseName;
    const MaterialXOptions& m_options;
    pugi::xml_document m_xml, m_looks;
    pugi::xml_node m_root;
};

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
        if (options.file.extension() != ".mtlx")
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
            const bool isKnown = std::any_of(std::begin(kInputs), std::end(kInputs),
                                             [&](const Input& in) { return line->channel == in.channel; });
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
        Document document(project, modelParts, baseName, options);
        for (const std::string& look : looks) {
            std::map<std::pair<std::string, std::string>, std::string> images;
            for (const ExportItem& item : *items) {
                if (item.look != look) continue;
                const Line& line = *project.findLine(item.line);
                const bool isTiled = std::count_if(items->begin(), items->end(),
                                                   [&](const ExportItem& other) {
                                                       return other.look == look && other.line == item.line;
                                                   }) > 1 ||
                                     item.tile != 1001;
                images[{line.surface, line.channel}] = folder + "/" + tokenOf(item.file, item.tile, isTiled);
            }
            document.addLook(look, images);
        }
        made.files = exported->files;
        made.notes.insert(made.notes.end(), exported->notes.begin(), exported->notes.end());
        if (auto done = writeFileAtomically(options.file, document.text()); !done) return fail(done.error());
        made.files.push_back(options.file);
        return made;
    });
}

}  // namespace kettle
