// A scalar pattern over the whole texture, for tests of its spread.
#pragma once

#include <cmath>
#include <numeric>

#include "core/engine/run.h"
#include "tests/support/projects.h"

namespace kettle::test {

/// `width` x `height` numbers of a source step, rows from the top.
inline std::vector<float> patternGrid(const std::string& type, Controls controls, int width, int height) {
    Project p;
    p.lines.emplace_back(line("p", Kind::Scalar, "", {step("s", type, std::move(controls))}));
    const Compiled c = compile(p, nullptr, {{"p", "", 1, false}});
    const Resources resources(std::filesystem::path{});
    std::vector<float> all(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    runGrid(c.program, resources.resolve(p, c.program), width, height, 1001,
            [&](int y, int x, std::size_t count, const float* const* planes) {
                std::copy_n(planes[c.planes[0][0]], count, all.begin() + y * width + x);
            });
    return all;
}

inline double meanOf(const std::vector<float>& v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}
inline double deviationOf(const std::vector<float>& v) {
    const double mean = meanOf(v);
    double sum = 0;
    for (const float x : v) sum += (static_cast<double>(x) - mean) * (static_cast<double>(x) - mean);
    return std::sqrt(sum / static_cast<double>(v.size()));
}

}  // namespace kettle::test
