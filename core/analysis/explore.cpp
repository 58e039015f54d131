#include "core/analysis/explore.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/hash.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "core/document/handles.h"
#include "core/document/network.h"
#include "core/steps/step.h"

namespace kettle {
namespace {

/// Columns and rows of as many candidates, wider than high as a screen is.
struct Sheet {
    int count, columns, rows;
};
constexpr std::array kSheets{Sheet{4, 2, 2},  Sheet{6, 3, 2},  Sheet{8, 4, 2},  Sheet{12, 4, 3},
                             Sheet{16, 4, 4}, Sheet{20, 5, 4}, Sheet{24, 6, 4}, Sheet{30, 6, 5},
                             Sheet{36, 6, 6}, Sheet{48, 8, 6}};

Sheet sheetOf(int count) {
    for (const Sheet& sheet : kSheets)
        if (count <= sheet.count) return sheet;
    return kSheets.back();
}

/// A step as a look shows it, with what declares it.
struct Shown {
    Step step;
    const StepSpec* spec = nullptr;
    const ControlSpec* control = nullptr;
    Kind kind = Kind::Colour;
    StepView view() const { return {*spec, step, kind}; }
};

std::optional<Shown> shownOf(const Project& project, const std::string& look, const std::string& id,
                             const std::string& control, const Catalogue& steps) {
    const auto place = project.findStep(id);
    if (!place) return std::nullopt;
    Shown shown;
    shown.step = withLook(project, project.stepAt(*place), project.findLook(look));
    shown.spec = steps.find(shown.step.type);
    if (shown.spec == nullptr) return std::nullopt;
    shown.control = shown.spec->findControl(control);
    shown.kind = project.lines[place->line]->kind;
    if (shown.control == nullptr && control != kBypass.id) return std::nullopt;
    return shown;
}

std::string lower(std::string words) {
    if (!words.empty() && words[0] >= 'A' && words[0] <= 'Z') words[0] = static_cast<char>(words[0] + 32);
    return words;
}

/// "+92°", "0.50 ×", "3": as the control's field writes it.
std::string numberWords(const ControlSpec& control, double value) {
    // Whole degrees need no decimals.
    const int decimals = control.unit == kDegrees && value == std::round(value) ? 0 : control.decimals;
    const std::string digits = control.low < 0 && value != 0
                                   ? fmt::format("{:+.{}f}", value, decimals)
                                   : fmt::format("{:.{}f}", std::abs(value) > 0 ? value : 0.0, decimals);
    const bool isClose = control.unit == kDegrees || control.unit.empty();
    return isClose ? digits + control.unit : digits + " " + control.unit;
}

double rounded(double value, int decimals) {
    const double scale = std::pow(10.0, decimals);
    return std::round(value * scale) / scale;
}

/// A value of an axis and how it is told.
struct Tried {
    ControlValue value;
    std::string words;
};

/// The place of `i` of `n` values on an axis: its ends are among them, but a whole circle's are one.
double placeOn(const ExploreAxis& axis, bool isCircle, int i, int n) {
    if (n < 2) return (axis.low + axis.high) / 2;
    const double steps = isCircle && axis.high - axis.low >= 360 ? n : n - 1;
    return axis.low + (axis.high - axis.low) * i / steps;
}

/// A colour with its hue turned or its value scaled, as a display shows it; a grey gets a colour to turn.
Colour tinted(const Colour& from, ExploreWhat what, double by) {
    Hsv hsv = hsvOf({linearToSrgb(from.r), linearToSrgb(from.g), linearToSrgb(from.b)});
    if (what == ExploreWhat::Value) {
        hsv.value = std::clamp(hsv.value * static_cast<float>(by), 0.0f, 1.0f);
    } else {
        if (hsv.saturation < 0.02f) hsv.saturation = 0.5f;
        hsv.hue = static_cast<float>(std::fmod(hsv.hue + by + 720.0, 360.0));
    }
    const Vec3 rgb = rgbOf(hsv);
    return {srgbToLinear(rgb.x), srgbToLinear(rgb.y), srgbToLinear(rgb.z)};
}

/// Works out the values of axes for one project and look.
class Trier {
public:
    Trier(const Project& project, const std::string& look, const Catalogue& steps)
        : m_project(project), m_look(look), m_steps(steps) {}

    std::optional<Shown> shown(const ExploreAxis& axis) const {
        return shownOf(m_project, m_look, axis.step, axis.control, m_steps);
    }
    /// How many values an axis has if `wanted` could be shown.
    int countOn(const ExploreAxis& axis, int wanted) const {
        const auto at = shown(axis);
        if (!at) return 0;
        if (axis.what == ExploreWhat::Toggle) return 2;
        if (axis.what == ExploreWhat::Choice)
            return static_cast<int>(std::min<std::size_t>(at->control->choices.size(), kMostCandidates));
        if (axis.what != ExploreWhat::Number || at->control->decimals > 0) return wanted;
        return std::clamp(static_cast<int>(std::lround(axis.high - axis.low)) + 1, 1, wanted);
    }
    /// Adds the `i`th of `n` values to a candidate.
    void add(const ExploreAxis& axis, int i, int n, Candidate& candidate, bool isFirst) const {
        const auto at = shown(axis);
        if (!at) return;
        Tried tried = triedOf(axis, *at, i, n, candidate);
        if (!isFirst && at->control != nullptr && axis.what != ExploreWhat::Choice)
            tried.words = lower(at->control->name) + " " + tried.words;
        candidate.words.push_back(std::move(tried.words));
        candidate.changes[axis.step + "." + axis.control] = std::move(tried.value);
    }
    /// The control somewhere around what it is; `u` in 0..1.
    void addFree(const ExploreAxis& axis, double spread, double u, Candidate& candidate) const {
        const auto at = shown(axis);
        if (!at || at->control == nullptr) return;
        const ControlSpec& control = *at->control;
        const std::string key = axis.step + "." + axis.control;
        if (axis.what == ExploreWhat::Number) {
            const double now = at->view()[NumberHandle{control.id.c_str()}];
            const double most = std::max(now, control.high), least = std::min(now, control.low);
            const double to =
                rounded(std::clamp(now + spread * (control.high - control.low) * (2 * u - 1), least, most),
                        control.decimals);
            candidate.changes[key] = to;
            candidate.words.push_back(lower(control.name) + " " + numberWords(control, to));
        } else if (axis.what == ExploreWhat::Hue) {
            const double by = std::round(spread * 360 * (u - 0.5));
            candidate.changes[key] =
                tinted(at->view()[ColourHandle{control.id.c_str()}], ExploreWhat::Hue, by);
            candidate.words.push_back(fmt::format("hue {:+.0f}°", by));
        } else if (axis.what == ExploreWhat::Choice && !control.choices.empty()) {
            // The wider the spread, the more often another one.
            const double v = u / std::max(spread, 1e-9);
            if (v >= 1) return;
            const auto& choice =
                control.choices[static_cast<std::size_t>(v * static_cast<double>(control.choices.size()))];
            candidate.changes[key] = choice.id;
            candidate.words.push_back(lower(choice.name));
        } else if (axis.what == ExploreWhat::Seed) {
            candidate.changes[key] = 1 + std::floor(u * 9999);
            candidate.words.push_back(fmt::format("seed {:.0f}", 1 + std::floor(u * 9999)));
        }
    }

private:
    Tried triedOf(const ExploreAxis& axis, const Shown& at, int i, int n, const Candidate& candidate) const {
        switch (axis.what) {
            case ExploreWhat::Toggle:
                if (at.control == nullptr) return {i == 0, i == 0 ? "without" : "with"};
                return {i == 1, i == 1 ? "on" : "off"};
            case ExploreWhat::Choice: {
                const Choice& choice = at.control->choices[static_cast<std::size_t>(i)];
                return {choice.id, lower(choice.name)};
            }
            case ExploreWhat::Seed: {
                // The one that is there first, then others.
                const double now = at.view()[NumberHandle{at.control->id.c_str()}];
                const double seed =
                    i == 0 ? now : 1.0 + static_cast<double>(mixBits(static_cast<std::uint64_t>(i)) % 9999);
                return {seed, fmt::format("{:.0f}", seed)};
            }
            case ExploreWhat::Hue:
            case ExploreWhat::Value: {
                const bool isHue = axis.what == ExploreWhat::Hue;
                const double by = rounded(placeOn(axis, isHue, i, n), isHue ? 0 : 2);
                // Across may have turned it already.
                const auto before = candidate.changes.find(axis.step + "." + axis.control);
                const Colour from = before != candidate.changes.end()
                                        ? std::get<Colour>(before->second)
                                        : at.view()[ColourHandle{at.control->id.c_str()}];
                return {tinted(from, axis.what, by),
                        isHue ? fmt::format("{:+.0f}°", by) : fmt::format("{:.2f} ×", by)};
            }
            case ExploreWhat::Number:
                break;
        }
        const double value = rounded(placeOn(axis, at.control->unit == kDegrees, i, n), at.control->decimals);
        return {value, numberWords(*at.control, value)};
    }

    const Project& m_project;
    const std::string& m_look;
    const Catalogue& m_steps;
};

Candidates freeCandidates(const Trier& trier, const ExplorePlan& plan) {
    const Sheet sheet = sheetOf(plan.count);
    Candidates sheetOfAll{sheet.columns, sheet.rows, {}};
    for (int i = 0; i < sheet.count; ++i) {
        Candidate candidate;
        for (std::size_t c = 0; c < plan.free.size(); ++c) {
            const std::uint64_t h =
                hashText(fmt::format("{} {} {}.{}", plan.seed, i, plan.free[c].step, plan.free[c].control));
            trier.addFree(plan.free[c], std::clamp(plan.spread, 0.0, 1.0),
                          static_cast<double>(h >> 11) / 9007199254740992.0, candidate);
        }
        sheetOfAll.all.push_back(std::move(candidate));
    }
    return sheetOfAll;
}

}  // namespace

std::optional<ExploreAxis> exploreAxis(const Project& project, const std::string& step,
                                       const std::string& control, const Catalogue& steps, bool down) {
    const auto at = shownOf(project, {}, step, control, steps);
    if (!at) return std::nullopt;
    ExploreAxis axis{step, control, ExploreWhat::Toggle, 0, 1};
    if (at->control == nullptr) return at->spec->source ? std::nullopt : std::optional(axis);
    const ControlSpec& spec = *at->control;
    if (spec.measured || spec.hidden) return std::nullopt;
    switch (spec.type) {
        case ControlType::Number:
            axis.what = spec.isRandom ? ExploreWhat::Seed : ExploreWhat::Number;
            axis.low = spec.low, axis.high = spec.high;
            // Around what does nothing, where that lies within: the far ends of a scale are seldom of use.
            if (const double* rest = std::get_if<double>(&spec.standard);
                rest != nullptr && spec.unit != kDegrees && *rest > spec.low && *rest < spec.high) {
                const double near = 0.3 * (spec.high - spec.low);
                axis.low = rounded(std::max(spec.low, *rest - near), spec.decimals);
                axis.high = rounded(std::min(spec.high, *rest + near), spec.decimals);
            }
            return axis;
        case ControlType::Toggle:
            return axis;
        case ControlType::Choice:
            axis.what = ExploreWhat::Choice;
            return spec.choices.size() < 2 ? std::nullopt : std::optional(axis);
        case ControlType::Colour:
            axis.what = down ? ExploreWhat::Value : ExploreWhat::Hue;
            axis.low = down ? 0.4 : -180, axis.high = down ? 1.6 : 180;
            return axis;
        default:
            return std::nullopt;
    }
}

std::vector<ExploreAxis> exploreAxes(const Project& project, const std::string& step, const Catalogue& steps,
                                     bool down) {
    std::vector<ExploreAxis> axes;
    const auto at = shownOf(project, {}, step, kBypass.id, steps);
    if (!at) return axes;
    for (const ControlSpec& control : at->spec->controls) {
        const bool fits = !(control.colourOnly && at->kind != Kind::Colour) &&
                          (control.kinds.empty() || std::find(control.kinds.begin(), control.kinds.end(),
                                                              at->kind) != control.kinds.end());
        if (!fits || !at->view().isShown(control)) continue;
        if (const auto axis = exploreAxis(project, step, control.id, steps, down)) axes.push_back(*axis);
    }
    if (const auto axis = exploreAxis(project, step, kBypass.id, steps)) axes.push_back(*axis);
    return axes;
}

ExploreAxis wholeRange(const Project& project, const ExploreAxis& axis, const Catalogue& steps) {
    const auto whole = exploreAxis(project, axis.step, axis.control, steps, axis.what == ExploreWhat::Value);
    const auto at = shownOf(project, {}, axis.step, axis.control, steps);
    if (axis.what == ExploreWhat::Number && whole && at && at->control != nullptr) {
        ExploreAxis wide = *whole;
        wide.low = at->control->low, wide.high = at->control->high;
        return wide;
    }
    if (axis.what == ExploreWhat::Value && whole) {
        ExploreAxis wide = *whole;
        wide.low = 0, wide.high = 2;
        return wide;
    }
    return whole.value_or(axis);
}

Candidates candidatesOf(const Project& project, const std::string& look, const ExplorePlan& plan,
                        const Catalogue& steps) {
    const Trier trier(project, look, steps);
    if (!plan.free.empty()) return freeCandidates(trier, plan);
    Candidates sheet{0, 0, {}};
    const auto isThere = [&](const std::optional<ExploreAxis>& axis) { return axis && trier.shown(*axis); };
    const bool hasAcross = isThere(plan.across), hasDown = isThere(plan.down);
    if (!hasAcross && !hasDown) return sheet;
    const Sheet wanted = sheetOf(std::clamp(plan.count, kFewestCandidates, kMostCandidates));
    if (hasAcross != hasDown) {
        // One axis alone runs through all of the sheet.
        const ExploreAxis& axis = hasAcross ? *plan.across : *plan.down;
        const int n = trier.countOn(axis, wanted.count);
        for (int i = 0; i < n; ++i) trier.add(axis, i, n, sheet.all.emplace_back(), true);
        const Sheet shape = sheetOf(n);
        sheet.columns = std::min(shape.columns, n);
        sheet.rows = (n + sheet.columns - 1) / sheet.columns;
        return sheet;
    }
    sheet.columns = trier.countOn(*plan.across, wanted.columns);
    sheet.rows = trier.countOn(*plan.down, wanted.rows);
    // Many choices along one side leave less room on the other.
    if (sheet.columns > wanted.columns)
        sheet.rows = std::max(1, std::min(sheet.rows, kMostCandidates / sheet.columns));
    if (sheet.rows > wanted.rows)
        sheet.columns = std::max(1, std::min(sheet.columns, kMostCandidates / sheet.rows));
    for (int row = 0; row < sheet.rows; ++row)
        for (int column = 0; column < sheet.columns; ++column) {
            Candidate& candidate = sheet.all.emplace_back();
            trier.add(*plan.across, column, sheet.columns, candidate, true);
            trier.add(*plan.down, row, sheet.rows, candidate, false);
        }
    return sheet;
}

Result<Project> withCandidate(const Project& project, const std::string& look, const Candidate& candidate) {
    Project next = project;
    for (const auto& [key, value] : candidate.changes) {
        const Address at = Address::of(key);
        auto changed =
            at.control == kBypass.id
                ? edits::setBypass(next, look, std::string(at.step), std::get<bool>(value))
                : edits::setControl(next, look, std::string(at.step), std::string(at.control), value);
        if (!changed) return changed;
        next = std::move(*changed);
    }
    return next;
}

int moreCandidates(int count, int by) {
    const auto at = std::find_if(kSheets.begin(), kSheets.end(),
                                 [&](const Sheet& sheet) { return count <= sheet.count; });
    const auto index = static_cast<int>(at - kSheets.begin()) + by;
    return kSheets[static_cast<std::size_t>(std::clamp(index, 0, static_cast<int>(kSheets.size()) - 1))]
        .count;
}

}  // namespace kettle
