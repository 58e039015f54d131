// The session without a window: the colour configuration that a project chooses, saving elsewhere, what the
// base is called, and edits that fail.
#include "app/session/session.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "tests/support/ocio.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

void writeText(const QString& file, const std::string& text) {
    std::ofstream(file.toStdString()) << text;
}

}  // namespace

class SessionTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString at(const char* name) { return m_folder.filePath(QString::fromUtf8(name)); }
    /// A saved project with one white 8 x 8 map, encoded as `encoding`.
    QString project(const char* encoding) {
        const std::filesystem::path root = m_folder.path().toStdString();
        std::filesystem::create_directories(root / "maps");
        if (!writePicture(root / "maps" / "white.png", 8, 8, 3, [](int, int, int) { return 255; })) return {};
        Project p = twoLines();
        p.sets.emplace_back(
            TextureSet{"set", "Set", "maps", {{"base-colour", "white.png", encoding, {}}}, {}});
        p.lines[0].edit().steps[0] = Shared<Step>(mapStep("source", "base-colour"));
        p.lines[0].edit().steps.pop_back();
        if (!saveProject(p, root / "one.palekettle")) return {};
        return at("one.palekettle");
    }
    float white(Session& s) {
        const auto image = s.resources().map(*s.project().sets[0], s.project().sets[0]->maps[0]);
        if (!image) return -1;
        const float u = 0.5f, footprint = 0;
        float red = -1;
        float* out[4]{&red, nullptr, nullptr, nullptr};
        (*image)->sample({&u, &u, &footprint, 1}, 1, out);
        return red;
    }

    /// A step that turns the base, as projects of older versions have it.
    static void workInBase(Session& s) {
        QVERIFY(s.apply(
            edits::insertStep(s.project(), "", "base", 1, step("shift", "hsv-shift", {{"hue", 20.0}})),
            QStringLiteral("Add")));
    }

private Q_SLOTS:
    void aMapIsTakenFromAnotherFileAndTheWorkStays() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.insertStep("base", 1, "tint");
        const std::filesystem::path root = m_folder.path().toStdString();
        QVERIFY(writePicture(root / "black.png", 8, 8, 3, [](int, int, int) { return 0; }));
        QCOMPARE(white(s), 1.0f);
        QSignalSpy told(&s, &Session::told);
        s.takeFile("set", "base-colour", at("black.png"));
        QCOMPARE(s.project().sets[0]->maps[0].file, std::string("../black.png"));
        QCOMPARE(white(s), 0.0f);
        QCOMPARE(s.project().findLine("base")->steps.size(), std::size_t{2});
        QCOMPARE(told.size(), 0);
        // What is no picture is told, and the map keeps its file.
        s.takeFile("set", "base-colour", at("half.ocio"));
        QCOMPARE(told.size(), 1);
        QCOMPARE(s.project().sets[0]->maps[0].file, std::string("../black.png"));
        s.undo();
        QCOMPARE(white(s), 1.0f);
        // One tile's name stands for all.
        for (const char* name : {"deck_1001.png", "deck_1002.png"})
            QVERIFY(writePicture(root / "maps" / name, 8, 8, 3, [](int, int, int) { return 0; }));
        s.takeFile("set", "base-colour", at("maps/deck_1002.png"));
        QCOMPARE(s.project().sets[0]->maps[0].file, std::string("deck_<UDIM>.png"));
    }
    void everyProjectHasTheSameStore() {
        // What is read while the first one is brought in is not read again when it opens.
        Session s;
        const ImageStore* store = &s.resources().store();
        QVERIFY(s.open(QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle")));
        QCOMPARE(&s.resources().store(), store);
        s.close();
        QCOMPARE(&s.resources().store(), store);
    }
    void theChoiceFallsToTheNeighbourWhenItsStepGoes() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.insertStep("base", 1, "tint");
        const std::string tint = s.selectedStep();
        s.insertStep("base", 2, "tone");
        const std::string tone = s.selectedStep();
        QVERIFY(tone != tint && tint != "source");
        s.undo();
        QCOMPARE(s.selectedStep(), tint);
        s.redo();
        s.selectStep(tone);
        s.jump(0);  // both are gone
        QCOMPARE(s.selectedStep(), std::string("source"));
    }
    void aConfigurationIsChosenUndoneAndKeptInTheFile() {
        writeConfiguration(at("half.ocio").toStdString(), "half", "0.5");
        Session s;
        QVERIFY(s.open(project("half")));
        const auto unknown = s.resources().map(*s.project().sets[0], s.project().sets[0]->maps[0]);
        QVERIFY(!unknown && unknown.error().sentence.find("half") != std::string::npos);
        s.chooseConfiguration(at("half.ocio"));
        QCOMPARE(s.project().colour.configuration, at("half.ocio").toStdString());
        QVERIFY(s.resources().colours().knows("half"));
        QVERIFY(std::fabs(white(s) - 0.5f) < 1e-3f);
        s.undo();
        QVERIFY(!s.resources().colours().knows("half"));
        QCOMPARE(white(s), -1.0f);
        s.redo();
        QVERIFY(std::fabs(white(s) - 0.5f) < 1e-3f);
        QVERIFY(s.save(at("one.palekettle")));
        Session again;
        QVERIFY(again.open(at("one.palekettle")));
        QVERIFY(again.resources().colours().knows("half"));
        s.chooseConfiguration({});
        QVERIFY(s.project().colour.configuration.empty());
        QVERIFY(!s.resources().colours().knows("half"));
    }
    void aBrokenConfigurationIsToldAndChangesNothing() {
        writeText(at("broken.ocio"), "ocio_profile_version: 2\nroles: [");
        Session s;
        QVERIFY(s.open(project("sRGB")));
        QSignalSpy told(&s, &Session::told);
        const std::size_t before = s.history().position();
        s.chooseConfiguration(at("broken.ocio"));
        s.chooseConfiguration(at("missing.ocio"));
        QCOMPARE(told.size(), 2);
        QVERIFY(told[0][0].toString().endsWith(QLatin1Char('.')) && told[0][1].toBool());
        QCOMPARE(s.history().position(), before);
    }
    void savingElsewhereTakesAllPathsAlong() {
        writeConfiguration(at("half.ocio").toStdString(), "half", "0.5");
        Session s;
        QVERIFY(s.open(project("half")));
        s.chooseConfiguration(at("half.ocio"));
        QVERIFY(QDir(m_folder.path()).mkpath(QStringLiteral("deep/er")));
        QVERIFY(s.save(at("deep/er/two.palekettle")));
        const Project inFile = *projectFromJson(*readFile(at("deep/er/two.palekettle").toStdString()), "two");
        QCOMPARE(inFile.sets[0]->folder, std::string("../../maps"));
        QCOMPARE(inFile.colour.configuration, std::string("../../half.ocio"));
        QVERIFY(std::fabs(white(s) - 0.5f) < 1e-3f);
        QVERIFY(!s.isModified());
        // Undo reaches behind the saving and finds every map.
        s.undo();
        QVERIFY(s.isModified());
        QVERIFY(s.resources().problemsOf(s.project()).size() ==
                1);  // "half" is no space without its configuration
        s.redo();
        QVERIFY(!s.isModified());
        QVERIFY(s.resources().problemsOf(s.project()).empty());
        Session again;
        QVERIFY(again.open(at("deep/er/two.palekettle")));
        QVERIFY(std::fabs(white(again) - 0.5f) < 1e-3f);
        QVERIFY(!s.isModified());
    }
    void whatIsSavedIsAStateAndNotAPlaceInTheHistory() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.insertStep("base", 1, "tone");
        const std::string tone = s.selectedStep();
        const std::uint64_t gesture = s.newGesture();
        s.setControl(tone, "exposure", 0.5, gesture);
        QVERIFY(s.save(at("state.palekettle")));
        QVERIFY(!s.isModified());
        s.setControl(tone, "exposure", 0.7, gesture);  // the same drag goes on: the same entry, another state
        QVERIFY(s.isModified());
        s.undo();
        QVERIFY(s.isModified());
        QVERIFY(s.save(at("state.palekettle")));
        s.setControl(tone, "exposure", 0.9);  // another branch, of the same length
        QVERIFY(s.isModified());
        s.undo();
        QVERIFY(!s.isModified());
    }
    void aMapIsNeverSavedOver() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        const auto file = s.resources().fileOf(*s.project().sets[0], s.project().sets[0]->maps[0]);
        const std::string before = *readFile(file);
        QSignalSpy told(&s, &Session::told);
        QVERIFY(!s.save(QString::fromStdString(file.string())));
        QVERIFY(
            told.front()[0].toString().contains(QStringLiteral("source maps, which are never written to")));
        QVERIFY(*readFile(file) == before);
    }
    void theBaseIsCalledAsReceivedUntilAStepDoesSomething() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        // The grey line's ramp gives every value back.
        QCOMPARE(s.baseName(), QStringLiteral("As received"));
        QVERIFY(s.isAsReceived());
        // As projects were that changed their base.
        workInBase(s);
        QCOMPARE(s.baseName(), QStringLiteral("Base"));
        QVERIFY(!s.isAsReceived());
        s.toggleBypass("shift");
        QCOMPARE(s.baseName(), QStringLiteral("As received"));
        s.undo();
        QCOMPARE(s.baseName(), QStringLiteral("Base"));
        // What they show goes on being changed where it is.
        s.setControl("shift", "hue", 40.0);
        QVERIFY(s.look().empty());
        QCOMPARE(std::get<double>(s.project().stepAt(*s.project().findStep("shift")).controls.at("hue")),
                 40.0);
    }
    void theFirstChangeOfWhatWasReceivedBeginsALook() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        const Project received = s.project();
        QSignalSpy begun(&s, &Session::lookBegun), changed(&s, &Session::lookChanged);
        const std::uint64_t gesture = s.newGesture();
        s.setControl("g2", "amount", 0.5, gesture);
        QCOMPARE(begun.size(), 1);
        QCOMPARE(changed.size(), 1);
        QCOMPARE(s.look(), begun[0][0].toString().toStdString());
        QVERIFY(s.project().lines == received.lines);
        // The same gesture goes on in the look that it began, as one entry.
        s.setControl("g2", "amount", 0.25, gesture);
        QCOMPARE(begun.size(), 1);
        QCOMPARE(s.project().findLook(s.look())->changes.size(), std::size_t{1});
        s.undo();
        QVERIFY(s.project() == received && s.look().empty());
        s.redo();
        QCOMPARE(s.project().looks.size(), received.looks.size() + 1);
        QCOMPARE(s.look(), begun[0][0].toString().toStdString());
    }
    void changesInALookLeaveTheBaseAsItWas() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.setLook("look");
        s.insertStep("base", 1, "hsv-shift");
        const std::string shift = s.selectedStep();
        s.setControl(shift, "hue", 90.0);
        QCOMPARE(s.baseName(), QStringLiteral("As received"));
        QCOMPARE(s.project().findLook("look")->changes.size(), std::size_t{2});
        QCOMPARE(s.surfacePlace().line, std::string("base"));
        s.setLookHere(LookHere{"grey", "g1", {}});
        QCOMPARE(s.surfacePlace().line, std::string("grey"));
    }
    void bypassingAndShowingBeforeGoByTheLook() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        workInBase(s);
        const std::string shift = "shift";
        s.selectStep(shift);
        s.setLook("look");
        s.toggleBypass(shift);
        QVERIFY(!s.project().stepAt(*s.project().findStep(shift)).bypass);
        QVERIFY(s.shownStep(shift)->bypass);
        s.toggleBypass(shift);
        QVERIFY(!s.shownStep(shift)->bypass);
        // Before a step as the look has it: the look may switch on what the base leaves out.
        s.setLook("");
        s.toggleBypass(shift);
        s.setLook("look");
        s.toggleBypass(shift);
        s.setShowBefore(true);
        const Project shown = s.shownProject();
        QVERIFY(withLook(shown, shown.stepAt(*shown.findStep(shift)), shown.findLook("look")).bypass);
        s.setShowBefore(false);
        QCOMPARE(s.shownProject(), s.project());
    }
    void stepsMoveAlongTheirLineAndTheSourceStays() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.insertStep("base", 1, "hsv-shift");
        const std::string first = s.selectedStep();
        s.insertStep("base", 2, "invert");
        const std::string second = s.selectedStep();
        const auto order = [&] {
            std::vector<std::string> ids;
            for (const auto& step : s.project().findLine("base")->steps) ids.push_back(step->id);
            return ids;
        };
        const std::string source = order().front();
        s.moveAlong(-1);
        QCOMPARE(order()[1], second);
        const std::size_t entries = s.history().size();
        s.moveAlong(-1);  // only the source is before it: nothing happens, and nothing is told
        QCOMPARE(order()[0], source);
        QCOMPARE(s.history().size(), entries);
        s.moveAlong(1);
        QCOMPARE(order()[1], first);
        // Pasted steps come behind the chosen one and are chosen.
        s.selectStep(first);
        const QString copied = s.copySelection();
        s.paste(copied);
        QCOMPARE(order()[1], first);
        QCOMPARE(order()[2], s.selectedStep());
        QCOMPARE(order()[3], second);
    }
    void lookingHereFollowsTheChoiceAndALookThatIsGoneLetsGo() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        s.insertStep("base", 1, "hsv-shift");
        const std::string shift = s.selectedStep(), source = s.project().findLine("base")->steps[0]->id;
        s.toggleLookHere();
        QCOMPARE(s.lookHere()->after, shift);
        s.selectStep(source);
        QCOMPARE(s.lookHere()->after, source);
        s.toggleLookHere();
        QVERIFY(!s.lookHere());
        s.keepLook();
        QVERIFY(!s.look().empty());
        s.undo();
        QCOMPARE(s.look(), std::string());
    }
    void aFolderThatIsReadDoesNotTakeTheWorkAway() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        QSignalSpy told(&s, &Session::told);
        s.bringIn(QStringLiteral(KETTLE_DATA_DIR "/glazed_tile"));
        s.insertStep("base", 1, "hsv-shift");
        const std::string shift = s.selectedStep();
        QTRY_VERIFY_WITH_TIMEOUT(!s.isBringingIn(), 30000);
        QVERIFY(s.project().findStep(shift).has_value());
        QVERIFY(told.last()[0].toString().contains(QStringLiteral("so it stays open")));
        QVERIFY(told.last()[1].toBool());
        // Opening stops it.
        s.bringIn(QStringLiteral(KETTLE_DATA_DIR "/glazed_tile"));
        QVERIFY(s.open(project("sRGB")));
        QVERIFY(!s.isBringingIn());
        QTest::qWait(50);
        QVERIFY(s.project().findLine("base") != nullptr);
    }
    void whatCannotBeDoneIsToldAndNothingChanges() {
        Session s;
        QVERIFY(s.open(project("sRGB")));
        QSignalSpy told(&s, &Session::told);
        s.insertStep("base", 1, "hsv-shift");
        told.clear();
        const Project before = s.project();
        s.removeStep("source");  // a line begins with its source
        s.insertStep("none", 1, "hsv-shift");
        QCOMPARE(told.size(), 2);
        // What is no longer there is passed over in silence: a click may come late.
        s.removeStep("none");
        s.setControl("source", "no-such-control", 1.0);
        QCOMPARE(told.size(), 2);
        for (const auto& call : told)
            QVERIFY2(call[0].toString().endsWith(QLatin1Char('.')), qPrintable(call[0].toString()));
        QVERIFY(s.project() == before);
        QVERIFY(!s.open(at("not-there.palekettle")));
        QVERIFY(s.project() == before);
    }
};

QTEST_GUILESS_MAIN(SessionTest)
#include "session_test.moc"
