// A MaterialX document while it is made: nodes, materials, looks. Within the folder alone.
#pragma once

#include <map>
#include <pugixml.hpp>
#include <string>
#include <vector>

#include "core/document/channels.h"
#include "core/handover/materialx.h"

namespace kettle {

inline constexpr const char* kMaterialXColour = "color3";  ///< MaterialX type of colours

/// The channels that materials have, in the order of a shader's inputs.
const std::vector<const ChannelSpec*>& materialXChannels();
/// True for the id of one of them.
bool hasMaterialX(const std::string& channel);
/// The type of a channel's image and input.
const char* materialXType(Kind kind);

/// A name as MaterialX allows it: letters, digits and underscores.
std::string materialXName(const std::string& words);

/// What a channel reads: an image's file, or a node that is there already.
struct MaterialXSource {
    std::string file, node;
};

class MaterialXDocument {
public:
    MaterialXDocument(const Project& project, const std::vector<std::string>& parts,
                      const std::string& baseName, const MaterialXOptions& options);

    /// By surface and channel.
    using Sources = std::map<std::pair<std::string, std::string>, MaterialXSource>;
    /// A look, with a material for each surface that has sources.
    void addLook(const std::string& look, const Sources& sources);
    std::string text();

    /// A node of the document; `name` is made its own if it is taken, and is returned.
    std::string addNode(const char* category, const std::string& name, const char* type,
                        pugi::xml_node& node);
    /// An image; what carries light says its encoding.
    std::string addImage(const std::string& name, const char* type, const std::string& file);
    static void setValue(pugi::xml_node to, const char* name, const char* type, const std::string& value);
    static void connect(pugi::xml_node to, const char* name, const char* type, const std::string& node);

private:
    bool isOpenPbr() const { return m_options.surface == MaterialXSurface::OpenPbr; }
    bool addMaterial(const std::string& name, const std::string& surface, const Sources& sources);
    void addBetween(const std::string& name, std::map<std::string, std::string>& nodes);
    std::string geometryOf(const std::string& surface) const;

    const Project& m_project;
    const std::vector<std::string>& m_parts;
    const std::string& m_baseName;
    const MaterialXOptions& m_options;
    pugi::xml_document m_xml, m_looks;
    pugi::xml_node m_root;
    std::map<std::string, int> m_names;
};

}  // namespace kettle
