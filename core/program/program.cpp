#include "core/program/program.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cassert>

#include "core/base/hash.h"

namespace kettle {
namespace {

std::uint64_t hashOf(const Op& op, const std::vector<Reg>& in, const std::vector<float>& params) {
    std::uint64_t h = mixBits(reinterpret_cast<std::uintptr_t>(&op));
    for (const Reg r : in) h = combine(h, static_cast<std::uint32_t>(r));
    for (const float p : params) h = combine(h, std::bit_cast<std::uint32_t>(p));
    return h;
}

bool sameBits(const std::vector<float>& a, const std::vector<float>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](float x, float y) {
        return std::bit_cast<std::uint32_t>(x) == std::bit_cast<std::uint32_t>(y);
    });
}

}  // namespace

bool MapSource::operator==(const MapSource& o) const {
    const bool isAlike = set == o.set && role == o.role && placed == o.placed;
    if (!isAlike || where == o.where) return isAlike;
    return where != nullptr && o.where != nullptr && where->computesAs(*o.where);
}

Reg ProgramBuilder::constant(float value) {
    const auto [found, isNew] =
        m_constants.try_emplace(std::bit_cast<std::uint32_t>(value), static_cast<Reg>(m_nodes.size()));
    if (isNew) {
        Node node{Node::Type::Constant};
        node.value = value;
        m_nodes.push_back(node);
    }
    return found->second;
}

Reg ProgramBuilder::source(SourceKey key, int component) {
    const bool moves = !key.is(PointAttribute::Stride) && !key.is(PointAttribute::Footprint) &&
                       !key.is(PointAttribute::Covered);
    if (moves) key.offset = m_offset;
    auto at = std::find(m_sources.begin(), m_sources.end(), key);
    const int index = static_cast<int>(at - m_sources.begin());
    if (at == m_sources.end()) m_sources.push_back(key);
    const auto [found, isNew] =
        m_sourceRegs.try_emplace({index, component}, static_cast<Reg>(m_nodes.size()));
    if (isNew) {
        Node node{Node::Type::Source};
        node.source = index;
        node.component = component;
        m_nodes.push_back(node);
    }
    return found->second;
}

Reg ProgramBuilder::emit(const Op& op, const std::vector<Reg>& in, std::vector<float> params, int outs,
                         std::shared_ptr<const void> data) {
    assert(outs >= 1 && std::none_of(in.begin(), in.end(), [](Reg r) { return r == kNoReg; }));
    if (!in.empty() && std::all_of(in.begin(), in.end(), [&](Reg r) { return isConstant(r); })) {
        alignas(64) std::array<std::array<float, kPad>, 24> memory;
        assert(in.size() + static_cast<std::size_t>(outs) <= memory.size());
        std::array<const float*, 24> inputs{};
        std::array<float*, 24> results{};
        for (std::size_t i = 0; i < in.size(); ++i) {
            memory[i].fill(m_nodes[static_cast<std::size_t>(in[i])].value);
            inputs[i] = memory[i].data();
        }
        for (std::size_t i = 0; i < static_cast<std::size_t>(outs); ++i)
            results[i] = memory[in.size() + i].data();
        op.kernel({inputs.data(), results.data(), params.data(), params.size(), kPad, data.get(),
                   memory[0].data(), memory[0].data()});
        // Consecutive registers are promised, so shared constants can only be used for a single result.
        if (outs == 1) return constant(results[0][0]);
        const auto first = static_cast<Reg>(m_nodes.size());
        for (std::size_t i = 0; i < static_cast<std::size_t>(outs); ++i) {
            Node node{Node::Type::Constant};
            node.value = results[i][0];
            m_nodes.push_back(node);
        }
        return first;
    }
    if (const Reg undone = cancelled(op, in); undone != kNoReg) return undone;
    std::vector<int>& same = m_known[hashOf(op, in, params)];
    for (const int i : same) {
        const Instruction& known = m_code[static_cast<std::size_t>(i)];
        if (known.op == &op && known.in == in && sameBits(known.params, params) && known.data == data &&
            known.out.size() == static_cast<std::size_t>(outs))
            return known.out.front();
    }
    Instruction made{&op, in, {}, std::move(params), std::move(data)};
    for (int i = 0; i < outs; ++i) {
        Node node{Node::Type::Result};
        node.instruction = static_cast<int>(m_code.size());
        made.out.push_back(static_cast<Reg>(m_nodes.size()));
        m_nodes.push_back(node);
    }
    same.push_back(static_cast<int>(m_code.size()));
    m_mayCancel.push_back(m_cancels);
    m_code.push_back(std::move(made));
    return m_code.back().out.front();
}

Reg ProgramBuilder::cancelled(const Op& op, const std::vector<Reg>& in) const {
    if (!m_cancels || op.inverse == nullptr || in.size() != 1) return kNoReg;
    const int by = m_nodes[static_cast<std::size_t>(in.front())].instruction;
    if (by < 0 || !m_mayCancel[static_cast<std::size_t>(by)]) return kNoReg;
    const Instruction& before = m_code[static_cast<std::size_t>(by)];
    return before.op == op.inverse ? before.in.front() : kNoReg;
}

bool ProgramBuilder::isConstant(Reg reg, float* value) const {
    if (reg == kNoReg) return false;
    const Node& node = m_nodes[static_cast<std::size_t>(reg)];
    if (node.type != Node::Type::Constant) return false;
    if (value != nullptr) *value = node.value;
    return true;
}

namespace {

/// Linear scan: a slot is free again after the last instruction that reads its register.
void assignSlots(Program& p) {
    const auto count = static_cast<std::size_t>(p.registerCount);
    std::vector<int> lastUse(count, -1);
    std::vector<bool> own(count, false);
    for (const ConstantReg& c : p.constants) own[static_cast<std::size_t>(c.reg)] = true;
    for (const SourceReg& s : p.sourceRegs) own[static_cast<std::size_t>(s.reg)] = true;
    for (const Reg r : p.outputs) own[static_cast<std::size_t>(r)] = true;
    for (std::size_t i = 0; i < p.code.size(); ++i)
        for (const Reg r : p.code[i].in)
            if (r != kNoReg) lastUse[static_cast<std::size_t>(r)] = static_cast<int>(i);
    p.slotOf.assign(count, -1);
    std::vector<int> freeSlots;
    for (std::size_t i = 0; i < p.code.size(); ++i) {
        for (const Reg r : p.code[i].out) {
            if (r == kNoReg || own[static_cast<std::size_t>(r)]) continue;
            if (freeSlots.empty()) freeSlots.push_back(p.slotCount++);
            p.slotOf[static_cast<std::size_t>(r)] = freeSlots.back();
            freeSlots.pop_back();
        }
        std::vector<Reg> ended;
        for (const Reg r : p.code[i].in)
            if (r != kNoReg) ended.push_back(r);
        std::sort(ended.begin(), ended.end());
        ended.erase(std::unique(ended.begin(), ended.end()), ended.end());
        for (const Reg r : ended) {
            const auto k = static_cast<std::size_t>(r);
            if (p.slotOf[k] >= 0 && lastUse[k] <= static_cast<int>(i)) freeSlots.push_back(p.slotOf[k]);
        }
    }
}

}  // namespace

namespace {

/// True if a needed result of the instruction reads its input k.
bool isRead(const Instruction& ins, std::size_t k, const std::vector<bool>& needed) {
    const std::size_t outs = ins.out.size();
    if (k >= static_cast<std::size_t>(ins.op->groups) * outs) return true;
    return needed[static_cast<std::size_t>(ins.out[k % outs])];
}

}  // namespace

// NOLINTNEXTLINE(performance-unnecessary-value-param): small, and built for the call
Program ProgramBuilder::finish(std::vector<Reg> outputs) const {
    std::vector<bool> needed(m_nodes.size(), false);
    bool needsZero = false;
    for (const Reg r : outputs) {
        if (r == kNoReg)
            needsZero = true;
        else
            needed[static_cast<std::size_t>(r)] = true;
    }
    std::vector<bool> live(m_code.size(), false);
    for (std::size_t i = m_code.size(); i-- > 0;) {
        const Instruction& ins = m_code[i];
        live[i] = std::any_of(ins.out.begin(), ins.out.end(),
                              [&](Reg r) { return needed[static_cast<std::size_t>(r)]; });
        if (live[i])
            for (std::size_t k = 0; k < ins.in.size(); ++k)
                if (isRead(ins, k, needed)) needed[static_cast<std::size_t>(ins.in[k])] = true;
    }
    Program p;
    std::vector<Reg> number(m_nodes.size(), kNoReg);
    const auto take = [&](Reg old) { return number[static_cast<std::size_t>(old)] = p.registerCount++; };
    std::vector<int> sourceNumber(m_sources.size(), -1);
    for (std::size_t i = 0; i < m_nodes.size(); ++i) {
        if (!needed[i]) continue;
        const Node& node = m_nodes[i];
        if (node.type == Node::Type::Constant) p.constants.push_back({take(static_cast<Reg>(i)), node.value});
        if (node.type != Node::Type::Source) continue;
        int& s = sourceNumber[static_cast<std::size_t>(node.source)];
        if (s < 0) {
            s = static_cast<int>(p.sources.size());
            p.sources.push_back(m_sources[static_cast<std::size_t>(node.source)]);
        }
        p.sourceRegs.push_back({take(static_cast<Reg>(i)), s, node.component});
    }
    for (std::size_t i = 0; i < m_code.size(); ++i) {
        if (!live[i]) continue;
        Instruction ins{m_code[i].op, {}, {}, m_code[i].params, m_code[i].data};
        for (std::size_t k = 0; k < m_code[i].in.size(); ++k)
            ins.in.push_back(isRead(m_code[i], k, needed) ? number[static_cast<std::size_t>(m_code[i].in[k])]
                                                          : kNoReg);
        // `needed` was filled from the end, so a result that only dropped instructions read is not in it.
        for (const Reg r : m_code[i].out)
            ins.out.push_back(needed[static_cast<std::size_t>(r)] ? take(r) : kNoReg);
        p.code.push_back(std::move(ins));
    }
    Reg zeroReg = kNoReg;
    if (needsZero) p.constants.push_back({zeroReg = p.registerCount++, 0.0f});
    for (const Reg r : outputs)
        p.outputs.push_back(r == kNoReg ? zeroReg : number[static_cast<std::size_t>(r)]);
    assignSlots(p);
    return p;
}

bool Program::readsModel() const {
    return std::any_of(sources.begin(), sources.end(), [](const SourceKey& s) {
        const MapSource* map = s.map();
        return s.mesh() != nullptr || s.is(PointAttribute::Covered) || s.isTriplanar() ||
               (map != nullptr && map->where != nullptr && map->where->readsModel());
    });
}

bool Program::computesAs(const Program& o) const {
    // Numbers bit for bit: what is no number is unlike itself, and is then computed again.
    return sources == o.sources && sourceRegs == o.sourceRegs && constants == o.constants && code == o.code &&
           outputs == o.outputs;
}

std::string Program::listing() const {
    std::string text;
    for (const ConstantReg& c : constants) text += fmt::format("%{} = {}\n", c.reg, c.value);
    for (const SourceReg& s : sourceRegs) {
        const SourceKey& key = sources[static_cast<std::size_t>(s.source)];
        const MapSource* map = key.map();
        text += fmt::format("%{} = sample {}/{} component {}\n", s.reg, map != nullptr ? map->set : "",
                            map != nullptr ? map->role : "", s.component);
    }
    for (const Instruction& i : code)
        text += fmt::format("%{} = {}(%{})\n", fmt::join(i.out, " %"), i.op->name, fmt::join(i.in, " %"));
    return text + fmt::format("out %{}\n", fmt::join(outputs, " %"));
}

}  // namespace kettle
