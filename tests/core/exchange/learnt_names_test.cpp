// What was chosen by hand for maps comes again for maps of the same words: learnt, kept in a file, recalled.
#include "core/exchange/learnt_names.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"

using namespace kettle;

class LearntNamesTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;

    static PlannedMap mapOf(const char* file, const char* set, bool isChosen) {
        PlannedMap map;
        map.name.file = map.name.pattern = file;
        map.name.set = set;
        map.isChosen = isChosen;
        return map;
    }
    static BringPlan planOf(std::vector<PlannedMap> maps) {
        BringPlan plan;
        plan.sets.push_back({"set", {}, std::move(maps), true, {}});
        return plan;
    }
    /// A packed map, one that is left out, and one that nobody touched.
    static LearntNames learnt() {
        PlannedMap packed = mapOf("tin_data.png", "tin", true), out = mapOf("tin_Thumb.jpg", "tin", true);
        packed.name.role = "packed";
        packed.name.components = {"gloss", "", "occlusion", ""};
        packed.name.isKnown = true;
        out.isTaken = false;
        PlannedMap untouched = mapOf("tin_albedo.png", "tin", false);
        untouched.name.role = "base-colour";
        LearntNames names;
        learn(names, planOf({packed, out, untouched}));
        return names;
    }

private Q_SLOTS:
    void whatWasChosenComesAgain() {
        const LearntNames names = learnt();
        QCOMPARE(names.size(), std::size_t{2});
        BringPlan next = planOf({mapOf("old_caddy_DATA.tif", "old caddy", false),
                                 mapOf("old_caddy_albedo.tif", "old caddy", false),
                                 mapOf("old_caddy_thumb.tif", "old caddy", false)});
        next.sets[0].maps[0].warning = "It looks like something else.";
        next.sets[0].maps[0].isTaken = false;
        recall(names, next);
        const auto& maps = next.sets[0].maps;
        QCOMPARE(maps[0].name.components, (Components{"gloss", "", "occlusion", ""}));
        QCOMPARE(maps[0].name.reason, std::string("as you chose for \"data\" before"));
        QVERIFY(maps[0].isTaken && maps[0].name.isKnown && maps[0].warning.empty());
        QVERIFY(maps[1].name.role.empty() && maps[1].isTaken);
        QVERIFY(!maps[2].isTaken);
    }
    void theLastChoiceCounts() {
        LearntNames names = learnt();
        PlannedMap again = mapOf("mug_data.png", "mug", true);
        again.name.role = "normal";
        again.name.greenDown = true;
        learn(names, planOf({again}));
        QCOMPARE(names.size(), std::size_t{2});
        QCOMPARE(names.front().role, std::string("normal"));
        QVERIFY(names.front().greenDown && names.front().components == Components{});
    }
    void aNameWithoutWordsOfItsOwnTeachesNothing() {
        LearntNames names;
        learn(names, planOf({mapOf("tin.png", "tin", true)}));
        QVERIFY(names.empty());
        // Pictures within a file are told apart by their layers, not by the file's name.
        PlannedMap within = mapOf("tin_all.exr", "tin", true);
        within.channels = "rough";
        learn(names, planOf({within}));
        QVERIFY(names.empty());
    }
    void anAlbedoThatIsLeftOutIsNotLeftOutForEver() {
        LearntNames names;
        PlannedMap out = mapOf("tin_albedo.png", "tin", true);
        out.isTaken = false;
        learn(names, planOf({out}));
        QVERIFY(names.empty());
        // That it is something else may be a habit of the house.
        PlannedMap other = mapOf("tin_spec.png", "tin", true);
        other.name.role = "roughness";
        learn(names, planOf({other}));
        QCOMPARE(names.size(), std::size_t{1});
    }
    void theOldestAreForgotten() {
        LearntNames names;
        std::vector<PlannedMap> maps;
        for (std::size_t i = 0; i < kMostLearntNames + 5; ++i) {
            // Numbers alone do not count as words.
            const std::string word{static_cast<char>('a' + i / 26), static_cast<char>('a' + i % 26), 'x'};
            maps.push_back(mapOf((word + ".png").c_str(), "", true));
        }
        learn(names, planOf(maps));
        QCOMPARE(names.size(), kMostLearntNames);
        QCOMPARE(names.front().words, std::string(1, static_cast<char>('a' + (kMostLearntNames + 4) / 26)) +
                                          static_cast<char>('a' + (kMostLearntNames + 4) % 26) + "x");
    }
    void theyLieInAFile() {
        const auto file = std::filesystem::path(m_dir.path().toStdString()) / "deep" / "names.json";
        QVERIFY(readLearntNames(file)->empty());
        const LearntNames names = learnt();
        QVERIFY(writeLearntNames(file, names));
        const auto read = readLearntNames(file);
        QVERIFY(read.has_value());
        QVERIFY(*read == names);
    }
    void whatIsNoFileOfOursIsTold() {
        const auto file = std::filesystem::path(m_dir.path().toStdString()) / "wrong.json";
        for (const char* text :
             {"", "{", "[]", R"({"format": "shopping"})",
              R"({"format": "pale-kettle-names", "version": 2, "names": []})",
              R"({"format": "pale-kettle-names", "names": [{"role": "height"}]})",
              R"({"format": "pale-kettle-names", "names": [{"words": "a", "components": [7]}]})",
              R"({"format": "pale-kettle-names", "names": [{"words": "a",
                                     "components": ["", "", "", "", ""]}]})"}) {
            QVERIFY(writeFileAtomically(file, text));
            const auto read = readLearntNames(file);
            QVERIFY2(!read, text);
            QVERIFY2(read.error().sentence.find("wrong.json") != std::string::npos, text);
        }
    }
};

QTEST_GUILESS_MAIN(LearntNamesTest)
#include "learnt_names_test.moc"
