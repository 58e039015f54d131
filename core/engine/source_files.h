// The files that a project is made from, which nothing that writes may touch.
#pragma once

#include "core/base/protected_files.h"
#include "core/engine/resources.h"

namespace kettle {

class SourceFiles final : public ProtectedFiles {
public:
    /// All maps with their tiles, the colour configuration, a model and an environment from a file.
    SourceFiles(const Project& project, const Resources& resources);
};

}  // namespace kettle
