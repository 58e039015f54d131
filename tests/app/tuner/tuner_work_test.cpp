// The tuner's editors by real mouse and key events in the whole window: dial, levels, curves, ramps, formula,
// the gallery and the transfer plot of a Blend, colours picked from the pictures, palettes and feeds.
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/editors/hue_dial.h"
#include "app/editors/levels_plot.h"
#include "app/editors/mode_gallery.h"
#include "app/editors/ramp_editor.h"
#include "app/editors/transfer_plot.h"
#include "app/fields/colour_field.h"
#include "app/fields/number_field.h"
#include "app/fields/palette_shelf.h"
#include "app/fields/reset_dot.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "tests/support/demo_window.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class TunerWorkTest final : public QObject, DemoWindow {
    Q_OBJECT

    /// A Tint behind the base colour's last step, chosen; its colour field.
    ColourField* addTint() {
        session().insertStep("base-colour", 3, "tint");
        m_tint = session().selectedStep();
        QCoreApplication::processEvents();
        return window().tuner().findChild<ColourField*>();
    }
    Colour tintColour() { return viewOf(*session().shownStep(m_tint))[ColourHandle{m_tintControl.c_str()}]; }
    std::string m_tint, m_tintControl;

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        for (const ControlSpec& c : shippedSteps().find("tint")->controls)
            if (c.type == ControlType::Colour && m_tintControl.empty()) m_tintControl = c.id;
    }
    void cleanup() { m_window.reset(); }

    void theGalleryShowsAndChoosesModes() {
        QTest::mouseClick(&board(), Qt::LeftButton, {}, board().cardRect("streaks").center());
        QVERIFY(settled());
        auto* gallery = control<ModeGallery>("mode-gallery");
        QVERIFY(gallery != nullptr);
        QTest::mouseClick(gallery, Qt::LeftButton, {}, gallery->rectOf("soft-light").center());
        QCOMPARE(viewOf(*session().shownStep("streaks"))[TextHandle{"mode"}], std::string("soft-light"));
        QTest::keyClick(gallery, Qt::Key_Right);
        QCOMPARE(viewOf(*session().shownStep("streaks"))[TextHandle{"mode"}], std::string("hard-light"));
    }
    void aMeasurementThatComesLateChangesNothing() {
        session().setLook("celadon");
        session().insertStep("base-colour", 1, "colour-match");
        const std::string match = session().selectedStep();
        session().joinFeed(match, "reference", constantFeed(Colour{0.2f, 0.4f, 0.1f}));
        QCoreApplication::processEvents();
        QTest::mouseClick(control<QPushButton>("measure"), Qt::LeftButton);
        QVERIFY(settled());
        const Project measured = session().project();
        QVERIFY(session().shownStep(match)->controls.contains("from-mean") ||
                session().project().findLook("celadon")->changes.contains(match + ".from-mean"));
        // Once more; before it is answered another edit takes the place of the last one.
        QTest::mouseClick(control<QPushButton>("measure"), Qt::LeftButton);
        const auto place = session().history().position();
        session().undo();
        session().setControl("glaze", "saturation", 0.6);
        QCOMPARE(session().history().position(), place);
        const Project mine = session().project();
        QVERIFY(settled());
        QVERIFY(session().project() == mine);
        QVERIFY2(message().contains(QStringLiteral("Measure again")), qPrintable(message()));
    }
    void aHueIsPickedFromThePictureAndTheBandIsDragged() {
        clickCard("glaze");
        QVERIFY(settled());
        QTest::mouseClick(control<QPushButton>("pick"), Qt::LeftButton);
        QVERIFY(window().flat().isPicking());
        const QPoint middle = window().flat().rect().center();
        QTest::mouseClick(&window().flat(), Qt::LeftButton, {}, middle);
        QVERIFY(!window().flat().isPicking());
        QVERIFY(QTest::qWaitFor([&] { return viewOf(*session().shownStep("glaze"))[ToggleHandle{"band"}]; },
                                10000));
        const double centre = viewOf(*session().shownStep("glaze"))[NumberHandle{"band-centre"}];
        QVERIFY2(centre < 30 || centre > 330, qPrintable(QString::number(centre)));  // the enamel is red
        auto* dial = window().tuner().findChild<HueDial*>();
        drag(*dial, dial->pointOf(centre, 0).toPoint(), dial->pointOf(centre + 90, 0).toPoint());
        QVERIFY(std::fabs(std::remainder(
                    viewOf(*session().shownStep("glaze"))[NumberHandle{"band-centre"}] - centre - 90, 360)) <
                8);
        QTest::mouseClick(control<QPushButton>("pick"), Qt::LeftButton);
        QTest::keyClick(&window().flat(), Qt::Key_Escape);
        QVERIFY(!window().flat().isPicking());
    }
    void levelsAreDraggedOverTheSpread() {
        session().insertStep("roughness", 2, "levels");
        const std::string id = session().selectedStep();
        QCoreApplication::processEvents();  // the new form is laid out
        auto* plot = control<LevelsPlot>("levels-plot");
        QVERIFY(plot != nullptr);
        const std::size_t entries = session().history().position();
        const QPoint white = plot->handleAt(LevelsPlot::Handle::InWhite).toPoint();
        drag(*plot, white, {white.x() - plot->width() / 4, white.y()});
        QVERIFY(std::fabs(viewOf(*session().shownStep(id))[NumberHandle{"in-white"}] - 0.75) < 0.04);
        QCOMPARE(session().history().position(), entries + 1);
        const QPoint middle = plot->handleAt(LevelsPlot::Handle::Middle).toPoint();
        drag(*plot, middle, middle - QPoint(30, 0));
        QVERIFY(viewOf(*session().shownStep(id))[NumberHandle{"gamma"}] > 1.2);
    }
    void aFormulaIsTypedAndItsFaultNamed() {
        session().insertStep("base-colour", 3, "formula");
        const std::string id = session().selectedStep();
        auto* edit = control<QLineEdit>("formula");
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QStringLiteral("in * (1 - 0.5"));
        QCOMPARE(control<QLabel>("formula-problem")->text(),
                 QStringLiteral("At character 14: \")\" is missing at the end."));
        QTest::keyClicks(edit, QStringLiteral(")"));
        QCOMPARE(control<QLabel>("formula-problem")->text(), QString());
        QCOMPARE(viewOf(*session().shownStep(id))[TextHandle{"formula"}], std::string("in * (1 - 0.5)"));
        // All that was typed is one entry.
        QTest::keyClick(edit, Qt::Key_Return);
        session().undo();
        QVERIFY(viewOf(*session().shownStep(id))[TextHandle{"formula"}] == "in");
    }
    void curvesAreBentOneComponentAtATime() {
        session().insertStep("base-colour", 3, "curves");
        const std::string id = session().selectedStep();
        auto* which = control<QComboBox>("curve-of");
        QCOMPARE(which->itemText(1), QStringLiteral("Red"));
        which->setCurrentIndex(1);
        Q_EMIT which->activated(1);
        RampStrip& strip = window().tuner().findChild<RampEditor*>()->strip();
        drag(strip, strip.handleAt(1).toPoint(), strip.handleAt(1).toPoint() + QPoint(0, 40));
        QVERIFY(viewOf(*session().shownStep(id))[RampHandle{"first"}].stops.back().colour.x < 0.8f);
        QVERIFY(viewOf(*session().shownStep(id))[RampHandle{"all"}].isIdentity());
        QCOMPARE(which->itemText(1), QStringLiteral("Red •"));
    }
    void numberFieldsCompute() {
        clickCard("glaze");
        auto* field = control<NumberField>("field-hue");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, QStringLiteral("12*1.5 + 2"));
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 20.0);
    }
    void aRampIsTakenFromCopiedColours() {
        session().insertStep("base-colour", 3, "ramp-remap");
        const std::string id = session().selectedStep();
        QApplication::clipboard()->setText(QStringLiteral("our river: #102030, #80A0B0 and F0E0D0"));
        auto* from = control<QPushButton>("ramp-from");
        QTest::mouseClick(from, Qt::LeftButton);
        auto* menu = from->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        QAction* copied = entryOf(*menu, QStringLiteral("3 copied colours"));
        QVERIFY(copied != nullptr);
        copied->trigger();
        menu->close();
        QCOMPARE(viewOf(*session().shownStep(id))[RampHandle{"ramp"}].stops.size(), std::size_t{3});
    }
    void aNewMaskIsMadeWhereItIsNeeded() {
        clickCard("glaze");
        auto* button = control<QPushButton>("feed-mask");
        QTest::mouseClick(button, Qt::LeftButton);
        auto* menu = button->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        QAction* hueBand = entryOf(*menu, QStringLiteral("Hue band"));
        QVERIFY(hueBand != nullptr);
        hueBand->trigger();
        menu->close();
        const std::string line = session().shownStep("glaze")->feeds.at("mask").line;
        const Step& source = *session().project().findLine(line)->steps.front();
        QCOMPARE(source.type, std::string("hue-band"));
        QCOMPARE(source.feeds.at("of").after, std::string("s1"));  // what comes into the shift
    }
    void thePlotAnswersForTheProbedPlace() {
        session().setLook("celadon");
        clickCard("streaks");
        QVERIFY(settled());
        auto* plot = window().tuner().findChild<TransferPlot*>();
        QVERIFY(plot != nullptr && plot->transfer() != nullptr);
        moveTo(window().flat(), window().flat().rect().center() + QPoint(20, 10), Qt::NoButton);
        const QPointF place = window().flat().placeAt(window().flat().rect().center() + QPoint(20, 10));
        const auto* first = plot->transfer();
        QVERIFY(QTest::qWaitFor([&] { return plot->transfer() != first; }, 10000));
        const auto wanted =
            blendTransfer(session().project(), "celadon", "streaks", static_cast<float>(place.x()),
                          static_cast<float>(place.y()), session().resources());
        QVERIFY(wanted);
        QCOMPARE(plot->transfer()->over, wanted->over);
        QCOMPARE(plot->transfer()->landed, wanted->landed);
        // Another mode, another curve; the place stays.
        const auto* before = plot->transfer();
        const auto curve = before->result[0];
        auto* gallery = control<ModeGallery>("mode-gallery");
        QTest::mouseClick(gallery, Qt::LeftButton, {}, gallery->rectOf("multiply").center());
        QVERIFY(QTest::qWaitFor([&] { return plot->transfer() != before; }, 10000));
        QVERIFY(plot->transfer()->result[0] != curve);
        QCOMPARE(plot->transfer()->over, wanted->over);
        QVERIFY(plot->pointOf(0, 0).y() > plot->pointOf(1, 1).y());
    }
    void withoutAnOverThePlotSaysSo() {
        session().insertStep("base-colour", 3, "blend");
        auto* plot = window().tuner().findChild<TransferPlot*>();
        QVERIFY(settled());
        QVERIFY(plot->transfer() == nullptr);
        const QImage picture = plot->grab().toImage();
        QVERIFY(!picture.isNull());
    }
    void aColourIsPickedFromTheFlatPicture() {
        ColourField* field = addTint();
        QVERIFY(field != nullptr);
        QVERIFY(settled());
        const std::size_t entries = session().history().position();
        QTest::mouseClick(field->findChild<QPushButton*>(QStringLiteral("pick-colour")), Qt::LeftButton);
        QVERIFY(window().flat().isPicking());
        QVERIFY(settled());
        const QPoint at = window().flat().rect().center();
        const QPointF uv = window().flat().placeAt(at);
        const auto shown =
            probe(session().project(), session().look(), "base-colour", "", static_cast<float>(uv.x()),
                  static_cast<float>(uv.y()), session().resources());
        QTest::mouseClick(&window().flat(), Qt::LeftButton, {}, at);
        QVERIFY(!window().flat().isPicking());
        QVERIFY(QTest::qWaitFor([&] { return session().history().position() == entries + 1; }, 10000));
        // A mean over a few texels around the place that the probe reads.
        QVERIFY(std::fabs(linearToSrgb(tintColour().r) - shown->shown[0]) < 0.08f);
        QVERIFY(std::fabs(linearToSrgb(tintColour().g) - shown->shown[1]) < 0.08f);
    }
    void aColourIsPickedFromTheModel() {
        ColourField* field = addTint();
        QVERIFY(settled());
        const std::size_t entries = session().history().position();
        QTest::mouseClick(field->findChild<QPushButton*>(QStringLiteral("pick-colour")), Qt::LeftButton);
        // Beside the kettle there is nothing to pick, and the camera does not turn.
        const Camera camera = window().model().camera();
        QTest::mouseClick(&window().model(), Qt::LeftButton, {}, QPoint(20, window().model().height() - 20));
        QVERIFY(window().flat().isPicking());
        QTest::mouseClick(&window().model(), Qt::LeftButton, {}, window().model().rect().center());
        QVERIFY(!window().flat().isPicking());
        QCOMPARE(window().model().camera().turn, camera.turn);
        QVERIFY(QTest::qWaitFor([&] { return session().history().position() == entries + 1; }, 10000));
    }
    void escLeavesThePickingInBothViews() {
        ColourField* field = addTint();
        auto* pick = field->findChild<QPushButton*>(QStringLiteral("pick-colour"));
        QTest::mouseClick(pick, Qt::LeftButton);
        QTest::keyClick(&window().model(), Qt::Key_Escape);
        QVERIFY(!window().flat().isPicking());
        QTest::mouseClick(pick, Qt::LeftButton);
        QTest::keyClick(&window().flat(), Qt::Key_Escape);
        const Camera before = window().model().camera();
        drag(window().model(), window().model().rect().center(),
             window().model().rect().center() + QPoint(30, 0));
        QVERIFY(window().model().camera().turn != before.turn);  // the hand turns again
    }
    void aPaletteIsChosenAndAColourTaken() {
        ColourField* field = addTint();
        QApplication::clipboard()->setText(QStringLiteral("river: #102030 #80A0B0 #F0E0D0"));
        auto* palettes = field->findChild<QPushButton*>(QStringLiteral("palettes"));
        QTest::mouseClick(palettes, Qt::LeftButton);
        auto* menu = field->findChild<QMenu*>();
        QVERIFY(menu != nullptr);
        QAction* copied = entryOf(*menu, QStringLiteral("Copied colours"));
        QVERIFY(copied != nullptr && copied->isEnabled());
        copied->trigger();
        menu->close();
        QCoreApplication::processEvents();
        auto* strip = field->findChild<PaletteStrip*>();
        QVERIFY(strip->isVisible());
        QTest::mouseClick(strip, Qt::LeftButton, {}, strip->rectOf(1).center());
        QCOMPARE(QString::fromStdString(hexOfLinear(tintColour().r, tintColour().g, tintColour().b)),
                 QStringLiteral("#80A0B0"));
        strip->setFocus();
        QTest::keyClick(strip, Qt::Key_Right);
        QTest::keyClick(strip, Qt::Key_Return);
        QCOMPARE(QString::fromStdString(hexOfLinear(tintColour().r, tintColour().g, tintColour().b)),
                 QStringLiteral("#F0E0D0"));
        // It is at hand in the next step's field too.
        addTint();
        QVERIFY(window().tuner().findChild<PaletteStrip*>()->isVisible());
    }
    void aBadPaletteFileIsToldAndTheOldOneStays() {
        const QTemporaryDir folder;
        PaletteShelf shelf(session());
        shelf.set(QStringLiteral("Old"), {{1, 0, 0}});
        shelf.open(folder.filePath(QStringLiteral("none.txt")));
        QVERIFY2(message().contains(QStringLiteral("cannot be read")), qPrintable(message()));
        QFile letter(folder.filePath(QStringLiteral("letter.txt")));
        QVERIFY(letter.open(QIODevice::WriteOnly));
        letter.write("Dear ferry, the kettle is red.");
        letter.close();
        shelf.open(letter.fileName());
        QVERIFY2(message().startsWith(QStringLiteral("There are no colours in")), qPrintable(message()));
        QCOMPARE(shelf.name(), QStringLiteral("Old"));
        QFile good(folder.filePath(QStringLiteral("river.txt")));
        QVERIFY(good.open(QIODevice::WriteOnly));
        good.write("Palette\n 10 20 40 Night\n 120 140 160 Mist\n");
        good.close();
        shelf.open(good.fileName());
        QCOMPARE(shelf.name(), QStringLiteral("river"));
        QCOMPARE(shelf.colours().size(), std::size_t{2});
    }
    void everyControlHasItsReset() {
        ColourField* field = addTint();
        const Colour standard = tintColour();
        auto* dot = control<ResetDot>(("reset-" + m_tintControl).c_str());
        QVERIFY(dot != nullptr && !dot->isEnabled());
        field->take({0.1f, 0.2f, 0.3f});
        QVERIFY(dot->isEnabled());
        QTest::mouseClick(dot, Qt::LeftButton);
        QCOMPARE(tintColour(), standard);
        QCOMPARE(field->colour(), standard);
        // A curve's dot goes with the curve that is shown.
        session().insertStep("base-colour", 3, "curves");
        const std::string curves = session().selectedStep();
        auto* which = control<QComboBox>("curve-of");
        which->setCurrentIndex(2);
        Q_EMIT which->activated(2);
        RampStrip& strip = window().tuner().findChild<RampEditor*>()->strip();
        QCoreApplication::processEvents();
        drag(strip, strip.handleAt(1).toPoint(), strip.handleAt(1).toPoint() + QPoint(0, 40));
        QVERIFY(!viewOf(*session().shownStep(curves))[RampHandle{"second"}].isIdentity());
        QVERIFY(control<ResetDot>("reset-all") == nullptr);
        QTest::mouseClick(control<ResetDot>("reset-second"), Qt::LeftButton);
        QVERIFY(viewOf(*session().shownStep(curves))[RampHandle{"second"}].isIdentity());
    }
    void aLooksOwnValueIsTakenBack() {
        session().setLook("celadon");
        clickCard("glaze");
        auto* dot = control<ResetDot>("reset-hue");
        QVERIFY(dot->isEnabled());
        QTest::mouseClick(dot, Qt::LeftButton);
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 0.0);
        QVERIFY(!session().project().findLook("celadon")->changes.contains("glaze.hue"));
    }
    void aFeedShowsWhatItBrings() {
        clickCard("streaks");
        QVERIFY(settled());
        auto* over = control<QPushButton>("feed-over");
        QVERIFY(!over->icon().isNull());
        QTest::mouseClick(over, Qt::LeftButton);
        auto* menu = over->findChild<QMenu*>();
        QAction* colour = entryOf(*menu, QStringLiteral("A colour"));
        QVERIFY(colour != nullptr);
        colour->trigger();
        menu->close();
        QVERIFY(settled());
        QVERIFY(session().shownStep("streaks")->feeds.at("over").constant.has_value());
        QVERIFY(!control<QPushButton>("feed-over")->icon().isNull());
    }
};

QTEST_MAIN(TunerWorkTest)
#include "tuner_work_test.moc"
