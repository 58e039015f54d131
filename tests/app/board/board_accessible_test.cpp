// The board as a screen reader finds it.
#include <QAccessible>

#include "app/style/theme.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class BoardAccessibleTest final : public QObject, DemoWindow {
    Q_OBJECT

    QAccessibleInterface* reader() { return QAccessible::queryAccessibleInterface(&board()); }
    QAccessibleInterface* cardOf(const std::string& step) {
        const auto steps = board().steps();
        const auto at = std::find(steps.begin(), steps.end(), step);
        return reader()->child(static_cast<int>(at - steps.begin()));
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void everyCardIsAChildWithANameAndAPlace() {
        QVERIFY(reader() != nullptr);
        QCOMPARE(reader()->role(), QAccessible::List);
        QCOMPARE(reader()->childCount(), static_cast<int>(board().steps().size()));
        for (int i = 0; i < reader()->childCount(); ++i) {
            QAccessibleInterface* card = reader()->child(i);
            QVERIFY(card != nullptr && card->isValid());
            QVERIFY(!card->text(QAccessible::Name).isEmpty());
            QVERIFY(!card->text(QAccessible::Description).isEmpty());
            QCOMPARE(reader()->indexOfChild(card), i);
            QCOMPARE(card->parent(), reader());
            QCOMPARE(reader()->childAt(card->rect().center().x(), card->rect().center().y()), card);
        }
        QCOMPARE(reader()->child(-1), nullptr);
        QCOMPARE(reader()->child(10000), nullptr);
    }
    void aCardTellsWhatItDoesAndWhereItStands() {
        session().setLook("celadon");
        QVERIFY(settled());
        QCOMPARE(cardOf("glaze")->text(QAccessible::Name),
                 QStringLiteral("HSV shift, +152°, on Base colour"));
        session().selectStep("glaze");
        session().toggleBypass("glaze");
        QCOMPARE(cardOf("glaze")->text(QAccessible::Name),
                 QStringLiteral("HSV shift, bypassed, on Base colour"));
        QVERIFY(
            cardOf("glaze")->text(QAccessible::Description).contains(QStringLiteral("passes its input on")));
    }
    void theChosenCardHasTheFocus() {
        board().setFocus();
        QApplication::setActiveWindow(&window());
        clickCard("glaze");
        QVERIFY(cardOf("glaze")->state().selected);
        QVERIFY(!cardOf("streaks")->state().selected);
        if (board().hasFocus()) {
            QCOMPARE(reader()->focusChild(), cardOf("glaze"));
            QVERIFY(cardOf("glaze")->state().focused);
        }
        QTest::keyClick(&board(), Qt::Key_Right);
        QVERIFY(cardOf("streaks")->state().selected);
    }
    void pressingACardChoosesIt() {
        auto* action = cardOf("streaks")->actionInterface();
        QVERIFY(action != nullptr);
        QCOMPARE(action->actionNames(), QStringList{QAccessibleActionInterface::pressAction()});
        action->doAction(QAccessibleActionInterface::pressAction());
        QCOMPARE(session().selectedStep(), std::string("streaks"));
    }
    void aRemovedCardIsGone() {
        QAccessibleInterface* card = cardOf("streaks");
        const int before = reader()->childCount();
        session().removeStep("streaks");
        QVERIFY(!card->isValid());
        QVERIFY(reader()->childCount() < before);
        QCOMPARE(reader()->indexOfChild(card), -1);
    }
    void foldedLinesHaveNoCards() {
        const int before = reader()->childCount();
        QTest::mouseClick(&board(), Qt::LeftButton, {}, board().headRect("base-colour").center());
        QVERIFY(reader()->childCount() < before);
    }
};

QTEST_MAIN(BoardAccessibleTest)
#include "board_accessible_test.moc"
