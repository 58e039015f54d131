// A step that only this file knows: declared here, it is compiled, run, checked and told of by everything
// that is given a catalogue with it, and is unknown to everything else.
#include <QtTest>

#include "core/analysis/checks.h"
#include "core/analysis/effects.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// Part of what comes in: x * part.
const Op kPart{"part", [](const KernelCall& k) {
                   for (std::size_t i = 0; i < k.count; ++i) k.out[0][i] = k.in[0][i] * k.params[0];
               }};

constexpr NumberHandle kPartOf{"part"};

StepSpec partStep() {
    StepSpec spec;
    spec.type = "part";
    spec.order = 5;  // before all others
    spec.name = "Part";
    spec.purpose = "Takes a part of what comes in.";
    spec.kinds = {Kind::Scalar};
    ControlSpec part{kPartOf.id, "Part", ControlType::Number, 0.5};
    part.tip = "How much is left.";
    spec.controls = {part};
    spec.telling = [](const StepView& v) { return std::to_string(v[kPartOf]); };
    spec.noEffect = [](const StepView& v) { return std::string(v[kPartOf] == 1 ? "all of it is left" : ""); };
    spec.warning = [](const StepView& v) {
        return std::string(v[kPartOf] > 1 ? "More than all is no part. Take less." : "");
    };
    spec.emit = [](Emitter& e) {
        const Reg r = e.program().emit(kPart, {e.input().r}, {e.real(kPartOf)});
        return Value{Kind::Scalar, r, r, r, kNoReg};
    };
    return spec;
}

Catalogue withPart() {
    std::vector<StepSpec> steps(shippedSteps().begin(), shippedSteps().end());
    steps.push_back(partStep());
    return Catalogue(std::move(steps));
}

Project project(double part) {
    Project p;
    p.lines.emplace_back(
        line("v", Kind::Scalar, "roughness",
             {step("grey", "value", {{"value", 0.8}}), step("half", "part", {{"part", part}})}));
    return p;
}

Resources resources() {
    return {"/nowhere", std::make_shared<ImageStore>(), ColourManagement::shipped(), withPart()};
}

}  // namespace

class OwnStepTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void itIsCompiledAndRun() {
        const Project p = project(0.25);
        const Resources r = resources();
        const Compiled known = compile(p, nullptr, {{"v", "", 1}}, r.rules());
        QCOMPARE(runAt(known.program, r.resolve(p, known.program), 0.5f, 0.5f)[0], 0.2f);
        const Compiled unknown = compile(p, nullptr, {{"v", "", 1}});
        QCOMPARE(runAt(unknown.program, r.resolve(p, unknown.program), 0.5f, 0.5f)[0], 0.8f);
    }
    void itStandsWhereItSays() {
        const Catalogue steps = withPart();
        QCOMPARE(steps.size(), shippedSteps().size() + 1);
        QCOMPARE(steps.begin()->name, std::string("Part"));
        QCOMPARE(steps.find("part"), steps.begin());
        const Catalogue copy = steps;
        QCOMPARE(copy.find("part"), steps.find("part"));
        QVERIFY(shippedSteps().find("part") == nullptr);
    }
    void problemsKnowIt() {
        QCOMPARE(problemsOf(project(0.5), withPart()).size(), std::size_t{0});
        QCOMPARE(problemsOf(project(0.5)).size(), std::size_t{1});
        Project wrong = project(0.5);
        Step s = step("half", "part");
        s.controls["part"] = true;
        wrong.lines[0] =
            Shared<Line>(line("v", Kind::Scalar, "roughness", {step("grey", "value", {{"value", 0.8}}), s}));
        QVERIFY(problemsOf(wrong, withPart()).front().find("should be a number") != std::string::npos);
    }
    void effectsAndChecksKnowIt() {
        QCOMPARE(workedSteps(project(0.5), withPart()), 1);
        QCOMPARE(workedSteps(project(1), withPart()), 0);
        const Resources r = resources();
        QCOMPARE(stepsWithoutEffect(project(1), nullptr, r, PointSet::grid(4, 4)).at("half"),
                 std::string("all of it is left"));
        const auto found = checkProject(project(2), "", r);
        const bool isWarned = std::any_of(found.begin(), found.end(), [](const Finding& f) {
            return f.check == "step" && f.step == "half" &&
                   f.sentence == "Part on v: More than all is no part. Take less.";
        });
        QVERIFY(isWarned);
    }
};

QTEST_GUILESS_MAIN(OwnStepTest)
#include "own_step_test.moc"
