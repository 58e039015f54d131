// Jobs in which two pictures are mixed by a third.
#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class MixingTest final : public QObject, Job {
    Q_OBJECT

    static constexpr int kSide = 512;

    static double light(double displayed) {
        return displayed <= 0.04045 ? displayed / 12.92 : std::pow((displayed + 0.055) / 1.055, 2.4);
    }
    static double displayed(double light) {
        return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    }
    static double seenGrey(const std::array<double, 4>& p) {
        return displayed(0.2126 * light(p[0]) + 0.7152 * light(p[1]) + 0.0722 * light(p[2]));
    }
    static double alpha(const std::array<double, 4>& p) { return p[3]; }

    /// The light of a picture of half as many texels at each texel of the mask: the four around it in their
    /// shares, over the edges too.
    static std::vector<std::array<double, 3>> enlarged(const std::vector<std::array<double, 4>>& from) {
        constexpr int kFrom = kSide / 2;
        std::vector<std::array<double, 3>> to;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const int x0 = (x + kSide - 1) / 2 % kFrom, x1 = (x0 + 1) % kFrom,
                          y0 = (y + kSide - 1) / 2 % kFrom, y1 = (y0 + 1) % kFrom;
                const double ax = x % 2 == 0 ? 0.75 : 0.25, ay = y % 2 == 0 ? 0.75 : 0.25;
                std::array<double, 3> mixed{};
                for (std::size_t c = 0; c < 3; ++c) {
                    const auto at = [&](int i, int j) {
                        return light(from[static_cast<std::size_t>(j * kFrom + i)][c]);
                    };
                    mixed[c] = (1 - ay) * ((1 - ax) * at(x0, y0) + ax * at(x1, y0)) +
                               ay * ((1 - ax) * at(x0, y1) + ax * at(x1, y1));
                }
                to.push_back(mixed);
            }
        return to;
    }
    /// Sand where the mask is black, clay where it is white, their light mixed between, at every texel.
    void checkMixedBy(const QString& mask, double (*of)(const std::array<double, 4>&)) {
        const auto sand = enlarged(pixelsOf(own(QStringLiteral("grounds/sand/sand_color.png")), kSide / 2)),
                   clay = enlarged(pixelsOf(own(QStringLiteral("grounds/clay/clay_color.png")), kSide / 2));
        const auto by = pixelsOf(own(mask), kSide);
        setCheck([=, this]() -> QString {
            const auto colour = planesOf("base-colour", kSide);
            if (colour.empty()) return QStringLiteral("there is no colour");
            double worst = 0;
            for (std::size_t i = 0; i < sand.size(); ++i)
                for (std::size_t c = 0; c < 3; ++c) {
                    const double wanted = sand[i][c] + of(by[i]) * (clay[i][c] - sand[i][c]);
                    worst = std::max(
                        worst, std::fabs(displayed(static_cast<double>(colour[c][i])) - displayed(wanted)));
                }
            return worst < 1.5 / 255 ? QString() : QStringLiteral("it is off by %1").arg(worst * 255);
        });
    }
    void mixBy(const QString& mask) {
        hand().drop({own(QStringLiteral("grounds/sand/sand_color.png"))}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        const std::string source = project().lineOfChannel("base-colour")->steps.front()->id;
        const QRect card = window().board().cardRect(source);
        hand().drop({own(QStringLiteral("grounds/clay/clay_color.png"))}, window().board(),
                    QPoint(card.right() + 14, card.center().y()));
        QVERIFY(hand().look());
        const std::string blend = session().selectedStep();
        QCOMPARE(session().shownStep(blend)->type, std::string("blend"));
        hand().drop({own(mask)}, window().board(), window().board().cardRect(blend).center());
        QVERIFY(hand().look());
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void byAThirdOnesBrightness() {
        QVERIFY(startEmpty());
        checkMixedBy(QStringLiteral("masks/smudge_opaque.png"), seenGrey);
        mixBy(QStringLiteral("masks/smudge_opaque.png"));
        QVERIFY(done(5, 4));
    }
    void byAMaskInAlpha() {
        QVERIFY(startEmpty());
        checkMixedBy(QStringLiteral("masks/scratches_alpha.png"), alpha);
        mixBy(QStringLiteral("masks/scratches_alpha.png"));
        QVERIFY(done(6, 4));
    }
    void byAMaskInGrey() {
        QVERIFY(startEmpty());
        checkMixedBy(QStringLiteral("masks/scratches_grey.png"), seenGrey);
        mixBy(QStringLiteral("masks/scratches_grey.png"));
        QVERIFY(done(6, 4));
    }
};

QTEST_MAIN(MixingTest)
#include "mixing_test.moc"
