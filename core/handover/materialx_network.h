// MaterialX as a network: steps that standard nodes say exactly become nodes, what stands before them is
// baked.
#pragma once

#include "core/handover/materialx.h"

namespace kettle {

/// As writeMaterialX() with standard_surface, but the last steps of each line stay steps. A step is said
/// where a standard node gives the same for all numbers in 0..1: colour and value sources, invert, clamp,
/// tone without contrast and gamma, maths (add, subtract, multiply, minimum, maximum), HSV shift up to the
/// saturation it has, blend (normal, multiply, screen, add), all in linear light, with amount and mask.
/// Everything else is baked at the last step that could not be said, and told in `notes`. Errors: as
/// writeMaterialX().
Result<HandedOver> writeMaterialXNetwork(
    const Project& project, const Resources& resources, const std::vector<std::string>& modelParts,
    const std::vector<std::string>& looks, const std::string& baseName, int size,
    const std::filesystem::path& file, const CancelToken& cancel = {},
    const std::function<void(double, const std::string&)>& progress = {});

}  // namespace kettle
