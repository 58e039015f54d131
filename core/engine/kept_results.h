// Results of long instructions (Op::isLong) at one set of points, kept where they come again: a noise behind
// a ramp whose slider moves need not be made anew for every picture.
#pragma once

#include <cstdint>
#include <map>
#include <utility>
#include <vector>

#include "core/base/plane.h"
#include "core/program/program.h"

namespace kettle {

/// What is left of a program to be run: `runs` by instruction (empty: all), `kept` the registers whose
/// numbers are there.
struct ProgramPlan {
    std::vector<bool> runs;
    std::vector<std::pair<Reg, const float*>> kept;
    /// True if something that runs writes a register.
    bool writes(const Program& program, Reg reg) const;
};

/// What registers hold, as numbers: equal ones hold the same at the same points. 0: it is not told, because
/// an instruction has a helper of its own. `sources`: of each of program.sourceRegs, not 0.
std::vector<std::uint64_t> identitiesOf(const Program& program, const std::vector<std::uint64_t>& sources);

class KeptResults {
public:
    /// So much memory at most; what came longest ago goes first.
    static constexpr std::size_t kMostBytes = std::size_t{64} << 20;

    /// What must run so that `wanted` are there, with what is kept. Threads: not while it changes.
    ProgramPlan plan(const Program& program, const std::vector<std::uint64_t>& identities,
                     const std::vector<Reg>& wanted) const;
    /// Tells of a program that is run: which of its registers should be kept from now on, because they came
    /// lately and are not kept. What did not come for some programs is let go.
    std::vector<Reg> comeAgain(const Program& program, const std::vector<std::uint64_t>& identities,
                               std::size_t points);
    void keep(std::uint64_t identity, Plane plane) { m_planes[identity] = std::move(plane); }
    bool isEmpty() const { return m_planes.empty(); }
    std::size_t byteSize() const;
    void clear() { m_planes.clear(), m_came.clear(); }

private:
    std::map<std::uint64_t, Plane> m_planes;
    std::map<std::uint64_t, std::uint64_t> m_came;  ///< when, by programs
    std::uint64_t m_programs = 0;
};

}  // namespace kettle
