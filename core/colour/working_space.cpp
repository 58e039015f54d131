#include "core/colour/working_space.h"

namespace kettle {
namespace {

using Matrix = std::array<float, 9>;

// The same numbers as in the shipped configuration.
constexpr Matrix kAcescgToRec709{1.705050993f,  -0.621792121f, -0.083258872f, -0.130256418f, 1.140804737f,
                                 -0.010548319f, -0.024003357f, -0.128968976f, 1.152972333f};

Matrix inverse(const Matrix& a) {
    const auto m = [&](int i) { return static_cast<double>(a[static_cast<std::size_t>(i)]); };
    const auto minor = [&](int i, int j, int k, int l) { return m(i) * m(j) - m(k) * m(l); };
    const double det = m(0) * minor(4, 8, 5, 7) - m(1) * minor(3, 8, 5, 6) + m(2) * minor(3, 7, 4, 6);
    const std::array<double, 9> adjugate{minor(4, 8, 5, 7), minor(2, 7, 1, 8), minor(1, 5, 2, 4),
                                         minor(5, 6, 3, 8), minor(0, 8, 2, 6), minor(2, 3, 0, 5),
                                         minor(3, 7, 4, 6), minor(1, 6, 0, 7), minor(0, 4, 1, 3)};
    Matrix out{};
    for (std::size_t i = 0; i < 9; ++i) out[i] = static_cast<float>(adjugate[i] / det);
    return out;
}

Vec3 apply(const Matrix& m, Vec3 c) {
    return {m[0] * c.x + m[1] * c.y + m[2] * c.z, m[3] * c.x + m[4] * c.y + m[5] * c.z,
            m[6] * c.x + m[7] * c.y + m[8] * c.z};
}

}  // namespace

Vec3 WorkingSpace::fromLinear(Vec3 rec709) const {
    return isRec709() ? rec709 : apply(fromRec709, rec709);
}
Vec3 WorkingSpace::toLinear(Vec3 working) const {
    return isRec709() ? working : apply(toRec709, working);
}

const std::vector<std::string>& workingSpaceNames() {
    static const std::vector<std::string> names{encoding::kLinear, encoding::kAcescg};
    return names;
}

WorkingSpace workingSpaceOf(const std::string& name) {
    if (name != encoding::kAcescg) return {};
    return {name, kAcescgToRec709, inverse(kAcescgToRec709), {0.2722287f, 0.6740818f, 0.0536895f}};
}

}  // namespace kettle
