// Long results that come again are kept, and nobody sees it but the clock.
#include "core/engine/kept_results.h"

#include <QtTest>

#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

constexpr int kSide = 40;

/// A noise that another one bends, through a ramp and a blend; a plain noise; what they give on the way.
Project noises(double seed, double amount) {
    Project p;
    p.lines.emplace_back(line("bend", Kind::Colour, "",
                              {step("b", "noise", {{"repeats", 3.0}}), step("bt", "tone", {{"gain", 0.9}})}));
    p.lines.emplace_back(
        line("mask", Kind::Scalar, "",
             {step("n", "noise", {{"seed", seed}, {"distortion", 0.7}}, {{"bend", feed("bend")}}),
              step("r", "levels", {{"in-black", amount}})}));
    p.lines.emplace_back(
        line("base", Kind::Colour, "base-colour",
             {step("c", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}}),
              step("h", "hsv-shift", {{"hue", 80.0}, {"amount", amount}}, {{"mask", feed("mask")}})}));
    return p;
}

const std::vector<Want> kWants{
    {"base", "", 3}, {"mask", "n", 1}, {"mask", "", 1}, {"bend", "b", 3}, {"bend", "", 3}};

struct Painter {
    Resources resources{std::filesystem::path()};
    PointSet points = PointSet::grid(kSide, kSide);
    SampleCache samples;

    Compiled compiled(const Project& p, const std::vector<Want>& wants) { return compile(p, nullptr, wants); }
    std::vector<std::vector<float>> paint(const Project& p, const std::vector<Want>& wants = kWants) {
        const Compiled c = compiled(p, wants);
        const ResolvedMaps maps = resources.resolve(p, c.program);
        samples.prepare(c.program, maps, points);
        std::vector<Plane> planes;
        run(c.program, maps, samples, points.size(), planes);
        std::vector<std::vector<float>> all;
        for (const auto& want : c.planes)
            for (const int plane : want)
                if (plane >= 0) {
                    const Plane& from = planes[static_cast<std::size_t>(plane)];
                    all.emplace_back(from.data(), from.data() + from.size());
                }
        return all;
    }
    /// How many noises a prepared program still makes.
    int noisesMade(const Project& p, const std::vector<Want>& wants = kWants) {
        const Compiled c = compiled(p, wants);
        const ProgramPlan plan = samples.plan(c.program, resources.resolve(p, c.program));
        int made = 0;
        for (std::size_t i = 0; i < c.program.code.size(); ++i)
            made += (plan.runs.empty() || plan.runs[i]) && c.program.code[i].op->isLong;
        return made;
    }
};

std::vector<std::vector<float>> alone(const Project& p, const std::vector<Want>& wants = kWants) {
    return Painter().paint(p, wants);
}

}  // namespace

class KeptResultsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aNoiseBehindASliderIsMadeTwiceAndNoMore() {
        Painter painter;
        for (int i = 0; i < 6; ++i) {
            const Project p = noises(3, 0.1 * i + 0.05);
            QVERIFY(painter.paint(p) == alone(p));
            QCOMPARE(painter.noisesMade(p), i == 0 ? 2 : 0);
        }
        QVERIFY(painter.samples.byteSize() > 0);
    }
    void whatIsChangedItselfIsMadeAnew() {
        Painter painter;
        for (int i = 0; i < 5; ++i) {
            const Project p = noises(i, 0.3);
            QVERIFY(painter.paint(p) == alone(p));
            // The one that bends it stays as it is.
            QCOMPARE(painter.noisesMade(p), i == 0 ? 2 : 1);
        }
    }
    void whatOnlyAKeptOneNeedsIsNotMade() {
        Painter painter;
        const std::vector<Want> one{{"base", "", 3}};
        for (int i = 0; i < 4; ++i) {
            const Project p = noises(3, 0.1 * i + 0.05);
            QVERIFY(painter.paint(p, one) == alone(p, one));
            QCOMPARE(painter.noisesMade(p, one), i == 0 ? 2 : 0);
        }
        // The one that bends is asked for by itself now: it was never kept.
        const Project p = noises(3, 0.2);
        QVERIFY(painter.paint(p) == alone(p));
    }
    void whatDoesNotComeForLongIsLetGo() {
        Painter painter;
        const std::size_t before = [&] {
            painter.paint(noises(3, 0.1));
            painter.paint(noises(3, 0.2));
            return painter.samples.byteSize();
        }();
        Project plain;
        plain.lines.emplace_back(line("base", Kind::Colour, "base-colour", {step("c", "colour")}));
        for (int i = 0; i < 12; ++i) painter.paint(plain, {{"base", "", 3}});
        QVERIFY(painter.samples.byteSize() < before);
        const Project p = noises(3, 0.3);
        QVERIFY(painter.paint(p) == alone(p));
    }
    void memoryIsBounded() {
        const Project p = noises(3, 0.3);
        const Compiled c = compile(p, nullptr, kWants);
        const std::vector<std::uint64_t> ids =
            identitiesOf(c.program, std::vector<std::uint64_t>(c.program.sourceRegs.size(), 7));
        KeptResults kept;
        const std::size_t some = KeptResults::kMostBytes / sizeof(float);
        QVERIFY(kept.comeAgain(c.program, ids, some).empty());      // the first time
        QCOMPARE(kept.comeAgain(c.program, ids, some).size(), 1u);  // there is room for one of two
        QVERIFY(kept.comeAgain(c.program, ids, some + 1).empty());  // and for none
    }
    void registersOfTheSameNumbersAreAlike() {
        const Compiled a = compile(noises(3, 0.1), nullptr, kWants),
                       b = compile(noises(4, 0.1), nullptr, kWants);
        const auto idsOf = [](const Program& p, std::uint64_t source) {
            return identitiesOf(p, std::vector<std::uint64_t>(p.sourceRegs.size(), source));
        };
        QVERIFY(idsOf(a.program, 7) == idsOf(a.program, 7));
        // Another seed, or other points: every result that they go into is another one.
        const auto end = [&](const Compiled& c, const std::vector<std::uint64_t>& ids) {
            return ids[static_cast<std::size_t>(c.program.outputs[static_cast<std::size_t>(c.planes[0][0])])];
        };
        QVERIFY(end(a, idsOf(a.program, 7)) != end(b, idsOf(b.program, 7)));
        QVERIFY(end(a, idsOf(a.program, 7)) != end(a, idsOf(a.program, 8)));
    }
};

QTEST_APPLESS_MAIN(KeptResultsTest)
#include "kept_results_test.moc"
