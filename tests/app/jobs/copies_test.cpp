// Jobs on a model of many objects, each to be a little different from the others.
#include <QClipboard>
#include <set>

#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "core/geometry/object_points.h"
#include "tests/app/jobs/job.h"
#include "tests/support/seen_objects.h"

using namespace kettle;
using namespace kettle::jobs;

class CopiesTest final : public QObject, Job {
    Q_OBJECT

    using Triple = std::array<double, 3>;
    static double shown(double light) {
        return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    }
    /// The displayed colour of each object at the end of the base colour's line; by surface where each has
    /// its own. Empty without a model.
    std::vector<Triple> coloursOfObjects() {
        std::vector<Triple> colours;
        const auto scene = window().model().scene();
        const Line* line = project().lineOfChannel("base-colour");
        if (scene == nullptr || line == nullptr || project().surfaces.size() > 1) return colours;
        const auto objects = objectsOf(scene->mesh());
        const Sampled s =
            sampleWants(project(), project().findLook(session().look()), {{line->id, "", 3}},
                        session().resources(), objectPoints(scene->mesh(), objects));
        for (std::size_t i = 0; i < objects.size(); ++i)
            colours.push_back({shown(static_cast<double>(s.plane(0, 0)[i])),
                               shown(static_cast<double>(s.plane(0, 1)[i])),
                               shown(static_cast<double>(s.plane(0, 2)[i]))});
        return colours;
    }
    /// The rack as one surface.
    bool bringRack() {
        hand().drop({own(QStringLiteral("rack/rack.obj"))}, *window().centralWidget());
        if (!hand().lookFor([this] { return window().bringSheet().plan() != nullptr; })) return false;
        QComboBox* surfaces = nullptr;
        for (auto* box : window().bringSheet().findChildren<QComboBox*>())
            if (box->accessibleName() == QStringLiteral("Surfaces")) surfaces = box;
        if (surfaces == nullptr || !hand().chooseIn(*surfaces, QStringLiteral("one surface"))) return false;
        hand().click(window().bringSheet().acceptButton());
        return hand().look();
    }
    bool addByName(const char* name) {
        hand().chord(Qt::Key_Slash);
        hand().type(QString::fromLatin1(name));
        return hand().look();
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aPaletteLandsOnObjects() {
        QVERIFY(startEmpty());
        const QStringList hexes{QStringLiteral("#c23b22"), QStringLiteral("#e8d9b0"), QStringLiteral("#2f5d62"),
                                QStringLiteral("#7a9e7e"), QStringLiteral("#3d2b1f")};
        setCheck([=, this]() -> QString {
            const auto colours = coloursOfObjects();
            if (colours.size() < 20) return QStringLiteral("there are %1 objects").arg(colours.size());
            std::set<QString> met;
            for (const Triple& c : colours) {
                double nearest = 255;
                QString which;
                for (const QString& hex : hexes) {
                    const QColor wanted(hex);
                    const double off = 255 * std::max({std::fabs(c[0] - wanted.redF()),
                                                       std::fabs(c[1] - wanted.greenF()),
                                                       std::fabs(c[2] - wanted.blueF())});
                    if (off < nearest) nearest = off, which = hex;
                }
                if (nearest > 1) return QStringLiteral("one is off by %1 codes").arg(nearest);
                met.insert(which);
            }
            return met.size() == 5 ? QString() : QStringLiteral("%1 colours are there").arg(met.size());
        });
        // What the artist copied elsewhere.
        QApplication::clipboard()->setText(QStringLiteral("brick cream river leaf bark: ") +
                                           hexes.join(QStringLiteral(", ")));
        QVERIFY(bringRack());
        hand().chord(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(hand().look());
        QVERIFY(done(21, 5));
    }
};

QTEST_MAIN(CopiesTest)
#include "copies_test.moc"
