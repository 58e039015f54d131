// The window under the hand: keys that work wherever it is, an original that stays, and rows that do not
// move.
#include <QLineEdit>
#include <QScrollBar>

#include "app/board/finder.h"
#include "app/editors/hue_dial.h"
#include "app/fields/number_field.h"
#include "app/fields/telling_place.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/analysis/effects.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class CalmTest final : public QObject, DemoWindow {
    Q_OBJECT

    QWidget& holder() { return *QApplication::focusWidget(); }
    bool finderOpens(QWidget& from) {
        QTest::keyClick(&from, Qt::Key_Slash);
        const bool opened = QTest::qWaitFor([&] { return board().finder().isVisible(); }, 2000);
        board().finder().hide();
        window().activateWindow();
        return opened && QTest::qWaitFor([] { return QApplication::focusWidget() != nullptr; }, 2000);
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void theBoardsKeysWorkWhereverTheHandIs() {
        session().setLook("celadon");
        clickCard("glaze");
        auto* slider = control<ValueSlider>("slider-saturation");
        drag(*slider, {20, slider->height() / 2}, {60, slider->height() / 2});
        QVERIFY(finderOpens(holder()));
        QTest::mouseClick(&window().model(), Qt::LeftButton, {}, QPoint(20, 120));
        QVERIFY(finderOpens(holder()));
        QTest::mouseClick(&window().flat(), Qt::LeftButton, {}, QPoint(20, 120));
        QVERIFY(finderOpens(holder()));
        QTest::mouseClick(window().looks().button(QStringLiteral("marmalade")), Qt::LeftButton);
        QVERIFY(finderOpens(holder()));
        // Arrows walk, X bypasses, Space shows before, Esc comes back: from the model as from the board.
        session().setLook("celadon");
        session().selectStep("glaze");
        QTest::mouseClick(&window().model(), Qt::LeftButton, {}, QPoint(20, 120));
        const float turn = window().model().camera().turn;
        QTest::keyClick(&holder(), Qt::Key_Left);
        QVERIFY(session().selectedStep() != "glaze");
        QCOMPARE(window().model().camera().turn, turn);
        session().selectStep("glaze");
        QTest::keyClick(&holder(), Qt::Key_X);
        QVERIFY(session().shownStep("glaze")->bypass);
        QTest::keyClick(&holder(), Qt::Key_X);
        QTest::keyPress(&holder(), Qt::Key_Space);
        QVERIFY(session().showsBefore());
        QTest::keyRelease(&holder(), Qt::Key_Space);
        QVERIFY(!session().showsBefore());
        session().toggleLookHere();
        QTest::keyClick(&holder(), Qt::Key_Escape);
        QVERIFY(!session().lookHere());
        // With Shift the arrows are the model's own.
        window().model().setFocus();
        QTest::keyClick(&window().model(), Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(window().model().camera().turn != turn);
    }
    void whoTypesKeepsTheKeys() {
        session().setLook("celadon");
        clickCard("glaze");
        auto* field = control<NumberField>("field-saturation");
        field->setFocus();
        field->selectAll();
        QTest::keyClick(field, Qt::Key_X);
        QVERIFY(!session().shownStep("glaze")->bypass);
        QTest::keyClicks(field, QStringLiteral("0.5"));
        QTest::keyClick(field, Qt::Key_Return);
        // And who goes on elsewhere has done typing.
        field->setFocus();
        auto* slider = control<ValueSlider>("slider-value");
        QTest::mouseClick(slider, Qt::LeftButton, {}, slider->rect().center());
        QVERIFY(board().hasFocus());
    }
    void theFirstChangeBeginsALookAndTheOriginalStays() {
        QVERIFY(session().isAsReceived());
        const Project received = session().project();
        clickCard("glaze");
        auto* slider = control<ValueSlider>("slider-saturation");
        drag(*slider, {static_cast<int>(slider->positionOf(1)), slider->height() / 2},
             {static_cast<int>(slider->positionOf(0.4)), slider->height() / 2});
        QVERIFY(!session().look().empty());
        const std::string begun = session().look();
        QCOMPARE(session().project().looks.size(), received.looks.size() + 1);
        QVERIFY(session().project().lines == received.lines);  // the base is as it was received
        QCOMPARE(workedSteps(session().project()), 0);
        // Its name can be typed at once.
        QCoreApplication::processEvents();
        auto* name = window().looks().button(QString::fromStdString(begun))->findChild<QLineEdit*>();
        QVERIFY(name != nullptr && name->isVisible());
        // The whole gesture with its look is one entry.
        session().undo();
        QVERIFY(session().project() == received);
        QVERIFY(session().isAsReceived());
        // A step that is added begins a look too.
        session().insertStep("roughness", 1, "levels");
        QVERIFY(!session().look().empty() && !session().isAsReceived());
        session().setLook({});
        QVERIFY(session().isAsReceived());
    }
    void keptLooksAreNamedByTyping() {
        session().setLook("celadon");
        window().looks().keep();
        QVERIFY(qobject_cast<QLineEdit*>(QApplication::focusWidget()) != nullptr);
        QTest::keyClicks(QApplication::focusWidget(), QStringLiteral("Wet morning"));
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        QCOMPARE(session().project().looks.back()->name, std::string("Wet morning"));
    }
    void whatAMapIsHoldsForAllLooks() {
        session().setLook("celadon");
        const std::size_t changes = session().project().findLook("celadon")->changes.size();
        session().setControl("s1", "component", std::string("red"));
        QCOMPARE(session().project().findLook("celadon")->changes.size(), changes);
        QVERIFY(
            session().project().stepAt(*session().project().findStep("s1")).controls.contains("component"));
    }
    void aChangeIsMadeToHoldInAllLooks() {
        session().setLook("celadon");
        clickCard("glaze");
        const double hue = number("glaze", "hue");
        QVERIFY(!session().holdsInAllLooks("glaze", "hue"));
        session().holdInAllLooks("glaze", "hue", true);
        QVERIFY(session().holdsInAllLooks("glaze", "hue"));
        auto* where = window().tuner().findChild<QLabel*>(QStringLiteral("where"));
        QCOMPARE(where->text(), QStringLiteral("in all looks"));
        session().setLook("night-ferry");
        QVERIFY(session().holdsInAllLooks("glaze", "hue") || number("glaze", "hue") != hue);
        session().setLook("celadon");
        session().holdInAllLooks("glaze", "hue", false);
        QCOMPARE(number("glaze", "hue"), hue);
        QCOMPARE(where->text(), QStringLiteral("in Celadon"));
    }
    void nothingMovesWhenASentenceComesOrGoes() {
        session().setLook("celadon");
        session().insertStep("base-colour", 2, "hsv-shift");
        QVERIFY(settled());
        auto* place = window().tuner().findChild<TellingPlace*>();
        QVERIFY(place->sentence().startsWith(QStringLiteral("No effect")));
        auto* dial = window().tuner().findChild<HueDial*>();
        const QPoint before = dial->mapTo(&window(), QPoint(0, 0));
        session().setControl(session().selectedStep(), "hue", 90.0);
        QVERIFY(settled());
        QVERIFY(place->sentence().isEmpty());
        QCOMPARE(dial->mapTo(&window(), QPoint(0, 0)), before);
    }
    void everyWarningIsReadWhole() {
        session().setLook("celadon");
        session().selectStep("streaks");
        for (const char* mode : {"overlay", "soft-light", "hard-light", "linear-light"}) {
            session().setControl("streaks", "mode", std::string(mode));
            session().setControl("streaks", "space", std::string("linear"));
            QCoreApplication::processEvents();
            auto* place = window().tuner().findChild<TellingPlace*>();
            QVERIFY2(place->isWhole(), qPrintable(place->sentence()));
        }
    }
    void headsAndCapsStayInView() {
        session().setLook("celadon");
        for (int i = 0; i < 14; ++i) session().insertStep("roughness", 1, "levels");
        auto* area = window().findChild<QScrollArea*>();
        for (auto* candidate : window().findChildren<QScrollArea*>())
            if (candidate->widget() == &board()) area = candidate;
        area->horizontalScrollBar()->setValue(area->horizontalScrollBar()->maximum());
        QCoreApplication::processEvents();
        QVERIFY(area->horizontalScrollBar()->value() > 200);
        const QRect head = board().headRect("roughness");
        QVERIFY(board().visibleRegion().contains(head.center()));
        // What is under the pointer there is the head, not the card behind it.
        QTest::mouseClick(&board(), Qt::LeftButton, {}, head.center());
        QVERIFY(board().cardRect("s2").isNull() || board().headRect("roughness").height() < head.height());
    }
    void aLineGrowsWithItsFirstStepAndShrinksWithItsLast() {
        session().setLook("celadon");
        const QRect slim = board().headRect("occlusion");
        QCOMPARE(slim.height(), board::kSlimHeight);
        session().insertStep("occlusion", 1, "invert");
        QVERIFY(board().headRect("occlusion").height() > 60);
        session().removeStep(session().selectedStep());
        QCOMPARE(board().headRect("occlusion").height(), board::kSlimHeight);
    }
    void aStepsControlsStayScrolledWhereTheyWere() {
        window().resize(1280, 560);
        session().setLook("celadon");
        session().selectStep("streaks");
        auto* area = window().tuner().findChild<QScrollArea*>();
        QCoreApplication::processEvents();
        area->verticalScrollBar()->setValue(120);
        const int scrolled = area->verticalScrollBar()->value();
        QVERIFY(scrolled > 40);
        session().selectStep("glaze");
        session().selectStep("streaks");
        QCoreApplication::processEvents();
        QCOMPARE(window().tuner().findChild<QScrollArea*>()->verticalScrollBar()->value(), scrolled);
    }
};

QTEST_MAIN(CalmTest)
#include "calm_test.moc"
