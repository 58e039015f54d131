// An export's identity changes with everything that its bytes depend on, and with nothing else.
#include "core/exchange/identity.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"
#include "core/image/image.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class IdentityTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    Project m_project;

    fs::path at(const char* name) const { return m_folder->filePath(QString::fromUtf8(name)).toStdString(); }
    std::string of(const ExportItem& item, FileFormat format = FileFormat::Png8,
                   const WriteChoices& choices = {}) const {
        const Resources resources(at(""));
        return Identities(m_project, resources, format, choices).of(item);
    }
    static ExportItem item(const char* line) {
        ExportItem made{{}, line, 1001, 8, 8, "out.png"};
        return made;
    }
    static bool paint(const fs::path& file, int code) {
        return writePicture(file, 8, 8, 1, [&](int, int, int) { return code; }).has_value();
    }
    /// Another program writes the file a moment later, with as many bytes.
    bool repaint(const fs::path& file, int code) const {
        std::error_code error;
        const auto size = fs::file_size(file, error);
        const auto time = fs::last_write_time(file, error);
        if (!paint(file, code) || fs::file_size(file, error) != size) return false;
        fs::last_write_time(file, time + std::chrono::milliseconds(10), error);
        return !error;
    }

private Q_SLOTS:
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        for (const char* name : {"grey.png", "other.png", "t.1001.png", "t.1011.png"})
            QVERIFY(paint(at(name), 100));
        m_project = {};
        m_project.sets.emplace_back(TextureSet{"set",
                                               "Set",
                                               "",
                                               {{"roughness", "grey.png", "raw", {}},
                                                {"other", "other.png", "raw", {}},
                                                {"tiles", "t.<UDIM>.png", "raw", {}}},
                                               {}});
        m_project.lines.emplace_back(
            line("rough", Kind::Scalar, "roughness", {mapStep("m", "roughness"), step("i", "invert")}));
        m_project.lines.emplace_back(line("metal", Kind::Scalar, "metalness", {mapStep("o", "other")}));
        m_project.lines.emplace_back(line("tiled", Kind::Scalar, "", {mapStep("t", "tiles")}));
        m_project.looks.emplace_back(Look{"look", "Look", {{"i.amount", 0.5}}, {}});
    }

    void aSourceThatIsRepaintedAtTheSameSize() {
        const std::string rough = of(item("rough")), metal = of(item("metal"));
        QVERIFY(repaint(at("grey.png"), 101));
        QVERIFY(of(item("rough")) != rough);
        QCOMPARE(of(item("metal")), metal);
    }
    void anyTileOfASource() {
        const std::string before = of(item("tiled"));
        QVERIFY(repaint(at("t.1011.png"), 101));
        QVERIFY(of(item("tiled")) != before);
    }
    void howASourceIsRead() {
        const std::string before = of(item("rough"));
        m_project.sets[0].edit().maps[0].encoding = "srgb";
        const std::string encoded = of(item("rough"));
        QVERIFY(encoded != before);
        m_project.sets[0].edit().maps[0].channels = "g";
        QVERIFY(of(item("rough")) != encoded);
    }
    void aPackedComponent() {
        ExportItem packed = item("rough");
        packed.components = {{"rough", ""}, {"metal", ""}, {"", "", 0.5f}};
        const std::string before = of(packed);
        const auto differs = [&](auto change) {
            ExportItem other = packed;
            change(other.components);
            return of(other) != before;
        };
        using Components = std::vector<PackedComponent>;
        QVERIFY(differs([](Components& c) { c[0].isInverted = true; }));
        QVERIFY(differs([](Components& c) { c[1].component = "green"; }));
        QVERIFY(differs([](Components& c) { c[2].otherwise = 1; }));
        QVERIFY(differs([](Components& c) { std::swap(c[0], c[1]); }));
        QVERIFY(differs([](Components& c) { c.pop_back(); }));
        QCOMPARE(of(packed), before);
        // The second line's own source.
        QVERIFY(repaint(at("other.png"), 101));
        QVERIFY(of(packed) != before);
    }
    void whatTheFileIs() {
        std::set<std::string> all{of(item("rough")), of(item("rough"), FileFormat::Tiff16)};
        const auto add = [&](auto change) {
            ExportItem other = item("rough");
            change(other);
            all.insert(of(other));
        };
        add([](ExportItem& i) { i.width = 16; });
        add([](ExportItem& i) { i.height = 16; });
        add([](ExportItem& i) { i.tile = 1002; });
        add([](ExportItem& i) { i.dither = true; });
        add([](ExportItem& i) { i.space = "ACEScg"; });
        add([](ExportItem& i) { i.object = "cup"; });
        add([](ExportItem& i) { i.look = "look"; });
        WriteChoices choices;
        choices.quality -= 7;
        all.insert(of(item("rough"), FileFormat::Png8, choices));
        m_project.colour.configuration = "own.ocio";
        all.insert(of(item("rough")));
        QCOMPARE(all.size(), std::size_t{11});
    }
    void notWhereItGoesNorWhatItIsCalled() {
        const std::string before = of(item("rough"));
        ExportItem other = item("rough");
        other.file = "elsewhere.png";
        m_project.lines[0].edit().name = "Another name";
        m_project.lines[0].edit().steps[1].edit().note = "A word";
        QCOMPARE(of(other), before);
    }
};

QTEST_APPLESS_MAIN(IdentityTest)
#include "identity_test.moc"
