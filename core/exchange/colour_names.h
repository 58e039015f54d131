// The colours that CSS has names for (CSS Color Module level 4, section 6.1).
#pragma once

#include <optional>
#include <string_view>

#include "core/base/vec.h"

namespace kettle {

/// The linear colour of a name, in any case of letters; nothing for other words. Takes logarithmic time.
std::optional<Vec3> colourOfName(std::string_view name);

}  // namespace kettle
