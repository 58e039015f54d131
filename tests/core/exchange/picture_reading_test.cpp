// A picture is read where its content is, whichever way it comes in.
#include "core/exchange/picture_reading.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/exchange/set_channels.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

class PictureReadingTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    fs::path at(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }
    template <class F>
    std::string readAs(PicturePurpose purpose, int channels, F value) {
        if (!writePicture(at("p.png"), 64, 64, channels, value)) return "not written";
        const auto reading = readingFor(at("p.png"), purpose);
        return reading ? std::string(idOf(reading->component)) : reading.error().sentence;
    }

private Q_SLOTS:
    void anAlphaThatSaysSomethingIsTheMask() {
        const auto content = [](int x, int, int c) { return c == 3 ? x * 4 : 200; };
        QCOMPARE(readAs(PicturePurpose::Mask, 4, content), std::string("alpha"));
        // On a grey channel alpha is no grey.
        QCOMPARE(readAs(PicturePurpose::Grey, 4, content), std::string("red"));
    }
    void anAlphaThatIsFullEverywhereSaysNothing() {
        QCOMPARE(readAs(PicturePurpose::Mask, 4, [](int x, int, int c) { return c == 3 ? 255 : x * 4; }),
                 std::string("red"));
        QCOMPARE(readAs(PicturePurpose::Mask, 4,
                        [](int x, int y, int c) { return c == 3   ? 255
                                                         : c == 0 ? x * 4
                                                                  : (x + y) * 2; }),
                 std::string("grey"));
    }
    void oneComponentThatDiffersIsRead() {
        QCOMPARE(readAs(PicturePurpose::Grey, 3, [](int x, int, int c) { return c == 1 ? x * 4 : 0; }),
                 std::string("green"));
        QCOMPARE(readAs(PicturePurpose::Grey, 3, [](int, int y, int c) { return c == 2 ? y * 4 : 255; }),
                 std::string("blue"));
    }
    void greyPicturesAreReadByTheirGrey() {
        QCOMPARE(readAs(PicturePurpose::Mask, 1, [](int x, int, int) { return x * 4; }), std::string("red"));
        QCOMPARE(readAs(PicturePurpose::Grey, 3, [](int x, int, int) { return x * 4; }), std::string("red"));
    }
    void displayedGreyIsTheGreyThatOneSees() {
        QVERIFY(writePicture(at("c.png"), 2, 2, 3, [](int, int, int c) {
            return c == 0 ? 200 : c == 1 ? 80 : 30;
        }));
        Project p;
        TextureSet set{"set", "Set", m_dir.path().toStdString(), {{"mask", "c.png", "auto", ""}}, {}};
        p.sets.emplace_back(set);
        Step source = mapStep("source", "mask");
        source.controls["component"] = std::string("grey");
        p.lines.emplace_back(line("base", Kind::Scalar, "roughness", {source}));
        const auto light = [](double code) { return std::pow((code / 255 + 0.055) / 1.055, 2.4); };
        const double lum = 0.2126 * light(200) + 0.7152 * light(80) + 0.0722 * light(30);
        const double shown = 1.055 * std::pow(lum, 1 / 2.4) - 0.055;
        QVERIFY(near(evaluate(p)[0], static_cast<float>(shown), 3e-6f));
    }
    void aMapOfTheProjectIsReadAsAnotherLineReadsItOnPurpose() {
        QVERIFY(writePicture(at("m.png"), 64, 64, 4, [](int x, int, int c) { return c == 3 ? x * 4 : 255; }));
        Project p;
        p.sets.emplace_back(
            TextureSet{"set", "Set", m_dir.path().toStdString(), {{"wear", "m.png", "auto", ""}}, {}});
        const Resources resources(fs::path{});
        QCOMPARE(readingFor(p, resources, "set", "wear", PicturePurpose::Mask)->component, Component::Alpha);
        Step reader = mapStep("r", "wear");
        reader.controls["component"] = std::string("blue");
        p.lines.emplace_back(line("other", Kind::Scalar, "", {reader}));
        QCOMPARE(readingFor(p, resources, "set", "wear", PicturePurpose::Mask)->component, Component::Blue);
    }
    void aBlackAndWhitePictureBecomesALayersMask() {
        QVERIFY(writePicture(at("b.png"), 64, 64, 1, [](int x, int, int) { return x < 32 ? 0 : 255; }));
        std::vector<std::string> ids;
        edits::LayerWish wish;
        wish.name = "Stamp";
        const auto made = addStamps(twoLines(), {}, {at("b.png").string()}, wish, Resources(fs::path{}), ids);
        QVERIFY(made.has_value());
        const Line* layer = made->findLine(ids.front());
        QCOMPARE(std::get<std::string>(layer->steps.front()->controls.at("component")), std::string("red"));
        // Once in the middle, a quarter wide: its right half is white, its left half black.
        const float left = evaluate(*made, layer->id, {}, 0.45f, 0.5f)[0],
                    right = evaluate(*made, layer->id, {}, 0.55f, 0.5f)[0];
        QVERIFY(left < 0.01f && right > 0.99f);
        QVERIFY(evaluate(*made, layer->id, {}, 0.9f, 0.5f)[0] < 0.01f);
    }
    void aMaskDrawnForTheWholeTextureLiesOverAllOfIt() {
        QVERIFY(writePicture(at("wide.png"), 64, 32, 1, [](int x, int, int) { return x < 48 ? 0 : 255; }));
        QVERIFY(writePicture(at("square.png"), 32, 32, 1, [](int x, int, int) { return x < 24 ? 0 : 255; }));
        QVERIFY(writePicture(at("map.png"), 128, 64, 3, [](int, int, int) { return 90; }));
        Project p;
        p.sets.emplace_back(TextureSet{
            "set", "Set", m_dir.path().toStdString(), {{"base-colour", "map.png", "auto", ""}}, {}});
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour")}));
        std::vector<std::string> ids;
        edits::LayerWish wish;
        wish.name = "Stamp";
        const auto made = addStamps(p, {}, {at("wide.png").string(), at("square.png").string()}, wish,
                                    Resources(fs::path{}), ids);
        QVERIFY(made.has_value());
        // The one that is as wide for its height as the map is white in the texture's last quarter, from
        // bottom to top.
        for (const float v : {0.05f, 0.5f, 0.95f}) {
            QVERIFY(evaluate(*made, ids[0], {}, 0.9f, v)[0] > 0.99f);
            QVERIFY(evaluate(*made, ids[0], {}, 0.6f, v)[0] < 0.01f);
        }
        // The other one lies in the middle.
        QVERIFY(evaluate(*made, ids[1], {}, 0.9f, 0.5f)[0] < 0.01f);
        QVERIFY(evaluate(*made, ids[1], {}, 0.61f, 0.5f)[0] > 0.99f);
    }
};

QTEST_GUILESS_MAIN(PictureReadingTest)
#include "picture_reading_test.moc"
