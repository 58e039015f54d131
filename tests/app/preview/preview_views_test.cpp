// The two previews by mouse and keys: the flat map's place and components, the model's chips, and what they
// mark.
#include <QLabel>
#include <QTemporaryDir>
#include <QToolButton>
#include <fstream>

#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

namespace {

void wheel(QWidget& w, QPointF at, int steps) {
    QWheelEvent event(at, w.mapToGlobal(at), {}, {0, 120 * steps}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&w, &event);
}

}  // namespace

class PreviewViewsTest final : public QObject, DemoWindow {
    Q_OBJECT

    FlatView& flat() { return window().flat(); }
    ModelView& model() { return window().model(); }
    /// A chip's menu as it is when it opens.
    QMenu& menuOf(QWidget& view, const char* chip) {
        for (auto* button : view.findChildren<QToolButton*>())
            if (button->accessibleName() == QString::fromUtf8(chip)) {
                Q_EMIT button->menu()->aboutToShow();
                return *button->menu();
            }
        qFatal("no such chip");
    }
    QStringList checkedIn(const QMenu& menu) {
        QStringList words;
        for (const QAction* a : menu.actions())
            if (a->isChecked()) words << a->text();
        return words;
    }
    static bool near(QPointF a, QPointF b) { return std::hypot(a.x() - b.x(), a.y() - b.y()) < 1e-6; }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() { QVERIFY(openDemo()); }
    void cleanup() { m_window.reset(); }

    void theWheelZoomsAboutThePointer() {
        const QPointF at(40, 60);
        const QPointF place = flat().placeAt(at), corner = flat().placeAt({0, 0});
        wheel(flat(), at, 3);
        QVERIFY(near(flat().placeAt(at), place));
        QVERIFY(!near(flat().placeAt({0, 0}), corner));
        wheel(flat(), at, -3);
        QVERIFY(near(flat().placeAt({0, 0}), corner));
    }
    void draggingMovesAndHomeFits() {
        const QPointF middle = flat().placeAt(QRectF(flat().rect()).center());
        QVERIFY(near(middle, {0.5, 0.5}));
        const QPoint from = flat().rect().center();
        const QPointF grabbed = flat().placeAt(from);
        drag(flat(), from, from + QPoint(48, -32));
        QVERIFY(near(flat().placeAt(from + QPoint(48, -32)), grabbed));
        QTest::keyClick(&flat(), Qt::Key_Home);
        QVERIFY(near(flat().placeAt(QRectF(flat().rect()).center()), {0.5, 0.5}));
    }
    void keysMoveAndZoom() {
        const QPointF centre = QRectF(flat().rect()).center();
        QTest::keyClick(&flat(), Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(flat().placeAt(centre).x() > 0.55);
        QTest::keyClick(&flat(), Qt::Key_Up, Qt::ShiftModifier);
        QVERIFY(flat().placeAt(centre).y() > 0.55);
        const double width = flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x();
        QTest::keyClick(&flat(), Qt::Key_Plus);
        QVERIFY(flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x() < width);
        QTest::keyClick(&flat(), Qt::Key_Minus);
        QVERIFY(std::fabs(flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x() - width) < 1e-9);
    }
    void oneComponentIsShownAsGrey() {
        QVERIFY(settled());
        const QPoint middle = flat().rect().center();
        const QColor red = flat().grab().toImage().pixelColor(middle);
        QVERIFY(red.red() > red.green() + 60);  // the enamel
        QAction* green = entryOf(menuOf(flat(), "Component"), QStringLiteral("Green"));
        QVERIFY(green != nullptr);
        green->trigger();
        QVERIFY(settled());
        const QColor grey = flat().grab().toImage().pixelColor(middle);
        QCOMPARE(grey.red(), grey.green());
        QVERIFY(std::abs(grey.green() - red.green()) <= 1);
    }
    void theChipsMarkWhatIsInForce() {
        QCOMPARE(checkedIn(menuOf(model(), "Model")), QStringList{QStringLiteral("Kettle")});
        QCOMPARE(checkedIn(menuOf(model(), "Light")),
                 QStringList({QStringLiteral("Morning deck"), QStringLiteral("Shadow on the ground")}));
        QCOMPARE(checkedIn(menuOf(model(), "View")),
                 QStringList({QStringLiteral("Standard view (sRGB)"), QStringLiteral("Middle surround")}));
        QVERIFY(settled());
        const QColor before = model().picture().pixelColor(4, model().picture().height() / 3);
        entryOf(menuOf(model(), "View"), QStringLiteral("Dark surround"))->trigger();
        QCOMPARE(session().project().view.surround, std::string("dark"));
        QVERIFY(settled());
        QVERIFY(model().picture().pixelColor(4, model().picture().height() / 3).lightness() <
                before.lightness() - 40);
        QVERIFY(checkedIn(menuOf(model(), "View")).contains(QStringLiteral("Dark surround")));
        session().undo();
        QVERIFY(checkedIn(menuOf(model(), "View")).contains(QStringLiteral("Middle surround")));
    }
    void anotherModelAndLightAreChosen() {
        QMenu& models = menuOf(model(), "Model");
        QAction* other = nullptr;
        for (QAction* a : models.actions())
            if (a->isCheckable() && !a->isChecked() && !a->text().startsWith(QStringLiteral("Test card")))
                other = a;
        QVERIFY(other != nullptr);
        const QString name = other->text();
        other->trigger();
        QVERIFY(settled());
        QCOMPARE(checkedIn(menuOf(model(), "Model")), QStringList{name});
        entryOf(menuOf(model(), "Light"), QStringLiteral("Turn left by 15°"))->trigger();
        QCOMPARE(session().project().view.environmentTurn, -15.0);
        entryOf(menuOf(model(), "View"), QStringLiteral("Lighter by half a stop"))->trigger();
        QCOMPARE(session().project().view.exposure, 0.5);
    }
    void aChosenConfigurationsViewsAreOffered() {
        const QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("ours.ocio"));
        std::ofstream(file.toStdString())
            << "ocio_profile_version: 2\nname: ours\nroles:\n  default: raw\n  scene_linear: lin\n"
               "displays:\n  screen:\n    - !<View> {name: quayside, colorspace: lin}\n"
               "colorspaces:\n  - !<ColorSpace>\n    name: raw\n    isdata: true\n"
               "  - !<ColorSpace>\n    name: lin\n";
        QVERIFY(entryOf(menuOf(model(), "View"), QStringLiteral("quayside view")) == nullptr);
        session().chooseConfiguration(file);
        QAction* own = entryOf(menuOf(model(), "View"), QStringLiteral("quayside view"));
        QVERIFY(own != nullptr);
        QVERIFY(settled());
        const QImage before = model().picture();
        own->trigger();
        QVERIFY(settled());
        QVERIFY(model().picture() != before);  // linear numbers on the screen are darker
        QVERIFY(checkedIn(menuOf(model(), "View")).contains(QStringLiteral("quayside view")));
    }
    void pointingInOneMarksTheOther() {
        QVERIFY(settled());
        const QImage before = flat().grab().toImage();
        moveTo(model(), model().rect().center(), Qt::NoButton);
        QVERIFY(flat().grab().toImage() != before);
        moveTo(model(), QPoint(5, model().height() - 5), Qt::NoButton);
        QVERIFY(flat().grab().toImage() == before);
    }
};

QTEST_MAIN(PreviewViewsTest)
#include "preview_views_test.moc"
