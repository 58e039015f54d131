// A set of many tiles in the window: it is seen while it is read, the window says how far, and in the end all
// is there.
#include <QStatusBar>
#include <QTemporaryDir>
#include <fstream>
#include <set>

#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "tests/support/demo_window.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

class TilesArrivingTest final : public QObject, DemoWindow {
    Q_OBJECT

    static constexpr int kTiles = 24;
    QTemporaryDir m_dir;

    static int redOf(int tile) { return 30 + 9 * tile; }
    fs::path set() const { return fs::path(m_dir.path().toStdString()) / "deck"; }
    QString project() const { return m_dir.filePath(QStringLiteral("deck.palekettle")); }
    /// What the status bar says, piece by piece.
    bool says(const QString& words) {
        for (const QLabel* label : window().statusBar()->findChildren<QLabel*>())
            if (label->text().contains(words)) return true;
        return false;
    }

private Q_SLOTS:
    void initTestCase() {
        fs::create_directories(set());
        for (int i = 0; i < kTiles; ++i)
            QVERIFY(
                writePicture(set() / ("deck_color." + std::to_string(1001 + i % 10 + 10 * (i / 10)) + ".png"),
                             1024, 1024, 3, [i](int x, int y, int c) {
                                 return c == 0 ? redOf(i) : (x * 7 + y * 13) % 90;  // takes a while to read
                             }));
        // A plate in each tile.
        std::ofstream model(m_dir.filePath(QStringLiteral("deck.obj")).toStdString());
        for (int i = 0; i < kTiles; ++i) {
            const int x = i % 10, y = i / 10;
            for (int k = 0; k < 4; ++k) {
                const double u = k == 1 || k == 2 ? 0.99 : 0.01, v = k >= 2 ? 0.99 : 0.01;
                model << "v " << x * 5 + u * 5 << " " << y * 5 + v * 5 << " 0\nvt " << x + u << " " << y + v
                      << "\n";
            }
            const int a = 4 * i + 1;
            model << "f " << a << "/" << a << " " << a + 1 << "/" << a + 1 << " " << a + 2 << "/" << a + 2
                  << " " << a + 3 << "/" << a + 3 << "\n";
        }
    }
    void init() {
        m_window = std::make_unique<MainWindow>(kData);
        window().show();
        QVERIFY(QTest::qWaitForWindowExposed(&window()));
    }
    void cleanup() { m_window.reset(); }

    void itIsSeenWhileItIsRead() {
        std::set<std::size_t> counts;
        bool saidSo = false, wasLit = false;
        connect(&session(), &Session::mapsArrived, this, [&] {
            counts.insert(session().arrived().read);
            saidSo =
                saidSo || (says(QStringLiteral("Reading the maps")) && session().arrived().all == kTiles);
        });
        connect(&window().pictures(), &PictureService::modelReady, this,
                [&] { wasLit = wasLit || session().arrived().all > 0; });
        session().bringIn(QString::fromStdString(set().string()));
        QTRY_VERIFY_WITH_TIMEOUT(!session().project().lines.empty(), 30000);
        session().takeModel(m_dir.filePath(QStringLiteral("deck.obj")));
        QTRY_VERIFY_WITH_TIMEOUT(session().arrived().all == 0 && !counts.empty(), 60000);
        QVERIFY(settled());
        QVERIFY2(saidSo && counts.size() > 1, "the status bar did not say how far it is");
        QVERIFY(says(QStringLiteral("MB of maps")));
        // Every tile shows itself now, and not what stood in for it.
        const Line* line = session().project().lineOfChannel("base-colour");
        for (const int i : {0, 9, 13, kTiles - 1}) {
            const int tile = 1001 + i % 10 + 10 * (i / 10);
            window().flat().showTile(tile);
            QTRY_VERIFY(window().flat().isCurrent());
            QVERIFY(settled());
            const QImage& picture = window().flat().picture();
            QVERIFY2(std::abs(picture.pixelColor(picture.rect().center()).red() - redOf(i)) <= 1,
                     qPrintable(QStringLiteral("tile %1 is %2")
                                    .arg(tile)
                                    .arg(picture.pixelColor(picture.rect().center()).red())));
        }
        QVERIFY(line != nullptr && session().save(project()));
        QVERIFY(wasLit || counts.size() < 3);  // a quick machine may have them all before the model
    }
    void largeMapsAreSeenOneAfterTheOther() {
        const fs::path hull = fs::path(m_dir.path().toStdString()) / "hull";
        fs::create_directories(hull);
        QVERIFY(writePicture(hull / "hull_color.png", 2500, 2500, 3,
                             [](int, int, int c) { return c == 0 ? 200 : 40; }));
        QVERIFY(writePicture(hull / "hull_roughness.png", 2500, 2500, 1,
                             [](int x, int y, int) { return (x * 7 + y * 13) % 90; }));
        for (const char* other : {"hull_height.png", "hull_ao.png", "hull_opacity.png", "hull_specular.png"})
            fs::create_hard_link(hull / "hull_roughness.png", hull / other);
        const QString saved = m_dir.filePath(QStringLiteral("hull.palekettle"));
        session().bringIn(QString::fromStdString(hull.string()));
        QTRY_VERIFY_WITH_TIMEOUT(!session().project().lines.empty(), 30000);
        QVERIFY(session().save(saved));
        init();  // a window that has read nothing yet
        std::set<QString> states;
        bool saidSo = false;
        connect(&session(), &Session::readingMaps, this,
                [&] { saidSo = saidSo || says(QStringLiteral("Reading the maps: ")); });
        connect(&window().pictures(), &PictureService::modelReady, this,
                [&] { states.insert(window().model().state()); });
        QVERIFY(session().open(saved));
        QTRY_VERIFY_WITH_TIMEOUT(saidSo && session().arrived().all == 0, 60000);
        QVERIFY(settled());
        QCOMPARE(window().model().state(), QStringLiteral("current"));
        QVERIFY(!states.contains(QStringLiteral("map missing")));
        QVERIFY(says(QStringLiteral("MB of maps")));
        // What stood in for the roughness (a half) is gone.
        const Line* line = session().project().lineOfChannel("roughness");
        QVERIFY(line != nullptr);
        session().selectStep(line->steps[0]->id);
        QTRY_VERIFY(window().flat().isCurrent());
        QVERIFY(settled());
        const QImage& picture = window().flat().picture();
        for (const double at : {0.3, 0.5, 0.7}) {
            const QColor colour = picture.pixelColor(int(at * picture.width()), int(at * picture.height()));
            QVERIFY2(colour.red() < 100, qPrintable(colour.name()));
        }
    }
    void aTileThatIsBrokenIsNamedInTheEnd() {
        const fs::path broken = set() / "deck_color.1008.png";
        fs::rename(broken, broken.string() + ".kept");
        std::ofstream(broken) << "no picture";
        QVERIFY(session().open(project()));
        QTRY_VERIFY_WITH_TIMEOUT(session().arrived().all == 0 && window().isSettled(), 60000);
        QVERIFY(settled());
        QCOMPARE(window().model().state(), QStringLiteral("map missing"));
        bool isNamed = false;
        for (const QWidget* chip : window().model().findChildren<QWidget*>())
            isNamed = isNamed || chip->toolTip().contains(QStringLiteral("deck_color.1008.png"));
        QVERIFY(isNamed);
        fs::rename(broken.string() + ".kept", broken);
    }
    void closingTheWindowMeanwhileEndsTheReading() {
        QVERIFY(session().open(project()));
        QTest::qWait(50);
        m_window.reset();
    }
};

QTEST_MAIN(TilesArrivingTest)
#include "tiles_arriving_test.moc"
