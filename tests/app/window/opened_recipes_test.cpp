// Recipes opened on the board: their steps within a bracket, chosen, set, switched off, looked at; closed
// again; and a ramp's shares as they are typed.
#include <QCheckBox>
#include <QLineEdit>
#include <QPushButton>

#include "app/board/board_layout.h"
#include "app/fields/number_field.h"
#include "app/style/theme.h"
#include "core/exchange/library.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"

using namespace kettle;
using namespace kettle::test;

class OpenedRecipesTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::string m_recipe;  ///< the step

    /// The place's colour in the look in force.
    Vec3 colour() { return valueAt("base-colour", 0.3f, 0.3f); }
    static bool isSame(Vec3 a, Vec3 b) { return a.x == b.x && a.y == b.y && a.z == b.z; }
    std::string inner(const char* id) { return m_recipe + "/" + id; }
    double innerNumber(const char* step, const char* control) {
        const Step shown = *session().shownStep(inner(step));
        return StepView(*shippedSteps().find(shown.type), shown, Kind::Colour)[NumberHandle{control}];
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        clickCard("glaze");
        const LibraryEntry wetter =
            readEntry(kData / "library" / "recipes" / "wetter.recipe.json", EntryOrigin::Shipped);
        QVERIFY2(wetter.problem.empty(), wetter.problem.c_str());
        session().addRecipe(std::get<Recipe>(wetter.content));
        m_recipe = session().selectedStep();
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void itsStepsStandInABracket() {
        const QRect before = board().cardRect(m_recipe);
        const QStringList line = stepsOf("base-colour");
        QTest::mouseClick(control<QPushButton>("open-recipe"), Qt::LeftButton);
        QVERIFY(session().isOpen(m_recipe));
        QVERIFY(settled());
        const QRect rich = board().cardRect(inner("rich")), dark = board().cardRect(inner("dark"));
        QVERIFY(rich.isValid() && dark.isValid());
        QVERIFY(rich.right() < dark.left() && dark.right() < board().cardRect(m_recipe).left());
        QCOMPARE(stepsOf("base-colour"), line);  // the project is as it was
        QVERIFY(!session().project().findStep(inner("rich")));
        // A slash adds behind the recipe, at the place that it has in the project.
        clickCard(inner("rich"));
        QCOMPARE(session().selectedStep(), inner("rich"));
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("invert")));
        QCOMPARE(stepsOf("base-colour").indexOf(QString::fromStdString(session().selectedStep())),
                 line.indexOf(QString::fromStdString(m_recipe)) + 1);
        session().undo();
        board().setFocus();
        session().selectStep(inner("dark"));
        QTest::keyClick(&board(), Qt::Key_R);
        QVERIFY(!session().isOpen(m_recipe));
        QCOMPARE(session().selectedStep(), m_recipe);
        QCOMPARE(board().cardRect(m_recipe).left(), before.left());
        QVERIFY(!board().cardRect(inner("rich")).isValid());
    }

    void whatTheRecipeSetsIsSetThere() {
        session().toggleOpen(m_recipe);
        QVERIFY(settled());
        clickCard(inner("dark"));
        auto* field = control<NumberField>("field-exposure");
        QVERIFY(field != nullptr);
        const Vec3 before = colour();
        field->setFocus();
        QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(field, QStringLiteral("-1.5"));
        QTest::keyClick(field, Qt::Key_Return);
        // It is the recipe's control, in the look in force.
        QCOMPARE(innerNumber("dark", "exposure"), -1.5);
        const Step shown = *session().shownStep(m_recipe);
        QCOMPARE(std::get<double>(shown.controls.at("darker-by")), -1.5);
        QVERIFY(colour().x < before.x);
        QVERIFY(!isSame(colour(), before));
        session().undo();
        QVERIFY(isSame(colour(), before));
    }

    void theRecipesOwnIsChangedForAllWhoUseIt() {
        session().toggleOpen(m_recipe);
        clickCard(inner("dark"));
        const Vec3 before = colour();
        session().setControl(inner("dark"), "contrast", 1.8);
        QCOMPARE(std::get<double>(session().project().recipes[0]->steps[1]->controls.at("contrast")), 1.8);
        QVERIFY(!isSame(colour(), before));
        QCOMPARE(innerNumber("dark", "contrast"), 1.8);
        session().undo();
        QVERIFY(isSame(colour(), before));
        // X switches a single step off; the tuner tells where that is.
        board().setFocus();
        QTest::keyClick(&board(), Qt::Key_X);
        QVERIFY(session().project().recipes[0]->steps[1]->bypass);
        QVERIFY(!isSame(colour(), before));
        QCOMPARE(window().tuner().findChild<QLabel*>(QStringLiteral("where"))->text(),
                 QStringLiteral("in the recipe"));
        QTest::mouseClick(control<QPushButton>("recipe-back"), Qt::LeftButton);
        QCOMPARE(session().selectedStep(), m_recipe);
    }

    void nothingIsAddedOrTakenWithin() {
        session().toggleOpen(m_recipe);
        session().selectStep(inner("rich"));
        const auto entries = session().history().position();
        board().setFocus();
        QTest::keyClick(&board(), Qt::Key_Delete);
        QVERIFY2(message().contains(QStringLiteral("Unpack the recipe")), qPrintable(message()));
        session().duplicateSelection();
        session().moveAlong(1);
        QCOMPARE(session().history().position(), entries);
        // Its text can be taken along, as any step's.
        QVERIFY(session().copySelection().contains(QStringLiteral("hsv-shift")));
    }

    void itIsLookedAtStepByStep() {
        session().toggleOpen(m_recipe);
        session().selectStep(inner("rich"));
        session().toggleLookHere();
        QVERIFY(settled());
        QVERIFY(session().lookHere());
        QCOMPARE(session().lookHere()->after, inner("rich"));
        QVERIFY(session().shownProject().findStep(inner("rich")));
        session().setShowBefore(true);
        QVERIFY(
            session().shownProject().stepAt(*session().shownProject().findStep(inner("rich"))).bypass ||
            session().shownProject().findLook(session().look())->changes.contains(inner("rich") + ".bypass"));
        session().setShowBefore(false);
        session().unpackRecipe(m_recipe);
        QVERIFY(!session().lookHere());
        QVERIFY(settled());
    }

    void sharesAreTyped() {
        Step ramp;
        ramp.type = "ramp-remap";
        Palette palette;
        palette.colours = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
        ramp.controls["ramp"] = rampOf(palette, true);
        session().insertSteps("base-colour", 1, {ramp}, QStringLiteral("Ramp"));
        QVERIFY(settled());
        auto* shares = control<QLineEdit>("ramp-shares");
        QVERIFY(shares != nullptr && shares->isVisible());
        QCOMPARE(shares->text(), QStringLiteral("33.3 33.3 33.3"));
        const auto type = [&](const char* text) {
            shares->setFocus();
            shares->selectAll();
            QTest::keyClicks(shares, QString::fromLatin1(text));
            QTest::keyClick(shares, Qt::Key_Return);
        };
        type("3 1 1");
        const auto stops =
            std::get<Ramp>(session().shownStep(session().selectedStep())->controls.at("ramp")).stops;
        QCOMPARE(stops[1].position, 0.6f);
        QCOMPARE(stops[2].position, 0.8f);
        QCOMPARE(shares->text(), QStringLiteral("60 20 20"));
        type("3 1");
        QVERIFY2(message().contains(QStringLiteral("3 stops")), qPrintable(message()));
        QCOMPARE(shares->text(), QStringLiteral("60 20 20"));
    }
};

QTEST_MAIN(OpenedRecipesTest)
#include "opened_recipes_test.moc"
