// Reading pictures as they are meant: colours by what the file says of them, channels by their names, data
// windows, orientation, alpha. The files are made by the libraries, with published numbers.
#include <OpenImageIO/imageio.h>
#include <lcms2.h>
#include <sys/stat.h>
#include <unistd.h>
#include <zlib.h>

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>

#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/image/map_image.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

class ReadImageTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    fs::path at(const std::string& name) const { return fs::path(m_folder.path().toStdString()) / name; }

    /// Writes floats or bytes by the image library, with attributes of the test's choice.
    template <class T>
    fs::path write(const std::string& name, OIIO::ImageSpec spec, const std::vector<T>& numbers) {
        auto out = OIIO::ImageOutput::create(at(name).string());
        if (!out || !out->open(at(name).string(), spec)) return {};
        const auto type = std::is_same_v<T, float> ? OIIO::TypeDesc::FLOAT : OIIO::TypeDesc::UINT8;
        if (!out->write_image(type, numbers.data()) || !out->close()) return {};
        return at(name);
    }
    /// What a map of the file decodes to, in linear Rec.709, with its automatic encoding as a base colour.
    std::array<float, 4> decoded(const fs::path& file) {
        const auto info = inspectImage(file);
        if (!info) return {-1, -1, -1, -1};
        const auto map = MapImage::load(file, automaticEncoding(true, *info), ColourManagement::shipped());
        if (!map) return {-1, -1, -1, -1};
        std::array<float, 4> value{};
        float* out[4]{&value[0], &value[1], &value[2], &value[3]};
        const float u = 0.5f, v = 0.5f, footprint = 0;
        (*map)->sample({&u, &v, &footprint, 1}, 15, out);
        return value;
    }
    /// A 1 x 1 RGB PNG with chunks of the test's choice before its pixels.
    fs::path pngWith(const std::string& name, const std::vector<std::pair<std::string, std::string>>& chunks,
                     std::array<int, 3> colour) {
        if (!writePicture(at("plain.png"), 1, 1, 3,
                          [&](int, int, int c) { return colour[static_cast<std::size_t>(c)]; }))
            return {};
        std::string bytes = *readFile(at("plain.png"));
        std::string added;
        const auto number = [](std::uint32_t n) {
            std::string text;
            for (int shift = 24; shift >= 0; shift -= 8) text += static_cast<char>(n >> shift);
            return text;
        };
        for (const auto& [type, data] : chunks) {
            const std::string named = type + data;
            const auto crc =
                ::crc32(0, reinterpret_cast<const Bytef*>(named.data()), static_cast<uInt>(named.size()));
            added += number(static_cast<std::uint32_t>(data.size())) + named +
                     number(static_cast<std::uint32_t>(crc));
        }
        bytes.insert(33, added);  // behind the signature and IHDR
        if (!writeFileAtomically(at(name), bytes)) return {};
        return at(name);
    }
    static std::string number(std::uint32_t n) {
        std::string text;
        for (int shift = 24; shift >= 0; shift -= 8) text += static_cast<char>(n >> shift);
        return text;
    }
    static bool near(float a, double b, double tolerance = 0.002) {
        return std::fabs(static_cast<double>(a) - b) <= tolerance;
    }

private Q_SLOTS:
    void inksAreRefusedWithASentence() {
        const std::filesystem::path files =
            std::filesystem::path(KETTLE_DATA_DIR) / "../../tests/core/image/files";
        for (const char* name : {"inks.jpg", "inks.tif"}) {
            const auto read = readImage(files / name);
            QVERIFY2(!read, name);
            QVERIFY2(read.error().sentence.find("it holds inks (CMYK)") != std::string::npos,
                     read.error().sentence.c_str());
            QVERIFY2(!inspectImage(files / name), name);
        }
    }
    void aPngIsReadByItsOwnWords() {
        const double srgb = static_cast<double>(srgbToLinear(128 / 255.0f));
        const double gamma18 = std::pow(128 / 255.0, 1.8);
        QVERIFY(
            near(decoded(pngWith("srgb.png", {{"sRGB", std::string(1, '\0')}}, {128, 128, 128}))[0], srgb));
        QVERIFY(near(decoded(pngWith("g22.png", {{"gAMA", number(45455)}}, {128, 128, 128}))[0], srgb));
        QVERIFY(
            near(decoded(pngWith("g1.png", {{"gAMA", number(100000)}}, {128, 128, 128}))[0], 128 / 255.0));
        const fs::path g18 = pngWith("g18.png", {{"gAMA", number(55556)}}, {128, 128, 128});
        QVERIFY(near(decoded(g18)[0], gamma18));
        QCOMPARE(inspectImage(g18)->tag, std::string(kOwnColours));
        QCOMPARE(inspectImage(g18)->told, std::string("gamma 1/1.8"));
        // cICP: linear (transfer 8) on Rec.709, and it goes before a gamma.
        QVERIFY(near(
            decoded(pngWith("c8.png", {{"cICP", std::string("\x01\x08\x00\x01", 4)}, {"gAMA", number(45455)}},
                            {128, 128, 128}))[0],
            128 / 255.0));
        // Display P3 (primaries 12, transfer 13): its pure green in linear Rec.709 is (-0.2249, 1.0421,
        // -0.0786), by the two standards' primaries.
        const auto green =
            decoded(pngWith("p3.png", {{"cICP", std::string("\x0c\x0d\x00\x01", 4)}}, {0, 255, 0}));
        QVERIFY(near(green[0], -0.2249, 0.003) && near(green[1], 1.0421, 0.003) &&
                near(green[2], -0.0786, 0.003));
        // What is not known is said and not used.
        const fs::path pq =
            pngWith("pq.png", {{"cICP", std::string("\x09\x10\x00\x01", 4)}}, {128, 128, 128});
        QVERIFY(near(decoded(pq)[0], srgb));
    }
    void aProfileIsReadAndNotTakenForSrgb() {
        const auto withProfile = [&](const std::string& name, cmsHPROFILE profile, std::uint8_t r,
                                     std::uint8_t g) {
            cmsUInt32Number size = 0;
            cmsSaveProfileToMem(profile, nullptr, &size);
            std::vector<std::uint8_t> bytes(size);
            cmsSaveProfileToMem(profile, bytes.data(), &size);
            cmsCloseProfile(profile);
            OIIO::ImageSpec spec(1, 1, 3, OIIO::TypeDesc::UINT8);
            spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, static_cast<int>(size)),
                           bytes.data());
            return write<std::uint8_t>(name, spec, {r, g, 0});
        };
        cmsToneCurve* gamma = cmsBuildGamma(nullptr, 1.8);
        cmsToneCurve* curves[]{gamma, gamma, gamma};
        const cmsCIExyY d65{0.3127, 0.3290, 1};
        const cmsCIExyYTRIPLE p3{{0.680, 0.320, 1}, {0.265, 0.690, 1}, {0.150, 0.060, 1}};
        const cmsCIExyYTRIPLE rec709{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
        for (const char* extension : {"png", "tif"}) {
            const auto red =
                withProfile(std::string("p3.") + extension, cmsCreateRGBProfile(&d65, &p3, curves), 255, 0);
            QCOMPARE(inspectImage(red)->tag, std::string(kOwnColours));
            // Pure red of Display P3 in linear Rec.709: (1.2249, -0.0421, -0.0196).
            const auto value = decoded(red);
            QVERIFY(near(value[0], 1.2249, 0.004) && near(value[1], -0.0421, 0.004) &&
                    near(value[2], -0.0196, 0.004));
            const auto yellow = withProfile(std::string("g18.") + extension,
                                            cmsCreateRGBProfile(&d65, &rec709, curves), 128, 128);
            QVERIFY(near(decoded(yellow)[0], std::pow(128 / 255.0, 1.8), 0.003));
            const auto plain = withProfile(std::string("srgb.") + extension, cmsCreate_sRGBProfile(), 128, 0);
            QCOMPARE(inspectImage(plain)->tag, std::string(encoding::kSrgb));
        }
        cmsFreeToneCurve(gamma);
        // A profile of another sort is said and not used.
        OIIO::ImageSpec spec(1, 1, 3, OIIO::TypeDesc::UINT8);
        const std::vector<std::uint8_t> words(200, 'x');
        spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, 200), words.data());
        const auto broken = write<std::uint8_t>("broken.tif", spec, {128, 128, 128});
        QVERIFY(near(decoded(broken)[0], static_cast<double>(srgbToLinear(128 / 255.0f))));
    }
    void anExrIsReadByItsChromaticities() {
        const auto exr = [&](const std::string& name, const std::array<float, 8>& xy) {
            OIIO::ImageSpec spec(1, 1, 3, OIIO::TypeDesc::FLOAT);
            spec.attribute("chromaticities", OIIO::TypeDesc(OIIO::TypeDesc::FLOAT, 8), xy.data());
            return write<float>(name, spec, {0, 1, 0});
        };
        QCOMPARE(decoded(exr("r709.exr", {0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f}))[1],
                 1.0f);
        // ACEScg's green in linear Rec.709, white adapted by Bradford: (-0.6217, 1.1410, -0.1287).
        const auto green =
            decoded(exr("ap1.exr", {0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f}));
        QVERIFY(near(green[0], -0.6217, 0.005) && near(green[1], 1.1410, 0.005) &&
                near(green[2], -0.1287, 0.005));
        QCOMPARE(inspectImage(at("ap1.exr"))->told, std::string("chromaticities: ACEScg"));
        // Raw roles are numbers: no tag bends them.
        QCOMPARE(automaticEncoding(false, *inspectImage(at("ap1.exr"))), std::string(encoding::kRaw));
    }
    void theDataWindowIsLaidIntoTheDisplayWindow() {
        OIIO::ImageSpec spec(2, 1, 1, OIIO::TypeDesc::FLOAT);
        spec.channelnames = {"Y"};
        spec.x = 3, spec.y = 2;
        spec.full_x = 1, spec.full_y = 1, spec.full_width = 6, spec.full_height = 4;
        const auto p = readImage(write<float>("window.exr", spec, {0.25f, 0.5f}));
        QVERIFY(p.has_value());
        QCOMPARE(p->width, 6);
        QCOMPARE(p->height, 4);
        QCOMPARE(inspectImage(at("window.exr"))->width, 6);
        for (int y = 0; y < 4; ++y)
            for (int x = 0; x < 6; ++x)
                QCOMPARE(p->row<float>(y)[x], y == 1 && x == 2 ? 0.25f : y == 1 && x == 3 ? 0.5f : 0.0f);
        // Data beyond the display is cut off.
        spec.x = -1, spec.y = -1, spec.width = 3, spec.height = 3;
        spec.full_x = 0, spec.full_y = 0, spec.full_width = 1, spec.full_height = 1;
        const auto cut = readImage(write<float>("beyond.exr", spec, {1, 2, 3, 4, 5, 6, 7, 8, 9}));
        QCOMPARE(cut->width, 1);
        QCOMPARE(cut->row<float>(0)[0], 5.0f);
    }
    void channelsAreTakenByTheirNames() {
        const auto exr = [&](const std::string& name, std::vector<std::string> channels,
                             const std::vector<float>& numbers) {
            OIIO::ImageSpec spec(1, 1, static_cast<int>(channels.size()), OIIO::TypeDesc::FLOAT);
            spec.channelnames = std::move(channels);
            const auto p = readImage(write<float>(name, spec, numbers));
            std::vector<float> read;
            for (int c = 0; p && c < p->channels; ++c) read.push_back(p->row<float>(0)[c]);
            return read;
        };
        using V = std::vector<float>;
        QCOMPARE(exr("rgbz.exr", {"R", "G", "B", "Z"}, {0.1f, 0.2f, 0.3f, 9}), (V{0.1f, 0.2f, 0.3f}));
        QCOMPARE(exr("rg.exr", {"R", "G"}, {0.1f, 0.2f}), (V{0.1f, 0.2f, 0}));
        QCOMPARE(exr("yz.exr", {"Y", "Z"}, {0.1f, 9}), (V{0.1f}));
        QCOMPARE(exr("z.exr", {"Z"}, {0.7f}), (V{0.7f}));
        QCOMPARE(exr("layer.exr", {"diffuse.B", "diffuse.G", "diffuse.R"}, {0.3f, 0.2f, 0.1f}),
                 (V{0.1f, 0.2f, 0.3f}));
        // Colours are stored multiplied by their alpha, and are wanted apart.
        QCOMPARE(exr("rgba.exr", {"R", "G", "B", "A"}, {0.1f, 0.2f, 0.4f, 0.5f}),
                 (V{0.2f, 0.4f, 0.8f, 0.5f}));
        QCOMPARE(exr("clear.exr", {"R", "G", "B", "A"}, {0.1f, 0.2f, 0.4f, 0}), (V{0.1f, 0.2f, 0.4f, 0}));
    }
    void associatedTiffIsTakenApartAndUnassociatedStays() {
        OIIO::ImageSpec spec(1, 1, 4, OIIO::TypeDesc::UINT8);
        spec.attribute("oiio:UnassociatedAlpha", 1);
        const auto apart = readImage(write<std::uint8_t>("apart.tif", spec, {40, 80, 120, 128}));
        QCOMPARE(static_cast<int>(apart->row<std::uint8_t>(0)[1]), 80);
        OIIO::ImageSpec associated(1, 1, 4, OIIO::TypeDesc::UINT8);
        const auto together = readImage(write<std::uint8_t>("together.tif", associated, {40, 80, 120, 128}));
        QVERIFY(std::abs(together->row<std::uint8_t>(0)[1] - 80 * 255 / 128) <= 1);
        QCOMPARE(static_cast<int>(together->row<std::uint8_t>(0)[3]), 128);
    }
    void everyOrientationIsTurnedUpright() {
        // 3 x 2, the corners in order: which corner of the stored picture is shown at the upper left, by
        // EXIF 2.3.
        const std::vector<std::uint8_t> stored{10, 20, 30, 40, 50, 60};
        const std::array<int, 8> upperLeft{10, 30, 60, 40, 10, 40, 60, 30};
        for (int orientation = 1; orientation <= 8; ++orientation) {
            OIIO::ImageSpec spec(3, 2, 1, OIIO::TypeDesc::UINT8);
            spec.attribute("Orientation", orientation);
            const auto file = write<std::uint8_t>("turned.tif", spec, stored);
            const auto p = readImage(file);
            QVERIFY(p.has_value());
            QCOMPARE(p->width, orientation >= 5 ? 2 : 3);
            QCOMPARE(inspectImage(file)->width, p->width);
            QCOMPARE(static_cast<int>(p->row<std::uint8_t>(0)[0]),
                     upperLeft[static_cast<std::size_t>(orientation - 1)]);
        }
    }
    void whatIsNotFiniteIsCounted() {
        OIIO::ImageSpec spec(3, 1, 1, OIIO::TypeDesc::FLOAT);
        const auto file =
            write<float>("bad.exr", spec, {std::numeric_limits<float>::infinity(), std::nanf(""), 0.5f});
        const auto map = MapImage::load(file, encoding::kRaw, ColourManagement::shipped());
        QCOMPARE((*map)->notFinite(), std::size_t{2});
    }
    void onlyFilesThatMayBeReadAreRead() {
        QCOMPARE(mkfifo(at("pipe.png").c_str(), 0600), 0);
        const auto pipe = readImage(at("pipe.png"));
        QVERIFY(!pipe);
        QVERIFY(pipe.error().sentence.find("is a pipe or a device") != std::string::npos);
        if (geteuid() == 0) return;  // the one that may read everything
        QVERIFY(writePicture(at("shut.png"), 1, 1, 1, [](int, int, int) { return 0; }));
        fs::permissions(at("shut.png"), fs::perms::none);
        QVERIFY(readImage(at("shut.png")).error().sentence.find("Check its permissions.") !=
                std::string::npos);
    }
    void aHeaderThatClaimsMoreThanTheFileHoldsIsDamaged() {
        // 40 bytes that name a text of 2 GB, or end in the middle of a name: the library would take the
        // memory first.
        const std::string head("\x76\x2f\x31\x01\x02\0\0\0", 8), note("note\0string\0", 12);
        const std::filesystem::path file = at("claims.exr");
        for (const std::string& bytes : {head + note + "\xff\xff\xff\x7f" + "hello",
                                         head + note + std::string("\x06\0\0\0", 4) + "hello",
                                         head + note.substr(0, 8), head + std::string(300, 'x')}) {
            QVERIFY(writeFileAtomically(file, bytes).has_value());
            const auto info = inspectImage(file);
            QVERIFY(!info);
            QCOMPARE(info.error().kind, ErrorKind::Unreadable);
            QVERIFY(info.error().sentence.find("it is damaged or ends too early") != std::string::npos);
            QVERIFY(!readImage(file));
        }
        // What is whole is read, also with the longest name.
        PixelBuffer pixels = PixelBuffer::make(4, 4, 3, Depth::Float);
        std::fill(pixels.bytes.begin(), pixels.bytes.end(), std::byte{0});
        QVERIFY(writeImage(at("whole.exr"), pixels, FileFormat::ExrHalf, "").has_value());
        QVERIFY(inspectImage(at("whole.exr")).has_value());
    }
    void aPictureThatCannotFitIsRefused() {
        // A header that promises 60000 x 60000 pixels, whose numbers would not fit: no pixel is asked for.
        QVERIFY(writePicture(at("huge.png"), 1, 1, 3, [](int, int, int) { return 0; }));
        std::string bytes = *readFile(at("huge.png"));
        bytes.replace(16, 8, number(60000) + number(60000));
        const auto crc = ::crc32(0, reinterpret_cast<const Bytef*>(bytes.data() + 12), 17);
        bytes.replace(29, 4, number(static_cast<std::uint32_t>(crc)));
        QVERIFY(writeFileAtomically(at("huge.png"), bytes));
        const auto huge = readImage(at("huge.png"));
        QVERIFY(!huge);
        QVERIFY(huge.error().sentence.ends_with('.'));
    }
};

QTEST_GUILESS_MAIN(ReadImageTest)
#include "read_image_test.moc"
