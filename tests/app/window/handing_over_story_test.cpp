// What an artist comes to decide and to hand over: candidates side by side, kept and
// on paper; all looks out as maps and as one model.
#include <QComboBox>
#include <QImage>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/explore/candidate_grid.h"
#include "app/explore/explore_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/fields/number_field.h"
#include "app/style/theme.h"
#include "core/document/json.h"
#include "core/exchange/library.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class HandingOverTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    ExploreSheet& explore() { return window().explore(); }
    CandidateGrid& grid() { return explore().grid(); }
    bool shown() {
        return QTest::qWaitFor([this] { return explore().isCurrent(); }, 60000);
    }
    bool exported() {
        return QTest::qWaitFor([this] { return !window().exportSheet().isRunning(); }, 120000);
    }
    /// The demo in a folder of its own, which may be written to.
    bool openCopy() {
        const std::filesystem::path to = m_folder->path().toStdString();
        std::error_code code;
        std::filesystem::copy(kData, to / "data", std::filesystem::copy_options::recursive, code);
        return !code &&
               session().open(QString::fromStdString((to / "data" / "ferry-kitchen.palekettle").string()));
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(openDemo());
        QVERIFY(openCopy());
        session().setLook("celadon");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void whichHue() {
        clickCard("glaze");
        QVERIFY(settled());
        const double before = number("glaze", "hue");
        Hands hands;
        auto* slider = control<ValueSlider>("slider-hue");
        hands.openMenu(*slider, slider->rect().center());
        QVERIFY(hands.choose(QStringLiteral("Explore across")));
        QVERIFY(shown());
        const int wanted = 7;
        const double hue = std::get<double>(grid().candidates().all[wanted].changes.at("glaze.hue"));
        hands.click(grid(), grid().pictureRect(wanted).center());
        QVERIFY(!explore().isVisible());
        QCOMPARE(number("glaze", "hue"), hue);
        QVERIFY(hue != before);
    }

    void fourOptionsInAMeeting() {
        // A kettle that can be wetted: the shipped recipe stands on its line, dry.
        const LibraryEntry wetter =
            readEntry(kData / "library" / "recipes" / "wetter.recipe.json", EntryOrigin::Shipped);
        clickCard("glaze");
        session().addRecipe(std::get<Recipe>(wetter.content));
        const std::string wet = session().selectedStep();
        session().setControl(wet, "how-wet", 0.0);
        session().selectStep(session().project().lineOfChannel("base-colour")->steps.front()->id);
        QVERIFY(settled());
        const std::size_t looks = session().project().looks.size();
        Hands hands;
        hands.click(board(), board().cardRect("glaze").center());
        hands.click(board(), board().cardRect(wet).center(), Qt::ControlModifier);
        QVERIFY(settled());
        board().setFocus();
        hands.chord(Qt::Key_E);
        QVERIFY(shown());
        // Three colours along the dry row, then down to a wet one: one drag.
        const CandidateGrid& all = grid();
        QCOMPARE(all.candidates().columns, 4);
        const auto middle = [&](int index) { return all.pictureRect(index).center(); };
        QTest::mousePress(&grid(), Qt::LeftButton, {}, middle(0));
        for (const int index : {1, 2, 6}) {
            QMouseEvent move(QEvent::MouseMove, middle(index), grid().mapToGlobal(middle(index)),
                             Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&grid(), &move);
        }
        QTest::mouseRelease(&grid(), Qt::LeftButton, {}, middle(6));
        QCOMPARE(grid().chosen(), (std::vector<int>{0, 1, 2, 6}));
        QPushButton* keep = nullptr;
        for (auto* button : explore().findChildren<QPushButton*>())
            if (button->text().startsWith(QStringLiteral("Keep 4, contact sheet"))) keep = button;
        QVERIFY(keep != nullptr);
        hands.click(*keep);
        QCOMPARE(session().project().looks.size(), looks + 4);
        QVERIFY(window().exportSheet().isVisible());
        hands.click(window().exportSheet().startButton());
        QVERIFY(exported());
        const QString file = m_folder->filePath(QStringLiteral("data/exported/contact-sheet.png"));
        const QImage sheet(file);
        QVERIFY2(!sheet.isNull(), qPrintable(message()));
        // Four pictures in two columns: those that were kept, and no others.
        QVERIFY2(sheet.width() > 1280 && sheet.width() < 1500, qPrintable(QString::number(sheet.width())));
        // Kept as they were seen: three dry hues and a wet one.
        const auto& kept = session().project().looks;
        QCOMPARE(std::get<double>(kept[looks]->changes.at("glaze.hue")), -180.0);
        QVERIFY(std::get<double>(kept[looks + 3]->changes.at(wet + ".how-wet")) > 0.4);
    }

    void allLooksOut() {
        Hands hands;
        board().setFocus();
        // As packed maps, then as one GLB with variants.
        hands.chord(Qt::Key_E, Qt::ControlModifier);
        QVERIFY(window().exportSheet().isVisible());
        auto* packed = window().exportSheet().findChild<QToolButton*>(QStringLiteral("all-packed"));
        QVERIFY(packed != nullptr);
        hands.click(*packed);
        hands.click(window().exportSheet().startButton());
        QVERIFY(exported());
        QVERIFY2(message().contains(QStringLiteral("Exported")), qPrintable(message()));
        const QString folder = m_folder->filePath(QStringLiteral("data/exported/"));
        for (const auto& look : session().project().looks) {
            const QStringList found = QDir(folder).entryList(
                {QStringLiteral("*_%1_surface.png").arg(QString::fromStdString(look->id))});
            QCOMPARE(found.size(), 1);
            QVERIFY2(!QImage(folder + found.front()).isNull(), look->id.c_str());
        }
        QVERIFY(QFile::exists(folder + QStringLiteral("ferry-kitchen.glb")));
    }
};

QTEST_MAIN(HandingOverTest)
#include "handing_over_story_test.moc"
