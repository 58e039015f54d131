// The whole story by mouse and keys in a real window: open the kettle, recolour it, make it wetter, blend
// grain over it, look at one step, keep a look, undo and redo, save, export. And the ways in which it must
// not fail.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QStatusBar>
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "app/board/finder.h"
#include "app/editors/hue_dial.h"
#include "app/editors/ramp_editor.h"
#include "app/exporting/export_sheet.h"
#include "app/fields/number_field.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "tests/support/demo_window.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class StoryTest final : public QObject, DemoWindow {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void theFirstPictureComesCoarseAndThenFine() {
        QVERIFY(QTest::qWaitFor([this] { return window().model().shownStage() >= 0; }, 30000));
        QVERIFY(settled());
        QCOMPARE(window().model().state(), QStringLiteral("current"));
        QCOMPARE(window().model().picture().width(), window().model().width());
    }
    void theKettleIsRecolouredByTheDial() {
        QTest::mouseClick(window().looks().button(QStringLiteral("celadon")), Qt::LeftButton);
        QCOMPARE(session().look(), std::string("celadon"));
        clickCard("glaze");
        QCOMPARE(session().selectedStep(), std::string("glaze"));
        QVERIFY(settled());
        const QImage before = window().model().picture();
        auto* dial = window().tuner().findChild<HueDial*>();
        const QPoint c = dial->rect().center();
        const std::size_t entries = session().history().position();
        drag(*dial, c + QPoint(0, -78), c + QPoint(78, 0));
        QVERIFY(std::fabs(number("glaze", "hue") - (152 + 90 - 360)) < 3);
        QCOMPARE(session().history().position(), entries + 1);  // the drag is one entry
        QVERIFY(settled());
        QVERIFY(window().model().picture() != before);
        QCOMPARE(session().project().stepAt(*session().project().findStep("glaze")).controls.size(),
                 std::size_t{0});  // the base stays
        QTest::keyClick(&window(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(number("glaze", "hue"), 152.0);
        QTest::keyClick(&window(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(number("glaze", "hue") < 0);
    }
    void typedNumbersAndSlidersTune() {
        clickCard("glaze");
        auto* field = control<NumberField>("field-saturation");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, QStringLiteral("2.5"));
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(number("glaze", "saturation"), 2.5);
        auto* slider = control<ValueSlider>("slider-value");
        drag(*slider, {static_cast<int>(slider->positionOf(1)), slider->height() / 2},
             {static_cast<int>(slider->positionOf(0.5)), slider->height() / 2});
        QVERIFY(std::fabs(number("glaze", "value") - 0.5) < 0.03);
    }
    void itIsMadeWetterWithTheRamp() {
        clickCard("wetness");
        QCOMPARE(session().selectedStep(), std::string("wetness"));
        auto* editor = window().tuner().findChild<RampEditor*>();
        QVERIFY(editor != nullptr);
        RampStrip& strip = editor->strip();
        drag(strip, strip.handleAt(1).toPoint(), strip.handleAt(1).toPoint() + QPoint(0, 70));
        const Step shown = *session().shownStep("wetness");
        const Ramp& ramp = std::get<Ramp>(shown.controls.at("ramp"));
        QVERIFY(ramp.stops.back().colour.x < 0.5f);
        QVERIFY(settled());
    }
    void aStepIsAddedByTheFinderAndFedWithGrain() {
        clickCard("streaks");
        QTest::keyClick(&window().board(), Qt::Key_Slash);
        Finder& finder = window().board().finder();
        QVERIFY(QTest::qWaitFor([&] { return finder.isVisible(); }, 3000));
        auto* filter = finder.findChild<QLineEdit*>();
        QTest::keyClicks(filter, QStringLiteral("blend"));
        QTest::keyClick(filter, Qt::Key_Return);
        const std::string added = session().selectedStep();
        QVERIFY(added != "streaks");
        QCOMPARE(session().shownStep(added)->type, std::string("blend"));
        QCOMPARE(stepsOf("base-colour").back().toStdString(), added);
        // Joined through the feed's menu.
        auto* button = control<QPushButton>("feed-over");
        QTest::mouseClick(button, Qt::LeftButton);
        auto* menu = button->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        for (QAction* action : menu->actions())
            if (action->text() == QStringLiteral("Grain")) action->trigger();
        menu->close();
        QCOMPARE(session().shownStep(added)->feeds.at("over").line, std::string("grain"));
        auto* mode = control<QComboBox>("choice-mode");
        mode->setCurrentIndex(mode->findData(QStringLiteral("multiply")));
        Q_EMIT mode->activated(mode->currentIndex());
        QCOMPARE(std::get<std::string>(session().shownStep(added)->controls.at("mode")),
                 std::string("multiply"));
        QTest::keyClick(&window().board(), Qt::Key_Delete);
        QVERIFY(!session().project().findStep(added));
        QCOMPARE(session().selectedStep(), std::string("streaks"));
    }
    void theGapOpensTheFinderWithWhatFits() {
        BoardView& board = window().board();
        const QRect gap = board.gapRect("roughness", 2);
        QVERIFY(gap.isValid());
        QTest::mouseClick(&board, Qt::LeftButton, {}, gap.center());
        QVERIFY(board.finder().isVisible());
        auto* list = board.finder().findChild<QListWidget*>();
        for (int i = 0; i < list->count(); ++i)
            QVERIFY(list->item(i)->text() != QStringLiteral("HSV shift"));  // not on a grey line
        QTest::keyClick(board.finder().findChild<QLineEdit*>(), Qt::Key_Down);
        QCOMPARE(list->currentRow(), 1);
        QTest::keyClick(board.finder().findChild<QLineEdit*>(), Qt::Key_Escape);
        QVERIFY(!board.finder().isVisible());
    }
    void theFinderPutsNamesBeforePurposes() {
        clickCard("s1");
        QTest::keyClick(&window().board(), Qt::Key_Slash);
        Finder& finder = window().board().finder();
        auto* filter = finder.findChild<QLineEdit*>();
        auto* list = finder.findChild<QListWidget*>();
        QTest::keyClicks(filter, QStringLiteral("colour"));
        QVERIFY(list->count() > 2);
        bool namesAreOver = false;
        for (int i = 0; i < list->count(); ++i) {
            const bool isCalledSo =
                list->item(i)->text().contains(QStringLiteral("colour"), Qt::CaseInsensitive);
            QVERIFY(!(namesAreOver && isCalledSo));
            namesAreOver = namesAreOver || !isCalledSo;
        }
        QVERIFY(namesAreOver);
        QTest::keyClick(filter, Qt::Key_Escape);
        QVERIFY(!finder.isVisible());
    }
    void theBoardIsWalkedByKeys() {
        clickCard("s1");
        BoardView& board = window().board();
        QTest::keyClick(&board, Qt::Key_Right);
        QCOMPARE(session().selectedStep(), std::string("glaze"));
        QTest::keyClick(&board, Qt::Key_Left);
        QTest::keyClick(&board, Qt::Key_Left);
        QCOMPARE(session().selectedStep(), std::string("s1"));
        QTest::keyClick(&board, Qt::Key_Down);
        QVERIFY(session().selectedLine()->id != "base-colour");
        QTest::keyClick(&board, Qt::Key_Up);
        QCOMPARE(session().selectedLine()->id, std::string("base-colour"));
    }
    void bypassIsOneKeyAndSourcesStay() {
        clickCard("glaze");
        QTest::keyClick(&window().board(), Qt::Key_X);
        QVERIFY(session().shownStep("glaze")->bypass);
        QTest::keyClick(&window().board(), Qt::Key_X);
        QVERIFY(!session().shownStep("glaze")->bypass);
        clickCard("s1");
        QTest::keyClick(&window().board(), Qt::Key_X);
        QVERIFY(message().startsWith(QStringLiteral("The source of a line cannot be bypassed")));
        QTest::keyClick(&window().board(), Qt::Key_Delete);
        QVERIFY(message().contains(QStringLiteral("is its source and stays")));
    }
    void lookHereShowsAStepAndComesBack() {
        QVERIFY(settled());
        const QImage surface = window().model().picture();
        clickCard("glaze");
        QTest::keyClick(&window().board(), Qt::Key_Return);
        QVERIFY(session().lookHere().has_value());
        QVERIFY(settled());
        QVERIFY(window().model().picture() != surface);
        QTest::keyClick(&window().board(), Qt::Key_Right);  // it follows the choice
        QCOMPARE(session().lookHere()->after, std::string("streaks"));
        QTest::keyClick(&window().board(), Qt::Key_Escape);
        QVERIFY(!session().lookHere().has_value());
        QVERIFY(settled());
        QCOMPARE(window().model().picture(), surface);
    }
    void holdingSpaceShowsBefore() {
        QTest::mouseClick(window().looks().button(QStringLiteral("celadon")), Qt::LeftButton);
        clickCard("glaze");
        QTest::keyPress(&window().board(), Qt::Key_Space);
        QVERIFY(session().showsBefore());
        const Project before = session().shownProject();
        QVERIFY(
            withLook(before, before.stepAt(*before.findStep("glaze")), before.findLook("celadon")).bypass);
        QTest::keyRelease(&window().board(), Qt::Key_Space);
        QVERIFY(!session().showsBefore());
        QVERIFY(!session().isModified());
    }
    void aLookIsKeptAndHoldsItsOwnChanges() {
        QTest::keyClick(&window(), Qt::Key_K, Qt::ControlModifier);
        const std::string kept = session().look();
        QVERIFY(session().project().findLook(kept) != nullptr);
        session().setControl("glaze", "hue", 60.0);
        QTest::mouseClick(window().looks().button({}), Qt::LeftButton);
        QCOMPARE(number("glaze", "hue"), 0.0);
        QTest::mouseClick(window().looks().button(QString::fromStdString(kept)), Qt::LeftButton);
        QCOMPARE(number("glaze", "hue"), 60.0);
    }
    void theCameraTurnsAndZooms() {
        QVERIFY(settled());
        const Camera before = window().model().camera();
        drag(window().model(), {200, 150}, {260, 170});
        QVERIFY(window().model().camera().turn != before.turn);
        QTest::keyClick(&window().model(), Qt::Key_Plus);
        QVERIFY(window().model().camera().distance < before.distance);
        QTest::keyClick(&window().model(), Qt::Key_Home);
        QVERIFY(settled());
    }
    void theProbeTellsThePointersValue() {
        clickCard("s1");
        QVERIFY(settled());
        moveTo(window().flat(), window().flat().rect().center(), Qt::NoButton);
        const auto told = [this] {
            for (auto* label : window().statusBar()->findChildren<QLabel*>())
                if (label->text().startsWith(QStringLiteral("at 0.")))
                    return label->text().contains(QLatin1Char('#'));
            return false;
        };
        QVERIFY(QTest::qWaitFor(told, 5000));
        const QPointF place = window().flat().placeAt(QRectF(window().flat().rect()).center());
        QVERIFY(std::fabs(place.x() - 0.5) < 0.01 && std::fabs(place.y() - 0.5) < 0.01);
    }
    void savingAndOpeningGivesTheSame() {
        QTemporaryDir folder;
        QDir().mkpath(folder.filePath(QStringLiteral("enamel_kettle")));
        for (const auto& entry : std::filesystem::directory_iterator(kData / "enamel_kettle"))
            std::filesystem::copy_file(entry.path(), folder.path().toStdString() /
                                                         std::filesystem::path("enamel_kettle") /
                                                         entry.path().filename());
        const QString file = folder.filePath(QStringLiteral("mine.palekettle"));
        QVERIFY(QFile::copy(kDemo, file));
        QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(session().open(file));
        session().setLook("celadon");
        session().setControl("glaze", "hue", -33.0);
        QVERIFY(session().isModified());
        QVERIFY(window().isWindowModified());
        QTest::keyClick(&window(), Qt::Key_S, Qt::ControlModifier);
        QVERIFY(!session().isModified());
        const Project saved = session().project();
        QVERIFY(session().open(file));
        QVERIFY(session().project() == saved);
        // Elsewhere: the paths follow.
        QVERIFY(session().save(folder.filePath(QStringLiteral("enamel_kettle/inner.palekettle"))));
        QCOMPARE(
            projectFromJson(
                *readFile(folder.filePath(QStringLiteral("enamel_kettle/inner.palekettle")).toStdString()),
                "inner")
                ->sets[0]
                ->folder,
            std::string("."));
        QVERIFY(session()
                    .resources()
                    .map(*session().project().sets[0], session().project().sets[0]->maps[0])
                    .has_value());
    }
    void mapsAreExportedFromTheSheet() {
        QTemporaryDir folder;
        session().setLook("celadon");
        QTest::keyClick(&window(), Qt::Key_E, Qt::ControlModifier);
        ExportSheet& sheet = window().exportSheet();
        QVERIFY(sheet.isVisible());
        sheet.setFolder(folder.filePath(QStringLiteral("out")));
        auto* size = sheet.findChildren<QComboBox*>()[1];
        size->setCurrentIndex(size->findData(512));
        for (auto* button : sheet.findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Export")) QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(sheet.isRunning());
        QVERIFY(QTest::qWaitFor([&] { return !sheet.isRunning(); }, 60000));
        QVERIFY2(message().startsWith(QStringLiteral("Exported 6 files to ")), qPrintable(message()));
        QCOMPARE(QDir(folder.filePath(QStringLiteral("out"))).entryList(QDir::Files).size(), 6);
        QVERIFY(!sheet.isVisible());
    }
    void anExportIsStopped_data() {
        QTest::addColumn<bool>("byKey");
        QTest::newRow("by Stop") << false;
        QTest::newRow("by Esc") << true;
    }
    void anExportIsStopped() {
        QFETCH(bool, byKey);
        QTemporaryDir folder;
        QTest::keyClick(&window(), Qt::Key_E, Qt::ControlModifier);
        ExportSheet& sheet = window().exportSheet();
        sheet.setFolder(folder.filePath(QStringLiteral("out")));
        auto* size = sheet.findChildren<QComboBox*>()[1];
        size->setCurrentIndex(size->findData(8192));
        for (auto* button : sheet.findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Export")) QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(sheet.isRunning());
        if (byKey) QTest::keyClick(&sheet, Qt::Key_Escape);
        for (auto* button : sheet.findChildren<QPushButton*>())
            if (!byKey && button->text() == QStringLiteral("Stop")) QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(QTest::qWaitFor([&] { return !sheet.isRunning(); }, 60000));
        QCOMPARE(message(), QStringLiteral("The export was stopped. What was finished stays."));
        for (const QString& name :
             QDir(folder.filePath(QStringLiteral("out"))).entryList(QDir::Files | QDir::Hidden))
            QVERIFY(!name.contains(QStringLiteral(".part")));
    }
    void badProjectsAreToldAndTheOldOneStays() {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("bad.palekettle"));
        std::ofstream(file.toStdString()) << "{ \"format\": \"pale-kettle-project\", \"version\": 7 }";
        const Project before = session().project();
        QVERIFY(!session().open(file));
        QVERIFY(message().contains(QStringLiteral("was saved by a newer Pale Kettle")));
        QVERIFY(session().project() == before);
    }
    void aMissingMapIsNamedAndTheRestIsShown() {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("lost.palekettle"));
        QVERIFY(QFile::copy(kDemo, file));
        QVERIFY(session().open(file));  // no maps beside it
        QVERIFY(QTest::qWaitFor([this] { return window().model().state() == QStringLiteral("map missing"); },
                                30000));
        QVERIFY(!window().model().picture().isNull());
    }
    void aFolderIsBroughtIn() {
        session().bringIn(QStringLiteral(KETTLE_DATA_DIR "/glazed_tile"));
        QVERIFY(session().isBringingIn());
        QTRY_VERIFY_WITH_TIMEOUT(!session().isBringingIn(), 30000);
        QVERIFY(message().startsWith(QStringLiteral("Brought in 5 map")));
        QVERIFY(session().isModified());
        QCOMPARE(session().project().lines.size(), std::size_t{5});
        QVERIFY(settled());
        session().bringIn(QStringLiteral(KETTLE_DATA_DIR "/models"));
        QTRY_VERIFY_WITH_TIMEOUT(!session().isBringingIn(), 30000);
        QCOMPARE(session().project().lines.size(), std::size_t{5});
        QVERIFY(message().startsWith(QStringLiteral("There are no pictures in ")));
    }
    void eachViewFillsTheWindowAndReturns() {
        for (const auto key : {Qt::Key_F9, Qt::Key_F10, Qt::Key_F11, Qt::Key_F12}) {
            const int before = window().model().width();
            QTest::keyClick(&window(), key);
            const int visible = static_cast<int>(window().model().isVisible()) +
                                static_cast<int>(window().flat().isVisible()) +
                                static_cast<int>(window().board().isVisible()) +
                                static_cast<int>(window().tuner().isVisible());
            QCOMPARE(visible, 1);
            QTest::keyClick(&window(), key);
            QVERIFY(window().model().isVisible() && window().tuner().isVisible());
            QTRY_COMPARE(window().model().width(), before);
        }
    }
    void undoGoesBackToTheStartAfterManyEdits() {
        const std::string start = projectToJson(session().project());
        std::uint32_t random = 7;
        const auto next = [&](std::uint32_t n) {
            return (random = random * 1664525u + 1013904223u) / 65536u % n;
        };
        const std::vector<std::string> looks{"", "celadon", "marmalade", "night-ferry"};
        for (int i = 0; i < 120; ++i) {
            session().setLook(looks[next(4)]);
            switch (next(5)) {
                case 0:
                    session().setControl("glaze", "hue", static_cast<double>(next(360)) - 180);
                    break;
                case 1:
                    session().setControl("streaks", "amount", next(100) / 100.0);
                    break;
                case 2:
                    session().toggleBypass("glaze");
                    break;
                case 3:
                    session().insertStep("base-colour", 1 + next(2), next(2) == 0 ? "levels" : "invert");
                    break;
                default:
                    session().removeStep(stepsOf("base-colour").back().toStdString());
                    break;
            }
        }
        while (session().history().canUndo()) session().undo();
        QCOMPARE(QString::fromStdString(projectToJson(session().project())), QString::fromStdString(start));
    }
    void everyControlHasANameAndATip() {
        for (const char* step : {"s1", "glaze", "streaks", "wetness", "e2"}) {
            session().selectStep(step);
            for (auto* w : window().tuner().findChildren<QWidget*>()) {
                const bool control = qobject_cast<ValueSlider*>(w) != nullptr ||
                                     qobject_cast<NumberField*>(w) != nullptr ||
                                     qobject_cast<QComboBox*>(w) != nullptr;
                if (control) QVERIFY2(!w->accessibleName().isEmpty(), step);
            }
        }
    }
};

QTEST_MAIN(StoryTest)
#include "story_test.moc"
