// The flat program: what a network is compiled to. Single-assignment instructions over registers of one float
// per point; a register is a block of a few hundred points while the program runs.
//
// Invariants: an instruction reads only registers written before it; a register is written once; every output
// is written or a constant or a source. After `finish`, nothing in the program is unused.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <unordered_map>
#include <utility>
#include <variant>
#include <vector>

#include "core/program/mesh_attribute.h"
#include "core/program/placed.h"

namespace kettle {

using Reg = std::int32_t;
inline constexpr Reg kNoReg = -1;

/// Points per block: measured best between 256 and 1024, when a chain's registers stay in the first-level
/// cache.
inline constexpr std::size_t kBlock = 512;
/// Blocks are padded to a multiple of this, so that kernels need no remainder loop (16 floats of AVX-512).
inline constexpr std::size_t kPad = 16;

/// What a kernel gets. Each in and out is `count` floats (a multiple of kPad, 64-byte aligned); outs may
/// alias no in. An out that nobody reads is null when the instruction has several, so that it costs no
/// memory; the kernel then leaves it out.
struct KernelCall {
    const float* const* in;
    float* const* out;
    const float* params;
    std::size_t paramCount;
    std::size_t count;
    const void* data = nullptr;  ///< the instruction's immutable helper, for example a colour transform
    /// `count` floats that a later instruction writes, and as many that one reads in the next block, to be
    /// fetched meanwhile: any memory of that size, never read.
    const float* soon;
    const float* next;
};
using Kernel = void (*)(const KernelCall&);

/// One kind of instruction: a name for reading programs, and its kernel. Defined once, beside the step that
/// emits it.
struct Op {
    const char* name;
    Kernel kernel;
    /// For several results that do not mix: result c reads in[g * outs + c] of each of this many groups, and
    /// all inputs behind the groups. What only unread results would read is then dropped too, and is null in
    /// the call.
    int groups = 0;
    /// It takes as long as a dozen others, so that what it gave is kept where it comes again
    /// (core/engine/kept_results.h).
    bool isLong = false;
    /// Of one number in and one out: what undoes it. Right behind it, nothing is emitted for either.
    const Op* inverse = nullptr;
};

/// Where a line is looked at beside a point, to see how it changes there: in halves of a stride across (u)
/// and up (v). A stride is one texel of the largest map that is read by the same `net`, or the point's
/// footprint if that is larger; nets are told apart by a number above 0.
struct Offset {
    int u = 0, v = 0;
    int net = 0;
    bool operator==(const Offset&) const = default;
    /// True for the point itself.
    bool isNone() const { return net == 0; }
};

struct Program;

/// A map of a texture set with its texture transform.
struct MapSource {
    std::string set, role;
    Placed placed{};
    /// Of a scattered map: evaluated at each stamp's centre; its first output is the probability of the
    /// stamp. Null: all stamps are drawn.
    std::shared_ptr<const Program> where{};
    bool operator==(const MapSource& o) const;
};

/// U, V: texture coordinates. Stride: length of the offset's stride in texture space. Footprint: size of the
/// point in texture space; Covered: the same on the model (cm).
enum class PointAttribute { U, V, Stride, Footprint, Covered };

/// What a source register samples one component (0..3) of.
struct SourceKey {
    std::variant<MapSource, PointAttribute, MeshAttribute> what;
    Offset offset{};
    bool operator==(const SourceKey& o) const = default;

    /// Null if the source is of another type.
    const MapSource* map() const { return std::get_if<MapSource>(&what); }
    const MeshAttribute* mesh() const { return std::get_if<MeshAttribute>(&what); }
    bool is(PointAttribute fact) const { return what == decltype(what)(fact); }
    /// True for a map that is projected along one of the model's axes.
    bool isTriplanar() const { return map() != nullptr && map()->placed.plane != Placed::Plane::Texture; }
};

struct Instruction {
    const Op* op = nullptr;
    std::vector<Reg> in, out;
    std::vector<float> params;
    std::shared_ptr<const void> data{};
    bool operator==(const Instruction&) const = default;
};
struct ConstantReg {
    Reg reg;
    float value;
    bool operator==(const ConstantReg&) const = default;
};
struct SourceReg {
    Reg reg;
    int source;  ///< index into Program::sources
    int component;
    bool operator==(const SourceReg&) const = default;
};

struct Program {
    std::vector<SourceKey> sources;
    std::vector<SourceReg> sourceRegs;
    std::vector<ConstantReg> constants;
    std::vector<Instruction> code;  ///< an `out` of kNoReg is read by nobody, an `in` of kNoReg not needed
    std::vector<Reg> outputs;       ///< in the order asked for; the same register may come twice
    int registerCount = 0;

    // Where registers live while running: a slot of the thread's scratch, reused as soon as the value is
    // dead. -1 for constants, sources and outputs, which have memory of their own.
    std::vector<int> slotOf;
    int slotCount = 0;
    /// True if any source is a fact of the model or needs one.
    bool readsModel() const;
    /// True if both compute the same from the same sources: then only their sources' maps can differ.
    bool computesAs(const Program& other) const;
    /// For reading and for tests: one line an instruction.
    std::string listing() const;
};

/// Builds programs. Equal instructions are shared and instructions on constants are computed at once.
class ProgramBuilder {
public:
    /// The register of a number; equal numbers (bit for bit) share one.
    Reg constant(float value);
    /// The register of component 0..3 of a source, at the offset in force; equal ones share one.
    Reg source(SourceKey key, int component);
    /// From now on sources are read beside the point; Offset{} again: at it.
    void setOffset(Offset offset) { m_offset = offset; }
    const Offset& offset() const { return m_offset; }
    /// Whether what is emitted from now on may cancel an Op::inverse that was emitted while this held: a pair
    /// that leaves a number as it was up to rounding. Off for steps that must keep their results bit for bit.
    void setCancelling(bool cancels) { m_cancels = cancels; }
    /// Adds an instruction with `outs` results and returns the first; the others follow it consecutively.
    /// `data` is what the kernel finds in KernelCall::data; equal pointers count as equal.
    Reg emit(const Op& op, const std::vector<Reg>& in, std::vector<float> params = {}, int outs = 1,
             std::shared_ptr<const void> data = {});

    /// True and the value if the register is known while compiling.
    bool isConstant(Reg reg, float* value = nullptr) const;

    /// Drops what the outputs don't need, numbers registers and gives them slots. kNoReg outputs become 0.
    Program finish(std::vector<Reg> outputs) const;

private:
    /// What `op` on `in` comes to where it undoes the instruction that made `in`; kNoReg where it does not.
    Reg cancelled(const Op& op, const std::vector<Reg>& in) const;
    Offset m_offset;
    bool m_cancels = true;
    struct Node {
        enum class Type { Constant, Source, Result } type;
        float value = 0;
        int source = 0, component = 0;  // Source
        int instruction = -1;           // Result
    };
    std::vector<Node> m_nodes;
    std::vector<Instruction> m_code;
    std::vector<bool> m_mayCancel;  ///< of each instruction
    std::vector<SourceKey> m_sources;
    std::unordered_map<std::uint64_t, std::vector<int>> m_known;  // hash -> instructions
    std::unordered_map<std::uint32_t, Reg> m_constants;
    std::map<std::pair<int, int>, Reg> m_sourceRegs;  ///< by source and component
};

}  // namespace kettle
