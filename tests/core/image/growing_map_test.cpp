// Maps in tiles that are looked at while they are read: what there is, what stands in, the end.
#include "core/image/growing_map.h"

#include <QTemporaryDir>
#include <QtTest>
#include <atomic>
#include <cmath>
#include <fstream>

#include "core/colour/encoding.h"
#include "core/engine/compile.h"
#include "core/engine/resources.h"
#include "core/image/image_store.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

namespace {

/// Red in the middle of a tile.
float redIn(const MapImage& map, int tile) {
    const float u = static_cast<float>((tile - 1001) % 10) + 0.5f, v = 0.5f, footprint = 0;
    float red = -1;
    float* out[4] = {&red, nullptr, nullptr, nullptr};
    map.sample({&u, &v, &footprint, 1}, 1, out);
    return red;
}

}  // namespace

class GrowingMapTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    ColourManagement m_colours = ColourManagement::shipped();
    int m_count = 0;

    fs::path folder() {
        const fs::path path = fs::path(m_folder.path().toStdString()) / std::to_string(m_count++);
        fs::create_directories(path);
        return path;
    }
    /// Tile 1001 + i is plain: 40 + 10 i of 255. Returns their pattern.
    fs::path tiles(const fs::path& in, int count, int side) {
        for (int i = 0; i < count; ++i)
            if (!writePicture(in / ("deck." + std::to_string(1001 + i) + ".png"), side, side, 3,
                              [i](int, int, int) { return (40 + 10 * i) % 256; }))
                return {};
        return in / "deck.<UDIM>.png";
    }
    static float valueOf(int i) { return static_cast<float>(40 + 10 * i) / 255; }

private Q_SLOTS:
    void whatIsStillToComeLooksLikeTheFirst() {
        const fs::path pattern = tiles(folder(), 4, 16);
        GrowingMap map(pattern, encoding::kRaw, m_colours, nullptr, false);
        QCOMPARE(map.all(), 4u);
        QVERIFY(map.soFar() == nullptr && map.done() == 0);
        QVERIFY(!map.whole());
        map.readMore(1, {});
        const auto first = map.soFar();
        QCOMPARE(first->tiles(), (std::vector<int>{1001, 1002, 1003, 1004}));
        for (const int tile : {1001, 1002, 1004})
            QVERIFY(std::fabs(redIn(*first, tile) - valueOf(0)) < 1e-6f);
        QVERIFY(map.soFar() == first);  // nothing has come
        map.readMore(2, {});
        QTRY_VERIFY(map.soFar() != first);  // a while later, what has come is in it
        const auto second = map.soFar();
        QVERIFY(std::fabs(redIn(*second, 1002) - valueOf(1)) < 1e-6f);
        QVERIFY(std::fabs(redIn(*second, 1004) - valueOf(0)) < 1e-6f);
        QVERIFY(std::fabs(redIn(*first, 1002) - valueOf(0)) < 1e-6f);  // what was given stays as it was
        QVERIFY(first->id() != second->id() && !map.isEnded());
        map.readMore(9, {});
        QVERIFY(map.isEnded());
        const auto whole = map.whole();
        QVERIFY(whole);
        for (int i = 0; i < 4; ++i) QVERIFY(std::fabs(redIn(**whole, 1001 + i) - valueOf(i)) < 1e-6f);
    }
    void aStandInIsTheMean() {
        const fs::path path = folder();
        QVERIFY(
            writePicture(path / "deck.1001.png", 2, 2, 1, [](int x, int, int) { return x == 0 ? 0 : 200; }));
        QVERIFY(writePicture(path / "deck.1002.png", 2, 2, 1, [](int, int, int) { return 7; }));
        GrowingMap map(path / "deck.<UDIM>.png", encoding::kRaw, m_colours, nullptr, false);
        map.readMore(1, {});
        QVERIFY(std::fabs(redIn(*map.soFar(), 1002) - 100.0f / 255) < 1e-6f);
    }
    void aTileThatCannotBeReadIsNamedInTheEnd() {
        const fs::path pattern = tiles(folder(), 3, 16);
        std::ofstream(tileFile(pattern, 1002)) << "no picture";
        GrowingMap map(pattern, encoding::kRaw, m_colours, nullptr, false);
        map.readMore(3, {});
        QVERIFY(map.isEnded() && !map.whole());
        QVERIFY(map.whole().error().sentence.find("deck.1002.png") != std::string::npos);
        QVERIFY(std::fabs(redIn(*map.soFar(), 1003) - valueOf(2)) < 1e-6f);  // the others show meanwhile
    }
    void stoppingLeavesNothingHalf() {
        const fs::path pattern = tiles(folder(), 3, 16);
        GrowingMap map(pattern, encoding::kRaw, m_colours, nullptr, false);
        CancelToken cancel;
        cancel.cancel();
        map.readMore(3, cancel);
        QVERIFY(map.soFar() == nullptr && map.whole().error().kind == ErrorKind::Cancelled);
    }
    void aLargeSetLiesOnDiskAndInNoMemory() {
        const fs::path path = folder(), pattern = tiles(path, 3, 1024);
        const auto prepared = std::make_shared<const PreparedMaps>(path / "kept");
        for (const bool isLarge : {false, true}) {
            GrowingMap map(pattern, encoding::kSrgb, m_colours, prepared, true, isLarge ? 5e6 : 5e7);
            map.readMore(9, {});
            const auto whole = map.whole();
            QVERIFY(whole);
            QCOMPARE((*whole)->byteSize() > 0, !isLarge);
            QCOMPARE(fs::exists(path / "kept"), isLarge);
            for (int i = 0; i < 3; ++i)
                QVERIFY(std::fabs(redIn(**whole, 1001 + i) - srgbToLinear(valueOf(i))) < 1e-6f);
            (*whole)->rest();
            QVERIFY(std::fabs(redIn(**whole, 1003) - srgbToLinear(valueOf(2))) < 1e-6f);
        }
        // The next time all of it is there before anything is read.
        GrowingMap again(pattern, encoding::kSrgb, m_colours, prepared, true);
        again.findPrepared();
        QVERIFY(again.isEnded() && again.whole());
    }
    void theStoreReadsOnBehindWhoAsks() {
        const fs::path pattern = tiles(folder(), 12, 512);
        ImageStore store;
        std::atomic<int> told = 0;
        std::atomic<bool> isEnd = false;
        store.onArrival([&](ImageStore::Arrived arrived) {
            ++told;
            if (arrived.all == 0) isEnd = true;
        });
        const auto first = store.soFar(pattern, encoding::kRaw, m_colours);
        QVERIFY(first);
        QVERIFY(std::fabs(redIn(**first, 1001) - valueOf(0)) < 1e-6f);
        // Who needs all of it waits for the same reading.
        const auto whole = store.get(pattern, encoding::kRaw, m_colours);
        QVERIFY(whole);
        for (int i = 0; i < 10; ++i) QVERIFY(std::fabs(redIn(**whole, 1001 + i) - valueOf(i)) < 1e-6f);
        QTRY_VERIFY(isEnd);
        QVERIFY(told >= 1);
        QVERIFY(*store.soFar(pattern, encoding::kRaw, m_colours) == *whole);
        QVERIFY(store.bytesInUse() > 12u * 512 * 512 * 3);
        store.onArrival({});
    }
    void largeMapsComeOneAfterTheOther() {
        const fs::path path = folder();
        // The smallest side that counts as large, and one that does not. Eleven take longer than one.
        QVERIFY(writePicture(path / "base.png", 2500, 2500, 1, [](int, int, int) { return 60; }));
        QVERIFY(writePicture(path / "small.png", 2400, 2400, 1, [](int, int, int) { return 30; }));
        QVERIFY(writePicture(path / "0.png", 2500, 2500, 1, [](int x, int y, int) { return (x * y) % 251; }));
        TextureSet set{"deck",
                       "Deck",
                       "",
                       {{"base-colour", "base.png", "raw", {}}, {"roughness", "small.png", "raw", {}}},
                       {}};
        Program program;
        for (int i = 0; i < 11; ++i) {
            const std::string file = std::to_string(i) + ".png";
            if (i > 0) fs::create_hard_link(path / "0.png", path / file);
            set.maps.push_back({"mask-" + file, file, "raw", {}});
            program.sources.push_back({MapSource{"deck", "mask-" + file}});
        }
        for (const char* role : {"base-colour", "roughness"})
            program.sources.push_back({MapSource{"deck", role}});
        Project project;
        project.sets.emplace_back(set);
        const auto store = std::make_shared<ImageStore>();
        std::atomic<int> begun = 0, ended = 0;
        store->onArrival([&](ImageStore::Arrived arrived) { ++(arrived.all == 0 ? ended : begun); });
        const Resources resources(path, store, m_colours);
        const auto first = resources.hurried().resolve(project, program);
        // The base colour is waited for and the small map is there; others are holes with no word of it.
        QVERIFY(first.maps[11] != nullptr && first.maps[12] != nullptr);
        QVERIFY(std::count(first.maps.begin(), first.maps.end(), nullptr) > 0);
        QVERIFY(first.problems.empty() && begun >= 1);
        QTRY_COMPARE_WITH_TIMEOUT(int(ended), 1, 30000);
        const auto all = resources.hurried().resolve(project, program);
        for (int i = 0; i < 11; ++i) {
            QVERIFY(all.maps[i] != nullptr);
            QCOMPARE(int(all.maps[i]->pixels().row<std::uint8_t>(5)[3]), 15);
        }
        QVERIFY(all.maps[11] == first.maps[11] && all.maps[12] == first.maps[12] && ended == 1);
        store->onArrival({});
    }
    void whoNeedsAllOfThemWaits() {
        const fs::path path = folder();
        QVERIFY(writePicture(path / "height.png", 2500, 2500, 1, [](int, int, int) { return 90; }));
        ImageStore store;
        const auto none = store.soFar(path / "height.png", encoding::kRaw, m_colours, false);
        QVERIFY(none && *none == nullptr);
        const auto whole = store.get(path / "height.png", encoding::kRaw, m_colours);
        QVERIFY(whole && std::fabs(redIn(**whole, 1001) - 90.0f / 255) < 1e-6f);
        QVERIFY(*store.soFar(path / "height.png", encoding::kRaw, m_colours, false) == *whole);
        // One that waits for what another is reading.
        QVERIFY(writePicture(path / "next.png", 2500, 2500, 1, [](int, int, int) { return 7; }));
        QVERIFY(*store.soFar(path / "next.png", encoding::kRaw, m_colours, false) == nullptr);
        const auto next = store.soFar(path / "next.png", encoding::kRaw, m_colours);
        QVERIFY(next && std::fabs(redIn(**next, 1001) - 7.0f / 255) < 1e-6f);
    }
    void aLargeMapThatIsBrokenIsNamed() {
        const fs::path path = folder();
        QVERIFY(writePicture(path / "height.png", 2500, 2500, 1,
                             [](int x, int y, int) { return (x * y) % 251; }));
        fs::resize_file(path / "height.png", fs::file_size(path / "height.png") / 2);
        ImageStore store;
        std::atomic<bool> isEnd = false;
        store.onArrival([&](ImageStore::Arrived arrived) { isEnd = isEnd || arrived.all == 0; });
        const auto none = store.soFar(path / "height.png", encoding::kRaw, m_colours, false);
        QVERIFY(none && *none == nullptr);
        QTRY_VERIFY(isEnd);
        const auto failed = store.soFar(path / "height.png", encoding::kRaw, m_colours, false);
        QVERIFY(!failed && failed.error().sentence.find("height.png") != std::string::npos);
        store.onArrival({});
    }
    void aChangedTileBeginsAnew() {
        const fs::path path = folder(), pattern = tiles(path, 3, 256);
        ImageStore store;
        QVERIFY(store.soFar(pattern, encoding::kRaw, m_colours));
        QVERIFY(writePicture(path / "deck.1003.png", 64, 64, 3, [](int, int, int) { return 250; }));
        const auto whole = store.get(pattern, encoding::kRaw, m_colours);
        QVERIFY(whole && std::fabs(redIn(**whole, 1003) - 250.0f / 255) < 1e-6f);
    }
    void aStoreThatEndsReadsNoFurther() {
        const fs::path pattern = tiles(folder(), 30, 512);
        for (int round = 0; round < 3; ++round) {
            ImageStore store;
            QVERIFY(store.soFar(pattern, encoding::kRaw, m_colours));
        }
    }
    void brokenTilesFailForWhoeverAsks() {
        const fs::path path = folder(), pattern = tiles(path, 2, 64);
        for (const char* name : {"deck.1001.png", "deck.1002.png"}) std::ofstream(path / name) << "broken";
        ImageStore store;
        const auto none = store.soFar(pattern, encoding::kRaw, m_colours);
        QVERIFY(!none && none.error().sentence.find("deck.1001.png") != std::string::npos);
        QVERIFY(!store.get(pattern, encoding::kRaw, m_colours));
    }
};

QTEST_GUILESS_MAIN(GrowingMapTest)
#include "growing_map_test.moc"
