// The drawer Objects: what it lists, numbers typed, counted and set equal, the choice both ways with the
// model, surfaces, and an object shown in Flat.
#include "app/objects/objects_drawer.h"

#include <QLineEdit>
#include <QPushButton>
#include <QTreeView>

#include "app/editors/copies_plot.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/seen_objects.h"

using namespace kettle;
using namespace kettle::test;

class ObjectsDrawerTest final : public QObject, DemoWindow {
    Q_OBJECT

    ObjectsDrawer& drawer() { return window().objects(); }
    QTreeView& tree() { return drawer().tree(); }
    bool openDrawer() {
        drawer().setOpen(true);
        return QTest::qWaitFor([this] { return drawer().model().rowCount() > 0; }, 30000) && settled();
    }
    QPoint placeOf(const char* object) {
        return tree().visualRect(drawer().model().indexOf(object)).center();
    }
    void clickRow(const char* object, Qt::KeyboardModifiers keys = {}) {
        tree().scrollTo(drawer().model().indexOf(object));
        QTest::mouseClick(tree().viewport(), Qt::LeftButton, keys, placeOf(object));
    }
    int numberOf(const char* object) { return drawer().model().numberOf(drawer().model().indexOf(object)); }
    void press(const char* words) {
        for (auto* button : drawer().findChildren<QPushButton*>())
            if (button->text() == QString::fromUtf8(words)) return QTest::mouseClick(button, Qt::LeftButton);
        QFAIL(words);
    }
    void typeNumber(const char* number) {
        auto* field = drawer().findChild<QLineEdit*>();
        field->setFocus();
        field->clear();
        QTest::keyClicks(field, QString::fromUtf8(number));
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        QVERIFY(session().open(QString::fromStdString((kData / "galley-shelf.palekettle").string())));
        QVERIFY(settled());
        QVERIFY(openDrawer());
    }
    void cleanup() { m_window.reset(); }

    void listsWhatTheModelIsMadeOf() {
        QCOMPARE(drawer().model().rowCount(), 48 + 7);
        QCOMPARE(drawer().model().data(drawer().model().indexOf("cup-7"), Qt::DisplayRole).toString(),
                 QStringLiteral("cup-7"));
        QCOMPARE(numberOf("cup-7"), 6);
        // Three bear one number, as the project says.
        for (const char* cup : {"cup-18", "cup-19", "cup-20"}) QCOMPARE(numberOf(cup), 17);
        const QModelIndex surface =
            drawer().model().indexOf("plank-2").siblingAtColumn(ObjectsModel::SurfaceName);
        QCOMPARE(drawer().model().data(surface, Qt::DisplayRole).toString(), QStringLiteral("Wood"));
        // Swatches are what variation gives: in the look of five glazes not all alike.
        session().setLook("five-glazes");
        QVERIFY(settled());
        std::set<QString> colours;
        for (int row = 0; row < 48; ++row)
            colours.insert(drawer()
                               .model()
                               .data(drawer().model().index(row, 0), Qt::DecorationRole)
                               .value<QColor>()
                               .name());
        QVERIFY(colours.size() > 20);
        const auto swatch = [&](const char* cup) {
            return drawer()
                .model()
                .data(drawer().model().indexOf(cup), Qt::DecorationRole)
                .value<QColor>()
                .name();
        };
        QCOMPARE(swatch("cup-18"), swatch("cup-20"));
    }

    void numbersAreTypedCountedAndSetEqual() {
        clickRow("cup-2");
        clickRow("cup-4", Qt::ShiftModifier);
        QCOMPARE(session().chosenObjects().size(), std::size_t{3});
        typeNumber("100");
        press("Count up");
        QCOMPARE(numberOf("cup-2"), 100);
        QCOMPARE(numberOf("cup-4"), 102);
        typeNumber("7");
        QTest::keyClick(drawer().findChild<QLineEdit*>(), Qt::Key_Return);
        for (const char* cup : {"cup-2", "cup-3", "cup-4"}) QCOMPARE(numberOf(cup), 7);
        press("As counted");
        QCOMPARE(numberOf("cup-3"), 2);
        session().undo();
        QCOMPARE(numberOf("cup-3"), 7);
        // What no number can be is told, and nothing changes.
        typeNumber("4294967296");
        press("Set equal");
        QVERIFY2(message().contains(QStringLiteral("16777215")), qPrintable(message()));
        QCOMPARE(numberOf("cup-3"), 7);
    }

    void aNumberIsTypedIntoItsRow() {
        const QModelIndex index = drawer().model().indexOf("cup-5").siblingAtColumn(ObjectsModel::Number);
        tree().setCurrentIndex(index);
        tree().edit(index);
        auto* editor = qobject_cast<QWidget*>(QApplication::focusWidget());
        QVERIFY(editor != nullptr && tree().isAncestorOf(editor));
        QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(editor, QStringLiteral("31"));
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(numberOf("cup-5"), 31);
        QCOMPARE(session().project().objects->objects.at("cup-5"), 31);
    }

    void aNumberBegunOnTheModelGivesTheKeysBack() {
        drawer().setOpen(false);
        const QPoint pixel = pixelOfObject(window().model(), "cup-9");
        QTest::mouseClick(&window().model(), Qt::LeftButton, Qt::ControlModifier, pixel);
        window().model().setFocus();
        QTest::keyClick(&window().model(), Qt::Key_3);
        QVERIFY(drawer().isOpen());
        QTest::keyClick(drawer().findChild<QLineEdit*>(), Qt::Key_Return);
        QTRY_COMPARE(numberOf("cup-9"), 3);
        QVERIFY(!drawer().isOpen());
        QCOMPARE(QApplication::focusWidget(), &window().model());
        // One that was begun and given up has no say in the next, which is typed in the open drawer.
        QTest::keyClick(&window().model(), Qt::Key_4);
        QTest::keyClick(&drawer(), Qt::Key_Escape);
        QVERIFY(!drawer().isOpen());
        QVERIFY(openDrawer());
        typeNumber("5");
        QTest::keyClick(drawer().findChild<QLineEdit*>(), Qt::Key_Return);
        QTRY_COMPARE(numberOf("cup-9"), 5);
        QVERIFY(drawer().isOpen());
    }

    void theChoiceGoesBothWays() {
        const QPoint pixel = pixelOfObject(window().model(), "cup-9");
        QVERIFY(!pixel.isNull());
        QTest::mouseClick(&window().model(), Qt::LeftButton, Qt::ControlModifier, pixel);
        QCOMPARE(session().chosenObjects(), std::set<std::string>{"cup-9"});
        const auto rows = tree().selectionModel()->selectedRows();
        QCOMPARE(rows.size(), 1);
        QCOMPARE(drawer().model().nameOf(rows.front()), std::string("cup-9"));
        const QPoint other = pixelOfObject(window().model(), "cup-22");
        QTest::mouseClick(&window().model(), Qt::LeftButton, Qt::ControlModifier, other);
        QCOMPARE(tree().selectionModel()->selectedRows().size(), 2);
        clickRow("cup-1");
        QCOMPARE(session().chosenObjects(), std::set<std::string>{"cup-1"});
        // The strip in the tuner chooses too.
        session().selectStep("differ");
        QVERIFY(settled());
        auto* strip = window().tuner().findChild<CopiesStrip*>();
        QVERIFY(strip != nullptr);
        // Its objects come from the pictures' thread.
        QVERIFY(QTest::qWaitFor([&] {
            QTest::mouseClick(strip, Qt::LeftButton, {}, strip->rectOf(3).center());
            return session().chosenObjects() == std::set<std::string>{"cup-4"};
        }));
        QCOMPARE(tree().selectionModel()->selectedRows().size(), 1);
    }

    void anObjectIsShownInFlat() {
        session().setLook("five-glazes");
        session().selectStep("differ");
        QVERIFY(settled());
        const QRgb first = window().flat().picture().pixel(window().flat().picture().rect().center());
        clickRow("cup-8");
        press("Show in Flat");
        QVERIFY(settled());
        QCOMPARE(session().project().view.object, std::string("cup-8"));
        const QRgb eighth = window().flat().picture().pixel(window().flat().picture().rect().center());
        QVERIFY(first != eighth);
        press("Show the first in Flat");
        QVERIFY(settled());
        QCOMPARE(window().flat().picture().pixel(window().flat().picture().rect().center()), first);
    }

    void numbersOfAnotherModelAreTold() {
        session().setNumbers(false, {{"a jug", 3}}, QStringLiteral("try"));
        QVERIFY(settled());
        bool isTold = false;
        for (auto* label : drawer().findChildren<QLabel*>())
            isTold =
                isTold || (label->isVisible() && label->text().contains(QStringLiteral("does not have")));
        QVERIFY(isTold);
    }
};

QTEST_MAIN(ObjectsDrawerTest)
#include "objects_drawer_test.moc"
