// Lookups of many points at a time are those of one point after the other.
#include "core/image/map_lookup.h"

#include <sys/mman.h>
#include <unistd.h>

#include <QtTest>
#include <cmath>
#include <cstring>
#include <limits>
#include <random>

#include "core/image/pixel_kernels.h"

using namespace kettle;

class MapLookupTest final : public QObject {
    Q_OBJECT

    /// Levels of a picture that is no power of two wide or high, each with numbers of its own.
    struct Levels {
        std::vector<PixelBuffer> kept;
        std::vector<PixelView> views;
        Levels(int width, int height, int channels, Depth depth) {
            std::mt19937 random(7);
            for (;; width = std::max(1, width / 2), height = std::max(1, height / 2)) {
                PixelBuffer p = PixelBuffer::make(width, height, channels, depth);
                for (int y = 0; y < height; ++y)
                    for (int i = 0; i < width * channels; ++i) {
                        const auto number = static_cast<std::uint32_t>(random());
                        if (depth == Depth::U8) p.row<std::uint8_t>(y)[i] = number & 255u;
                        if (depth == Depth::U16) p.row<std::uint16_t>(y)[i] = number & 65535u;
                        if (depth == Depth::Float) p.row<float>(y)[i] = static_cast<float>(number) * 1e-9f;
                    }
                kept.push_back(std::move(p));
                if (width == 1 && height == 1) break;
            }
            for (const PixelBuffer& level : kept) views.emplace_back(level);
        }
        LookedUp picture(bool isSrgb, bool repeats) const {
            return {views.data(), static_cast<int>(views.size()), isSrgb, repeats};
        }
    };
    struct Places {
        std::vector<float> u, v, footprint;
        explicit Places(std::size_t count) {
            std::mt19937 random(3);
            std::uniform_real_distribution<float> place(-1.5f, 2.5f), level(-9, 1);
            for (std::size_t i = 0; i < count; ++i) {
                u.push_back(i % 11 == 0 ? 0 : place(random)), v.push_back(i % 13 == 0 ? 1 : place(random));
                // Of runs that look in one level, and of points that each look in another.
                footprint.push_back(i % 128 < 64 ? 0.02f : i % 7 == 0 ? 0 : std::exp2(level(random)));
            }
        }
        Lookups from(std::size_t begin, std::size_t count) const {
            return {u.data() + begin, v.data() + begin, footprint.data() + begin, count};
        }
    };
    using Planes = std::array<std::vector<float>, 4>;
    template <class Look>
    static Planes looked(Look look, const LookedUp& picture, const Places& places, unsigned mask,
                         std::size_t step) {
        Planes planes;
        const std::size_t count = places.u.size();
        for (auto& plane : planes) plane.assign(count, -7);
        for (std::size_t i = 0; i < count; i += step) {
            float* out[4];
            for (std::size_t c = 0; c < 4; ++c) out[c] = planes[c].data() + i;
            look(picture, places.from(i, std::min(step, count - i)), mask, out);
        }
        return planes;
    }

private Q_SLOTS:
    void pointsAreWhatEachIsAlone_data() {
        QTest::addColumn<int>("depth");
        QTest::addColumn<int>("channels");
        QTest::addColumn<bool>("isSrgb");
        QTest::addColumn<bool>("repeats");
        for (const Depth depth : {Depth::U8, Depth::U16, Depth::Float})
            for (const int channels : {1, 2, 3, 4})
                for (const bool isSrgb : {false, true})
                    for (const bool repeats : {false, true})
                        QTest::addRow("%s, %d channels%s%s", nameOf(depth), channels, isSrgb ? ", sRGB" : "",
                                      repeats ? ", repeats" : "")
                            << static_cast<int>(depth) << channels << (isSrgb && depth != Depth::Float)
                            << repeats;
    }
    void pointsAreWhatEachIsAlone() {
        QFETCH(int, depth);
        QFETCH(int, channels);
        QFETCH(bool, isSrgb);
        QFETCH(bool, repeats);
        const Levels levels(45, 22, channels, static_cast<Depth>(depth));
        const LookedUp picture = levels.picture(isSrgb, repeats);
        const Places places(1003);
        for (const unsigned mask : {15u, 7u, 4u, 8u}) {
            const Planes wanted = looked(lookUpOneByOne, picture, places, mask, 1003);
            const Planes got = looked(lookUp, picture, places, mask, 1003);
            const Planes inPieces = looked(lookUp, picture, places, mask, 37);
            for (std::size_t c = 0; c < 4; ++c)
                for (std::size_t i = 0; i < places.u.size(); ++i) {
                    QVERIFY2(std::fabs(got[c][i] - wanted[c][i]) <= 2e-5f * std::max(1.0f, wanted[c][i]),
                             qPrintable(QStringLiteral("component %1 of point %2: %3 and not %4")
                                            .arg(c)
                                            .arg(i)
                                            .arg(got[c][i])
                                            .arg(wanted[c][i])));
                    // The same bits, whatever stands beside it.
                    QVERIFY(std::memcmp(&got[c][i], &inPieces[c][i], sizeof(float)) == 0);
                    if ((mask & (1u << c)) == 0) QCOMPARE(got[c][i], -7.0f);
                }
        }
    }
    void atATexelsMiddleItIsTheTexel() {
        const Levels levels(64, 32, 3, Depth::U8);
        Places places(0);
        for (int y = 0; y < 32; ++y)
            for (int x = 0; x < 64; ++x) {
                places.u.push_back((static_cast<float>(x) + 0.5f) / 64);
                places.v.push_back(1 - (static_cast<float>(y) + 0.5f) / 32);
                places.footprint.push_back(1.0f / 64);
            }
        const Planes got = looked(lookUp, levels.picture(true, true), places, 7, 64 * 32);
        std::vector<float> row(64 * 3);
        for (int y = 0; y < 32; ++y) {
            float* const out[4]{row.data(), row.data() + 64, row.data() + 128, nullptr};
            decodeBytes(levels.views[0].row<std::uint8_t>(y), 64, 3, 7, out);
            for (std::size_t x = 0; x < 64; ++x)
                for (std::size_t c = 0; c < 3; ++c)
                    QCOMPARE(got[c][static_cast<std::size_t>(y) * 64 + x], row[c * 64 + x]);
        }
    }
    void whatIsAlikeEverywhereStaysAsItIs() {
        Levels levels(40, 40, 3, Depth::U16);
        for (PixelBuffer& level : levels.kept)
            for (int y = 0; y < level.height; ++y)
                std::fill_n(level.row<std::uint16_t>(y), level.width * 3, 65535);
        const Planes got = looked(lookUp, levels.picture(true, true), Places(500), 7, 500);
        for (std::size_t c = 0; c < 3; ++c)
            for (const float x : got[c]) QVERIFY(std::fabs(x - 1.0f) <= 1.2e-7f);
    }
    /// Levels of large maps are pages of files: those that no point looks at must not be fetched. Here they
    /// cannot be read at all.
    void aLevelThatNobodyLooksAtIsNotTouched() {
        constexpr int kSide = 128;
        const std::size_t page = static_cast<std::size_t>(::sysconf(_SC_PAGESIZE)), size = 16 * page;
        QVERIFY(size >= std::size_t{kSide} * kSide * 4);
        void* const memory = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        QVERIFY(memory != MAP_FAILED);
        Levels levels(kSide, kSide, 3, Depth::U8);
        levels.views[0].data = static_cast<const std::byte*>(memory);
        Places coarse(0), mixed(0);
        for (int i = 0; i < 37; ++i) {
            coarse.u.push_back(static_cast<float>(i) / 37), coarse.v.push_back(0.3f);
            coarse.footprint.push_back(4.0f / kSide);
            // Every other point looks at the finest level, at its first rows.
            mixed.u.push_back(coarse.u.back()), mixed.v.push_back(i % 2 == 0 ? 0.995f : 0.3f);
            mixed.footprint.push_back(i % 2 == 0 ? 0 : 4.0f / kSide);
        }
        const LookedUp picture = levels.picture(true, false);
        const Planes wanted = looked(lookUpOneByOne, picture, coarse, 7, 37),
                     wantedMixed = looked(lookUpOneByOne, picture, mixed, 7, 37);
        QCOMPARE(::mprotect(memory, size, PROT_NONE), 0);
        const Planes got = looked(lookUp, picture, coarse, 7, 37);
        QCOMPARE(::mprotect(memory, page, PROT_READ), 0);
        const Planes gotMixed = looked(lookUp, picture, mixed, 7, 37);
        ::munmap(memory, size);
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < 37; ++i) {
                QVERIFY(std::fabs(got[c][i] - wanted[c][i]) <= 2e-5f);
                QVERIFY(std::fabs(gotMixed[c][i] - wantedMixed[c][i]) <= 2e-5f);
            }
    }
    void whatIsNoPlaceIsStillInside() {
        const Levels levels(33, 9, 4, Depth::U8);
        Places places(0);
        const float odd[] = {std::numeric_limits<float>::quiet_NaN(),
                             std::numeric_limits<float>::infinity(),
                             -std::numeric_limits<float>::infinity(),
                             1e30f,
                             -1e30f,
                             3e9f};
        for (const float u : odd)
            for (const float v : odd) {
                places.u.push_back(u), places.v.push_back(v);
                places.footprint.push_back(odd[places.u.size() % 6]);
            }
        for (const bool repeats : {true, false})
            static_cast<void>(looked(lookUp, levels.picture(true, repeats), places, 15, 36));
    }
};

QTEST_APPLESS_MAIN(MapLookupTest)
#include "map_lookup_test.moc"
