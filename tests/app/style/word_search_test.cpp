// Choices are found by any word of theirs, typed in the closed box.
#include "app/style/word_search.h"

#include <QComboBox>
#include <QtTest>

using namespace kettle;

class WordSearchTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aWordWithinTheChoiceIsFound() {
        QComboBox box;
        searchByWords(box);
        for (const char* choice : {"nothing", "R metalness", "R roughness", "G metalness", "occlusion"})
            box.addItem(QString::fromLatin1(choice));
        box.show();
        QTest::keyClicks(&box, QStringLiteral("metal"));
        QCOMPARE(box.currentText(), QStringLiteral("R metalness"));
        // A pause begins anew; one letter twice goes on to the next.
        QTest::qWait(QApplication::keyboardInputInterval() + 50);
        QTest::keyClicks(&box, QStringLiteral("occ"));
        QCOMPARE(box.currentText(), QStringLiteral("occlusion"));
        QTest::qWait(QApplication::keyboardInputInterval() + 50);
        QTest::keyClicks(&box, QStringLiteral("r"));
        QCOMPARE(box.currentText(), QStringLiteral("R metalness"));
        QTest::keyClicks(&box, QStringLiteral("r"));
        QCOMPARE(box.currentText(), QStringLiteral("R roughness"));
        QTest::qWait(QApplication::keyboardInputInterval() + 50);
        QTest::keyClicks(&box, QStringLiteral("xyz"));
        QCOMPARE(box.currentText(), QStringLiteral("R roughness"));
    }
};

QTEST_MAIN(WordSearchTest)
#include "word_search_test.moc"
