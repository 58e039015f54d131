// Steps that change nothing, and why: by what their controls say, by the program (both sides are the same
// registers), and by looking at the numbers.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <unordered_set>
#include <utility>
#include <vector>

#include "core/analysis/sampling.h"
#include "core/document/network.h"

namespace kettle {

/// The wants that tell whether steps have an effect; appended to those of a larger run, so that the board
/// needs only one.
class EffectWants {
public:
    /// Which steps are asked after, in the order of the network; all of them if nothing is said. Unfinished
    /// once `cancel` was asked for.
    struct Which {
        std::size_t first = 0, count = SIZE_MAX;
        CancelToken cancel{};
    };
    /// Adds what is needed for steps of a project, of which the network is, as the look shows them.
    EffectWants(const Project& project, const Network& network, const Look* look, const Catalogue& steps,
                std::vector<Want>& wants, const Which& which);
    /// Each step without effect, in their order, and the reason: "the amount is 0", "the mask is black
    /// everywhere", "both inputs are equal", "nothing that comes in is changed by it". Bypassed steps are not
    /// in it: they are meant to have none.
    std::vector<std::pair<std::string, std::string>> reasons(const Sampled& sampled) const;

private:
    struct Asked {
        std::string step, declared;
        std::size_t before, after;  ///< wants
        int mask = -1, over = -1;   ///< wants, if a line is joined
        int components = 3;
        bool changesAnyway = false;
    };
    std::vector<Asked> m_asked;
};

/// How many steps on the channels' lines do something in the base, as far as their controls tell (a shared
/// line does nothing by itself: whoever reads it counts). Sources, bypassed steps and what bringing in put
/// there (a gloss map's Invert) do not count: with 0 the set is shown as it was received.
class WorkedSteps {
public:
    /// Of one edition after the other: what two share is not asked again.
    int of(const Project& project, const Catalogue& steps);

private:
    bool isAtWork(const Line& line, const Step& step, const Catalogue& steps) const;
    int countOf(const Line& line, const Line* before, std::vector<bool>& works, const Catalogue& steps) const;
    struct Known {
        Shared<Line> line;
        std::vector<bool> works;  ///< of each step
        int count = 0;
    };
    std::vector<Known> m_lines;  ///< those of channels
    std::unordered_set<std::string> m_bypassed;
};
/// The same, of one edition alone.
int workedSteps(const Project& project, const Catalogue& steps = shippedSteps());

/// The reasons of EffectWants by runs of its own, a few hundred steps at a time, so that a long line needs no
/// more memory than a short one. Unfinished if cancelled.
std::map<std::string, std::string> stepsWithoutEffect(const Project& project, const Look* look,
                                                      const Resources& resources, const PointSet& points,
                                                      const CancelToken& cancel = {});

}  // namespace kettle
