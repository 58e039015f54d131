// Jobs that begin with files and an empty window.
#include <QLineEdit>
#include <QPushButton>

#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class ImportingTest final : public QObject, Job {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aPackedMapOfUnknownOrder() {
        QVERIFY(startEmpty());
        constexpr int kSide = 512;
        const auto pixels = pixelsOf(own(QStringLiteral("tin/tin_data.png")), kSide);
        setCheck([=, this]() -> QString {
            const auto roughness = planesOf("roughness", kSide), metalness = planesOf("metalness", kSide),
                       occlusion = planesOf("occlusion", kSide);
            if (roughness.empty() || metalness.empty() || occlusion.empty())
                return QStringLiteral("a channel is missing");
            // At every texel; the map's numbers are raw.
            for (std::size_t i = 0; i < pixels.size(); ++i) {
                const double off =
                    std::max({std::fabs(static_cast<double>(roughness[0][i]) - (1 - pixels[i][0])),
                              std::fabs(static_cast<double>(metalness[0][i]) - pixels[i][1]),
                              std::fabs(static_cast<double>(occlusion[0][i]) - pixels[i][2])});
                if (off > 1.5 / 255) return QStringLiteral("place %1 is off by %2").arg(i).arg(off);
            }
            return session().lookHere() ? QStringLiteral("one step is shown") : QString();
        });
        hand().drop({own(QStringLiteral("tin"))}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        QVERIFY(hand().look());
        const QString file = QStringLiteral("tin_data.png");
        QLineEdit* order = nullptr;
        for (auto* field : window().bringSheet().findChildren<QLineEdit*>())
            if (field->accessibleName() == QStringLiteral("What the components of tin_data.png hold"))
                order = field;
        QVERIFY(order != nullptr && order->isVisible());
        hand().click(*order);
        hand().type(QStringLiteral("gloss metal ao"));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        QVERIFY(done(1, 4));
    }
};

QTEST_MAIN(ImportingTest)
#include "importing_test.moc"
