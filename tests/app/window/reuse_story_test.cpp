// What an artist does with copies, recipes and the library: copies that differ, kept
// as a recipe; a palette on hundreds of tiles; numbers of one's own; a recipe packed and used elsewhere; a
// set loaded whole.
#include <QAbstractButton>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTreeWidget>

#include "app/fields/number_field.h"
#include "app/library/library_drawer.h"
#include "app/library/pack_sheet.h"
#include "app/objects/objects_drawer.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/analysis/sampling.h"
#include "core/document/edits.h"
#include "core/exchange/palette.h"
#include "core/geometry/object_points.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"
#include "tests/support/seen_objects.h"

using namespace kettle;
using namespace kettle::test;

class ReuseTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_own;

    bool openNamed(const char* file) {
        return session().open(QString::fromStdString((kData / file).string())) && settled();
    }
    bool libraryRead() {
        return QTest::qWaitFor(
            [this] {
                return !window().libraryShelf().isReading() && !window().libraryShelf().entries().empty();
            },
            30000);
    }
    /// What the base colour of a surface gives on each object of the model.
    std::map<std::string, Vec3> colours(const std::string& line = "base-colour") {
        const Mesh& mesh = *window().model().mesh();
        const auto objects = objectsOf(mesh);
        const PointSet points = objectPoints(mesh, objects);
        const Sampled s = sampleWants(session().project(), session().project().findLook(session().look()),
                                      {{line, "", 3}}, session().resources(), points);
        std::map<std::string, Vec3> of;
        for (std::size_t i = 0; i < objects.size(); ++i)
            of[objects[i].name] = {s.plane(0, 0)[i], s.plane(0, 1)[i], s.plane(0, 2)[i]};
        return of;
    }
    template <class W>
    W* shown(const char* name) {
        W* found = control<W>(name);
        if (found != nullptr) window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(found);
        return found;
    }
    void tick(Hands& hands, int step, int child) {
        QTreeWidget& offered = window().packSheet().offered();
        QTreeWidgetItem* item = offered.topLevelItem(step)->child(child);
        offered.scrollToItem(item);
        const QRect row = offered.visualItemRect(item);
        hands.click(*offered.viewport(), QPoint(row.left() + 12, row.center().y()));
        QCOMPARE(item->checkState(0), Qt::Checked);
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_own = std::make_unique<QTemporaryDir>();
        QVERIFY(openDemo());
        window().libraryShelf().setOwnFolder(m_own->path().toStdString());
        QVERIFY(libraryRead());
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void copiesThatDifferKeptAsARecipe() {
        QVERIFY(openNamed("galley-shelf.palekettle"));
        session().selectStep("clay");
        QVERIFY(settled());
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("vary")));
        auto* limits = shown<QAbstractButton>("toggle-limit");
        QVERIFY(limits != nullptr);
        hands.click(*limits, QPoint(8, limits->height() / 2));
        QVERIFY(settled());
        std::set<float> greens;
        for (const auto& [name, c] : colours())
            if (name.starts_with("cup")) {
                greens.insert(c.y);
                const float value = std::max({c.x, c.y, c.z});
                QVERIFY(value >= 0 && value <= 1);
            }
        QVERIFY(greens.size() > 40);
        hands.chord(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(window().packSheet().isVisible());
        tick(hands, 0, 2);
        window().packSheet().name().setFocus();
        window().packSheet().name().selectAll();
        hands.type(QStringLiteral("A little different"));
        QVERIFY(settled());
        QVERIFY(QFileInfo::exists(m_own->filePath(QStringLiteral("recipes/a-little-different.recipe.json"))));
        std::set<float> again;
        for (const auto& [name, c] : colours())
            if (name.starts_with("cup")) again.insert(c.y);
        QVERIFY(again == greens);
    }

    void aPaletteOnHundredsOfTiles() {
        QVERIFY(openNamed("galley-wall.palekettle"));
        session().selectStep("slip");
        QVERIFY(settled());
        const QString text =
            QStringLiteral("Azulejo: #1F4E8C, then #F4F1E6 and #D8A93B;\n the border is #2B6B4F.");
        QApplication::clipboard()->setText(text);
        const auto wanted = coloursIn(text.toStdString());
        QCOMPARE(wanted.size(), std::size_t{4});
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("palette by number")));
        QVERIFY(settled());
        QPushButton* from = nullptr;
        for (auto* button : window().tuner().findChildren<QPushButton*>())
            if (button->text() == QStringLiteral("Take from…")) from = button;
        QVERIFY(from != nullptr);
        window().tuner().findChild<QScrollArea*>()->ensureWidgetVisible(from);
        hands.click(*from);
        QVERIFY(hands.choose(QStringLiteral("Copied colours, as held stops")));
        QVERIFY(settled());
        // Tile k bears the number k - 1, and takes the colour of its turn, as it was copied.
        Project without = session().project();
        const auto of = colours();
        // Behind it stands the variation that was there; it is taken out for the numbers.
        session().toggleBypass("fired");
        for (const auto& [name, c] : colours()) {
            if (!name.starts_with("tile-")) continue;
            const Vec3 o = wanted[static_cast<std::size_t>(std::stoi(name.substr(5)) - 1) % 4];
            QVERIFY2(length(c - o) < 2e-3f, name.c_str());
        }
    }

    void randomColoursWithNumbersOfOnesOwn() {
        QVERIFY(openNamed("galley-wall.palekettle"));
        session().selectStep("slip");
        QVERIFY(settled());
        Hands hands;
        QVERIFY(addByFinder(hands, QStringLiteral("random palette")));
        QVERIFY(settled());
        auto* another = shown<QAbstractButton>("another-seed");
        QVERIFY(another != nullptr);
        const std::string step = session().selectedStep();
        hands.click(*another);
        QVERIFY(settled());
        const QPoint pixel = pixelOfObject(window().model(), "tile-150");
        QVERIFY(!pixel.isNull());
        hands.click(window().model(), pixel, Qt::ControlModifier);
        QCOMPARE(session().chosenObjects(), std::set<std::string>{"tile-150"});
        hands.type(QStringLiteral("12"));
        QVERIFY(settled());
        session().selectStep(step);
        auto* value = shown<ValueSlider>("slider-value");
        QVERIFY(value != nullptr);
        const int y = value->height() / 2;
        hands.drag(*value, QPoint(static_cast<int>(value->positionOf(value->value())), y),
                   QPoint(static_cast<int>(value->positionOf(0.7)), y));
        QVERIFY(settled());
        QCOMPARE(session().project().objects->objects.at("tile-150"), 12);
        session().toggleBypass("fired");
        const auto of = colours();
        // The same number looks the same: tile 13 counts 12.
        QVERIFY(length(of.at("tile-150") - of.at("tile-13")) < 1e-6f);
        std::set<float> different;
        for (const auto& [name, c] : of) different.insert(c.x);
        QVERIFY(different.size() >= 5);
    }

    void aRecipeOfFiveStepsUsedElsewhere() {
        // The state: a line with five steps.
        Project p = session().project();
        std::vector<std::string> ids;
        std::vector<Step> five{step("a", "hsv-shift", {{"hue", 12.0}}),
                               step("b", "tone", {{"exposure", 0.2}}), step("c", "tint", {{"amount", 0.2}}),
                               step("d", "desaturate", {{"amount", 0.1}}),
                               step("e", "levels", {{"gamma", 1.1}})};
        auto next = edits::pasteSteps(p, {}, "base-colour", 1, five, ids);
        QVERIFY(next);
        QVERIFY(session().apply(std::move(next), QStringLiteral("five")));
        QVERIFY(settled());
        Hands hands;
        hands.click(board(), board().cardRect(ids.front()).center());
        hands.click(board(), board().cardRect(ids.back()).center(), Qt::ShiftModifier);
        QCOMPARE(session().selection().size(), std::size_t{5});
        hands.chord(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(window().packSheet().isVisible());
        tick(hands, 0, 0);
        tick(hands, 0, 1);
        tick(hands, 1, 0);
        window().packSheet().name().setFocus();
        hands.chord(Qt::Key_Return);
        QVERIFY(settled());
        const Recipe packed = *session().project().recipes.back();
        QCOMPARE(packed.steps.size(), std::size_t{5});
        QCOMPARE(packed.controls.size(), std::size_t{3});
        std::set<std::string> sections;
        for (const RecipeControl& control : packed.controls) sections.insert(control.section);
        QCOMPARE(sections.size(), std::size_t{2});
        QVERIFY(window().library().isOpen());
        QVERIFY(QTest::qWaitFor(
            [&] {
                return window().library().list().currentIndex().data().toString().toStdString() ==
                       packed.name;
            },
            10000));
        // Another project.
        QVERIFY(openNamed("galley-floor.palekettle"));
        session().selectStep(session()
                                 .project()
                                 .lineOfChannel("base-colour", session().project().surfaces.empty()
                                                                   ? std::string()
                                                                   : session().project().surfaces.front()->id)
                                 ->steps.front()
                                 ->id);
        QVERIFY(settled());
        auto& list = window().library().list();
        QModelIndex entry;
        for (int row = 0; row < window().library().model().rowCount(); ++row)
            if (window().library().model().index(row).data().toString().toStdString() == packed.name)
                entry = window().library().model().index(row);
        QVERIFY(entry.isValid());
        list.scrollTo(entry);
        hands.doubleClick(*list.viewport(), list.visualRect(entry).center());
        QVERIFY(settled());
        const Step& used =
            session().project().stepAt(*session().project().findStep(session().selectedStep()));
        QCOMPARE(session().project().findRecipe(recipeOf(used.type))->steps, packed.steps);
    }

    void aWholeSetLoaded() {
        window().library().setOpen(true);
        window().library().showKind(EntryKind::Layer);
        QVERIFY(settled());
        auto& list = window().library().list();
        QModelIndex loader;
        for (int row = 0; row < window().library().model().rowCount(); ++row)
            if (window().library().model().index(row).data().toString() ==
                QStringLiteral("Whole set, in centimetres"))
                loader = window().library().model().index(row);
        QVERIFY(loader.isValid());
        list.scrollTo(loader);
        const std::size_t before = layersOf(session().project(), "").size();
        Hands hands;
        hands.drop({QString::fromStdString((kData / "rattan").string())}, *list.viewport(),
                   list.visualRect(loader).center());
        QVERIFY2(QTest::qWaitFor([&] { return layersOf(session().project(), "").size() > before; }, 20000),
                 qPrintable(message()));
        QVERIFY(settled());
        auto* size = shown<QLineEdit>("field-size");
        QVERIFY(size != nullptr);
        size->setFocus();
        size->selectAll();
        hands.type(QStringLiteral("7"));
        QVERIFY(settled());
        // All its maps lie so, each on its channel.
        const std::string layer = layersOf(session().project(), "").back()->id;
        int maps = 0;
        for (const FillPlace& fill : fillsOf(session().project(), layer)) {
            const Line* own = ownLineOf(session().project(), *fill.step);
            QVERIFY(own != nullptr);
            const auto source = session().shownStep(own->steps.front()->id);
            QCOMPARE(std::get<double>(source->controls.at("size")), 7.0);
            QCOMPARE(std::get<std::string>(source->controls.at("lies")), std::string("sides"));
            ++maps;
        }
        QVERIFY(maps >= 4);
    }
};

QTEST_MAIN(ReuseTest)
#include "reuse_story_test.moc"
