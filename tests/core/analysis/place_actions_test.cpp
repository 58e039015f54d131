// What is made by pointing at a place: the numbers of the steps, and what they do to that place and to
// others.
#include <QTemporaryDir>
#include <QtTest>

#include "core/analysis/place_actions.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class PlaceActionsTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_dir;
    Project m_project;
    std::unique_ptr<Resources> m_resources;
    // Left half red, right half green, the lowest eighth grey.
    const Area m_red{0.2f, 0.5f, 0.21f, 0.51f}, m_green{0.8f, 0.5f, 0.81f, 0.51f},
        m_grey{0.5f, 0.02f, 0.51f, 0.03f};

    std::array<float, 4> at(const Project& p, const std::string& line, float u, float v,
                            const std::string& look = {}) {
        return evaluate(p, line, look, u, v, m_dir.path().toStdString());
    }

private Q_SLOTS:
    void initTestCase() {
        const std::filesystem::path folder = m_dir.path().toStdString();
        QVERIFY(writePicture(folder / "paint.png", 64, 64, 3, [](int x, int y, int c) {
            if (y >= 56) return 128;
            return x < 32 ? (c == 0 ? 200 : 40) : (c == 1 ? 160 : 50);
        }));
        TextureSet set;
        set.id = "set";
        set.maps.push_back({"base-colour", "paint.png", "sRGB", {}});
        m_project.sets.emplace_back(set);
        m_project.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                                          {mapStep("m", "base-colour"), step("t", "tone", {{"gain", 1.0}})}));
        m_project.lines.emplace_back(
            line("rough", Kind::Scalar, "roughness", {step("r", "value", {{"value", 0.4}})}));
        m_project.looks.emplace_back(Look{"look", "Look", {}, {}});
        m_resources = std::make_unique<Resources>(folder);
    }
    void aShiftTakesTheHueOfThePlaceAndNoOther() {
        const auto edit = shiftHueAt(m_project, "", {"base", "m"}, m_red, *m_resources);
        QVERIFY(edit.has_value());
        const auto place = edit->project.findStep(edit->step);
        QVERIFY(place && place->step == 1 && edit->project.lines[place->line]->id == "base");
        const auto shown = [&](std::size_t c) { return linearToSrgb(at(m_project, "base", 0.2f, 0.5f)[c]); };
        const Hsv red = hsvOf({shown(0), shown(1), shown(2)});
        const Step& made = edit->project.stepAt(*place);
        QVERIFY(std::fabs(std::get<double>(made.controls.at("band-centre")) - static_cast<double>(red.hue)) <
                0.2);
        // Dragged, it turns the red half and leaves the green one.
        const auto turned = edits::setControl(edit->project, "", edit->step, "hue", 120.0);
        QVERIFY(turned.has_value());
        QVERIFY(at(*turned, "base", 0.2f, 0.5f)[1] > at(m_project, "base", 0.2f, 0.5f)[1] + 0.2f);
        // What is out of the band goes through the display's curve and back.
        const auto green = at(m_project, "base", 0.8f, 0.5f);
        QVERIFY(near(at(*turned, "base", 0.8f, 0.5f), {green[0], green[1], green[2]}, 1e-6f));
    }
    void theBandOfAFlatPaintReachesOverItsSoftEdges() {
        const auto edit = shiftHueAt(m_project, "", {"base", "m"}, m_red, *m_resources);
        QVERIFY(edit.has_value());
        const Step& made = edit->project.stepAt(*edit->project.findStep(edit->step));
        // One colour is no hill of any width; the other paint is 120 degrees away.
        QVERIFY(std::get<double>(made.controls.at("band-width")) >= 12);
        QVERIFY(std::get<double>(made.controls.at("band-softness")) >= 8);
    }
    void aNeighbouringPaintLimitsTheBand() {
        // Two paints 16 degrees apart: (200, 40, 40) has a hue of 0, (200, 83, 40) one of 16.1.
        const std::filesystem::path folder = m_dir.path().toStdString();
        QVERIFY(writePicture(folder / "near.png", 64, 64, 3, [](int x, int, int c) {
            return c == 0 ? 200 : c == 1 && x >= 32 ? 83 : 40;
        }));
        Project p = m_project;
        p.sets[0].edit().maps[0].file = "near.png";
        const auto edit = shiftHueAt(p, "", {"base", "m"}, m_red, *m_resources);
        QVERIFY(edit.has_value());
        const auto turned = edits::setControl(edit->project, "", edit->step, "hue", 120.0);
        const auto other = at(p, "base", 0.8f, 0.5f);
        QVERIFY(near(at(*turned, "base", 0.8f, 0.5f), {other[0], other[1], other[2]}, 1e-6f));
        QVERIFY(at(*turned, "base", 0.2f, 0.5f)[1] > at(p, "base", 0.2f, 0.5f)[1] + 0.2f);
    }
    void inALookItHoldsForThatLook() {
        const auto edit = shiftHueAt(m_project, "look", {"base", ""}, m_red, *m_resources);
        QVERIFY(edit.has_value());
        const auto turned = edits::setControl(edit->project, "look", edit->step, "hue", 120.0);
        QCOMPARE(at(*turned, "base", 0.2f, 0.5f), at(m_project, "base", 0.2f, 0.5f));
        QVERIFY(at(*turned, "base", 0.2f, 0.5f, "look") != at(m_project, "base", 0.2f, 0.5f));
        QCOMPARE(edit->project.findStep(edit->step)->step, std::size_t{2});  // at the line's end
    }
    void greysHaveNoHue() {
        const auto shift = shiftHueAt(m_project, "", {"base", "m"}, m_grey, *m_resources);
        QVERIFY(!shift.has_value());
        QVERIFY(QString::fromStdString(shift.error().sentence).contains(QStringLiteral("grey")));
        QVERIFY(!maskFromHue(m_project, "", {"base", "m"}, m_grey, "t", *m_resources).has_value());
        QVERIFY(!shiftHueAt(m_project, "", {"rough", ""}, m_red, *m_resources).has_value());
        QVERIFY(!shiftHueAt(m_project, "", {"none", ""}, m_red, *m_resources).has_value());
    }
    void anAimBeginsWhereItIs() {
        const auto edit = aimAt(m_project, "", {"base", "m"}, m_red, *m_resources);
        QVERIFY(edit.has_value());
        const auto before = at(m_project, "base", 0.205f, 0.505f),
                   after = at(edit->project, "base", 0.205f, 0.505f);
        for (std::size_t c = 0; c < 3; ++c) QVERIFY(std::fabs(before[c] - after[c]) < 2e-3f);
    }
    void aHueMaskIsJoinedAndWhiteThere() {
        const auto edit = maskFromHue(m_project, "", {"base", "m"}, m_green, "t", *m_resources);
        QVERIFY(edit.has_value());
        const std::string mask = edit->project.lines.back()->id;
        QVERIFY(edit->project.lines.back()->channel.empty());
        QVERIFY(at(edit->project, mask, 0.8f, 0.5f)[0] > 0.99f);
        QVERIFY(at(edit->project, mask, 0.2f, 0.5f)[0] < 0.01f);
        const auto user = edit->project.findStep("t");
        QCOMPARE(edit->project.stepAt(*user).feeds.at("mask").line, mask);
        // A second one does not push the first out.
        const auto second = maskFromHue(edit->project, "", {"base", "m"}, m_red, "t", *m_resources);
        QCOMPARE(second->project.stepAt(*second->project.findStep("t")).feeds.at("mask").line, mask);
    }
    void aValueMaskIsWhiteAtThatValue() {
        const auto edit = maskFromValue(m_project, "", {"base", "m"}, m_grey, "", *m_resources);
        QVERIFY(edit.has_value());
        const std::string mask = edit->project.lines.back()->id;
        QVERIFY(at(edit->project, mask, 0.5f, 0.03f)[0] > 0.99f);
        const auto rough = maskFromValue(m_project, "", {"rough", ""}, m_grey, "", *m_resources);
        QVERIFY(rough.has_value());
        QVERIFY(at(rough->project, rough->project.lines.back()->id, 0.5f, 0.5f)[0] > 0.99f);
    }
    void aStopOnTheRampChangesNothingYet() {
        Ramp two;
        two.stops = {{0, {0, 0, 0}}, {1, {0.8f, 0.6f, 0.1f}}};
        Project p = m_project;
        std::vector<std::string> ids;
        p = *edits::pasteSteps(p, "", "base", 1, {step("x", "ramp-remap", {{"ramp", two}})}, ids);
        const auto edit = rampStopAt(p, "", ids.front(), 0.2f, 0.5f, *m_resources);
        QVERIFY(edit.has_value());
        const Step& ramp = edit->project.stepAt(*edit->project.findStep(ids.front()));
        const auto& stops = std::get<Ramp>(ramp.controls.at("ramp")).stops;
        QCOMPARE(stops.size(), std::size_t{3});
        // Where the place's luminance lies, as a display shows it.
        const auto c = at(m_project, "base", 0.2f, 0.5f);
        const float wanted = linearToSrgb(luminance({c[0], c[1], c[2]}));
        QVERIFY(std::fabs(stops[1].position - wanted) < 1e-4f);
        for (const float u : {0.2f, 0.8f})
            for (std::size_t k = 0; k < 3; ++k)
                QVERIFY(std::fabs(at(p, "base", u, 0.5f)[k] - at(edit->project, "base", u, 0.5f)[k]) < 1e-5f);
        QVERIFY(!rampStopAt(m_project, "", "t", 0.2f, 0.5f, *m_resources).has_value());
    }
    void whatMakesAPlaceIsListedByHowMuch() {
        Project p = m_project;
        std::vector<std::string> ids;
        p = *edits::pasteSteps(
            p, "", "base", 1,
            {step("a", "hsv-shift", {{"hue", 100.0}}), step("b", "hsv-shift", {{"value", 0.97}})}, ids);
        const auto makers = whatMakes(p, "", "", 0.2f, 0.5f, *m_resources);
        QCOMPARE(makers.size(), std::size_t{2});  // tone at 1 does nothing, and greys have no step
        QCOMPARE(makers[0].step, ids[0]);
        QCOMPARE(makers[1].step, ids[1]);
        const auto before = at(m_project, "base", 0.2f, 0.5f);
        const auto lab = [](const std::array<float, 4>& v) { return cieLabOf({v[0], v[1], v[2]}); };
        const auto once = evaluate(*edits::setBypass(p, "", ids[1], true), "base", {}, 0.2f, 0.5f,
                                   m_dir.path().toStdString());
        QVERIFY(std::fabs(makers[0].difference - ciede2000(lab(before), lab(once))) < 1e-3);
        // A grey place is not turned by a hue.
        for (const PlaceChange& c : whatMakes(p, "", "", 0.5f, 0.03f, *m_resources))
            QVERIFY(c.step != ids[0]);
        QVERIFY(whatMakes(p, "", "other", 0.2f, 0.5f, *m_resources).empty());
    }
};

QTEST_GUILESS_MAIN(PlaceActionsTest)
#include "place_actions_test.moc"
