#include "core/engine/kept_results.h"

#include <algorithm>
#include <bit>

#include "core/base/hash.h"

namespace kettle {
namespace {

/// Which instruction writes each register; -1: none.
std::vector<int> writersOf(const Program& program) {
    std::vector<int> writers(static_cast<std::size_t>(program.registerCount), -1);
    for (std::size_t i = 0; i < program.code.size(); ++i)
        for (const Reg r : program.code[i].out)
            if (r != kNoReg) writers[static_cast<std::size_t>(r)] = static_cast<int>(i);
    return writers;
}

/// Goes back from some registers over what they need: `enters(i, reg)` is asked once of each instruction that
/// writes one, and says whether it is gone on to what that reads.
template <class Enters>
void walkBack(const Program& program, const std::vector<Reg>& from, Enters&& enters) {
    const std::vector<int> writers = writersOf(program);
    std::vector<bool> entered(program.code.size(), false);
    std::vector<Reg> open = from;
    while (!open.empty()) {
        const Reg reg = open.back();
        open.pop_back();
        const int writer = reg == kNoReg ? -1 : writers[static_cast<std::size_t>(reg)];
        if (writer < 0) continue;
        const auto i = static_cast<std::size_t>(writer);
        if (entered[i] || !enters(i, reg)) continue;
        entered[i] = true;
        open.insert(open.end(), program.code[i].in.begin(), program.code[i].in.end());
    }
}

}  // namespace

bool ProgramPlan::writes(const Program& program, Reg reg) const {
    for (std::size_t i = 0; i < program.code.size(); ++i)
        if ((runs.empty() || runs[i]) && std::find(program.code[i].out.begin(), program.code[i].out.end(),
                                                   reg) != program.code[i].out.end())
            return true;
    return false;
}

std::vector<std::uint64_t> identitiesOf(const Program& program, const std::vector<std::uint64_t>& sources) {
    std::vector<std::uint64_t> ids(static_cast<std::size_t>(program.registerCount), 0);
    const auto of = [&](Reg r) -> std::uint64_t& { return ids[static_cast<std::size_t>(r)]; };
    for (const ConstantReg& c : program.constants)
        of(c.reg) = combine(1, std::bit_cast<std::uint32_t>(c.value)) | 1u;
    for (std::size_t s = 0; s < sources.size(); ++s)
        of(program.sourceRegs[s].reg) = combine(2, sources[s]) | 1u;
    for (const Instruction& i : program.code) {
        std::uint64_t hash = combine(3, std::bit_cast<std::uintptr_t>(i.op));
        bool isTold = i.data == nullptr;
        for (const float p : i.params) hash = combine(hash, std::bit_cast<std::uint32_t>(p));
        for (const Reg r : i.in) {
            hash = combine(hash, r == kNoReg ? 0 : of(r));
            isTold = isTold && (r == kNoReg || of(r) != 0);
        }
        for (std::size_t c = 0; c < i.out.size(); ++c)
            if (i.out[c] != kNoReg) of(i.out[c]) = isTold ? combine(hash, c) | 1u : 0;
    }
    return ids;
}

ProgramPlan KeptResults::plan(const Program& program, const std::vector<std::uint64_t>& identities,
                              const std::vector<Reg>& wanted) const {
    ProgramPlan plan;
    plan.runs.assign(program.code.size(), false);
    std::map<Reg, const float*> there;
    walkBack(program, wanted, [&](std::size_t i, Reg reg) {
        if (const auto at = m_planes.find(identities[static_cast<std::size_t>(reg)]); at != m_planes.end()) {
            there[reg] = at->second.data();
            return false;
        }
        plan.runs[i] = true;
        return true;
    });
    // Of an instruction that runs for another of its results this one comes by itself.
    for (std::size_t i = 0; i < program.code.size(); ++i)
        for (const Reg r : program.code[i].out)
            if (plan.runs[i]) there.erase(r);
    plan.kept.assign(there.begin(), there.end());
    return plan;
}

std::vector<Reg> KeptResults::comeAgain(const Program& program, const std::vector<std::uint64_t>& identities,
                                        std::size_t points) {
    constexpr std::uint64_t kLately = 8;
    ++m_programs;
    std::vector<Reg> again;
    std::size_t room = kMostBytes - std::min(kMostBytes, byteSize());
    walkBack(program, program.outputs, [&](std::size_t i, Reg reg) {
        const std::uint64_t id = identities[static_cast<std::size_t>(reg)];
        if (!program.code[i].op->isLong || id == 0) return true;
        if (std::find(again.begin(), again.end(), reg) != again.end()) return false;
        const auto came = m_came.find(id);
        const bool isKnown = came != m_came.end() && came->second < m_programs;
        m_came[id] = m_programs;
        if (m_planes.contains(id)) return false;
        const std::size_t needed = points * sizeof(float);
        if (!isKnown || needed > room) return true;
        room -= needed;
        again.push_back(reg);
        return false;
    });
    std::erase_if(m_came, [&](const auto& came) { return came.second + kLately < m_programs; });
    std::erase_if(m_planes, [&](const auto& kept) { return !m_came.contains(kept.first); });
    return again;
}

std::size_t KeptResults::byteSize() const {
    std::size_t sum = 0;
    for (const auto& [id, plane] : m_planes) sum += plane.size() * sizeof(float);
    return sum;
}

}  // namespace kettle
