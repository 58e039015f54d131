// Own asset in: a model with two materials and a folder with both its sets, from the desktop into an empty
// window, roles looked at, and seen lit.
#include <QTemporaryDir>

#include "app/bringin/bring_sheet.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class OwnAssetInTest final : public QObject, DemoWindow {
    Q_OBJECT
    QTemporaryDir m_dir;

    /// Two sets in one folder, under a naming habit of our own.
    void writeSets(const fs::path& folder) {
        fs::create_directories(folder);
        for (const auto& [stem, red, blue] : {std::tuple{"GS2_Body", 200, 20}, {"GS2_Rings", 20, 200}}) {
            QVERIFY(writePicture(folder / (std::string(stem) + "_v03_4k.png"), 32, 32, 3,
                                 [=](int, int, int c) { return c == 0   ? red
                                                               : c == 2 ? blue
                                                                        : 30; }));
            QVERIFY(writePicture(folder / (std::string(stem) + "_Glossy_v03_4k.png"), 32, 32, 1,
                                 [](int x, int y, int) { return 40 + x + y; }));
            QVERIFY(writePicture(folder / (std::string(stem) + "_Nmap_v03_4k.png"), 32, 32, 3,
                                 [](int x, int, int c) { return c == 2 ? 255 : 126 + x % 4; }));
        }
    }
    /// How many pixels of the lit picture are clearly more red than blue, or the reverse.
    static std::pair<int, int> redAndBlue(const QImage& picture) {
        int red = 0, blue = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) {
                const QColor c = picture.pixelColor(x, y);
                red += c.red() > c.blue() + 40 ? 1 : 0;
                blue += c.blue() > c.red() + 40 ? 1 : 0;
            }
        return {red, blue};
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void aModelAndItsSets() {
        const fs::path path = m_dir.path().toStdString();
        const fs::path model = writeStove(path / "model");
        writeSets(path / "maps");
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));

        Hands hands;
        hands.drop({QString::fromStdString(model.string()), QString::fromStdString((path / "maps").string())},
                   *window().centralWidget());
        BringSheet& sheet = window().bringSheet();
        QVERIFY(sheet.isVisible());
        QVERIFY(QTest::qWaitFor([&] { return sheet.plan() != nullptr; }, 30000));
        // Looked at: both sets have found their surface, and every role has its reason.
        for (const PlannedSet& set : sheet.plan()->sets) {
            QVERIFY(set.drives);
            QCOMPARE(set.surface, set.name.find("ring") != std::string::npos ? std::string("stove_rings")
                                                                             : std::string("stove_body"));
            for (const PlannedMap& map : set.maps)
                QVERIFY2(map.name.isKnown && !map.name.reason.empty(), map.name.pattern.c_str());
        }
        hands.click(sheet.acceptButton());
        QVERIFY(!sheet.isVisible());
        QVERIFY(settled());
        QCOMPARE(session().project().surfaces.size(), std::size_t{2});
        for (const auto& surface : session().project().surfaces)
            for (const char* channel : {"base-colour", "roughness", "normal"})
                QVERIFY2(session().project().lineOfChannel(channel, surface->id) != nullptr, channel);
        const auto [red, blue] = redAndBlue(window().model().picture());
        QVERIFY2(red > 400 && blue > 200, qPrintable(QStringLiteral("%1 red, %2 blue").arg(red).arg(blue)));
    }
};

QTEST_MAIN(OwnAssetInTest)
#include "own_asset_in_story_test.moc"
