// Acting from the picture with the right button, channels that are off, lines from the board's foot, and the
// flat map's single pixels.
#include <QToolButton>

#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "app/window/place_menu.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class PlaceMenuTest final : public QObject, DemoWindow {
    Q_OBJECT

    Hands m_hands;
    ModelView& model() { return window().model(); }
    FlatView& flat() { return window().flat(); }
    /// The kettle's red belly, below the painted band.
    QPoint belly() {
        return {static_cast<int>(model().width() * 0.44), static_cast<int>(model().height() * 0.9)};
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void aHueIsShiftedWhereOnePoints() {
        session().setLook("night-ferry");
        const std::size_t before = session().project().findLine(session().surfacePlace().line)->steps.size();
        m_hands.openMenu(model(), belly());
        QVERIFY(m_hands.choose(QStringLiteral("Shift this hue")));
        QVERIFY(QTest::qWaitFor(
            [&] { return session().shownStep(session().selectedStep())->type == "hsv-shift"; }, 5000));
        const auto& line = *session().selectedLine();
        QCOMPARE(line.steps.size(), before + 1);
        const Step made = *session().shownStep(session().selectedStep());
        QVERIFY(std::get<bool>(made.controls.at("band")));
        QVERIFY(!made.bypass);
        // One entry of the history, and gone with it.
        session().undo();
        QCOMPARE(session().project().findLine(line.id)->steps.size(), before);
    }
    void aMeasurementThatComesLateChangesNothing() {
        session().setLook("night-ferry");
        session().setControl("glaze", "saturation", 0.4);
        m_hands.openMenu(model(), belly());
        QVERIFY(m_hands.choose(QStringLiteral("Shift this hue")));
        // When the answer arrives, another edit has the same position in the history.
        const auto place = session().history().position();
        session().undo();
        session().setControl("glaze", "saturation", 0.6);
        QCOMPARE(session().history().position(), place);
        const Project mine = session().project();
        QVERIFY(settled());
        QVERIFY(session().project() == mine);
        QVERIFY2(message().contains(QStringLiteral("Try again")), qPrintable(message()));
    }
    void asReceivedALookIsBegun() {
        QVERIFY(session().look().empty());
        const std::size_t looks = session().project().looks.size();
        m_hands.openMenu(model(), belly());
        QVERIFY(m_hands.choose(QStringLiteral("Aim this colour")));
        QVERIFY(QTest::qWaitFor([&] { return session().shownStep(session().selectedStep())->type == "aim"; },
                                5000));
        // The demo's base holds steps, so it may go on being changed; else a look of its own begins.
        QVERIFY(session().project().looks.size() == looks || !session().look().empty());
    }
    void whatMakesAPlaceLeadsThere() {
        session().setLook("celadon");
        m_hands.openMenu(model(), belly());
        QMenu* menu = window().placeMenu().menu();
        QVERIFY(menu != nullptr);
        QMenu* makers = menu->actions().last()->menu();
        QVERIFY(makers != nullptr);
        Q_EMIT makers->aboutToShow();
        QVERIFY(makers->actions().size() >= 2);
        QAction* glaze = nullptr;
        for (QAction* a : makers->actions())
            if (a->text().startsWith(QStringLiteral("HSV shift"))) glaze = a;
        QVERIFY(glaze != nullptr && glaze->text().contains(QStringLiteral("ΔE")));
        glaze->trigger();
        menu->close();
        QCOMPARE(session().shownStep(session().selectedStep())->type, std::string("hsv-shift"));
    }
    void aCapSwitchesItsChannelOffWhileOneLooks() {
        const Line* base = session().project().lineOfChannel("base-colour");
        QVERIFY(base != nullptr);
        const QImage with = model().picture();
        const bool modified = session().isModified();
        m_hands.click(board(), board().capRect(base->id).center());
        QVERIFY(session().channelsOff().contains("base-colour"));
        QVERIFY(settled());
        QVERIFY(model().picture() != with);
        QCOMPARE(session().isModified(), modified);  // a way of looking, no change
        QTest::keyClick(&board(), Qt::Key_Escape);
        QVERIFY(session().channelsOff().empty());
        QVERIFY(settled());
        QCOMPARE(model().picture(), with);
    }
    void theFootAddsALineInOneClick() {
        QToolButton* coat = nullptr;
        for (auto* b : board().foot().findChildren<QToolButton*>())
            if (b->property("channel").toString() == QStringLiteral("coat")) coat = b;
        QVERIFY(coat != nullptr && coat->isVisible());
        m_hands.click(*coat);
        const Line* line = session().project().lineOfChannel("coat");
        QVERIFY(line != nullptr);
        QCOMPARE(session().selectedStep(), line->steps.front()->id);
        for (auto* b : board().foot().findChildren<QToolButton*>())
            QVERIFY(b->isHidden() || b->property("channel").toString() != QStringLiteral("coat"));
        session().undo();
        QVERIFY(session().project().lineOfChannel("coat") == nullptr);
    }
    void farInSinglePixelsAreSquaresWithTheirNumbers() {
        // 1024 pixels in a tile: at 60 screen pixels each they are squares of one colour.
        const QPoint middle = flat().rect().center();
        for (int i = 0; i < 40 && flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x() > 10 / 61440.0;
             ++i) {
            QWheelEvent in(middle, flat().mapToGlobal(middle), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                           Qt::NoScrollPhase, false);
            QApplication::sendEvent(&flat(), &in);
        }
        QVERIFY(settled());
        const QImage shown = flat().picture();
        const auto texelOf = [&](QPoint at) {
            const QPointF uv = flat().placeAt(QPointF(at) + QPointF(0.5, 0.5));
            return QPoint(static_cast<int>(std::floor(uv.x() * 1024)),
                          static_cast<int>(std::floor(uv.y() * 1024)));
        };
        int same = 0;
        for (int y = 80; y < shown.height() - 80; y += 7)
            for (int x = 40; x + 9 < shown.width() - 40; x += 9)
                if (texelOf({x, y}) == texelOf({x + 9, y})) {
                    QCOMPARE(shown.pixel(x, y), shown.pixel(x + 9, y));
                    ++same;
                }
        QVERIFY(same > 100);
    }
    void theTestCardStandsInForTheColours() {
        const QImage kettle = model().picture(), flatBefore = flat().picture();
        QVERIFY(session().hasTestCard());
        session().showTestCard(true);
        QVERIFY(settled());
        QVERIFY(model().picture() != kettle && flat().picture() != flatBefore);
        // The card's greys, in Flat: black at the left, white at the right.
        const auto at = [&](double u, double v) {
            const QPointF low = flat().placeAt({0, 0}), step = flat().placeAt({1, 1}) - low;
            return flat().picture().pixelColor(static_cast<int>((u - low.x()) / step.x()),
                                               static_cast<int>((v - low.y()) / step.y()));
        };
        QVERIFY(at(0.04, 0.73).lightness() < 10);
        QVERIFY(at(0.96, 0.73).lightness() > 245);
        QVERIFY(std::abs(at(0.5, 0.73).red() - 128) <= 2);
        QVERIFY(!session().isModified());
        QTest::keyClick(&board(), Qt::Key_Escape);
        QVERIFY(!session().showsTestCard());
        QVERIFY(settled());
        QCOMPARE(model().picture(), kettle);
    }
    void repeatsAndClipping() {
        const double one = flat().placeAt({100, 0}).x() - flat().placeAt({0, 0}).x();
        flat().showRepeats(true);
        const double three = flat().placeAt({100, 0}).x() - flat().placeAt({0, 0}).x();
        QVERIFY(std::fabs(three - 3 * one) < 1e-6);
        flat().fit();
        QVERIFY(settled());
        const QImage before = flat().picture();
        flat().markClipped(true);
        QVERIFY(settled());
        QCOMPARE(flat().picture(), before);  // a map of 8 bits has nothing beyond 0 and 1
        session().selectStep(session().project().findLine(session().surfacePlace().line)->steps.front()->id);
        session().insertStep(session().selectedLine()->id, 1, "tone");
        session().setControl(session().selectedStep(), "gain", 8.0);
        QVERIFY(settled());
        long marked = 0;
        const QImage after = flat().picture();
        for (int y = 0; y < after.height(); ++y)
            for (int x = 0; x < after.width(); ++x) marked += after.pixel(x, y) == 0xFFA3281E ? 1 : 0;
        QVERIFY(marked > 1000);
    }
};

QTEST_MAIN(PlaceMenuTest)
#include "place_menu_test.moc"
