// Work that must not be lost or go astray: what is kept in the file, which look a change goes to, what may
// not be replaced, candidates and numbers as they are taken, a project taken up again.
#include <QImage>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "app/session/session.h"
#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/exchange/bring_plan.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class WorkTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    QString at(const char* name) const { return m_folder->filePath(QString::fromUtf8(name)); }
    fs::path path(const char* name) const { return at(name).toStdString(); }
    QString saved(const Project& project) const {
        const QString file = at("p.palekettle");
        return saveProject(project, file.toStdString()) ? file : QString();
    }
    /// A set of a colour and a roughness of one size, in a folder "maps"; each drives its channel.
    Project withMaps() const {
        fs::create_directories(path("maps"));
        for (const char* name : {"paint_color.png", "paint_rough.png"})
            if (!writePicture(path("maps") / name, 8, 8, 3,
                              [](int x, int y, int c) { return 20 * x + 8 * y + c; }))
                qFatal("no %s", name);
        Project p;
        p.sets.emplace_back(TextureSet{
            "set",
            "Paint",
            path("maps").string(),
            {{"base-colour", "paint_color.png", "auto", {}}, {"roughness", "paint_rough.png", "raw", {}}},
            {}});
        p.lines.emplace_back(
            line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour"), step("h", "hsv-shift")}));
        p.lines.emplace_back(line("rough", Kind::Scalar, "roughness", {mapStep("n", "roughness")}));
        p.looks.emplace_back(Look{"look", "Look", {}, {}});
        p.looks.emplace_back(Look{"other", "Other", {}, {}});
        return p;
    }
    static double numberOf(const Session& s, const char* look, const char* step, const char* control) {
        const Look* of = s.project().findLook(look);
        const Changes& changes = of->changes;
        const auto found = changes.find(std::string(step) + "." + control);
        return found == changes.end() ? -1 : std::get<double>(found->second);
    }

    static const Ramp& rampOf(const Session& s) {
        return std::get<Ramp>(s.shownStep(s.selectedStep())->controls.at("ramp"));
    }

private Q_SLOTS:
    void copiedColoursGoIntoTheRampThatIsChosen() {
        Session s;
        QVERIFY(s.open(saved(withMaps())));
        s.setLook(QStringLiteral("look").toStdString());
        s.selectStep("h");
        s.paste(QStringLiteral("ink #000000, chalk #ffffff"));
        QCOMPARE(s.shownStep(s.selectedStep())->type, std::string("ramp-remap"));
        QCOMPARE(s.project().findLine("base")->steps.size(), std::size_t{3});
        // Others, with the new step chosen, into its ramp.
        s.paste(QStringLiteral("#ff0000 #00ff00 #0000ff"));
        QCOMPARE(s.project().findLine("base")->steps.size(), std::size_t{3});
        QCOMPARE(rampOf(s).stops.size(), std::size_t{3});
        QCOMPARE(rampOf(s).interpolation, RampInterpolation::Linear);
        // A ramp that holds its colours goes on holding.
        Ramp held = rampOf(s);
        held.interpolation = RampInterpolation::Hold;
        s.setControl(s.selectedStep(), "ramp", held);
        s.paste(QStringLiteral("#123456 #654321"));
        QCOMPARE(rampOf(s).interpolation, RampInterpolation::Hold);
        QCOMPARE(rampOf(s).stops.size(), std::size_t{2});
        // A grey line has no place for colours, and says so.
        QSignalSpy told(&s, &Session::told);
        s.selectStep("n");
        s.paste(QStringLiteral("#ff0000"));
        QCOMPARE(told.size(), 1);
        QCOMPARE(s.project().findLine("rough")->steps.size(), std::size_t{1});
    }
    void aKeptPaletteIsARampOnAGreyLineToo() {
        Session s;
        QVERIFY(s.open(saved(withMaps())));
        Palette palette;
        palette.name = "Two";
        palette.colours = {{0, 0, 0}, {1, 1, 1}};
        QVERIFY(writeFileAtomically(path("two.palette.json"), paletteToText(palette)));
        s.insertFiles({at("two.palette.json")}, "rough", 1);
        QCOMPARE(s.project().findLine("rough")->steps.size(), std::size_t{2});
        QCOMPARE(s.project().findLine("rough")->steps[1]->type, std::string("ramp-remap"));
    }
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void notesAreKeptInTheFile() {
        Session s;
        QVERIFY(s.open(saved(twoLines())));
        s.setNote("shift", QStringLiteral("too green in the evening"));
        s.setNote("base", QStringLiteral("from the yard"));
        s.setNote("look", QStringLiteral("for Thursday"));
        s.setNote("g2", QStringLiteral("gone again"));
        s.setNote("g2", QString());
        QVERIFY(s.save(s.filePath()));
        const auto again = loadProject(s.filePath().toStdString());
        QVERIFY(again);
        QCOMPARE(again->findLine("base")->steps[1]->note, std::string("too green in the evening"));
        QCOMPARE(again->findLine("base")->note, std::string("from the yard"));
        QCOMPARE(again->findLook("look")->note, std::string("for Thursday"));
        QCOMPARE(again->findLine("grey")->steps[1]->note, std::string());
    }
    void aPlacementIsChangedInOneLookAlone() {
        Session s;
        QVERIFY(s.open(saved(withMaps())));
        s.setLook("look");
        s.setControl("m", "repeats", 3.0);
        // Both maps of the set share one placement in this look, and keep the old one in every other.
        for (const char* map : {"m", "n"}) {
            QCOMPARE(numberOf(s, "look", map, "repeats"), 3.0);
            QCOMPARE(numberOf(s, "other", map, "repeats"), -1.0);
        }
        for (const char* step : {"m", "n"})
            QVERIFY(!s.project().lines[step[0] == 'm' ? 0 : 1]->steps[0]->controls.contains("repeats"));
        const float u = 0.2f, v = 0.3f;
        const fs::path folder = path("");
        QVERIFY(near(evaluate(s.project(), "base", "look", u, v, folder)[0],
                     evaluate(s.project(), "base", "other", 3 * u, 3 * v, folder)[0], 0.02f));
    }
    void aChangeHoldsInAllLooksAndInOneAgain() {
        Session s;
        QVERIFY(s.open(saved(twoLines())));
        s.setLook("look");
        s.setControl("shift", "hue", 75.0);
        const auto inBase = [&] { return s.project().lines[0]->steps[1]->controls.at("hue"); };
        s.holdInAllLooks("shift", "hue", true);
        QVERIFY(s.holdsInAllLooks("shift", "hue"));
        const auto green = evaluate(s.project(), "base", "look")[1];
        QCOMPARE(evaluate(s.project(), "base", "other")[1], green);
        QCOMPARE(std::get<double>(inBase()), 30.0);  // the base stays
        s.holdInAllLooks("shift", "hue", false);
        QVERIFY(!s.holdsInAllLooks("shift", "hue"));
        QCOMPARE(evaluate(s.project(), "base", "look")[1], green);
        QVERIFY(evaluate(s.project(), "base", "other")[1] != green);
        // What all looks change is in the file.
        s.holdInAllLooks("shift", "hue", true);
        QVERIFY(s.save(s.filePath()));
        Session again;
        QVERIFY(again.open(s.filePath()));
        QCOMPARE(evaluate(again.project(), "base", "other")[1], green);
    }
    void aPictureIsNotSavedOverTheProjectOrItsMaps() {
        Session s;
        QVERIFY(s.open(saved(withMaps())));
        QImage picture(8, 8, QImage::Format_RGB888);
        picture.fill(Qt::darkGreen);
        for (const QString& file : {s.filePath(), at("maps/paint_color.png")}) {
            const auto before = *readFile(file.toStdString());
            QString problem;
            QVERIFY(!s.savePicture(picture, file, problem));
            QVERIFY2(problem.contains(QFileInfo(file).fileName()), qPrintable(problem));
            QVERIFY(*readFile(file.toStdString()) == before);
        }
        QString problem;
        QVERIFY(s.savePicture(picture, at("new.png"), problem));
        QCOMPARE(QImage(at("new.png")).pixelColor(3, 3), QColor(Qt::darkGreen));
    }
    void aCandidateIsTakenAsItWasShown() {
        Session s;
        QVERIFY(s.open(saved(twoLines())));
        s.setLook("look");
        const Candidate one{{{"shift.hue", 111.0}, {"shift.saturation", 0.5}}, {"+111"}},
            two{{{"shift.hue", 222.0}}, {"+222"}};
        QVERIFY(s.takeCandidate(one));
        QCOMPARE(numberOf(s, "look", "shift", "hue"), 111.0);
        QCOMPARE(numberOf(s, "look", "shift", "saturation"), 0.5);
        QCOMPARE(numberOf(s, "other", "shift", "hue"), -1.0);
        QCOMPARE(s.look(), std::string("look"));
        // Kept ones are looks of their own over the one in force, and one edit.
        const auto entries = s.history().position();
        QVERIFY(s.keepCandidates({one, two}));
        QCOMPARE(s.history().position(), entries + 1);
        QCOMPARE(s.project().looks.size(), std::size_t{4});
        QCOMPARE(s.look(), std::string("look"));
        const std::string first = s.project().looks[2]->id, second = s.project().looks[3]->id;
        QCOMPARE(numberOf(s, first.c_str(), "shift", "hue"), 111.0);
        QCOMPARE(numberOf(s, second.c_str(), "shift", "hue"), 222.0);
        QCOMPARE(numberOf(s, second.c_str(), "shift", "saturation"), 0.5);  // from the look in force
        QCOMPARE(numberOf(s, "look", "shift", "hue"), 111.0);
        s.undo();
        QCOMPARE(s.project().looks.size(), std::size_t{2});
        QVERIFY(!s.keepCandidates({}));
    }
    void numbersOfObjectsAreOneEdit() {
        Session s;
        QVERIFY(s.open(saved(twoLines())));
        s.setNumbers(false, {{"cup-1", 7}, {"cup-2", 7}, {"cup-3", std::nullopt}}, QStringLiteral("Numbers"));
        QCOMPARE(s.project().objects->objects, (std::map<std::string, int>{{"cup-1", 7}, {"cup-2", 7}}));
        QVERIFY(s.project().objects->parts.empty());
        s.setNumbers(true, {{"handle", 2}}, QStringLiteral("Numbers"));
        s.setNumbers(false, {{"cup-1", std::nullopt}}, QStringLiteral("Numbers"));
        QCOMPARE(s.project().objects->objects, (std::map<std::string, int>{{"cup-2", 7}}));
        QCOMPARE(s.project().objects->parts, (std::map<std::string, int>{{"handle", 2}}));
        QVERIFY(s.save(s.filePath()));
        QCOMPARE(loadProject(s.filePath().toStdString())->objects->objects.at("cup-2"), 7);
        s.undo();
        QCOMPARE(s.project().objects->objects.at("cup-1"), 7);
    }
    void workThatIsTakenUpAgainIsUnsaved() {
        const QString file = saved(twoLines());
        const auto onDisk = *readFile(file.toStdString());
        Project changed = *edits::setControl(twoLines(), "look", "shift", "hue", 99.0);
        Session s;
        s.recover(changed, file, path(""));
        QVERIFY(s.isModified());
        QCOMPARE(s.filePath(), file);
        QCOMPARE(numberOf(s, "look", "shift", "hue"), 99.0);
        QVERIFY(*readFile(file.toStdString()) == onDisk);  // until it is saved
        QCOMPARE(s.concernOf(file), Session::SaveConcern::None);
        QVERIFY(s.save(file));
        QVERIFY(!s.isModified());
        QVERIFY(*readFile(file.toStdString()) != onDisk);
    }
    void whatIsPackedIsUnpackedAndChosen() {
        Project p = twoLines();
        p.lines[0].edit().steps.emplace_back(step("t", "tone", {{"exposure", 1.0}}));
        p.lines[0].edit().steps.emplace_back(step("v", "invert"));
        Session s;
        QVERIFY(s.open(saved(p)));
        const auto before = evaluate(s.project(), "base", "look");
        s.selectStep("shift");
        s.toggleSelected("t");
        edits::PackWish wish;
        wish.name = "Pair";
        wish.kinds = {Kind::Colour};
        wish.controls = {{"", "Turn", "", {"shift.hue"}, {}, {}}};
        QVERIFY(s.packSelection(wish));
        const std::string packed = s.selectedStep();
        QCOMPARE(s.project().lines[0]->steps.size(), std::size_t{3});
        QCOMPARE(s.selection(), std::vector<std::string>{packed});
        QCOMPARE(evaluate(s.project(), "base", "look"), before);
        // A control of a step within, which the recipe names: set there, and back to what it was.
        s.toggleOpen(packed);
        const auto inner = [&](const char* type) {
            for (const auto& one : s.boardProject().lines[0]->steps)
                if (one->type == type && s.isInner(one->id)) return one->id;
            return std::string();
        };
        QVERIFY(!inner("tone").empty());
        s.setControl(inner("tone"), "exposure", 2.0);
        QVERIFY(evaluate(s.project(), "base", "look") != before);
        s.resetControl(inner("tone"), "exposure");
        s.undo(), s.undo();
        QCOMPARE(evaluate(s.project(), "base", "look"), before);
        s.toggleOpen(packed);
        s.unpackRecipe(packed);
        QCOMPARE(evaluate(s.project(), "base", "look"), before);
        // Both are chosen, and the last of them is the one that the keys move.
        const auto& steps = s.project().lines[0]->steps;
        QCOMPARE(steps.size(), std::size_t{4});
        QCOMPARE(s.selection(), (std::vector<std::string>{steps[1]->id, steps[2]->id}));
        QCOMPARE(s.selectedStep(), steps[2]->id);
    }
    void missingFilesAreFoundInOneEdit() {
        Session s;
        QVERIFY(s.open(saved(withMaps())));
        fs::create_directories(path("elsewhere"));
        fs::rename(path("maps/paint_color.png"), path("elsewhere/paint_color.png"));
        fs::rename(path("maps/paint_rough.png"), path("elsewhere/paint_rough.png"));
        QSignalSpy told(&s, &Session::told);
        fs::create_directories(path("nothing"));
        s.lookForMissing(at("nothing"));
        QVERIFY(told.last()[0].toString().contains(QStringLiteral("paint_color.png")));
        QVERIFY(told.last()[1].toBool());
        QVERIFY(!s.isModified());
        s.lookForMissing(at("elsewhere"));
        QVERIFY(!told.last()[1].toBool());
        QVERIFY(s.isModified());
        const TextureSet& set = *s.project().sets[0];
        for (const Map& map : set.maps) QVERIFY(fs::exists(s.resources().fileOf(set, map)));
        s.undo();
        QVERIFY(!fs::exists(s.resources().fileOf(*s.project().sets[0], s.project().sets[0]->maps[0])));
    }
    void aPlanIsAddedOrBeginsAnew() {
        const Project own = withMaps();
        const auto plan = planBringIn({path("maps")});
        QVERIFY(plan);
        Session s;
        QVERIFY(s.open(saved(own)));
        s.takePlan(*plan, true);
        QCOMPARE(s.project().sets.size(), std::size_t{2});
        QCOMPARE(s.project().looks.size(), std::size_t{2});
        QVERIFY(s.isModified());
        s.undo();
        QCOMPARE(s.project().sets.size(), std::size_t{1});
        s.takePlan(*plan, false);
        QCOMPARE(s.project().sets.size(), std::size_t{1});
        QVERIFY(s.project().looks.empty());
        QVERIFY(s.filePath().isEmpty());  // the project that was open is not saved over
    }
};

QTEST_MAIN(WorkTest)
#include "work_test.moc"
