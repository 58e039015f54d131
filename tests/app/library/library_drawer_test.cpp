// The library's drawer and the packing sheet: found, added, kept, imported, other folders, what is broken; a
// recipe's tuner; packed, unpacked and updated.
#include "app/library/library_drawer.h"

#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTreeWidget>
#include <fstream>

#include "app/board/finder.h"
#include "app/fields/number_field.h"
#include "app/library/pack_sheet.h"
#include "app/looks/looks_strip.h"
#include "app/style/theme.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/document/recipe_edits.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class LibraryDrawerTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    LibraryDrawer& drawer() { return window().library(); }
    bool read() {
        return QTest::qWaitFor(
            [this] {
                return !window().libraryShelf().isReading() && !window().libraryShelf().entries().empty();
            },
            30000);
    }
    int rowOf(const char* name) {
        for (int row = 0; row < drawer().model().rowCount(); ++row)
            if (drawer().model().index(row).data().toString() == QString::fromUtf8(name)) return row;
        return -1;
    }
    void doubleClick(const char* name) {
        const int row = rowOf(name);
        QVERIFY2(row >= 0, name);
        drawer().list().scrollTo(drawer().model().index(row));
        const QPoint at = drawer().list().visualRect(drawer().model().index(row)).center();
        QTest::mouseClick(drawer().list().viewport(), Qt::LeftButton, {}, at);
        QTest::mouseDClick(drawer().list().viewport(), Qt::LeftButton, {}, at);
    }
    const Step& chosen() {
        return session().project().stepAt(*session().project().findStep(session().selectedStep()));
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(openDemo());
        window().libraryShelf().setOwnFolder(m_folder->path().toStdString());
        QVERIFY(settled());
        QVERIFY(read());
    }
    void cleanup() { m_window.reset(); }

    void aRecipeIsFoundAndAdded() {
        clickCard("glaze");
        drawer().setOpen(true);
        QTest::keyClicks(&drawer().search(), QStringLiteral("wett"));
        QVERIFY(rowOf("Wetter") == 0);
        QCOMPARE(drawer().model().rowCount(), 1);
        QTest::keyClick(&drawer().search(), Qt::Key_Return);
        QVERIFY(settled());
        QCOMPARE(chosen().type, std::string("recipe:wetter"));
        QCOMPARE(session().project().recipes.size(), std::size_t{1});
        // It works: the colour behind it is darker, and its tuner shows its controls in their sections.
        QVERIFY(control<NumberField>("field-how-wet") != nullptr);
        QStringList sections;
        for (auto* label : window().tuner().findChildren<QLabel*>(QStringLiteral("section")))
            sections << label->text();
        QCOMPARE(sections, QStringList{QStringLiteral("Fine")});
        const Vec3 wet = valueAt("base-colour", 0.3f, 0.3f);
        session().toggleBypass(session().selectedStep());
        const Vec3 dry = valueAt("base-colour", 0.3f, 0.3f);
        QVERIFY(wet.x + wet.y + wet.z < 0.8f * (dry.x + dry.y + dry.z));
        session().undo();
        session().undo();
        QVERIFY(session().project().recipes.empty());
    }

    void whatDoesNotFitIsTold() {
        session().selectStep(session().project().lineOfChannel("roughness")->steps.front()->id);
        const std::size_t before = session().history().position();
        drawer().setOpen(true);
        doubleClick("Wetter");
        QVERIFY2(message().contains(QStringLiteral("colour line")), qPrintable(message()));
        QCOMPARE(session().history().position(), before);
    }

    void theFinderOffersRecipesToo() {
        Hands hands;
        clickCard("glaze");
        QVERIFY(addByFinder(hands, QStringLiteral("duotone")));
        QCOMPARE(chosen().type, std::string("recipe:duotone"));
    }

    void inputsBearTheirNamesOnTheBoard() {
        clickCard("glaze");
        Recipe recipe;
        recipe.id = "worn", recipe.name = "Worn";
        recipe.kinds = {Kind::Colour};
        recipe.steps.emplace_back(step("a", "tone", {{"exposure", -1.0}}));
        recipe.feeds = {{"height", "Stands high", {"a.mask"}, {}}};
        session().addRecipe(recipe);
        QVERIFY(settled());
        // The input that bears a channel's name is joined to it, and the flag says its own name.
        QCOMPARE(chosen().feeds.at("height").line, std::string("height"));
        bool isNamed = false;
        for (const auto& flag : board().layoutNow().flags)
            isNamed =
                isNamed || (flag.owner == chosen().id && flag.text.startsWith(QStringLiteral("stands high")));
        QVERIFY(isNamed);
    }

    void aRecipeInTheBaseIsWork() {
        // An older project, whose base holds what somebody packed: it is no untouched original.
        QVERIFY(session().isAsReceived());
        Recipe recipe;
        recipe.id = "turn", recipe.name = "Turn";
        recipe.kinds = {Kind::Colour};
        recipe.steps.emplace_back(step("a", "hsv-shift", {{"hue", 20.0}}));
        Project p = session().project();
        std::string id;
        p = edits::takeRecipe(p, recipe, id);
        std::vector<std::string> ids;
        auto next = edits::pasteSteps(p, {}, "base-colour", 1, {step("r", kRecipe + id)}, ids);
        QVERIFY(next);
        QVERIFY(session().apply(std::move(next), QStringLiteral("base")));
        QVERIFY(!session().isAsReceived());
    }

    void draggedToAGap() {
        clickCard("glaze");
        const LibraryEntry* dirt = nullptr;
        for (const LibraryEntry& entry : window().libraryShelf().entries())
            if (entry.name == "Muted") dirt = &entry;
        QVERIFY(dirt != nullptr);
        Hands hands;
        const QRect card = board().cardRect("glaze");
        hands.drop({QString::fromStdString(dirt->file.string())}, board(),
                   QPoint(card.right() + 18, card.center().y()));
        QVERIFY(settled());
        QCOMPARE(chosen().type, std::string("recipe:muted"));
        QCOMPARE(stepsOf("base-colour").indexOf(QString::fromStdString(chosen().id)),
                 stepsOf("base-colour").indexOf(QStringLiteral("glaze")) + 1);
    }

    void rampsAndPalettesGoToTheChosenStep() {
        clickCard("glaze");
        drawer().setOpen(true);
        drawer().showKind(EntryKind::Ramp);
        QVERIFY(drawer().model().rowCount() >= 40);
        doubleClick("Old brass");
        QCOMPARE(chosen().type, std::string("ramp-remap"));
        drawer().showKind(EntryKind::Palette);
        doubleClick("Spice tins");
        const auto shown = session().shownStep(session().selectedStep());
        const Ramp& ramp = std::get<Ramp>(shown->controls.at("ramp"));
        QCOMPARE(ramp.stops.size(), std::size_t{6});
        QVERIFY(ramp.interpolation == RampInterpolation::Hold);
    }

    void packedNamedOrderedAndKept() {
        clickCard("glaze");
        QTest::mouseClick(&board(), Qt::LeftButton, Qt::ShiftModifier, board().cardRect("streaks").center());
        const auto steps = session().selection();
        QVERIFY(steps.size() >= 2);
        const Vec3 before = valueAt("base-colour", 0.31f, 0.42f);
        window().packSheet().open();
        QVERIFY(window().packSheet().isVisible());
        QTreeWidget& offered = window().packSheet().offered();
        QCOMPARE(offered.topLevelItemCount() >= 2, true);
        offered.topLevelItem(0)->child(0)->setCheckState(0, Qt::Checked);
        offered.topLevelItem(0)->child(1)->setCheckState(0, Qt::Checked);
        QTreeWidget& exposed = window().packSheet().exposed();
        QCOMPARE(exposed.topLevelItemCount(), 2);
        exposed.topLevelItem(0)->setText(0, QStringLiteral("Turn"));
        exposed.topLevelItem(0)->setText(1, QStringLiteral("Glaze"));
        exposed.setCurrentItem(exposed.topLevelItem(0));
        QTest::keyClick(&exposed, Qt::Key_Down, Qt::AltModifier);
        QCOMPARE(exposed.topLevelItem(1)->text(0), QStringLiteral("Turn"));
        window().packSheet().name().setText(QStringLiteral("Grainy glaze"));
        QTest::keyClick(&window().packSheet().name(), Qt::Key_Return);
        QVERIFY(!window().packSheet().isVisible());
        QVERIFY(settled());
        QCOMPARE(chosen().type, std::string("recipe:grainy-glaze"));
        const Recipe& recipe = *session().project().findRecipe("grainy-glaze");
        // Behind those that were ticked stands what looks change besides; the library's has those alone.
        QVERIFY(recipe.controls.size() >= std::size_t{2});
        const LibraryEntry kept =
            readEntry(m_folder->filePath(QStringLiteral("recipes/grainy-glaze.recipe.json")).toStdString(),
                      EntryOrigin::Own);
        QCOMPARE(std::get<Recipe>(kept.content).controls.size(), std::size_t{2});
        QCOMPARE(recipe.controls[1].name, std::string("Turn"));
        QCOMPARE(recipe.controls[1].section, std::string("Glaze"));
        QVERIFY(length(valueAt("base-colour", 0.31f, 0.42f) - before) < 1e-6f);
        // It is in the library, which opens at it.
        QVERIFY(QFileInfo::exists(m_folder->filePath(QStringLiteral("recipes/grainy-glaze.recipe.json"))));
        QVERIFY(!QImage(m_folder->filePath(QStringLiteral("recipes/grainy-glaze.png"))).isNull());
        QVERIFY(drawer().isOpen());
        QVERIFY(QTest::qWaitFor(
            [&] {
                return drawer().list().currentIndex().data().toString() == QStringLiteral("Grainy glaze");
            },
            10000));
        // Unpacked it is as before.
        session().unpackRecipe(session().selectedStep());
        QCOMPARE(session().selection().size(), steps.size());
        QVERIFY(length(valueAt("base-colour", 0.31f, 0.42f) - before) < 1e-6f);
    }

    void aLayerIsKeptAndTaken() {
        session().setLook("forty-years-afloat");
        QVERIFY(settled());
        const Line* layer = layersOf(session().project(), "").back();
        const std::string head = headOf(*layer).id;
        session().selectStep(head);
        window().packSheet().open();
        window().packSheet().name().setText(QStringLiteral("My damp foot"));
        QTest::keyClick(&window().packSheet().name(), Qt::Key_Return);
        QVERIFY(QTest::qWaitFor([&] { return rowOf("My damp foot") >= 0; }, 10000));
        const std::size_t before = layersOf(session().project(), "").size();
        drawer().setOpen(true);
        doubleClick("My damp foot");
        QCOMPARE(layersOf(session().project(), "").size(), before + 1);
        std::ifstream in(m_folder->filePath(QStringLiteral("layers/my-damp-foot.layer.json")).toStdString());
        const std::string text((std::istreambuf_iterator<char>(in)), {});
        QVERIFY(!text.empty() && text.find("kettle_") == std::string::npos);
    }

    void changesOnDiskAppear() {
        drawer().setOpen(true);
        QVERIFY(rowOf("From elsewhere") < 0);
        Recipe recipe;
        recipe.id = "from-elsewhere", recipe.name = "From elsewhere";
        recipe.kinds = {Kind::Colour};
        recipe.steps.emplace_back(step("a", "hsv-shift", {{"hue", 20.0}}));
        std::filesystem::create_directories(m_folder->path().toStdString() + "/recipes");
        std::ofstream(m_folder->path().toStdString() + "/recipes/x.recipe.json") << recipeToText(recipe);
        QVERIFY(QTest::qWaitFor([&] { return rowOf("From elsewhere") >= 0; }, 15000));
        // A broken one is listed with its reason and cannot be taken.
        std::ofstream(m_folder->path().toStdString() + "/recipes/broken.recipe.json") << "{\"format\": ";
        QVERIFY(QTest::qWaitFor([&] { return rowOf("broken.recipe.json") >= 0; }, 15000));
        const QModelIndex broken = drawer().model().index(rowOf("broken.recipe.json"));
        QVERIFY(broken.data(LibraryModel::Problem).toString().contains(QStringLiteral("complete JSON")));
        const std::size_t before = session().history().position();
        doubleClick("broken.recipe.json");
        QCOMPARE(session().history().position(), before);
        // A folder that vanishes takes its entries along, and harms nothing.
        std::filesystem::remove_all(m_folder->path().toStdString() + "/recipes");
        QVERIFY(QTest::qWaitFor([&] { return rowOf("From elsewhere") < 0; }, 15000));
        QVERIFY(rowOf("Wetter") >= 0);
    }

    void filesAreImportedByDropping() {
        QTemporaryDir other;
        Recipe recipe;
        recipe.id = "gift", recipe.name = "A gift";
        recipe.kinds = {Kind::Colour};
        recipe.steps.emplace_back(step("a", "hsv-shift", {{"hue", 20.0}}));
        const QString file = other.filePath(QStringLiteral("gift.recipe.json"));
        std::ofstream(file.toStdString()) << recipeToText(recipe);
        Hands hands;
        hands.drop({file}, window().looks());
        QVERIFY(QTest::qWaitFor([&] { return rowOf("A gift") >= 0; }, 10000));
        QVERIFY(drawer().isOpen());
        QVERIFY(QFileInfo::exists(m_folder->filePath(QStringLiteral("recipes/a-gift.recipe.json"))));
    }

    void anotherEditionIsTakenWhenItIsAskedFor() {
        clickCard("glaze");
        Recipe recipe;
        recipe.id = "turn", recipe.name = "Turn";
        recipe.kinds = {Kind::Colour};
        recipe.steps.emplace_back(step("a", "hsv-shift", {{"hue", 20.0}}));
        recipe.controls = {{"hue", "Hue", "", {"a.hue"}, {}, {}}};
        session().addRecipe(recipe);
        const std::string id = recipeOf(chosen().type);
        recipe.steps[0].edit().controls["hue"] = 90.0;
        recipe.controls.push_back({"more", "More", "", {"a.saturation"}, {}, {}});
        recipe.edition = 2;
        LibraryEntry entry;
        entry.name = "Turn";
        entry.content = recipe;
        QVERIFY(window().libraryShelf().keep(entry));
        QVERIFY(QTest::qWaitFor([&] { return window().libraryShelf().recipe("Turn") != nullptr; }, 10000));
        QTimer::singleShot(0, this, [&] {
            QVERIFY(QTest::qWaitFor(
                [] { return qobject_cast<QMessageBox*>(QApplication::activeModalWidget()) != nullptr; },
                5000));
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            QVERIFY(box->informativeText().contains(QStringLiteral("More is new")));
            for (QAbstractButton* button : box->buttons())
                if (button->text() == QStringLiteral("Update")) QTest::mouseClick(button, Qt::LeftButton);
        });
        for (auto* button : window().tuner().findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Update…")) {
                QTest::mouseClick(button, Qt::LeftButton);
                break;
            }
        QCOMPARE(session().project().findRecipe(id)->controls.size(), std::size_t{2});
        QVERIFY(control<NumberField>("field-more") != nullptr);
    }

    void copiedStepsBringTheirRecipe() {
        clickCard("glaze");
        drawer().setOpen(true);
        doubleClick("Wetter");
        const QString text = session().copySelection();
        QVERIFY(session().open(kDemo));
        QVERIFY(session().project().recipes.empty());
        session().selectStep("glaze");
        session().paste(text);
        QCOMPARE(chosen().type, std::string("recipe:wetter"));
        QCOMPARE(session().project().recipes.size(), std::size_t{1});
    }
};

QTEST_MAIN(LibraryDrawerTest)
#include "library_drawer_test.moc"
