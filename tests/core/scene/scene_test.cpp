// Meshes, rays, the camera and the visible points.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>
#include <set>

#include "core/scene/view_points.h"

using namespace kettle;

namespace {

/// A square of 2 cm in the plane z = 0, facing +z, with u and v from 0 to 1.
std::shared_ptr<const Mesh> square() {
    auto mesh = std::make_shared<Mesh>();
    mesh->positions = {{-1, -1, 0}, {1, -1, 0}, {1, 1, 0}, {-1, 1, 0}};
    mesh->normals.assign(4, {0, 0, 1});
    mesh->uvs = {{0, 0}, {1, 0}, {1, 1}, {0, 1}};
    mesh->tangents.assign(4, {});
    mesh->indices = {0, 1, 2, 0, 2, 3};
    mesh->trianglePart = {0, 0};
    mesh->parts = {"square"};
    return mesh;
}

Camera frontCamera() {
    Camera c;
    c.turn = c.tilt = 0;
    c.distance = 10;
    c.fieldOfView = 30;
    return c;
}

}  // namespace

class SceneTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void copiesOfAFileAreObjectsOfTheirOwn() {
        // One mesh, four nodes: two of one name, one without any.
        QTemporaryDir folder;
        std::string json =
            "{'asset':{'version':'2.0'},'scene':0,'scenes':[{'nodes':[0,1,2,3]}],"
            "'nodes':[{'name':'cup','mesh':0},{'name':'cup','mesh':0,'translation':[1,0,0]},"
            "{'mesh':0,'translation':[2,0,0]},{'name':'jug','mesh':0,'translation':[3,0,0]}],"
            "'meshes':[{'primitives':[{'attributes':{'POSITION':0}}]}],"
            "'accessors':[{'bufferView':0,'componentType':5126,'count':3,'type':'VEC3','min':[0,0,0],"
            "'max':[1,1,0]}],'bufferViews':[{'buffer':0,'byteLength':36}],"
            "'buffers':[{'byteLength':36,'uri':'data:application/octet-stream;base64,"
            "AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA'}]}";
        std::replace(json.begin(), json.end(), '\'', '"');
        const std::string file = folder.filePath(QStringLiteral("cups.gltf")).toStdString();
        std::ofstream(file) << json;
        const auto mesh = loadMesh(file);
        QVERIFY2(mesh, mesh ? "" : mesh.error().sentence.c_str());
        QCOMPARE(mesh->triangleCount(), std::size_t{4});
        QCOMPARE(mesh->partObjects.size(), std::size_t{4});
        const std::set<std::string> names(mesh->partObjects.begin(), mesh->partObjects.end());
        QCOMPARE(names.size(), std::size_t{4});
        QVERIFY(names.contains("cup") && names.contains("cup 2") && names.contains("jug"));
        for (const std::string& name : names) QVERIFY(!name.empty());
    }

    void everyDemoModelIsSound_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("parts");
        QTest::newRow("kettle") << QStringLiteral("kettle") << 5;
        QTest::newRow("tile panel") << QStringLiteral("tile-panel") << 3;
        QTest::newRow("cups") << QStringLiteral("cups") << 5;
        QTest::newRow("cloth") << QStringLiteral("cloth") << 1;
        QTest::newRow("hull") << QStringLiteral("hull") << 1;
    }
    void everyDemoModelIsSound() {
        QFETCH(QString, name);
        QFETCH(int, parts);
        const auto mesh =
            loadMesh(std::filesystem::path(KETTLE_DATA_DIR) / "models" / (name.toStdString() + ".obj"));
        QVERIFY(mesh.has_value());
        QVERIFY(mesh->triangleCount() > 100);
        const std::set<std::string> names(mesh->parts.begin(), mesh->parts.end());
        QCOMPARE(static_cast<int>(names.size()), parts);
        for (std::size_t i = 0; i < mesh->positions.size(); ++i) {
            QVERIFY(std::fabs(length(mesh->normals[i]) - 1) < 1e-3f);
            QVERIFY(std::isfinite(mesh->positions[i].x + mesh->positions[i].y + mesh->positions[i].z));
            QVERIFY(mesh->uvs[i].x >= -1e-4f && mesh->uvs[i].y >= -1e-4f && mesh->uvs[i].y <= 2.0001f);
        }
    }
    void theKettleHasItsSizeAndItsParts() {
        const auto mesh = loadMesh(std::filesystem::path(KETTLE_DATA_DIR) / "models/kettle.obj");
        Vec3 low, high;
        mesh->bounds(low, high);
        QVERIFY(high.y - low.y > 20 && high.y - low.y < 32);  // centimetres
        const std::set<std::string> names(mesh->parts.begin(), mesh->parts.end());
        for (const char* part : {"body", "lid", "knob", "spout", "handle"})
            QVERIFY2(names.contains(part), part);
    }
    void theKettlesFacesLookOutward() {
        const auto mesh = std::make_shared<const Mesh>(
            *loadMesh(std::filesystem::path(KETTLE_DATA_DIR) / "models/kettle.obj"));
        std::size_t agree = 0;
        for (std::size_t t = 0; t < mesh->triangleCount(); ++t) {
            const std::uint32_t* i = &mesh->indices[3 * t];
            const Vec3 face = cross(mesh->positions[i[1]] - mesh->positions[i[0]],
                                    mesh->positions[i[2]] - mesh->positions[i[0]]);
            if (dot(face, mesh->normals[i[0]] + mesh->normals[i[1]] + mesh->normals[i[2]]) >= 0) ++agree;
        }
        QVERIFY(static_cast<double>(agree) > 0.98 * static_cast<double>(mesh->triangleCount()));
    }
    void badModelsAreSentences() {
        QTemporaryDir folder;
        const std::filesystem::path path = folder.path().toStdString();
        QCOMPARE(loadMesh(path / "none.obj").error().kind, ErrorKind::Missing);
        std::ofstream(path / "words.obj") << "these are only words\n";
        QVERIFY(!loadMesh(path / "words.obj"));
        std::ofstream(path / "bare.obj") << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
        // Without texture coordinates a model still has its shape; which part lacks them is known.
        const auto bare = loadMesh(path / "bare.obj");
        QVERIFY(bare.has_value());
        QCOMPARE(bare->partHasUv, std::vector<std::uint8_t>{0});
        QVERIFY(bare->uvs[0].x == 0 && bare->uvs[0].y == 0);
        QVERIFY(std::fabs(dot(bare->tangents[0].direction, bare->normals[0])) < 1e-6f);
    }
    /// A scene that was moved answers as one that was made of the moved mesh.
    void aMovedSceneAnswersAsANewOne() {
        const Mesh still = *loadMesh(std::filesystem::path(KETTLE_DATA_DIR) / "models/kettle.obj");
        RayScene moving(std::make_shared<const Mesh>(still), RayScene::Use::Moving);
        std::size_t found = 0, elsewhere = 0;
        for (const float by : {0.6f, -0.3f, 1.5f}) {
            Mesh moved = still;
            for (std::size_t i = 0; i < moved.positions.size(); ++i)
                moved.positions[i] += moved.normals[i] * (by * std::sin(moved.positions[i].y));
            const auto mesh = std::make_shared<const Mesh>(std::move(moved));
            const RayScene fresh(mesh);
            moving.move(mesh);
            for (int i = 0; i < 4000; ++i) {
                const float x = static_cast<float>(i % 80 - 40) * 0.45f + 0.013f,
                            y = static_cast<float>(i / 80) * 0.6f + 0.017f;
                const Hit a = fresh.cast({x, y, 60}, {0, 0, -1}, 0),
                          b = moving.cast({x, y, 60}, {0, 0, -1}, 0);
                QCOMPARE(b.found, a.found);
                if (!a.found) continue;
                ++found;
                QVERIFY(std::fabs(a.distance - b.distance) < 1e-3f);
                elsewhere += a.triangle != b.triangle ? 1 : 0;  // on the edge of two
            }
        }
        QVERIFY(found > 2000 && elsewhere * 200 < found);
    }
    void raysHitWhereGeometrySays() {
        const RayScene scene(square());
        const Hit hit = scene.cast({0.5f, -0.25f, 4}, {0, 0, -1}, 0);
        QVERIFY(hit.found);
        QVERIFY(std::fabs(hit.distance - 4) < 1e-5f);
        QVERIFY(!scene.cast({3, 0, 4}, {0, 0, -1}, 0).found);
        QVERIFY(scene.isBlocked({0, 0, 1}, {0, 0, -1}, 0, 2));
        QVERIFY(!scene.isBlocked({0, 0, 1}, {0, 0, -1}, 0, 0.5f));
        QVERIFY(!scene.isBlocked({0, 0, 1}, {0, 0, 1}, 0, 100));
    }
    void thePictureOfASquareIsASquare() {
        const RayScene scene(square());
        const ViewPoints view = castView(scene, frontCamera(), 100, 100, {});
        // Seen from 10 cm through 30 degrees the square covers 1 / (10 tan 15°) of the picture's half height.
        const double side = 100 / (10 * std::tan(15 * 3.14159265 / 180));
        QVERIFY(std::fabs(static_cast<double>(view.points.size()) - side * side) < 4 * side);
        QCOMPARE(view.points.size(), view.surfels.size());
        for (std::size_t i = 0; i < view.points.size(); ++i) {
            const double x = view.surfels[i].pixel % 100 + 0.5,
                         y = static_cast<double>(view.surfels[i].pixel / 100) + 0.5;
            QVERIFY(std::fabs(static_cast<double>(view.points.u[i]) - (0.5 + (x - 50) / side)) < 0.01);
            QVERIFY(std::fabs(static_cast<double>(view.points.v[i]) - (0.5 - (y - 50) / side)) < 0.01);
            QVERIFY(std::fabs(static_cast<double>(view.points.footprint[i]) * side - 1) < 0.1);
            QVERIFY(std::fabs(view.surfels[i].normal.z - 1) < 1e-5f);
            QCOMPARE(view.surfels[i].openness, 1.0f);  // nothing stands in front of a square
        }
        std::set<std::uint32_t> pixels;
        for (const Surfel& s : view.surfels) QVERIFY(pixels.insert(s.pixel).second);
    }
    void framingShowsAllOfTheModel() {
        const auto mesh = std::make_shared<const Mesh>(
            *loadMesh(std::filesystem::path(KETTLE_DATA_DIR) / "models/kettle.obj"));
        const RayScene scene(mesh);
        for (const float aspect : {0.5f, 1.0f, 2.5f}) {
            Camera c;
            c.frame(*mesh, aspect);
            const int height = 80, width = static_cast<int>(80 * aspect);
            const ViewPoints view = castView(scene, c, width, height, {});
            QVERIFY(view.points.size() > static_cast<std::size_t>(width * height / 20));
            for (const Surfel& s : view.surfels) {
                const int x = static_cast<int>(s.pixel) % width, y = static_cast<int>(s.pixel) / width;
                QVERIFY(x > 0 && y > 0 && x < width - 1 && y < height - 1);
            }
        }
    }
    void theProbeMeetsTheSamePlace() {
        const RayScene scene(square());
        const SurfacePoint p = surfaceAt(scene, frontCamera(), 1, 0.5f, 0.5f);
        QVERIFY(p.found);
        QVERIFY(std::fabs(p.u - 0.5f) < 1e-4f && std::fabs(p.v - 0.5f) < 1e-4f);
        QVERIFY(!surfaceAt(scene, frontCamera(), 1, 0.01f, 0.01f).found);
    }
    void aCancelledViewStops() {
        const RayScene scene(square());
        CancelToken cancel;
        cancel.cancel();
        QCOMPARE(castView(scene, frontCamera(), 200, 200, {}, cancel).points.size(), std::size_t{0});
    }
};

QTEST_APPLESS_MAIN(SceneTest)
#include "scene_test.moc"
