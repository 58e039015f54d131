// Kept texts look as texts that are drawn anew.
#include "app/style/labels.h"

#include <QFontMetricsF>
#include <QImage>
#include <QLabel>
#include <QPainter>
#include <QtTest>

#include "app/style/theme.h"

using namespace kettle;

namespace {

QImage painted(const QString& text, double width, int pixels = 12, bool heavy = false, double zoom = 1) {
    QImage image(240, 60, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    p.scale(zoom, zoom);
    p.setPen(Qt::black);
    theme::drawLabel(p, QRectF(10, 5, width, 20), text, pixels, heavy);
    return image;
}

/// The box around everything that is not white.
QRect inkOf(const QImage& image) {
    QRect ink;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (qGray(image.pixel(x, y)) < 200) ink |= QRect(x, y, 1, 1);
    return ink;
}

}  // namespace

class LabelsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }

    void theSecondTimeLooksLikeTheFirst() {
        const QImage first = painted(QStringLiteral("HSV shift"), 120);
        QVERIFY(!inkOf(first).isEmpty());
        QCOMPARE(painted(QStringLiteral("HSV shift"), 120), first);
        QVERIFY(painted(QStringLiteral("HSV shift"), 120, 12, true) != first);
        QVERIFY(painted(QStringLiteral("Blend"), 120) != first);
    }
    void itStandsInTheMiddleAndBeginsAtTheLeft() {
        const QRect ink = inkOf(painted(QStringLiteral("Hx"), 120));
        QVERIFY(std::abs(ink.left() - 10) <= 2);
        QVERIFY(ink.top() >= 5 && ink.bottom() <= 25);
        QVERIFY(std::abs(ink.center().y() - 15) <= 3);
    }
    void whatIsTooLongIsElidedToItsRoom() {
        const QString lengthy = QStringLiteral("A very long telling value that has no room");
        QVERIFY(inkOf(painted(lengthy, 80)).right() <= 90);
        QVERIFY(inkOf(painted(lengthy, 200)).right() > 120);  // another room, another text
    }
    void itGrowsWithTheZoom() {
        const QRect once = inkOf(painted(QStringLiteral("Ramp"), 90)),
                    twice = inkOf(painted(QStringLiteral("Ramp"), 90, 12, false, 2));
        QVERIFY(std::abs(twice.width() - 2 * once.width()) <= 4);
    }
    void widthsAreTheFonts() {
        for (const bool heavy : {false, true}) {
            const double wanted =
                QFontMetricsF(theme::font(11, heavy)).horizontalAdvance(QStringLiteral("+152°"));
            QCOMPARE(theme::labelWidth(QStringLiteral("+152°"), 11, heavy), wanted);
            QCOMPARE(theme::labelWidth(QStringLiteral("+152°"), 11, heavy), wanted);
        }
    }
    void manyTextsDoNotPileUp() {
        for (int i = 0; i < 9000; ++i) theme::labelWidth(QString::number(i));
        QCOMPARE(theme::labelWidth(QStringLiteral("1")),
                 QFontMetricsF(theme::font(12)).horizontalAdvance(QStringLiteral("1")));
        QVERIFY(painted({}, 100) == painted({}, 50));
    }
    void longPathsMayBreak() {
        const QString path =
            QStringLiteral("Cannot find /river/ferry/kitchen/") + QString(300, QLatin1Char('x'));
        QLabel label(theme::breakable(path));
        label.setWordWrap(true);
        QVERIFY(label.minimumSizeHint().width() < 300);
        QString same = label.text();
        QCOMPARE(same.remove(QChar(0x200B)), path);
        QCOMPARE(theme::breakable(QStringLiteral("two words")), QStringLiteral("two words"));
    }
};

QTEST_MAIN(LabelsTest)
#include "labels_test.moc"
