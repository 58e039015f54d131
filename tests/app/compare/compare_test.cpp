// Comparing in the window, with mouse and keys: the chip, the wipe's grip, side by side, difference, the
// strip, kept pictures and files.
#include <QTemporaryDir>
#include <QToolButton>

#include "app/compare/compare_overlay.h"
#include "app/looks/looks_strip.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/document/edits.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class CompareTest final : public QObject, DemoWindow {
    Q_OBJECT

    Hands m_hands;
    ModelView& model() { return window().model(); }
    FlatView& flat() { return window().flat(); }
    QToolButton& chip() {
        for (auto* button : model().findChildren<QToolButton*>())
            if (button->accessibleName() == QStringLiteral("Compare")) return *button;
        qFatal("no chip");
    }
    /// What the model shows, without the chips over it.
    QImage shown() {
        QImage picture(model().size(), QImage::Format_RGB32);
        model().render(&picture, {}, {}, QWidget::RenderFlags());
        return picture;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        session().setLook("celadon");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void aWipeShowsBothAndItsGripMovesAndTurns() {
        QVERIFY(m_hands.chooseFrom(chip(), QStringLiteral("Marmalade")));
        QVERIFY(settled());
        const CompareOverlay& overlay = model().overlay();
        QVERIFY(overlay.isOn() && overlay.compared());
        QVERIFY2(overlay.compared()->mean > 5, qPrintable(QString::number(overlay.compared()->mean)));
        const QImage own = model().picture().copy(), other = overlay.compared()->other;
        const QSize size = model().size();
        // Left of the line the one, right of it the other, at a place of the model that both colour.
        const auto probeAt = [&](QPoint at) { return shown().pixel(at); };
        const QPoint left(size.width() / 2 - 30, size.height() / 2 + 20),
            right(size.width() / 2 + 30, size.height() / 2 + 20);
        QCOMPARE(probeAt(left), own.pixel(left));
        QCOMPARE(probeAt(right), other.pixel(right));
        const QPoint grip = overlay.gripAt(size).toPoint();
        drag(model(), grip, grip - QPoint(80, 0));
        QVERIFY(std::fabs(overlay.gripAt(size).x() - (grip.x() - 80)) < 2);
        QCOMPARE(probeAt(left), other.pixel(left));
        drag(model(), overlay.turnerAt(size).toPoint(), (overlay.gripAt(size) + QPointF(60, 2)).toPoint());
        QCOMPARE(overlay.turn(), 90.0);  // level, and caught there
        // Dragging the grip did not turn the camera.
        QVERIFY(settled());
        QCOMPARE(model().picture(), own);
    }
    void sidesChangeByAKeyAndEscEnds() {
        QTest::mouseClick(window().looks().button(QStringLiteral("marmalade")), Qt::LeftButton,
                          Qt::AltModifier);
        QVERIFY(settled());
        const QPoint left(model().width() / 2 - 30, model().height() / 2 + 20);
        const QRgb before = shown().pixel(left);
        QTest::keyClick(&model(), Qt::Key_C);
        QVERIFY(session().comparison()->isSwapped);
        QCOMPARE(shown().pixel(left), model().overlay().compared()->other.pixel(left));
        QVERIFY(shown().pixel(left) != before);
        QTest::keyClick(&board(), Qt::Key_Escape);
        QVERIFY(!session().comparison());
        // The key alone begins with the original.
        QTest::keyClick(&window(), Qt::Key_C);
        QVERIFY(session().comparison() && session().comparison()->with == Comparison::With::AsReceived);
    }
    void sideBySideHasOneCameraForTwoHalves() {
        m_hands.chooseFrom(chip(), QStringLiteral("As received"));
        m_hands.chooseFrom(chip(), QStringLiteral("Side by side"));
        QVERIFY(settled());
        const QImage& own = model().picture();
        QVERIFY(std::abs(own.width() - model().width() / 2) <= 2);
        QCOMPARE(model().overlay().compared()->other.size(), own.size());
        // The same place in each half is the same place of the model.
        const QSize size = model().size(), one = model().overlay().pictureSize(size);
        const QPointF a = model().overlay().pictureAt({one.width() * 0.4, 100}, size),
                      b = model().overlay().pictureAt({one.width() * 1.4 + 2, 100}, size);
        QVERIFY(std::fabs(a.x() - b.x()) < 1e-6 && a.y() == b.y());
    }
    void theDifferenceHasFiguresAndAWayToTheLargest() {
        m_hands.chooseFrom(chip(), QStringLiteral("As received"));
        m_hands.chooseFrom(chip(), QStringLiteral("Their difference"));
        QVERIFY(settled());
        const auto compared = model().overlay().compared();
        QVERIFY(compared->mean > 1 && compared->percentile95 >= compared->mean &&
                compared->largest >= compared->percentile95);
        const QPointF at = compared->largestAt;
        QVERIFY(at.x() > 0 && at.x() < 1 && at.y() > 0 && at.y() < 1);
        shown();  // lays the words out
        const float before = model().camera().distance;
        for (int x = 0; x < model().width() && model().camera().distance == before; x += 4)
            for (const int y : {model().height() - 48, model().height() - 40})
                if (model().overlay().isOverLargest(QPointF(x, y)) && model().camera().distance == before)
                    QTest::mouseClick(&model(), Qt::LeftButton, {}, QPoint(x, y));
        QVERIFY(model().camera().distance < 0.5f * before);
    }
    void beforeTheStepFollowsTheStep() {
        session().selectStep("glaze");
        m_hands.chooseFrom(chip(), QStringLiteral("Before the chosen step"));
        QVERIFY(settled());
        const QImage beforeGlaze = model().overlay().compared()->other;
        session().selectStep("streaks");
        QVERIFY(settled());
        const QImage beforeStreaks = model().overlay().compared()->other;
        QVERIFY(beforeGlaze != beforeStreaks);
        QVERIFY(session().sideName(true).contains(QStringLiteral("Blend")));
    }
    void flatComparesToo() {
        session().selectStep(session().project().findLine(session().surfacePlace().line)->steps.back()->id);
        m_hands.chooseFrom(chip(), QStringLiteral("As received"));
        QVERIFY(settled());
        QVERIFY(flat().overlay().compared());
        QVERIFY(flat().overlay().compared()->mean > 1);
        // The words for the largest one lead there.
        const QSize size = flat().size();
        const QPointF at = flat().overlay().compared()->largestAt;
        const QPointF wanted = flat().placeAt({at.x() * size.width(), at.y() * size.height()});
        const double before = flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x();
        flat().grab();  // lays the words out
        QPoint words;
        for (int x = 0; x < size.width() && words.isNull(); x += 3)
            if (flat().overlay().isOverLargest(QPointF(x, size.height() - 48)))
                words = {x, size.height() - 48};
        QVERIFY(!words.isNull());
        QTest::mouseClick(&flat(), Qt::LeftButton, {}, words);
        const double after = flat().placeAt({10, 0}).x() - flat().placeAt({0, 0}).x();
        QVERIFY(std::fabs(after - before / 4) < 1e-6);
        const QPointF middle = flat().placeAt({size.width() / 2.0, size.height() / 2.0});
        QVERIFY(std::hypot(middle.x() - wanted.x(), middle.y() - wanted.y()) < 1e-6);
    }
    void theStripMarksBothAndAltClickChooses() {
        LooksStrip& looks = window().looks();
        QTest::mouseClick(looks.button(QStringLiteral("marmalade")), Qt::LeftButton, Qt::AltModifier);
        QVERIFY(session().comparison() && session().comparison()->look == "marmalade");
        QCOMPARE(session().look(), std::string("celadon"));
        // A look that is removed is not compared with.
        QVERIFY(session().apply(edits::removeLook(session().project(), "marmalade"), QStringLiteral("x")));
        QVERIFY(!session().comparison());
    }
    void keptPicturesAreComparedAndDropped() {
        QTest::keyClick(&window(), Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(session().keptPictures().size(), std::size_t{1});
        session().setLook("marmalade");
        QVERIFY(settled());
        auto* kept = window().looks().findChildren<LookButton*>().last();
        QCOMPARE(kept->id(), QStringLiteral("kept-1"));
        QTest::mouseClick(kept, Qt::LeftButton);
        QVERIFY(settled());
        QVERIFY(model().overlay().compared() && model().overlay().compared()->mean > 5);
        // What was kept stays what it was, also when the look it was of changes, and follows the camera.
        session().setControl("glaze", "hue", 7.0);
        QTest::keyClick(&model(), Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(settled());
        const QImage other = model().overlay().compared()->other;
        session().compare({});
        session().setLook("celadon");
        QVERIFY(settled());
        QCOMPARE(model().picture(), other);
        session().dropKept(1);
        QVERIFY(session().keptPictures().empty());
    }
    void aKeptPicturesMenu() {
        session().setLook("celadon");
        session().setControl("glaze", "hue", 40.0);
        QVERIFY(settled());
        window().model().keepPicture();
        QCOMPARE(session().keptPictures().size(), std::size_t{1});
        QCoreApplication::processEvents();
        session().setControl("glaze", "hue", 90.0);
        const auto choose = [&](const char* words) {
            auto* kept = window().looks().findChildren<LookButton*>().last();
            Q_EMIT kept->menuAsked(kept->mapToGlobal(QPoint(4, 4)));
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            QVERIFY(menu != nullptr);
            QAction* action = entryOf(*menu, QString::fromLatin1(words));
            QVERIFY2(action != nullptr, words);
            QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
            QCoreApplication::processEvents();
        };
        choose("Compare with it");
        QVERIFY(session().comparison().has_value());
        QCOMPARE(session().comparison()->kept, session().keptPictures().front().id);
        // Back to what was kept, as one edit.
        choose("Go back to it");
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 40.0);
        session().undo();
        QCOMPARE(viewOf(*session().shownStep("glaze"))[NumberHandle{"hue"}], 90.0);
        choose("Drop");
        QVERIFY(session().keptPictures().empty());
        QVERIFY(!session().comparison().has_value());
    }
    void keptPicturesAreSavedWholeAndNeverOverAMap() {
        QTemporaryDir dir;
        model().keepPicture();
        QString problem;
        const QImage picture = session().keptPictures().front().picture;
        QVERIFY(session().savePicture(picture, dir.filePath(QStringLiteral("kept.png")), problem));
        const QImage read(dir.filePath(QStringLiteral("kept.png")));
        QCOMPARE(read.size(), picture.size());
        for (int y = 0; y < read.height(); ++y)
            for (int x = 0; x < read.width(); ++x) QCOMPARE(read.pixel(x, y), picture.pixel(x, y));
        const auto& set = *session().project().sets.front();
        const QString source =
            QString::fromStdString(session().resources().fileOf(set, set.maps.front()).string());
        QVERIFY(!session().savePicture(picture, source, problem));
        QVERIFY(!problem.isEmpty());
    }
    void filesOfAnySizeOrNone() {
        QTemporaryDir dir;
        QImage small(40, 90, QImage::Format_RGB32);
        small.fill(QColor(10, 200, 30));
        QVERIFY(small.save(dir.filePath(QStringLiteral("other.png"))));
        session().compareWithFile(dir.filePath(QStringLiteral("other.png")));
        QVERIFY(!session().comparison());  // the window does not wait for it
        QTRY_VERIFY(session().comparison().has_value());
        QVERIFY(settled());
        QCOMPARE(model().overlay().compared()->other.size(), model().picture().size());
        const QImage& other = model().overlay().compared()->other;
        QCOMPARE(other.pixelColor(other.rect().center()), QColor(10, 200, 30));
        QFile broken(dir.filePath(QStringLiteral("broken.png")));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("no picture");
        broken.close();
        session().compareWithFile(broken.fileName());
        QTRY_VERIFY(!message().startsWith(QStringLiteral("Reading")) &&
                    message().contains(QStringLiteral("broken.png")));
        // What was asked for before it comes is forgotten: the newest counts.
        session().compareWithFile(broken.fileName());
        session().compareWithFile(dir.filePath(QStringLiteral("other.png")));
        QTRY_VERIFY(message().contains(QStringLiteral("Compared with other.png")));
        QVERIFY(session().comparison()->file.endsWith(QStringLiteral("other.png")));
    }
};

QTEST_MAIN(CompareTest)
#include "compare_test.moc"
