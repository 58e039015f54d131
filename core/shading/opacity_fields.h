// What a model's parts let by of the light in a picture: the opacity lines, as pictures over texture space.
#pragma once

#include <memory>
#include <set>
#include <string>
#include <vector>

#include "core/engine/compile.h"
#include "core/engine/resources.h"
#include "core/scene/mesh.h"
#include "core/scene/see_through.h"
#include "core/shading/preview_side.h"

namespace kettle {

/// Keeps what it made, and makes it again only if a line computes something else.
class OpacityFields {
public:
    /// Of a side as it is shown, with channels that are off; null where nothing is seen through. Valid until
    /// the next call. Threads: uses all. Null as well if it was cancelled.
    const SeeThrough* of(const PreviewSide& side, const std::set<std::string>& off,
                         const Resources& resources, const Mesh& mesh, const CancelToken& cancel);

private:
    struct Known {
        Program program;
        std::vector<std::uint64_t> maps;
        OpacityPictures pictures;
    };
    static bool make(const PreviewSide& side, const Resources& resources, const Line* line, const Mesh& mesh,
                     const CancelToken& cancel, Known& known);

    std::vector<Known> m_known;  ///< of each surface
    SeeThrough m_made;
};

}  // namespace kettle
