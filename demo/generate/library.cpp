// The shipped library: recipes, ramps, palettes and layers as files. Their pictures are made with the
// documents (batch/recipe_reference.cpp).
#include "core/exchange/library.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "core/exchange/palette.h"
#include "demo/generate/library_parts.h"
#include "demo/generate/paint.h"

namespace kettle::demo {
namespace {

namespace fs = std::filesystem;
using Words = std::string;

struct Told {
    const char *name, *colours;
};

constexpr Told kRamps[] = {
    {"Celadon glaze", "#1F3B36 #4E7F72 #8DB8A6 #DCE8DD"},
    {"Marmalade", "#3A1C07 #A1520B #E39A17 #F7DFA2"},
    {"River dusk", "#0E1422 #2B4460 #7A7F8C #E2B48A #F6E6CF"},
    {"Rust", "#1B100B #5A2A14 #A3501F #D79A5F"},
    {"Tin", "#15171A #55585C #A9ABAD #F2F2F0"},
    {"Morning mist", "#55656B #93A5A6 #C9D3CF #F3F3EC"},
    {"Copper pan", "#2A120A #7C3B1C #C0703C #F0B98A #FCE9D6"},
    {"Old brass", "#1E1708 #5B4819 #A0853A #D8C27E #F4ECCB"},
    {"Pewter", "#1B1E20 #4C5357 #858D90 #BFC4C3"},
    {"Enamel blue", "#0A1A33 #1E4478 #4C80B8 #A9C6DF #F2F5F4"},
    {"Enamel red", "#2B0707 #7E1414 #BF2D22 #E58A70 #F8E3D7"},
    {"Enamel cream", "#6A5F4B #B8AA88 #E6DBBE #F8F3E4"},
    {"Bottle glass", "#07180F #16472C #3F8556 #A4CFA3"},
    {"Tea", "#1A0C05 #57280F #9A551F #CF9350 #EED6AE"},
    {"Kippers", "#20150D #6B4A22 #B4893F #E6CF8C"},
    {"Wet slate", "#0E1216 #2A343C #4F5D66 #8A979C"},
    {"Dry slate", "#3A4249 #66717A #98A2A7 #CDD2D2"},
    {"Driftwood", "#3B332A #75685A #A99C8B #D9D0C2"},
    {"Oak plank", "#2C1B0E #6A4524 #A5763F #D8B27A"},
    {"Tarred hull", "#070707 #1B1815 #3B342D #6A5F52"},
    {"Verdigris", "#123330 #2F6B62 #6FA08B #B7D3BE #E9F0E2"},
    {"Limewash", "#A8A294 #CBC6B8 #E5E1D6 #FAF8F2"},
    {"Brick", "#2C0F0A #6E2A1C #A84B35 #D08A70"},
    {"Chimney soot", "#050505 #1D1A18 #47423D #7F7871"},
    {"Butter", "#7A5A12 #C99A2C #F0CF6A #FCF1C4"},
    {"Seaweed", "#0D160B #2B3B18 #5C6B2A #9CA35B"},
    {"Harbour water", "#061A20 #12414A #2F7377 #7FB3A9"},
    {"Deep river", "#030B14 #0D2336 #24455C #5A7F8F"},
    {"Ice on the quay", "#2F4A5E #7A9DB0 #C1D8E0 #F6FBFB"},
    {"Sunburnt paint", "#5A2F22 #A3614A #D39A80 #F0D5C3"},
    {"Heather", "#2A1B33 #5E4270 #9A7FA6 #D6C6D6"},
    {"Plum jam", "#19060F #521233 #8F2C52 #CE7A8C"},
    {"Leek", "#14240F #3F6B28 #8CB35C #E0EBC6"},
    {"Salt", "#9AA0A0 #C7CBCA #E7E9E7 #FFFFFF"},
    {"Lamp glow", "#120A05 #5A2A08 #C6731A #FFC95E #FFF6D8"},
    {"Storm sky", "#11161E #35404E #6D7782 #B3B5B2"},
    {"Rope", "#2F2618 #6E5D3F #AD9A6F #DED2AE"},
    {"Canvas", "#5B5547 #978F7B #C9C1AB #EFEADC"},
    {"Blueprint", "#081C3A #17427A #5F92C2 #E8F1F8"},
    {"Ember", "#0B0302 #4A0D05 #B23208 #F39A22 #FFF0B0"},
};

struct ToldPalette {
    const char *name, *purpose, *colours;
};
constexpr ToldPalette kPalettes[] = {
    {"Ferry kitchen", "The kettle, its shelf and the stove.", "#8DB8A6 #E8D9B8 #C9784A #44606B #1F2A2C"},
    {"Enamel shelf", "Cups that were bought over forty years.",
     "#F2EBDD #2F5E8C #B5372B #D8A93B #3E6B4F #22262B"},
    {"Quay at dawn", "Stone, water and the first light.", "#39464E #6F8790 #B7C3BF #E9C9A2 #F4EADB"},
    {"Fish market", "Silver, roe and slate.", "#A9B4B8 #5F6D73 #E48B5E #F3D9C6 #2B3136"},
    {"Spice tins", "Six lids, six spices.", "#A83C1E #D88B1C #E8C64A #6F7B2E #5A3A22 #8C2F3F"},
    {"Tea caddies", "Black, green, and the tin itself.", "#1C1512 #3E5A3A #A8743A #D6C6A4"},
    {"Harbour signals", "Seen from far.", "#C8261C #F2B705 #0B4F8A #F4F4F0 #111417"},
    {"Life rings", "Old red, old white, rope.", "#B0392B #EFE7D8 #A08B5E"},
    {"Winter deck", "Ice, iron and tarpaulin.", "#DCE6E8 #8FA3AD #4A565E #2E4A4F"},
    {"Summer deck", "Canvas, varnish, sky.", "#EDE3CC #B8763A #7FB0CC #F7F5EE"},
    {"Herb pots", "Leaves and the clay below.", "#4F6B36 #86A05A #C2CF9A #B4663E #7E4029"},
    {"Old paint locker", "What was left in the tins.", "#7C8F86 #B7A98C #8A4B3A #4C5A70 #D0C7B8 #5E6B4A"},
    {"Brass and bell", "Metals that are polished on Sundays.", "#C9A94E #8C6E2B #E8DCA8 #5E5A52"},
    {"Net loft", "Cork, twine and dye.", "#B79A6B #6B7F84 #3A5C6E #A4492F #E3D7BE"},
    {"Copper roofs", "New, ten years, a hundred years.", "#B8683A #7A5A44 #5E8A78 #A9CBB6"},
    {"Biscuit glazes", "Warm whites that are not the same.", "#F3E9D6 #E9DCC4 #DFCFB2 #F7F1E6 #E4D5C3"},
    {"River greens", "From reed to bottle.", "#B9C99A #86A06A #55784F #2F5641 #17352E"},
    {"Night watch", "Lamp, coat, water.", "#F0B24A #2B3040 #101722 #5C6A78"},
    {"Market umbrellas", "Faded, one by one.", "#C96A55 #E3B25C #7FA69A #8C7FA6 #D9CDB4"},
    {"Greys of the hull", "Seven, from tar to salt.",
     "#1A1A1A #363635 #565654 #7A7975 #A09E98 #C6C4BD #EAE8E2"},
};

Result<void> keep(const fs::path& folder, EntryKind kind, const std::string& name, LibraryEntry entry) {
    entry.kind = kind;
    entry.name = name;
    const auto kept = keepEntry(folder, std::move(entry));
    if (!kept) return fail(kept.error());
    return {};
}

/// Layers whose set is a folder that somebody drops on them.
class SetLayer {
public:
    SetLayer(const char* name, const char* purpose, Step mask, Controls placement) {
        m_layer.name = name;
        m_layer.purpose = purpose;
        Project p;
        TextureSet slot;
        slot.id = "set", slot.name = "Set";
        for (const char* role : {"base-colour", "roughness", "metalness", "normal", "height", "occlusion"})
            slot.maps.push_back({role, role, "auto", {}});
        p.sets.emplace_back(slot);
        for (const Map& map : slot.maps) {
            Line line;
            line.id = line.channel = map.role;
            line.name = findChannel(map.role)->name;
            line.kind = findChannel(map.role)->kind;
            Step source;
            source.id = map.role + "-under";
            source.type = line.kind == Kind::Colour   ? "colour"
                          : line.kind == Kind::Normal ? "flat-normal"
                                                      : "value";
            line.steps.emplace_back(source);
            p.lines.emplace_back(line);
        }
        std::string id, fill;
        Result<Project> next = edits::addLayer(p, {}, {name, "", ""}, id);
        if (next) next = edits::replaceSource(*next, id, std::move(mask));
        for (const Map& map : slot.maps) {
            Step source;
            source.type = "map", source.set = "set", source.role = map.role;
            source.controls = placement;
            if (next) next = edits::cover(*next, {}, id, map.role, source, fill);
        }
        if (next) next = edits::copyLayers(*next, {}, {id});
        if (next) m_layer.layers = *next;
    }
    const KeptLayer& made() const { return m_layer; }

private:
    KeptLayer m_layer;
};

Step source(const char* type, Controls controls) {
    Step step;
    step.type = type;
    step.controls = std::move(controls);
    return step;
}

/// Puddles: flat, dark and glossy where a blotchy noise says; where else they may lie is left to *And
/// within*.
KeptLayer puddles() {
    KeptLayer kept;
    kept.name = "Puddles";
    kept.purpose =
        "Water in scattered pools: darker, flat, as smooth as glass. And within says where they may lie.";
    Project p;
    const auto addLine = [&](const char* channel, const char* type) {
        Line line;
        line.id = line.channel = channel;
        line.name = findChannel(channel)->name;
        line.kind = findChannel(channel)->kind;
        Step under;
        under.id = line.id + "-under", under.type = type;
        line.steps.emplace_back(under);
        p.lines.emplace_back(line);
    };
    addLine("base-colour", "colour");
    addLine("roughness", "value");
    addLine("normal", "flat-normal");
    std::string id, fill;
    Result<Project> next = edits::addLayer(p, {}, {"Puddles", "", ""}, id);
    if (next)
        next = edits::replaceSource(*next, id,
                                    source("noise", {{"kind", Words("gradient")},
                                                     {"space", Words("model")},
                                                     {"size", 22.0},
                                                     {"octaves", 2.0},
                                                     {"contrast", 1.4}}));
    Step sharp;
    sharp.id = "puddles-sharp", sharp.type = "levels";
    sharp.controls = {{"in-black", 0.66}, {"in-white", 0.72}};
    if (next) next = edits::insertStep(*next, {}, id, 1, sharp);
    const auto cover = [&](const char* channel, Step laid) {
        if (next) next = edits::cover(*next, {}, id, channel, std::move(laid), fill);
    };
    cover("base-colour", source("colour", {{"colour", linearOf(0x8E8C84)}}));
    if (next) next = edits::setControl(*next, {}, fill, "mode", Words("multiply"));
    cover("roughness", source("value", {{"value", 0.04}}));
    cover("normal", source("flat-normal", {}));
    if (next) next = edits::copyLayers(*next, {}, {id});
    if (next) kept.layers = *next;
    return kept;
}

std::vector<KeptLayer> shippedLayers() {
    const Controls inCentimetres{{"lies", Words("sides")}, {"size", 20.0}, {"seam", 0.3}};
    const Controls inTexture{{"repeats", 2.0}};
    return {
        SetLayer("Whole set, in centimetres",
                 "All maps of a folder, laid on from three sides: drop the folder, say how large it is.",
                 source("value", {{"value", 1.0}}), inCentimetres)
            .made(),
        SetLayer("Whole set, in the texture", "All maps of a folder, as often as it repeats.",
                 source("value", {{"value", 1.0}}), inTexture)
            .made(),
        SetLayer("Set on what faces up", "Snow, dust, moss: all maps of a folder, from above.",
                 source("facing", {{"tilt", 90.0}, {"width", 70.0}, {"softness", 30.0}}), inCentimetres)
            .made(),
        SetLayer("Set in the hollows", "All maps of a folder, gathered where it is deep.",
                 source("curvature", {{"reading", Words("hollows")}, {"spread", 1.0}}), inCentimetres)
            .made(),
        puddles(),
    };
}

}  // namespace

Result<void> writeLibrary(const fs::path& folder) {
    for (Recipe& recipe : shippedRecipes()) {
        LibraryEntry entry;
        const std::string name = recipe.name;
        entry.content = std::move(recipe);
        if (auto kept = keep(folder, EntryKind::Recipe, name, std::move(entry)); !kept) return kept;
    }
    for (const Told& told : kRamps) {
        LibraryEntry entry;
        entry.content = NamedRampEntry{told.name, {}, rampOfHex(told.colours)};
        if (auto kept = keep(folder, EntryKind::Ramp, told.name, std::move(entry)); !kept) return kept;
    }
    for (const ToldPalette& told : kPalettes) {
        LibraryEntry entry;
        entry.content = Palette{told.name, told.purpose, coloursIn(told.colours), {}};
        if (auto kept = keep(folder, EntryKind::Palette, told.name, std::move(entry)); !kept) return kept;
    }
    for (KeptLayer& layer : shippedLayers()) {
        LibraryEntry entry;
        const std::string name = layer.name;
        entry.content = std::move(layer);
        if (auto kept = keep(folder, EntryKind::Layer, name, std::move(entry)); !kept) return kept;
    }
    return {};
}

}  // namespace kettle::demo
