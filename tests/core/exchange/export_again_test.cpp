// An export into a folder that has one already: what is up to date stays, what has changed is made again; the
// manifest; the spaces that colours are written in.
#include <QTemporaryDir>
#include <QtTest>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/exchange/export.h"
#include "core/exchange/identity.h"
#include "core/exchange/item_maker.h"
#include "core/image/map_image.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

const Colour kPaint{0.5f, 0.25f, 0.125f};

Project plain() {
    Project p;
    p.lines.emplace_back(
        line("base", Kind::Colour, "base-colour", {step("c", "colour", {{"colour", kPaint}})}));
    p.lines.emplace_back(line("rough", Kind::Scalar, "roughness", {step("r", "value", {{"value", 0.25}})}));
    p.lines.emplace_back(line("metal", Kind::Scalar, "metalness", {step("m", "value", {{"value", 1.0}})}));
    p.lines.emplace_back(line("way", Kind::Normal, "normal", {step("n", "flat-normal")}));
    return p;
}

}  // namespace

class ExportAgainTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    Resources m_resources{fs::path(KETTLE_DATA_DIR)};

    fs::path at(const char* name) { return m_folder->filePath(QString::fromUtf8(name)).toStdString(); }
    ExportOptions options() {
        ExportOptions o;
        o.folder = at("out");
        o.size = 16;
        o.pattern = "{channel}";
        return o;
    }
    Exported exported(const Project& p, const ExportOptions& o) {
        auto made = exportMaps(p, m_resources, o);
        if (!made) qFatal("%s", made.error().sentence.c_str());
        return *made;
    }
    Json manifest() { return Json::parse(*readFile(at("out") / "manifest.json")); }
    static const Json& entry(const Json& manifest, const std::string& file) {
        for (const Json& one : manifest.at("files"))
            if (one.at("file") == file) return one;
        qFatal("no %s", file.c_str());
    }
    /// The colour of a file's first pixel as our own reader understands what the file says: linear Rec.709.
    Vec3 readBack(const fs::path& file) {
        const auto info = inspectImage(file);
        const auto map = MapImage::load(file, automaticEncoding(true, *info), ColourManagement::shipped());
        if (!map) qFatal("%s", map.error().sentence.c_str());
        float value[4]{};
        float* out[4]{&value[0], &value[1], &value[2], &value[3]};
        const float u = 0.5f, v = 0.5f, footprint = 0;
        (*map)->sample({&u, &v, &footprint, 1}, 15, out);
        return {value[0], value[1], value[2]};
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void whatIsUpToDateIsNotWrittenAgain() {
        const Exported first = exported(plain(), options());
        QCOMPARE(first.files.size(), std::size_t{4});
        QCOMPARE(first.unchanged.size(), std::size_t{0});
        const auto before = fs::last_write_time(first.files[0]);
        QTest::qWait(20);
        const Exported second = exported(plain(), options());
        QCOMPARE(second.files, first.files);
        QCOMPARE(second.unchanged.size(), std::size_t{4});
        QVERIFY(fs::last_write_time(first.files[0]) == before);
        ExportOptions anew = options();
        anew.again = true;
        QCOMPARE(exported(plain(), anew).unchanged.size(), std::size_t{0});
        QVERIFY(fs::last_write_time(first.files[0]) != before);
    }

    void whatHasChangedIs() {
        exported(plain(), options());
        const Project other = *edits::setControl(plain(), "", "r", "value", 0.75);
        QCOMPARE(exported(other, options()).unchanged.size(), std::size_t{3});
        // Another choice of how they are written makes them others.
        ExportOptions small = options();
        small.choices.compression = Compression::Small;
        QCOMPARE(exported(other, small).unchanged.size(), std::size_t{0});
        small.dither = true;
        QCOMPARE(exported(other, small).unchanged.size(), std::size_t{0});
        small.space = "Display P3";
        QCOMPARE(exported(other, small).unchanged.size(), std::size_t{0});
    }

    void whatSomebodyElseWroteIsMadeAgain() {
        const Exported first = exported(plain(), options());
        const std::string whole = *readFile(first.files[0]);
        // Shorter; gone; of the same length but touched an hour later; without its record.
        fs::resize_file(first.files[0], 10);
        QCOMPARE(exported(plain(), options()).unchanged.size(), std::size_t{3});
        QCOMPARE(*readFile(first.files[0]), whole);
        fs::remove(first.files[1]);
        QCOMPARE(exported(plain(), options()).unchanged.size(), std::size_t{3});
        std::string altered = whole;
        altered[whole.size() / 2] = static_cast<char>(altered[whole.size() / 2] ^ 1);
        std::ofstream(first.files[0], std::ios::binary) << altered;
        fs::last_write_time(first.files[0], fs::last_write_time(first.files[0]) + std::chrono::hours(1));
        QCOMPARE(exported(plain(), options()).unchanged.size(), std::size_t{3});
        QCOMPARE(*readFile(first.files[0]), whole);
        std::ofstream(recordOf(first.files[2])) << "{\"identity\": 7";
        QCOMPARE(exported(plain(), options()).unchanged.size(), std::size_t{3});
    }

    void aStoppedOneGoesOn() {
        CancelToken cancel;
        // Stopped when the first file is told of.
        const auto stopped =
            exportMaps(plain(), m_resources, options(), cancel, [&](const ExportProgress& p) {
                if (p.fraction > 0.3) cancel.cancel();
            });
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
        std::size_t there = 0;
        for (const auto& file : fs::directory_iterator(at("out"))) there += file.is_regular_file() ? 1 : 0;
        QVERIFY(there >= 1 && there < 4);
        QCOMPARE(exported(plain(), options()).unchanged.size(), there);
    }

    void aFolderThatGoesAwayIsTold() {
        // As a share does in the middle: what was there is whole, nothing ends, and it says where.
        const auto made = exportMaps(plain(), m_resources, options(), {}, [&](const ExportProgress&) {
            // When the first file is there: the last of four is not begun then.
            std::error_code code;
            for (const auto& file : fs::directory_iterator(at("out"), code))
                if (file.is_regular_file() && file.path().extension() == ".png" &&
                    !fs::exists(at("gone"), code))
                    return fs::rename(at("out"), at("gone"), code);
        });
        QVERIFY(!made);
        QCOMPARE(made.error().kind, ErrorKind::Write);
        QVERIFY(made.error().sentence.find("out") != std::string::npos);
        for (const auto& file : fs::directory_iterator(at("gone")))
            if (file.is_regular_file()) QVERIFY2(readImage(file.path()), file.path().c_str());
        // Back again, it goes on.
        std::error_code code;
        fs::remove_all(at("out"), code);
        fs::rename(at("gone"), at("out"));
        const Exported whole = exported(plain(), options());
        QCOMPARE(whole.files.size(), std::size_t{4});
        QVERIFY(whole.unchanged.size() < 4);
    }

    void aFolderThatKeepsNoRecordsIsNoError() {
        // Where records would lie, a file is in the way.
        fs::create_directories(at("out"));
        std::ofstream(at("out") / ".pale-kettle") << "in the way";
        QCOMPARE(exported(plain(), options()).files.size(), std::size_t{4});
        QCOMPARE(exported(plain(), options()).unchanged.size(), std::size_t{0});
    }

    void theManifestTellsEveryComponent() {
        ExportOptions o = options();
        o.manifest = true;
        o.packed = {{"both", {{"roughness", "", 0.5f, true}, {"metalness", "", 0}, {"", "", 1}}}};
        const Exported made = exported(plain(), o);
        QCOMPARE(made.files.back().filename(), fs::path("manifest.json"));
        const Json all = manifest();
        QCOMPARE(all.at("files").size(), std::size_t{3});
        const Json& colour = entry(all, "base-colour.png");
        QCOMPARE(colour.at("encoding").get<std::string>(), std::string("sRGB"));
        QCOMPARE(colour.at("components").size(), std::size_t{3});
        QCOMPARE(colour.at("components")[1].at("component").get<std::string>(), std::string("green"));
        QCOMPARE(colour.at("width").get<int>(), 16);
        QCOMPARE(colour.at("bytes").get<std::uintmax_t>(), fs::file_size(at("out") / "base-colour.png"));
        QCOMPARE(entry(all, "normal.png").at("components")[2].at("component").get<std::string>(),
                 std::string("z"));
        const Json& both = entry(all, "both.png");
        QCOMPARE(both.at("encoding").get<std::string>(), std::string("raw"));
        QCOMPARE(both.at("components")[0].at("channel").get<std::string>(), std::string("roughness"));
        QVERIFY(both.at("components")[0].at("inverted").get<bool>());
        QCOMPARE(both.at("components")[2].at("value").get<float>(), 1.0f);
        // Equal files have equal hashes, others others.
        QVERIFY(colour.at("hash") != both.at("hash"));
        const std::string hash = colour.at("hash");
        o.again = true;
        exported(plain(), o);
        QCOMPARE(entry(manifest(), "base-colour.png").at("hash").get<std::string>(), hash);
    }

    void coloursComeBackFromEverySpace_data() {
        QTest::addColumn<QString>("space");
        QTest::addColumn<int>("format");
        for (const std::string& space : exportSpaces()) {
            const QString name = QString::fromStdString(space);
            QTest::newRow(qPrintable(name + QStringLiteral(" in PNG")))
                << name << static_cast<int>(FileFormat::Png16);
            if (space == "linear Rec.709" || space == "ACEScg")
                QTest::newRow(qPrintable(name + QStringLiteral(" in EXR")))
                    << name << static_cast<int>(FileFormat::ExrFloat);
        }
    }
    void coloursComeBackFromEverySpace() {
        QFETCH(QString, space);
        QFETCH(int, format);
        ExportOptions o = options();
        o.space = space.toStdString();
        o.format = static_cast<FileFormat>(format);
        o.channels = {"base-colour"};
        const Exported made = exported(plain(), o);
        const Vec3 back = readBack(made.files[0]);
        QVERIFY2(std::fabs(back.x - kPaint.r) < 2e-4f && std::fabs(back.y - kPaint.g) < 2e-4f &&
                     std::fabs(back.z - kPaint.b) < 2e-4f,
                 qPrintable(QStringLiteral("%1 %2 %3")
                                .arg(static_cast<double>(back.x))
                                .arg(static_cast<double>(back.y))
                                .arg(static_cast<double>(back.z))));
    }

    void storedNumbersAreThoseOfTheSpace() {
        // SMPTE S-2014-004 with the Bradford adaptation, by the published matrix from linear Rec.709.
        ExportOptions o = options();
        o.space = "ACEScg";
        o.format = FileFormat::ExrFloat;
        o.channels = {"base-colour"};
        const auto pixels = readImage(exported(plain(), o).files[0]);
        QVERIFY(pixels);
        const float* first = pixels->row<float>(0);
        const float wanted[3] = {0.613097f * kPaint.r + 0.339523f * kPaint.g + 0.047379f * kPaint.b,
                                 0.070194f * kPaint.r + 0.916354f * kPaint.g + 0.013452f * kPaint.b,
                                 0.020616f * kPaint.r + 0.109570f * kPaint.g + 0.869815f * kPaint.b};
        for (int c = 0; c < 3; ++c)
            QVERIFY2(std::fabs(first[c] - wanted[c]) < 2e-4f, qPrintable(QString::number(c)));
        o.space = "teal";
        const auto refused = exportMaps(plain(), m_resources, o);
        QVERIFY(!refused && refused.error().kind == ErrorKind::Refused);
    }

    void aChannelGoesIntoSeveralFiles() {
        ExportOptions o = options();
        o.packed = {{"one", {{"roughness", "", 0.5f}, {"metalness", "", 0}, {"occlusion", "", 1}}},
                    {"two", {{"roughness", "", 0.5f, true}}}};
        const auto items = planExport(plain(), m_resources, o);
        QVERIFY(items);
        std::vector<std::string> names;
        for (const ExportItem& item : *items) names.push_back(item.file.filename().string());
        QCOMPARE(names, (std::vector<std::string>{"base-colour.png", "normal.png", "one.png", "two.png"}));
        exported(plain(), o);
        const auto two = readImage(at("out") / "two.png");
        QVERIFY(two);
        QCOMPARE(static_cast<int>(two->row<std::uint8_t>(0)[0]), 191);  // 1 - 0.25
    }
};

QTEST_GUILESS_MAIN(ExportAgainTest)
#include "export_again_test.moc"
