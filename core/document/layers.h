// Layers: whole surfaces over each other, each with one mask for all the channels that it covers.
//
// A layer is a scalar line, its mask, that ends in a head: a step "layer", which bears amount and bypass. It
// is laid over a channel by a fill: a step "fill" on the channel's line whose feed "mask" reads the layer and
// whose feed "over" is what is laid there. So the walk, looks, history, files and pictures need nothing new,
// and the mask is computed once. The order of layers is that of their fills on the lines, which must agree.
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

#include "core/document/blend_modes.h"
#include "core/document/project.h"

namespace kettle {

inline constexpr const char* kLayerHead = "layer";  ///< a head's type
inline constexpr const char* kFill = "fill";        ///< a fill's type

/// True for a line that ends in a head.
bool isLayer(const Line& line);
/// The layer that a fill belongs to; empty for any other step, and for a fill without a mask.
const std::string& layerOf(const Step& step);
/// True for a fill in the mode ByHeight, in the base or in any look.
bool goesByHeight(const Project& project, const Step& step);

/// A fill, and where it stands.
struct FillPlace {
    const Line* line = nullptr;  ///< of the channel
    std::size_t index = 0;
    const Step* step = nullptr;
};
/// What a layer covers, in the order of the project's lines: the first fill of its own on each line of its
/// surface that drives a channel. Null pointers never.
std::vector<FillPlace> fillsOf(const Project& project, const std::string& layer);

/// The layers of a surface ("" in a project without surfaces) from the bottom up. Where fills say nothing,
/// by their lines in the project.
std::vector<const Line*> layersOf(const Project& project, const std::string& surface);

/// The sentence that names two layers whose fills lie in one order on one line and the other way round on
/// another; empty if there are none.
std::string layersInTurn(const Project& project, const std::string& surface);

/// The line that a fill alone reads as what it lays over, whole, and that drives nothing: its own. Null if
/// it reads another, or a constant, or nothing.
const Line* ownLineOf(const Project& project, const Step& fill);

/// The layer that each line is the mask of, or what its fills alone lay; lines of no layer are not there.
std::unordered_map<std::string, std::string> layersOfLines(const Project& project);

/// The last step of a layer.
const Step& headOf(const Line& layer);

}  // namespace kettle
