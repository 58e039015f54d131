// Number field, slider, hue dial, colour field and ramp editor, each by real mouse and key events.
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QtTest>
#include <cmath>

#include "app/editors/hue_dial.h"
#include "app/editors/ramp_editor.h"
#include "app/editors/ramp_shelf.h"
#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "core/colour/encoding.h"
#include "tests/support/pointer.h"

using namespace kettle;
using namespace kettle::test;

namespace {

NumberStyle degrees() {
    return {-180, 180, 1, QStringLiteral("°"), true};
}

}  // namespace

namespace {
/// Clicks "Take from…" and then an entry of its menu, by keys.
void chooseFromShelf(RampEditor& editor, const char* entry) {
    QTest::mouseClick(editor.findChild<QPushButton*>(QStringLiteral("ramp-from")), Qt::LeftButton);
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    QVERIFY(menu != nullptr);
    for (QAction* a : menu->actions())
        if (a->text() == QString::fromUtf8(entry)) {
            menu->setActiveAction(a);
            QTest::keyClick(menu, Qt::Key_Return);
            return;
        }
    QFAIL("there is no such entry");
}
}  // namespace

class TunerWidgetsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { qRegisterMetaType<kettle::Colour>("kettle::Colour"); }

    void aTypedNumberMayExceedTheSlider() {
        NumberField f(degrees());
        f.show();
        f.setFocus();
        QSignalSpy edited(&f, &NumberField::edited);
        f.selectAll();
        QTest::keyClicks(&f, QStringLiteral("540"));
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(edited.size(), 1);
        QCOMPARE(f.value(), 540.0);
        QCOMPARE(f.text(), QStringLiteral("+540.0°"));
    }
    void nonsenseIsTakenBack() {
        NumberField f(degrees());
        f.setValue(12);
        f.show();
        f.setFocus();
        QSignalSpy edited(&f, &NumberField::edited);
        f.selectAll();
        QTest::keyClicks(&f, QStringLiteral("lots"));
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(edited.size(), 0);
        QCOMPARE(f.text(), QStringLiteral("+12.0°"));
    }
    void commaAndUnitAreUnderstood() {
        NumberField f(degrees());
        f.show();
        f.setFocus();
        f.selectAll();
        QTest::keyClicks(&f, QStringLiteral("-7,5°"));
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(f.value(), -7.5);
    }
    void arrowsStepAndShiftIsFine() {
        NumberField f({0, 1, 2, {}, false});
        f.setValue(0.5);
        f.show();
        f.setFocus();
        QTest::keyClick(&f, Qt::Key_Up);
        QCOMPARE(f.value(), 0.51);
        QTest::keyClick(&f, Qt::Key_Down, Qt::ShiftModifier);
        QCOMPARE(f.value(), 0.509);
    }
    void aClickChoosesAllToBeTypedOver() {
        QWidget window;
        QLineEdit other(&window);
        NumberField f({0, 1, 2, {}, false}, &window);
        f.setGeometry(0, 40, 66, 24);
        f.setValue(0.25);
        window.show();
        QVERIFY(QTest::qWaitForWindowActive(&window));
        other.setFocus();
        QTest::mouseClick(&f, Qt::LeftButton, {}, {60, 12});
        QCOMPARE(f.selectedText(), QStringLiteral("0.25"));
        f.setValue(0.25);  // what comes back from the project meanwhile
        QTest::keyClicks(&f, QStringLiteral("0.5"));
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(f.value(), 0.5);
    }
    void draggingInAFieldIsOneGesture() {
        NumberField f({0, 1, 2, {}, false});
        f.resize(66, 24);
        f.setValue(0.5);
        f.show();
        f.clearFocus();
        QSignalSpy started(&f, &NumberField::gestureStarted), ended(&f, &NumberField::gestureEnded),
            edited(&f, &NumberField::edited);
        drag(f, {20, 10}, {40, 10});
        QCOMPARE(started.size(), 1);
        QCOMPARE(ended.size(), 1);
        QVERIFY(edited.size() >= 2);
        for (const auto& e : edited) QVERIFY(e[1].toBool());
        QCOMPARE(f.value(), 0.7);
    }
    void theSliderFollowsThePointerAndStaysInItsRange() {
        ValueSlider s({0, 2, 2, {}, false});
        s.resize(212, 22);
        s.setValue(1);
        s.show();
        QSignalSpy edited(&s, &ValueSlider::edited);
        drag(s, {static_cast<int>(s.positionOf(1)), 11}, {static_cast<int>(s.positionOf(1.5)), 11});
        QVERIFY(std::fabs(s.value() - 1.5) < 0.011);
        drag(s, {static_cast<int>(s.positionOf(1.5)), 11}, {900, 11});
        QCOMPARE(s.value(), 2.0);
        QTest::keyClick(&s, Qt::Key_Left);
        QCOMPARE(s.value(), 1.98);
        QVERIFY(edited.size() >= 3);
    }
    void aSliderShowsWhatIsBeyondItAtItsEnd() {
        ValueSlider s({0, 1, 2, {}, false});
        s.resize(112, 22);
        QCOMPARE(s.positionOf(7), s.positionOf(1));
        QCOMPARE(s.positionOf(-7), s.positionOf(0));
    }
    void theDialTurnsWithThePointer() {
        HueDial d;
        d.resize(260, 196);
        d.show();
        QSignalSpy edited(&d, &HueDial::edited), started(&d, &HueDial::gestureStarted);
        const QPoint c(130, 98);
        drag(d, c + QPoint(0, -80), c + QPoint(80, 0));  // a quarter to the right
        QVERIFY(std::fabs(d.angle() - 90) < 2);
        QCOMPARE(started.size(), 1);
        drag(d, c + QPoint(80, 0), c + QPoint(0, 80));
        QVERIFY(std::fabs(std::fabs(d.angle()) - 180) < 3);
        QTest::keyClick(&d, Qt::Key_Left);
        QVERIFY(edited.size() > 4);
    }
    void theBandsGripsWidenAndMoveIt() {
        HueDial d;
        d.resize(260, 196);
        d.show();
        QSignalSpy edited(&d, &HueDial::bandEdited);
        const auto at = [&](double hue) { return d.pointOf(hue, 0).toPoint(); };
        // The low grip, 20 degrees away from the middle: 40 wider. The high one: as much narrower when it
        // comes near.
        d.setBand(HueDial::Band{90, 60, 10, false});
        drag(d, at(60), at(40));
        QVERIFY(std::fabs(edited.last()[1].toDouble() - 100) < 6);
        QVERIFY(std::fabs(edited.last()[0].toDouble() - 90) < 1e-9);
        d.setBand(HueDial::Band{90, 60, 10, false});
        drag(d, at(120), at(110));
        QVERIFY(std::fabs(edited.last()[1].toDouble() - 40) < 6);
        d.setBand(HueDial::Band{90, 60, 10, false});
        drag(d, at(90), at(150));
        QVERIFY(std::fabs(edited.last()[0].toDouble() - 150) < 4);
        QVERIFY(std::fabs(edited.last()[1].toDouble() - 60) < 1e-9);
    }
    void theDialIsTurnedByKeys() {
        HueDial d;
        d.show();
        d.setAngle(10);
        QTest::keyClick(&d, Qt::Key_Right);
        QCOMPARE(d.angle(), 11.0);
        QTest::keyClick(&d, Qt::Key_Down);
        QCOMPARE(d.angle(), 10.0);
        QTest::keyClick(&d, Qt::Key_Up, Qt::ShiftModifier);
        QCOMPARE(d.angle(), 10.1);
        d.setAngle(179.5);
        QTest::keyClick(&d, Qt::Key_Right);
        QCOMPARE(d.angle(), -179.5);
    }
    void aColourComesInAsHexAndBySliders() {
        ColourField f;
        f.resize(260, 110);
        f.show();
        QSignalSpy edited(&f, &ColourField::edited);
        auto* hex = f.findChild<QLineEdit*>();
        hex->setFocus();
        hex->selectAll();
        QTest::keyClicks(hex, QStringLiteral("B9261C"));
        QTest::keyClick(hex, Qt::Key_Return);
        QCOMPARE(edited.size(), 1);
        QVERIFY(std::fabs(f.colour().r - srgbToLinear(185 / 255.0f)) < 1e-6f);
        QCOMPARE(hex->text(), QStringLiteral("#B9261C"));
        hex->selectAll();
        QTest::keyClicks(hex, QStringLiteral("rusty"));
        QTest::keyClick(hex, Qt::Key_Return);
        QCOMPARE(edited.size(), 1);
        QCOMPARE(hex->text(), QStringLiteral("#B9261C"));
        const auto sliders = f.findChildren<ValueSlider*>();
        QCOMPARE(sliders.size(), 3);
        drag(*sliders[2], {static_cast<int>(sliders[2]->positionOf(sliders[2]->value())), 11}, {0, 11});
        QCOMPARE(f.colour(), (Colour{0, 0, 0}));
    }
    void stopsAreAddedMovedAndDraggedOff() {
        RampEditor editor(true);
        editor.resize(268, 320);
        editor.setRamp(Ramp{});
        editor.show();
        QVERIFY(QTest::qWaitForWindowExposed(&editor));
        RampStrip& strip = editor.strip();
        QSignalSpy edited(&editor, &RampEditor::edited);
        QTest::mouseClick(&strip, Qt::LeftButton, {}, QPoint(strip.width() / 2, 30));
        QCOMPARE(strip.ramp().stops.size(), std::size_t{3});
        QCOMPARE(strip.chosen(), 1);
        QVERIFY(std::fabs(strip.ramp().stops[1].position - 0.5f) < 0.01f);
        QVERIFY(strip.ramp().stops[1].colour.x > 0.7f);
        drag(strip, strip.handleAt(1).toPoint(), strip.handleAt(1).toPoint() + QPoint(40, 60));
        QVERIFY(strip.ramp().stops[1].position > 0.6f);
        QVERIFY(strip.ramp().stops[1].colour.x < 0.5f);
        drag(strip, strip.handleAt(1).toPoint(), QPoint(strip.width() / 2, strip.height() + 90));
        QCOMPARE(strip.ramp().stops.size(), std::size_t{2});
        QVERIFY(edited.size() > 5);
    }
    void theLastStopStays() {
        RampEditor editor(false);
        editor.resize(268, 420);
        Ramp one;
        one.stops = {{0.5f, {1, 0, 0}}};
        editor.setRamp(one);
        editor.show();
        editor.strip().setFocus();
        QTest::keyClick(&editor.strip(), Qt::Key_Delete);
        QCOMPARE(editor.strip().ramp().stops.size(), std::size_t{1});
    }
    void flipAndSpreadEvenly() {
        RampEditor editor(true);
        editor.resize(268, 320);
        Ramp ramp;
        ramp.stops = {{0, {0, 0, 0}}, {0.2f, {0.5f, 0.5f, 0.5f}}, {1, {1, 1, 1}}};
        editor.setRamp(ramp);
        editor.show();
        for (auto* button : editor.findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Flip")) QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(std::fabs(editor.strip().ramp().stops[1].position - 0.8f) < 1e-6f);
        QCOMPARE(editor.strip().ramp().stops[0].colour.x, 1.0f);
        for (auto* button : editor.findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Spread evenly")) QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(editor.strip().ramp().stops[1].position, 0.5f);
    }
    void aRampIsKeptTakenAndForgotten() {
        QTemporaryDir folder;
        RampEditor editor(false);
        editor.shelf().setFolder(folder.filePath(QStringLiteral("ramps")).toStdString());
        editor.resize(268, 420);
        Ramp own;
        own.stops = {{0, {0.1f, 0, 0}}, {0.3f, {0, 0.4f, 0}}, {1, {0, 0, 1}}};
        editor.setRamp(own);
        editor.show();
        QVERIFY(QTest::qWaitForWindowExposed(&editor));
        QSignalSpy told(&editor.shelf(), &RampShelf::told);
        auto* name = editor.findChild<QLineEdit*>(QStringLiteral("ramp-name"));
        QVERIFY(!name->isVisible());
        chooseFromShelf(editor, "Keep this ramp…");
        QVERIFY(name->isVisible() && name->hasFocus());
        QTest::keyClick(name, Qt::Key_Return);  // without a name nothing is kept
        QVERIFY(name->isVisible());
        QTest::keyClicks(name, QStringLiteral("Three lamps"));
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(!name->isVisible());
        QCOMPARE(told.size(), 1);
        QVERIFY(!told.takeFirst()[1].toBool());

        editor.setRamp(Ramp{});
        QSignalSpy edited(&editor, &RampEditor::edited);
        chooseFromShelf(editor, "Three lamps");
        QCOMPARE(edited.size(), 1);
        QVERIFY(editor.strip().ramp() == own);
        // A colour ramp is not offered to a grey line; its name is known, so Keep says that it replaces.
        RampShelf grey(true);
        grey.setFolder(folder.filePath(QStringLiteral("ramps")).toStdString());
        std::unique_ptr<QMenu> menu(grey.makeMenu({}, nullptr));
        for (const QAction* a : menu->actions()) QVERIFY(a->text() != QStringLiteral("Three lamps"));
        chooseFromShelf(editor, "Keep this ramp…");
        QTest::keyClicks(name, QStringLiteral("Three lamps"));
        QCOMPARE(editor.findChild<QPushButton*>(QStringLiteral("ramp-keep"))->text(),
                 QStringLiteral("Replace"));
        QTest::keyClick(name, Qt::Key_Escape);
        QVERIFY(!name->isVisible());

        std::unique_ptr<QMenu> whole(editor.shelf().makeMenu({}, nullptr));
        for (QAction* a : whole->actions())
            if (a->menu() != nullptr) a->menu()->actions().front()->trigger();
        QVERIFY(!editor.shelf().holds(QStringLiteral("Three lamps")));
    }
    void stopsAreReachedByKey() {
        RampEditor editor(true);
        editor.resize(268, 320);
        editor.setRamp(Ramp{});
        editor.show();
        editor.strip().setFocus();
        QTest::keyClick(&editor.strip(), Qt::Key_Right);
        QCOMPARE(editor.strip().chosen(), 1);
        QTest::keyClick(&editor.strip(), Qt::Key_Right);
        QCOMPARE(editor.strip().chosen(), 1);
        QTest::keyClick(&editor.strip(), Qt::Key_Delete);
        QCOMPARE(editor.strip().ramp().stops.size(), std::size_t{1});
    }
};

QTEST_MAIN(TunerWidgetsTest)
#include "tuner_widgets_test.moc"
