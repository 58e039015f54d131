#include "core/handover/materialx_document.h"

#include <algorithm>
#include <sstream>

#include "core/base/names.h"

namespace kettle {

const std::vector<const ChannelSpec*>& materialXChannels() {
    static const std::vector<const ChannelSpec*> list = [] {
        std::vector<const ChannelSpec*> all;
        for (const ChannelSpec& channel : channels())
            if (channel.packing) all.push_back(&channel);
        std::sort(all.begin(), all.end(), [](const ChannelSpec* a, const ChannelSpec* b) {
            return a->materialX.order < b->materialX.order;
        });
        return all;
    }();
    return list;
}

bool hasMaterialX(const std::string& channel) {
    const ChannelSpec* known = findChannel(channel);
    return known != nullptr && known->packing.has_value();
}

const char* materialXType(Kind kind) {
    return kind == Kind::Scalar ? "float" : kind == Kind::Colour ? kMaterialXColour : "vector3";
}

std::string materialXName(const std::string& words) {
    std::string name = stemOf(words, "x");
    std::replace(name.begin(), name.end(), '-', '_');
    if (name[0] >= '0' && name[0] <= '9') name.insert(name.begin(), '_');
    return name;
}

MaterialXDocument::MaterialXDocument(const Project& project, const std::vector<std::string>& parts,
                                     const std::string& baseName, const MaterialXOptions& options)
    : m_project(project), m_parts(parts), m_baseName(baseName), m_options(options) {
    m_root = m_xml.append_child("materialx");
    m_root.append_attribute("version") = isOpenPbr() ? "1.39" : "1.38";
    m_root.append_attribute("colorspace") = "lin_rec709";
    m_root.append_attribute("distanceunit") = "centimeter";
}

void MaterialXDocument::addLook(const std::string& look, const Sources& sources) {
    const Look* known = m_project.findLook(look);
    const std::string lookName = materialXName(look.empty() ? m_baseName : look);
    std::vector<std::pair<std::string, std::string>> materials;
    for (const std::string& surface : surfaceIds(m_project)) {
        const std::string name =
            materialXName((surface.empty() ? std::string("surface") : surface) + "-" + lookName);
        if (addMaterial(name, surface, sources)) materials.emplace_back(surface, name);
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

std::string MaterialXDocument::text() {
    for (const pugi::xml_node look : m_looks.children()) m_root.append_copy(look);
    std::ostringstream out;
    m_xml.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
    return out.str();
}

namespace {

pugi::xml_node input(pugi::xml_node to, const char* name, const char* type) {
    pugi::xml_node node = to.append_child("input");
    node.append_attribute("name") = name;
    node.append_attribute("type") = type;
    return node;
}

}  // namespace

void MaterialXDocument::setValue(pugi::xml_node to, const char* name, const char* type,
                                 const std::string& value) {
    input(to, name, type).append_attribute("value") = value.c_str();
}

void MaterialXDocument::connect(pugi::xml_node to, const char* name, const char* type,
                                const std::string& node) {
    input(to, name, type).append_attribute("nodename") = node.c_str();
}

std::string MaterialXDocument::addNode(const char* category, const std::string& wanted, const char* type,
                                       pugi::xml_node& node) {
    const int taken = m_names[wanted]++;
    std::string name = taken == 0 ? wanted : wanted + "_" + std::to_string(taken + 1);
    node = m_root.append_child(category);
    node.append_attribute("name") = name.c_str();
    node.append_attribute("type") = type;
    return name;
}

std::string MaterialXDocument::addImage(const std::string& wanted, const char* type,
                                        const std::string& file) {
    pugi::xml_node node;
    std::string name = addNode("image", wanted, type, node);
    pugi::xml_node in = input(node, "file", "filename");
    in.append_attribute("value") = file.c_str();
    if (std::string_view(type) == kMaterialXColour) in.append_attribute("colorspace") = "srgb_texture";
    return name;
}

/// False if the surface has no sources.
bool MaterialXDocument::addMaterial(const std::string& name, const std::string& surface,
                                    const Sources& sources) {
    std::map<std::string, std::string> nodes;  // by channel, what its input reads
    for (const ChannelSpec* in : materialXChannels()) {
        const auto at = sources.find({surface, in->id});
        if (at == sources.end()) continue;
        nodes[in->id] = !at->second.node.empty() ? at->second.node
                                                 : addImage(materialXName(name + "-" + in->id),
                                                            materialXType(in->kind), at->second.file);
    }
    if (nodes.empty()) return false;
    addBetween(name, nodes);
    pugi::xml_node shader, material;
    const std::string shaderName = addNode(isOpenPbr() ? "open_pbr_surface" : "standard_surface",
                                           name + "_shader", "surfaceshader", shader);
    if (!isOpenPbr()) setValue(shader, "base", "float", "1");
    for (const ChannelSpec* in : materialXChannels()) {
        const char* const to = isOpenPbr() ? in->materialX.openPbr : in->materialX.standardSurface;
        if (to == nullptr || !nodes.contains(in->id)) continue;
        const bool isCut = std::string_view(in->id) == channel::kOpacity && !isOpenPbr();
        connect(shader, to, isCut ? kMaterialXColour : materialXType(in->kind), nodes[in->id]);
    }
    if (!nodes.contains(channel::kRoughness)) setValue(shader, "specular_roughness", "float", "0.5");
    if (nodes.contains(channel::kEmission))
        setValue(shader, isOpenPbr() ? "emission_luminance" : "emission", "float", "1");
    if (nodes.contains(channel::kSheenColour))
        setValue(shader, isOpenPbr() ? "fuzz_weight" : "sheen", "float", "1");
    // A level of 0.5 reflects 4 %, which is what a weight of 1 gives at the usual index of 1.5.
    if (nodes.contains(channel::kSpecularLevel))
        connect(shader, isOpenPbr() ? "specular_weight" : "specular", "float",
                nodes[channel::kSpecularLevel]);
    addNode("surfacematerial", name, "material", material);
    connect(material, "surfaceshader", "surfaceshader", shaderName);
    return true;
}

/// What stands between an image and the shader.
void MaterialXDocument::addBetween(const std::string& name, std::map<std::string, std::string>& nodes) {
    pugi::xml_node node;
    if (const auto normal = nodes.find(channel::kNormal); normal != nodes.end()) {
        const std::string own = addNode("normalmap", name + "_normalmap", "vector3", node);
        connect(node, "in", "vector3", normal->second);
        normal->second = own;
    }
    if (const auto level = nodes.find(channel::kSpecularLevel); level != nodes.end()) {
        const std::string own = addNode("multiply", name + "_specular_twice", "float", node);
        connect(node, "in1", "float", level->second);
        setValue(node, "in2", "float", "2");
        level->second = own;
    }
    if (const auto opacity = nodes.find(channel::kOpacity); opacity != nodes.end() && !isOpenPbr()) {
        const std::string own = addNode("convert", name + "_opacity_grey", kMaterialXColour, node);
        connect(node, "in", "float", opacity->second);
        opacity->second = own;
    }
    // Occlusion darkens what is diffuse, as the preview has it.
    const auto occlusion = nodes.find(channel::kOcclusion), base = nodes.find(channel::kBaseColour);
    if (occlusion == nodes.end() || base == nodes.end()) return;
    const std::string own = addNode("multiply", name + "_occluded", kMaterialXColour, node);
    connect(node, "in1", kMaterialXColour, base->second);
    connect(node, "in2", "float", occlusion->second);
    base->second = own;
}

/// "*", or the parts of the model, as paths.
std::string MaterialXDocument::geometryOf(const std::string& surface) const {
    const Surface* known = m_project.findSurface(surface);
    if (known == nullptr || known->coversAll) return "*";
    std::string paths;
    for (const std::string& part : m_parts)
        if (std::find(known->parts.begin(), known->parts.end(), part) != known->parts.end())
            paths += (paths.empty() ? "/" : ", /") + part;
    return paths.empty() ? "*" : paths;
}

}  // namespace kettle
