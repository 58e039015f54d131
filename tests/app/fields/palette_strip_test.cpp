// A palette's swatches by pointer and keys, and the copies of a model, whose cells are chosen likewise.
#include <QSignalSpy>
#include <QtTest>

#include "app/editors/copies_plot.h"
#include "app/fields/palette_shelf.h"

using namespace kettle;

class PaletteStripTest final : public QObject {
    Q_OBJECT

    static std::shared_ptr<ObjectColours> copies(std::size_t count) {
        auto made = std::make_shared<ObjectColours>();
        for (std::size_t i = 0; i < count; ++i) {
            made->objects.push_back({"cup-" + std::to_string(i), {}, 2});
            made->ofObjects.push_back({0.5f, 0.25f, 0.1f});
        }
        return made;
    }

private Q_SLOTS:
    void theArrowsGoOverTheSwatches() {
        PaletteStrip strip;
        std::vector<Vec3> colours;
        for (int i = 0; i < 20; ++i) colours.push_back({static_cast<float>(i), 0, 0});
        strip.setColours(colours);
        strip.resize(200, strip.heightForWidth(200));
        int across = 0;
        while (strip.rectOf(static_cast<std::size_t>(across)).top() == strip.rectOf(0).top()) ++across;
        QVERIFY(across > 3 && across < 20);
        QSignalSpy chosen(&strip, &PaletteStrip::chosen);
        const auto current = [&] {
            QTest::keyClick(&strip, Qt::Key_Return);
            return static_cast<int>(chosen.last()[0].value<Colour>().r);
        };
        QCOMPARE(current(), 0);
        QTest::keyClick(&strip, Qt::Key_Left);
        QCOMPARE(current(), 0);
        QTest::keyClick(&strip, Qt::Key_Right);
        QTest::keyClick(&strip, Qt::Key_Right);
        QCOMPARE(current(), 2);
        QTest::keyClick(&strip, Qt::Key_Down);
        QCOMPARE(current(), 2 + across);
        QTest::keyClick(&strip, Qt::Key_Left);
        QCOMPARE(current(), 1 + across);
        QTest::keyClick(&strip, Qt::Key_Up);
        QCOMPARE(current(), 1);
        for (int i = 0; i < 30; ++i) QTest::keyClick(&strip, Qt::Key_Right);
        QCOMPARE(current(), 19);
    }
    void aClickTakesItsSwatch() {
        PaletteStrip strip;
        strip.setColours({{1, 0, 0}, {0, 2, 0}, {0, 0, 3}});
        strip.resize(200, strip.heightForWidth(200));
        QSignalSpy chosen(&strip, &PaletteStrip::chosen);
        QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.rectOf(1).center());
        QCOMPARE(chosen.last()[0].value<Colour>().g, 2.0f);
        QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.rectOf(2).center());
        QCOMPARE(chosen.last()[0].value<Colour>().b, 3.0f);
        QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.rectOf(3).center());  // there is none
        QCOMPARE(chosen.size(), 2);
    }
    void aCopyIsChosenByItsCell() {
        for (const std::size_t count : {7u, 61u, 301u, 2001u}) {
            CopiesStrip strip;
            strip.setObjects(copies(count), std::vector<int>(count, 0));
            strip.resize(203, 2000);
            QSignalSpy chosen(&strip, &CopiesStrip::chosen);
            for (const std::size_t index : {std::size_t{0}, std::size_t{5}, count - 1}) {
                QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.rectOf(index).center());
                QCOMPARE(chosen.last()[0].toString(), QStringLiteral("cup-%1").arg(index));
                QVERIFY(!chosen.last()[1].toBool());
            }
            QTest::mouseClick(&strip, Qt::LeftButton, Qt::ControlModifier, strip.rectOf(1).center());
            QVERIFY(chosen.last()[1].toBool());
            const auto before = chosen.size();
            QTest::mouseClick(&strip, Qt::LeftButton, {}, strip.rectOf(count).center());  // behind the last
            // The last pixel of a row is behind its last cell, at every size of cells.
            QTest::mouseClick(&strip, Qt::LeftButton, {}, {202, strip.rectOf(0).center().y()});
            QCOMPARE(chosen.size(), before);
            // Smaller cells for more of them, so that the height stays.
            QVERIFY(strip.heightForWidth(200) <= 160);
        }
    }
};

QTEST_MAIN(PaletteStripTest)
#include "palette_strip_test.moc"
