// Model files that would take all memory or wait for ever are refused with a sentence before the mesh library
// sees them.
#include <sys/stat.h>

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/scene/mesh.h"
#include "core/scene/scene_store.h"

using namespace kettle;
namespace fs = std::filesystem;

class ModelFilesTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    fs::path at(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }
    std::string sentenceOf(const char* name, const std::string& bytes) {
        std::ofstream(at(name), std::ios::binary) << bytes;
        const auto mesh = loadMesh(at(name), std::chrono::seconds(20));
        return mesh ? std::string() : mesh.error().sentence;
    }
    static std::string word(std::uint32_t n) { return {reinterpret_cast<const char*>(&n), sizeof n}; }
    static std::string triangle(const std::string& far) {
        return "v 0 0 0\nv 1 0 0\nv 0 " + far + " 0\nvt 0 0\nvt 1 0\nvt 0 1\nf 1/1 2/2 3/3\n";
    }

private Q_SLOTS:
    void cornersBeyondReachAreRefused() {
        for (const char* far : {"1e18", "1e30", "inf", "nan"}) {
            const std::string said = sentenceOf("far.obj", triangle(far));
            QVERIFY2(said.find("more than 10,000 km") != std::string::npos ||
                         said.find("no triangles") != std::string::npos ||
                         said.find("Cannot read the model") != std::string::npos,
                     said.c_str());
        }
        QVERIFY(sentenceOf("far.obj", triangle("1e18")).find("more than 10,000 km") != std::string::npos);
        QCOMPARE(sentenceOf("near.obj", triangle("900")), std::string());
    }
    void aMatrixThatThrowsCornersAwayIsRefused() {
        const std::string said = sentenceOf("matrix.gltf", R"({"asset": {"version": "2.0"}, "scene": 0,
            "scenes": [{"nodes": [0]}], "nodes": [{"mesh": 0, "scale": [1e38, 1e38, 1e38]}],
            "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
            "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3",
                           "min": [0, 0, 0], "max": [1, 1, 0]}],
            "bufferViews": [{"buffer": 0, "byteLength": 36}],
            "buffers": [{"byteLength": 36,
                "uri": "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]})");
        QVERIFY2(said.find("more than 10,000 km") != std::string::npos, said.c_str());
    }
    void aNodeWithTwoParentsIsRefused() {
        std::string nodes;
        for (int i = 0; i < 24; ++i)
            nodes += "{\"children\": [" + std::to_string(i + 1) + ", " + std::to_string(i + 1) + "]}, ";
        const std::string said = sentenceOf("doubled.gltf",
                                            "{\"asset\": {\"version\": \"2.0\"}, \"scene\": 0, \"scenes\": "
                                            "[{\"nodes\": [0]}], \"nodes\": [" +
                                                nodes + "{}]}");
        QVERIFY2(said.find("has two parents") != std::string::npos, said.c_str());
    }
    void aHeaderThatClaimsMoreThanTheFileIsRefused() {
        const std::string said = sentenceOf("claims.glb", "glTF" + word(2) + word(2'000'000'000) +
                                                              word(1'999'999'980) + word(0x4E4F534A) + "{}");
        QVERIFY2(said.find("and the file has") != std::string::npos, said.c_str());
    }
    void aPipeAsBufferIsRefused() {
        QCOMPARE(mkfifo(at("pipe.bin").c_str(), 0600), 0);
        const std::string said = sentenceOf(
            "piped.gltf",
            R"({"asset": {"version": "2.0"}, "buffers": [{"byteLength": 36, "uri": "pipe.bin"}]})");
        QVERIFY2(said.find("is a pipe or a device") != std::string::npos, said.c_str());
        QCOMPARE(mkfifo(at("pipe.mtl").c_str(), 0600), 0);
        const std::string material = sentenceOf("piped.obj", "mtllib pipe.mtl\n" + triangle("1"));
        QVERIFY2(material.find("is a pipe or a device") != std::string::npos, material.c_str());
    }
    void aDescriptionThatNestsWithoutEndIsRefused() {
        const std::string said = sentenceOf(
            "deep.gltf", "{\"extras\": " + std::string(100000, '[') + std::string(100000, ']') + "}");
        QVERIFY2(said.find("levels deep") != std::string::npos, said.c_str());
    }
};

QTEST_GUILESS_MAIN(ModelFilesTest)
#include "model_files_test.moc"
