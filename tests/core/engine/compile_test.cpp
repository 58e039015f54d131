#include "core/engine/compile.h"
#include "core/document/network.h"

#include <QtTest>
#include <random>

#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "core/engine/run.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// The same network worked out plainly, one colour at a time, without a program: only the steps that random
/// networks use.
class PlainEvaluator {
public:
    explicit PlainEvaluator(const Project& p) : m_project(p) {}
    Vec3 at(const std::string& lineId, const std::string& after) const {
        const Line& l = *m_project.findLine(lineId);
        Vec3 c;
        for (const auto& s : l.steps) {
            if (!s->bypass) c = apply(l, *s, c);
            if (s->id == after) break;
        }
        return c;
    }

private:
    double number(const Step& s, const char* id) const {
        const auto it = s.controls.find(id);
        return it != s.controls.end()
                   ? std::get<double>(it->second)
                   : std::get<double>(shippedSteps().find(s.type)->findControl(id)->standard);
    }
    float scalarFeed(const Step& s, const char* name) const {
        const auto f = s.feeds.find(name);
        if (f == s.feeds.end()) return 1;
        if (f->second.constant) return static_cast<float>(std::get<double>(*f->second.constant));
        const Vec3 v = at(f->second.line, f->second.after);
        return m_project.findLine(f->second.line)->kind == Kind::Scalar ? v.x : luminance(v);
    }
    Vec3 apply(const Line& l, const Step& s, Vec3 in) const {
        if (s.type == "colour") {
            const Colour c = std::get<Colour>(s.controls.at("colour"));
            return {c.r, c.g, c.b};
        }
        if (s.type == "value") {
            const auto v = static_cast<float>(std::get<double>(s.controls.at("value")));
            return {v, v, v};
        }
        if (s.type == "invert") {
            if (l.kind == Kind::Scalar) return Vec3{1, 1, 1} - in;
            const auto turn = [](float x) { return srgbToLinear(1 - linearToSrgb(x)); };
            return {turn(in.x), turn(in.y), turn(in.z)};
        }
        if (s.type == "hsv-shift") {
            Hsv h = hsvOf(in);
            h.hue += static_cast<float>(number(s, "hue"));
            h.saturation = std::clamp(h.saturation * static_cast<float>(number(s, "saturation")), 0.f, 1.f);
            return mix(in, rgbOf(h), static_cast<float>(number(s, "amount")) * scalarFeed(s, "mask"));
        }
        if (s.type == "blend") {
            const auto f = s.feeds.find("over");
            if (f == s.feeds.end()) return in;
            const Vec3 over = at(f->second.line, f->second.after);
            return mix(in, in * over, static_cast<float>(number(s, "amount")) * scalarFeed(s, "mask"));
        }
        return in;
    }
    const Project& m_project;
};

/// A random network of colour and grey lines whose feeds go to earlier lines only.
Project randomProject(unsigned seed) {
    std::mt19937 random(seed);
    const auto unit = [&] { return static_cast<float>(random() % 1000) / 1000; };
    Project p;
    int id = 0;
    for (int l = 0; l < 4; ++l) {
        const bool colour = random() % 2 == 0;
        Line made = line("l" + std::to_string(l), colour ? Kind::Colour : Kind::Scalar, "", {});
        made.steps.emplace_back(
            colour ? step("s" + std::to_string(id++), "colour", {{"colour", Colour{unit(), unit(), unit()}}})
                   : step("s" + std::to_string(id++), "value", {{"value", static_cast<double>(unit())}}));
        const auto anyFeed = [&](bool wantsSameKind) -> std::optional<Feed> {
            std::vector<Feed> possible;
            for (const auto& other : p.lines)
                if (!wantsSameKind || other->kind == made.kind)
                    possible.push_back(feed(other->id, random() % 2 == 0
                                                           ? other->steps[random() % other->steps.size()]->id
                                                           : ""));
            if (possible.empty()) return std::nullopt;
            return possible[random() % possible.size()];
        };
        for (auto k = random() % 5; k > 0; --k) {
            Step s =
                step("s" + std::to_string(id++),
                     std::array<const char*, 3>{"invert", "blend", "hsv-shift"}[random() % (colour ? 3 : 2)]);
            if (s.type == "hsv-shift")
                s.controls = {{"hue", unit() * 360.0},
                              {"saturation", static_cast<double>(unit()) * 2},
                              {"amount", static_cast<double>(unit())}};
            if (s.type == "blend") {
                s.controls = {{"mode", std::string("multiply")}, {"amount", static_cast<double>(unit())}};
                if (auto over = anyFeed(true)) s.feeds["over"] = *over;
            }
            if (s.type != "invert" && random() % 2 == 0)
                if (auto mask = anyFeed(false)) s.feeds["mask"] = *mask;
            s.bypass = random() % 6 == 0;
            s.version = 1;  // in linear light, as the plain evaluator
            made.steps.emplace_back(std::move(s));
        }
        p.lines.emplace_back(std::move(made));
    }
    return p;
}

}  // namespace

class CompileTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aSourceCannotBeBypassed() {
        // A file may say so all the same: nothing would be left to pass on, so it works.
        Step source = step("source", "colour", {{"colour", Colour{0.5f, 0.25f, 0.1f}}});
        source.bypass = true;
        Project p;
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {source}));
        QVERIFY(near(evaluate(p), {0.5f, 0.25f, 0.1f}));
        p = twoLines();
        p.looks[0].edit().changes["source.bypass"] = true;
        QVERIFY(near(evaluate(p, "base", "look"), {evaluate(p)[0], evaluate(p)[1], evaluate(p)[2]}));
    }
    void randomNetworksAgreeWithThePlainEvaluator() {
        for (unsigned seed = 1; seed <= 150; ++seed) {
            const Project p = randomProject(seed);
            const PlainEvaluator plain(p);
            for (const auto& l : p.lines) {
                const auto out = evaluate(p, l->id);
                const Vec3 expected = plain.at(l->id, "");
                QVERIFY2(near(out, expected, 2e-5f),
                         ("seed " + std::to_string(seed) + " " + l->id + ": " + words(out)).c_str());
            }
        }
    }
    void theFirstWantsAndAllAtOnce() {
        const Resources none{std::filesystem::path()};
        for (unsigned seed = 1; seed <= 30; ++seed) {
            Project p = randomProject(seed);
            p.looks.emplace_back(Look{"look", "Look", {}, {}});
            std::vector<Want> wants;
            for (const auto& l : p.lines) {
                for (const auto& s : l->steps)
                    wants.push_back({l->id, s->id, l->kind == Kind::Colour ? 3 : 1});
                p.looks[0].edit().changes[l->steps.back()->id + ".bypass"] = true;
            }
            const Look* look = &*p.looks[0];
            const std::size_t count = wants.size() / 2;
            const CompiledTwice twice = compileTwice(p, look, wants, count);
            const Compiled single =
                compile(p, look, std::vector<Want>(wants.begin(), wants.begin() + static_cast<long>(count)));
            QCOMPARE(twice.first.planes.size(), count);
            QCOMPARE(twice.first.program.listing(), single.program.listing());
            QCOMPARE(twice.all.planes.size(), wants.size());
            const auto all = runAt(twice.all.program, none.resolve(p, twice.all.program), 0, 0);
            for (std::size_t w = 0; w < wants.size(); ++w) {
                const Compiled alone = compile(p, look, {wants[w]});
                const auto values = runAt(alone.program, none.resolve(p, alone.program), 0, 0);
                for (std::size_t c = 0; c < static_cast<std::size_t>(wants[w].components); ++c)
                    QCOMPARE(all[static_cast<std::size_t>(twice.all.planes[w][c])],
                             values[static_cast<std::size_t>(alone.planes[0][c])]);
                if (w < count) QCOMPARE(twice.all.planes[w], twice.first.planes[w]);
            }
        }
    }
    void aNetworkThatIsThereIsUsed() {
        for (unsigned seed = 0; seed < 5; ++seed) {
            const Project p = randomProject(seed);
            std::vector<Want> wants;
            for (const auto& l : p.lines) wants.push_back({l->id, "", 1});
            const Look* look = p.looks.empty() ? nullptr : &*p.looks[0];
            const Network network(p);
            Rules rules;
            rules.network = &network;
            const Compiled with = compile(p, look, wants, rules), without = compile(p, look, wants);
            QCOMPARE(with.program.listing(), without.program.listing());
            QVERIFY(with.planes == without.planes);
        }
    }
    void whatIsCancelledComesOutAtOnce() {
        const Project p = randomProject(3);
        std::vector<Want> wants;
        for (const auto& l : p.lines) wants.push_back({l->id, "", 1});
        CancelToken cancel;
        Rules rules;
        rules.cancel = &cancel;
        QVERIFY(compile(p, nullptr, wants, rules).planes[0][0] >= 0);
        cancel.cancel();
        const Compiled stopped = compile(p, nullptr, wants, rules);
        QCOMPARE(stopped.planes.size(), wants.size());
        QCOMPARE(stopped.planes[0][0], -1);
        QVERIFY(stopped.program.code.empty());
    }
    void alphaCostsNothingWhenNobodyReadsIt() {
        Project p;
        p.lines.emplace_back(
            line("base", Kind::Colour, "base-colour",
                 {mapStep("m", "base-colour"), step("shift", "hsv-shift", {{"hue", 20.0}})}));
        const Compiled without = compile(p, nullptr, {{"base", "", 3, false}});
        for (const SourceReg& s : without.program.sourceRegs) QVERIFY(s.component < 3);
        const Compiled with = compile(p, nullptr, {{"base", "", 4, false}});
        QCOMPARE(with.program.sourceRegs.size(), without.program.sourceRegs.size() + 1);
        QCOMPARE(with.program.code.size(), without.program.code.size());
    }
    void aBypassedOrNeutralStepEmitsNothing() {
        Project p;
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                                  {mapStep("m", "base-colour"),
                                   step("shift", "hsv-shift", {{"works-in", std::string("linear")}})}));
        QVERIFY(compile(p, nullptr, {{"base", "", 3, false}}).program.code.empty());
        p.lines[0].edit().steps[1].edit().controls["hue"] = 40.0;
        QCOMPARE(compile(p, nullptr, {{"base", "", 3, false}}).program.code.size(), std::size_t{1});
        p.lines[0].edit().steps[1].edit().bypass = true;
        QVERIFY(compile(p, nullptr, {{"base", "", 3, false}}).program.code.empty());
    }
    void aSharedLineIsComputedOnce() {
        Project p;
        p.lines.emplace_back(line(
            "a", Kind::Colour, "base-colour",
            {mapStep("m1", "base-colour"), step("x", "hsv-shift", {{"hue", 9.0}}, {{"mask", feed("wear")}}),
             step("y", "hsv-shift", {{"hue", 5.0}}, {{"mask", feed("wear")}})}));
        p.lines.emplace_back(line("wear", Kind::Scalar, "",
                                  {mapStep("m2", "wear"), step("w", "levels", {{"in-black", 0.2}})}));
        const QString listing =
            QString::fromStdString(compile(p, nullptr, {{"a", "", 3, false}}).program.listing());
        QCOMPARE(listing.count(QStringLiteral("levels(")), 1);
        QCOMPARE(listing.count(QStringLiteral("hsv-shift(")), 2);
    }
    void aTapReadsAfterItsStep() {
        Project p = twoLines();
        p.lines.emplace_back(line("reader", Kind::Colour, "",
                                  {step("r", "colour", {{"colour", Colour{0, 0, 0}}}),
                                   step("over", "blend", {}, {{"over", feed("base", "source")}})}));
        QVERIFY(near(evaluate(p, "reader"), {0.5f, 0.25f, 0.1f}));
    }
    void looksChangeTheProgram() {
        Project p = colourThrough({1, 0, 0}, step("shift", "hsv-shift"));
        p.looks.emplace_back(Look{"green", "Green", {{"shift.hue", 120.0}}, {}});
        p.looks.emplace_back(Look{"off", "Off", {{"shift.hue", 120.0}, {"shift.bypass", true}}, {}});
        QVERIFY(near(evaluate(p), {1, 0, 0}));
        QVERIFY(near(evaluate(p, "base", "green"), {0, 1, 0}));
        QVERIFY(near(evaluate(p, "base", "off"), {1, 0, 0}));
    }
    void aCycleInAFileReadsAsNeutralAndIsNamed() {
        Project p = twoLines();
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("grey");
        p.lines[1].edit().steps[1].edit().feeds["mask"] = feed("base");
        const auto out = evaluate(p);
        QVERIFY(std::isfinite(out[0]));
        const auto problems = problemsOf(p);
        QCOMPARE(problems.size(), std::size_t{1});
        QVERIFY(problems[0].find("would feed itself") != std::string::npos);
    }
    void whatIsWrongIsNamed_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("sentence");
        QTest::newRow("unknown step")
            << 0
            << QStringLiteral(
                   "shift on Base colour is a step \"sparkle\" that this program does not know. It passes "
                   "its input on and is kept in the file.");
        QTest::newRow("wrong type")
            << 1
            << QStringLiteral(
                   "shift.hue on Base colour should be a number. The default is used until you set it.");
        QTest::newRow("missing line") << 2
                                      << QStringLiteral(
                                             "shift on Base colour reads the line \"fog\" as its mask, which "
                                             "is not in the project. Join another line.");
        QTest::newRow("missing tap") << 3
                                     << QStringLiteral(
                                            "shift on Base colour reads grey after a step \"g9\" that is not "
                                            "there; its end is read instead. Join it again.");
        QTest::newRow("wrong kind")
            << 4
            << QStringLiteral("g2 on grey does not fit a scalar line and passes its input on. Remove it.");
        QTest::newRow("look of nobody") << 5
                                        << QStringLiteral(
                                               "The look Look changes ghost.hue, which is not in the "
                                               "project. It is kept and has no effect.");
        QTest::newRow("look of wrong type")
            << 6
            << QStringLiteral(
                   "shift.hue in the look Look should be a number. The default is used until you set it.");
    }
    void whatIsWrongIsNamed() {
        QFETCH(int, which);
        QFETCH(QString, sentence);
        Project p = twoLines();
        Step& shift = p.lines[0].edit().steps[1].edit();
        if (which == 0) shift.type = "sparkle";
        if (which == 1) shift.controls["hue"] = true;
        if (which == 2) shift.feeds["mask"] = feed("fog");
        if (which == 3) shift.feeds["mask"] = feed("grey", "g9");
        if (which == 4) p.lines[1].edit().steps[1].edit().type = "hsv-shift";
        if (which == 5) p.looks[0].edit().changes["ghost.hue"] = 4.0;
        if (which == 6) p.looks[0].edit().changes["shift.hue"] = std::string("red");
        const auto problems = problemsOf(p);
        QCOMPARE(problems.size(), std::size_t{1});
        QCOMPARE(QString::fromStdString(problems[0]), sentence);
        QVERIFY(std::isfinite(evaluate(p)[0]));  // the rest goes on
    }
    void aSoundProjectHasNoProblems() { QVERIFY(problemsOf(twoLines()).empty()); }

    void displayEncodingIsPartOfTheProgram() {
        const Project p = colourThrough({0.18f, 0.5f, 1}, step("shift", "hsv-shift"));
        const Compiled c = compile(p, nullptr, {{"base", "", 3, true}});
        const Resources none{std::filesystem::path()};
        const auto values = runAt(c.program, none.resolve(p, c.program), 0, 0);
        QVERIFY(near(values[static_cast<std::size_t>(c.planes[0][0])], linearToSrgb(0.18f), 3e-6f));
    }
    void aLineGivesWhatItsChannelTakes() {
        const auto channelValues = [](const Project& p, const char* id) {
            const Want want = wantOfLine(*p.findLine(id));
            const Compiled c = compile(p, nullptr, {want});
            const Resources none{std::filesystem::path()};
            const auto values = runAt(c.program, none.resolve(p, c.program), 0, 0);
            std::vector<float> out;
            for (int k = 0; k < want.components; ++k)
                out.push_back(values[static_cast<std::size_t>(c.planes[0][static_cast<std::size_t>(k)])]);
            return out;
        };
        using V = std::vector<float>;
        Project p = twoLines();  // a colour line and a shared scalar one
        p.lines[0].edit().steps.pop_back();
        p.lines[1].edit().steps.pop_back();
        QCOMPARE(channelValues(p, "base"), (V{0.5f, 0.25f, 0.1f}));
        QCOMPARE(channelValues(p, "grey"), (V{0.5f}));
        // A scalar on a colour channel is a grey, a colour on a scalar one its luminance (Rec.709).
        p.lines[1].edit().channel = "emission";
        p.lines[0].edit().channel = "roughness";
        QCOMPARE(channelValues(p, "grey"), (V{0.5f, 0.5f, 0.5f}));
        QVERIFY(near(channelValues(p, "base")[0], 0.2126f * 0.5f + 0.7152f * 0.25f + 0.0722f * 0.1f, 1e-4f));
        QCOMPARE(problemsOf(p).size(), std::size_t{2});
        // Between normals and others there is no way: the neutral one.
        p.lines[0].edit().channel = "normal";
        QCOMPARE(channelValues(p, "base"), (V{0, 0, 1}));
        QCOMPARE(QString::fromStdString(problemsOf(p).front()),
                 QStringLiteral(
                     "The line Base colour carries a colour and Normal takes a normal: the channel stays "
                     "neutral. Let the line carry a normal."));
        // Two lines on one channel: the second is not used, and it is said.
        p.lines[1].edit().channel = "normal";
        QVERIFY(problemsOf(p)[1].find("which another line drives already") != std::string::npos);
    }
};

QTEST_APPLESS_MAIN(CompileTest)
#include "compile_test.moc"
