// The looks strip by mouse and keys: choosing, keeping, renaming, removing, and what its buttons tell.
#include "app/looks/looks_strip.h"

#include <QApplication>
#include <QLineEdit>
#include <QPushButton>

#include "app/style/theme.h"
#include "core/document/edits.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class LooksStripTest final : public QObject, DemoWindow {
    Q_OBJECT

    LookButton& button(const char* look) { return *window().looks().button(QString::fromUtf8(look)); }
    std::string nameOf(const char* look) { return session().project().findLook(look)->name; }
    /// The field that stands over a button while its look is renamed.
    QLineEdit* field(const char* look) {
        QLineEdit* found = nullptr;
        (void)QTest::qWaitFor([&] { return (found = button(look).findChild<QLineEdit*>()) != nullptr; },
                              2000);
        return found;
    }
    /// Chooses an entry of the menu that a right click on a button opens.
    void chooseFromMenu(const char* look, const char* entry) {
        QContextMenuEvent asked(QContextMenuEvent::Mouse, QPoint(10, 10),
                                button(look).mapToGlobal(QPoint(10, 10)));
        QApplication::sendEvent(&button(look), &asked);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu != nullptr);
        QAction* action = entryOf(*menu, QString::fromUtf8(entry));
        QVERIFY(action != nullptr);
        menu->setActiveAction(action);
        QTest::keyClick(menu, Qt::Key_Return);
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void aClickOrAKeyChoosesALook() {
        QTest::mouseClick(&button("celadon"), Qt::LeftButton);
        QCOMPARE(session().look(), std::string("celadon"));
        QTest::keyClick(&button("marmalade"), Qt::Key_Return);
        QCOMPARE(session().look(), std::string("marmalade"));
        button("").setFocus(Qt::TabFocusReason);
        QTest::keyClick(&button(""), Qt::Key_Space);
        QCOMPARE(session().look(), std::string());
    }
    void aRightButtonDoesNotChoose() {
        QTest::mouseClick(&button("celadon"), Qt::RightButton);
        QCOMPARE(session().look(), std::string());
    }
    void aLookIsRenamedByADoubleClick() {
        QTest::mouseDClick(&button("celadon"), Qt::LeftButton);
        QLineEdit* name = field("celadon");
        QVERIFY(name != nullptr);
        QCOMPARE(name->selectedText(), QStringLiteral("Celadon"));
        QTest::keyClicks(name, QStringLiteral("  Sea glaze "));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(nameOf("celadon"), std::string("Sea glaze"));
        session().undo();
        QCOMPARE(nameOf("celadon"), std::string("Celadon"));
    }
    /// A change on what was received begins a look. The keys stay with the board until its name is asked for.
    void aBegunLookIsNamedByItsKey() {
        session().setLook("");
        clickCard("glaze");
        session().setControl("glaze", "hue", 20.0, 0);
        const std::string begun = session().look();
        QVERIFY(!begun.empty());
        QPointer<QLineEdit> name = field(begun.c_str());
        QVERIFY(name != nullptr && !name->hasFocus() && name->selectedText().isEmpty());
        window().board().setFocus();
        QTest::keyClick(&window().board(), Qt::Key_X);
        QVERIFY(session().shownStep("glaze")->bypass);
        QTRY_VERIFY(field(begun.c_str())->isVisible());  // the strip was made anew
        QTest::keyClick(&window().board(), Qt::Key_F2);
        name = field(begun.c_str());
        QVERIFY(name != nullptr && name->hasFocus());
        QTest::keyClicks(name, QStringLiteral("River mud"));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(nameOf(begun.c_str()), std::string("River mud"));
        QVERIFY(field(begun.c_str()) == nullptr);
    }
    /// The key names the chosen look at any time, from the board as from the tuner: what is typed next must
    /// not be taken for keys of the board.
    void theKeyNamesTheChosenLook() {
        session().setLook("celadon");
        clickCard("glaze");
        for (QWidget* hand :
             {static_cast<QWidget*>(&window().board()), static_cast<QWidget*>(&window().tuner())}) {
            QTest::keyClick(hand, Qt::Key_F2);
            QTRY_VERIFY(field("celadon") != nullptr && field("celadon")->hasFocus());
            QTest::keyClicks(field("celadon"), QStringLiteral("Reed"));
            QTest::keyClick(field("celadon"), Qt::Key_Return);
            QTRY_COMPARE(nameOf("celadon"), std::string("Reed"));
            session().undo();
        }
    }
    void anEmptyNameChangesNothing() {
        const std::size_t before = session().history().size();
        QTest::keyClick(&button("celadon"), Qt::Key_F2);
        QLineEdit* name = field("celadon");
        QVERIFY(name != nullptr);
        QTest::keyClick(name, Qt::Key_Delete);
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(nameOf("celadon"), std::string("Celadon"));
        QCOMPARE(session().history().size(), before);
    }
    void theBaseHasNoNameOfItsOwn() {
        QTest::mouseDClick(&button(""), Qt::LeftButton);
        QTest::keyClick(&button(""), Qt::Key_F2);
        QTest::qWait(50);
        QVERIFY(button("").findChild<QLineEdit*>() == nullptr);
    }
    void aCopyIsKeptAndChosen() {
        chooseFromMenu("celadon", "Keep a copy");
        const std::string kept = session().look();
        QVERIFY(!kept.empty() && kept != "celadon");
        QVERIFY(session().project().findLook(kept)->changes ==
                session().project().findLook("celadon")->changes);
        QVERIFY(window().looks().button(QString::fromStdString(kept)) != nullptr);
        // They part from then on.
        session().setControl("glaze", "hue", 10.0);
        QVERIFY(session().project().findLook(kept)->changes !=
                session().project().findLook("celadon")->changes);
    }
    void aRemovedLookGoesAndComesBackByUndo() {
        session().setLook("marmalade");
        chooseFromMenu("marmalade", "Remove");
        QVERIFY(session().project().findLook("marmalade") == nullptr);
        QCOMPARE(session().look(), std::string());  // what was shown is gone: the base
        QVERIFY(window().looks().button(QStringLiteral("marmalade")) == nullptr);
        session().undo();
        QVERIFY(window().looks().button(QStringLiteral("marmalade")) != nullptr);
    }
    void theBaseCannotBeRemoved() {
        QContextMenuEvent asked(QContextMenuEvent::Mouse, QPoint(10, 10),
                                button("").mapToGlobal(QPoint(10, 10)));
        QApplication::sendEvent(&button(""), &asked);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu != nullptr);
        QVERIFY(entryOf(*menu, QStringLiteral("Remove")) == nullptr);
        QVERIFY(entryOf(*menu, QStringLiteral("Keep a copy")) != nullptr);
        menu->close();
    }
    void everyLookHasItsPicture() {
        QVERIFY(settled());
        // Their pictures differ where the looks do: the middle of a thumbnail is enamel, mostly.
        const auto middle = [&](const char* look) {
            const QImage shown = button(look).grab(QRect(16, 28, 20, 12)).toImage();
            return shown.scaled(1, 1, Qt::IgnoreAspectRatio, Qt::SmoothTransformation).pixelColor(0, 0);
        };
        const QColor base = middle(""), celadon = middle("celadon"), night = middle("night-ferry");
        QVERIFY2(base.red() > base.green() * 2, qPrintable(base.name()));
        QVERIFY2(celadon.green() > celadon.red(), qPrintable(celadon.name()));
        QVERIFY2(night.blue() > night.red(), qPrintable(night.name()));
    }
    void withoutAProjectNothingIsKept() {
        MainWindow empty(kData);
        for (const auto* b : empty.looks().findChildren<QPushButton*>()) QVERIFY(!b->isEnabled());
    }
};

QTEST_MAIN(LooksStripTest)
#include "looks_strip_test.moc"
