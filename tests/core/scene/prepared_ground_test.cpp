// The ground's shadow from the cache is the one that was cast, for the same model and light alone; a picture
// takes it from there.
#include "core/scene/prepared_ground.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/document/json.h"
#include "core/shading/preview.h"

using namespace kettle;

namespace fs = std::filesystem;

class PreparedGroundTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_dir;
    const fs::path m_folder{m_dir.path().toStdString()};
    const fs::path m_data{KETTLE_DATA_DIR};
    const fs::path m_model = m_folder / "own.obj";
    std::shared_ptr<const PreparedMaps> m_cache = std::make_shared<const PreparedMaps>(m_folder / "cache");
    GroundKey key() const { return {m_model, "cm", {0.6f, 0.8f, 0}, 4, 24}; }

    Picture picture(bool isPrepared, bool atRest) const {
        Resources resources(m_data);
        if (isPrepared) resources.store().prepareIn(m_folder / "cache", true);
        Preview preview(m_folder, m_data / "environments");
        PreviewRequest request;
        request.project = *loadProject(m_data / "ferry-kitchen.palekettle");
        request.project.view.model = "own";
        request.width = 90, request.height = 60;
        request.camera.frame((*preview.scene("own"))->mesh(), 1.5f);
        return atRest ? *preview.renderAtRest(request, resources) : *preview.render(request, resources, 1);
    }
    std::size_t keptFiles() const {
        std::error_code code;
        std::size_t count = 0;
        for (const auto& entry : fs::directory_iterator(m_folder / "cache", code))
            count += entry.is_regular_file();
        return count;
    }

private Q_SLOTS:
    void init() {
        fs::remove_all(m_folder / "cache");
        fs::copy_file(m_data / "models/kettle.obj", m_model, fs::copy_options::overwrite_existing);
    }
    void itIsWhatWasCast() {
        SceneStore store(m_folder);
        const auto scene = *store.load("own", "cm");
        const GroundShade cast(*scene, key().keyDirection, key().keyRadius, key().size);
        QVERIFY(!findPreparedGround(*m_cache, key()));
        keepPreparedGround(*m_cache, key(), cast);
        const auto found = findPreparedGround(*m_cache, key());
        QVERIFY(found.has_value());
        QCOMPARE(found->lit(), cast.lit());
        QCOMPARE(found->at(0.3f, -0.7f), cast.at(0.3f, -0.7f));
        // Another light, another net, another size of the model.
        GroundKey other = key();
        other.keyDirection = {0.8f, 0.6f, 0};
        QVERIFY(!findPreparedGround(*m_cache, other));
        other = key(), other.keyRadius = 4.5f;
        QVERIFY(!findPreparedGround(*m_cache, other));
        other = key(), other.size = 25;
        QVERIFY(!findPreparedGround(*m_cache, other));
        other = key(), other.unit = "m";
        QVERIFY(!findPreparedGround(*m_cache, other));
        // Another file of the same name.
        fs::last_write_time(m_model, fs::last_write_time(m_model) + std::chrono::seconds(2));
        QVERIFY(!findPreparedGround(*m_cache, key()));
    }
    void aPictureAtRestKeepsItAndTheNextTakesIt() {
        // A light that passes by leaves nothing behind.
        static_cast<void>(picture(true, false));
        const std::size_t before = keptFiles();
        const Picture first = picture(true, true);
        QCOMPARE(keptFiles(), before + 1);
        QCOMPARE(picture(true, true).pixels, first.pixels);
        QCOMPARE(picture(false, true).pixels, first.pixels);
        QCOMPARE(keptFiles(), before + 1);
    }
};

QTEST_GUILESS_MAIN(PreparedGroundTest)
#include "prepared_ground_test.moc"
