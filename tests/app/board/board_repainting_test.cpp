// The board paints again what changed and no more, and what it paints so is what it would paint as a whole.
#include <QtTest>

#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// What of a widget is painted while it lives.
class Painted final : public QObject {
public:
    explicit Painted(QWidget& of) : m_of(of) { of.installEventFilter(this); }
    ~Painted() override { m_of.removeEventFilter(this); }
    QRegion region;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Paint) region += static_cast<QPaintEvent*>(event)->region();
        return QObject::eventFilter(watched, event);
    }

private:
    QWidget& m_of;
};

}  // namespace

class BoardRepaintingTest : public QObject, DemoWindow {
    Q_OBJECT

    /// What the window shows of the board.
    QImage shown() {
        const QWidget& view = *board().parentWidget();
        const QRect place(view.mapTo(&window(), QPoint()), view.size());
        return window().screen()->grabWindow(window().winId()).toImage().copy(place);
    }
    /// The same after all of it is painted anew.
    QImage paintedWhole() {
        board().update();
        QTest::qWait(1);
        QCoreApplication::processEvents();
        return shown();
    }
    /// That an edit leaves nothing behind on the board.
    bool leavesNothing(const std::function<void()>& edit) {
        edit();
        if (!settled()) return false;
        QTest::qWait(200);  // what slides has arrived
        const QImage part = shown();
        return !part.isNull() && part == paintedWhole();
    }
    void set(const char* step, const char* control, double value) {
        session().setControl(step, control, value, session().newGesture());
    }

private Q_SLOTS:
    void init() {
        QVERIFY(openDemo());
        session().setLook("celadon");
        session().selectStep("glaze");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void onlyWhatChangesIsPainted() {
        const QRect own = board().cardRect("glaze");
        QRect other;  // the source of another channel that hangs on nothing
        for (const auto& line : session().project().lines)
            if (line->channel == "roughness") other = board().cardRect(line->steps.front()->id);
        QVERIFY(own.isValid() && other.isValid());
        const QRect view = board().visibleRegion().boundingRect();
        QVERIFY(view.contains(own) && view.intersects(other));
        Painted painted(board());
        set("glaze", "value", 0.31);
        QVERIFY(settled());
        QVERIFY(painted.region.intersects(own));
        QVERIFY(!painted.region.intersects(other.adjusted(8, 8, -8, -8)));
    }

    void whatIsPaintedInPartLooksAsPaintedWhole() {
        QVERIFY(leavesNothing([this] { set("glaze", "value", 0.4); }));
        QVERIFY(leavesNothing([this] { set("glaze", "hue", 120); }));
        QVERIFY(leavesNothing([this] { set("glaze", "hue", 0); }));  // without effect perhaps
        QVERIFY(leavesNothing([this] { session().bypassSelection(); }));
        QVERIFY(leavesNothing([this] { session().bypassSelection(); }));
        QVERIFY(leavesNothing([this] { session().setNote("glaze", QStringLiteral("lighter")); }));
        QVERIFY(leavesNothing([this] { session().undo(); }));
        QVERIFY(leavesNothing([this] { session().setLook({}); }));
        QVERIFY(leavesNothing([this] { set("glaze", "saturation", 0.6); }));
        QVERIFY(leavesNothing([this] { session().selectStep(session().project().lines[1]->steps[0]->id); }));
        QVERIFY(leavesNothing([this] { session().toggleLookHere(); }));
        QVERIFY(leavesNothing([this] { set("glaze", "value", 0.8); }));
    }

    /// At any zoom, and where heads and caps lie over the ends of what is scrolled.
    void zoomedAndScrolled() {
        auto* area = window().findChild<QScrollArea*>(QStringLiteral("board"));
        for (QWidget* w = board().parentWidget(); area == nullptr && w != nullptr; w = w->parentWidget())
            area = qobject_cast<QScrollArea*>(w);
        QVERIFY(area != nullptr);
        for (const int wheel : {-120, -120, 240, 120, 240}) {
            const QPointF at = QRectF(board().visibleRegion().boundingRect()).center();
            QWheelEvent turn(at, board().mapToGlobal(at), {}, {0, wheel}, Qt::NoButton, Qt::ControlModifier,
                             Qt::NoScrollPhase, false);
            QCoreApplication::sendEvent(&board(), &turn);
            for (const double share : {0.0, 0.37, 1.0}) {
                for (QScrollBar* bar : {area->horizontalScrollBar(), area->verticalScrollBar()})
                    bar->setValue(static_cast<int>(share * bar->maximum()));
                QVERIFY(leavesNothing([&] { set("glaze", "value", 0.3 + 0.2 * share + wheel * 0.001); }));
            }
        }
    }

    /// Layers speak on several cards: all of the board is painted.
    void layersToo() {
        QVERIFY(leavesNothing([this] { session().addLayer(); }));
        const Line* layer = session().selectedLayer();
        QVERIFY(layer != nullptr);
        const std::string head = headOf(*layer).id;
        QVERIFY(leavesNothing([&] { session().setControl(head, "amount", 0.4, session().newGesture()); }));
        QVERIFY(leavesNothing([this] { session().bypassSelection(); }));
        QVERIFY(leavesNothing([this] { set("glaze", "value", 0.2); }));
        QVERIFY(leavesNothing([this] { session().undo(); }));
        QVERIFY(leavesNothing([this] { session().undo(); }));
    }
};

QTEST_MAIN(BoardRepaintingTest)
#include "board_repainting_test.moc"
