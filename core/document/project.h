// The document: plain values. A Project is never changed in place by anybody who shares it; an edit makes a
// new one (edits.h), and a picture is a function of it.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/result.h"
#include "core/base/shared.h"
#include "core/base/vec.h"
#include "core/colour/ramp.h"

namespace kettle {

/// What a line carries. Decides encoding, blend space and warnings.
enum class Kind { Colour, Scalar, Normal };
const char* nameOf(Kind kind);

/// A scene-linear colour.
struct Colour {
    float r = 0, g = 0, b = 0;
    bool operator==(const Colour&) const = default;
};

/// What a control holds: a number, a switch, a choice (by its id), a colour or a ramp.
using ControlValue = std::variant<double, bool, std::string, Colour, Ramp>;
using Controls = std::map<std::string, ControlValue, std::less<>>;

/// True if all its numbers are finite and no larger than a float holds: what computing and the file can
/// carry.
bool isStorable(const ControlValue& value);

/// A step's further input: a constant, or another line, read at its end or after one of its steps (a tap).
struct Feed {
    std::optional<ControlValue> constant;  ///< a number or a colour; then the rest is unused
    std::string line;
    std::string after;      ///< step id; empty: the end of the line
    std::string component;  ///< what a scalar feed reads of a colour line; empty: luminance
    std::string extra{};    ///< as Step::extra
    bool operator==(const Feed&) const = default;
};
using Feeds = std::map<std::string, Feed, std::less<>>;

/// Counts the changes of what steps compute, over all types. A step keeps the number that it was made with
/// and computes the same for ever; a type that did not change between two numbers computes the same for both.
/// Files that say nothing mean 1.
inline constexpr int kNewestStepVersion = 2;

struct Step {
    std::string id, type;
    std::string set, role;  ///< Map steps: which map
    bool bypass = false;
    Controls controls;  ///< only what differs from the defaults
    Feeds feeds;
    std::string extra;  ///< JSON object of fields this version does not know; kept and written back
    /// Controls whose values have a shape that this version does not know, as JSON; kept and written back,
    /// and the default stands in.
    std::map<std::string, std::string> unreadable{};
    std::string note{};  ///< what somebody wrote on it
    int version = kNewestStepVersion;
    bool operator==(const Step&) const = default;
};

struct Line {
    std::string id, name;
    Kind kind = Kind::Colour;
    std::string channel;  ///< empty: a shared line
    std::vector<Shared<Step>> steps;
    std::string extra;
    std::string
        surface{};  ///< whose channel or layer it is; empty for shared lines and in projects of one surface
    std::string note{};
    bool operator==(const Line&) const = default;
};

struct Map {
    std::string role;
    std::string file;  ///< relative to the set's folder; "<UDIM>" stands for the tile number
    std::string encoding = "auto";
    std::string extra;
    std::string channels{};  ///< of a file that holds several pictures the one's name; empty: its colours
    bool operator==(const Map&) const = default;
};

struct TextureSet {
    std::string id, name;
    std::string folder;  ///< absolute in memory; in a file relative to it
    std::vector<Map> maps;
    std::string extra;
    bool operator==(const TextureSet&) const = default;
};

/// "step.control" or "step.bypass" to the value that differs.
using Changes = Controls;

/// A named version: only what differs from the base.
struct Look {
    std::string id, name;
    Changes changes;
    std::string extra;
    std::string note{};
    std::map<std::string, std::string> unreadable{};  ///< as Step::unreadable, by "step.control"
    bool operator==(const Look&) const = default;
};

/// Parts of the model that share one set of lines.
struct Surface {
    std::string id, name;
    bool coversAll = false;          ///< every part, whatever the surfaces' lists say
    std::vector<std::string> parts;  ///< by the names that the model gives them
    std::string extra;
    bool operator==(const Surface&) const = default;
};

/// A control of a recipe: it stands for one or several controls of its steps, which then go together.
struct RecipeControl {
    std::string id, name;
    std::string section;               ///< the heading that it stands under; empty: none
    std::vector<std::string> targets;  ///< "step.control" within the recipe; the first has the default
    std::optional<double> low, high;   ///< the slider's range; none: the control's own
    std::string unit{}, tip{};         ///< empty: the control's own
    std::string extra{};
    bool operator==(const RecipeControl&) const = default;
};

/// What a recipe reads from outside: it is joined to "step.feed" of its steps.
struct RecipeFeed {
    std::string id, name;
    std::vector<std::string> targets;
    std::string tip{};
    std::string extra{};
    bool operator==(const RecipeFeed&) const = default;
};

/// Steps packed for reuse. A step of the type kRecipe + id stands for all of them; the project keeps its own
/// copy, so that a recipe that changes elsewhere changes nothing here. It names no file.
struct Recipe {
    std::string id, name, purpose;
    int edition = 1;  ///< counted up by who makes it
    std::string author, note;
    std::vector<Kind> kinds;          ///< of the lines that it fits
    std::vector<Shared<Step>> steps;  ///< one behind the other; a feed of them without a line reads this line
    std::vector<Shared<Line>> lines;  ///< that they read, and nobody else
    std::vector<RecipeControl> controls;
    std::vector<RecipeFeed> feeds;
    std::string extra;
    bool operator==(const Recipe&) const = default;
};
inline constexpr const char* kRecipe = "recipe:";
/// The recipe's id of a step's type; empty for any other step.
std::string recipeOf(const std::string& type);

/// Numbers that were given to objects and parts by hand, by the names that the model gives them; all others
/// bear their place in the model's order. 0 to kMostNumber.
struct ObjectNumbers {
    std::map<std::string, int> objects, parts;
    std::map<std::string, std::string> objectExtras{}, partExtras{};  ///< as Step::extra, by the same names
    bool empty() const { return objects.empty() && parts.empty(); }
    bool operator==(const ObjectNumbers&) const = default;
};
/// All whole numbers up to here are exact in the program.
inline constexpr int kMostNumber = 16777215;

/// A way of looking that is kept with the project: where the camera stands. Angles in degrees, lengths in
/// centimetres.
struct KeptView {
    std::string name;
    double turn = 0, tilt = 0, distance = 0;
    Vec3 target;
    std::string extra{};
    bool operator==(const KeptView&) const = default;
};

struct ViewSettings {
    /// A shipped one by its name, or a file: absolute in memory, in a project's file relative to it.
    std::string model = "kettle";
    std::string environment = "morning-deck";
    std::string unit =
        "auto";           ///< what the model's file measures in: mm, cm, m, inch; auto: as its format does
    double exposure = 0;  ///< in stops
    double environmentTurn = 0;  ///< degrees
    std::string surround = "middle";
    std::string transform = "standard";
    double keyStrength = 1;  ///< the key light's, times what the environment has; 0 is none
    double keySoftness = 4;  ///< half the key light's angle in degrees
    bool groundShadow = true;
    double fieldOfView = 28;          ///< of the camera, upright, degrees
    double displacement = 0;          ///< how far height 0 to 1 moves the surface, cm; 0: not at all
    double displacementMiddle = 0.5;  ///< the height that stays where it is
    std::string
        object;  ///< whose texture Flat and exports show where several share a place; empty: the first
    std::vector<KeptView> views;
    std::string extra{};
    bool operator==(const ViewSettings&) const = default;
};

/// True for a model or an environment of one's own, false for a shipped one's name.
bool isFile(const std::string& modelOrEnvironment);

/// How colours are managed: the working space of colour lines, and the configuration's file (relative to the
/// project; empty: $OCIO or the shipped one).
struct ColourSettings {
    std::string workingSpace = "linear Rec.709";
    std::string configuration;
    std::string extra{};
    bool operator==(const ColourSettings&) const = default;
};

struct Project {
    std::vector<Shared<TextureSet>> sets;
    std::vector<Shared<Surface>> surfaces;  ///< none: one without a name covers the whole model
    std::vector<Shared<Line>> lines;
    std::vector<Shared<Look>> looks;
    Changes allLooks;  ///< what every look changes, below its own changes; the base stays as it is
    std::vector<Shared<Recipe>> recipes;
    Shared<ObjectNumbers> objects;
    ViewSettings view;
    ColourSettings colour;
    std::string extra;
    std::map<std::string, std::string> unreadable{};  ///< as Look::unreadable, of allLooks
    bool operator==(const Project&) const = default;

    /// By id; null if there is none. Each takes time in proportion to the list; many at once: Network.
    const TextureSet* findSet(const std::string& id) const;
    const Line* findLine(const std::string& id) const;
    const Surface* findSurface(const std::string& id) const;
    /// The line that drives a channel of a surface, or of the first one that has such a line.
    const Line* lineOfChannel(const std::string& channel) const;
    const Line* lineOfChannel(const std::string& channel, const std::string& surface) const;
    const Look* findLook(const std::string& id) const;
    const Recipe* findRecipe(const std::string& id) const;
    struct Place {
        std::size_t line, step;
    };
    /// Where a step stands, over all lines; takes time in proportion to the steps, but for the last few that
    /// a thread asked for. Ids must be unique.
    std::optional<Place> findStep(const std::string& id) const;
    /// The place must be one of findStep's.
    const Step& stepAt(Place place) const { return *lines[place.line]->steps[place.step]; }
};

/// The map of a role; null if the set has none.
const Map* findMap(const TextureSet& set, const std::string& role);

/// A step as a look shows it: the controls and the bypass with the changes of all looks, then the look's own,
/// on top. `look` is one of the project's; null: the base.
Step withLook(const Project& project, const Step& step, const Look* look);
/// What a look changes at "step.control": its own value, else that of all looks; null if neither does.
const ControlValue* changeIn(const Project& project, const Look* look, const std::string& key);

/// The surfaces by their ids, in their order; one empty id in a project that has none.
std::vector<std::string> surfaceIds(const Project& project);
/// What people call it; empty for the surface of a project that has none.
std::string surfaceName(const Project& project, const std::string& surface);
/// For each part of a model the place of its surface in surfaceIds(); -1 for one that no surface covers.
std::vector<int> surfacesOfParts(const Project& project, const std::vector<std::string>& parts);

/// The surface's channels by their ids; what is known of each stands in channels.h.
namespace channel {
inline constexpr const char* kBaseColour = "base-colour";
inline constexpr const char* kMetalness = "metalness";
inline constexpr const char* kRoughness = "roughness";
inline constexpr const char* kSpecularLevel = "specular-level";
inline constexpr const char* kNormal = "normal";
inline constexpr const char* kHeight = "height";
inline constexpr const char* kOcclusion = "occlusion";
inline constexpr const char* kEmission = "emission";
inline constexpr const char* kOpacity = "opacity";
inline constexpr const char* kCoat = "coat";
inline constexpr const char* kCoatRoughness = "coat-roughness";
inline constexpr const char* kSheenColour = "sheen-colour";
inline constexpr const char* kSheenRoughness = "sheen-roughness";
}  // namespace channel

}  // namespace kettle
