// What one side of a picture shows: a project in a look, or one result of it.
#pragma once

#include <optional>
#include <string>

#include "core/document/component.h"
#include "core/document/project.h"

namespace kettle {

/// A result to show in place of the surface.
struct LookHere {
    std::string line, after;
    std::optional<Component> component{};  ///< none: the whole value
    bool operator==(const LookHere&) const = default;
};

/// What one picture shows.
struct PreviewSide {
    Project project;
    std::string look;
    std::optional<LookHere> lookHere;
};

}  // namespace kettle
