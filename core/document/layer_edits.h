// Edits of layers (layers.h). Like all edits they give a whole new project or an error; a look id of "" means
// the base. A layer that is added within a look is bypassed in the base and switched on by the look.
#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/document/layers.h"

namespace kettle::edits {

/// Where a new layer goes: under the layer `below` ("": on top of all).
struct LayerWish {
    std::string name, surface;
    std::string below{};
};

/// A layer that covers nothing yet and whose mask is white everywhere: a Value of 1 and the head. `id` gets
/// its. Errors: Refused (no name, no such surface, no such layer).
Result<Project> addLayer(const Project& project, const std::string& look, const LayerWish& wish,
                         std::string& id);

/// Covers a channel: a fill from a new line that starts with `source`, behind the fills of all layers below
/// and before those above. `index`: where on the line, if the order leaves it free. `fill` gets the fill's
/// id. Errors: Refused (no such layer or line; the line drives no channel of the layer's surface, or is
/// covered).
Result<Project> cover(const Project& project, const std::string& look, const std::string& layer,
                      const std::string& line, Step source, std::string& fill,
                      std::optional<std::size_t> index = std::nullopt);
/// Covers it from a line or tap that is there. Errors: as above, and a cycle.
Result<Project> coverFrom(const Project& project, const std::string& look, const std::string& layer,
                          const std::string& line, const Feed& over, std::string& fill,
                          std::optional<std::size_t> index = std::nullopt);
/// Takes a fill off, with its own line. Errors: Refused (it is no fill).
Result<Project> uncover(const Project& project, const std::string& fill);
/// What a fill lays: its own line begins with this source from now on, and if it has none a new one does.
/// Errors: Refused (it is no fill).
Result<Project> setFillSource(const Project& project, const std::string& fill, Step source);

/// Another source in the place of a line's; what stands behind it stays. Errors: Refused (no such line).
Result<Project> replaceSource(const Project& project, const std::string& line, Step source);

/// Takes layers off with their fills, masks and own lines. Errors: Refused (no such layer; another line reads
/// the mask).
Result<Project> removeLayer(const Project& project, const std::string& layer);
Result<Project> renameLayer(const Project& project, const std::string& layer, const std::string& name);

/// One place up (way 1) or down (-1) in the order: past the fills of its neighbour on every line that both
/// cover. Errors: Refused (no such layer; there is nothing to pass).
Result<Project> moveLayer(const Project& project, const std::string& layer, int way);
/// Moves a layer's fills to places on their lines (`targets`: line to index, as moveStep takes it) and the
/// layer behind or before others with them. Errors: Refused (the order would not agree on all lines).
Result<Project> moveFills(const Project& project, const std::string& layer,
                          const std::map<std::string, std::size_t>& targets);

/// Steps of one line become a layer that lies everywhere: it fills the line from itself with these steps, in
/// the place of the first of them. Their ids and what looks change of them stay. Errors: Refused (no steps,
/// steps of several lines, a source or a fill among them, a line without a channel).
Result<Project> layerFromSteps(const Project& project, const std::string& look,
                               const std::vector<std::string>& steps, const LayerWish& wish, std::string& id);

/// Layers as a project of their own: their masks, fills, own lines, and the sets that they read, as a look
/// shows them. For the clipboard and for copies. Errors: Refused (no such layer).
Result<Project> copyLayers(const Project& project, const std::string& look,
                           const std::vector<std::string>& layers);
/// Puts copied layers under a wish's surface and place, each under its own name. What the surface has no line
/// for is left out and named in `notes`; sets that are there already are used. `ids` gets the new layers,
/// from the bottom up. Errors: Refused (no layers in the copy; no such surface).
Result<Project> pasteLayers(const Project& project, const std::string& look, const Project& copied,
                            const LayerWish& wish, std::vector<std::string>& ids,
                            std::vector<std::string>& notes);

}  // namespace kettle::edits
