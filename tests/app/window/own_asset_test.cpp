// An own asset from the desktop to new maps: brought in by drop, corrected, tuned, saved, moved as a folder,
// opened again and exported, in the window.
#include <QPushButton>
#include <QTemporaryDir>

#include "app/bringin/bring_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/fields/number_field.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class OwnAssetTest final : public QObject, DemoWindow {
    Q_OBJECT
    QTemporaryDir m_dir;

    static void write(const fs::path& path) {
        writeStove(path);
        for (const auto& [stem, red] : {std::pair{"stove-body", 180}, {"stove-rings", 90}}) {
            QVERIFY(writePicture(path / (std::string(stem) + "-colour.png"), 32, 32, 3,
                                 [red = red](int, int, int c) { return c == 0 ? red : 40; }));
            QVERIFY(writePicture(path / (std::string(stem) + "-shine.png"), 32, 32, 1,
                                 [](int x, int, int) { return 30 + x; }));
        }
    }
    QComboBox* roleOf(const QString& file) {
        for (auto* box : window().bringSheet().findChildren<QComboBox*>())
            if (box->accessibleName() == QStringLiteral("What %1 becomes").arg(file)) return box;
        return nullptr;
    }
    static void choose(QComboBox& box, const QString& id) {
        box.setCurrentIndex(box.findData(id));
        Q_EMIT box.activated(box.currentIndex());
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void whatIsChosenInTheSheetIsWhatComesIn() {
        const fs::path asset = fs::path(m_dir.path().toStdString()) / "choices";
        fs::create_directories(asset);
        for (const char* role : {"color", "rough", "height"})
            QVERIFY(writePicture(asset / (std::string("pan_") + role + ".png"), 16, 16, 3,
                                 [](int x, int y, int c) { return x * 9 + y + c; }));
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        BringSheet& sheet = window().bringSheet();
        sheet.open({QString::fromStdString(asset.string())});
        QVERIFY(QTest::qWaitFor([&] { return sheet.plan() != nullptr; }, 30000));
        choose(*roleOf(QStringLiteral("pan_rough.png")), QStringLiteral("own"));
        choose(*roleOf(QStringLiteral("pan_height.png")), QStringLiteral("out"));
        QTest::mouseClick(&sheet.acceptButton(), Qt::LeftButton);
        const Project& p = session().project();
        QVERIFY(p.lineOfChannel("base-colour") != nullptr);
        QVERIFY(p.lineOfChannel("roughness") == nullptr);
        QVERIFY(p.lineOfChannel("height") == nullptr);
        QCOMPARE(p.sets[0]->maps.size(), std::size_t{2});
        QVERIFY(p.findLine("pan-rough") != nullptr && p.findLine("pan-rough")->channel.empty());
        QVERIFY(settled());
        m_window.reset();
    }
    void fromTheDesktopToNewMaps() {
        const fs::path root = m_dir.path().toStdString(), asset = root / "asset";
        fs::create_directories(asset);
        write(asset);
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
        Hands hands;
        hands.drop({QString::fromStdString(asset.string())}, *window().centralWidget());
        BringSheet& sheet = window().bringSheet();
        QVERIFY(QTest::qWaitFor([&] { return sheet.plan() != nullptr; }, 30000));

        // "shine" says nothing to anybody: corrected by hand, for both sets.
        for (const char* file : {"stove-body-shine.png", "stove-rings-shine.png"}) {
            QComboBox* role = roleOf(QString::fromLatin1(file));
            QVERIFY(role != nullptr);
            choose(*role, QStringLiteral("gloss"));
        }
        hands.click(sheet.acceptButton());
        QVERIFY(settled());
        QCOMPARE(session().project().surfaces.size(), std::size_t{2});
        const std::string body = session().project().surfaces[0]->id,
                          rings = session().project().surfaces[1]->id;
        for (const std::string& id : {body, rings}) {
            QVERIFY(session().project().lineOfChannel("base-colour", id) != nullptr);
            QCOMPARE(session().project().lineOfChannel("roughness", id)->steps.back()->type,
                     std::string("invert"));
        }

        // Tuned: the rings alone, in a look that begins by itself.
        const Line& line = *session().project().lineOfChannel("base-colour", rings);
        session().insertStep(line.id, 1, "hsv-shift");
        auto* hue = control<NumberField>("field-hue");
        hue->setFocus();
        hue->selectAll();
        QTest::keyClicks(hue, QStringLiteral("120"));
        QTest::keyClick(hue, Qt::Key_Return);
        const std::string look = session().look();
        QVERIFY(!look.empty());

        // Saved beside its maps, moved as a whole, opened again.
        QVERIFY(session().save(QString::fromStdString((asset / "stove.palekettle").string())));
        const Project saved = session().project();
        fs::rename(asset, root / "moved");
        QVERIFY(session().open(QString::fromStdString((root / "moved" / "stove.palekettle").string())));
        QVERIFY(settled());
        QCOMPARE(window().model().state(), QStringLiteral("current"));
        QVERIFY(session().project().lines == saved.lines && session().project().surfaces == saved.surfaces);
        QCOMPARE(fs::path(session().project().view.model).parent_path(), root / "moved");

        // Exported: both surfaces, the look alone.
        session().setLook(look);
        QTest::keyClick(&window(), Qt::Key_E, Qt::ControlModifier);
        ExportSheet& exporting = window().exportSheet();
        QVERIFY(exporting.isVisible());
        exporting.setFolder(QString::fromStdString((root / "out").string()));
        QPushButton* start = nullptr;
        for (auto* button : exporting.findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Export")) start = button;
        QVERIFY(start != nullptr && start->isEnabled());
        QVERIFY(start->hasFocus());
        hands.chord(Qt::Key_Return);  // Enter does what the sheet is for
        QVERIFY(exporting.isRunning() || !exporting.isVisible());
        QVERIFY(QTest::qWaitFor([&] { return !exporting.isRunning(); }, 30000));
        const auto codes = [&](const std::string& surface) {
            const auto picture = readImage(root / "out" / (surface + "_" + look + "_base-colour.png"));
            return picture
                       ? std::vector<int>{picture->row<std::uint8_t>(0)[0], picture->row<std::uint8_t>(0)[1],
                                          picture->row<std::uint8_t>(0)[2]}
                       : std::vector<int>{};
        };
        QCOMPARE(codes(body), (std::vector<int>{180, 40, 40}));  // as received
        QCOMPARE(codes(rings), (std::vector<int>{40, 90, 40}));  // a third of a turn: red is green
        QVERIFY(fs::exists(root / "out" / (rings + "_" + look + "_roughness.png")));
    }
};

QTEST_MAIN(OwnAssetTest)
#include "own_asset_test.moc"
