// JSON as it is printed: always UTF-8, whatever a disk's names hold.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

namespace kettle::batch {

/// Indented; what is not UTF-8 is replaced, since JSON cannot hold it.
inline std::string printed(const nlohmann::ordered_json& json) {
    return json.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

}  // namespace kettle::batch
