// Work on the board and in the tuner by real mouse and key events: dragging, copying, folding, several at
// once, the special editors, pinned probes, the history, and unsaved work that survives a crash.
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "app/board/board_view.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/session/autosave.h"
#include "app/style/theme.h"
#include "app/tuner/hue_dial.h"
#include "app/tuner/levels_plot.h"
#include "app/tuner/mode_gallery.h"
#include "app/tuner/number_field.h"
#include "app/tuner/ramp_editor.h"
#include "app/tuner/tuner_view.h"
#include "app/window/history_list.h"
#include "app/window/main_window.h"
#include "app/window/message_bar.h"
#include "core/document/json.h"
#include "tests/support/pointer.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;
const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

}  // namespace

class BoardWorkTest final : public QObject {
    Q_OBJECT

    std::unique_ptr<MainWindow> m_window;
    MainWindow& window() { return *m_window; }
    Session& session() { return m_window->session(); }
    BoardView& board() { return m_window->board(); }

    bool settled() {
        return QTest::qWaitFor([this] { return window().isSettled(); }, 60000);
    }
    QString message() { return window().findChild<MessageBar*>()->text(); }
    void clickCard(const std::string& step, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseClick(&board(), Qt::LeftButton, keys, board().cardRect(step).center());
    }
    QStringList stepsOf(const char* line) {
        QStringList ids;
        for (const auto& s : session().project().findLine(line)->steps) ids << QString::fromStdString(s->id);
        return ids;
    }
    template <class W>
    W* control(const char* name) {
        return window().tuner().findChild<W*>(QString::fromUtf8(name));
    }
    StepView viewOf(const Step& s) { return {*findStepSpec(s.type), s, session().selectedLine()->kind}; }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        QVERIFY(session().open(kDemo));
        QCoreApplication::processEvents();
    }
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
    void theGalleryShowsAndChoosesModes() {
        QTest::mouseClick(&board(), Qt::LeftButton, {}, board().cardRect("streaks").center());
        QVERIFY(settled());
        auto* gallery = control<ModeGallery>("mode-gallery");
        QVERIFY(gallery != nullptr);
        QTest::mouseClick(gallery, Qt::LeftButton, {}, gallery->rectOf("soft-light").center());
        QCOMPARE(viewOf(*session().shownStep("streaks")).choice("mode"), std::string("soft-light"));
        QTest::keyClick(gallery, Qt::Key_Right);
        QCOMPARE(viewOf(*session().shownStep("streaks")).choice("mode"), std::string("hard-light"));
    }
    void aHueIsPickedFromThePictureAndTheBandIsDragged() {
        clickCard("glaze");
        QVERIFY(settled());
        QTest::mouseClick(control<QPushButton>("pick"), Qt::LeftButton);
        QVERIFY(window().flat().isPicking());
        const QPoint middle = window().flat().rect().center();
        QTest::mouseClick(&window().flat(), Qt::LeftButton, {}, middle);
        QVERIFY(!window().flat().isPicking());
        QVERIFY(QTest::qWaitFor([&] { return viewOf(*session().shownStep("glaze")).toggle("band"); }, 10000));
        const double centre = viewOf(*session().shownStep("glaze")).number("band-centre");
        QVERIFY2(centre < 30 || centre > 330, qPrintable(QString::number(centre)));  // the enamel is red
        auto* dial = window().tuner().findChild<HueDial*>();
        drag(*dial, dial->pointOf(centre, 0).toPoint(), dial->pointOf(centre + 90, 0).toPoint());
        QVERIFY(std::fabs(std::remainder(
                    viewOf(*session().shownStep("glaze")).number("band-centre") - centre - 90, 360)) < 8);
        QTest::mouseClick(control<QPushButton>("pick"), Qt::LeftButton);
        QTest::keyClick(&window().flat(), Qt::Key_Escape);
        QVERIFY(!window().flat().isPicking());
    }
    void levelsAreDraggedOverTheSpread() {
        session().insertStep("roughness", 2, "levels");
        const std::string id = session().selectedStep();
        QCoreApplication::processEvents();  // the new form is laid out
        auto* plot = control<LevelsPlot>("levels-plot");
        QVERIFY(plot != nullptr);
        const std::size_t entries = session().history().position();
        const QPoint white = plot->handleAt(LevelsPlot::Handle::InWhite).toPoint();
        drag(*plot, white, {white.x() - plot->width() / 4, white.y()});
        QVERIFY(std::fabs(viewOf(*session().shownStep(id)).number("in-white") - 0.75) < 0.04);
        QCOMPARE(session().history().position(), entries + 1);
        const QPoint middle = plot->handleAt(LevelsPlot::Handle::Middle).toPoint();
        drag(*plot, middle, middle - QPoint(30, 0));
        QVERIFY(viewOf(*session().shownStep(id)).number("gamma") > 1.2);
    }
    void aFormulaIsTypedAndItsFaultNamed() {
        session().insertStep("base-colour", 3, "formula");
        const std::string id = session().selectedStep();
        auto* edit = control<QLineEdit>("formula");
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QStringLiteral("in * (1 - 0.5"));
        QCOMPARE(control<QLabel>("formula-problem")->text(),
                 QStringLiteral("At character 14: \")\" is missing at the end."));
        QTest::keyClicks(edit, QStringLiteral(")"));
        QCOMPARE(control<QLabel>("formula-problem")->text(), QString());
        QCOMPARE(viewOf(*session().shownStep(id)).text("formula"), std::string("in * (1 - 0.5)"));
        // All that was typed is one entry.
        QTest::keyClick(edit, Qt::Key_Return);
        session().undo();
        QVERIFY(viewOf(*session().shownStep(id)).text("formula") == "in");
    }
    void curvesAreBentOneComponentAtATime() {
        session().insertStep("base-colour", 3, "curves");
        const std::string id = session().selectedStep();
        auto* which = control<QComboBox>("curve-of");
        QCOMPARE(which->itemText(1), QStringLiteral("Red"));
        which->setCurrentIndex(1);
        Q_EMIT which->activated(1);
        RampStrip& strip = window().tuner().findChild<RampEditor*>()->strip();
        drag(strip, strip.handleAt(1).toPoint(), strip.handleAt(1).toPoint() + QPoint(0, 40));
        QVERIFY(viewOf(*session().shownStep(id)).ramp("first").stops.back().colour.x < 0.8f);
        QVERIFY(viewOf(*session().shownStep(id)).ramp("all").isIdentity());
        QCOMPARE(which->itemText(1), QStringLiteral("Red •"));
    }
    void numberFieldsCompute() {
        clickCard("glaze");
        auto* field = control<NumberField>("field-hue");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, QStringLiteral("12*1.5 + 2"));
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(viewOf(*session().shownStep("glaze")).number("hue"), 20.0);
    }
    void aRampIsTakenFromCopiedColours() {
        session().insertStep("base-colour", 3, "ramp-remap");
        const std::string id = session().selectedStep();
        QApplication::clipboard()->setText(QStringLiteral("our river: #102030, #80A0B0 and F0E0D0"));
        auto* from = control<QPushButton>("ramp-from");
        QTest::mouseClick(from, Qt::LeftButton);
        auto* menu = from->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        for (QAction* action : menu->actions())
            if (action->text() == QStringLiteral("3 copied colours")) action->trigger();
        menu->close();
        QCOMPARE(viewOf(*session().shownStep(id)).ramp("ramp").stops.size(), std::size_t{3});
    }
    void aNewMaskIsMadeWhereItIsNeeded() {
        clickCard("glaze");
        auto* button = control<QPushButton>("feed-mask");
        QTest::mouseClick(button, Qt::LeftButton);
        auto* menu = button->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        QAction* hueBand = nullptr;
        for (QAction* action : menu->actions())
            if (action->menu() != nullptr && action->text() == QStringLiteral("New"))
                for (QAction* source : action->menu()->actions())
                    if (source->text() == QStringLiteral("Hue band")) hueBand = source;
        QVERIFY(hueBand != nullptr);
        hueBand->trigger();
        menu->close();
        const std::string line = session().shownStep("glaze")->feeds.at("mask").line;
        const Step& source = *session().project().findLine(line)->steps.front();
        QCOMPARE(source.type, std::string("hue-band"));
        QCOMPARE(source.feeds.at("of").after, std::string("s1"));  // what comes into the shift
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
        QFile palette(folder.filePath(QStringLiteral("river.gpl")));
        QVERIFY(palette.open(QIODevice::WriteOnly));
        palette.write("GIMP Palette\nName: River\n 10 20 40 Night\n 120 140 160 Mist\n");
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
        QCOMPARE(viewOf(*session().shownStep("glaze")).number("hue"), 20.0);
        window().history().hide();
    }
    void fiveHundredRandomEditsAreUndoneToTheVeryStart() {
        std::mt19937 random(20);
        const Project start = session().project();
        const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
        for (int i = 0; i < 500; ++i) {
            const Project& p = session().project();
            const Line& line = *p.lines[pick(p.lines.size())];
            const std::string step = line.steps[pick(line.steps.size())]->id;
            session().setLook(pick(4) == 0 ? p.looks[pick(p.looks.size())]->id : std::string());
            session().selectStep(step);
            switch (pick(7)) {
                case 0: {
                    const auto& all = catalogue();
                    const StepSpec& spec = all[pick(all.size())];
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
                    const StepSpec* spec = findStepSpec(session().shownStep(step)->type);
                    if (!spec->controls.empty()) {
                        const ControlSpec& c = spec->controls[pick(spec->controls.size())];
                        if (c.type == ControlType::Number)
                            session().setControl(step, c.id, static_cast<double>(pick(100)) / 50);
                    }
                }
            }
            if (i % 100 == 0) QCoreApplication::processEvents();
        }
        QVERIFY(session().history().position() > 250);
        QCOMPARE(problemsOf(session().project()).size(), std::size_t{0});
        const Project end = session().project();
        while (session().history().canUndo()) session().undo();
        QCOMPARE(QString::fromStdString(projectToJson(session().project())),
                 QString::fromStdString(projectToJson(start)));
        while (session().history().canRedo()) session().redo();
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
        QCOMPARE(viewOf(*session().shownStep("glaze")).number("hue"), 77.0);
        QVERIFY(session().isModified());
        QVERIFY(!open->isVisible());
        QVERIFY(!QFile::exists(record));
    }
};

QTEST_MAIN(BoardWorkTest)
#include "board_work_test.moc"
