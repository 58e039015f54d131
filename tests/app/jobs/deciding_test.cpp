// Jobs of looking and deciding: a source that is exported again upstream, and which of two looks is better.
#include <QElapsedTimer>

#include "app/board/board_view.h"
#include "app/explore/candidate_grid.h"
#include "app/explore/explore_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/looks/looks_strip.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class DecidingTest final : public QObject, Job {
    Q_OBJECT

    ModelView& model() { return window().model(); }
    /// The button of a look, by its name.
    QWidget* lookButton(const QString& name) {
        for (QWidget* w : window().looks().findChildren<QWidget*>())
            if (w->accessibleName() == QStringLiteral("Look ") + name) return w;
        return nullptr;
    }
    /// Share of the lit picture's pixels that are clearly greener than anything else.
    double greenShare() {
        const QImage picture = model().picture();
        int green = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) {
                const QColor c = picture.pixelColor(x, y);
                green += c.green() > c.red() + 40 && c.green() > c.blue() + 40 ? 1 : 0;
            }
        return green / static_cast<double>(picture.width() * picture.height());
    }
    static Vec3 labOf(QRgb p) {
        const auto& t = srgbTable();
        return cieLabOf({t[static_cast<std::size_t>(qRed(p))], t[static_cast<std::size_t>(qGreen(p))],
                         t[static_cast<std::size_t>(qBlue(p))]});
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void theSourceIsExportedAgainUpstream() {
        QVERIFY(startDemo());
        const std::size_t history = session().history().position();
        const std::string step = session().selectedStep();
        setCheck([=, this]() -> QString {
            if (greenShare() < 0.08) return QStringLiteral("%1 of the picture are green").arg(greenShare());
            if (session().history().position() != history || session().selectedStep() != step)
                return QStringLiteral("work or choice are others");
            return {};
        });
        // Another program writes the map; nobody touches this one.
        const QString map = own(QStringLiteral("demo/enamel_kettle/kettle_basecolor.png"));
        const QSize size = QImage(map).size();
        QVERIFY(!size.isEmpty());
        QImage green(size, QImage::Format_RGB888);
        green.fill(QColor(40, 170, 60));
        QVERIFY(green.save(map));
        QElapsedTimer since;
        since.start();
        QVERIFY(hand().lookFor([this] { return greenShare() >= 0.08; }, 5000));
        QVERIFY2(since.elapsed() < 3000, qPrintable(QString::number(since.elapsed())));
        QVERIFY(hand().look());
        QVERIFY(done(30, 0));
    }

    void whichIsBetterAndByHowMuch() {
        QVERIFY(startDemo());
        setCheck([this]() -> QString {
            const auto compared = model().overlay().compared();
            if (compared == nullptr) return QStringLiteral("nothing is compared");
            if (session().look() != "celadon") return QStringLiteral("another look is shown");
            // Over all pixels of the model: those that either picture shows it in. The rest is the same in
            // both, so the sum is that over all pixels.
            const QImage &a = model().picture(), &b = compared->other;
            double sum = 0;
            int unlike = 0;
            for (int y = 0; y < a.height(); ++y)
                for (int x = 0; x < a.width(); ++x)
                    if (a.pixel(x, y) != b.pixel(x, y))
                        sum += ciede2000(labOf(a.pixel(x, y)), labOf(b.pixel(x, y))), ++unlike;
            const double mean = sum / unlike;
            if (std::fabs(mean - compared->mean) > 0.08 * mean)
                return QStringLiteral("the mean is %1, and told is %2").arg(mean).arg(compared->mean);
            return mean > 5 ? QString() : QStringLiteral("both are alike");
        });
        hand().click(*lookButton(QStringLiteral("Celadon")));
        QVERIFY(hand().look());
        hand().click(*lookButton(QStringLiteral("Night ferry")), {}, Qt::AltModifier);
        QVERIFY(hand().look());
        QVERIFY(done(31, 2));
    }
    void fourOptionsForAMeeting() {
        QVERIFY(startDemo());
        const std::size_t looksBefore = project().looks.size();
        std::vector<std::string> coloured;
        std::string wet;
        setCheck([&]() -> QString {
            if (project().looks.size() != looksBefore + 4)
                return QStringLiteral("there are %1 looks").arg(project().looks.size());
            // Hues apart, over the area that is red as received; roughness alike but for the wet one.
            std::vector<double> hues, roughness;
            for (std::size_t l = looksBefore; l < project().looks.size(); ++l) {
                const std::string& look = project().looks[l]->id;
                const auto was = planesOf("base-colour", 256, "none"),
                           now = planesOf("base-colour", 256, look);
                const auto rough = planesOf("roughness", 256, look);
                double x = 0, y = 0, sum = 0;
                for (std::size_t i = 0; i < rough[0].size(); ++i) {
                    sum += static_cast<double>(rough[0][i]) / static_cast<double>(rough[0].size());
                    if (was[0][i] < 2 * was[2][i]) continue;
                    const double a = static_cast<double>(now[0][i]) -
                                     (static_cast<double>(now[1][i]) + static_cast<double>(now[2][i])) / 2,
                                 b = std::sqrt(0.75) *
                                     (static_cast<double>(now[1][i]) - static_cast<double>(now[2][i]));
                    x += a, y += b;
                }
                hues.push_back(std::atan2(y, x) * 180 / 3.14159265358979);
                roughness.push_back(sum);
            }
            const auto driest = std::minmax_element(roughness.begin(), roughness.end());
            if (*driest.first > 0.8 * *driest.second) return QStringLiteral("none is smoother");
            int apart = 0;
            for (std::size_t a = 0; a < hues.size(); ++a)
                for (std::size_t b = 0; b < a; ++b)
                    apart += std::fabs(std::remainder(hues[a] - hues[b], 360)) > 25 ? 1 : 0;
            if (apart < 3) return QStringLiteral("%1 pairs of hues are apart").arg(apart);
            const QImage sheet(own(QStringLiteral("demo/exported/contact-sheet.png")));
            return sheet.width() > 1000 ? QString() : QStringLiteral("there is no sheet");
        });
        hand().click(window().board(), window().board().cardRect("glaze").center());
        QVERIFY(hand().look());
        hand().chord(Qt::Key_E);
        QVERIFY(hand().lookFor([this] { return window().explore().isCurrent(); }, 60000));
        for (const int which : {2, 5, 9})
            hand().click(window().explore().grid(), window().explore().grid().pictureRect(which).center(),
                         Qt::ControlModifier);
        hand().chord(Qt::Key_K);
        hand().chord(Qt::Key_Escape);
        QVERIFY(hand().look());
        hand().click(window().board(), window().board().cardRect("wetness").center());
        QVERIFY(hand().look());
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("wet film"));
        QVERIFY(hand().look());
        hand().chord(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(hand().look());
        hand().click(window().exportSheet().startButton());
        QVERIFY(hand().lookFor([this] { return !window().exportSheet().isRunning(); }, 120000));
        QVERIFY(hand().look());
        QVERIFY(done(24, 12));
    }
};

QTEST_MAIN(DecidingTest)
#include "deciding_test.moc"
