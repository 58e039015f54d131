// The sheet of candidates: from a control's menu and from the strip, ranges by their handles, how many, what
// is chosen, taken and kept; free by seed; and that it shows what the looks will be.
#include "app/explore/explore_sheet.h"

#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "app/explore/axis_bar.h"
#include "app/explore/candidate_grid.h"
#include "app/fields/number_field.h"
#include "app/fields/range_slider.h"
#include "app/looks/looks_strip.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/shading/preview.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class ExploreSheetTest final : public QObject, DemoWindow {
    Q_OBJECT

    ExploreSheet& sheet() { return window().explore(); }
    CandidateGrid& grid() { return sheet().grid(); }
    bool shown() {
        return QTest::qWaitFor([this] { return sheet().isCurrent(); }, 60000);
    }
    double hueOf(int index) {
        return std::get<double>(
            grid().candidates().all[static_cast<std::size_t>(index)].changes.at("glaze.hue"));
    }
    void point(int index) {
        QTest::mouseMove(&grid(), grid().pictureRect(index).center());
        QCoreApplication::processEvents();
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        session().setLook("celadon");
        clickCard("glaze");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void fromAControlsMenuAcrossAndDown() {
        Hands hands;
        auto* slider = control<ValueSlider>("slider-hue");
        hands.openMenu(*slider, slider->rect().center());
        QVERIFY(QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
        QVERIFY(hands.choose(QStringLiteral("Explore across")));
        QVERIFY(sheet().isVisible());
        QCOMPARE(grid().candidates().all.size(), std::size_t{12});
        QVERIFY(shown());
        // Each tells its value and how far it is from the look; the look's own hue is nearest.
        QVERIFY2(grid().wordsOf(0).contains(QStringLiteral("ΔE")), qPrintable(grid().wordsOf(0)));
        sheet().explore("glaze", "saturation", true);
        QCOMPARE(grid().candidates().rows, 3);
        QVERIFY(shown());
        // Its pictures are those of the look that each would be.
        const PreviewSide wanted{
            *withCandidate(session().project(), "celadon", grid().candidates().all[5]), "celadon", {}};
        QVERIFY(!(wanted.project == session().project()));
    }

    void whatIsShownIsWhatItWillBe() {
        sheet().explore("glaze", "hue", false);
        QVERIFY(shown());
        const QImage seen = grid().grab(grid().pictureRect(7).adjusted(4, 4, -4, -4)).toImage();
        Preview fresh(kData / "models", kData / "environments");
        PreviewRequest r;
        r.project = *withCandidate(session().project(), "celadon", grid().candidates().all[7]);
        r.look = "celadon";
        const QSize size = grid().pictureSize();
        r.width = size.width(), r.height = size.height();
        r.camera = window().model().camera();
        const double own = static_cast<double>(window().model().width()) / window().model().height();
        r.camera.distance *=
            static_cast<float>(std::max(1.0, own / (static_cast<double>(r.width) / r.height)));
        Picture picture;
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            picture = *fresh.render(r, session().resources(), stage);
        for (int y = 0; y < seen.height(); y += 7)
            for (int x = 0; x < seen.width(); x += 7)
                QCOMPARE(seen.pixel(x, y),
                         picture.pixels[static_cast<std::size_t>((y + 4) * r.width + x + 4)]);
    }

    void rangesByTheirHandles() {
        sheet().explore("glaze", "hue", false);
        RangeSlider& range = sheet().across().range();
        const double first = hueOf(0);
        const QPoint from(static_cast<int>(range.positionOf(range.low())), range.height() / 2);
        drag(range, from, QPoint(static_cast<int>(range.positionOf(0)), range.height() / 2));
        QVERIFY(std::abs(range.low()) < 8);
        QVERIFY(hueOf(0) > first + 100);
        QVERIFY(std::abs(hueOf(11) - range.high()) < 1.1);
        // With the keys: the other end, five steps back.
        range.setFocus();
        QTest::keyClick(&range, Qt::Key_Space);
        const double high = range.high();
        QTest::keyClick(&range, Qt::Key_Left);
        QVERIFY(range.high() != high || range.low() != 0);
        QVERIFY(shown());
        QCOMPARE(session().history().position(), session().history().size() - 1);
    }

    void theWheelChangesHowMany() {
        sheet().explore("glaze", "hue", false);
        const auto wheel = [&](int by) {
            const QPointF at = grid().rect().center();
            QWheelEvent event(at, grid().mapToGlobal(at), {}, {0, by}, Qt::NoButton, Qt::NoModifier,
                              Qt::NoScrollPhase, false);
            QApplication::sendEvent(&grid(), &event);
        };
        wheel(-120);
        QCOMPARE(grid().candidates().all.size(), std::size_t{16});
        for (int i = 0; i < 6; ++i) wheel(-120);
        QCOMPARE(grid().candidates().all.size(), std::size_t{48});
        QVERIFY(shown());
        for (int i = 0; i < 20; ++i) QTest::keyClick(&grid(), Qt::Key_Minus);
        QCOMPARE(grid().candidates().all.size(), std::size_t{4});
        QVERIFY(shown());
    }

    void aClickTakesIt() {
        sheet().explore("glaze", "hue", false);
        QVERIFY(shown());
        const double hue = hueOf(4);
        QTest::mouseClick(&grid(), Qt::LeftButton, {}, grid().pictureRect(4).center());
        QVERIFY(!sheet().isVisible());
        QCOMPARE(number("glaze", "hue"), hue);
        QCOMPARE(session().look(), std::string("celadon"));
        session().undo();
        QVERIFY(number("glaze", "hue") != hue);
        // Enter does the same; Esc takes nothing.
        sheet().explore("glaze", "hue", false);
        QTest::keyClick(&grid(), Qt::Key_Home);
        QTest::keyClick(&grid(), Qt::Key_Escape);
        QVERIFY(!sheet().isVisible());
        QVERIFY(number("glaze", "hue") != hue);
    }

    void severalAreKeptAsLooks() {
        sheet().explore("glaze", "hue", false);
        QVERIFY(shown());
        const std::size_t before = session().project().looks.size();
        point(1);
        QVERIFY(grid().keepButton().isVisible() && grid().takeButton().isVisible());
        QTest::mouseClick(&grid().keepButton(), Qt::LeftButton);
        QCOMPARE(session().project().looks.size(), before + 1);
        QVERIFY(sheet().isVisible());
        // A drag over three, then K.
        drag(grid(), grid().pictureRect(4).center(), grid().pictureRect(6).center());
        QCOMPARE(grid().chosen(), (std::vector<int>{4, 5, 6}));
        QTest::keyClick(&grid(), Qt::Key_K);
        QCOMPARE(session().project().looks.size(), before + 4);
        QCOMPARE(session().look(), std::string("celadon"));
        const Look& last = *session().project().looks.back();
        QCOMPARE(std::get<double>(last.changes.at("glaze.hue")), hueOf(6));
        QVERIFY2(last.name.find("Celadon") == 0, last.name.c_str());
        session().undo();
        QCOMPARE(session().project().looks.size(), before + 1);
        // Ctrl chooses them one by one.
        QTest::mouseClick(&grid(), Qt::LeftButton, Qt::ControlModifier, grid().pictureRect(0).center());
        QTest::mouseClick(&grid(), Qt::LeftButton, Qt::ControlModifier, grid().pictureRect(9).center());
        QVERIFY(grid().chosen().size() >= 2);
    }

    void fromTheStripWithWhatIsChosen() {
        auto* button = window().looks().findChild<QPushButton*>(QStringLiteral("explore"));
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(sheet().isVisible());
        QCOMPARE(sheet().plan().across->control, std::string("hue"));
        QVERIFY(!sheet().plan().down);
        QTest::keyClick(&grid(), Qt::Key_Escape);
        // Of two steps the first goes across, the second down.
        const Line& line = *session().selectedLine();
        std::string other;
        for (const auto& step : line.steps)
            if (step->id != "glaze" && step->type == "blend") other = step->id;
        QVERIFY(!other.empty());
        clickCard(other, Qt::ControlModifier);
        QTest::keyClick(&board(), Qt::Key_E);
        QVERIFY(sheet().isVisible());
        QCOMPARE(sheet().plan().across->step, std::string("glaze"));
        QCOMPARE(sheet().plan().down->step, other);
        QVERIFY(shown());
    }

    void freeBySeed() {
        sheet().open();
        QTest::mouseClick(&sheet().freeButton(), Qt::LeftButton);
        QVERIFY(sheet().plan().free.size() > 1);
        QVERIFY(grid().candidates().all.size() == 12);
        const double one = hueOf(3);
        QTest::mouseClick(sheet().findChild<QPushButton*>(QStringLiteral("another")), Qt::LeftButton);
        QVERIFY(hueOf(3) != one);
        QVERIFY(shown());
        QTest::mouseClick(&sheet().freeButton(), Qt::LeftButton);
        QVERIFY(sheet().plan().free.empty());
    }

    void asReceivedACandidateBeginsALook() {
        session().close();
        QVERIFY(session().open(kDemo));
        session().setLook("");
        const std::size_t before = session().project().looks.size();
        clickCard("glaze");
        sheet().explore("glaze", "hue", false);
        QVERIFY(shown());
        QTest::mouseClick(&grid(), Qt::LeftButton, {}, grid().pictureRect(2).center());
        QVERIFY(session().project().looks.size() >= before);
        QVERIFY(!session().project().lines.empty());
    }

    void withoutAnythingToTryItSaysSo() {
        session().selectStep("");
        sheet().open();
        QVERIFY(sheet().isVisible());
        QVERIFY(grid().candidates().all.empty());
        bool isTold = false;
        for (auto* label : sheet().findChildren<QLabel*>())
            isTold =
                isTold || (label->isVisible() && label->text().startsWith(QStringLiteral("Choose a step")));
        QVERIFY(isTold);
    }
};

QTEST_MAIN(ExploreSheetTest)
#include "explore_sheet_test.moc"
