// Jobs of printed designs: masks that were drawn for a texture, and labels.
#include <QPushButton>
#include <cmath>

#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class PrintingTest final : public QObject, Job {
    Q_OBJECT

    static double light(double shown) {
        return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aDesignOfThreeMasks() {
        QVERIFY(startEmpty());
        constexpr int kSide = 512;
        const std::array<const char*, 3> names{"disc", "ring", "wave"},
            hexes{"#e8d9b0", "#c23b22", "#2f5d62"};
        setCheck([=, this]() -> QString {
            if (layersOf(project(), "").size() != 3) return QStringLiteral("there are no three layers");
            const auto colour = planesOf("base-colour", kSide);
            const auto tin = pixelsOf(own(QStringLiteral("tin/tin_albedo.png")), kSide);
            std::array<std::vector<std::array<double, 4>>, 3> masks;
            for (std::size_t k = 0; k < 3; ++k)
                masks[k] =
                    pixelsOf(own(QStringLiteral("badge/badge_%1.png").arg(QLatin1String(names[k]))), kSide);
            int soft = 0;
            for (std::size_t i = 0; i < tin.size(); ++i)
                for (std::size_t c = 0; c < 3; ++c) {
                    double wanted = light(tin[i][c]);
                    for (std::size_t k = 0; k < 3; ++k) {
                        const QColor over(QString::fromLatin1(hexes[k]));
                        const double alpha = masks[k][i][3];
                        const double by = c == 0 ? over.redF() : c == 1 ? over.greenF() : over.blueF();
                        wanted += alpha * (light(by) - wanted);
                        soft += alpha > 0.1 && alpha < 0.9 ? 1 : 0;
                    }
                    const double off = static_cast<double>(colour[c][i]) - wanted;
                    if (std::fabs(off) > 1e-5) return QStringLiteral("place %1 is off by %2").arg(i).arg(off);
                }
            return soft > 300 ? QString() : QStringLiteral("no edge is soft");
        });
        hand().drop({own(QStringLiteral("tin/tin_albedo.png"))}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        QStringList files;
        for (const char* name : names)
            files << own(QStringLiteral("badge/badge_%1.png").arg(QLatin1String(name)));
        // Where the board is free.
        hand().drop(files, window().board(), QPoint(700, window().board().height() - 12));
        QVERIFY(hand().look());
        // The last one is chosen; the others by their heads.
        const auto layers = layersOf(project(), "");
        QCOMPARE(layers.size(), std::size_t{3});
        QVERIFY(write("fill-hex-base-colour", hexes[2]));
        for (const std::size_t k : {1, 0}) {
            clickCard(headOf(*layersOf(project(), "")[k]).id);
            QVERIFY(hand().look());
            QVERIFY(write("fill-hex-base-colour", hexes[k]));
        }
        QVERIFY(done(15, 11));
    }
};

QTEST_MAIN(PrintingTest)
#include "printing_test.moc"
