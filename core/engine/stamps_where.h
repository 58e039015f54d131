// Which of a map's stamps lie: what a line says at their middles.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "core/engine/resources.h"
#include "core/program/placed.h"
#include "core/program/program.h"

namespace kettle {

/// A stamp by its cell and the tile of texture space in which it is asked about.
struct StampCell {
    int column = 0, row = 0, tileColumn = 0, tileRow = 0;
    auto operator<=>(const StampCell&) const = default;
};

/// A program that says of places of texture space how likely a stamp is there. Immutable; threads: safe.
class StampsWhere {
public:
    /// The one of a program with these maps; equal ones are the same for as long as somebody holds them.
    static std::shared_ptr<const StampsWhere> of(std::shared_ptr<const Program> program, ResolvedMaps maps);
    /// Which of some stamps lie: those whose own number in 0..1 is below what the program says at their
    /// middle, of a quarter of the stamp around it. The middle is looked for within the stamp's tile, so that
    /// what leaves a square on one side comes in on the other.
    std::vector<bool> lie(const Placed& placed, const std::vector<StampCell>& stamps) const;
    /// A number that no other of this run bears.
    std::uint64_t id() const { return m_id; }

private:
    StampsWhere(std::shared_ptr<const Program> program, ResolvedMaps maps);
    bool isOf(const Program& program, const ResolvedMaps& maps) const;
    std::shared_ptr<const Program> m_program;
    ResolvedMaps m_maps;
    std::uint64_t m_id;
};

}  // namespace kettle
