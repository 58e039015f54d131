// Work on the board by real mouse and key events: dragging, copying, folding, several at once, pinned probes,
// the history, and unsaved work that survives a crash.
#include <QApplication>
#include <QClipboard>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "app/board/finder.h"
#include "app/checks/checks_drawer.h"
#include "app/exporting/export_sheet.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/session/autosave.h"
#include "app/style/theme.h"
#include "app/window/history_list.h"
#include "core/document/json.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class BoardWorkTest final : public QObject, DemoWindow {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void aCardIsDraggedAlongItsLine() {
        QCOMPARE(stepsOf("base-colour"),
                 QStringList({QStringLiteral("s1"), QStringLiteral("glaze"), QStringLiteral("streaks")}));
        drag(board(), board().cardRect("glaze").center(),
             board().gapRect("base-colour", 3).topLeft() + QPoint(30, 7));
        QCOMPARE(stepsOf("base-colour"),
                 QStringList({QStringLiteral("s1"), QStringLiteral("streaks"), QStringLiteral("glaze")}));
        QTest::keyClick(&window(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(stepsOf("base-colour").at(1), QStringLiteral("glaze"));
    }
    void aCardIsMovedAlongItsLineByKeys() {
        clickCard("glaze");
        QTest::keyClick(&board(), Qt::Key_Right, Qt::AltModifier);
        QCOMPARE(stepsOf("base-colour"),
                 QStringList({QStringLiteral("s1"), QStringLiteral("streaks"), QStringLiteral("glaze")}));
        QCOMPARE(session().selectedStep(), std::string("glaze"));
        QTest::keyClick(&board(), Qt::Key_Right, Qt::AltModifier);  // at its end it stays
        QCOMPARE(stepsOf("base-colour").at(2), QStringLiteral("glaze"));
        QTest::keyClick(&board(), Qt::Key_Left, Qt::AltModifier);
        QTest::keyClick(&board(), Qt::Key_Left, Qt::AltModifier);  // never before the source
        QCOMPARE(stepsOf("base-colour"),
                 QStringList({QStringLiteral("s1"), QStringLiteral("glaze"), QStringLiteral("streaks")}));
        clickCard("s1");
        QTest::keyClick(&board(), Qt::Key_Right, Qt::AltModifier);
        QCOMPARE(stepsOf("base-colour").at(0), QStringLiteral("s1"));
    }
    void withControlACopyIsDragged() {
        drag(board(), board().cardRect("glaze").center(),
             board().gapRect("base-colour", 3).topLeft() + QPoint(30, 7), Qt::ControlModifier);
        QCOMPARE(stepsOf("base-colour").size(), 4);
        const Step copy = *session().shownStep(session().selectedStep());
        QCOMPARE(copy.type, std::string("hsv-shift"));
        QVERIFY(copy.id != "glaze");
        QCOMPARE(copy.feeds.at("mask").line, std::string("enamel"));
    }
    void aColourStepDoesNotGoToAGreyLine() {
        const QStringList before = stepsOf("roughness");
        drag(board(), board().cardRect("glaze").center(), board().gapRect("roughness", 2).center());
        QCOMPARE(stepsOf("roughness"), before);
    }
    void severalAreChosenCopiedAndPasted() {
        clickCard("glaze");
        clickCard("streaks", Qt::ControlModifier);
        QCOMPARE(session().selection().size(), std::size_t{2});
        QTest::keyClick(&window(), Qt::Key_C, Qt::ControlModifier);
        QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("pale-kettle-steps")));
        QTest::keyClick(&window(), Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(stepsOf("base-colour").size(), 5);
        QCOMPARE(session().selection().size(), std::size_t{2});
        const std::size_t entries = session().history().position();
        QTest::keyClick(&board(), Qt::Key_X);
        for (const std::string& s : session().selection()) QVERIFY(session().shownStep(s)->bypass);
        QTest::keyClick(&board(), Qt::Key_Delete);
        QCOMPARE(stepsOf("base-colour").size(), 3);
        QCOMPARE(session().history().position(), entries + 2);  // one entry for each, however many steps
    }
    void shiftAndArrowsTakeNeighboursIn() {
        clickCard("glaze");
        QTest::keyClick(&board(), Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(session().selection().size(), std::size_t{2});
        QTest::keyClick(&window(), Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(stepsOf("base-colour").size(), 5);
    }
    void pastingIntoAnotherKindOfLineSaysWhatWasLeftOut() {
        clickCard("glaze");
        clickCard("streaks", Qt::ControlModifier);
        QTest::keyClick(&window(), Qt::Key_C, Qt::ControlModifier);
        clickCard("wetness");
        const auto before = stepsOf("roughness").size();
        QTest::keyClick(&window(), Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(message(),
                 QStringLiteral("1 of the 2 copied steps do not fit a scalar line and were left out."));
        QCOMPARE(stepsOf("roughness").size(), before + 1);
        QApplication::clipboard()->setText(QStringLiteral("a shopping list"));
        QTest::keyClick(&window(), Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(message(), QStringLiteral("The clipboard holds no steps. Copy some on the board first."));
    }
    void theFinderTellsWhyANameIsNotOffered() {
        Finder& finder = board().finder();
        auto* filter = finder.findChild<QLineEdit*>();
        auto* list = finder.findChild<QListWidget*>();
        const auto answerTo = [&](const char* line, const char* typed) {
            clickCard(session().project().findLine(line)->steps[0]->id);
            QTest::keyClick(&board(), Qt::Key_Slash);
            QTest::keyClicks(filter, QString::fromUtf8(typed));
            const QString answer = list->count() == 1 ? list->item(0)->text() : QString();
            QTest::keyClick(filter, Qt::Key_Return);  // what is told is not chosen
            QTest::keyClick(filter, Qt::Key_Escape);
            return answer;
        };
        const std::size_t before = session().history().size();
        QCOMPARE(answerTo("normal", "gradient"), QStringLiteral("Gradient does not fit a normal line."));
        QCOMPARE(answerTo("roughness", "tint"), QStringLiteral("Tint does not fit a scalar line."));
        QCOMPARE(answerTo("roughness", "zzz"), QStringLiteral("Nothing fits a scalar line by that name."));
        QCOMPARE(answerTo("normal", "tint"), QStringLiteral("Tint does not fit a normal line."));
        QCOMPARE(session().history().size(), before);
    }
    void theKeyboardReturnsToTheBoard() {
        board().setFocus();
        QTest::keyClick(&board(), Qt::Key_E, Qt::ControlModifier);
        auto& sheet = window().exportSheet();
        QVERIFY(sheet.isVisible() && sheet.isAncestorOf(QApplication::focusWidget()));
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
        QVERIFY(!sheet.isVisible());
        QCOMPARE(QApplication::focusWidget(), &board());
        QTest::keyClick(&board(), Qt::Key_F8);
        QVERIFY(window().checks().isOpen());
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
        QVERIFY(!window().checks().isOpen());
        QCOMPARE(QApplication::focusWidget(), &board());
    }
    void linesFoldAndTheBoardFits() {
        const QRect before = board().cardRect("s2");
        QTest::mouseClick(&board(), Qt::LeftButton, {}, board().headRect("base-colour").center());
        QVERIFY(!board().cardRect("glaze").isValid());
        QVERIFY(board().cardRect("s2").top() < before.top());
        QTest::mouseClick(&board(), Qt::LeftButton, {}, board().headRect("base-colour").center());
        QCOMPARE(board().cardRect("s2"), before);
        QTest::keyClick(&board(), Qt::Key_Home);
        QVERIFY(board().zoom() < 1);
    }
    void probesArePinnedAndFollowTheWork() {
        clickCard("glaze");
        QVERIFY(settled());
        moveTo(window().flat(), window().flat().rect().center(), Qt::NoButton);
        QTest::keyClick(&window(), Qt::Key_P);
        QCOMPARE(window().pins().places().size(), std::size_t{1});
        QVERIFY(QTest::qWaitFor([&] { return window().pins().rows().size() == 1; }, 10000));
        const QString before = window().pins().rows().front();
        session().setControl("glaze", "value", 0.25);
        QVERIFY(QTest::qWaitFor([&] { return window().pins().rows().front() != before; }, 10000));
        QTest::mouseClick(&window().pins(), Qt::LeftButton, {}, QPoint(40, 16));
        QVERIFY(window().pins().places().empty());
    }
    void aMissingMapIsMarkedOnItsCard() {
        Project broken = session().project();
        broken.sets[0].edit().maps[0].file = "gone.png";
        session().apply(broken, QStringLiteral("Break"));
        QVERIFY(settled());
        QHelpEvent help(QEvent::ToolTip, board().cardRect("s1").center(), QCursor::pos());
        QApplication::sendEvent(&board(), &help);
        const QImage picture = board().grab(board().cardRect("s1")).toImage();
        const QColor corner = picture.pixelColor(picture.width() - 4, 5);
        QVERIFY2(corner.red() > corner.blue() + 60, qPrintable(corner.name()));
    }
    void aPaletteAndAPictureAreDroppedOnAGap() {
        QTemporaryDir folder;
        QFile palette(folder.filePath(QStringLiteral("river.txt")));
        QVERIFY(palette.open(QIODevice::WriteOnly));
        palette.write("Palette\nName: River\n 10 20 40 Night\n 120 140 160 Mist\n");
        palette.close();
        session().insertFile(palette.fileName(), "base-colour", 3);
        QCOMPARE(session().shownStep(session().selectedStep())->type, std::string("ramp-remap"));
        QImage picture(32, 32, QImage::Format_RGB32);
        picture.fill(QColor(20, 90, 60));
        const QString file = folder.filePath(QStringLiteral("moss.png"));
        QVERIFY(picture.save(file));
        session().insertFile(file, "base-colour", 4);
        const Step blend = *session().shownStep(session().selectedStep());
        QCOMPARE(blend.type, std::string("blend"));
        const Step& map = *session().project().findLine(blend.feeds.at("over").line)->steps.front();
        QVERIFY(session()
                    .resources()
                    .map(*session().project().findSet(map.set),
                         *findMap(*session().project().findSet(map.set), map.role))
                    .has_value());
        session().insertFile(kDemo, "base-colour", 1);
        QVERIFY(message().startsWith(
            QStringLiteral("ferry-kitchen.palekettle is neither a picture nor a palette")));
    }
    void theHistoryIsAListToJumpIn() {
        const Project start = session().project();
        clickCard("glaze");
        session().setControl("glaze", "hue", 10.0);
        session().setControl("glaze", "hue", 20.0);
        session().setControl("glaze", "saturation", 0.5);
        QTest::keyClick(&window(), Qt::Key_H, Qt::ControlModifier);
        QListWidget& list = window().history().list();
        QCOMPARE(list.count(), 4);
        QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, list.visualItemRect(list.item(0)).center());
        QVERIFY(session().project() == start);
        QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, list.visualItemRect(list.item(2)).center());
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 20.0);
        window().history().hide();
    }
    void fiveHundredRandomEditsAreUndoneToTheVeryStart() {
        std::mt19937 random(20);
        const Project start = session().project();
        const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
        // Between two edits the window does what it has to, as it does under the hand.
        const auto edited = [] { QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete); };
        for (int i = 0; i < 500; ++i) {
            const Project& p = session().project();
            const Line& line = *p.lines[pick(p.lines.size())];
            const std::string step = line.steps[pick(line.steps.size())]->id;
            session().setLook(pick(4) == 0 ? p.looks[pick(p.looks.size())]->id : std::string());
            session().selectStep(step);
            switch (pick(7)) {
                case 0: {
                    const auto& all = shippedSteps();
                    const StepSpec& spec = all.begin()[pick(all.size())];
                    if (!spec.source && spec.fits(line.kind))
                        session().insertStep(line.id, 1 + pick(line.steps.size()), spec.type);
                    break;
                }
                case 1:
                    if (line.steps.size() > 2) session().removeStep(step);
                    break;
                case 2:
                    session().toggleBypass(step);
                    break;
                case 3:
                    session().duplicateSelection();
                    break;
                case 4:
                    session().moveStep(step, line.id, 1 + pick(line.steps.size()), false);
                    break;
                case 5:
                    session().keepLook();
                    break;
                default: {
                    const StepSpec* spec = shippedSteps().find(session().shownStep(step)->type);
                    if (!spec->controls.empty()) {
                        const ControlSpec& c = spec->controls[pick(spec->controls.size())];
                        if (c.type == ControlType::Number)
                            session().setControl(step, c.id, static_cast<double>(pick(100)) / 50);
                    }
                }
            }
            edited();
            if (i % 100 == 0) QCoreApplication::processEvents();
        }
        // Sources, of which there are many, cannot be moved or taken off.
        QVERIFY2(session().history().position() > 180,
                 qPrintable(QString::number(session().history().position())));
        QCOMPARE(problemsOf(session().project()).size(), std::size_t{0});
        const Project end = session().project();
        for (; session().history().canUndo(); edited()) session().undo();
        QCOMPARE(QString::fromStdString(projectToJson(session().project())),
                 QString::fromStdString(projectToJson(start)));
        for (; session().history().canRedo(); edited()) session().redo();
        QVERIFY(session().project() == end);
    }
    void unsavedWorkSurvivesAndIsOffered() {
        QTemporaryDir folder;
        // A run that ends without cleaning up: its record stays and its lock is free.
        QString record;
        {
            Autosave saver(session(), folder.path());
            saver.saveNow();
            QVERIFY(
                QDir(folder.path()).entryList({QStringLiteral("*.json")}).isEmpty());  // nothing is unsaved
            session().setControl("glaze", "hue", 77.0);
            saver.saveNow();
            QCOMPARE(QDir(folder.path()).entryList({QStringLiteral("*.json")}).size(), 1);
            QVERIFY(!saver.left());  // one's own work is not offered
            Autosave other(session(), folder.path());
            QVERIFY(!other.left());  // nor is that of a run that lives
            record = folder.filePath(QStringLiteral("crashed.json"));
            QVERIFY(QFile::copy(
                folder.filePath(QDir(folder.path()).entryList({QStringLiteral("*.json")}).front()), record));
        }
        QCOMPARE(QDir(folder.path()).entryList({QStringLiteral("*.json")}),
                 QStringList{QStringLiteral("crashed.json")});
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        window().keepUnsavedWork(folder.path());
        auto* open = window().findChild<QPushButton*>(QStringLiteral("recover"));
        QVERIFY(open->isVisible());
        QTest::mouseClick(open, Qt::LeftButton);
        QCOMPARE(session().filePath(), QFileInfo(kDemo).absoluteFilePath());
        session().selectStep("glaze");
        session().setLook(session().project().looks.back()->id);  // the one that the change began
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 77.0);
        QVERIFY(session().isModified());
        QVERIFY(!open->isVisible());
        QVERIFY(!QFile::exists(record));
    }
};

QTEST_MAIN(BoardWorkTest)
#include "board_work_test.moc"
