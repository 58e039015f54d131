// Jobs in which a surface wears.

#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class WearingTest final : public QObject, Job {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void byAScratchMap() {
        QVERIFY(startEmpty());
        constexpr int kSide = 512;
        const auto scratches = pixelsOf(own(QStringLiteral("masks/scratches_grey.png")), kSide);
        setCheck([=, this]() -> QString {
            const auto layers = layersOf(project(), "");
            if (layers.empty()) return QStringLiteral("there is no layer");
            const Step head = *session().shownStep(headOf(*layers.back()).id);
            const auto numberOf = [&](const char* control) {
                const auto at = head.controls.find(control);
                return at != head.controls.end() ? std::get<double>(at->second) : 1.0;
            };
            const double gamma = numberOf("mask-gamma"), contrast = numberOf("mask-contrast");
            if (gamma >= 0.8 || contrast <= 1.5) return QStringLiteral("contrast and gamma are not set");
            const Sampled s =
                sampleWants(project(), project().findLook(session().look()), {{layers.back()->id, "", 1}},
                            session().resources(), PointSet::grid(kSide, kSide));
            const float* mask = s.plane(0, 0);
            double worst = 0, least = 1, most = 0;
            for (std::size_t i = 0; i < scratches.size(); ++i) {
                const double wanted =
                    std::clamp((std::pow(scratches[i][0], 1 / gamma) - 0.5) * contrast + 0.5, 0.0, 1.0);
                worst = std::max(worst, std::fabs(static_cast<double>(mask[i]) - wanted));
                least = std::min(least, wanted), most = std::max(most, wanted);
            }
            if (worst > 1.5 / 255) return QStringLiteral("the mask is off by %1").arg(worst);
            return most - least > 0.5 ? QString() : QStringLiteral("it is the same everywhere");
        });
        hand().drop({own(QStringLiteral("tin"))}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("layer"));
        QVERIFY(hand().look());
        const auto layers = layersOf(project(), "");
        QCOMPARE(layers.size(), std::size_t{1});
        hand().drop({own(QStringLiteral("masks/scratches_grey.png"))}, window().board(),
                    window().board().cardRect(headOf(*layers.front()).id).center());
        QVERIFY(hand().look());
        QVERIFY(slide("slider-mask-contrast", 2.5));
        QVERIFY(slide("slider-mask-gamma", 0.5));
        QVERIFY(done(18, 7));
    }
};

QTEST_MAIN(WearingTest)
#include "wearing_test.moc"
