// Layers as a document: their order, what covers what, moving, copies, looks, and the ways to look at them.
#include "core/document/layers.h"

#include <QtTest>
#include <random>
#include <set>

#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/layer_edits.h"
#include "core/document/layer_views.h"
#include "core/document/network.h"
#include "core/document/placement_edits.h"
#include "core/document/surface_edits.h"
#include "core/engine/compile.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// Three channels with a step each behind their source, and a look.
Project threeChannels() {
    Project p;
    p.lines.emplace_back(
        line("colour", Kind::Colour, "base-colour",
             {step("c1", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}), step("c2", "tone")}));
    p.lines.emplace_back(line("rough", Kind::Scalar, "roughness",
                              {step("r1", "value", {{"value", 0.4}}), step("r2", "invert")}));
    p.lines.emplace_back(line("normal", Kind::Normal, "normal", {step("n1", "flat-normal")}));
    p.looks.emplace_back(Look{"look", "Look", {}, {}});
    return p;
}

Step value(double v) {
    return step("", "value", {{"value", v}});
}
Step grey(float v) {
    return step("", "colour", {{"colour", Colour{v, v, v}}});
}

std::vector<std::string> names(const std::vector<const Line*>& layers) {
    std::vector<std::string> ids;
    for (const Line* layer : layers) ids.push_back(layer->id);
    return ids;
}

std::string fillOn(const Project& p, const std::string& layer, const std::string& line) {
    for (const FillPlace& fill : fillsOf(p, layer))
        if (fill.line->id == line) return fill.step->id;
    return {};
}

/// A layer over the channels that are named.
Project with(Project p, const std::string& name, const std::vector<std::string>& lines,
             const std::string& look = {}, const std::string& below = {}) {
    std::string id, fill;
    p = *edits::addLayer(p, look, {name, "", below}, id);
    for (const std::string& l : lines)
        p = *edits::cover(p, look, id, l,
                          p.findLine(l)->kind == Kind::Colour   ? grey(0.2f)
                          : p.findLine(l)->kind == Kind::Scalar ? value(0.9)
                                                                : step("", "flat-normal"),
                          fill);
    return p;
}

std::vector<std::string> typesOn(const Project& p, const std::string& line) {
    std::vector<std::string> types;
    for (const auto& s : p.findLine(line)->steps)
        types.push_back(s->type == kFill ? "fill " + layerOf(*s) : s->type);
    return types;
}

}  // namespace

class LayersTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aLayerCoversWhatItIsTold() {
        const Project p =
            with(with(threeChannels(), "Damp", {"colour", "rough"}), "Wear", {"rough", "normal"});
        QCOMPARE(names(layersOf(p, "")), (std::vector<std::string>{"damp", "wear"}));
        QCOMPARE(typesOn(p, "rough"),
                 (std::vector<std::string>{"value", "invert", "fill damp", "fill wear"}));
        QCOMPARE(typesOn(p, "colour"), (std::vector<std::string>{"colour", "tone", "fill damp"}));
        QCOMPARE(fillsOf(p, "wear").size(), 2u);
        QVERIFY(problemsOf(p).empty());
        // Each fill has a line of its own, and says so.
        for (const std::string layer : {"damp", "wear"})
            for (const FillPlace& fill : fillsOf(p, layer)) {
                const Line* own = ownLineOf(p, *fill.step);
                QVERIFY(own != nullptr);
                QCOMPARE(layersOfLines(p).at(own->id), layer);
            }
        // What is covered cannot be covered twice, nor a line that drives nothing.
        std::string fill;
        QVERIFY(!edits::cover(p, "", "damp", "rough", value(1), fill));
        QVERIFY(!edits::cover(p, "", "damp", "wear", value(1), fill));
        QVERIFY(!edits::cover(p, "", "nobody", "rough", value(1), fill));
    }

    void aLayerGoesUnderAnother() {
        const Project p =
            with(with(threeChannels(), "Wear", {"colour", "rough"}), "Damp", {"rough", "normal"}, "", "wear");
        QCOMPARE(names(layersOf(p, "")), (std::vector<std::string>{"damp", "wear"}));
        QCOMPARE(typesOn(p, "rough"),
                 (std::vector<std::string>{"value", "invert", "fill damp", "fill wear"}));
    }

    void inALookOnlyThatLookHasIt() {
        const Project p = with(threeChannels(), "Damp", {"rough"}, "look");
        const Step& head = headOf(*p.findLine("damp"));
        QVERIFY(head.bypass);
        QVERIFY(!withLook(p, head, p.findLook("look")).bypass);
        // The fill needs no switch of its own, so that another look has only the layer to switch on.
        QVERIFY(!p.stepAt(*p.findStep(fillOn(p, "damp", "rough"))).bypass);
    }

    void uncoveringTakesTheOwnLine() {
        const Project before = with(threeChannels(), "Damp", {"colour"});
        const Project more = with(threeChannels(), "Damp", {"colour", "rough"});
        const auto less = edits::uncover(more, fillOn(more, "damp", "rough"));
        QVERIFY(less.has_value());
        QCOMPARE(less->lines.size(), before.lines.size());
        QVERIFY(*edits::removeLayer(more, "damp") == threeChannels());
        QVERIFY(!edits::uncover(more, "r2"));
    }

    void aMaskThatOthersReadStays() {
        Project p = with(threeChannels(), "Damp", {"colour"});
        p.lines[1].edit().steps.emplace_back(step("m", "invert"));
        p = *edits::insertStep(p, "", "rough", 2, step("b", "blend"));
        p = *edits::setFeed(p, "b", "mask", feed("damp"));
        const auto gone = edits::removeLayer(p, "damp");
        QVERIFY(!gone.has_value());
        QVERIFY(gone.error().sentence.find("Take that input off first") != std::string::npos);
    }

    /// Random covering, moving and taking off: all lines always agree on one order.
    void anyWorkLeavesOneOrder() {
        for (unsigned seed = 1; seed <= 12; ++seed) {
            std::mt19937 random(seed);
            Project p;
            const std::size_t channels_ = 1 + random() % 13;
            for (std::size_t c = 0; c < channels_; ++c)
                p.lines.emplace_back(
                    line("l" + std::to_string(c), Kind::Scalar, channels()[c].id,
                         {step("v" + std::to_string(c), "value"), step("i" + std::to_string(c), "invert")}));
            for (int k = 0; k < 120; ++k) {
                const auto order = layersOf(p, "");
                const auto any = [&]() -> std::string {
                    return order.empty() ? "" : order[random() % order.size()]->id;
                };
                const std::string of = "l" + std::to_string(random() % channels_);
                std::string id;
                Result<Project> next = p;
                switch (random() % 5) {
                    case 0:
                        next = edits::addLayer(p, "", {"Layer", "", random() % 2 == 0 ? any() : ""}, id);
                        break;
                    case 1:
                    case 2:
                        next = edits::cover(p, "", any(), of, value(0.3), id);
                        break;
                    case 3:
                        next = edits::moveLayer(p, any(), random() % 2 == 0 ? 1 : -1);
                        break;
                    default:
                        next = random() % 3 == 0 ? edits::removeLayer(p, any())
                                                 : edits::uncover(p, fillOn(p, any(), of));
                }
                if (next) p = *next;
                QVERIFY2(layersInTurn(p, "").empty(), layersInTurn(p, "").c_str());
                QVERIFY(!findCycle(p));
                // Nothing is left behind by what was taken off.
                std::size_t lines = channels_;
                for (const Line* layer : layersOf(p, "")) lines += 1 + fillsOf(p, layer->id).size();
                QCOMPARE(p.lines.size(), lines);
            }
        }
    }

    void aMovePassesTheNeighbourEverywhere() {
        const Project p = with(with(with(threeChannels(), "A", {"colour", "rough"}), "B", {"rough"}), "C",
                               {"colour", "normal"});
        const Project up = *edits::moveLayer(p, "a", 1);
        QCOMPARE(names(layersOf(up, "")), (std::vector<std::string>{"b", "a", "c"}));
        QCOMPARE(typesOn(up, "rough"), (std::vector<std::string>{"value", "invert", "fill b", "fill a"}));
        QVERIFY(*edits::moveLayer(up, "a", -1) == p);
        QVERIFY(!edits::moveLayer(p, "a", -1));
        // B and C share no line: the project's lines keep what was told.
        const Project apart = *edits::moveLayer(p, "c", -1);
        QCOMPARE(names(layersOf(apart, "")), (std::vector<std::string>{"a", "c", "b"}));
    }

    void aBandGoesPastSteps() {
        const Project p = with(threeChannels(), "Damp", {"colour", "rough"});
        const auto moved = edits::moveFills(p, "damp", {{"colour", 1}, {"rough", 1}});
        QVERIFY(moved.has_value());
        QCOMPARE(typesOn(*moved, "colour"), (std::vector<std::string>{"colour", "fill damp", "tone"}));
        // Not where two layers would lie over each other in turn.
        const Project two = with(p, "Wear", {"colour", "rough"});
        const auto turned = edits::moveFills(two, "wear", {{"colour", 2}});
        QVERIFY(!turned.has_value());
        QVERIFY(turned.error().sentence.find("under it on another line") != std::string::npos);
    }

    void stepsBecomeALayer() {
        Project p = threeChannels();
        p = *edits::insertStep(p, "", "colour", 2, step("c3", "hsv-shift", {{"hue", 30.0}}));
        p.looks[0].edit().changes["c3.hue"] = 90.0;
        p = *edits::insertStep(p, "", "rough", 2, step("b", "blend"));
        p = *edits::setFeed(p, "b", "mask", feed("colour", "c3"));
        std::string id;
        const auto made = edits::layerFromSteps(p, "", {"c2", "c3"}, {"Toned", "", ""}, id);
        QVERIFY2(made.has_value(), made ? "" : made.error().sentence.c_str());
        QCOMPARE(typesOn(*made, "colour"), (std::vector<std::string>{"colour", "fill toned"}));
        const Line* own = ownLineOf(*made, made->stepAt(*made->findStep(fillOn(*made, id, "colour"))));
        QCOMPARE(own->steps.size(), 3u);
        QCOMPARE(own->steps[2]->id, std::string("c3"));
        QCOMPARE(std::get<double>(made->findLook("look")->changes.at("c3.hue")), 90.0);
        QVERIFY(problemsOf(*made).empty());
        QVERIFY(!edits::layerFromSteps(p, "", {"c1"}, {"X", "", ""}, id));
        QVERIFY(!edits::layerFromSteps(p, "", {"c2", "r2"}, {"X", "", ""}, id));
        QVERIFY(!edits::layerFromSteps(p, "", {}, {"X", "", ""}, id));
    }

    void copiesGoAsTextToOtherProjects() {
        Project p = with(with(threeChannels(), "Damp", {"colour", "rough", "normal"}), "Wear", {"rough"});
        p = *edits::setControl(p, "look", headOf(*p.findLine("damp")).id, "amount", 0.5);
        p = *edits::setControl(p, "", fillOn(p, "damp", "colour"), "mode", std::string("multiply"));
        p = *edits::replaceSource(p, "damp", mapStep("", "wear"));
        TextureSet set;
        set.id = "set", set.name = "Set", set.folder = "/maps", set.maps = {{"wear", "wear.png", "auto", {}}};
        p.sets.emplace_back(set);
        const auto copy = edits::copyLayers(p, "look", {"damp", "wear"});
        QVERIFY(copy.has_value());
        const auto text = projectFromJson(projectToJson(*copy), "copy");
        QVERIFY(text.has_value());
        // A project that has a line less, other ids in use, and a set of that name with other maps.
        Project other = threeChannels();
        other.lines.pop_back();
        other.lines[0].edit().id = "damp";
        TextureSet namesake = set;
        namesake.maps[0].file = "other.png";
        other.sets.emplace_back(namesake);
        std::vector<std::string> ids, notes;
        const auto pasted = edits::pasteLayers(other, "", *text, {"", "", ""}, ids, notes);
        QVERIFY2(pasted.has_value(), pasted ? "" : pasted.error().sentence.c_str());
        QCOMPARE(ids.size(), 2u);
        QCOMPARE(names(layersOf(*pasted, "")), ids);
        QCOMPARE(notes.size(), 1u);  // the missing normal
        QCOMPARE(fillsOf(*pasted, ids[0]).size(), 2u);
        QCOMPARE(std::get<double>(headOf(*pasted->findLine(ids[0])).controls.at("amount")), 0.5);
        const Step& fill = pasted->stepAt(*pasted->findStep(fillOn(*pasted, ids[0], "damp")));
        QCOMPARE(std::get<std::string>(fill.controls.at("mode")), std::string("multiply"));
        QCOMPARE(pasted->sets.size(), 2u);
        QCOMPARE(pasted->findSet(pasted->findLine(ids[0])->steps[0]->set)->maps[0].file,
                 std::string("wear.png"));
        QVERIFY(problemsOf(*pasted).empty());
        // In the same project the set is there already, and names stay apart.
        const auto again = edits::pasteLayers(p, "", *text, {"", "", ""}, ids, notes);
        QCOMPARE(again->sets.size(), 1u);
        QCOMPARE(again->findLine(ids[0])->name, std::string("Damp 2"));
        QVERIFY(!edits::pasteLayers(p, "", threeChannels(), {"", "", ""}, ids, notes));
    }

    void mapsOfASetLieTogetherInALayer() {
        Project p = threeChannels();
        std::string id, fill;
        p = *edits::addLayer(p, "", {"One", "", ""}, id);
        p = *edits::cover(p, "", "one", "colour", mapStep("", "base-colour"), fill);
        p = *edits::cover(p, "", "one", "rough", mapStep("", "roughness"), fill);
        p = *edits::addLayer(p, "", {"Two", "", ""}, id);
        p = *edits::cover(p, "", "two", "colour", mapStep("", "base-colour"), fill);
        const auto mapOf = [&](const char* layer, const char* channel) {
            return ownLineOf(p, p.stepAt(*p.findStep(fillOn(p, layer, channel))))->steps.front()->id;
        };
        QCOMPARE(edits::lyingTogether(p, "", mapOf("one", "colour"), "own-place"),
                 (std::vector<std::string>{mapOf("one", "colour"), mapOf("one", "rough")}));
        QCOMPARE(edits::lyingTogether(p, "", mapOf("two", "colour"), "own-place"),
                 (std::vector<std::string>{mapOf("two", "colour")}));
    }

    void viewsLeaveTheProjectAlone() {
        const Project p =
            with(with(threeChannels(), "Damp", {"colour", "rough"}), "Wear", {"rough", "normal"}, "look");
        const Project upTo = upToLayer(p, "damp");
        const auto isOff = [](const Project& of, const std::string& id) {
            return of.stepAt(*of.findStep(id)).bypass;
        };
        QVERIFY(isOff(upTo, fillOn(p, "wear", "rough")));
        QVERIFY(isOff(upTo, fillOn(p, "wear", "normal")));
        QVERIFY(!isOff(upTo, fillOn(p, "damp", "rough")));
        QVERIFY(upToLayer(p, "nobody") == p);
        const Project only = onlyLayer(p, "wear");
        QCOMPARE(typesOn(only, only.lineOfChannel("roughness")->id),
                 (std::vector<std::string>{"value", "fill wear"}));
        QCOMPARE(typesOn(only, only.lineOfChannel("base-colour")->id), (std::vector<std::string>{"colour"}));
        QVERIFY(withMaskShown(p, "wear").findLine("colour")->steps.size() ==
                p.findLine("colour")->steps.size() + 2);
    }

    void whatIsInTheFileByHandIsNamed() {
        // A fill whose layer is gone, one of another kind, and two layers in turn.
        Project p = with(with(threeChannels(), "A", {"colour", "rough"}), "B", {"colour", "rough"});
        auto& steps = p.lines[1].edit().steps;
        std::swap(steps[2], steps[3]);
        QCOMPARE(problemsOf(p).size(), 1u);
        QCOMPARE(names(layersOf(p, "")).size(), 2u);
        Project wrong = with(threeChannels(), "A", {"colour"});
        std::string fill;
        wrong = *edits::coverFrom(wrong, "", "a", "rough", feed("normal"), fill);
        const auto kinds = problemsOf(wrong);
        QCOMPARE(kinds.size(), 1u);
        QVERIFY(kinds[0].find("cannot be laid over") != std::string::npos);
        Project gone = with(threeChannels(), "A", {"colour"});
        std::erase_if(gone.lines, [](const auto& l) { return l->id == "a"; });
        QCOMPARE(problemsOf(gone).size(), 1u);
        QVERIFY(problemsOf(gone)[0].find("\"a\"") != std::string::npos);
    }

    void aSurfaceTakesItsLayersAlong() {
        Project p = with(threeChannels(), "Damp", {"colour"});
        std::string id;
        p = *edits::addSurface(p, "Lid", {"lid"}, "Body", {"body"}, id);
        QCOMPARE(p.findLine("damp")->surface, std::string("body"));
        QCOMPARE(fillsOf(p, "damp").size(), 1u);
        const auto without = edits::removeSurface(p, "body");
        QVERIFY2(without.has_value(), without ? "" : without.error().sentence.c_str());
        QVERIFY(without->lines.empty());
    }
};

QTEST_GUILESS_MAIN(LayersTest)
#include "layers_test.moc"
