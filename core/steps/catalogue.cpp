// The list of steps, and what every step shares: reading controls and checking them.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/name_index.h"
#include "core/steps/every_step.h"  // written by the build
#include "core/steps/step.h"

namespace kettle {

struct Catalogue::List {
    std::vector<StepSpec> steps;
    NameIndex byType{0};  ///< their places
};

Catalogue::Catalogue(std::vector<StepSpec> steps) {
    auto list = std::make_shared<List>();
    list->steps = std::move(steps);
    std::stable_sort(list->steps.begin(), list->steps.end(),
                     [](const StepSpec& a, const StepSpec& b) { return a.order < b.order; });
    list->byType = NameIndex(list->steps.size());
    for (std::size_t i = 0; i < list->steps.size(); ++i) list->byType.add(list->steps[i].type, i);
    m_list = std::move(list);
}

const StepSpec* Catalogue::find(const std::string& type) const {
    const std::size_t at = m_list->byType.find(type);
    return at == NameIndex::kNone ? nullptr : &m_list->steps[at];
}

const StepSpec* Catalogue::begin() const {
    return m_list->steps.data();
}

const StepSpec* Catalogue::end() const {
    return m_list->steps.data() + m_list->steps.size();
}

std::size_t Catalogue::size() const {
    return m_list->steps.size();
}

const Catalogue& shippedSteps() {
    static const Catalogue kShipped(everyStep());
    return kShipped;
}

bool StepSpec::fits(Kind kind) const {
    return std::find(kinds.begin(), kinds.end(), kind) != kinds.end();
}

const ControlSpec* StepSpec::findControl(std::string_view id) const {
    const auto at =
        std::find_if(controls.begin(), controls.end(), [&](const ControlSpec& c) { return c.id == id; });
    return at == controls.end() ? nullptr : &*at;
}

const ControlValue& ControlSpec::defaultOf(int version) const {
    for (const EarlierDefault& before : earlier)
        if (version <= before.lastVersion) return before.value;
    return standard;
}

bool isEarlierVersion(const Project& project, const StepSpec& spec, const Step& step, Kind kind) {
    constexpr int kReadsAsDisplayed = 2;
    // What version 2 changed is how colours are counted: on the line, or where a scalar input reads one.
    const bool readsColour =
        step.version < kReadsAsDisplayed &&
        std::any_of(spec.feeds.begin(), spec.feeds.end(), [&](const FeedSpec& f) {
            const auto joined = step.feeds.find(f.id);
            if (joined == step.feeds.end() || joined->second.constant) return false;
            if (f.kind == Kind::Colour) return step.version < spec.version;
            const Line* line = project.findLine(joined->second.line);
            return f.kind.value_or(kind) == Kind::Scalar && line != nullptr && line->kind == Kind::Colour;
        });
    if (readsColour) return true;
    // A layer's head is shaped otherwise where it has a second mask.
    if (spec.editor == StepEditor::Layer) return step.version < spec.version && step.feeds.contains(kMask.id);
    return kind == Kind::Colour && step.version < spec.version;
}

Project withNewestSteps(const Project& project) {
    Project newest = project;
    const auto renew = [](std::vector<Shared<Step>>& steps) {
        for (Shared<Step>& step : steps)
            if (step->version != kNewestStepVersion) step.edit().version = kNewestStepVersion;
    };
    const auto renewLines = [&](std::vector<Shared<Line>>& lines) {
        for (Shared<Line>& line : lines) renew(line.edit().steps);
    };
    renewLines(newest.lines);
    for (Shared<Recipe>& recipe : newest.recipes) {
        renew(recipe.edit().steps);
        renewLines(recipe.edit().lines);
    }
    return newest;
}

Reading readingOf(const StepSpec& spec, const StepView& view) {
    if (spec.reads) return spec.reads(view);
    Reading reading;
    if (spec.findControl(kWorksIn.id) != nullptr) reading.numbers = view[kWorksIn];
    return reading;
}

const ControlValue& StepView::control(std::string_view id) const {
    const ControlSpec* spec = m_spec->findControl(id);
    static const ControlValue kNothing = 0.0;
    if (spec == nullptr) return kNothing;
    const auto at = m_step->controls.find(id);
    // A value of the wrong type was reported when the project was opened; the default stands in for it.
    return at != m_step->controls.end() && !checkControl(*spec, at->second)
               ? at->second
               : spec->defaultOf(m_step->version);
}

double StepView::operator[](NumberHandle handle) const {
    const double* v = std::get_if<double>(&control(handle.id));
    return v != nullptr ? *v : 0.0;
}
bool StepView::operator[](ToggleHandle handle) const {
    const bool* v = std::get_if<bool>(&control(handle.id));
    return v != nullptr && *v;
}
Colour StepView::operator[](ColourHandle handle) const {
    const Colour* v = std::get_if<Colour>(&control(handle.id));
    return v != nullptr ? *v : Colour{};
}
const Ramp& StepView::operator[](RampHandle handle) const {
    static const Ramp kPlain;
    const Ramp* v = std::get_if<Ramp>(&control(handle.id));
    return v != nullptr ? *v : kPlain;
}
const std::string& StepView::operator[](TextHandle handle) const {
    static const std::string kNone;
    const std::string* v = std::get_if<std::string>(&control(handle.id));
    return v != nullptr ? *v : kNone;
}
const Feed* StepView::feed(std::string_view id) const {
    const auto at = m_step->feeds.find(id);
    return at == m_step->feeds.end() ? nullptr : &at->second;
}
bool StepView::isShown(const ControlSpec& c) const {
    if (c.colourOnly && m_kind != Kind::Colour) return false;
    return feed(c.id) == nullptr && isOneOf(c.shownBy, c.shownFor);
}
bool StepView::isShown(const FeedSpec& f) const {
    return feed(f.id) != nullptr || isOneOf(f.shownBy, f.shownFor);
}
bool StepView::isOneOf(const std::string& id, const std::vector<std::string>& values) const {
    if (id.empty()) return true;
    const ControlValue& by = control(id);
    const bool* on = std::get_if<bool>(&by);
    const std::string value = on != nullptr ? (*on ? "true" : "false") : (*this)[TextHandle{id.c_str()}];
    if (std::find(values.begin(), values.end(), value) == values.end()) return false;
    // What hangs on a control goes with it.
    const ControlSpec* spec = m_spec->findControl(id);
    return spec == nullptr || isOneOf(spec->shownBy, spec->shownFor);
}
bool StepView::feedIs(InputHandle input, double value) const {
    const Feed* f = feed(input);
    const double* v = f != nullptr && f->constant ? std::get_if<double>(&*f->constant) : nullptr;
    return v != nullptr && *v == value;
}

Emitter Emitter::as(StepView view, InputHandle input, const Value& own) const {
    Emitter other = as(view);
    other.m_own = Own{input.id, own};
    return other;
}

std::optional<Value> Emitter::fed(InputHandle input, Kind kind) {
    if (m_own && m_own->input == input.id) return m_own->value;
    const Feed* f = feed(input);
    if (f == nullptr) return std::nullopt;
    return m_feeding.fed(*f, kind);
}

std::optional<Surrounding> Emitter::fedAround(InputHandle input, Kind kind) {
    const Feed* f = feed(input);
    if (f == nullptr || f->constant) return std::nullopt;
    return m_feeding.around(*f, kind);
}

std::shared_ptr<const Program> Emitter::fedApart(InputHandle input) {
    const Feed* f = feed(input);
    return f != nullptr ? m_feeding.apart(*f) : nullptr;
}

std::optional<std::string> checkControl(const ControlSpec& control, const ControlValue& value) {
    switch (control.type) {
        case ControlType::Number:
            if (!std::holds_alternative<double>(value)) return "should be a number";
            if (!std::isfinite(std::get<double>(value))) return "should be a finite number";
            return std::nullopt;
        case ControlType::Toggle:
            if (!std::holds_alternative<bool>(value)) return "should be true or false";
            return std::nullopt;
        case ControlType::Colour:
        case ControlType::Triple:
            if (!std::holds_alternative<Colour>(value))
                return "should be three numbers: red, green and blue, linear";
            return std::nullopt;
        case ControlType::Ramp:
        case ControlType::Curve:
            if (!std::holds_alternative<Ramp>(value)) return "should be a ramp with stops";
            return std::nullopt;
        case ControlType::Space:
        case ControlType::Part:
        case ControlType::Text:
            if (!std::holds_alternative<std::string>(value)) return "should be a text";
            return std::nullopt;
        case ControlType::Choice: {
            const std::string* id = std::get_if<std::string>(&value);
            std::string names;
            for (const Choice& c : control.choices) {
                if (id != nullptr && c.id == *id) return std::nullopt;
                names += (names.empty() ? "" : ", ") + c.id;
            }
            return fmt::format("should be one of {}", names);
        }
    }
    return std::nullopt;
}

}  // namespace kettle
