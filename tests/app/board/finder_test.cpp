// The finder without a window: what is offered for what is typed, in which order, and what Enter chooses.
#include "app/board/finder.h"

#include <QLineEdit>
#include <QListWidget>
#include <QSignalSpy>
#include <QtTest>

#include "core/document/layers.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class FinderTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<Finder> m_finder;

    QListWidget& list() { return *m_finder->findChild<QListWidget*>(); }
    QLineEdit& filter() { return *m_finder->findChild<QLineEdit*>(); }
    QStringList offered(const QString& typed, Kind kind = Kind::Colour) {
        m_finder->openFor(QStringLiteral("line"), 2, kind, {100, 100});
        QTest::keyClicks(&filter(), typed);
        QStringList names;
        for (int i = 0; i < list().count(); ++i) names << list().item(i)->text();
        return names;
    }
    void enter() { QTest::keyClick(&filter(), Qt::Key_Return); }

private Q_SLOTS:
    void init() { m_finder = std::make_unique<Finder>(shippedSteps(), nullptr); }
    void cleanup() { m_finder.reset(); }

    void whatIsCalledSoComesFirst() {
        const QStringList names = offered(QStringLiteral("lev"));
        QCOMPARE(names.front(), QStringLiteral("Levels"));
        QSignalSpy chosen(m_finder.get(), &Finder::chosen);
        enter();
        QCOMPARE(chosen.size(), 1);
        QCOMPARE(chosen[0][0].toString(), QStringLiteral("line"));
        QCOMPARE(chosen[0][1].toInt(), 2);
        QCOMPARE(chosen[0][2].toString(), QStringLiteral("levels"));
        QVERIFY(!m_finder->isVisible());
    }
    void nothingButWhatFitsTheLine() {
        for (const Kind kind : {Kind::Colour, Kind::Scalar, Kind::Normal}) {
            m_finder->openFor(QStringLiteral("line"), 1, kind, {100, 100});
            int steps = 0;
            for (int i = 0; i < list().count(); ++i) {
                const StepSpec* spec =
                    shippedSteps().find(list().item(i)->data(Qt::UserRole).toString().toStdString());
                if (spec == nullptr) continue;
                QVERIFY2(spec->fits(kind), spec->name.c_str());
                QVERIFY(spec->type != kLayerHead && spec->type != kFill);
                ++steps;
            }
            QVERIFY(steps > 2);
        }
        QCOMPARE(offered(QStringLiteral("hsv"), Kind::Normal),
                 QStringList{QStringLiteral("HSV shift does not fit a normal line.")});
        QSignalSpy chosen(m_finder.get(), &Finder::chosen);
        enter();
        QVERIFY(chosen.isEmpty());
    }
    void aModesNameIsABlendInThatMode() {
        for (const Kind kind : {Kind::Colour, Kind::Scalar}) {
            QCOMPARE(offered(QStringLiteral("mult"), kind).front(), QStringLiteral("Blend: multiply"));
            QSignalSpy chosen(m_finder.get(), &Finder::blendChosen);
            enter();
            QCOMPARE(chosen.size(), 1);
            QCOMPARE(chosen[0][1].toInt(), 2);
            QCOMPARE(chosen[0][2].toString(), QStringLiteral("blend"));
            QCOMPARE(chosen[0][3].toString(), QStringLiteral("multiply"));
        }
        // Modes of hue and saturation are none for greys; two letters are too few to tell a mode.
        QVERIFY(offered(QStringLiteral("luminosity")).contains(QStringLiteral("Blend: luminosity")));
        QVERIFY(!offered(QStringLiteral("luminosity"), Kind::Scalar)
                     .contains(QStringLiteral("Blend: luminosity")));
        QVERIFY(offered(QStringLiteral("mu")).filter(QStringLiteral("Blend: ")).isEmpty());
        QVERIFY(
            offered(QStringLiteral("multiply"), Kind::Normal).filter(QStringLiteral("Blend: ")).isEmpty());
    }
    void aModeAndAPattern() {
        for (const char* typed : {"difference shape", "shape difference"}) {
            QVERIFY(offered(QString::fromLatin1(typed)).contains(QStringLiteral("Difference: Shape")));
            QSignalSpy chosen(m_finder.get(), &Finder::patternChosen);
            enter();
            QCOMPARE(chosen.size(), 1);
            QCOMPARE(chosen[0][2].toString(), QStringLiteral("shape"));
            QCOMPARE(chosen[0][3].toString(), QStringLiteral("difference"));
        }
    }
    void whatWasUsedLastComesFirst() {
        offered(QStringLiteral("curves"));
        enter();
        offered(QStringLiteral("levels"));
        enter();
        const QStringList names = offered({});
        QCOMPARE(names[0], QStringLiteral("Levels"));
        QCOMPARE(names[1], QStringLiteral("Curves"));
        QCOMPARE(m_finder->recent(), (QStringList{QStringLiteral("levels"), QStringLiteral("curves")}));
    }
    void layersAreOfferedWhereTheyMayGo() {
        QVERIFY(offered(QStringLiteral("layer")).filter(QStringLiteral("Layer: ")).isEmpty());
        m_finder->setLayers(
            Finder::Layers{QStringLiteral("behind"), {{QStringLiteral("set-2"), QStringLiteral("Sand")}}});
        const QStringList names = offered(QStringLiteral("layer"));
        QCOMPARE(names.front(), QStringLiteral("Layer: values"));
        QVERIFY(names.contains(QStringLiteral("Layer: Sand")));
        for (qsizetype down = offered(QStringLiteral("sand")).indexOf(QStringLiteral("Layer: Sand"));
             down > 0; --down)
            QTest::keyClick(&filter(), Qt::Key_Down);
        QSignalSpy chosen(m_finder.get(), &Finder::layerChosen);
        enter();
        QCOMPARE(chosen.size(), 1);
        QCOMPARE(chosen[0][0].toString(), QStringLiteral("behind"));
        QCOMPARE(chosen[0][1].toString(), QStringLiteral("set-2"));
    }
    void theArrowsChooseAndEscapeCloses() {
        const QStringList names = offered({});
        QTest::keyClick(&filter(), Qt::Key_Up);
        QCOMPARE(list().currentRow(), 0);
        QTest::keyClick(&filter(), Qt::Key_Down);
        QCOMPARE(list().currentRow(), 1);
        QSignalSpy chosen(m_finder.get(), &Finder::chosen);
        QTest::keyClick(&filter(), Qt::Key_Escape);
        QVERIFY(!m_finder->isVisible());
        QVERIFY(chosen.isEmpty());
    }
};

QTEST_MAIN(FinderTest)
#include "finder_test.moc"
