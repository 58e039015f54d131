// Exploring: candidates that differ in one or several controls, side by side. What they are is worked out
// here, as changes of a look; their pictures are those of any look.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/document/project.h"
#include "core/steps/catalogue.h"

namespace kettle {

/// What is tried of a control. Hue and Value are of a colour: its hue turned by -180 to 180 degrees, its
/// value times 0 to 2.
enum class ExploreWhat { Number, Choice, Toggle, Seed, Hue, Value };

/// One control along one side of the sheet, or one of several that are free.
struct ExploreAxis {
    std::string step, control;
    ExploreWhat what = ExploreWhat::Number;
    double low = 0, high = 1;  ///< of Number, Hue and Value; the ends of what is tried
    bool operator==(const ExploreAxis&) const = default;
};

inline constexpr int kFewestCandidates = 4, kMostCandidates = 48;

struct ExplorePlan {
    std::optional<ExploreAxis> across, down;
    /// Not empty: these controls at once, each within `spread` of its range around what it is; `across` and
    /// `down` rest meanwhile.
    std::vector<ExploreAxis> free;
    double spread = 0.2;  ///< 0..1
    int seed = 1;
    int count = 12;  ///< as many are wanted; choices and seeds decide for themselves
};

struct Candidate {
    Changes changes;  ///< "step.control" and its value; "bypass" is a control of every step
    std::vector<std::string>
        words;  ///< what tells it from the others: "+92°", "multiply", "saturation 0.5 ×"
};

struct Candidates {
    int columns = 1, rows = 1;
    std::vector<Candidate> all;  ///< by rows; at most kMostCandidates
};

/// How a control can be tried, within a range that is of use; nothing for one that cannot (ramps, texts,
/// a measured one, a step or control that is not there). Of a colour: its hue, or with `down` its value.
std::optional<ExploreAxis> exploreAxis(const Project& project, const std::string& step,
                                       const std::string& control, const Catalogue& steps, bool down = false);
/// Every control of a step that can be tried, in the step's order, on a line of its kind.
std::vector<ExploreAxis> exploreAxes(const Project& project, const std::string& step, const Catalogue& steps,
                                     bool down = false);
/// The ends that the axis may have: the control's comfortable range.
ExploreAxis wholeRange(const Project& project, const ExploreAxis& axis, const Catalogue& steps);

/// The candidates of a plan for a look, as it is now. One axis alone fills the sheet; without any, or with
/// steps that are gone, none. Bit for bit the same on every machine.
Candidates candidatesOf(const Project& project, const std::string& look, const ExplorePlan& plan,
                        const Catalogue& steps);

/// The project with a candidate taken in a look. Errors: those of edits::setControl.
Result<Project> withCandidate(const Project& project, const std::string& look, const Candidate& candidate);

/// The other numbers of candidates that the wheel goes to: 4, 6, 8, 12, 16, 20, 24, 30, 36, 48.
int moreCandidates(int count, int by);

}  // namespace kettle
