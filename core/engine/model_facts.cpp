#include "core/engine/model_facts.h"

#include <atomic>

namespace kettle {

ModelField::ModelField() {
    static std::atomic<std::uint64_t> last{0};
    m_id = ++last;
}

bool isOfThings(const std::string& name) {
    return name.starts_with("part-") || name.starts_with("object-");
}

std::array<float, 4> neutralFact(const std::string& name) {
    if (name == "normal") return {0, 1, 0, 0};
    if (name == "tangent" || name == "tangent-side") return {1, 0, 0, 0};
    if (name == "height") return {0.5f, 0, 0, 0};
    return {};
}

}  // namespace kettle
