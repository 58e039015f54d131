// The drawer Checks in the whole window: what it counts, how it opens, and where a click leads.
#include "app/checks/checks_drawer.h"

#include <QListWidget>
#include <QScrollArea>
#include <QStatusBar>
#include <QToolButton>

#include "app/style/theme.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class ChecksDrawerTest final : public QObject, DemoWindow {
    Q_OBJECT

    QToolButton* chip() { return window().statusBar()->findChild<QToolButton*>(QStringLiteral("status")); }
    QListWidget& list() { return window().checks().list(); }
    int rowOf(const QString& words) {
        for (int i = 0; i < list().count(); ++i)
            if (list().item(i)->text().contains(words)) return i;
        return -1;
    }
    void click(int row) {
        QTest::mouseClick(list().viewport(), Qt::LeftButton, {},
                          list().visualItemRect(list().item(row)).center());
    }
    /// The base colour's file is gone.
    void breakMap() {
        Project broken = session().project();
        broken.sets[0].edit().maps[0].file = "gone.png";
        session().apply(broken, QStringLiteral("Break"));
    }
    bool slidTo(int x) {
        return QTest::qWaitFor([&] { return window().checks().x() == x; }, 5000);
    }

    /// Open, with what was found in the demo.
    bool open() {
        window().checks().setOpen(true);
        return slidTo(0) &&
               QTest::qWaitFor([this] { return rowOf(QStringLiteral("HSV shift")) >= 0; }, 60000);
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void hintsAreListedButNotCounted() {
        QVERIFY(open());
        QVERIFY(list().count() >= 3);
        QCOMPARE(window().checks().toLookAt(), 0);
        QCOMPARE(chip()->text(), QStringLiteral("checks"));
        session().setLook("celadon");  // in it the shift works
        QVERIFY(QTest::qWaitFor([this] { return rowOf(QStringLiteral("HSV shift")) < 0; }, 20000));
    }
    void aMissingMapComesFirstAndIsCounted() {
        QVERIFY(open());
        breakMap();
        QVERIFY(QTest::qWaitFor([&] { return window().checks().toLookAt() > 0; }, 20000));
        QVERIFY(chip()->text().contains(QString::number(window().checks().toLookAt())));
        QVERIFY2(list().item(0)->text().contains(QStringLiteral("gone.png")),
                 qPrintable(list().item(0)->text()));
        QVERIFY(list().item(0)->data(Qt::AccessibleTextRole).toString().startsWith(QStringLiteral("error")));
        session().undo();
        QVERIFY(QTest::qWaitFor([&] { return window().checks().toLookAt() == 0; }, 20000));
    }
    /// Rows are made when somebody looks at them.
    void whatWasFoundBeforeItOpensIsListed() {
        breakMap();
        QVERIFY(QTest::qWaitFor([&] { return window().checks().toLookAt() > 0; }, 20000));
        QVERIFY(rowOf(QStringLiteral("gone.png")) < 0);
        window().checks().setOpen(true);
        QVERIFY(slidTo(0));
        QVERIFY(rowOf(QStringLiteral("gone.png")) >= 0);
    }
    /// Of very many the first few hundred are listed, the worst first, and all are counted.
    void ofVeryManyTheRestIsCounted() {
        QVERIFY(open());
        auto many = std::make_shared<std::vector<Finding>>();
        for (int i = 0; i < 1200; ++i) {
            Finding f;
            f.severity = i == 1100 ? Severity::Error : i % 2 == 0 ? Severity::Warning : Severity::Hint;
            f.sentence = "finding " + std::to_string(i);
            many->push_back(f);
        }
        window().checks().setFindings(many);
        QCOMPARE(window().checks().toLookAt(), 600);
        QCOMPARE(list().count(), 501);
        QCOMPARE(list().item(0)->text(), QStringLiteral("finding 1100"));
        QVERIFY(list().item(500)->text().contains(QStringLiteral("700")));
        const std::string before = session().selectedStep();
        Q_EMIT list().itemClicked(list().item(500));  // leads nowhere
        QCOMPARE(session().selectedStep(), before);
    }
    void itOpensAndClosesByKeyChipAndEsc() {
        QVERIFY(!window().checks().isVisible());
        QTest::keyClick(&window(), Qt::Key_F8);
        QVERIFY(window().checks().isOpen());
        QVERIFY(slidTo(0));
        QTest::keyClick(&list(), Qt::Key_Escape);
        QVERIFY(!window().checks().isOpen());
        QVERIFY(QTest::qWaitFor([&] { return !window().checks().isVisible(); }, 5000));
        QTest::mouseClick(chip(), Qt::LeftButton);
        QVERIFY(slidTo(0));
        QTest::mouseClick(chip(), Qt::LeftButton);
        QVERIFY(!window().checks().isOpen());
    }
    /// Rows are made for those who look: what came while it was closed is counted, and listed as it opens.
    void whatIsFoundWhileItIsClosedIsListedOnceItOpens() {
        QVERIFY(open());
        window().checks().setOpen(false);
        Finding f;
        f.severity = Severity::Warning, f.sentence = "the ferry's lamp is out";
        window().checks().setFindings(std::make_shared<std::vector<Finding>>(3, f));
        QCOMPARE(window().checks().toLookAt(), 3);
        QVERIFY(rowOf(QStringLiteral("lamp")) < 0);
        QTest::keyClick(&window(), Qt::Key_F8);
        QCOMPARE(list().count(), 3);
        QVERIFY(rowOf(QStringLiteral("lamp")) >= 0);
    }
    void aClickGoesThere() {
        session().selectStep("s1");
        QVERIFY(open());
        click(rowOf(QStringLiteral("HSV shift")));
        QCOMPARE(session().selectedStep(), std::string("glaze"));
        click(rowOf(QStringLiteral("Wear")));
        QCOMPARE(session().selectedLine()->name, std::string("Wear"));
        list().setCurrentRow(rowOf(QStringLiteral("Ramp remap")));
        QTest::keyClick(&list(), Qt::Key_Return);
        QCOMPARE(session().selectedStep(), std::string("wetness"));
    }
    void aMissingMapLeadsToTheStepThatReadsIt() {
        QVERIFY(open());
        breakMap();
        QVERIFY(QTest::qWaitFor([&] { return rowOf(QStringLiteral("gone.png")) >= 0; }, 20000));
        session().selectStep("glaze");
        click(rowOf(QStringLiteral("gone.png")));
        QCOMPARE(session().selectedStep(), std::string("s1"));
    }
    void itIsAsHighAsTheBoardWhateverItsSize() {
        window().checks().setOpen(true);
        QVERIFY(slidTo(0));
        window().resize(1280, 1000);
        QVERIFY(QTest::qWaitFor(
            [&] { return window().checks().height() == window().checks().parentWidget()->height(); }, 5000));
        QVERIFY(window().checks().isVisible());
    }
};

QTEST_MAIN(ChecksDrawerTest)
#include "checks_drawer_test.moc"
