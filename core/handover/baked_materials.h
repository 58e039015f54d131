// Baked materials: what each surface of a project is in each look, as the few textures and numbers that other
// programs know. One for each surface, tile and look; equal textures are one.
#pragma once

#include <array>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/document/channels.h"
#include "core/document/project.h"
#include "core/engine/resources.h"
#include "core/image/image.h"
#include "core/threads/parallel.h"

namespace kettle {

enum class BakedAlpha { Opaque, Mask, Blend };

/// One texture of a material: an index into BakedMaterials::images, or numbers that hold everywhere.
struct BakedValue {
    int image = -1;
    std::vector<float> value;  ///< as stored, 0..1; of a texture empty
};

struct BakedMaterial {
    std::string surface;  ///< id; empty of a project without surfaces
    int tile = 1001;
    std::string look;  ///< id; empty: the base
    std::string name;  ///< "Enamel kettle, Celadon"
    /// Those that the surface has; others are as the channels' neutral values.
    std::map<BakedTexture, BakedValue> textures;
    BakedAlpha alpha = BakedAlpha::Opaque;
    float emissionStrength =
        1;  ///< what the emission, as it is stored, is multiplied by: 1, or more than that
};

struct BakedImage {
    std::string name;  ///< a stem for a file: "kettle-celadon-base"
    PixelBuffer pixels;
    bool isColour = false;  ///< display-encoded; else numbers
};

struct BakedMaterials {
    std::vector<BakedMaterial> materials;
    std::vector<BakedImage> images;
    std::vector<std::string> notes;  ///< what does not come across, a sentence each
    const BakedMaterial* find(const std::string& surface, int tile, const std::string& look) const;
};

struct BakeOptions {
    std::vector<std::string> looks{""};
    int size = 0;  ///< the longer side of a texture in pixels at most; 0: as the sources
    std::string baseName = "As received";
};

/// Bakes all surfaces that have lines. Errors: Refused (an unknown look), Unreadable, NoMemory, Cancelled.
Result<BakedMaterials> bakeMaterials(const Project& project, const Resources& resources,
                                     const BakeOptions& options, const CancelToken& cancel = {},
                                     const std::function<void(double, const std::string&)>& progress = {});

}  // namespace kettle
