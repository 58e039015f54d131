// What can be told of a model's file before the mesh library reads it: files that would make it take all
// memory, or wait for ever. Private to core/scene.
#pragma once

#include <filesystem>

#include "core/base/result.h"

namespace kettle {

/// glTF and GLB: lengths beyond the file's own, nodes with two parents (glTF 2.0, section 3.5.3, forbids
/// them; the library copies all below once for each), external buffers that are no regular files. OBJ:
/// material libraries that are none. PLY: a header without an end. Whatever else is wrong is left to the
/// library. Errors: Unreadable, with a sentence.
Result<void> checkModelFile(const std::filesystem::path& file);

}  // namespace kettle
