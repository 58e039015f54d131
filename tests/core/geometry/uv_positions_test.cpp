// From the picture to the surface and its texture coordinates, and all the way back.
#include "core/geometry/uv_positions.h"

#include <QtTest>

#include "core/scene/scene_store.h"
#include "core/scene/view_points.h"

using namespace kettle;

class UvPositionsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aPixelIsFoundAgainByItsTextureCoordinates() {
        SceneStore scenes(std::filesystem::path(KETTLE_DATA_DIR) / "models");
        const auto scene = *scenes.load("kettle", "auto");
        const UvPositions positions(scene);
        Camera camera;
        camera.frame(scene->mesh(), 1.5f);
        int seen = 0, same = 0;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 60; ++x) {
                const float px = (static_cast<float>(x) + 0.5f) / 60,
                            py = (static_cast<float>(y) + 0.5f) / 40;
                const SurfacePoint at = surfaceAt(*scene, camera, 1.5f, px, py);
                if (!at.found) continue;
                ++seen;
                const auto back = pictureOf(camera, 1.5f, at.position);
                QVERIFY(back.has_value());
                QVERIFY(std::fabs(back->x - px) < 1e-4f && std::fabs(back->y - py) < 1e-4f);
                const auto position = positions.at(at.u, at.v);
                same += position && length(*position - at.position) < 0.02f;
            }
        QVERIFY(seen > 500);
        // At seams another part of the same coordinates may be meant.
        QVERIFY2(same > seen * 0.97, qPrintable(QStringLiteral("%1 of %2").arg(same).arg(seen)));
        QVERIFY(!positions.at(7.5f, 3.5f));
    }

    void whatIsBehindTheCameraHasNoPlace() {
        Camera camera;
        QVERIFY(pictureOf(camera, 1, camera.target).has_value());
        QVERIFY(!pictureOf(camera, 1, camera.position() + (camera.position() - camera.target)));
    }
};

QTEST_GUILESS_MAIN(UvPositionsTest)
#include "uv_positions_test.moc"
