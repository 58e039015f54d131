// What layers compute: by formulas, once for all channels, and nothing where they are not.
#include <QtTest>

#include "core/analysis/effects.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "core/document/layer_views.h"
#include "core/document/network.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

constexpr const char* kChannels[] = {"base-colour", "metalness", "roughness",
                                     "normal",      "height",    "occlusion"};

Step sourceFor(Kind kind, double v) {
    const auto f = static_cast<float>(v);
    return kind == Kind::Colour   ? step("", "colour", {{"colour", Colour{f, f / 2, f / 4}}})
           : kind == Kind::Scalar ? step("", "value", {{"value", v}})
                                  : step("", "flat-normal");
}

/// Six channels, each named as itself, of constants.
Project sixChannels() {
    Project p;
    for (const char* id : kChannels) {
        Step source = sourceFor(findChannel(id)->kind, 0.25);
        source.id = std::string(id) + "-source";
        p.lines.emplace_back(line(id, findChannel(id)->kind, id, {source}));
    }
    p.looks.emplace_back(Look{"look", "Look", {}, {}});
    return p;
}

struct Made {
    Project project;
    std::string layer;
    std::map<std::string, std::string> fills;
    const Step& head() const { return headOf(*project.findLine(layer)); }
    void set(const std::string& stepId, const std::string& control, ControlValue v,
             const std::string& look = {}) {
        project = *edits::setControl(project, look, stepId, control, std::move(v));
    }
};

Made covered(const Project& from, const std::string& name, const std::vector<std::string>& channels_,
             double over, Step mask) {
    Made made{from, {}, {}};
    made.project = *edits::addLayer(from, "", {name, "", ""}, made.layer);
    for (const std::string& c : channels_)
        made.project = *edits::cover(made.project, "", made.layer, c, sourceFor(findChannel(c)->kind, over),
                                     made.fills[c]);
    made.project = *edits::replaceSource(made.project, made.layer, std::move(mask));
    return made;
}

std::size_t count(const std::string& text, const std::string& word) {
    std::size_t n = 0;
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++n;
    return n;
}

Compiled allOf(const Project& p, const std::string& look = {}) {
    std::vector<Want> wants;
    for (const char* id : kChannels) wants.push_back(wantOfLine(*p.findLine(id)));
    return compile(p, p.findLook(look), wants);
}

}  // namespace

class LayeredTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theMaskMixesAllChannelsAlike() {
        Made m = covered(sixChannels(), "Damp", {"base-colour", "roughness"}, 0.75,
                         step("", "value", {{"value", 0.5}}));
        m.set(m.head().id, "amount", 0.8);
        m.set(m.fills["roughness"], "amount", 0.5);
        // under + mask x amount x own amount (over - under)
        QVERIFY(near(evaluate(m.project, "base-colour"),
                     {0.25f + 0.4f * 0.5f, 0.125f + 0.4f * 0.25f, 0.0625f + 0.4f * 0.125f}));
        QVERIFY(near(evaluate(m.project, "roughness")[0], 0.25f + 0.2f * 0.5f));
        QVERIFY(near(evaluate(m.project, "metalness")[0], 0.25f));
        m.set(m.fills["base-colour"], "mode", std::string("multiply"));
        QVERIFY(near(evaluate(m.project, "base-colour")[0], 0.25f + 0.4f * (0.25f * 0.75f - 0.25f)));
    }

    void theHeadShapesTheMask() {
        Made m = covered(sixChannels(), "Damp", {"roughness"}, 1, step("", "value", {{"value", 0.36}}));
        const auto weight = [&] { return (evaluate(m.project, "roughness")[0] - 0.25f) / 0.75f; };
        QVERIFY(near(weight(), 0.36f));
        m.set(m.head().id, "mask-gamma", 2.0);
        QVERIFY(near(weight(), 0.6f));  // 0.36^(1/2)
        m.set(m.head().id, "mask-contrast", 3.0);
        QVERIFY(near(weight(), 0.8f));  // (0.6 - 0.5) 3 + 0.5
        m.set(m.head().id, "invert", true);
        QVERIFY(near(weight(), 1.0f));  // (0.64^(1/2) - 0.5) 3 + 0.5 is limited
        // A mask that lies within is shaped alike, but not inverted: (0.3136^(1/2) - 0.5) 3 + 0.5 = 0.68.
        m.project = *edits::setFeed(m.project, m.head().id, "mask", constantFeed(0.3136));
        QVERIFY(near(weight(), 0.68f));
    }

    void oneMaskForAllChannels() {
        const Made m = covered(sixChannels(), "Wear",
                               {"base-colour", "metalness", "roughness", "normal", "height", "occlusion"},
                               0.75, step("", "noise", {{"kind", std::string("soft")}}));
        const std::string one =
            allOf(covered(sixChannels(), "Wear", {"roughness"}, 0.75, step("", "noise")).project)
                .program.listing();
        const std::string six = allOf(m.project).program.listing();
        QVERIFY(count(one, "noise") > 0);
        QCOMPARE(count(six, "noise"), count(one, "noise"));
    }

    void whatIsNotCoveredCostsNothing() {
        const auto code = [](const Project& p, const char* id) {
            return compile(p, nullptr, {wantOfLine(*p.findLine(id))}).program;
        };
        const Made m = covered(sixChannels(), "Wear", {"roughness"}, 0.75, step("", "noise"));
        QVERIFY(code(m.project, "metalness").computesAs(code(sixChannels(), "metalness")));
        QVERIFY(code(m.project, "metalness").code.empty());
        // Bypassed, or of no amount, it is as if it were not there.
        Project off = *edits::setBypass(m.project, "", m.head().id, true);
        QVERIFY(allOf(off).program.computesAs(allOf(sixChannels()).program));
        Project none = *edits::setControl(m.project, "", m.head().id, "amount", 0.0);
        QVERIFY(allOf(none).program.computesAs(allOf(sixChannels()).program));
        // And back in a look.
        off = *edits::setBypass(off, "look", m.head().id, false);
        QVERIFY(allOf(off, "look").program.computesAs(allOf(m.project).program));
    }

    void whatIsOffHasNoEffectToBeToldOf() {
        Made m = covered(sixChannels(), "Wear", {"roughness", "height"}, 0.75,
                         step("", "value", {{"value", 0.5}}));
        const auto told = [&](const Project& p) {
            const Resources resources({});
            return stepsWithoutEffect(p, nullptr, resources, PointSet::grid(4, 4), {});
        };
        QVERIFY(told(m.project).empty());
        QVERIFY(told(*edits::setBypass(m.project, "", m.head().id, true)).empty());
        // A fill that is as what lies under it is told.
        m.project = *edits::setFillSource(m.project, m.fills["height"], step("", "value", {{"value", 0.25}}));
        QCOMPARE(told(m.project).count(m.fills["height"]), std::size_t{1});
    }

    void aPlainFillThatLiesEverywhereIsTheFill() {
        const Made m = covered(sixChannels(), "Other", {"base-colour", "roughness", "normal"}, 0.7,
                               step("", "value", {{"value", 1.0}}));
        QCOMPARE(evaluate(m.project, "base-colour")[0], 0.7f);
        QCOMPARE(evaluate(m.project, "roughness")[0], 0.7f);
        QVERIFY(allOf(m.project).program.code.empty());
    }

    void normalsAreReplacedStackedAndFlattened() {
        const Vec3 n = normalised({0.6f, 0, 0.8f}), o = normalised({0, 0.6f, 0.8f});
        Made m = covered(sixChannels(), "Relief", {"normal"}, 0, step("", "value", {{"value", 0.5}}));
        QTemporaryDir folder;
        const auto write = [&](const char* name, Vec3 v) {
            const auto byte = [](float x) { return std::lround((x * 0.5f + 0.5f) * 255); };
            return writePicture(folder.filePath(name).toStdString(), 2, 2, 3,
                                [&](int, int, int c) {
                                    return byte(c == 0 ? v.x : c == 1 ? v.y : v.z);
                                })
                .has_value();
        };
        QVERIFY(write("n.png", n) && write("o.png", o));
        TextureSet set;
        set.id = "set", set.folder = folder.path().toStdString();
        set.maps = {{"n", "n.png", "auto", {}}, {"o", "o.png", "auto", {}}};
        m.project.sets.emplace_back(set);
        m.project = *edits::replaceSource(m.project, "normal", mapStep("", "n"));
        m.project = *edits::setFillSource(m.project, m.fills["normal"], mapStep("", "o"));
        const auto at = [&] {
            return evaluate(m.project, "normal", "", 0.5f, 0.5f, folder.path().toStdString());
        };
        const float rough = 0.006f;  // of eight bits
        QVERIFY2(near(at(), normalised((n + o) * 0.5f), rough), words(at()).c_str());
        m.set(m.fills["normal"], "normals", std::string("flatten"));
        QVERIFY2(near(at(), normalised(n * 0.5f + Vec3{0, 0, 0.5f}), rough), words(at()).c_str());
        m.set(m.fills["normal"], "normals", std::string("stack"));
        m.set(m.fills["normal"], "way", std::string("linear"));
        QVERIFY2(near(at(), normalised(n + normalised(o * 0.5f + Vec3{0, 0, 0.5f})), rough),
                 words(at()).c_str());
    }

    void byHeightDecidesTheMaskOfAllChannels() {
        Made m =
            covered(sixChannels(), "Sand", {"height", "roughness"}, 0.6, step("", "value", {{"value", 0.4}}));
        m.set(m.fills["height"], "mode", std::string("by-height"), "look");
        m.set(m.fills["height"], "contrast", 0.5, "look");
        m.set(m.fills["height"], "softness", 0.8, "look");
        // m' = smoothstep(0.5 - s, 0.5 + s, m + (over - under) k), s half the softness
        const double asked = 0.4 + (0.6 - 0.25) * 0.5, t = (asked - 0.1) / 0.8, w = t * t * (3 - 2 * t);
        const auto mixed = static_cast<float>(0.25 + w * (0.6 - 0.25));
        QVERIFY(near(evaluate(m.project, "height", "look")[0], mixed));
        QVERIFY(near(evaluate(m.project, "roughness", "look")[0], mixed));
        // In the base it goes by the mask alone.
        QVERIFY(near(evaluate(m.project, "roughness")[0], 0.25f + 0.4f * 0.35f));
        // A second layer's heights are those under it: with the first.
        const Made two = covered(m.project, "More", {"height"}, 0.9, step("", "value", {{"value", 0.5}}));
        QVERIFY(!findCycle(two.project));
    }

    void aFillOfAnotherKindLeavesTheLine() {
        Made m = covered(sixChannels(), "Wrong", {"roughness", "normal"}, 0.9,
                         step("", "value", {{"value", 0.5}}));
        m.project = *edits::setFeed(m.project, m.fills["roughness"], "over", feed("normal"));
        m.project = *edits::setFeed(m.project, m.fills["normal"], "over", feed("metalness"));
        QCOMPARE(evaluate(m.project, "roughness")[0], 0.25f);
        QVERIFY(near(evaluate(m.project, "normal"), {0, 0, 1}));
        // A layer that is gone: the fill lies half, as any feed from nowhere, and the project says so.
        Project gone = m.project;
        std::erase_if(gone.lines, [&](const auto& l) { return l->id == m.layer; });
        QVERIFY(!problemsOf(gone).empty());
        for (const char* id : kChannels)
            for (const float c : evaluate(gone, id)) QVERIFY(std::isfinite(c));
    }

    void aLayerOfStepsComputesWhatTheStepsDid() {
        Project p = sixChannels();
        p = *edits::insertStep(p, "", "base-colour", 1, step("h", "hsv-shift", {{"hue", 80.0}}));
        p = *edits::insertStep(p, "", "base-colour", 2, step("t", "tone", {{"exposure", 0.5}}));
        const auto before = evaluate(p, "base-colour");
        std::string id;
        const Project made = *edits::layerFromSteps(p, "", {"h", "t"}, {"Toned", "", ""}, id);
        QCOMPARE(evaluate(made, "base-colour"), before);
    }

    void oneLayerAloneLiesOverNeutral() {
        Made m = covered(sixChannels(), "Alone", {"base-colour"}, 0.8, step("", "value", {{"value", 0.5}}));
        const Project only = onlyLayer(m.project, m.layer);
        const Vec3 neutral = findChannel("base-colour")->neutral;
        QVERIFY(near(evaluate(only, only.lineOfChannel("base-colour")->id),
                     {(neutral.x + 0.8f) / 2, (neutral.y + 0.4f) / 2, (neutral.z + 0.2f) / 2}));
        QVERIFY(near(evaluate(only, only.lineOfChannel("roughness")->id)[0],
                     findChannel("roughness")->neutral.x));
        const Project upTo = upToLayer(
            covered(m.project, "Above", {"base-colour"}, 0.1, step("", "value", {{"value", 1.0}})).project,
            m.layer);
        QVERIFY(near(evaluate(upTo, "base-colour"), Vec3{0.525f, 0.2625f, 0.13125f}));
    }

    void aThousandLayersAreADocumentLikeAnyOther() {
        Project p = sixChannels();
        Line& rough = p.lines[2].edit();
        for (int i = 0; i < 1000; ++i) {
            const std::string id = "layer-" + std::to_string(i);
            p.lines.emplace_back(
                line(id, Kind::Scalar, "",
                     {step(id + "-v", "value", {{"value", 0.5}}), step(id + "-head", "layer")}));
            p.lines.emplace_back(
                line(id + "-own", Kind::Scalar, "", {step(id + "-o", "value", {{"value", 1.0}})}));
            rough.steps.emplace_back(
                step(id + "-fill", "fill", {}, {{"over", feed(id + "-own")}, {"mask", feed(id)}}));
        }
        QCOMPARE(layersOf(p, "").size(), 1000u);
        QVERIFY(problemsOf(p).empty());
        QVERIFY(near(evaluate(p, "roughness")[0], 1.0f));
    }
};

QTEST_GUILESS_MAIN(LayeredTest)
#include "layered_test.moc"
