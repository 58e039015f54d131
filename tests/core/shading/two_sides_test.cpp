// Two pictures from one view, what is kept between pictures, channels that are off, and the light's settings.
#include <QtTest>

#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/shading/preview.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {
const std::filesystem::path kData = KETTLE_DATA_DIR;
}

class TwoSidesTest final : public QObject {
    Q_OBJECT

    Resources m_resources{kData};
    PreviewRequest m_request;
    std::unique_ptr<Preview> m_preview;

    std::shared_ptr<SceneStore> m_scenes = std::make_shared<SceneStore>(kData / "models");

    std::unique_ptr<Preview> fresh() { return std::make_unique<Preview>(m_scenes, kData / "environments"); }
    Picture alone(const std::string& look, int stage = 1) {
        auto preview = fresh();
        PreviewRequest r = m_request;
        r.look = look;
        return *preview->render(r, m_resources, stage);
    }
    static int largest(const Picture& a, const Picture& b) {
        int most = 0;
        for (std::size_t i = 0; i < a.pixels.size(); ++i)
            for (const int shift : {0, 8, 16})
                most = std::max(most, std::abs(static_cast<int>(a.pixels[i] >> shift & 255) -
                                               static_cast<int>(b.pixels[i] >> shift & 255)));
        return most;
    }

private Q_SLOTS:
    void init() {
        m_preview = fresh();
        m_request = {};
        m_request.project = *loadProject(kData / "ferry-kitchen.palekettle");
        m_request.look = "celadon";
        m_request.width = 120, m_request.height = 80;
        m_request.camera.frame((*m_preview->scene("kettle"))->mesh(), 1.5f);
    }
    void theOtherSideIsWhatItIsAlone() {
        m_request.others = {PreviewSide{m_request.project, "marmalade", {}}};
        for (const int stage : {0, 1}) {
            const Picture first = *m_preview->render(m_request, m_resources, stage);
            QCOMPARE(first.pixels, alone("celadon", stage).pixels);
            QCOMPARE(m_preview->others()[0].pixels, alone("marmalade", stage).pixels);
        }
        const auto covered = m_preview->covered();
        QCOMPARE(covered.size(), std::size_t{120 * 80});
        const auto count = std::count(covered.begin(), covered.end(), std::uint8_t{1});
        QVERIFY(count > 1000 && count < 120 * 80 - 1000);
        // What is beside the model is the same on both sides.
        const Picture first = *m_preview->render(m_request, m_resources, 1);
        for (std::size_t i = 0; i < covered.size(); ++i)
            if (covered[i] == 0) QCOMPARE(first.pixels[i], m_preview->others()[0].pixels[i]);
        m_request.others.clear();
        QVERIFY(m_preview->render(m_request, m_resources, 1).has_value());
        QVERIFY(m_preview->others().empty());
    }
    void theSideThatStaysIsStillWhatItIs() {
        m_request.others = {PreviewSide{m_request.project, "marmalade", {}}};
        QVERIFY(m_preview->render(m_request, m_resources, 1).has_value());
        // The look at hand is dragged; the other one stays.
        m_request.project = *edits::setControl(m_request.project, "celadon", "glaze", "hue", 150.0);
        m_request.others[0].project = m_request.project;
        const Picture first = *m_preview->render(m_request, m_resources, 1);
        QCOMPARE(first.pixels, alone("celadon", 1).pixels);
        QCOMPARE(m_preview->others()[0].pixels, alone("marmalade", 1).pixels);
        // And then what concerns both.
        m_request.project.view.exposure = 1;
        m_request.project.view.transform = "soft";
        QCOMPARE(m_preview->render(m_request, m_resources, 1)->pixels, alone("celadon", 1).pixels);
        QCOMPARE(m_preview->others()[0].pixels, alone("marmalade", 1).pixels);
    }
    void aLookMayFollowTheModelWhereTheBaseDoesNot() {
        Project p;
        p.view.model = "kettle";
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {step("n", "noise")}));
        p.looks.emplace_back(Look{
            "in-it", "In it", {{"n.space", std::string("model")}, {"n.size", 2.0}, {"n.contrast", 2.0}}, {}});
        m_request.project = p;
        for (const char* look : {"", "in-it", "", "in-it"}) {
            m_request.look = look;
            QCOMPARE(m_preview->render(m_request, m_resources, 1)->pixels, alone(look, 1).pixels);
        }
        QVERIFY(alone("", 1).pixels != alone("in-it", 1).pixels);
        // And a step that comes to follow it.
        m_request.look = "";
        m_request.project = *edits::setControl(p, "", "n", "space", std::string("model"));
        QCOMPARE(m_preview->render(m_request, m_resources, 1)->pixels, alone("", 1).pixels);
    }
    void atOnceItIsWhatItIsStageByStage() {
        m_request.others = {PreviewSide{m_request.project, "marmalade", {}}};
        auto other = fresh();
        int stages = 0;
        const auto atOnce = other->renderAtRest(m_request, m_resources, {}, [&] { ++stages; });
        QCOMPARE(stages, Preview::kLastStage);
        Picture last;
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            last = *m_preview->render(m_request, m_resources, stage);
        QCOMPARE(atOnce->pixels, last.pixels);
        QCOMPARE(other->others()[0].pixels, m_preview->others()[0].pixels);
        QCOMPARE(other->covered(), m_preview->covered());
        CancelToken cancel;
        cancel.cancel();
        m_request.camera.turn += 9;
        QVERIFY(!other->renderAtRest(m_request, m_resources, cancel));
    }
    void manySidesAreWhatEachIsAlone() {
        // Candidates of several controls, one that reads beside the point and one of another place of a map.
        const Project base = m_request.project;
        const auto with = [&](const char* step, const char* control, const ControlValue& value) {
            PreviewSide side{*edits::setControl(base, "celadon", step, control, value), "celadon", {}};
            m_request.others.push_back(std::move(side));
        };
        for (const double hue : {-120.0, -40.0, 40.0, 120.0}) with("glaze", "hue", hue);
        with("glaze", "saturation", 0.3);
        std::string relief;
        for (const auto& line : base.lines)
            for (const auto& step : line->steps)
                if (step->type == "height-to-normal") relief = step->id;
        if (!relief.empty()) with(relief.c_str(), "strength", 3.0);
        for (const auto& step : base.lineOfChannel("base-colour")->steps)
            if (step->type == "map") with(step->id.c_str(), "scale", 3.0);
        m_request.others.push_back(PreviewSide{base, "marmalade", {}});
        m_request.others.push_back(PreviewSide{base, "", {}});
        const std::vector<PreviewSide> sides = m_request.others;
        QVERIFY(m_preview->render(m_request, m_resources, 1).has_value());
        const auto check = [&] {
            QCOMPARE(m_preview->others().size(), sides.size());
            for (std::size_t k = 0; k < sides.size(); ++k) {
                PreviewRequest one = m_request;
                static_cast<PreviewSide&>(one) = m_request.others[k];
                one.others.clear();
                QCOMPARE(m_preview->others()[k].pixels, fresh()->render(one, m_resources, 1)->pixels);
            }
        };
        check();
        // Two of them change; the rest is kept.
        m_request.others[1].project = *edits::setControl(base, "celadon", "glaze", "hue", 77.0);
        m_request.others[2].project = *edits::setControl(base, "celadon", "glaze", "value", 0.5);
        QVERIFY(m_preview->render(m_request, m_resources, 1).has_value());
        check();
        m_request.others.resize(3);
        QVERIFY(m_preview->render(m_request, m_resources, 1).has_value());
        QCOMPARE(m_preview->others().size(), std::size_t{3});
    }
    void whatIsKeptIsNeverAnOldPicture() {
        // There and back, with light, exposure, channels and sides changed between: always as if made anew.
        const auto check = [&] {
            const Picture kept = *m_preview->render(m_request, m_resources, 1);
            QCOMPARE(kept.pixels, fresh()->render(m_request, m_resources, 1)->pixels);
        };
        check();
        m_request.project = *edits::setControl(m_request.project, "celadon", "glaze", "hue", 10.0);
        check();
        m_request.look = "marmalade";
        check();
        m_request.project.view.exposure = 1;
        check();
        m_request.off = {"normal"};
        check();
        m_request.project.view.keyStrength = 3;
        check();
        m_request.project.view.groundShadow = false;
        check();
        m_request.project.view.keySoftness = 20;
        check();
        m_request.project.view.environmentTurn = 70;
        check();
        m_request.off = {};
        m_request.look = "celadon";
        check();
        m_request.lookHere = LookHere{m_request.project.lines.front()->id, "", {}};
        check();
        m_request.lookHere->component = Component::Red;
        check();
    }
    void passesAreMeansAlsoWhenTheyAreKept() {
        std::vector<Picture> first, second;
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            first.push_back(*m_preview->render(m_request, m_resources, stage));
        // The same again from what is kept of the view.
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            second.push_back(*m_preview->render(m_request, m_resources, stage));
        for (std::size_t i = 0; i < first.size(); ++i) QCOMPARE(first[i].pixels, second[i].pixels);
        QVERIFY(largest(first.front(), first.back()) > 8);  // edges are smooth now
    }
    void aChannelThatIsOffShowsItsNeutral() {
        m_request.look = "";
        const Picture with = *m_preview->render(m_request, m_resources, 1);
        m_request.off = {"base-colour"};
        const Picture without = *m_preview->render(m_request, m_resources, 1);
        QVERIFY(largest(with, without) > 60);
        // As if the line were not there.
        Project p = m_request.project;
        std::erase_if(p.lines, [](const Shared<Line>& l) { return l->channel == "base-colour"; });
        m_request.project = p;
        m_request.off = {};
        QCOMPARE(m_preview->render(m_request, m_resources, 1)->pixels, without.pixels);
    }
    void coatAndSheenAreSeen() {
        Project p;
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                                  {step("c", "colour", {{"colour", Colour{0.05f, 0.05f, 0.05f}}})}));
        p.lines.emplace_back(
            line("rough", Kind::Scalar, "roughness", {step("r", "value", {{"value", 1.0}})}));
        m_request.project = p;
        m_request.look = "";
        const auto mean = [](const Picture& picture) {
            double sum = 0;
            for (const std::uint32_t v : picture.pixels) sum += v >> 8 & 255;
            return sum / static_cast<double>(picture.pixels.size());
        };
        const Picture plain = *m_preview->render(m_request, m_resources, 1);
        for (const auto& [channel, kind] :
             {std::pair{"coat", Kind::Scalar}, {"sheen-colour", Kind::Colour}}) {
            Project more = p;
            more.lines.emplace_back(
                kind == Kind::Scalar ? line("x", kind, channel, {step("v", "value", {{"value", 1.0}})})
                                     : line("x", kind, channel,
                                            {step("v", "colour", {{"colour", Colour{0.8f, 0.8f, 0.8f}}})}));
            m_request.project = more;
            const Picture seen = *m_preview->render(m_request, m_resources, 1);
            QVERIFY2(mean(seen) > mean(plain) + 0.2, channel);
            QVERIFY2(largest(seen, plain) > 20, channel);
        }
    }
    void withoutTheKeyLightItIsDarkerAndTheGroundIsPlain() {
        m_request.project.view.groundShadow = false;
        const Picture with = *m_preview->render(m_request, m_resources, 1);
        const auto covered = m_preview->covered();
        for (std::size_t i = 0; i < covered.size(); ++i)
            if (covered[i] == 0) QCOMPARE(with.pixels[i], with.pixels[0]);
        m_request.project.view.keyStrength = 0;
        const Picture without = *m_preview->render(m_request, m_resources, 1);
        long more = 0;
        for (std::size_t i = 0; i < covered.size(); ++i)
            if (covered[i] != 0)
                more += static_cast<long>(with.pixels[i] >> 8 & 255) -
                        static_cast<long>(without.pixels[i] >> 8 & 255);
        QVERIFY(more > 0);
    }
    void aWiderLensShowsMore() {
        const auto count = [&] {
            (void)m_preview->render(m_request, m_resources, 1).has_value();
            const auto covered = m_preview->covered();
            return std::count(covered.begin(), covered.end(), std::uint8_t{1});
        };
        const auto narrow = count();
        m_request.camera.fieldOfView = 60;
        QVERIFY(count() < narrow / 2);
    }
};

QTEST_GUILESS_MAIN(TwoSidesTest)
#include "two_sides_test.moc"
