#include "core/engine/block_runner.h"

#include <algorithm>

namespace kettle {

BlockRunner::BlockRunner(const Program& program, const std::vector<bool>* runs)
    : m_program(program),
      m_runs(runs != nullptr && runs->empty() ? nullptr : runs),
      m_at(static_cast<std::size_t>(program.registerCount)),
      m_isPlaced(m_at.size(), false) {
    const std::size_t slots = static_cast<std::size_t>(program.slotCount) + program.constants.size();
    m_scratch = Plane(std::max<std::size_t>(1, slots) * kBlock);
    std::size_t slot = static_cast<std::size_t>(program.slotCount);
    for (const ConstantReg& c : program.constants) {
        float* memory = m_scratch.data() + kBlock * slot++;
        std::fill_n(memory, kBlock, c.value);
        m_at[static_cast<std::size_t>(c.reg)] = memory;
    }
    for (std::size_t r = 0; r < m_at.size(); ++r)
        if (program.slotOf[r] >= 0)
            m_at[r] = m_scratch.data() + kBlock * static_cast<std::size_t>(program.slotOf[r]);
    m_soon.assign(program.code.size(), kNoReg);
    m_next.assign(program.code.size(), kNoReg);
}

void BlockRunner::fetchAhead(std::size_t block) {
    m_block = block;
    fetchOutputs();
    for (std::size_t i = 0; i < std::min(m_next.size(), m_program.sourceRegs.size()); ++i)
        m_next[i] = m_program.sourceRegs[i].reg;
    m_isReady = false;
}

void BlockRunner::fetchOutputs() {
    const std::vector<Instruction>& code = m_program.code;
    std::vector<bool> isOutput(m_at.size(), false);
    for (const Reg r : m_program.outputs) isOutput[static_cast<std::size_t>(r)] = true;
    for (std::size_t i = 0; i < code.size(); ++i)
        for (const Reg r : code[i].out) {
            if (r == kNoReg || !isOutput[static_cast<std::size_t>(r)]) continue;
            // Not far back: what was fetched long before has left the cache again.
            constexpr std::size_t kFarthest = 16;
            std::size_t before = i;
            while (before > 0 && i - before < kFarthest && m_soon[before - 1] != kNoReg) --before;
            if (before > 0 && m_soon[before - 1] == kNoReg) m_soon[before - 1] = r;
        }
}

void BlockRunner::place(Reg reg, const float* memory) {
    const auto r = static_cast<std::size_t>(reg);
    for (const Reg placed : m_placed) m_at[static_cast<std::size_t>(placed)] += m_moved;
    m_moved = 0;
    if (!m_isPlaced[r]) m_placed.push_back(reg);
    m_isPlaced[r] = true;
    m_at[r] = const_cast<float*>(memory);
    m_isReady = false;
}

void BlockRunner::moveOn(std::size_t floats) {
    m_moved += floats;
    if (!m_isReady) return;
    for (float** pointer : m_moving) *pointer += floats;
    for (const float** pointer : m_ahead) *pointer += floats;
}

void BlockRunner::makeReady() {
    const std::vector<Instruction>& code = m_program.code;
    const auto memoryOf = [this](Reg r) { return r == kNoReg ? nullptr : const_cast<float*>(at(r)); };
    std::size_t all = 0;
    for (const Instruction& i : code) all += i.in.size() + i.out.size();
    m_pointers.assign(all, nullptr);
    m_moving.clear(), m_ahead.clear(), m_calls.clear();
    m_calls.reserve(code.size());  // what moves is told by where it lies
    float** at = m_pointers.data();
    const auto point = [&](const std::vector<Reg>& regs) {
        for (const Reg r : regs) {
            if (moves(r)) m_moving.push_back(at);
            *at++ = memoryOf(r);
        }
    };
    // What fetches nothing for others fetches the scratch, which is there.
    const auto fetched = [&](Reg r) {
        const float* const memory = memoryOf(r);
        return memory != nullptr ? memory : m_scratch.data();
    };
    for (std::size_t i = 0; i < code.size(); ++i) {
        if (m_runs != nullptr && !(*m_runs)[i]) continue;
        const Instruction& c = code[i];
        float** const in = at;
        point(c.in), point(c.out);
        KernelCall& with = m_calls
                               .emplace_back(Call{c.op->kernel,
                                                  {in, in + c.in.size(), c.params.data(), c.params.size(), 0,
                                                   c.data.get(), fetched(m_soon[i]), fetched(m_next[i])}})
                               .with;
        if (moves(m_soon[i])) m_ahead.push_back(&with.soon);
        if (moves(m_next[i])) with.next += m_block, m_ahead.push_back(&with.next);
    }
    m_isReady = true;
}

void BlockRunner::run(std::size_t count) {
    if (!m_isReady) makeReady();
    for (Call& c : m_calls) {
        c.with.count = (count + kPad - 1) / kPad * kPad;
        c.kernel(c.with);
    }
}

std::vector<bool> computedRegs(const Program& program) {
    std::vector<bool> computed(static_cast<std::size_t>(program.registerCount), false);
    for (const Instruction& i : program.code)
        for (const Reg r : i.out)
            if (r != kNoReg) computed[static_cast<std::size_t>(r)] = true;
    return computed;
}

}  // namespace kettle
