// What is painted in strips has the pixels of what is painted at once, and waits for no other thread.
#include "app/style/strips.h"

#include <QPainterPath>
#include <QSemaphore>
#include <QThreadPool>
#include <QtTest>
#include <algorithm>
#include <atomic>
#include <cstdlib>
#include <functional>

using namespace kettle;

namespace {

using Drawn = std::function<void(QPainter&)>;
enum class How { AtOnce, InStrips };

/// A picture of ramps and of edges.
QImage picture() {
    QImage image(450, 300, QImage::Format_RGB32);
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            image.setPixel(x, y, qRgb(x % 256, y % 256, (7 * x + 13 * y) % 256));
    return image;
}

QImage painted(double ratio, double zoom, const Drawn& drawn) {
    QImage image(1000, 900, QImage::Format_RGB32);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::white);
    QPainter p(&image);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.scale(zoom, zoom);
    drawn(p);
    return image;
}

int mostApart(const QImage& a, const QImage& b) {
    int most = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QRgb p = a.pixel(x, y), q = b.pixel(x, y);
            most = std::max({most, std::abs(qRed(p) - qRed(q)), std::abs(qGreen(p) - qGreen(q)),
                             std::abs(qBlue(p) - qBlue(q))});
        }
    return most;
}

void part(QPainter& p, How how, const QRectF& area, const std::function<void()>& paint) {
    how == How::InStrips ? theme::inStrips(p, area, paint) : paint();
}

/// A scaled picture, and a veil with a hole.
void drawPictures(QPainter& p, How how) {
    static const QImage kPicture = picture();
    const QRectF target(10.3, 7.6, 700, 460);
    how == How::InStrips ? theme::drawImage(p, target, kPicture) : p.drawImage(target, kPicture);
    QPainterPath outside, inside;
    outside.addRect(QRectF(5, 260, 500, 300));
    inside.addRect(QRectF(30.5, 290.2, 100, 100));
    part(p, how, outside.boundingRect(),
         [&] { p.fillPath(outside.subtracted(inside), QColor(10, 200, 90, 150)); });
}

/// The same and a round shape with a soft edge.
void drawAll(QPainter& p, How how) {
    drawPictures(p, how);
    p.setRenderHint(QPainter::Antialiasing);
    QPainterPath round;
    round.addEllipse(QRectF(420.5, 7.5, 200, 600));
    part(p, how, round.boundingRect(), [&] { p.fillPath(round, QColor(0, 0, 255, 90)); });
}

}  // namespace

class StripsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void thePixelsAreTheSame_data() {
        QTest::addColumn<double>("ratio");
        QTest::addColumn<double>("zoom");
        for (const double ratio : {1.0, 1.25, 2.0})
            for (const double zoom : {0.4, 0.7, 1.0, 1.3, 2.37})
                QTest::addRow("ratio %g zoom %g", ratio, zoom) << ratio << zoom;
    }
    void thePixelsAreTheSame() {
        QFETCH(double, ratio);
        QFETCH(double, zoom);
        const auto drawn = [&](How how) {
            return painted(ratio, zoom, [&](QPainter& p) { drawAll(p, how); });
        };
        QVERIFY(mostApart(drawn(How::AtOnce), drawn(How::InStrips)) <= 2);
    }
    void aClipThatStandsIsKept() {
        const auto drawn = [&](How how) {
            return painted(1, 1, [&](QPainter& p) {
                QPainterPath round;
                round.addEllipse(QRectF(100, 50, 400, 400));
                p.setClipPath(round);
                drawAll(p, how);
                p.fillRect(0, 0, 1000, 900, Qt::black);  // and it still stands behind it
            });
        };
        QVERIFY(mostApart(drawn(How::AtOnce), drawn(How::InStrips)) <= 2);
        QCOMPARE(drawn(How::InStrips).pixel(10, 10), qRgb(255, 255, 255));
    }
    /// All threads of the pool are at work until somebody lets them go: whoever hands them something waits.
    void noOtherThreadIsWaitedFor() {
        QThreadPool& pool = *QThreadPool::globalInstance();
        const int threads = pool.maxThreadCount();
        QSemaphore atWork, go;
        for (int i = 0; i < threads; ++i)
            pool.start([&] {
                atWork.release();
                go.acquire();
            });
        atWork.acquire(threads);
        std::atomic<bool> isPainted{false};
        bool wasFree = false;
        QThread* const guard = QThread::create([&] {
            for (int i = 0; i < 200 && !isPainted; ++i) QThread::msleep(25);
            wasFree = isPainted;
            go.release(threads);
        });
        guard->start();
        painted(1, 1, [](QPainter& p) { drawPictures(p, How::InStrips); });
        isPainted = true;
        guard->wait();
        delete guard;
        QVERIFY(pool.waitForDone(5000));
        QVERIFY(wasFree);
    }
};

QTEST_MAIN(StripsTest)
#include "strips_test.moc"
