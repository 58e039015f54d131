// What a step declares about itself. The tuner's controls, the finder, the step reference, the analyses and
// the checks of a project file are all made from these declarations; to add a step is to add one file that
// fills a StepSpec, and its test. The build finds the file's function by itself.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/colour/colour_management.h"
#include "core/colour/working_space.h"
#include "core/document/component.h"
#include "core/document/handles.h"
#include "core/document/project.h"
#include "core/program/program.h"
#include "core/steps/catalogue.h"
#include "core/steps/reading.h"

namespace kettle {

/// Curve: a Ramp of greys that maps a component to its new value. Space: a name from the colour
/// configuration. Part: the name of a part or object of the model. Text: typed by the artist, checked by the
/// step. Triple: three plain numbers, kept as a Colour.
enum class ControlType { Number, Toggle, Choice, Colour, Ramp, Curve, Space, Part, Text, Triple };

/// What a number's slider can show along its track: hues as they are, hues turned from what comes in, grey to
/// colour, dark to light, or the greys themselves.
enum class SliderTrack { Plain, Hue, HueTurned, Saturation, Brightness, Grey };

struct Choice {
    std::string id, name;
};

/// The default that a control had in steps of earlier versions.
struct EarlierDefault {
    int lastVersion;  ///< steps up to this version have it
    ControlValue value;
};

/// The unit of angles.
inline constexpr const char* kDegrees = "°";

struct ControlSpec {
    std::string id, name;
    ControlType type = ControlType::Number;
    ControlValue standard = 0.0;  ///< the default of new steps
    double low = 0, high = 1;     ///< the comfortable range of the slider; a typed number may exceed it
    std::string unit{};           ///< "°", "×" or empty
    int decimals = 2;
    std::vector<Choice> choices{};
    std::string tip{};
    bool colourOnly = false;  ///< shown and used on colour lines alone
    /// Shown while another control has one of these values ("true" and "false" for a toggle); no control:
    /// always. Set by shownWhile().
    std::string shownBy{};
    std::vector<std::string> shownFor{};
    bool measured = false;      ///< filled by measuring pictures; shown, not dragged
    std::vector<Kind> kinds{};  ///< of the lines on which it matters; none: on all
    bool perSquare = false;  ///< how often across the texture's square; can be told as a size in centimetres
    bool ofSet = false;      ///< all maps of a set have it alike, but for those that lie on their own
    bool hidden = false;     ///< told elsewhere; no choice for the artist
    bool isRandom = false;   ///< a seed of a random generator
    SliderTrack track = SliderTrack::Plain;
    std::string section{};                  ///< the heading that it stands under in the tuner; empty: none
    std::vector<EarlierDefault> earlier{};  ///< oldest first; none: the default never changed
    /// The default of a step of that version.
    const ControlValue& defaultOf(int version) const;
};

struct FeedSpec {
    std::string id, name;
    std::optional<Kind> kind;  ///< nothing: like the line
    std::string tip{};
    bool isMain = false;    ///< what the step is for; its field stands before the controls
    std::string shownBy{};  ///< as ControlSpec::shownBy; a feed that is joined is shown all the same
    std::vector<std::string> shownFor{};
    bool ofSet = false;  ///< as ControlSpec::ofSet
};

/// One value on a line while compiling: registers per component. A scalar has the same register in red, green
/// and blue.
struct Value {
    Kind kind = Kind::Colour;
    Reg r = kNoReg, g = kNoReg, b = kNoReg, a = kNoReg;
};

struct StepSpec;

/// A step with its defaults filled in; what a spec's functions read. Borrows both.
class StepView {
public:
    /// `kind`: of the line that the step stands on.
    StepView(const StepSpec& spec, const Step& step, Kind kind)
        : m_spec(&spec), m_step(&step), m_kind(kind) {}
    /// The step as it is shown, and its line's kind.
    const Step& step() const { return *m_step; }
    Kind kind() const { return m_kind; }
    /// The value in force: the step's own if it is of the right type, else the default. An id that the spec
    /// does not know gives 0.
    const ControlValue& control(std::string_view id) const;
    /// The same, typed. If the spec declares the control with another type: 0, false, black, a default
    /// ramp, an empty text or the first option.
    double operator[](NumberHandle control) const;
    float real(NumberHandle control) const { return static_cast<float>((*this)[control]); }
    bool operator[](ToggleHandle control) const;
    Colour operator[](ColourHandle control) const;
    const Ramp& operator[](RampHandle control) const;
    const std::string& operator[](TextHandle control) const;
    template <class E>
    E operator[](const ChoiceHandle<E>& control) const {
        return control.valueOf((*this)[TextHandle{control.id}]);
    }
    /// The feed, or null if nothing is joined.
    const Feed* feed(std::string_view id) const;
    const Feed* feed(InputHandle input) const { return feed(input.id); }
    /// True if the control matters as the others stand (ControlSpec::shownBy, colourOnly). One that bears the
    /// name of a feed gives way to the line that is joined there.
    bool isShown(const ControlSpec& control) const;
    bool isShown(const FeedSpec& feed) const;
    /// True if the feed is the constant number `value`.
    bool feedIs(InputHandle input, double value) const;

private:
    bool isOneOf(const std::string& control, const std::vector<std::string>& values) const;
    const StepSpec* m_spec;
    const Step* m_step;
    Kind m_kind;
};

/// What all steps of one compilation share. Borrows the configuration.
struct EmitContext {
    const ColourManagement* colours = nullptr;
    WorkingSpace space;
};

/// A line's value on all four sides of the point, half a stride away, and how long a stride is in texture
/// space.
struct Surrounding {
    Value left, right, below, above;
    Reg stride = kNoReg;
};

/// What a step emits with: its controls, its input, its feeds and the program under construction.
class Emitter : public StepView {
public:
    using Resolve = std::function<Value(const Feed&, Kind)>;
    using ResolveAround = std::function<std::optional<Surrounding>(const Feed&, Kind)>;
    using ResolveApart = std::function<std::shared_ptr<const Program>(const Feed&)>;
    /// How feeds are read: `fed` emits what one brings, `around` the same beside the point, and nothing where
    /// that cannot be; `apart` makes a program of its own of it, of a scalar.
    struct Feeding {
        Resolve fed;
        ResolveAround around;
        ResolveApart apart;
    };
    /// `input`: what the line carries in front of the step.
    Emitter(StepView view, ProgramBuilder& program, Value input, const EmitContext& context, Feeding feeding)
        : StepView(view),
          m_program(program),
          m_input(input),
          m_context(context),
          m_feeding(std::move(feeding)) {}
    /// Where instructions go, and what comes in.
    ProgramBuilder& program() { return m_program; }
    const Value& input() const { return m_input; }
    /// The register of a number.
    Reg constant(float v) { return m_program.constant(v); }
    /// The feed's value as `kind`, or nothing if it is not joined.
    std::optional<Value> fed(InputHandle input, Kind kind);
    /// The same around the point. Nothing if nothing is joined, if it is the same everywhere, or if the step
    /// is itself looked at beside a point (a relief of a relief is left out).
    std::optional<Surrounding> fedAround(InputHandle input, Kind kind);
    /// The feed as a program of its own, to be asked at other places; null if nothing is joined.
    std::shared_ptr<const Program> fedApart(InputHandle input);
    /// The same place in the network, emitting as another step: for a step that is made of another.
    Emitter as(StepView view) const { return {view, m_program, m_input, m_context, m_feeding}; }
    /// The same, with `own` as the value of `input`.
    Emitter as(StepView view, InputHandle input, const Value& own) const;
    const ColourManagement& colours() const { return *m_context.colours; }
    const WorkingSpace& space() const { return m_context.space; }
    /// A colour control or a linear Rec.709 colour in the working space.
    Vec3 workingColour(ColourHandle control) const {
        const Colour c = (*this)[control];
        return space().fromLinear({c.r, c.g, c.b});
    }

private:
    ProgramBuilder& m_program;
    Value m_input;
    const EmitContext& m_context;
    Feeding m_feeding;
    /// A value that replaces an input.
    struct Own {
        std::string_view input;
        Value value;
    };
    std::optional<Own> m_own;
};

/// What the tuner shows for a step beside the rows of its controls.
enum class StepEditor {
    None,
    MapFile,     ///< the map's file and encoding
    HueDial,     ///< hues in and out, the band as a wedge, and picking it
    PickHue,     ///< picking a hue from the picture
    Curves,      ///< one component at a time over its spread
    Levels,      ///< posts on the spread
    Formula,     ///< the text, with its fault
    PickArea,    ///< drawing over an area of the picture
    Match,       ///< measuring a reference
    BlendModes,  ///< the gallery of modes, the plot of the transfer, the space with its reason
    Layer,       ///< its mask, what it covers, and the table of channels
    Copies,      ///< what every object of the model gets, on the dial and in a strip
};

/// The controls of a band of hues: centre, width and softness (degrees), and the saturation below which a
/// colour counts as grey.
struct HueBandHandles {
    NumberHandle centre, width, softness, threshold;
    ToggleHandle invert;
};
/// The band of hues of a step, the toggle that enables it (none: always on), and the input whose hues it
/// selects (none: the line).
struct HueBandPlace {
    HueBandHandles band;
    std::optional<ToggleHandle> toggle{};
    std::optional<InputHandle> feed{};
};

/// Where a step that brings an area's mean onto a wanted colour keeps both, and the trims that the spread of
/// the area needs on top (degrees; two factors).
struct AimPlace {
    ColourHandle from, to;
    NumberHandle hue, saturation, value;
    /// True while hue, saturation and value do the work, so that the trims are solved.
    std::function<bool(const StepView&)> isTrimmed;
};

/// Where a step keeps the measured mean and spread of what comes in and of the picture that it matches.
struct MatchPlace {
    InputHandle reference;
    ColourHandle fromMean, fromSpread, toMean, toSpread;
};

/// What lays one picture over another by numbers: its feeds, and the switch by which the alpha of what is
/// over joins the mask.
struct BlendPlace {
    InputHandle over, mask;
    NumberHandle amount;
    ToggleHandle ownTransparency;
};

struct StepSpec {
    std::string type, name, purpose;
    int order = 0;            ///< its place in the finder: small ones first
    bool source = false;      ///< starts a line; takes no input
    std::vector<Kind> kinds;  ///< the kinds of line it fits
    std::vector<ControlSpec> controls;
    std::vector<FeedSpec> feeds;
    Controls example;  ///< what shows in one picture what the step does; for the step reference
    /// The one telling value on the card: "+24°", "multiply 0.35".
    std::function<std::string(const StepView&)> telling;
    /// Why the step changes nothing, as far as its controls tell; empty if it does change something.
    std::function<std::string(const StepView&)> noEffect;
    /// What is probably wrong as the controls stand, and what to do, as a sentence; empty if nothing is.
    std::function<std::string(const StepView&)> warning;
    /// True for what bringing in puts there, which is no work of the artist's.
    std::function<bool(const StepView&)> isAsReceived;
    /// True if the step reads where a point lies on the model, as its controls stand; none: it never does.
    std::function<bool(const StepView&)> onModel;
    StepEditor editor = StepEditor::None;
    std::optional<HueBandPlace> hueBand;
    std::optional<AimPlace> aim;
    std::optional<MatchPlace> match;
    std::optional<BlendPlace> blend;
    /// What it looks up, where that is not the luminance of what comes in, in the space of its "works-in".
    std::function<Reading(const StepView&)> reads;
    /// Emits the step's instructions and returns its result.
    std::function<Value(Emitter&)> emit;
    /// The version in which its results changed last, and what changed, as a sentence. A step of an earlier
    /// version keeps what it computes until it is made new (edits::useNewestVersion).
    int version = 1;
    std::string changed{};

    /// True if the step may stand on a line of that kind.
    bool fits(Kind kind) const;
    /// By id; null if there is none.
    const ControlSpec* findControl(std::string_view id) const;
};

/// Checks a value against a control's declaration; the sentence says what it should be. Used when a project
/// is opened.
std::optional<std::string> checkControl(const ControlSpec& control, const ControlValue& value);

/// True if the step computes otherwise than a new one of its type would: its type has changed since, or one
/// of its scalar inputs reads a colour line in linear light. `kind`: of its line.
bool isEarlierVersion(const Project& project, const StepSpec& spec, const Step& step, Kind kind);
/// Every step of a project and of its recipes as a new one of its type: what it holds stays, what it leaves
/// to the defaults follows the newest ones.
Project withNewestSteps(const Project& project);

/// What a step looks up as its controls stand.
Reading readingOf(const StepSpec& spec, const StepView& view);

/// A component of a colour as a scalar; of a scalar itself. DisplayEncoded: the component of the encoded
/// colour, except that luminance is computed in linear light and then encoded, and alpha is not encoded.
Reg componentOf(ProgramBuilder& program, const Value& value, Component component,
                const WorkingSpace& space = {}, NumberSpace numbers = NumberSpace::LinearLight);
/// A colour by a 3x3 matrix on (r, g, b), alpha untouched; the working space's conversions.
Value transformValue(ProgramBuilder& program, const Value& value, const std::array<float, 9>& matrix);

/// Linear to display-encoded and back, per component, alpha untouched. One right after the other leaves
/// nothing behind (ProgramBuilder::setCancelling).
Value encodeValue(ProgramBuilder& program, const Value& value);
/// A colour of the working space as the numbers that people read and type: linear Rec.709, then encoded. And
/// back.
Value displayedValue(ProgramBuilder& program, const Value& value, const WorkingSpace& space);
Value lightOfDisplayed(ProgramBuilder& program, const Value& value, const WorkingSpace& space);
/// Reads a colour's numbers as one space of a configuration and writes them as another; as it is between
/// equal spaces and where either is unknown or "raw".
Value convertValue(ProgramBuilder& program, const ColourManagement& colours, const Value& value,
                   const std::string& from, const std::string& to);
Value decodeValue(ProgramBuilder& program, const Value& value);
/// Unit tangent-space vectors from a normal map's numbers in 0..1 and back. `greenDown`: the map's green
/// points down.
Value decodeNormal(ProgramBuilder& program, const Value& raw, bool greenDown);
Value encodeNormal(ProgramBuilder& program, const Value& normal);

/// The colour space in which a step computes on colour lines.
inline constexpr Option<NumberSpace> kNumberSpaces[] = {
    {NumberSpace::LinearLight, "linear", "linear light"},
    {NumberSpace::DisplayEncoded, "encoded", "display-encoded"}};
inline constexpr ChoiceHandle<NumberSpace> kWorksIn{"works-in", kNumberSpaces};
ControlSpec worksInControl(NumberSpace standard);
/// The same where it was linear light in steps of version 1.
ControlSpec worksInControlSinceVersion2();
ControlSpec amountControl(double standard);

/// The blend space in force on a blend step, and why: "display-encoded: contrast mode on a colour line".
std::string blendSpaceReason(const StepView& view);

/// Why a formula cannot be understood, with the place; empty if it can. `kind`: the line's.
std::string formulaProblem(const std::string& text, Kind kind);
/// What a formula of numbers alone comes to: "12 * 1.5" is 18. Nothing if it is none.
std::optional<double> numberOf(const std::string& text);

}  // namespace kettle
