// A gloss map as roughness: brought in with the set, it needs no hand at all.
#include <QTemporaryDir>

#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class GlossAsRoughnessTest final : public QObject, DemoWindow {
    Q_OBJECT
    QTemporaryDir m_dir;

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void aGlossMapIsReadUpsideDown() {
        const std::filesystem::path path = m_dir.path().toStdString();
        QVERIFY(
            writePicture(path / "ladle_paint.png", 16, 16, 3, [](int x, int, int c) { return x * 8 + c; }));
        QVERIFY(writePicture(path / "ladle_smoothness.png", 16, 16, 1,
                             [](int, int y, int) { return y < 8 ? 51 : 204; }));
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        Hands bringing;  // bringing the set in is a job of its own
        bringing.drop({m_dir.path()}, *window().centralWidget());
        QVERIFY(QTest::qWaitFor([&] { return window().bringSheet().plan() != nullptr; }, 30000));
        bringing.click(window().bringSheet().acceptButton());
        QVERIFY(settled());
        const Line* line = session().project().lineOfChannel("roughness");
        QVERIFY(line != nullptr);
        const auto at = [&](float v) {
            return probe(session().project(), "", line->id, "", 0.5f, v, session().resources())->linear[0];
        };
        QVERIFY(std::fabs(at(0.25f) - (1 - 204 / 255.0f)) < 1e-5f);
        QVERIFY(std::fabs(at(0.75f) - (1 - 51 / 255.0f)) < 1e-5f);
    }
};

QTEST_MAIN(GlossAsRoughnessTest)
#include "gloss_as_roughness_story_test.moc"
