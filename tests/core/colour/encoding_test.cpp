#include "core/colour/encoding.h"

#include <QtTest>
#include <cmath>

using namespace kettle;

class EncodingTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyCodeSurvivesTheRoundTrip() {
        for (int code = 0; code < 256; ++code) {
            const float linear = srgbToLinear(static_cast<float>(code) / 255.0f);
            QCOMPARE(static_cast<int>(toByte(linearToSrgb(linear))), code);
            QCOMPARE(linear, srgbTable()[static_cast<std::size_t>(code)]);
        }
    }
    void publishedValuesOfTheCurve() {
        // IEC 61966-2-1: 18 % grey and half light, and the meeting point of the two pieces.
        QVERIFY(std::fabs(srgbToLinear(0.5f) - 0.21404114f) < 1e-6f);
        QVERIFY(std::fabs(linearToSrgb(0.18f) - 0.46135613f) < 1e-6f);
        QVERIFY(std::fabs(linearToSrgb(0.5f) - 0.73535698f) < 1e-6f);
        QVERIFY(std::fabs(srgbToLinear(0.04045f) - 0.0031308f) < 1e-6f);
        QCOMPARE(srgbToLinear(0.0f), 0.0f);
        QCOMPARE(srgbToLinear(1.0f), 1.0f);
    }
    void theCurveIsOdd() {
        for (const float x : {0.001f, 0.02f, 0.4f, 1.0f, 2.5f}) {
            QCOMPARE(srgbToLinear(-x), -srgbToLinear(x));
            QCOMPARE(linearToSrgb(-x), -linearToSrgb(x));
        }
    }
    void valuesAboveOneAreKept() {
        QVERIFY(linearToSrgb(4.0f) > 1.5f);
        QVERIFY(std::fabs(srgbToLinear(linearToSrgb(4.0f)) - 4.0f) < 1e-4f);
    }
    void bytesAreLimitedAndNanIsBlack() {
        QCOMPARE(static_cast<int>(toByte(-3.0f)), 0);
        QCOMPARE(static_cast<int>(toByte(7.0f)), 255);
        QCOMPARE(static_cast<int>(toByte(std::nanf(""))), 0);
        QCOMPARE(static_cast<int>(toByte(0.5f)), 128);
    }
    void hexColours_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("valid");
        QTest::newRow("with hash") << QStringLiteral("#B9261C") << true;
        QTest::newRow("without") << QStringLiteral("b9261c") << true;
        QTest::newRow("too short") << QStringLiteral("#B9261") << false;
        QTest::newRow("not hex") << QStringLiteral("#B9261G") << false;
        QTest::newRow("empty") << QString() << false;
    }
    void hexColours() {
        QFETCH(QString, text);
        QFETCH(bool, valid);
        float r = 0, g = 0, b = 0;
        QCOMPARE(linearOfHex(text.toStdString(), r, g, b), valid);
        if (valid) QCOMPARE(QString::fromStdString(hexOfLinear(r, g, b)), QStringLiteral("#B9261C"));
    }
};

QTEST_APPLESS_MAIN(EncodingTest)
#include "encoding_test.moc"
