#include <QTemporaryDir>
#include <QtTest>
#include <mutex>
#include <random>

#include "core/document/blend_modes.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/image/image.h"
#include "tests/support/plain_evaluator.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

constexpr int kSide = 24;

/// Random but valid networks: colour and grey lines that read each other backwards, so that no cycle arises.
class Maker {
public:
    explicit Maker(unsigned seed) : m_random(seed) {}

    Project make() {
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"picture", "picture.exr", "raw", {}}}, {}});
        const int lines = 2 + pick(4);
        for (int i = 0; i < lines; ++i) {
            const Kind kind = pick(2) == 0 ? Kind::Colour : Kind::Scalar;
            std::vector<Step> steps{source(kind)};
            for (int s = pick(5); s > 0; --s) steps.push_back(anyStep(kind));
            const std::string id = "line" + std::to_string(i);
            p.lines.emplace_back(line(id, kind, "", std::move(steps)));
            m_lines.emplace_back(id, kind);
        }
        return p;
    }

private:
    int pick(int count) { return static_cast<int>(m_random() % static_cast<unsigned>(count)); }
    double real(double low, double high) {
        return low + (high - low) * static_cast<double>(m_random() % 100003) / 100003.0;
    }
    std::string nextId() { return "s" + std::to_string(++m_steps); }
    Colour colour() {
        return {static_cast<float>(real(0.1, 0.9)), static_cast<float>(real(0.1, 0.9)),
                static_cast<float>(real(0.1, 0.9))};
    }
    std::optional<Feed> anyFeed(Kind wanted) {
        std::vector<std::string> fitting;
        for (const auto& [id, kind] : m_lines)
            if (wanted == Kind::Scalar || kind == wanted) fitting.push_back(id);
        if (fitting.empty()) return std::nullopt;
        return feed(fitting[static_cast<std::size_t>(pick(static_cast<int>(fitting.size())))]);
    }
    Step source(Kind kind) {
        if (pick(4) != 0) {
            Step s = mapStep(nextId(), "picture");
            const char* const components[] = {"red", "green", "blue", "alpha"};
            if (kind == Kind::Scalar) s.controls["component"] = std::string(components[pick(4)]);
            return s;
        }
        return kind == Kind::Colour ? step(nextId(), "colour", {{"colour", colour()}})
                                    : step(nextId(), "value", {{"value", real(0.1, 0.9)}});
    }
    void maybeMask(Step& s) {
        if (pick(2) == 0)
            if (auto mask = anyFeed(Kind::Scalar)) s.feeds["mask"] = *mask;
    }
    Step anyStep(Kind kind) {
        Step s = kind == Kind::Colour ? colourStep(pick(9)) : greyStep(pick(6));
        if (s.type != "clamp" && s.type != "invert" && s.type != "levels") maybeMask(s);
        return s;
    }
    Step colourStep(int which) {
        const double amount = real(0.2, 1);
        switch (which) {
            case 0:
                return step(nextId(), "hsv-shift",
                            {{"hue", real(-180, 180)},
                             {"saturation", real(0.3, 1.2)},
                             {"value", real(0.6, 1.1)},
                             {"amount", amount}});
            case 1: {
                Step s = step(nextId(), "hsv-shift",
                              {{"hue", real(-90, 90)},
                               {"band", true},
                               {"band-centre", real(0, 360)},
                               {"band-width", real(20, 120)},
                               {"band-softness", real(20, 80)},
                               {"band-invert", pick(2) == 0}});
                if (pick(2) == 0) s.controls["works-in"] = std::string("encoded");
                return s;
            }
            case 2:
                return step(nextId(), "desaturate", {{"amount", amount}});
            case 3:
                return step(nextId(), "tint", {{"colour", colour()}, {"amount", amount}});
            case 4: {
                Ramp ramp;
                ramp.stops.clear();
                for (const float at : {0.1f, 0.4f, 0.6f, 0.95f}) {
                    const Colour c = colour();
                    ramp.stops.push_back({at, {c.r, c.g, c.b}});
                }
                return step(nextId(), "ramp-remap", {{"ramp", ramp}, {"amount", amount}});
            }
            case 5:
            case 6:
                return blend(Kind::Colour, amount);
            default:
                return greyStep(which - 7 + 2 * pick(2));
        }
    }
    Step blend(Kind kind, double amount) {
        const auto& modes = kBlendModes;
        const BlendModeInfo* mode = &modes[static_cast<std::size_t>(pick(static_cast<int>(modes.size())))];
        // Quotients make any small difference large; they have tests of their own.
        while (mode->needsColour() || std::string(mode->id) == "divide" ||
               std::string(mode->id) == "vivid-light" || std::string(mode->id) == "colour-burn" ||
               std::string(mode->id) == "colour-dodge")
            mode = &modes[static_cast<std::size_t>(pick(static_cast<int>(modes.size())))];
        Step s = step(nextId(), "blend", {{"mode", std::string(mode->id)}, {"amount", amount}});
        if (auto over = anyFeed(kind))
            s.feeds["over"] = *over;
        else
            s.feeds["over"] = kind == Kind::Colour ? constantFeed(colour()) : constantFeed(real(0.1, 0.9));
        return s;
    }
    Step greyStep(int which) {
        switch (which) {
            case 0:
                return step(
                    nextId(), "levels",
                    {{"in-black", real(0, 0.3)}, {"in-white", real(0.6, 1)}, {"gamma", real(0.7, 1.5)}});
            case 1:
                return step(
                    nextId(), "tone",
                    {{"exposure", real(-0.5, 0.5)}, {"contrast", real(0.6, 1.3)}, {"offset", real(0, 0.1)}});
            case 2: {
                const char* const functions[] = {"add", "multiply", "distance", "smoothstep", "one-minus"};
                return step(nextId(), "maths",
                            {{"function", std::string(functions[pick(5)])},
                             {"b", real(0.1, 0.5)},
                             {"c", real(0.6, 1)},
                             {"amount", real(0.2, 1)}});
            }
            case 3:
                return step(nextId(), "clamp", {{"low", real(0, 0.2)}, {"high", real(0.7, 1)}});
            case 4:
                return blend(Kind::Scalar, real(0.2, 1));
            default:
                return step(nextId(), "invert");
        }
    }

    std::mt19937 m_random;
    std::vector<std::pair<std::string, Kind>> m_lines;
    int m_steps = 0;
};

}  // namespace

class RandomNetworksTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::vector<std::array<float, 4>> m_texels;

private Q_SLOTS:
    void initTestCase() {
        std::mt19937 random(7);
        PixelBuffer p = PixelBuffer::make(kSide, kSide, 4, Depth::Float);
        m_texels.resize(kSide * kSide);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide * 4; ++x) {
                const float value =
                    static_cast<float>(0.02 + 0.96 * static_cast<double>(random() % 4093) / 4093.0);
                p.row<float>(y)[x] = value;
                m_texels[static_cast<std::size_t>(y * kSide + x / 4)][static_cast<std::size_t>(x % 4)] =
                    value;
            }
        QVERIFY(writeImage(m_folder.path().toStdString() + "/picture.exr", p, FileFormat::ExrFloat, "")
                    .has_value());
    }

    void theProgramEqualsThePlainEvaluator_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 250; ++seed) QTest::newRow(qPrintable(QString::number(seed))) << seed;
    }
    void theProgramEqualsThePlainEvaluator() {
        QFETCH(unsigned, seed);
        Project p = Maker(seed).make();
        // In linear light throughout, as the plain evaluator reckons.
        for (auto& l : p.lines)
            for (auto& s : l.edit().steps) s.edit().version = 1;
        QVERIFY2(problemsOf(p).empty(), problemsOf(p).empty() ? "" : problemsOf(p).front().c_str());
        std::vector<Want> wants;
        for (const auto& l : p.lines) wants.push_back({l->id, "", l->kind == Kind::Scalar ? 1 : 3});
        const Compiled c = compile(p, nullptr, wants);
        const Resources resources(m_folder.path().toStdString());
        const ResolvedMaps maps = resources.resolve(p, c.program);
        QVERIFY(maps.problems.empty());
        std::mutex lock;
        std::string wrong;
        runGrid(c.program, maps, kSide, kSide, 1001,
                [&](int y, int x, std::size_t n, const float* const* planes) {
                    const std::lock_guard guard(lock);
                    for (std::size_t i = 0; i < n && wrong.empty(); ++i) {
                        const auto& t = m_texels[static_cast<std::size_t>(y * kSide + x) + i];
                        const PlainEvaluator plain(p, {{"picture", {t[0], t[1], t[2], t[3]}}},
                                                   (x + static_cast<double>(i) + 0.5) / kSide,
                                                   1 - (y + 0.5) / kSide);
                        for (std::size_t w = 0; w < wants.size(); ++w) {
                            const Number4 right = plain.line(wants[w].line);
                            const double expected[3] = {right.r, right.g, right.b};
                            for (std::size_t k = 0; k < static_cast<std::size_t>(wants[w].components); ++k) {
                                const double got = planes[c.planes[w][k]][i];
                                if (!(std::fabs(got - expected[k]) <=
                                      1e-5 * std::max(1.0, std::fabs(expected[k]))))
                                    wrong = wants[w].line + " component " + std::to_string(k) + ": " +
                                            std::to_string(got) + " instead of " +
                                            std::to_string(expected[k]) + "\n" + c.program.listing();
                            }
                        }
                    }
                });
        QVERIFY2(wrong.empty(), wrong.c_str());
    }

    void threadsAndBlocksDoNotShow() {
        for (unsigned seed = 1; seed <= 20; ++seed) {
            const Project p = Maker(seed).make();
            std::vector<Want> wants;
            for (const auto& l : p.lines) wants.push_back({l->id, "", l->kind == Kind::Scalar ? 1 : 3});
            const Compiled c = compile(p, nullptr, wants);
            const Resources resources(m_folder.path().toStdString());
            const ResolvedMaps maps = resources.resolve(p, c.program);
            const PointSet points = PointSet::grid(97, 61);
            SampleCache samples;
            samples.prepare(c.program, maps, points);
            std::vector<Plane> first;
            QVERIFY(run(c.program, maps, samples, points.size(), first));
            for (const auto& [threads, block] :
                 {std::pair<int, std::size_t>{1, 512}, {2, 64}, {8, 16}, {2, 336}}) {
                const ThreadLimit limit(threads);
                std::vector<Plane> other;
                QVERIFY(run(c.program, maps, samples, points.size(), other, {}, block));
                for (std::size_t o = 0; o < first.size(); ++o)
                    QCOMPARE(std::memcmp(first[o].data(), other[o].data(), points.size() * sizeof(float)), 0);
            }
        }
    }
};

QTEST_APPLESS_MAIN(RandomNetworksTest)
#include "random_networks_test.moc"
