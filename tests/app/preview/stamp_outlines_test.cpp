// The stamps of a scattered map are outlined while the pointer is over the flat map.
#include "app/preview/flat_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class StampOutlinesTest final : public QObject, DemoWindow {
    Q_OBJECT

    FlatView& flat() { return window().flat(); }
    QImage seen(bool isUnderPointer) {
        QEnterEvent enter(QPointF(50, 50), QPointF(50, 50), QPointF(50, 50));
        QEvent leave(QEvent::Leave);
        flat().setAttribute(Qt::WA_UnderMouse, isUnderPointer);
        QApplication::sendEvent(&flat(), isUnderPointer ? static_cast<QEvent*>(&enter) : &leave);
        flat().setAttribute(Qt::WA_UnderMouse, isUnderPointer);
        return flat().grab().toImage();
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void stampsAreOutlinedUnderThePointer() {
        QVERIFY(openDemo());
        QVERIFY(session().open(QString::fromStdString((kData / "galley-floor.palekettle").string())));
        std::string scattered, straight;
        for (const auto& line : session().project().lines)
            for (const auto& step : line->steps) {
                if (step->type != "map") continue;
                const auto lies = step->controls.find("lies");
                const bool isScattered =
                    lies != step->controls.end() && lies->second == ControlValue(std::string("scattered"));
                (isScattered ? scattered : straight) = step->id;
            }
        QVERIFY(!scattered.empty() && !straight.empty());
        session().selectStep(scattered);
        QVERIFY(settled());
        const QImage without = seen(false), with = seen(true);
        int differing = 0;
        for (int y = 0; y < with.height(); ++y)
            for (int x = 0; x < with.width(); ++x)
                differing += with.pixel(x, y) != without.pixel(x, y) ? 1 : 0;
        // Lines, and not areas.
        QVERIFY2(differing > 500 && differing < with.width() * with.height() / 3,
                 qPrintable(QString::number(differing)));
        QVERIFY(seen(false) == without);
        // Of a step that lays what was scattered before it there are none, though they are in its picture.
        for (const auto& line : session().project().lines)
            for (const auto& step : line->steps)
                if (step->type == "blend") {
                    session().selectStep(step->id);
                    QVERIFY(settled());
                    QVERIFY2(seen(true) == seen(false), step->id.c_str());
                }
        session().selectStep(scattered);
        QVERIFY(settled());
    }

    /// Asked at their middles, half of the stamps lie, and none where the mask is black; all maps of a set
    /// that lie together are asked alike.
    void aMaskSaysWhichLie() {
        const auto outlined = [this] {
            const QImage without = seen(false), with = seen(true);
            int differing = 0;
            for (int y = 0; y < with.height(); ++y)
                for (int x = 0; x < with.width(); ++x)
                    differing += with.pixel(x, y) != without.pixel(x, y) ? 1 : 0;
            return differing;
        };
        const int all = outlined();
        auto* where = control<QPushButton>("feed-where");
        QVERIFY(where != nullptr);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(where);
        QVERIFY(where->isVisible());
        Hands hands;
        hands.click(*where);
        QVERIFY(QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000));
        QVERIFY(hands.choose(QStringLiteral("A number")));
        QVERIFY(settled());
        const int half = outlined();
        QVERIFY2(half > 0 && half < 0.8 * all && half > 0.2 * all, qPrintable(QString::number(half)));
        const auto isJoined = [this](const char* id) {
            return session().shownStep(id)->feeds.contains("where");
        };
        QVERIFY(isJoined("stamps") && !isJoined("grime-map"));  // it lies on its own
        session().joinFeed(session().selectedStep(), "where", constantFeed(0.0));
        QVERIFY(settled());
        QCOMPARE(outlined(), 0);
        session().undo();
        session().undo();
        QVERIFY(settled());
        QCOMPARE(outlined(), all);
        session().joinFeed("mat-r", "where", constantFeed(0.5));
        QVERIFY(isJoined("mat-map") && isJoined("mat-r") && isJoined("mat-n"));
        session().undo();
        QVERIFY(!isJoined("mat-map") && !isJoined("mat-r") && !isJoined("mat-n"));
    }
};

QTEST_MAIN(StampOutlinesTest)
#include "stamp_outlines_test.moc"
