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

    /// Roughness, metalness and occlusion against a picture's numbers, which are raw: at every texel.
    QString wrongIn(const QString& file) {
        constexpr int kSide = 512;
        const auto pixels = pixelsOf(own(file), kSide);
        const auto roughness = planesOf("roughness", kSide), metalness = planesOf("metalness", kSide),
                   occlusion = planesOf("occlusion", kSide);
        if (roughness.empty() || metalness.empty() || occlusion.empty())
            return QStringLiteral("a channel is missing");
        for (std::size_t i = 0; i < pixels.size(); ++i) {
            const double off = std::max({std::fabs(static_cast<double>(roughness[0][i]) - (1 - pixels[i][0])),
                                         std::fabs(static_cast<double>(metalness[0][i]) - pixels[i][1]),
                                         std::fabs(static_cast<double>(occlusion[0][i]) - pixels[i][2])});
            if (off > 1.5 / 255) return QStringLiteral("place %1 is off by %2").arg(i).arg(off);
        }
        return session().lookHere() ? QStringLiteral("one step is shown") : QString();
    }
    bool drop(const QString& folder) {
        hand().drop({own(folder)}, *window().centralWidget());
        return hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }) && hand().look();
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aPackedMapOfUnknownOrderAndTheNextSet() {
        QVERIFY(startEmpty());
        setCheck([this] { return wrongIn(QStringLiteral("tin/tin_data.png")); });
        QVERIFY(drop(QStringLiteral("tin")));
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
        // Another folder with the same words, and another picture: the tin's, upside down.
        QVERIFY(QDir().mkdir(own(QStringLiteral("caddy"))));
        for (const char* map : {"albedo", "data", "nrm"})
            QVERIFY(QImage(own(QStringLiteral("tin/tin_%1.png").arg(QLatin1String(map))))
                        .mirrored()
                        .save(own(QStringLiteral("caddy/caddy_%1.png").arg(QLatin1String(map)))));
        QVERIFY(startAgain());
        setCheck([this] { return wrongIn(QStringLiteral("caddy/caddy_data.png")); });
        QVERIFY(drop(QStringLiteral("caddy")));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        QVERIFY(done(2, 2));
    }
};

QTEST_MAIN(ImportingTest)
#include "importing_test.moc"
