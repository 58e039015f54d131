// A farm's plan: what an identity depends on, items made in pieces by several workers, what is skipped, what
// has changed since, records, the manifest, and job arrays.
#include "core/handover/farm.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>
#include <map>
#include <set>
#include <thread>

#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"

using namespace kettle;

namespace {

namespace fs = std::filesystem;
const fs::path kData = KETTLE_DATA_DIR;

}  // namespace

class FarmTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    Project m_project;
    Resources m_resources{kData};

    fs::path at(const char* name) { return m_folder->filePath(QString::fromUtf8(name)).toStdString(); }
    ExportOptions options() {
        ExportOptions o;
        o.folder = at("out");
        o.looks = {"celadon", "marmalade"};
        o.channels = {"base-colour", "roughness", "metalness"};
        o.size = 32;
        return o;
    }
    FarmPlan plan() {
        return *planFarm(m_project, m_resources, kData / "ferry-kitchen.palekettle", options());
    }
    static std::map<std::string, std::string> bytesIn(const fs::path& folder) {
        std::map<std::string, std::string> all;
        for (const auto& entry : fs::directory_iterator(folder))
            if (entry.is_regular_file()) all[entry.path().filename().string()] = *readFile(entry.path());
        return all;
    }

private Q_SLOTS:
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        m_project = *loadProject(kData / "ferry-kitchen.palekettle");
    }

    void aPlanComesBackAsItWent() {
        const FarmPlan made = plan();
        QCOMPARE(made.items.size(), std::size_t{6});
        std::set<std::string> identities;
        for (const FarmItem& one : made.items) identities.insert(one.identity);
        // Metalness is alike in both looks, but for nothing: the same bytes have the same identity.
        QVERIFY(identities.size() < 6 && identities.size() > 3);
        QVERIFY(savePlan(made, at("plan.json")));
        const auto again = loadPlan(at("plan.json"));
        QVERIFY2(again, again ? "" : again.error().sentence.c_str());
        QCOMPARE(again->items.size(), made.items.size());
        for (std::size_t i = 0; i < made.items.size(); ++i) {
            QCOMPARE(again->items[i].identity, made.items[i].identity);
            QCOMPARE(again->items[i].item.file, made.items[i].item.file);
            QCOMPARE(again->items[i].item.width, made.items[i].item.width);
        }
    }

    void anIdentityIsOfWhatItDependsOn() {
        const auto identityOf = [&](const char* look, const char* channel) {
            for (const FarmItem& one : plan().items)
                if (one.item.look == look && m_project.findLine(one.item.line)->channel == channel)
                    return one.identity;
            return std::string();
        };
        const std::string colour = identityOf("celadon", "base-colour"),
                          rough = identityOf("celadon", "roughness");
        const std::string other = identityOf("marmalade", "base-colour");
        QVERIFY(!colour.empty());
        m_project = *edits::setControl(m_project, "celadon", "glaze", "hue", 3.0);
        QVERIFY(identityOf("celadon", "base-colour") != colour);
        QCOMPARE(identityOf("celadon", "roughness"), rough);
        QCOMPARE(identityOf("marmalade", "base-colour"), other);
        // Notes and names change no pixel.
        const std::string now = identityOf("celadon", "base-colour");
        m_project = *edits::renameLook(m_project, "celadon", "Another name");
        QCOMPARE(identityOf("celadon", "base-colour"), now);
        m_project.colour.workingSpace = "ACEScg";
        QVERIFY(identityOf("celadon", "base-colour") != now);
    }

    void inPiecesAsInOne() {
        const FarmPlan made = plan();
        const auto whole = exportMaps(m_project, m_resources, [&] {
            ExportOptions o = options();
            o.folder = at("whole");
            return o;
        }());
        QVERIFY(whole);
        // Two workers by turns, of whom each begins with the other's first too.
        std::vector<std::thread> workers;
        std::atomic<int> count{0};
        for (std::size_t w = 0; w < 2; ++w)
            workers.emplace_back([&, w] {
                const auto own = bakeFarm(made, m_project, m_resources, w, made.items.size(), 2);
                const auto both = bakeFarm(made, m_project, m_resources, 0, 1);
                if (own && both) count += own->made;
            });
        for (std::thread& worker : workers) worker.join();
        QVERIFY(count >= 5);
        QCOMPARE(bytesIn(at("out")), bytesIn(at("whole")));
        for (const FileState state : statesOf(made)) QVERIFY(state == FileState::Done);
        const auto again = bakeFarm(made, m_project, m_resources, 0, made.items.size());
        QVERIFY(again);
        QCOMPARE(again->made, 0);
        QCOMPARE(again->skipped, 6);
    }

    void whatIsHalfOrGoneIsMadeAgain() {
        const FarmPlan made = plan();
        QVERIFY(bakeFarm(made, m_project, m_resources, 0, 6));
        fs::remove(at("out") / made.items[1].item.file);
        fs::resize_file(at("out") / made.items[2].item.file, 10);
        fs::remove(at("out") / ".pale-kettle" / (made.items[3].item.file.string() + ".json"));
        const auto states = statesOf(made);
        QVERIFY(states[0] == FileState::Done && states[1] == FileState::Missing);
        QVERIFY(states[2] == FileState::Outdated && states[3] == FileState::Outdated);
        QCOMPARE(bakeFarm(made, m_project, m_resources, 0, 6)->made, 3);
        for (const FileState state : statesOf(made)) QVERIFY(state == FileState::Done);
    }

    void aMachineThatRoundsOtherwiseIsRefused() {
        FarmPlan made = plan();
        made.arithmetic = made.arithmetic == "fused" ? "plain" : "fused";
        const auto done = bakeFarm(made, m_project, m_resources, 0, 6);
        QVERIFY(!done);
        QCOMPARE(done.error().kind, ErrorKind::Refused);
        QVERIFY(QString::fromStdString(done.error().sentence).contains(QStringLiteral("last bit")));
    }

    void whatHasChangedSinceIsTold() {
        const FarmPlan made = plan();
        m_project = *edits::setControl(m_project, "celadon", "glaze", "hue", 3.0);
        const auto done = bakeFarm(made, m_project, m_resources, 0, 6);
        QVERIFY(!done);
        QCOMPARE(done.error().kind, ErrorKind::Refused);
        QVERIFY(QString::fromStdString(done.error().sentence).contains(QStringLiteral("since the plan")));
    }

    void theManifestTellsEveryFile() {
        const FarmPlan made = plan();
        QCOMPARE(collectFarm(made, m_project, at("manifest.json")).error().kind, ErrorKind::Refused);
        QVERIFY(bakeFarm(made, m_project, m_resources, 0, 6));
        QVERIFY(collectFarm(made, m_project, at("manifest.json")));
        const QByteArray text = QByteArray::fromStdString(*readFile(at("manifest.json")));
        QCOMPARE(text.count("\"hash\""), qsizetype{6});
        QCOMPARE(text.count("\"sRGB\""), qsizetype{2});
        QCOMPARE(text.count("\"raw\""), qsizetype{4});
    }

    void whatIsNoPlanIsRefused() {
        const auto refused = [&](const std::string& text) {
            std::ofstream(at("bad.json")) << text;
            const auto read = loadPlan(at("bad.json"));
            return !read && read.error().kind == ErrorKind::Unreadable;
        };
        QVERIFY(!loadPlan(at("gone.json")));
        QVERIFY(refused("{}"));
        QVERIFY(refused("not JSON at all"));
        QVERIFY(refused(R"({"format":"pale-kettle-plan","version":2})"));
        QVERIFY(savePlan(plan(), at("plan.json")));
        std::string text = *readFile(at("plan.json"));
        const auto with = [&](const std::string& what, const std::string& by) {
            std::string changed = text;
            changed.replace(changed.find(what), what.size(), by);
            return changed;
        };
        // Names lead nowhere else, and sizes are such.
        QVERIFY(refused(with("\"file\": \"", "\"file\": \"../")));
        QVERIFY(refused(with("\"width\": 32", "\"width\": -1")));
        QVERIFY(refused(with("\"program\": \"", "\"program\": \"x")));
        QVERIFY(refused(with("\"folder\"", "\"folde\"")));
        // Items that are not there, and none.
        QVERIFY(!bakeFarm(plan(), m_project, m_resources, 4, 9));
        FarmPlan none = plan();
        none.items.clear();
        const auto done = bakeFarm(none, m_project, m_resources, 0, 0);
        QVERIFY(done && done->made == 0);
        QVERIFY(collectFarm(none, m_project, at("none.json")));
    }

    void aFolderThatIsAFileIsTold() {
        std::ofstream(at("out")) << "in the way";
        const auto done = bakeFarm(plan(), m_project, m_resources, 0, 6);
        QVERIFY(!done);
        QVERIFY(QString::fromStdString(done.error().sentence).contains(QStringLiteral("out")));
        QCOMPARE(*readFile(at("out")), std::string("in the way"));
    }

    void schedulersTellTheJob() {
        std::map<std::string, std::string> environment;
        const auto place = [&] {
            return arrayPlace([&](const char* name) {
                const auto at = environment.find(name);
                return at == environment.end() ? nullptr : at->second.c_str();
            });
        };
        QVERIFY(!place());
        environment = {
            {"SLURM_ARRAY_TASK_ID", "5"}, {"SLURM_ARRAY_TASK_MIN", "2"}, {"SLURM_ARRAY_TASK_COUNT", "8"}};
        QCOMPARE(place()->index, std::size_t{3});
        QCOMPARE(place()->count, std::size_t{8});
        environment = {{"SGE_TASK_ID", "3"}, {"SGE_TASK_FIRST", "1"}, {"SGE_TASK_LAST", "4"}};
        QCOMPARE(place()->index, std::size_t{2});
        QCOMPARE(place()->count, std::size_t{4});
        environment = {{"PBS_ARRAY_INDEX", "0"}, {"PBS_ARRAY_COUNT", "3"}};
        QCOMPARE(place()->index, std::size_t{0});
        QCOMPARE(place()->count, std::size_t{3});
        environment = {{"LSB_JOBINDEX", "2"}, {"LSB_JOBINDEX_END", "6"}};
        QCOMPARE(place()->index, std::size_t{1});
        QCOMPARE(place()->count, std::size_t{6});
        // Outside of an array some say a word instead.
        environment = {{"SGE_TASK_ID", "undefined"}};
        QVERIFY(!place());
    }
};

QTEST_APPLESS_MAIN(FarmTest)
#include "farm_test.moc"
