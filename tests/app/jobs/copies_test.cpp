// Jobs on a model of many objects, each to be a little different from the others.
#include <QCheckBox>
#include <QClipboard>
#include <QPushButton>
#include <QTreeWidgetItemIterator>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/bringin/bring_sheet.h"
#include "app/library/library_drawer.h"
#include "app/library/pack_sheet.h"
#include "app/style/theme.h"
#include "core/document/edits.h"
#include "core/geometry/object_points.h"
#include "tests/app/jobs/job.h"
#include "tests/support/seen_objects.h"

using namespace kettle;
using namespace kettle::jobs;

class CopiesTest final : public QObject, Job {
    Q_OBJECT

    using Triple = std::array<double, 3>;
    static double light(double shown) {
        return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
    }
    static double shown(double light) {
        return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    }
    /// The displayed colour of each object on the base colour's line, at its end or after a step; none
    /// without a model of one surface.
    std::vector<Triple> coloursOfObjects(const std::string& after = {}) {
        return coloursOfObjects(after, project());
    }
    std::vector<Triple> coloursOfObjects(const std::string& after, const Project& project) {
        std::vector<Triple> colours;
        const auto scene = window().model().scene();
        const Line* line = project.lineOfChannel("base-colour");
        if (scene == nullptr || line == nullptr || project.surfaces.size() > 1) return colours;
        const auto objects = objectsOf(scene->mesh());
        const Sampled s = sampleWants(project, project.findLook(session().look()), {{line->id, after, 3}},
                                      session().resources(), objectPoints(scene->mesh(), objects));
        for (std::size_t i = 0; i < objects.size(); ++i)
            colours.push_back({shown(static_cast<double>(s.plane(0, 0)[i])),
                               shown(static_cast<double>(s.plane(0, 1)[i])),
                               shown(static_cast<double>(s.plane(0, 2)[i]))});
        return colours;
    }
    /// A model of the artist's as one surface, in the place of work that is not saved.
    bool bringAsOne(const QString& name, const QString& answer = {}) {
        hand().drop({own(QStringLiteral("%1/%1.obj").arg(name))}, *window().centralWidget());
        BringSheet& sheet = window().bringSheet();
        if (!hand().lookFor([&] { return sheet.acceptButton().isEnabled() && sheet.plan() != nullptr; }))
            return false;
        QComboBox* surfaces = nullptr;
        for (auto* box : sheet.findChildren<QComboBox*>())
            if (box->accessibleName() == QStringLiteral("Surfaces")) surfaces = box;
        if (surfaces == nullptr || !hand().chooseIn(*surfaces, QStringLiteral("one surface"))) return false;
        if (!answer.isEmpty()) hand().answerQuestion(answer);
        hand().click(sheet.acceptButton());
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
        const QStringList hexes{QStringLiteral("#c23b22"), QStringLiteral("#e8d9b0"),
                                QStringLiteral("#2f5d62"), QStringLiteral("#7a9e7e"),
                                QStringLiteral("#3d2b1f")};
        setCheck([=, this]() -> QString {
            const auto colours = coloursOfObjects();
            if (colours.size() < 20) return QStringLiteral("there are %1 objects").arg(colours.size());
            std::set<QString> met;
            for (const Triple& c : colours) {
                double nearest = 255;
                QString which;
                for (const QString& hex : hexes) {
                    const QColor wanted(hex);
                    const double off =
                        255 * std::max({std::fabs(c[0] - wanted.redF()), std::fabs(c[1] - wanted.greenF()),
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
        QVERIFY(bringAsOne(QStringLiteral("rack")));
        hand().chord(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(hand().look());
        QVERIFY(done(21, 5));
    }
    void randomColoursWithNumbersOfTheirOwn() {
        QVERIFY(startEmpty());
        const std::array<const char*, 3> three{"hook_02", "hook_03", "hook_04"};
        const QColor over(QStringLiteral("#e0c8a0"));
        std::string drawn;
        double factor = 1;
        setCheck([&, this]() -> QString {
            const auto colours = coloursOfObjects(), before = coloursOfObjects(drawn);
            if (colours.size() < 20) return QStringLiteral("there are %1 objects").arg(colours.size());
            const auto objects = objectsOf(window().model().scene()->mesh());
            std::set<Triple> met, equal;
            for (std::size_t i = 0; i < objects.size(); ++i) {
                met.insert(colours[i]);
                if (std::find(three.begin(), three.end(), objects[i].name) != three.end())
                    equal.insert(colours[i]);
                // The colour over it by half in light, then less saturated as displayed: each component
                // nearer to the largest.
                Triple wanted;
                for (std::size_t c = 0; c < 3; ++c) {
                    const double by = light(c == 0 ? over.redF() : c == 1 ? over.greenF() : over.blueF());
                    wanted[c] = shown(light(before[i][c]) * (1 + 0.5 * (by - 1)));
                }
                const double most = *std::max_element(wanted.begin(), wanted.end());
                for (std::size_t c = 0; c < 3; ++c) {
                    const double corrected = most - factor * (most - wanted[c]);
                    if (std::fabs(colours[i][c] - corrected) > 0.5 / 255)
                        return QStringLiteral("one is off by %1").arg(colours[i][c] - corrected);
                }
            }
            if (equal.size() != 1) return QStringLiteral("equal numbers are not equal");
            return met.size() == 5 ? QString() : QStringLiteral("there are %1 colours").arg(met.size());
        });
        QVERIFY(bringAsOne(QStringLiteral("rack")));
        QVERIFY(addByName("random palette"));
        drawn = session().selectedStep();
        const auto first = coloursOfObjects();
        auto* another = inTuner<QPushButton>("another-seed");
        QVERIFY(another != nullptr);
        hand().click(*another);
        QVERIFY(hand().look());
        QVERIFY(coloursOfObjects() != first);
        for (const char* name : three)
            hand().click(window().model(), test::pixelOfObject(window().model(), name), Qt::ControlModifier);
        hand().type(QStringLiteral("7"));
        QVERIFY(hand().look());
        QVERIFY(addByName("multiply #e0c8a0 0.5"));
        QVERIFY(addByName("hsv shift"));
        QVERIFY(slide("slider-saturation", 0.6));
        factor = std::get<double>(session().shownStep(session().selectedStep())->controls.at("saturation"));
        QVERIFY(factor < 0.7);
        QVERIFY(done(22, 16));
    }
    void copiesALittleDifferentKeptAndUsedAgain() {
        QVERIFY(startEmpty());
        constexpr double kLeast = 0.68, kMost = 0.78;
        std::string used, control;
        double strength = 1;
        // Each object's distance in light from the plain one, at a strength that the check gives a copy.
        const auto spreadAt = [&](double of) {
            const auto copy = edits::setControl(project(), session().look(), used, control, of);
            std::vector<double> spread;
            if (!copy) return spread;
            const double plain =
                light(coloursOfObjects(project().lineOfChannel("base-colour")->steps[0]->id)[0][1]);
            for (const Triple& c : coloursOfObjects({}, *copy)) spread.push_back(light(c[1]) - plain);
            return spread;
        };
        setCheck([&, this]() -> QString {
            if (used.empty()) return QStringLiteral("nothing is used again");
            const auto full = spreadAt(1), half = spreadAt(strength);
            if (full.size() != 12) return QStringLiteral("%1 objects").arg(full.size());
            std::set<double> met(full.begin(), full.end());
            if (met.size() < 6) return QStringLiteral("only %1 differ").arg(met.size());
            constexpr double kPlain = 0.5;  // of a model without maps, in light
            for (std::size_t i = 0; i < full.size(); ++i) {
                const double seen = shown(kPlain + full[i]);
                if (seen < kLeast - 1e-4 || seen > kMost + 1e-4) return QStringLiteral("one is %1").arg(seen);
                if (std::fabs(half[i] - strength * full[i]) > 1e-5)
                    return QStringLiteral("%1 is not %2 of %3").arg(half[i]).arg(strength).arg(full[i]);
                if (std::fabs(light(coloursOfObjects()[i][1]) - kPlain - half[i]) > 1e-4)
                    return QStringLiteral("what is shown is not what was asked");
            }
            return {};
        });
        QVERIFY(bringAsOne(QStringLiteral("rack")));
        QVERIFY(addByName("vary"));
        auto* limits = inTuner<QCheckBox>("toggle-limit");
        QVERIFY(limits != nullptr);
        bringIntoView(*limits);
        hand().click(*limits, QPoint(8, limits->height() / 2));
        QVERIFY(hand().look());
        QVERIFY(write("field-least", "0.68"));
        QVERIFY(write("field-most", "0.78"));
        hand().chord(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
        auto& sheet = *window().findChild<PackSheet*>();
        QTreeWidgetItem* amount = nullptr;
        for (QTreeWidgetItemIterator it(&sheet.offered()); *it != nullptr; ++it)
            if ((*it)->text(0) == QStringLiteral("Amount")) amount = *it;
        QVERIFY(amount != nullptr);
        sheet.offered().scrollToItem(amount);
        const QRect row = sheet.offered().visualItemRect(amount);
        hand().click(*sheet.offered().viewport(), QPoint(row.left() + 8, row.center().y()));
        hand().type(QStringLiteral("Fired unevenly"));
        QVERIFY(hand().look());
        // Another model, and there the same.
        QVERIFY(bringAsOne(QStringLiteral("twelve"), QStringLiteral("Leave without saving")));
        // The library is open at what was kept last.
        for (auto* button : window().findChild<LibraryDrawer*>()->findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Add")) hand().click(*button);
        QVERIFY(hand().look());
        auto* slider = window().tuner().findChild<ValueSlider*>();
        QVERIFY(slider != nullptr);
        const int y = slider->height() / 2;
        hand().drag(*slider, QPoint(static_cast<int>(slider->positionOf(1)), y),
                    QPoint(static_cast<int>(slider->positionOf(0.5)), y));
        QVERIFY(hand().look());
        const Step step = *session().shownStep(session().selectedStep());
        QCOMPARE(step.controls.size(), std::size_t{1});
        used = step.id, control = step.controls.begin()->first;
        strength = std::get<double>(step.controls.begin()->second);
        QVERIFY(std::fabs(strength - 0.5) < 0.03);
        QVERIFY(done(13, 21));
    }
};

QTEST_MAIN(CopiesTest)
#include "copies_test.moc"
