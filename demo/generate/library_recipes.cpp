// The shipped recipes: changes of a line that artists come for, each from a few steps with named controls.
#include "core/document/recipes.h"
#include "demo/generate/library_parts.h"

namespace kettle::demo {
namespace {

using Words = std::string;
const std::vector<Kind> kColour{Kind::Colour}, kScalar{Kind::Scalar}, kNormal{Kind::Normal},
    kBoth{Kind::Colour, Kind::Scalar};

/// A line of its own that says where: a source, and steps behind it.
RecipeMaker& edgesWithNoise(RecipeMaker& r, const char* reading, double spread) {
    r.line("where", "Where", Kind::Scalar)
        .inner("where-edges", "curvature", {{"reading", Words(reading)}, {"spread", spread}})
        .inner("where-worn", "blend", {{"mode", Words("multiply")}}, {{"over", ownLine("grain")}})
        .inner("where-sharp", "levels", {{"in-black", 0.05}, {"in-white", 0.3}});
    r.line("grain", "Grain", Kind::Scalar)
        .inner("grain-noise", "noise",
               {{"kind", Words("gradient")}, {"space", Words("model")}, {"size", 1.2}, {"contrast", 1.6}});
    return r;
}

RecipeMaker& fromAbove(RecipeMaker& r, double tilt) {
    r.line("where", "Where", Kind::Scalar)
        .inner("where-facing", "facing", {{"tilt", tilt}, {"width", 80.0}, {"softness", 50.0}})
        .inner("where-broken", "blend", {{"mode", Words("multiply")}}, {{"over", ownLine("grain")}})
        .inner("where-sharp", "levels", {{"in-black", 0.1}, {"in-white", 0.6}});
    r.line("grain", "Grain", Kind::Scalar)
        .inner("grain-noise", "noise",
               {{"kind", Words("turbulence")}, {"space", Words("model")}, {"size", 3.0}, {"contrast", 1.4}});
    return r;
}

/// A colour laid over where the line "where" says.
RecipeMaker& laid(RecipeMaker& r, unsigned rgb, const char* mode, double amount) {
    return r.line("paint", "Colour", Kind::Colour)
        .inner("paint-colour", "colour", {{"colour", linearOf(rgb)}})
        .step("laid", "blend", {{"mode", Words(mode)}, {"amount", amount}},
              {{"over", ownLine("paint")}, {"mask", ownLine("where")}})
        .control("How much", {"laid.amount"});
}

std::vector<Recipe> weather() {
    RecipeMaker wetter("Wetter", "Darker and richer, as a thing is that has just been rained on.", kColour);
    wetter.step("rich", "hsv-shift", {{"saturation", 1.18}})
        .step("dark", "tone", {{"exposure", -0.55}, {"contrast", 1.06}})
        .control("How wet", {"rich.amount", "dark.amount"})
        .control("Darker by", {"dark.exposure"}, "Fine", -2, 0)
        .control("Richer by", {"rich.saturation"}, "Fine", 1, 1.6)
        .input("where", "Where", {"rich.mask", "dark.mask"}, "White is wet; everywhere without a line.");
    RecipeMaker film("Wet film", "Roughness falls as under a film of water.", kScalar);
    film.step("film", "levels", {{"out-black", 0.03}, {"out-white", 0.42}})
        .step("smooth", "tone", {{"gamma", 0.9}})
        .control("Driest", {"film.out-white"})
        .control("Wettest", {"film.out-black"}, "", 0, 0.4)
        .control("Even", {"smooth.gamma"}, "Fine", 0.5, 1.5);
    RecipeMaker drier("Drier", "Lighter and paler, as a thing is that has stood in the wind.", kColour);
    drier.step("pale", "desaturate", {{"amount", 0.22}})
        .step("light", "tone", {{"exposure", 0.35}, {"contrast", 0.9}, {"pivot", 0.3}})
        .control("How dry", {"light.amount"})
        .control("Paler by", {"pale.amount"})
        .control("Lighter by", {"light.exposure"}, "Fine", 0, 1.5)
        .input("where", "Where", {"pale.mask", "light.mask"}, "White is dry; everywhere without a line.");
    RecipeMaker bleached("Sun-bleached", "What faces the sky has lost its colour.", kColour);
    fromAbove(bleached, 90);
    bleached.step("faded", "hsv-shift", {{"saturation", 0.5}, {"value", 1.12}}, {{"mask", ownLine("where")}})
        .step("warm", "tint", {{"colour", linearOf(0xE9DDC0)}, {"mode", Words("multiply")}, {"amount", 0.35}},
              {{"mask", ownLine("where")}})
        .control("Faded", {"faded.amount"})
        .control("Colour left", {"faded.saturation"}, "", 0, 1)
        .control("Yellowed", {"warm.amount"})
        .control("Sun stands at", {"where-facing.tilt"}, "Where", 0, 90)
        .control("Reaches round", {"where-facing.width"}, "Where");
    RecipeMaker frost("Frost", "Rime on edges and on what lies open to the sky.", kColour);
    fromAbove(frost, 90);
    laid(frost, 0xE4EEF2, "screen", 0.75)
        .control("Colour", {"paint-colour.colour"})
        .control("Crystals", {"grain-noise.size"}, "Where", 0.2, 6)
        .control("Reaches round", {"where-facing.width"}, "Where");
    RecipeMaker foot("Damp foot", "Darker towards the ground, as if water had drawn up.", kColour);
    foot.line("where", "Where", Kind::Scalar)
        .inner("where-height", "model-height", {{"low", 0.0}, {"high", 34.0}})
        .inner("where-turned", "invert", {{"works-in", Words("linear")}})
        .inner("where-broken", "blend", {{"mode", Words("overlay")}, {"amount", 0.7}},
               {{"over", ownLine("grain")}});
    foot.line("grain", "Grain", Kind::Scalar)
        .inner("grain-noise", "noise", {{"space", Words("model")}, {"size", 2.5}, {"contrast", 1.5}});
    foot.step("damp", "tone", {{"exposure", -1.6}}, {{"mask", ownLine("where")}})
        .control("How damp", {"damp.amount"})
        .control("Darker by", {"damp.exposure"}, "", -3, 0)
        .control("Draws up to", {"where-height.high"}, "Where");
    return {wetter.made(), film.made(), drier.made(), bleached.made(), frost.made(), foot.made()};
}

std::vector<Recipe> age() {
    RecipeMaker edges("Older by edges", "Edges rubbed down to what lies under the paint.", kColour);
    edgesWithNoise(edges, "edges", 0.5);
    laid(edges, 0xB9B2A6, "normal", 0.9)
        .control("Under the paint", {"paint-colour.colour"})
        .control("Reach", {"where-edges.spread"}, "Where")
        .control("Grain", {"grain-noise.size"}, "Where", 0.2, 6)
        .control("Sharpness", {"where-sharp.in-white"}, "Where", 0.15, 1);
    RecipeMaker gloss("Handled edges", "Edges smooth from hands: roughness falls there.", kScalar);
    edgesWithNoise(gloss, "edges", 0.6);
    gloss.step("smooth", "levels", {{"out-black", 0.0}, {"out-white", 1.0}})
        .step("rubbed", "maths", {{"function", Words("multiply")}, {"b", 0.55}}, {{"mask", ownLine("where")}})
        .control("How smooth", {"rubbed.b"}, "", 0, 1)
        .control("How much", {"rubbed.amount"})
        .control("Reach", {"where-edges.spread"}, "Where");
    RecipeMaker rust("Rust streaks", "Brown runs from above, with the grain of running water.", kColour);
    rust.line("where", "Where", Kind::Scalar)
        .inner("where-runs", "noise",
               {{"kind", Words("ridged")}, {"repeats", 14.0}, {"stretch", 8.0}, {"contrast", 1.8}})
        .inner("where-sharp", "levels", {{"in-black", 0.55}, {"in-white", 0.9}});
    laid(rust, 0x7A3B17, "multiply", 0.85)
        .control("Colour", {"paint-colour.colour"})
        .control("Runs", {"where-runs.repeats"}, "Where", 2, 40)
        .control("Few or many", {"where-sharp.in-black"}, "Where", 0.2, 0.85)
        .control("Seed", {"where-runs.seed"}, "Where");
    RecipeMaker patina("Patina", "Green of old copper, gathered in the hollows.", kColour);
    edgesWithNoise(patina, "hollows", 1.2);
    laid(patina, 0x6FA08B, "normal", 0.8)
        .control("Colour", {"paint-colour.colour"})
        .control("Reach", {"where-edges.spread"}, "Where", 0.1, 4)
        .control("Grain", {"grain-noise.size"}, "Where", 0.2, 6);
    RecipeMaker chalk("Chalk", "Paler, flatter, with the bloom of old limewash.", kColour);
    chalk.line("bloom", "Bloom", Kind::Scalar)
        .inner("bloom-noise", "noise",
               {{"space", Words("model")}, {"size", 6.0}, {"octaves", 5.0}, {"contrast", 1.3}});
    chalk.step("pale", "hsv-shift", {{"saturation", 0.6}, {"value", 1.08}})
        .step("flat", "tone", {{"contrast", 0.82}, {"pivot", 0.4}})
        .step("bloomed", "blend", {{"mode", Words("screen")}, {"amount", 0.35}},
              {{"over", colourFeed(0xD8D4CA)}, {"mask", ownLine("bloom")}})
        .control("Chalkiness", {"pale.amount", "flat.amount"})
        .control("Bloom", {"bloomed.amount"})
        .control("Bloom size", {"bloom-noise.size"}, "", 1, 20);
    RecipeMaker dirt("Cavity dirt", "Dirt where no cloth reaches.", kColour);
    dirt.line("where", "Where", Kind::Scalar)
        .inner("where-hidden", "occlusion", {{"spread", 5.0}, {"strength", 2.0}})
        .inner("where-sharp", "levels", {{"in-black", 0.08}, {"in-white", 0.5}});
    laid(dirt, 0x4A3B2C, "multiply", 0.85)
        .control("Colour", {"paint-colour.colour"})
        .control("Reach", {"where-hidden.spread"}, "Where")
        .control("Begins at", {"where-sharp.in-black"}, "Where", 0, 0.7);
    RecipeMaker dust("Dust from above", "A grey veil on everything that faces up.", kColour);
    fromAbove(dust, 90);
    laid(dust, 0xA79F92, "normal", 0.65)
        .control("Colour", {"paint-colour.colour"})
        .control("Reaches round", {"where-facing.width"}, "Where")
        .control("Clumps", {"grain-noise.size"}, "Where", 0.3, 10);
    RecipeMaker soot("Soot from below", "Blackened where the flame licked.", kColour);
    fromAbove(soot, -50);
    laid(soot, 0x17130F, "normal", 0.9)
        .control("Reaches round", {"where-facing.width"}, "Where")
        .control("Clouds", {"grain-noise.size"}, "Where", 0.5, 12);
    return {edges.made(), gloss.made(), rust.made(), patina.made(),
            chalk.made(), dirt.made(),  dust.made(), soot.made()};
}

std::vector<Recipe> colour() {
    RecipeMaker two("Two tones by height", "One colour on what stands high, another in the deep.", kColour);
    two.line("paint", "High", Kind::Colour).inner("paint-colour", "colour", {{"colour", linearOf(0xCBB99A)}});
    two.step("deep", "tint", {{"colour", linearOf(0x2E4A45)}, {"amount", 0.8}})
        .step("high", "blend", {{"mode", Words("normal")}, {"amount", 0.9}}, {{"over", ownLine("paint")}})
        .control("Deep", {"deep.colour"})
        .control("High", {"paint-colour.colour"})
        .control("How much", {"deep.amount", "high.amount"})
        .input("height", "Height", {"high.mask"}, "White stands high.");
    RecipeMaker warmth("Colour temperature", "The light of a lamp, or of an overcast noon.", kColour);
    warmth
        .step("warm", "tint", {{"colour", linearOf(0xFFC58F)}, {"mode", Words("multiply")}, {"amount", 0.3}})
        .step("level", "tone", {{"exposure", 0.1}})
        .control("How much", {"warm.amount"})
        .control("Light", {"warm.colour"})
        .control("Brightness", {"level.exposure"}, "", -1, 1);
    RecipeMaker duo("Duotone", "Everything between two colours, dark to light.", kColour);
    duo.step("duo", "ramp-remap", {{"ramp", rampOfHex("#1D2B33 #F1E3C6")}})
        .control("Colours", {"duo.ramp"})
        .control("How much", {"duo.amount"})
        .input("where", "Where", {"duo.mask"});
    RecipeMaker muted("Muted", "Less colour and less contrast, as light as before.", kColour);
    muted.step("less", "desaturate", {{"amount", 0.45}})
        .step("soft", "tone", {{"contrast", 0.88}, {"pivot", 0.2}})
        .control("Colour taken", {"less.amount"})
        .control("Contrast left", {"soft.contrast"}, "", 0.5, 1)
        .input("where", "Where", {"less.mask", "soft.mask"});
    RecipeMaker one("One colour for all", "Every tone stays, every hue becomes one.", kColour);
    one.step("grey", "desaturate", {{"weights", Words("luminance")}})
        .step("tinted", "tint", {{"colour", linearOf(0x5F8F7E)}, {"mode", Words("stays")}})
        .control("Colour", {"tinted.colour"})
        .control("How much", {"grey.amount", "tinted.amount"})
        .input("where", "Where", {"grey.mask", "tinted.mask"});
    RecipeMaker band("One band of hues", "More or less of one colour, and nothing else.", kColour);
    band.step(
            "band", "hsv-shift",
            {{"band", true}, {"band-centre", 0.0}, {"band-width", 70.0}, {"hue", 25.0}, {"saturation", 0.9}})
        .control("Hue", {"band.band-centre"}, "Which")
        .control("Width", {"band.band-width"}, "Which")
        .control("Turn", {"band.hue"}, "Change")
        .control("Saturation", {"band.saturation"}, "Change")
        .control("Value", {"band.value"}, "Change");
    RecipeMaker glaze("Random glaze", "Each copy from another firing: hue, depth and shine a little apart.",
                      kColour);
    glaze
        .step("spread", "vary",
              {{"hue", 14.0},
               {"saturation", 0.3},
               {"value", 0.2},
               {"limit", true},
               {"least", 0.02},
               {"most", 0.92}})
        .control("Hue", {"spread.hue"}, "Spread", 0, 60)
        .control("Saturation", {"spread.saturation"}, "Spread")
        .control("Value", {"spread.value"}, "Spread")
        .control("Darkest", {"spread.least"}, "Limits")
        .control("Lightest", {"spread.most"}, "Limits")
        .control("Seed", {"spread.seed"})
        .input("where", "Where", {"spread.mask"}, "The glaze, and not what shows under it.");
    RecipeMaker palette("Palette by number", "Objects take the colours of a palette by turns.", kColour);
    palette
        .step("turns", "vary",
              {{"from", Words("ramp")},
               {"takes", Words("turns")},
               {"ramp", heldOfHex("#E8D9B8 #8DB8A6 #C9784A #44606B #D8A93B")}})
        .control("Palette", {"turns.ramp"})
        .control("Which", {"turns.takes"})
        .control("Laid over", {"turns.mode"})
        .control("How much", {"turns.amount"})
        .input("where", "Where", {"turns.mask"});
    RecipeMaker random("Random palette", "Each object takes any colour of a palette, laid over what it is.",
                       kColour);
    random
        .step("drawn", "vary",
              {{"from", Words("ramp")},
               {"takes", Words("random")},
               {"ramp", heldOfHex("#E8D9B8 #8DB8A6 #C9784A #44606B #D8A93B")}})
        .step("corrected", "hsv-shift", {})
        .control("Palette", {"drawn.ramp"})
        .control("Seed", {"drawn.seed"})
        .control("Laid over", {"drawn.mode"})
        .control("How much", {"drawn.amount"})
        .control("Turn", {"corrected.hue"}, "All of them")
        .control("Saturation", {"corrected.saturation"}, "All of them")
        .control("Value", {"corrected.value"}, "All of them")
        .input("where", "Where", {"drawn.mask", "corrected.mask"});
    return {random.made(), two.made(),  warmth.made(), duo.made(),    muted.made(),
            one.made(),    band.made(), glaze.made(),  palette.made()};
}

std::vector<Recipe> values() {
    RecipeMaker depth("Depth from height", "Carves the relief of a grey line into the normals.", kNormal);
    depth.step("carved", "height-to-normal", {{"depth", 1.2}})
        .step("strength", "normal-strength", {{"strength", 1.0}})
        .control("Depth", {"carved.depth"})
        .control("Strength", {"strength.strength"}, "", 0, 3)
        .input("height", "Height", {"carved.height"}, "White is high.")
        .input("where", "Where", {"carved.mask"});
    RecipeMaker gloss("Gloss from colour",
                      "What is dark becomes smooth, what is light rough; or the other way.", kScalar);
    gloss.step("read", "ramp-remap", {{"ramp", greysOf({{0, 0.2f}, {1, 0.75f}})}})
        .step("kept", "clamp", {{"low", 0.05}, {"high", 0.95}})
        .control("Dark to light", {"read.ramp"})
        .control("How much", {"read.amount"})
        .input("base-colour", "Colour", {"read.reads-from"}, "Its luminance is read.");
    RecipeMaker steps("Sharpen the steps of a map", "A soft grey map in a few clear levels.", kScalar);
    steps.step("levels", "ramp-remap", {{"ramp", heldGreys({0.08f, 0.36f, 0.64f, 0.92f})}})
        .control("Levels", {"levels.ramp"})
        .control("How much", {"levels.amount"});
    RecipeMaker hide("Hide repetition", "Wide soft clouds over a map whose repeats show.", kBoth);
    hide.line("clouds", "Clouds", Kind::Scalar)
        .inner("clouds-noise", "noise",
               {{"space", Words("model")}, {"size", 14.0}, {"octaves", 3.0}, {"contrast", 1.2}});
    hide.step("clouded", "blend", {{"mode", Words("soft-light")}, {"amount", 0.5}},
              {{"over", ownLine("clouds")}})
        .control("How much", {"clouded.amount"})
        .control("Size", {"clouds-noise.size"}, "", 2, 60)
        .control("Contrast", {"clouds-noise.contrast"})
        .control("Seed", {"clouds-noise.seed"});
    RecipeMaker metal("Metal from grey", "A clear cut: metal above a grey, none below.", kScalar);
    metal.step("cut", "levels", {{"in-black", 0.45}, {"in-white", 0.55}})
        .control("None below", {"cut.in-black"})
        .control("Metal above", {"cut.in-white"});
    RecipeMaker carve("Softer relief", "Normals calmed, all or where a line says.", kNormal);
    carve.step("calm", "flatten", {{"amount", 0.5}})
        .control("How much", {"calm.amount"})
        .input("where", "Where", {"calm.mask"});
    return {depth.made(), gloss.made(), steps.made(), hide.made(), metal.made(), carve.made()};
}

}  // namespace

std::vector<Recipe> shippedRecipes() {
    std::vector<Recipe> all;
    for (auto& part : {weather(), age(), colour(), values()}) all.insert(all.end(), part.begin(), part.end());
    return all;
}

}  // namespace kettle::demo
