// Document to program: walks the wanted results back through lines, feeds and taps, lets each step emit its
// instructions, and returns the flat program with nothing in it that nobody wants.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/colour/colour_management.h"
#include "core/document/component.h"
#include "core/document/project.h"
#include "core/program/program.h"
#include "core/steps/catalogue.h"
#include "core/threads/parallel.h"

namespace kettle {

class Network;

/// One wanted result: a line after one of its steps ("" for its end). `components` says how many planes are
/// wanted.
struct Want {
    std::string line;
    std::string after;
    int components = 3;           ///< 1 (a scalar), 3, or 4 with alpha
    bool displayEncoded = false;  ///< colours: encode for the screen or an 8-bit file; normals: to 0..1
    std::string feed{};           ///< not empty: what this feed of the step `after` brings
    /// What it should be turned into: a colour's luminance as a scalar, a scalar as a grey. Between normals
    /// and others there is no way, and the neutral value stands in. Nothing: as it is.
    std::optional<Kind> as{};
    /// Set: this component of it as a scalar, in the numbers that people read:
    /// light as a display shows it, a normal's axes in 0..1, hue and the like as they are.
    std::optional<Component> component{};
    /// Not empty: colours in this space of the configuration instead, from linear Rec.709.
    std::string space{};
};

/// What a line gives to whoever takes its result: its channel's kind, or for a shared line its own.
Kind kindGiven(const Line& line);
/// The end of a line as its channel takes it, with as many components as that has.
Want wantOfLine(const Line& line, bool displayEncoded = false);

/// What a project is compiled by: what colour-space steps convert by, and which steps there are. Borrows
/// all.
struct Rules {
    const ColourManagement& colours = ColourManagement::shipped();
    const Catalogue& steps = shippedSteps();
    /// Once it is cancelled, what is compiled comes out soon and is not to be used: its planes may be -1.
    /// Null: it goes on to the end.
    const CancelToken* cancel = nullptr;
    /// The network of the very project that is compiled, if somebody has it. Null: it is made.
    const Network* network = nullptr;
};

struct Compiled {
    Program program;
    /// planes[w][c]: which of program.outputs is component c of want w; -1 beyond its components.
    std::vector<std::array<int, 4>> planes;
};

/// Compiles what is wanted of a project as a look shows it (null: the base). Never fails: an unknown step
/// passes its input on and a missing line or a cycle reads as neutral; problemsOf() names them. Colours come
/// out in linear Rec.709, whatever the project's working space.
Compiled compile(const Project& project, const Look* look, const std::vector<Want>& wants,
                 const Rules& rules = {});

/// What the first of some wants need alone, and what all of them need. Both number the planes of the first
/// alike.
struct CompiledTwice {
    Compiled first, all;
};
/// compile() for the first `count` of some wants and for all, in the time of the latter.
CompiledTwice compileTwice(const Project& project, const Look* look, const std::vector<Want>& wants,
                           std::size_t count, const Rules& rules = {});

/// One of several that are compiled into one program.
struct CompileSide {
    const Project* project;
    const Look* look;  ///< null: the base
    const std::vector<Want>* wants;
    const Program* alone;  ///< what compile() makes of it
};
struct CompiledTogether {
    Program program;
    std::vector<std::vector<std::array<int, 4>>> planes;  ///< by side, then as Compiled::planes
};
/// Several looks, or several projects that share their sets, as one program: what they compute alike is
/// computed once. Each side's planes are bit for bit what its own program gives.
CompiledTogether compileTogether(const std::vector<CompileSide>& sides, const Rules& rules = {});

/// What is wrong with a project apart from its files: unknown steps, controls of the wrong type, feeds to
/// nowhere, cycles. One sentence each.
std::vector<std::string> problemsOf(const Project& project, const Catalogue& steps = shippedSteps());

}  // namespace kettle
