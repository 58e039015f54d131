// A model from the cache is the model that was read, until its file changes; what is damaged is read anew.
#include "core/scene/prepared_mesh.h"

#include <QTemporaryDir>
#include <QtTest>
#include <fstream>

#include "core/scene/mesh_bytes.h"
#include "core/scene/scene_store.h"

using namespace kettle;

namespace fs = std::filesystem;

class PreparedMeshTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    const fs::path m_folder{m_dir.path().toStdString()};
    const fs::path m_model = m_folder / "own.obj";
    std::shared_ptr<const PreparedMaps> m_cache = std::make_shared<const PreparedMaps>(m_folder / "cache");

    static std::string bytesOf(const Mesh& mesh) {
        std::string all;
        putMesh(mesh, [&](const void* bytes, std::size_t count) {
            all.append(static_cast<const char*>(bytes), count);
            return true;
        });
        return all;
    }
    static std::optional<Mesh> meshOf(const std::string& bytes) {
        std::size_t at = 0;
        return takeMesh(
            [&](void* to, std::size_t count) {
                if (count > bytes.size() - at) return false;
                if (count > 0) std::memcpy(to, bytes.data() + at, count);
                at += count;
                return true;
            },
            bytes.size());
    }
    fs::path cached() const {
        for (const auto& entry : fs::directory_iterator(m_folder / "cache")) return entry.path();
        return {};
    }
    Mesh loaded() const {
        SceneStore store(m_folder);
        store.prepareIn(m_cache, true);
        return (*store.load("own", "cm"))->mesh();
    }

private Q_SLOTS:
    void init() {
        fs::remove_all(m_folder / "cache");
        fs::copy_file(fs::path(KETTLE_DATA_DIR) / "models/kettle.obj", m_model,
                      fs::copy_options::overwrite_existing);
    }
    void itIsTheModelThatWasRead() {
        QVERIFY(!findPreparedMesh(*m_cache, m_model, "cm"));
        const Mesh first = loaded();
        const auto kept = findPreparedMesh(*m_cache, m_model, "cm");
        QVERIFY(kept && first.triangleCount() > 1000);
        QVERIFY(bytesOf(*kept) == bytesOf(first));
        QVERIFY(kept->parts == first.parts && kept->partMaterials == first.partMaterials);
        QVERIFY(bytesOf(loaded()) == bytesOf(first));
        QVERIFY(!findPreparedMesh(*m_cache, m_model, "m"));  // another size
    }
    /// The file is what the second reading does not look at: it holds nothing any more, under the same stamp.
    void whatLiesReadyIsNotReadAgain() {
        const Mesh first = loaded();
        const auto time = fs::last_write_time(m_model);
        const auto size = fs::file_size(m_model);
        {
            // Where the stamp does not look.
            std::fstream file(m_model, std::ios::in | std::ios::out);
            file.seekp(8192);
            file << std::string(size / 4, 'x');
        }
        fs::last_write_time(m_model, time);
        QVERIFY(bytesOf(loaded()) == bytesOf(first));
        fs::last_write_time(m_model, time + std::chrono::seconds(2));
        SceneStore store(m_folder);
        store.prepareIn(m_cache, true);
        QVERIFY(!store.load("own", "cm"));
    }
    void whatIsDamagedThereIsReadAnew() {
        const std::string first = bytesOf(loaded());
        // A length, an index far off, an end cut away: in the cache's file, behind its header's page.
        for (const std::uint64_t at : {std::uint64_t{0}, std::uint64_t{4096}}) {
            std::fstream file(cached(), std::ios::in | std::ios::out | std::ios::binary);
            file.seekp(static_cast<std::streamoff>(at));
            const std::uint64_t wrong = ~std::uint64_t{0} / 3;
            file.write(reinterpret_cast<const char*>(&wrong), sizeof wrong);
            file.close();
            QVERIFY(!findPreparedMesh(*m_cache, m_model, "cm"));
            QVERIFY(bytesOf(loaded()) == first);
        }
        fs::resize_file(cached(), 8192);
        QVERIFY(bytesOf(loaded()) == first);
    }
    /// A mesh that is not sound is none: nothing may be read beyond its lists.
    void brokenMeshesAreNone() {
        SceneStore store(fs::path(KETTLE_DATA_DIR) / "models");
        const Mesh good = (*store.load("tile-panel", "auto"))->mesh();
        QVERIFY(meshOf(bytesOf(good)));
        Mesh mesh = good;
        mesh.indices.back() = static_cast<std::uint32_t>(mesh.positions.size());
        QVERIFY(!meshOf(bytesOf(mesh)));
        mesh = good;
        mesh.trianglePart.front() = static_cast<std::uint16_t>(mesh.parts.size());
        QVERIFY(!meshOf(bytesOf(mesh)));
        mesh = good;
        mesh.uvs.pop_back();
        QVERIFY(!meshOf(bytesOf(mesh)));
        mesh = good;
        mesh.partHasUv.push_back(1);
        QVERIFY(!meshOf(bytesOf(mesh)));
        const std::string whole = bytesOf(good);
        for (std::size_t end = 0; end < whole.size(); end += whole.size() / 50)
            QVERIFY(!meshOf(whole.substr(0, end)));
    }
    /// A small model costs no room in the cache.
    void aSmallOneIsNotKept() {
        std::ofstream(m_model) << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
        QCOMPARE(loaded().triangleCount(), std::size_t{1});
        QVERIFY(!fs::exists(m_folder / "cache"));
    }
};

QTEST_APPLESS_MAIN(PreparedMeshTest)
#include "prepared_mesh_test.moc"
