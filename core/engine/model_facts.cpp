#include "core/engine/model_facts.h"

#include <algorithm>
#include <atomic>

namespace kettle {

ModelField::ModelField() {
    static std::atomic<std::uint64_t> last{0};
    m_id = ++last;
}

bool readsCopies(const Program& program) {
    return std::any_of(program.sources.begin(), program.sources.end(), [](const SourceKey& key) {
        return key.mesh() != nullptr && std::holds_alternative<CopyNumber>(*key.mesh());
    });
}

std::array<float, 4> neutralFact(const MeshAttribute& attribute) {
    const SurfaceAttribute* fact = std::get_if<SurfaceAttribute>(&attribute);
    if (fact == nullptr) return {};
    switch (*fact) {
        case SurfaceAttribute::Normal:
            return {0, 1, 0, 0};
        case SurfaceAttribute::Tangent:
        case SurfaceAttribute::TangentSide:
            return {1, 0, 0, 0};
        case SurfaceAttribute::Height:
            return {0.5f, 0, 0, 0};
        case SurfaceAttribute::Position:
        case SurfaceAttribute::Size:
            break;
    }
    return {};
}

}  // namespace kettle
