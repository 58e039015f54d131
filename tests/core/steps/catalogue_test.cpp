// What every step must declare, checked over the whole catalogue: a new step is held to it by being there.
#include <QtTest>
#include <set>

#include "core/document/json.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class CatalogueTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyStepDeclaresItself() {
        std::set<std::string> types, names;
        for (const StepSpec& spec : shippedSteps()) {
            QVERIFY2(types.insert(spec.type).second && names.insert(spec.name).second, spec.type.c_str());
            QVERIFY2(!spec.kinds.empty() && spec.purpose.ends_with("."), spec.type.c_str());
            QVERIFY2(spec.telling && spec.emit, spec.type.c_str());
            QCOMPARE(shippedSteps().find(spec.type), &spec);
        }
        QVERIFY(shippedSteps().find("cook") == nullptr);
    }
    void everyControlHasATipAndADefaultOfItsOwnType() {
        for (const StepSpec& spec : shippedSteps()) {
            std::set<std::string> ids;
            for (const ControlSpec& c : spec.controls) {
                const std::string where = spec.type + "." + c.id;
                QVERIFY2(ids.insert(c.id).second, where.c_str());
                QVERIFY2(!c.tip.empty() && !c.name.empty(), where.c_str());
                QVERIFY2(!checkControl(c, c.standard), where.c_str());
                if (c.type == ControlType::Number) QVERIFY2(c.low < c.high, where.c_str());
            }
            for (const FeedSpec& f : spec.feeds) QVERIFY2(!f.tip.empty(), spec.type.c_str());
        }
    }
    void whatHangsOnAHiddenControlIsHidden() {
        const StepSpec& map = *shippedSteps().find("map");
        const auto isShown = [&](Controls controls, const char* id) {
            const Step s = step("m", "map", std::move(controls));
            return StepView(map, s, Kind::Colour).isShown(*map.findControl(id));
        };
        QVERIFY(!isShown({}, "seed"));
        QVERIFY(isShown({{"break-up", true}}, "seed"));
        // Scattered there is nothing to break up, and the seed is that of the spots.
        const Controls scattered{{"break-up", true}, {"lies", std::string("scattered")}};
        QVERIFY(!isShown(scattered, "break-up"));
        QVERIFY(!isShown(scattered, "seed"));
        QVERIFY(isShown(scattered, "spots"));
    }
    void whatAControlHangsOnIsThere() {
        for (const StepSpec& spec : shippedSteps())
            for (const ControlSpec& c : spec.controls) {
                if (c.shownBy.empty()) continue;
                const ControlSpec* by = spec.findControl(c.shownBy);
                QVERIFY2(by != nullptr && !c.shownFor.empty(), (spec.type + "." + c.id).c_str());
                for (const std::string& value : c.shownFor)
                    if (by->type == ControlType::Choice) QVERIFY(!checkControl(*by, value));
            }
        const StepSpec& shift = *shippedSteps().find("hsv-shift");
        Step s = step("s", "hsv-shift");
        const ControlSpec& width = *shift.findControl("band-width");
        QVERIFY(!StepView(shift, s, Kind::Colour).isShown(width));
        s.controls["band"] = true;
        QVERIFY(StepView(shift, s, Kind::Colour).isShown(width));
        QVERIFY(!StepView(shift, s, Kind::Scalar).isShown(*shift.findControl("works-in")));
    }
    void examplesAreValidAndShowSomething() {
        for (const StepSpec& spec : shippedSteps()) {
            for (const auto& [id, value] : spec.example) {
                const ControlSpec* c = spec.findControl(id);
                QVERIFY2(c != nullptr && !checkControl(*c, value), (spec.type + "." + id).c_str());
            }
            const Step s = step("s", spec.type, spec.example);
            QVERIFY2(!spec.telling(StepView(spec, s, spec.kinds.front())).empty() || spec.type == "map",
                     spec.type.c_str());
        }
    }
    void everyStepCompilesOnEveryKindItFits() {
        for (const StepSpec& spec : shippedSteps())
            for (const Kind kind : spec.kinds) {
                Project p;
                std::vector<Step> steps;
                if (!spec.source)
                    steps.push_back(step("first", kind == Kind::Colour   ? "colour"
                                                  : kind == Kind::Scalar ? "value"
                                                                         : "flat-normal"));
                steps.push_back(step("tried", spec.type, spec.example));
                p.lines.emplace_back(line("base", kind, "", std::move(steps)));
                QCOMPARE(problemsOf(p).size(), std::size_t{0});
                for (const float v : evaluate(p)) QVERIFY2(std::isfinite(v), spec.type.c_str());
            }
    }
    void amountNoneIsTheInputBitForBitInEveryStepThatHasOne() {
        for (const StepSpec& spec : shippedSteps()) {
            if (spec.source || spec.findControl("amount") == nullptr || !spec.fits(Kind::Colour)) continue;
            Step s = step("s", spec.type, spec.example);
            s.controls["amount"] = 0.0;
            for (const FeedSpec& f : spec.feeds)
                if (f.id == "over") s.feeds["over"] = constantFeed(Colour{0.9f, 0.1f, 0.4f});
            const auto out = evaluate(colourThrough({0.123f, -0.4f, 1.7f}, s));
            QVERIFY2(out[0] == 0.123f && out[1] == -0.4f && out[2] == 1.7f, spec.type.c_str());
            QCOMPARE(QString::fromStdString(spec.noEffect(StepView(spec, s, Kind::Colour))),
                     QStringLiteral("the amount is 0"));
        }
    }
    void unusedComponentsCostNothing() {
        // Only red is wanted: the ramp and the blend write one component, and alpha is nowhere.
        Project p = colourThrough(
            {0, 0, 0}, step("r", "ramp-remap", {{"ramp", Ramp{}}}, {{"reads-from", feed("grey")}}));
        p.lines[0].edit().steps.emplace_back(
            step("b", "blend", {{"mode", std::string("screen")}}, {{"over", constantFeed(0.5)}}));
        p.lines.emplace_back(line("grey", Kind::Scalar, "", {step("g", "gradient")}));
        const Compiled one = compile(p, nullptr, {{"base", "", 1}}),
                       all = compile(p, nullptr, {{"base", "", 3}});
        const auto written = [](const Program& program) {
            std::size_t n = 0;
            for (const Instruction& i : program.code)
                for (const Reg r : i.out) n += r != kNoReg ? 1u : 0u;
            return n;
        };
        QCOMPARE(written(all.program), written(one.program) + 4);
    }
};

QTEST_APPLESS_MAIN(CatalogueTest)
#include "catalogue_test.moc"
