// The memory that one task needs to run a program over blocks of points, and the running itself. Within the
// folder.
#pragma once

#include <cstddef>
#include <vector>

#include "core/base/plane.h"
#include "core/program/program.h"

namespace kettle {

/// Runs a program block by block: place sources and results, run, move on, run. All that is the same for
/// every block is found once, since a short chain's block takes a microsecond. Not for several threads.
class BlockRunner {
public:
    /// `runs`: which instructions run (ProgramPlan::runs); null or empty: all. Both must outlive it.
    explicit BlockRunner(const Program& program, const std::vector<bool>* runs = nullptr);

    /// Tells that sources and outputs lie in memory that is not in the cache yet, block behind block of
    /// `block` floats. Each output is fetched during one of the instructions before the one that writes it: a
    /// last instruction that writes three pictures would otherwise wait for all of them. Each source's next
    /// block is fetched during another, as far as they go.
    void fetchAhead(std::size_t block);

    /// Where a source's or an output's block lies: `kBlock` floats or as many as are run, 64-byte aligned.
    void place(Reg reg, const float* memory);
    /// All that was placed lies so many floats farther on.
    void moveOn(std::size_t floats);
    const float* at(Reg reg) const {
        const auto r = static_cast<std::size_t>(reg);
        return m_at[r] + (m_isPlaced[r] ? m_moved : 0);
    }

    /// Runs over `count` points, 1 to kBlock.
    void run(std::size_t count);

private:
    /// An instruction's kernel and what it gets.
    struct Call {
        Kernel kernel;
        KernelCall with;
    };
    bool moves(Reg reg) const { return reg != kNoReg && m_isPlaced[static_cast<std::size_t>(reg)]; }
    void fetchOutputs();
    void makeReady();
    const Program& m_program;
    const std::vector<bool>* m_runs;  ///< null: all
    Plane m_scratch;
    std::vector<float*> m_at;      ///< of each register, placed ones before they moved on
    std::size_t m_moved = 0;       ///< so many floats
    std::vector<Reg> m_placed;     ///< what has memory of its own
    std::vector<bool> m_isPlaced;  ///< of each register
    std::vector<Reg> m_soon;       ///< for each instruction what it fetches for a later one
    std::vector<Reg> m_next;       ///< and of which source the next block
    std::size_t m_block = 0;

    bool m_isReady = false;
    std::vector<Call> m_calls;           ///< of the instructions that run
    std::vector<float*> m_pointers;      ///< their ins and outs, one after the other
    std::vector<float**> m_moving;       ///< those of them that move on
    std::vector<const float**> m_ahead;  ///< and of what the calls fetch
};

/// Of each register whether an instruction writes it; the others among a program's outputs have to be copied.
std::vector<bool> computedRegs(const Program& program);

}  // namespace kettle
