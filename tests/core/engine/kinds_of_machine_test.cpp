// Machines that round alike give the same bits: every step and every demo, by each instruction set of this
// machine that multiplies and adds with one rounding. What a farm of unlike machines rests on.
#include <hwy/targets.h>

#include <QtTest>
#include <cstring>

#include "core/base/machine.h"
#include "core/document/json.h"
#include "core/engine/compile.h"
#include "core/engine/run.h"
#include "core/geometry/mesh_facts.h"
#include "core/steps/step.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

namespace fs = std::filesystem;
const fs::path kData = KETTLE_DATA_DIR;
constexpr int kSide = 64;

/// All results of a project's lines in one look, on a grid, bit for bit.
std::vector<float> computed(const Project& project, const std::string& look, const Resources& resources) {
    std::vector<Want> wants;
    for (const auto& line : project.lines) wants.push_back(wantOfLine(*line, true));
    const Compiled compiled = compile(project, project.findLook(look), wants, resources.rules());
    const ResolvedMaps maps = resources.resolve(project, compiled.program);
    const std::size_t outputs = compiled.program.outputs.size();
    std::vector<float> all(outputs * kSide * kSide);
    const RowSink sink = [&](int y, int x, std::size_t count, const float* const* planes) {
        for (std::size_t o = 0; o < outputs; ++o)
            std::memcpy(&all[(o * kSide + static_cast<std::size_t>(y)) * kSide + static_cast<std::size_t>(x)],
                        planes[o], count * sizeof(float));
    };
    if (!runGrid(compiled.program, maps, kSide, kSide, 1001, sink)) return {};
    return all;
}

/// The first place at which two differ, of a not-a-number also by its bits; -1 if nowhere.
std::ptrdiff_t difference(const std::vector<float>& a, const std::vector<float>& b) {
    if (a.size() != b.size() || a.empty()) return 0;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (std::memcmp(&a[i], &b[i], sizeof(float)) != 0) return static_cast<std::ptrdiff_t>(i);
    return -1;
}

}  // namespace

class KindsOfMachineTest final : public QObject {
    Q_OBJECT
    Resources m_resources{kData};

    /// The widest against the narrower ones.
    void alike(const Project& project, const std::string& look, const char* what) {
        constexpr std::int64_t kFused[] = {HWY_AVX2, HWY_AVX3};
        std::vector<float> first;
        for (const std::int64_t target : kFused) {
            hwy::SetSupportedTargetsForTest(0);
            if ((hwy::SupportedTargets() & target) == 0) continue;
            hwy::SetSupportedTargetsForTest(target);
            const std::vector<float> now = computed(project, look, m_resources);
            QVERIFY2(!now.empty(), what);
            if (first.empty()) first = now;
            const std::ptrdiff_t at = difference(first, now);
            if (at >= 0)
                QFAIL(qPrintable(QStringLiteral("%1: %2 and %3 at %4")
                                     .arg(QString::fromUtf8(what))
                                     .arg(static_cast<double>(first[static_cast<std::size_t>(at)]), 0, 'g', 9)
                                     .arg(static_cast<double>(now[static_cast<std::size_t>(at)]), 0, 'g', 9)
                                     .arg(at)));
        }
        hwy::SetSupportedTargetsForTest(0);
    }

private Q_SLOTS:
    void initTestCase() {
        m_resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(kData / "models")));
        if (arithmeticName() != "fused") QSKIP("This machine rounds twice.");
    }

    void everyStep_data() {
        QTest::addColumn<QString>("type");
        QTest::addColumn<QString>("mode");
        for (const StepSpec& spec : shippedSteps()) {
            const ControlSpec* mode = spec.findControl("mode");
            if (mode == nullptr || mode->choices.empty()) {
                QTest::newRow(spec.type.c_str()) << QString::fromStdString(spec.type) << QString();
                continue;
            }
            for (const Choice& choice : mode->choices)
                QTest::newRow((spec.type + " " + choice.id).c_str())
                    << QString::fromStdString(spec.type) << QString::fromStdString(choice.id);
        }
    }
    void everyStep() {
        QFETCH(QString, type);
        QFETCH(QString, mode);
        const StepSpec& spec = *shippedSteps().find(type.toStdString());
        for (const Kind kind : spec.kinds) {
            Project p = *loadProject(kData / "ferry-kitchen.palekettle");
            p.looks.clear();
            const std::string set = p.sets.front()->id;
            const auto source = [&](const char* id, Kind k) {
                Step s = step(id, "map");
                s.set = set;
                s.role = k == Kind::Colour ? "base-colour" : k == Kind::Normal ? "normal" : "height";
                return s;
            };
            p.lines.clear();
            p.lines.emplace_back(line("grey", Kind::Scalar, "", {source("g", Kind::Scalar)}));
            p.lines.emplace_back(line("paint", Kind::Colour, "", {source("p", Kind::Colour)}));
            p.lines.emplace_back(line("way", Kind::Normal, "", {source("w", Kind::Normal)}));
            Step one = step("one", type.toStdString(), spec.example);
            if (!mode.isEmpty()) one.controls["mode"] = mode.toStdString();
            for (const FeedSpec& f : spec.feeds) {
                const Kind wanted = f.kind.value_or(kind);
                one.feeds[f.id] = feed(wanted == Kind::Colour   ? "paint"
                                       : wanted == Kind::Normal ? "way"
                                                                : "grey");
            }
            std::vector<Step> steps{source("s", kind)};
            if (spec.source) steps.clear();
            steps.push_back(one);
            p.lines.emplace_back(line("tried", kind, "", std::move(steps)));
            alike(p, {},
                  qPrintable(type + QLatin1Char(' ') + mode + QLatin1Char(' ') +
                             QString::fromUtf8(nameOf(kind))));
        }
    }

    void everyDemo_data() {
        QTest::addColumn<QString>("file");
        for (const auto& entry : fs::directory_iterator(kData))
            if (entry.path().extension() == ".palekettle")
                QTest::newRow(entry.path().stem().c_str()) << QString::fromStdString(entry.path().string());
    }
    void everyDemo() {
        QFETCH(QString, file);
        const auto project = loadProject(file.toStdString());
        QVERIFY(project);
        alike(*project, {}, qPrintable(file));
        for (const auto& look : project->looks)
            alike(*project, look->id, qPrintable(file + QLatin1Char(' ') + QString::fromStdString(look->id)));
    }
};

QTEST_GUILESS_MAIN(KindsOfMachineTest)
#include "kinds_of_machine_test.moc"
