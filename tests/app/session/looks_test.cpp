// What is tried in a look is in that look, and how lines, layers and controls behave there.
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "app/session/session.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

class LooksTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;

    void open(Session& s, const Project& project) {
        const QString file = m_folder.filePath(QStringLiteral("p.palekettle"));
        QVERIFY(saveProject(project, file.toStdString()));
        QVERIFY(s.open(file));
    }

private Q_SLOTS:
    void aChannelAddedInALookIsNeutralElsewhere() {
        Session s;
        open(s, twoLines());
        s.setLook("look");
        s.addChannelLine("coat", "");
        const Line* coat = s.project().lineOfChannel("coat");
        QVERIFY(coat != nullptr);
        QCOMPARE(evaluate(s.project(), coat->id, "look")[0], 1.0f);
        QCOMPARE(evaluate(s.project(), coat->id, "other")[0], 0.0f);
        QCOMPARE(evaluate(s.project(), coat->id)[0], 0.0f);
        s.addChannelLine("sheen-colour", "");
        const Line* sheen = s.project().lineOfChannel("sheen-colour");
        QVERIFY(near(evaluate(s.project(), sheen->id, "look")[0], 0.4f));
        QCOMPARE(evaluate(s.project(), sheen->id, "other")[0], 0.0f);
    }
    void aChannelAddedAsReceivedBeginsALook() {
        Session s;
        open(s, twoLines());
        // As received: nothing of an artist's is in the base.
        s.apply(edits::removeStep(s.project(), "shift"), QStringLiteral("bare"));
        s.apply(edits::removeStep(s.project(), "g2"), QStringLiteral("bare"));
        QVERIFY(s.isAsReceived());
        s.addChannelLine("coat", "");
        QVERIFY(!s.look().empty());
        QCOMPARE(evaluate(s.project(), s.project().lineOfChannel("coat")->id)[0], 0.0f);
        QCOMPARE(evaluate(s.project(), s.project().lineOfChannel("coat")->id, s.look())[0], 1.0f);
    }
    void aLineIsRemovedWithItsChanges() {
        Session s;
        open(s, twoLines());
        s.setLook("look");
        s.addChannelLine("coat", "");
        const std::string coat = s.project().lineOfChannel("coat")->id;
        s.removeLine(coat);
        QVERIFY(s.project().findLine(coat) == nullptr);
        QVERIFY(s.project().findLook("look")->changes.empty());
        QVERIFY(s.project().findStep(s.selectedStep()).has_value());
        s.undo();
        QVERIFY(s.project().findLine(coat) != nullptr);
    }
    void aLineThatIsReadIsNotRemovedButTold() {
        Project p = twoLines();
        p.lines[0].edit().steps[1].edit().feeds["mask"] = feed("grey");
        Session s;
        open(s, p);
        QSignalSpy told(&s, &Session::told);
        s.removeLine("grey");
        QVERIFY(s.project().findLine("grey") != nullptr);
        QCOMPARE(told.size(), 1);
        QVERIFY(told[0][0].toString().contains(QStringLiteral("is read by mask of Base colour")));
    }
    void removingTheOnlyStepOfALineRemovesTheLine() {
        Session s;
        open(s, twoLines());
        s.addChannelLine("coat", "");
        const Line coat = *s.project().lineOfChannel("coat");
        s.removeStep(coat.steps.front()->id);
        QVERIFY(s.project().findLine(coat.id) == nullptr);
        // A source with steps behind it stays.
        s.removeStep("source");
        QVERIFY(s.project().findStep("source").has_value());
    }
    void theResetRingTakesTheDefaultIntoALook() {
        Session s;
        open(s, twoLines());  // the base's hue is 30
        s.setLook("look");
        s.resetControl("shift", "hue");
        const ControlValue* own = changeIn(s.project(), s.project().findLook("look"), "shift.hue");
        QVERIFY(own != nullptr && *own == ControlValue(0.0));
        QCOMPARE(std::get<double>(s.project().stepAt(*s.project().findStep("shift")).controls.at("hue")),
                 30.0);
        // Once more, and the base's value is back.
        s.resetControl("shift", "hue");
        QVERIFY(changeIn(s.project(), s.project().findLook("look"), "shift.hue") == nullptr);
    }
    void steppingBeginsAtTheBareSurfaceAndSkipsWhatIsOff() {
        Session s;
        open(s, twoLines());
        s.setLook("look");
        std::vector<std::string> layers;
        for (int i = 0; i < 3; ++i) {
            s.addLayer();
            layers.push_back(s.selectedLayer()->id);
        }
        s.toggleBypass(headOf(*s.project().findLine(layers[1])).id);
        const auto order = layersOf(s.project(), "");
        std::vector<std::string> on;
        for (const Line* layer : order)
            if (layer->id != layers[1]) on.push_back(layer->id);
        QCOMPARE(on.size(), 2u);
        s.stepThroughLayers(1);
        QCOMPARE(s.layerView(), LayerView::Below);
        const auto base = [&] { return evaluate(s.shownProject(), "base", "look"); };
        const auto bare = evaluate(twoLines(), "base", "look");
        QCOMPARE(base(), bare);
        s.stepThroughLayers(1);
        QCOMPARE(s.layerView(), LayerView::UpTo);
        QCOMPARE(s.viewedLayer(), on[0]);
        s.stepThroughLayers(1);
        QCOMPARE(s.viewedLayer(), on[1]);
        s.stepThroughLayers(1);  // there is no further
        QCOMPARE(s.viewedLayer(), on[1]);
        s.stepThroughLayers(-1);
        s.stepThroughLayers(-1);
        QCOMPARE(s.layerView(), LayerView::Below);
    }
    void aPlainLayerCovers() {
        Session s;
        open(s, twoLines());
        s.setLook("look");
        s.addLayer();
        // A grey of a half, everywhere and not multiplied.
        QVERIFY(near(evaluate(s.project(), "base", "look"), {0.5f, 0.5f, 0.5f}));
    }
    void theSecondMaskIsShapedLikeTheFirst() {
        Session s;
        open(s, twoLines());
        s.setLook("look");
        s.addLayer();
        Project p = s.project();
        const Line* layer = s.selectedLayer();
        const std::string id = layer->id, head = headOf(*layer).id;
        p = *edits::setFeed(p, head, "mask", constantFeed(0.25));
        p = *edits::setControl(p, {}, head, "mask-gamma", 2.0);
        QVERIFY(near(evaluate(p, id, "look")[0], 0.5f));  // the root of a quarter
        p.lines[static_cast<std::size_t>(p.findStep(head)->line)].edit().steps.back().edit().version = 1;
        QVERIFY(near(evaluate(p, id, "look")[0], 0.25f));
    }
    void aStepIsMadeNewInOneGo() {
        Project p = twoLines();
        p.lines[0].edit().steps[1].edit().version = 1;
        Session s;
        open(s, p);
        const auto before = evaluate(s.project());
        s.useNewestVersion("shift");
        QVERIFY(evaluate(s.project()) != before);
        QCOMPARE(s.project().stepAt(*s.project().findStep("shift")).version, kNewestStepVersion);
        s.undo();
        QCOMPARE(evaluate(s.project()), before);
    }
    void aDroppedPictureHasASetOfItsOwn() {
        const std::filesystem::path root = m_folder.path().toStdString();
        for (const char* name : {"a.png", "b.png"})
            QVERIFY(writePicture(root / name, 8, 8, 3, [](int x, int, int c) { return x * 20 + c; }));
        Project p = twoLines();
        p.sets.emplace_back(
            TextureSet{"first", "First", root.string(), {{"base-colour", "a.png", "auto", ""}}, {}});
        Session s;
        open(s, p);
        QSignalSpy told(&s, &Session::told);
        const QString text = m_folder.filePath(QStringLiteral("notes.txt"));
        QFile notes(text);
        QVERIFY(notes.open(QIODevice::WriteOnly));
        notes.close();
        s.insertFiles(
            {m_folder.filePath(QStringLiteral("a.png")), text, m_folder.filePath(QStringLiteral("b.png"))},
            "base", 2);
        QCOMPARE(s.project().sets.size(), 3u);
        QCOMPARE(s.project().sets[0]->maps.size(), 1u);
        QCOMPARE(s.project().findLine("base")->steps.size(), 4u);
        QCOMPARE(told.size(), 1);
        QVERIFY(told[0][0].toString().contains(QStringLiteral("2 of 3 files were taken.")));
        QVERIFY(told[0][0].toString().contains(QStringLiteral("notes.txt is no picture")));
        s.undo();
        QCOMPARE(s.project().sets.size(), 1u);
    }
};

QTEST_GUILESS_MAIN(LooksTest)
#include "looks_test.moc"
