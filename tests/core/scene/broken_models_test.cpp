// Models that the mesh library cannot cope with: it hangs, dies or answers nonsense, and this program goes
// on.
#include <sys/stat.h>
#include <unistd.h>
#include <csignal>

#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"
#include "core/scene/read_apart.h"

using namespace kettle;
using namespace std::chrono_literals;
namespace fs = std::filesystem;

class BrokenModelsTest final : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    fs::path write(const std::string& name, const std::string& bytes) {
        const fs::path file = fs::path(m_folder.path().toStdString()) / name;
        return writeFileAtomically(file, bytes) ? file : fs::path();
    }
    static std::string sentenceOf(const Result<Mesh>& mesh) { return mesh ? "" : mesh.error().sentence; }

private Q_SLOTS:
    void aHeaderThatIsCutOffIsASentenceAtOnce() {
        const fs::path file = write("cut.ply", "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\n");
        QCOMPARE(sentenceOf(loadMesh(file)),
                 "Cannot read the model " + file.string() + ": it ends in its header. Copy it again.");
    }
    void everyCutOfAGlbIsASentence() {
        const std::string whole =
            *readFile(fs::path(KETTLE_DATA_DIR) / "../../tests/fuzz/corpus/mesh/tri.glb");
        for (std::size_t length = 4; length < whole.size(); length += 13) {
            const auto mesh = loadMesh(write("cut.glb", whole.substr(0, length)), 5s);
            QVERIFY2(!mesh, std::to_string(length).c_str());
            QVERIFY(mesh.error().sentence.ends_with('.'));
        }
        const auto mesh = loadMesh(write("whole.glb", whole), 5s);
        QVERIFY2(mesh.has_value(), sentenceOf(mesh).c_str());
        QCOMPARE(mesh->triangleCount(), std::size_t{1});
        QCOMPARE(mesh->parts, std::vector<std::string>{"cup"});
    }
    void aPipeIsNoModel() {
        const fs::path pipe = fs::path(m_folder.path().toStdString()) / "pipe.obj";
        QCOMPARE(mkfifo(pipe.c_str(), 0600), 0);
        QVERIFY(sentenceOf(loadMesh(pipe)).find("is a pipe or a device") != std::string::npos);
    }
    void whatHangsIsEnded() {
        QElapsedTimer timer;
        timer.start();
        const auto mesh = readApart(
            []() -> Result<Mesh> {
                for (;;) pause();
            },
            "slow.obj", 300ms);
        QCOMPARE(sentenceOf(mesh),
                 std::string("Cannot read the model slow.obj: it took longer than 1 seconds. Save it "
                             "again as OBJ, GLB or PLY."));
        QVERIFY(timer.elapsed() >= 300);
    }
    void whatDiesIsASentence() {
        for (const int number : {SIGSEGV, SIGABRT, SIGKILL}) {
            const auto mesh = readApart(
                [number]() -> Result<Mesh> {
                    std::raise(number);
                    return Mesh{};
                },
                "bad.obj", 10s);
            QCOMPARE(sentenceOf(mesh),
                     std::string("Cannot read the model bad.obj: it is damaged. Save it again as OBJ, "
                                 "GLB or PLY."));
        }
        const auto left = readApart([]() -> Result<Mesh> { _exit(0); }, "gone.obj", 10s);
        QVERIFY(!left);
        const auto thrown =
            readApart([]() -> Result<Mesh> { throw std::runtime_error("torn"); }, "t.obj", 10s);
        QCOMPARE(thrown.error().kind, ErrorKind::Library);
        QCOMPARE(thrown.error().detail, std::string("torn"));
    }
    void whatIsReadComesOverWhole() {
        Mesh made;
        made.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
        made.normals = {{0, 0, 1}, {0, 0, 1}, {0, 1, 0}};
        made.uvs = {{0, 0}, {1, 0}, {0, 0.5f}};
        made.tangents = {{{1, 0, 0}, 1}, {{0, 1, 0}, -1}, {}};
        made.indices = {0, 1, 2};
        made.trianglePart = {1};
        made.parts = {"lid", ""};
        made.partObjects = {"pot", "pot"};
        made.partMaterials = {"enamel", ""};
        made.partHasUv = {1, 0};
        const auto mesh = readApart([&]() -> Result<Mesh> { return made; }, "m.obj", 10s);
        QVERIFY(mesh && mesh->positions == made.positions && mesh->normals == made.normals &&
                mesh->uvs == made.uvs);
        QVERIFY(mesh->indices == made.indices && mesh->trianglePart == made.trianglePart &&
                mesh->parts == made.parts && mesh->partObjects == made.partObjects &&
                mesh->partMaterials == made.partMaterials && mesh->partHasUv == made.partHasUv);
        QVERIFY(mesh->tangents[1].side == -1 && mesh->tangents[1].direction == (Vec3{0, 1, 0}));
    }
};

QTEST_APPLESS_MAIN(BrokenModelsTest)
#include "broken_models_test.moc"
