// A mesh as plain bytes, for another process of this machine and for the files of the user's cache.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/scene/mesh.h"

namespace kettle {

/// Takes some bytes further; false if they could not be.
using PutBytes = std::function<bool(const void* bytes, std::size_t count)>;
/// Fills some bytes; false if there are not so many.
using TakeBytes = std::function<bool(void* bytes, std::size_t count)>;

bool putText(const std::string& text, const PutBytes& put);
/// `most`: no text longer than this is believed.
std::optional<std::string> takeText(const TakeBytes& take, std::uint64_t most);

bool putMesh(const Mesh& mesh, const PutBytes& put);
/// Nothing if what stands there is no whole mesh, or one whose indices lead nowhere. `most`: bytes that any
/// of its lists may have.
std::optional<Mesh> takeMesh(const TakeBytes& take, std::uint64_t most);

}  // namespace kettle
