// What arrives at points is shared with their neighbours on the same surface, and with no others.
#include "core/scene/shadow_smoothing.h"

#include <QtTest>
#include <cmath>

#include "core/scene/shadow_rays.h"

using namespace kettle;

class ShadowSmoothingTest final : public QObject {
    Q_OBJECT

    /// A wall of points in a picture of 40 pixels' width: what arrives is 1 in one phase of sixteen.
    struct Wall {
        PixelBox box{4, 8, 32, 20, 40};
        std::vector<Surfel> surfels;
        std::vector<float> distances;
        Wall() {
            for (int y = 0; y < box.height; ++y)
                for (int x = 0; x < box.width; ++x) {
                    Surfel& s = surfels.emplace_back();
                    s.pixel = static_cast<std::uint32_t>((y + box.top) * box.pictureWidth + x + box.left);
                    s.normal = {0, 0, 1};
                    s.part = 0;
                    s.layer = 0;
                    const bool isLit = phaseOf(x + box.left, y + box.top) == 5;
                    s.keyLight = s.openness = isLit ? 1.0f : 0.0f;
                    distances.push_back(10);
                }
        }
        Surfel& at(int x, int y) { return surfels[static_cast<std::size_t>(y * box.width + x)]; }
        void smooth(bool keyHasSize = true) { smoothShadows(surfels, distances, box, 0.1f, keyHasSize); }
    };

private Q_SLOTS:
    void onOneSurfaceAllAreAlike() {
        Wall wall;
        wall.smooth();
        for (const Surfel& s : wall.surfels) {
            QCOMPARE(s.openness, 1.0f / 16);
            QCOMPARE(s.keyLight, 1.0f / 16);
        }
    }
    void aKeyLightWithoutASizeStaysSharp() {
        Wall wall;
        wall.smooth(false);
        for (const Surfel& s : wall.surfels) {
            QCOMPARE(s.openness, 1.0f / 16);
            QVERIFY(s.keyLight == 0.0f || s.keyLight == 1.0f);
        }
    }
    void edgesStaySharp_data() {
        QTest::addColumn<int>("what");
        QTest::newRow("another part") << 0;
        QTest::newRow("another way") << 1;
        QTest::newRow("another distance") << 2;
    }
    void edgesStaySharp() {
        QFETCH(int, what);
        Wall wall;
        // The right half is in full light, and is another surface.
        for (int y = 0; y < wall.box.height; ++y)
            for (int x = 0; x < wall.box.width; ++x) {
                Surfel& s = wall.at(x, y);
                s.openness = s.keyLight = x < 16 ? 0.0f : 1.0f;
                if (x < 16) continue;
                if (what == 0) s.part = 1;
                if (what == 1) s.normal = {1, 0, 0};
                if (what == 2) wall.distances[static_cast<std::size_t>(y * wall.box.width + x)] = 10.2f;
            }
        wall.smooth();
        for (int y = 0; y < wall.box.height; ++y)
            for (int x = 0; x < wall.box.width; ++x) QCOMPARE(wall.at(x, y).openness, x < 16 ? 0.0f : 1.0f);
    }
    void whatIsSeenThroughIsItsOwnLayer() {
        Wall front, wall;
        for (std::size_t i = 0; i < front.surfels.size(); ++i) {
            Surfel behind = front.surfels[i];
            behind.layer = 1;
            behind.openness = behind.keyLight = 1;
            front.surfels[i].openness = front.surfels[i].keyLight = 0;
            wall.surfels[i] = front.surfels[i];
            wall.surfels.push_back(behind);
            wall.distances.push_back(10);
        }
        wall.smooth();
        for (const Surfel& s : wall.surfels) QCOMPARE(s.openness, s.layer == 0 ? 0.0f : 1.0f);
    }
};

QTEST_APPLESS_MAIN(ShadowSmoothingTest)
#include "shadow_smoothing_test.moc"
