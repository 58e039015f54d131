// Replace a set: the same asset comes with new maps; all work stays.
#include <QTemporaryDir>

#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class ReplaceASetTest final : public QObject, DemoWindow {
    Q_OBJECT
    QTemporaryDir m_dir;

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void newMapsUnderOldWork() {
        // Other names, the same roles; the base colour is plain blue.
        const std::filesystem::path path = m_dir.path().toStdString();
        QVERIFY(
            writePicture(path / "pot_diff.png", 16, 16, 3, [](int, int, int c) { return c == 2 ? 255 : 0; }));
        QVERIFY(writePicture(path / "pot_gls.png", 16, 16, 1, [](int, int, int) { return 128; }));
        const Project before = session().project();

        Hands hands;
        hands.drop({m_dir.path()}, board(), board().cardRect("s1").center());
        BringSheet& sheet = window().bringSheet();
        QVERIFY(sheet.isVisible());
        QVERIFY(QTest::qWaitFor([&] { return sheet.plan() != nullptr; }, 30000));
        hands.click(sheet.acceptButton());
        QVERIFY(!sheet.isVisible());

        const Project& after = session().project();
        QVERIFY(after.lines == before.lines && after.looks == before.looks);
        QCOMPARE(findMap(*after.sets[0], "base-colour")->file, std::string("pot_diff.png"));
        const auto value = probe(after, "", "base-colour", "s1", 0.3f, 0.3f, session().resources());
        QVERIFY(value.has_value());
        QCOMPARE(value->linear[2], 1.0f);
        QCOMPARE(value->linear[0], 0.0f);
        // What the new set lacks still reads the old files, and that is told.
        QVERIFY(probe(after, "", "normal", "", 0.3f, 0.3f, session().resources()).has_value());
        QVERIFY2(message().contains(QStringLiteral("The new set has no normal")), qPrintable(message()));
        // One entry in the history: one undo brings the old maps back.
        session().undo();
        QVERIFY(session().project() == before);
    }
};

QTEST_MAIN(ReplaceASetTest)
#include "replace_a_set_story_test.moc"
