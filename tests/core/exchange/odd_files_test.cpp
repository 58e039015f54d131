// Files as they come from broken disks, other programs and mistakes: each is told in a sentence or taken,
// beside a good one that always comes in, within bounded memory.
#include <sys/resource.h>
#include <sys/stat.h>

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/exchange/bring_plan.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

namespace {

/// What must become of a file: named and left out, or taken, or either (formats that forgive).
enum Fate { LeftOut, Taken, Either };

std::string bytesOf(std::initializer_list<int> bytes) {
    std::string text;
    for (const int b : bytes) text += static_cast<char>(b);
    return text;
}

std::string repeated(const std::string& what, int count) {
    std::string text;
    for (int i = 0; i < count; ++i) text += what;
    return text;
}

/// Whole small pictures of every format, made here.
std::string pictureBytes(const std::string& ending) {
    static QTemporaryDir dir;
    const fs::path file = fs::path(dir.path().toStdString()) / ("p" + ending);
    PixelBuffer p = PixelBuffer::make(24, 16, 3, ending == ".exr" ? Depth::Float : Depth::U8);
    for (std::size_t i = 0; i < p.bytes.size(); ++i) p.bytes[i] = static_cast<std::byte>(i * 37 % 61);
    if (ending == ".exr")
        for (int y = 0; y < 16; ++y)
            for (int x = 0; x < 72; ++x) p.row<float>(y)[x] = static_cast<float>(x + y) / 99;
    const auto written = [&](const PixelBuffer& pixels, FileFormat format) {
        return writeImage(file, pixels, format, "") ? *readFile(file) : std::string();
    };
    if (ending == ".png") return written(p, FileFormat::Png8);
    if (ending == ".tif") {
        PixelBuffer deep = PixelBuffer::make(24, 16, 3, Depth::U16);
        std::copy_n(p.bytes.begin(), p.bytes.size(), deep.bytes.begin());
        return written(deep, FileFormat::Tiff16);
    }
    if (ending == ".exr") return written(p, FileFormat::ExrHalf);
    if (ending == ".jpg") return written(p, FileFormat::Jpeg);
    if (ending == ".tga")
        return bytesOf({0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 24, 0, 16, 0, 24, 32}) + repeated("abc", 384);
    if (ending == ".bmp")
        return "BM" + bytesOf({0xB6, 4, 0,  0, 0, 0, 0, 0, 54, 0, 0, 0, 40, 0, 0,    0, 24, 0,
                               0,    0, 16, 0, 0, 0, 1, 0, 24, 0, 0, 0, 0,  0, 0x80, 4, 0,  0,
                               0,    0, 0,  0, 0, 0, 0, 0, 0,  0, 0, 0, 0,  0, 0,    0}) +
               repeated("abc", 384);
    return "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 16 +X 24\n" + repeated(bytesOf({90, 80, 70, 128}), 384);
}

std::string gltf(const std::string& nodes, const std::string& rest = "") {
    return "{\"asset\":{\"version\":\"2.0\"},\"scene\":0,\"scenes\":[{\"nodes\":[0]}],\"nodes\":" + nodes +
           rest + "}";
}

const char* const kTriangle = "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n";

}  // namespace

class OddFilesTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    int m_count = 0;

    /// The address sanitizer keeps what was given back, and an eighth beside it.
    const long kMostMegabytes = qEnvironmentVariableIsSet("KETTLE_SANITIZED") ? 4000 : 900;
    static long peakMegabytes() {
        rusage used{};
        getrusage(RUSAGE_SELF, &used);
        return used.ru_maxrss / 1024;
    }

private Q_SLOTS:
    void anOddFile_data() {
        QTest::addColumn<QByteArray>("name");
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<int>("fate");
        int number = 0;
        const auto row = [&](const std::string& about, const std::string& name, const std::string& bytes,
                             Fate fate) {
            QTest::addRow("%02d %s", ++number, about.c_str())
                << QByteArray::fromStdString(name) << QByteArray::fromStdString(bytes)
                << static_cast<int>(fate);
        };
        for (const char* ending : {".png", ".jpg", ".tif", ".exr", ".tga", ".bmp", ".hdr"}) {
            const std::string e = ending, whole = pictureBytes(e);
            row("whole" + e, "odd" + e, whole, Taken);
            row("half of" + e, "odd" + e, whole.substr(0, whole.size() / 2), e == ".jpg" ? Either : LeftOut);
            row("the first ten bytes of" + e, "odd" + e, whole.substr(0, 10), LeftOut);
            row("no bytes" + e, "odd" + e, "", LeftOut);
            row("words" + e, "odd" + e, "The kettle is on the stove.\n", LeftOut);
        }
        row("a PNG by another name", "odd.jpg", pictureBytes(".png"), Either);
        row("an EXR by another name", "odd.png", pictureBytes(".exr"), Either);
        const std::string png = pictureBytes(".png"), tga = pictureBytes(".tga"), bmp = pictureBytes(".bmp");
        row("a PNG of 2^31 pixels a side", "odd.png",
            std::string(png).replace(16, 8, bytesOf({0x7F, 0xFF, 0xFF, 0xFF, 0x7F, 0xFF, 0xFF, 0xFF})),
            LeftOut);
        row("a PNG of no pixels", "odd.png", std::string(png).replace(16, 8, std::string(8, '\0')), LeftOut);
        row("a PNG with a wrong sum", "odd.png", std::string(png).replace(30, 1, "x"), LeftOut);
        row("a TGA of 65535 a side", "odd.tga", std::string(tga).replace(12, 4, "\xFF\xFF\xFF\xFF"), LeftOut);
        row("a TGA of no pixels", "odd.tga", std::string(tga).replace(12, 4, std::string(4, '\0')), LeftOut);
        row("a BMP of 2^30 a side", "odd.bmp",
            std::string(bmp).replace(18, 8, bytesOf({0, 0, 0, 0x40, 0, 0, 0, 0x40})), LeftOut);
        row("an HDR of a million a side", "odd.hdr",
            "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1000000 +X 1000000\nx", LeftOut);
        row("OBJ: an index of 0", "odd.obj", std::string(kTriangle) + "f 0 1 2\n", Either);
        row("OBJ: an index beyond", "odd.obj", std::string(kTriangle) + "f 1 2 4000000\n", Either);
        row("OBJ: an index before the first", "odd.obj", std::string(kTriangle) + "f -9 -8 -7\n", Either);
        row("OBJ: lines and points", "odd.obj", std::string(kTriangle) + "p 1\nl 1 2\n", LeftOut);
        row("OBJ: no numbers", "odd.obj", "v a b c\nf x y z\n", LeftOut);
        row("OBJ: nothing", "odd.obj", "", LeftOut);
        row("OBJ: not a number", "odd.obj", "v nan 0 0\nv 1 0 0\nv 0 inf 0\nf 1 2 3\n", Either);
        row("OBJ: a library that is not there", "odd.obj",
            "mtllib none.mtl\nusemtl x\n" + std::string(kTriangle) + "f 1/1 2/2 3/3\n", Taken);
        row("OBJ: no texture coordinates", "odd.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", Taken);
        row("glTF: a node that is its own child", "odd.gltf", gltf("[{\"children\":[0]}]"), LeftOut);
        row("glTF: two nodes in a circle", "odd.gltf", gltf("[{\"children\":[1]},{\"children\":[0]}]"),
            LeftOut);
        row("glTF: a node that is not there", "odd.gltf", gltf("[{\"children\":[7]}]"), LeftOut);
        row("glTF: a mesh that is not there", "odd.gltf", gltf("[{\"mesh\":3}]"), LeftOut);
        row("glTF: a thousand million vertices", "odd.gltf",
            gltf("[{\"mesh\":0}]",
                 ",\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0}}]}],\"accessors\":[{"
                 "\"bufferView\":0,"
                 "\"componentType\":5126,\"count\":1000000000,\"type\":\"VEC3\"}],\"bufferViews\":[{"
                 "\"buffer\":0,"
                 "\"byteLength\":12000000000}],\"buffers\":[{\"byteLength\":12,\"uri\":\"data:application/"
                 "octet-stream;base64,AAAAAAAAAAAAAAAA\"}]"),
            LeftOut);
        row("glTF: a buffer that is not there", "odd.gltf",
            gltf("[{\"mesh\":0}]",
                 ",\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0}}]}],\"accessors\":[{"
                 "\"bufferView\":0,"
                 "\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"}],\"bufferViews\":[{\"buffer\":0,"
                 "\"byteLength\":"
                 "36}],\"buffers\":[{\"byteLength\":36,\"uri\":\"gone.bin\"}]"),
            LeftOut);
        row("glTF: half of the text", "odd.gltf", gltf("[{\"mesh\":0}]").substr(0, 40), LeftOut);
        row("GLB: words", "odd.glb", "no model at all, but long enough to be one", LeftOut);
        row("GLB: a length beyond the file", "odd.glb", "glTF" + bytesOf({2, 0, 0, 0, 255, 255, 255, 127}),
            LeftOut);
        row("PLY: no end of the header", "odd.ply", "ply\nformat ascii 1.0\nelement vertex 3\n", LeftOut);
        row("PLY: four thousand million vertices", "odd.ply",
            "ply\nformat ascii 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\nproperty "
            "float z\nend_"
            "header\n0 0 0\n",
            LeftOut);
        row("a name with spaces", "odd name with spaces.png", png, Taken);
        row("a name with accents", "ödd_Kännchen_é.png", png, Taken);
        row("a name with a newline", "odd\nname.png", png, Taken);
        row("a name that is not UTF-8", std::string("odd\xE9\xFF.png"), png, Taken);
        row("a name of 250 characters", std::string(246, 'o') + ".png", png, Taken);
        row("a name of dots", "....png", png, Either);
    }
    void anOddFile() {
        QFETCH(QByteArray, name);
        QFETCH(QByteArray, bytes);
        QFETCH(int, fate);
        const fs::path folder = fs::path(m_dir.path().toStdString()) / std::to_string(++m_count);
        fs::create_directories(folder);
        QVERIFY(writePicture(folder / "tray_albedo.png", 8, 8, 3,
                             [](int x, int y, int c) { return x * 9 + y + c; }));
        std::ofstream(folder / name.toStdString(), std::ios::binary) << bytes.toStdString();
        const auto plan = planBringIn({folder});
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().sentence.c_str());
        bool isGood = false;
        std::size_t taken = plan->model ? 1 : 0;
        for (const PlannedSet& set : plan->sets)
            for (const PlannedMap& map : set.maps) {
                isGood = isGood || map.name.pattern == "tray_albedo.png";
                taken += map.name.pattern != "tray_albedo.png" ? 1 : 0;
            }
        QVERIFY(isGood);  // the good one comes in whatever lies beside it
        QCOMPARE(taken + plan->leftOut.size(),
                 fate == Either && name.startsWith("...") ? taken : std::size_t{1});
        if (fate == Taken)
            QVERIFY2(plan->leftOut.empty(), plan->leftOut.empty() ? "" : plan->leftOut[0].c_str());
        if (fate == LeftOut) QCOMPARE(plan->leftOut.size(), std::size_t{1});
        for (const std::string& sentence : plan->leftOut) {
            QVERIFY2(sentence.ends_with("It was left out."), sentence.c_str());
            QVERIFY2(sentence.find(name.toStdString()) != std::string::npos, sentence.c_str());
        }
        QVERIFY2(peakMegabytes() < kMostMegabytes, qPrintable(QStringLiteral("%1 MB").arg(peakMegabytes())));
    }
    void whatCannotBeOpened() {
        const fs::path folder = fs::path(m_dir.path().toStdString()) / "closed";
        fs::create_directories(folder / "a_folder.png");
        QVERIFY(writePicture(folder / "tray_albedo.png", 8, 8, 3, [](int x, int, int) { return x; }));
        QVERIFY(writePicture(folder / "tray_rough.png", 8, 8, 1, [](int x, int, int) { return x; }));
        QCOMPARE(::mkfifo((folder / "pipe.png").c_str(), 0600), 0);
        fs::create_symlink("nowhere.png", folder / "link.png");
        fs::permissions(folder / "tray_rough.png", fs::perms::none);
        const auto plan = planBringIn({folder});
        QVERIFY(plan.has_value());
        // Who may read everything reads that one too.
        const bool mayRead = ::access((folder / "tray_rough.png").c_str(), R_OK) == 0;
        QCOMPARE(plan->leftOut.size(), mayRead ? std::size_t{0} : std::size_t{1});
        fs::permissions(folder / "tray_rough.png", fs::perms::owner_all);
    }
    void aFolderThatVanishesWhileItIsRead() {
        const fs::path folder = fs::path(m_dir.path().toStdString()) / "vanishes";
        fs::create_directories(folder);
        for (int i = 0; i < 40; ++i)
            QVERIFY(writePicture(folder / ("tray_" + std::to_string(i) + "x.png"), 8, 8, 3,
                                 [](int x, int, int) { return x; }));
        const auto plan = planBringIn({folder}, false, [&](int done, int) {
            if (done == 5) fs::remove_all(folder);
        });
        // Some were read, or none: what is missing is told, and nothing else happens.
        if (plan)
            QVERIFY(!plan->leftOut.empty());
        else
            QVERIFY2(plan.error().sentence.ends_with("."), plan.error().sentence.c_str());
    }
    void sizesThatDifferAndOnesOfOnePixel() {
        const fs::path folder = fs::path(m_dir.path().toStdString()) / "sizes";
        fs::create_directories(folder);
        QVERIFY(writePicture(folder / "tray_albedo.png", 1, 1, 3, [](int, int, int) { return 99; }));
        QVERIFY(writePicture(folder / "tray_rough.png", 1, 77, 1, [](int, int y, int) { return y; }));
        QVERIFY(writePicture(folder / "tray_height.png", 33, 1, 1, [](int x, int, int) { return x; }));
        const auto plan = planBringIn({folder});
        QVERIFY(plan.has_value() && plan->leftOut.empty());
        QCOMPARE(plan->sets[0].maps.size(), std::size_t{3});
    }
};

QTEST_GUILESS_MAIN(OddFilesTest)
#include "odd_files_test.moc"
