// Which channels a texture set can fill, and a layer filled from it.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/document/channels.h"
#include "core/document/layer_edits.h"

namespace kettle {

class Resources;

/// A channel and the source that reads it from a set: its own map, a component of a packed one, or for
/// roughness a gloss map that must be inverted.
struct SetChannel {
    std::string channel;
    Step source;
    bool isGloss = false;
};
/// In the order of channels(). What the project's own lines say of a map (which way green points, which
/// component) is taken over. Empty for an unknown set.
std::vector<SetChannel> channelsOfSet(const Project& project, const std::string& set);

/// Fills a layer from a set: every channel of its surface that the set has is covered, or its fill replaced.
/// `lacking` gets the names of the surface's channels that the set has nothing for. Errors: Refused (no such
/// layer or set, or the set has none of the surface's channels).
Result<Project> fillFromSet(const Project& project, const std::string& look, const std::string& layer,
                            const std::string& set, std::vector<std::string>& lacking);

/// A set of its own for one picture: named after the file, under an id that the project does not use yet.
TextureSet setOfPicture(const Project& project, const std::filesystem::path& file, const std::string& role);

/// A layer from pictures with alpha: each file is a set of its own with one map, laid over the whole texture
/// if its proportions are those of the base colour's map, for which it was drawn then, else once in the
/// middle; its alpha the mask and its colours the fill of the base colour; a picture of one colour alone, as
/// masks are, fills with that as a plain colour. Of a grey picture without alpha the grey is the mask, and
/// the fill a plain colour; any other without alpha is a rectangle. `ids` gets the layers, from the bottom
/// up. Errors: Unreadable (no picture), Refused (the surface has no base colour).
Result<Project> addStamps(const Project& project, const std::string& look,
                          const std::vector<std::string>& files, const edits::LayerWish& wish,
                          const Resources& resources, std::vector<std::string>& ids);

}  // namespace kettle
