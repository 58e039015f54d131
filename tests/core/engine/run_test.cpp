#include "core/engine/run.h"

#include <QTemporaryDir>
#include <QtTest>
#include <atomic>
#include <cstring>
#include <mutex>
#include <set>

#include "core/colour/encoding.h"
#include "core/engine/compile.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class RunTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    Project m_project;

    std::filesystem::path path() const { return m_folder.path().toStdString(); }

private Q_SLOTS:
    void initTestCase() {
        QVERIFY(writePicture(path() / "base.png", 96, 64, 3, [](int x, int y, int c) {
                    return (x * 3 + y * 5 + c * 40) % 256;
                }).has_value());
        QVERIFY(writePicture(path() / "grey.png", 96, 64, 1, [](int x, int y, int) {
                    return (x * 7 + y) % 256;
                }).has_value());
        TextureSet set{"set",
                       "Set",
                       "",
                       {{"base-colour", "base.png", "auto", {}}, {"roughness", "grey.png", "auto", {}}},
                       {}};
        m_project.sets.emplace_back(set);
        Ramp ramp;
        ramp.interpolation = RampInterpolation::Spline;
        ramp.stops = {{0, {0, 0, 0}}, {0.4f, {0.7f, 0.7f, 0.7f}}, {1, {1, 1, 1}}};
        m_project.lines.emplace_back(line(
            "base", Kind::Colour, "base-colour",
            {mapStep("m", "base-colour"),
             step("shift", "hsv-shift", {{"hue", 43.2}, {"saturation", 1.2}}, {{"mask", feed("rough")}})}));
        m_project.lines.emplace_back(
            line("rough", Kind::Scalar, "roughness",
                 {mapStep("r", "roughness"), step("ramp", "ramp-remap", {{"ramp", ramp}})}));
    }

    void aMapIsReadExactlyAtItsPixels() {
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"base", "m", 3, false}});
        std::mutex lock;
        std::size_t pixels = 0;
        bool right = true;
        runGrid(c.program, resources.resolve(m_project, c.program), 96, 64, 1001,
                [&](int y, int x, std::size_t count, const float* const* planes) {
                    const std::lock_guard guard(lock);
                    for (std::size_t i = 0; i < count; ++i)
                        for (std::size_t k = 0; k < 3; ++k) {
                            const auto code = static_cast<std::size_t>(
                                ((x + static_cast<int>(i)) * 3 + y * 5 + static_cast<int>(k) * 40) % 256);
                            // As near as the curve's kernel promises, on any instruction set.
                            right = right && std::fabs(planes[c.planes[0][k]][i] - srgbTable()[code]) <=
                                                 5e-7f * srgbTable()[code];
                        }
                    pixels += count;
                });
        QVERIFY(right);
        QCOMPARE(pixels, std::size_t{96 * 64});
    }
    void aResultThatIsAMapItselfIsTheWholeMap() {
        // Nothing computes it, so it is copied, block by block: there are twelve.
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"rough", "r", 1, false}, {"rough", "", 1, false}});
        const ResolvedMaps maps = resources.resolve(m_project, c.program);
        const PointSet points = PointSet::grid(96, 64);
        SampleCache samples;
        samples.prepare(c.program, maps, points);
        std::vector<Plane> out;
        QVERIFY(run(c.program, maps, samples, points.size(), out));
        const Plane& map = out[static_cast<std::size_t>(c.planes[0][0])];
        for (int y = 0, i = 0; y < 64; ++y)
            for (int x = 0; x < 96; ++x, ++i) {
                const float wanted = static_cast<float>((x * 7 + y) % 256) / 255;
                QVERIFY2(std::fabs(map[static_cast<std::size_t>(i)] - wanted) < 1e-6f,
                         qPrintable(QStringLiteral("pixel %1, %2").arg(x).arg(y)));
            }
    }
    void gridsOfTallPicturesAndOfTheSecondRowOfTiles() {
        const PointSet p = PointSet::grid(2, 8, 1012);
        QCOMPARE(p.size(), std::size_t{16});
        QCOMPARE(p.u[0], 1.25f);    // the second column, a quarter in
        QCOMPARE(p.v[0], 1.9375f);  // the second row, from its top
        QCOMPARE(p.v[15], 1.0625f);
        QCOMPARE(p.footprint[0], 0.125f);  // of the longer side
        std::vector<std::uint8_t> rows(8, 0);
        Project points;
        points.lines.emplace_back(
            line("v", Kind::Scalar, "",
                 {step("g", "value"), step("f", "formula", {{"formula", std::string("v")}})}));
        const Compiled c = compile(points, nullptr, {{"v", "", 1}});
        const Resources resources(path());
        runGrid(c.program, resources.resolve(points, c.program), 2, 8, 1012,
                [&](int y, int, std::size_t, const float* const* planes) {
                    const float wanted = 1 + 1 - (static_cast<float>(y) + 0.5f) / 8;
                    rows[static_cast<std::size_t>(y)] = planes[c.planes[0][0]][0] == wanted ? 1 : 0;
                });
        QVERIFY(std::all_of(rows.begin(), rows.end(), [](std::uint8_t r) { return r == 1; }));
    }
    void anyNumberOfThreadsGivesTheSameBits() {
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"base", "", 3, false}, {"rough", "", 1, false}});
        const ResolvedMaps maps = resources.resolve(m_project, c.program);
        const PointSet points = PointSet::grid(211, 157);
        std::vector<std::vector<Plane>> results;
        for (const int threads : {1, 2, 8}) {
            const ThreadLimit limit(threads);
            SampleCache samples;
            samples.prepare(c.program, maps, points);
            results.emplace_back();
            QVERIFY(run(c.program, maps, samples, points.size(), results.back()));
        }
        for (std::size_t t = 1; t < results.size(); ++t)
            for (std::size_t o = 0; o < results[0].size(); ++o)
                QCOMPARE(
                    std::memcmp(results[0][o].data(), results[t][o].data(), points.size() * sizeof(float)),
                    0);
    }
    void aPointDoesNotDependOnItsNeighbours() {
        // The same places alone, in a short list and in a long one: blocks and padding must not show.
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"base", "", 3, false}});
        const ResolvedMaps maps = resources.resolve(m_project, c.program);
        const PointSet all = PointSet::grid(64, 48);
        SampleCache samples;
        samples.prepare(c.program, maps, all);
        std::vector<Plane> whole;
        run(c.program, maps, samples, all.size(), whole);
        for (const std::size_t first :
             {std::size_t{0}, std::size_t{511}, std::size_t{1500}, all.size() - 3}) {
            PointSet part{Plane(3), Plane(3), Plane(3)};
            for (std::size_t i = 0; i < 3; ++i)
                part.u[i] = all.u[first + i], part.v[i] = all.v[first + i],
                part.footprint[i] = all.footprint[first + i];
            SampleCache own;
            own.prepare(c.program, maps, part);
            std::vector<Plane> outputs;
            run(c.program, maps, own, 3, outputs);
            for (std::size_t i = 0; i < 3; ++i) QCOMPARE(outputs[0][i], whole[0][first + i]);
        }
    }
    void whatWasSampledIsKept() {
        const Resources resources(path());
        const PointSet points = PointSet::grid(40, 30);
        SampleCache samples;
        const Compiled first = compile(m_project, nullptr, {{"base", "", 3, false}});
        samples.prepare(first.program, resources.resolve(m_project, first.program), points);
        const std::size_t bytes = samples.byteSize();
        Project changed = m_project;
        changed.lines[0].edit().steps[1].edit().controls["hue"] = -60.0;
        const Compiled second = compile(changed, nullptr, {{"base", "", 3, false}});
        samples.prepare(second.program, resources.resolve(changed, second.program), points);
        QCOMPARE(samples.byteSize(), bytes);
        QCOMPARE(bytes, std::size_t{4 * 40 * 30 * sizeof(float)});
    }
    void whatBelongedToMapsThatAreGoneIsForgotten() {
        const PointSet points = PointSet::grid(40, 30);
        SampleCache samples;
        const Compiled compiled = compile(m_project, nullptr, {{"base", "", 3, false}});
        std::size_t bytes = 0;
        for (int round = 0; round < 4; ++round) {
            const Resources resources(path());  // a store of its own: other maps each time
            samples.prepare(compiled.program, resources.resolve(m_project, compiled.program), points);
            if (round == 0) bytes = samples.byteSize();
            QCOMPARE(samples.byteSize(), bytes);
        }
    }
    void aSmallerPictureIsAMeanOfTheLarger() {
        // Half the size: the pyramid's second level, whose texel is the mean of four in linear light.
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"rough", "r", 1, false}});
        std::atomic<bool> right{true};  // rows come from several threads
        runGrid(c.program, resources.resolve(m_project, c.program), 48, 32, 1001,
                [&](int y, int x, std::size_t count, const float* const* planes) {
                    for (std::size_t i = 0; i < count; ++i) {
                        const int px = 2 * (x + static_cast<int>(i)), py = 2 * y;
                        float mean = 0;
                        for (const auto& [a, b] : {std::pair{0, 0}, {1, 0}, {0, 1}, {1, 1}})
                            mean += static_cast<float>(((px + a) * 7 + py + b) % 256) / 255 / 4;
                        if (std::fabs(planes[0][i] - mean) > 0.6f / 255) right = false;
                    }
                });
        QVERIFY(right);
    }
    void aMissingMapIsNeutralAndNamed() {
        Project p = m_project;
        p.sets[0].edit().maps[0].file = "gone.png";
        const Resources resources(path());
        const Compiled c = compile(p, nullptr, {{"base", "m", 3, false}});
        const ResolvedMaps maps = resources.resolve(p, c.program);
        QCOMPARE(maps.problems.size(), std::size_t{1});
        QVERIFY(QString::fromStdString(maps.problems[0])
                    .endsWith(QStringLiteral("gone.png. Put it back, or choose another file for this map.")));
        QCOMPARE(runAt(c.program, maps, 0.5f, 0.5f)[0], 0.5f);
    }
    void cancellingStopsAndSaysSo() {
        const Resources resources(path());
        const Compiled c = compile(m_project, nullptr, {{"base", "", 3, false}});
        CancelToken cancel;
        std::atomic<int> rows{0};
        const bool finished = runGrid(
            c.program, resources.resolve(m_project, c.program), 96, 4096, 1001,
            [&](int, int, std::size_t, const float* const*) {
                if (++rows == 50) cancel.cancel();
            },
            cancel);
        QVERIFY(!finished);
        QVERIFY(rows < 4096);
    }
    void parallelForCoversEverythingOnce() {
        std::vector<std::atomic<int>> seen(1003);
        parallelFor(seen.size(), 10, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) ++seen[i];
        });
        for (const auto& s : seen) QCOMPARE(s.load(), 1);
        parallelFor(0, 10, [](std::size_t, std::size_t) { QFAIL("nothing to do"); });
    }
    void filesOfOtherSizesAreNamedAsANotice_data() {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        QTest::newRow("smaller") << 32 << 32;
        QTest::newRow("narrower") << 32 << 64;
        QTest::newRow("higher") << 96 << 128;
    }
    void filesOfOtherSizesAreNamedAsANotice() {
        QFETCH(int, width);
        QFETCH(int, height);
        const auto grey = [](int, int, int) { return 9; };
        QVERIFY(writePicture(path() / "other.png", width, height, 1, grey).has_value());
        Project p = m_project;
        p.sets[0].edit().maps[1].file = "other.png";
        const auto problems = Resources(path()).problemsOf(p);
        QCOMPARE(problems.size(), std::size_t{1});
        QVERIFY(problems[0].isNotice);
        QCOMPARE(QString::fromStdString(problems[0].sentence),
                 QStringLiteral("other.png is %1 x %2 and base.png is 96 x 64. It is stretched to fit; "
                                "export it again in one size if that is not meant.")
                     .arg(width)
                     .arg(height));
    }
};

QTEST_APPLESS_MAIN(RunTest)
#include "run_test.moc"
