// What is prepared is what was read, bit for bit; whatever is wrong with it is as if there were none.
#include "core/image/prepared_maps.h"

#include <QTemporaryDir>
#include <QtTest>
#include <atomic>
#include <fstream>

#include "core/colour/encoding.h"
#include "core/image/image_store.h"
#include "core/image/map_image.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class PreparedMapsTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    ColourManagement m_colours = ColourManagement::shipped();
    int m_count = 0;

    fs::path folder() {
        const fs::path path = fs::path(m_dir.path().toStdString()) / std::to_string(++m_count);
        fs::create_directories(path);
        return path;
    }
    static int filesIn(const fs::path& path) {
        std::error_code code;
        int count = 0;
        for (fs::directory_iterator it(path, code), end; !code && it != end; it.increment(code)) ++count;
        return count;
    }
    /// Lookups over the map at several footprints.
    static std::vector<float> looked(const MapImage& map) {
        std::vector<float> u, v, footprint, all;
        for (int i = 0; i < 4000; ++i) {
            u.push_back(static_cast<float>(i % 61) / 61.7f + (map.isTiled() && i % 2 == 1 ? 1.0f : 0.0f));
            v.push_back(static_cast<float>(i % 53) / 53.9f);
            footprint.push_back(std::exp2(-static_cast<float>(i % 12)));
        }
        std::vector<std::vector<float>> planes(4, std::vector<float>(u.size()));
        float* out[4]{planes[0].data(), planes[1].data(), planes[2].data(), planes[3].data()};
        map.sample({u.data(), v.data(), footprint.data(), u.size()}, 15, out);
        for (const auto& plane : planes) all.insert(all.end(), plane.begin(), plane.end());
        return all;
    }
    static void writeMap(const fs::path& file, FileFormat format, int side = 1024) {
        PixelBuffer p = PixelBuffer::make(side, side, 3, storageOf(format));
        for (int y = 0; y < side; ++y)
            for (int i = 0; i < side * 3; ++i) {
                const int value = (i * 7 + y * 13) % 251;
                if (p.depth == Depth::U8) p.row<std::uint8_t>(y)[i] = static_cast<std::uint8_t>(value);
                if (p.depth == Depth::U16)
                    p.row<std::uint16_t>(y)[i] = static_cast<std::uint16_t>(value * 257);
                if (p.depth == Depth::Float) p.row<float>(y)[i] = static_cast<float>(value) / 99;
            }
        QVERIFY(writeImage(file, p, format, "").has_value());
    }
    std::shared_ptr<const MapImage> load(const fs::path& file, const PreparedMaps& prepared,
                                         const char* encoding = encoding::kSrgb) {
        const std::shared_ptr<const PreparedMaps> borrowed(std::shared_ptr<void>(), &prepared);
        auto map = MapImage::load(file, encoding, m_colours, borrowed);
        return map ? *map : nullptr;
    }

private Q_SLOTS:
    void theSecondTimeIsTheFirst_data() {
        QTest::addColumn<int>("format");
        QTest::addColumn<QByteArray>("encoding");
        QTest::newRow("bytes, sRGB") << static_cast<int>(FileFormat::Png8) << QByteArray(encoding::kSrgb);
        QTest::newRow("bytes, raw") << static_cast<int>(FileFormat::Png8) << QByteArray(encoding::kRaw);
        QTest::newRow("16 bit") << static_cast<int>(FileFormat::Png16) << QByteArray(encoding::kSrgb);
        QTest::newRow("half") << static_cast<int>(FileFormat::ExrHalf) << QByteArray(encoding::kLinear);
        QTest::newRow("another space") << static_cast<int>(FileFormat::Png8) << QByteArray("ACEScg");
    }
    void theSecondTimeIsTheFirst() {
        QFETCH(int, format);
        QFETCH(QByteArray, encoding);
        const fs::path path = folder(), kept = path / "kept";
        const auto f = static_cast<FileFormat>(format);
        const fs::path file = path / ("m" + std::string(extensionOf(f)));
        writeMap(file, f);
        const PreparedMaps prepared(kept);
        const auto first = load(file, prepared, encoding.constData());
        QVERIFY(first && first->isWorthPreparing());
        first->prepare(prepared);
        QCOMPARE(filesIn(kept), 1);
        const auto second = load(file, prepared, encoding.constData());
        QVERIFY(second && !second->isWorthPreparing());
        QVERIFY(looked(*first) == looked(*second));
        QVERIFY(first->byteSize() > 1024u * 1024 * 3 &&
                second->byteSize() == 0);  // a file's pages are no memory of ours
        QCOMPARE(second->width(), 1024);
        // Another encoding is another picture.
        QVERIFY(load(file, prepared, "linear P3-D65") == nullptr || filesIn(kept) == 1);
    }
    void tilesByEitherPattern() {
        for (const auto& [pattern, names] : {std::pair<const char*, std::array<const char*, 2>>{
                                                 "hull.<UDIM>.png", {"hull.1001.png", "hull.1002.png"}},
                                             {"hull_<UVTILE>.png", {"hull_u1_v1.png", "hull_u2_v1.png"}}}) {
            const fs::path path = folder();
            for (const char* name : names) writeMap(path / name, FileFormat::Png8);
            const PreparedMaps prepared(path / "kept");
            const auto first = load(path / pattern, prepared);
            QVERIFY(first != nullptr);
            QCOMPARE(first->tiles(), (std::vector<int>{1001, 1002}));
            first->prepare(prepared);
            QCOMPARE(filesIn(path / "kept"), 2);
            QVERIFY(looked(*first) == looked(*load(path / pattern, prepared)));
        }
    }
    void aChangedSourceIsReadAgain() {
        const fs::path path = folder(), file = path / "m.png";
        writeMap(file, FileFormat::Png8);
        const PreparedMaps prepared(path / "kept");
        load(file, prepared)->prepare(prepared);
        QVERIFY(writePicture(file, 1024, 1024, 3, [](int, int, int) { return 9; }));
        const auto now = load(file, prepared);
        QVERIFY(now->isWorthPreparing());
        QVERIFY(std::fabs(looked(*now)[0] - srgbToLinear(9 / 255.0f)) < 1e-6f);
        now->prepare(prepared);
        QCOMPARE(filesIn(path / "kept"), 1);
    }
    void whatIsDamagedCountsAsNothing() {
        const fs::path path = folder(), file = path / "m.png";
        writeMap(file, FileFormat::Png8);
        const PreparedMaps prepared(path / "kept");
        const auto first = load(file, prepared);
        const std::vector<float> right = looked(*first);
        first->prepare(prepared);
        const fs::path kept = fs::directory_iterator(path / "kept")->path();
        const auto whole = fs::file_size(kept);
        for (const std::uintmax_t size :
             {whole / 2, std::uintmax_t{5000}, std::uintmax_t{100}, std::uintmax_t{0}}) {
            fs::resize_file(kept, size);
            const auto again = load(file, prepared);
            QVERIFY(again->isWorthPreparing());
            again->prepare(prepared);
            QVERIFY(looked(*again) == right);
        }
        for (const std::size_t at : {std::size_t{0}, std::size_t{9}, std::size_t{44}, std::size_t{60}}) {
            load(file, prepared)->prepare(prepared);
            std::fstream out(kept, std::ios::in | std::ios::out | std::ios::binary);
            out.seekp(static_cast<std::streamoff>(at));
            out.write("\xFF\xFF\xFF", 3);
            out.close();
            QVERIFY(looked(*load(file, prepared)) == right);
        }
    }
    void theFolderMayGoOrBeClosed() {
        const fs::path path = folder(), file = path / "m.png";
        writeMap(file, FileFormat::Png8);
        const PreparedMaps prepared(path / "kept");
        load(file, prepared)->prepare(prepared);
        const auto mapped = load(file, prepared);
        const std::vector<float> right = looked(*mapped);
        fs::remove_all(path / "kept");
        QVERIFY(looked(*mapped) == right);  // what is mapped stays
        QVERIFY(load(file, prepared)->isWorthPreparing());
        std::ofstream(path / "kept") << "a file where the folder should be";
        load(file, prepared)->prepare(prepared);
        QVERIFY(load(file, PreparedMaps({}))->isWorthPreparing());
    }
    void itNeverGrowsBeyondItsLimit() {
        const fs::path path = folder();
        constexpr std::uint64_t kLimit = 13u << 20;  // room for three pictures of 4 MB
        const PreparedMaps prepared(path / "kept", kLimit);
        for (int i = 0; i < 6; ++i) {
            const fs::path file = path / ("m" + std::to_string(i) + ".png");
            writeMap(file, FileFormat::Png8);
            load(file, prepared)->prepare(prepared);
            QTest::qWait(12);  // the times tell which was used last
            if (i > 0)
                QVERIFY(!load(path / "m0.png", prepared)->isWorthPreparing());  // it is used all the time
        }
        std::uint64_t sum = 0;
        for (const auto& entry : fs::directory_iterator(path / "kept")) sum += entry.file_size();
        QVERIFY(sum <= kLimit && sum > kLimit / 2);
    }
    void aDamagedLevelIsReadFromTheSource() {
        // Anywhere in the file: in the finest level, in its middle, at the end where the coarsest levels are.
        for (const auto& [from, count] : {std::pair{0.2, 200}, {0.5, 1 << 20}, {1.0, 4096}}) {
            const fs::path path = folder(), file = path / "m.png", kept = path / "kept";
            writeMap(file, FileFormat::Png8);
            const std::vector<float> right = [&] {
                ImageStore store;
                store.prepareIn(kept, true);
                return looked(**store.get(file, encoding::kSrgb, m_colours));
            }();
            QCOMPARE(filesIn(kept), 1);
            const fs::path damaged = fs::directory_iterator(kept)->path();
            {
                const auto size = static_cast<double>(fs::file_size(damaged));
                std::fstream bytes(damaged, std::ios::in | std::ios::out | std::ios::binary);
                bytes.seekp(static_cast<std::streamoff>(std::min(from * size, size - count)));
                bytes << std::string(static_cast<std::size_t>(count), '\xA5');
            }
            ImageStore store;
            store.prepareIn(kept, false);
            const auto map = store.get(file, encoding::kSrgb, m_colours);
            QVERIFY(map.has_value());
            QVERIFY(looked(**map) == right);
            QCOMPARE(filesIn(kept), 0);  // nobody believes it again
        }
    }
    void whatIsShownAtOnceIsCheckedBehind() {
        const fs::path path = folder(), file = path / "m.png", kept = path / "kept";
        writeMap(file, FileFormat::Png8, 2600);
        {
            ImageStore store;
            store.prepareIn(kept, true);
            QVERIFY(store.get(file, encoding::kSrgb, m_colours));
        }
        const fs::path damaged = fs::directory_iterator(kept)->path();
        std::fstream(damaged, std::ios::in | std::ios::out | std::ios::binary).seekp(8192)
            << std::string(5000, '\x5A');
        ImageStore store;
        store.prepareIn(kept, true);
        std::atomic<int> told = 0;
        store.onArrival([&](ImageStore::Arrived arrived) { told += arrived.all == 0 ? 1 : 0; });
        QVERIFY(store.soFar(file, encoding::kSrgb, m_colours));
        QTRY_VERIFY(told > 0);
        QTRY_VERIFY(!fs::exists(damaged));
        store.onArrival({});
    }
    void anotherPictureWithTheSameTimeAndSizeIsSeen() {
        const fs::path path = folder(), file = path / "m.png";
        // Stored without compression, so that other pixels make no other size.
        const auto write = [&](int value) {
            PixelBuffer p = PixelBuffer::make(1024, 1024, 3, Depth::U8);
            std::fill(p.bytes.begin(), p.bytes.end(), static_cast<std::byte>(value));
            QVERIFY(writeImage(file, p, FileFormat::Png8, "", {Compression::None, 95}));
        };
        const PreparedMaps prepared(path / "kept");
        write(40);
        const auto time = fs::last_write_time(file);
        const auto size = fs::file_size(file);
        load(file, prepared)->prepare(prepared);
        write(200);
        fs::last_write_time(file, time);
        QCOMPARE(fs::file_size(file), size);
        QVERIFY(std::fabs(looked(*load(file, prepared))[0] - srgbToLinear(200 / 255.0f)) < 1e-6f);
    }
    void theStorePreparesBehindEverythingElse() {
        const fs::path path = folder(), file = path / "m.png";
        writeMap(file, FileFormat::Png8);
        writeMap(path / "small.png", FileFormat::Png8, 64);
        {
            ImageStore store;
            store.prepareIn(path / "kept", true);
            QVERIFY(store.get(file, encoding::kSrgb, m_colours));
            QVERIFY(store.get(path / "small.png", encoding::kSrgb, m_colours));
        }
        QCOMPARE(filesIn(path / "kept"), 1);  // the small one is not worth it
        ImageStore reader;
        reader.prepareIn(path / "kept", false);
        QVERIFY(!(*reader.get(file, encoding::kSrgb, m_colours))->isWorthPreparing());
        fs::remove_all(path / "kept");
        {
            ImageStore taker;
            taker.prepareIn(path / "kept", false);
            QVERIFY(taker.get(file, encoding::kSrgb, m_colours));
        }
        QCOMPARE(filesIn(path / "kept"), 0);
    }
};

QTEST_GUILESS_MAIN(PreparedMapsTest)
#include "prepared_maps_test.moc"
