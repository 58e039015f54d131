// Jobs that add detail to a relief.

#include "app/board/board_view.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class DetailingTest final : public QObject, Job {
    Q_OBJECT

    /// C. Barré-Brisebois and S. Hill 2012; the detail is mixed towards flat first.
    static std::array<double, 3> reoriented(const std::array<double, 3>& base,
                                            const std::array<double, 4>& stored, double amount) {
        const double t[3]{base[0], base[1], base[2] + 1};
        const double u[3]{-amount * (2 * stored[0] - 1), -amount * (2 * stored[1] - 1),
                          1 + amount * (2 * stored[2] - 2)};
        const double dot = t[0] * u[0] + t[1] * u[1] + t[2] * u[2];
        std::array<double, 3> r{};
        double square = 0;
        for (std::size_t c = 0; c < 3; ++c) {
            r[c] = t[c] * dot / t[2] - u[c];
            square += r[c] * r[c];
        }
        for (double& x : r) x /= std::sqrt(square);
        return r;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aSecondNormalMapThreeTimesAtHalfStrength() {
        // Three times 256 texels, so that each point is the middle of a texel of the detail.
        constexpr int kSide = 3 * 256;
        QVERIFY(startDemo());
        const auto before = planesOf("normal", kSide);
        const auto detail = pixelsOf(own(QStringLiteral("grounds/gravel/gravel_normal.png")), 256);
        setCheck([=, this]() -> QString {
            const auto now = planesOf("normal", kSide);
            double worst = 0;
            for (std::size_t y = 0; y < kSide; ++y)
                for (std::size_t x = 0; x < kSide; ++x) {
                    const std::size_t i = y * kSide + x;
                    const auto wanted = reoriented({before[0][i], before[1][i], before[2][i]},
                                                   detail[y % 256 * 256 + x % 256], 0.5);
                    for (std::size_t c = 0; c < 3; ++c)
                        worst = std::max(worst, std::fabs(static_cast<double>(now[c][i]) - wanted[c]));
                }
            return worst < 0.01 ? QString() : QStringLiteral("it is off by %1").arg(worst);
        });
        const Line& line = *project().lineOfChannel("normal");
        const QRect last = window().board().cardRect(line.steps.back()->id);
        hand().drop({own(QStringLiteral("grounds/gravel/gravel_normal.png"))}, window().board(),
                    QPoint(last.right() + 14, last.center().y()));
        QVERIFY(hand().look());
        const Step made = *session().shownStep(session().selectedStep());
        QCOMPARE(made.type, std::string("stack-normals"));
        QVERIFY(write("field-amount", "0.5"));
        clickCard(project().findLine(made.feeds.at("detail").line)->steps.front()->id);
        QVERIFY(hand().look());
        QVERIFY(write("field-repeats", "3"));
        QVERIFY(done(26, 6));
    }
    void aSpecularLevelDisturbedByTheColoursGrey() {
        QVERIFY(startDemo());
        setCheck([this]() -> QString {
            const auto colour = planesOf("base-colour"), level = planesOf("specular-level");
            if (level.empty()) return QStringLiteral("there is no specular level");
            double worst = 0;
            for (std::size_t i = 0; i < level[0].size(); ++i) {
                const double light = 0.2126 * static_cast<double>(colour[0][i]) +
                                     0.7152 * static_cast<double>(colour[1][i]) +
                                     0.0722 * static_cast<double>(colour[2][i]);
                const double grey =
                    light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
                const double wanted = 0.425 * (1 + 0.35 * (grey - 1));
                worst = std::max(worst, std::fabs(static_cast<double>(level[0][i]) - wanted));
            }
            return worst < 1e-5 ? QString() : QStringLiteral("it is off by %1").arg(worst);
        });
        QVERIFY(addLineFor(QStringLiteral("Specular level")));
        QVERIFY(write("field-value", "0.425"));
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("multiply base colour 0.35"));
        QVERIFY(hand().look());
        QVERIFY(done(7, 4));
    }
};

QTEST_MAIN(DetailingTest)
#include "detailing_test.moc"
