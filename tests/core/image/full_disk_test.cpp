// A disk that is full at any point: writing fails with a sentence, the old file stays whole, nothing else is
// left. The room is limited by the size a file may have, which the system refuses as it refuses a full disk.
#include <sys/resource.h>
#include <csignal>

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"
#include "core/document/json.h"
#include "core/image/image.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
namespace fs = std::filesystem;

namespace {

/// No file may grow beyond `bytes` while this lives.
class Room {
public:
    explicit Room(std::size_t bytes) {
        getrlimit(RLIMIT_FSIZE, &m_before);
        rlimit now = m_before;
        now.rlim_cur = bytes;
        setrlimit(RLIMIT_FSIZE, &now);
    }
    ~Room() { setrlimit(RLIMIT_FSIZE, &m_before); }
    Room(const Room&) = delete;
    Room& operator=(const Room&) = delete;

private:
    rlimit m_before{};
};

}  // namespace

class FullDiskTest final : public QObject {
    Q_OBJECT

    static std::size_t filesIn(const fs::path& folder) {
        return static_cast<std::size_t>(
            std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
    }

private Q_SLOTS:
    void initTestCase() { std::signal(SIGXFSZ, SIG_IGN); }
    void everyFormatWithEveryRoom_data() {
        QTest::addColumn<QString>("format");
        for (const char* format : {"png8", "png16", "tiff16", "exr-half", "exr-float", "jpeg"})
            QTest::newRow(format) << QString::fromLatin1(format);
    }
    void everyFormatWithEveryRoom() {
        QFETCH(QString, format);
        FileFormat f{};
        QVERIFY(fileFormatOf(format.toStdString(), f));
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / ("map" + std::string(extensionOf(f)));
        PixelBuffer p = PixelBuffer::make(9, 7, 3, storageOf(f));
        for (std::size_t i = 0; i < p.bytes.size(); ++i) p.bytes[i] = static_cast<std::byte>(i * 37 % 63);
        QVERIFY(writeImage(file, p, f, "").has_value());
        const std::string whole = *readFile(file);
        QVERIFY(writeFileAtomically(file, "the older file"));
        for (std::size_t room = 0; room <= whole.size() + 1; ++room) {
            const Room limited(room);
            const auto written = writeImage(file, p, f, "");
            QCOMPARE(written.has_value(), room >= whole.size());
            QCOMPARE(filesIn(folder.path().toStdString()), std::size_t{1});
            if (written) {
                QVERIFY(*readFile(file) == whole);
                continue;
            }
            QCOMPARE(*readFile(file), std::string("the older file"));
            QCOMPARE(written.error().sentence,
                     "Cannot write " + file.string() + ". The disk has no room; make some.");
        }
    }
    void aProjectToo() {
        QTemporaryDir folder;
        const fs::path file = fs::path(folder.path().toStdString()) / "p.palekettle";
        Project p = twoLines();
        QVERIFY(saveProject(p, file));
        const std::string old = *readFile(file);
        p.view.exposure = 2;
        for (std::size_t room = 0; room < old.size(); room += 7) {
            const Room limited(room);
            QVERIFY(!saveProject(p, file));
            QCOMPARE(*readFile(file), old);
            QCOMPARE(filesIn(folder.path().toStdString()), std::size_t{1});
        }
        QVERIFY(saveProject(p, file));
    }
};

QTEST_GUILESS_MAIN(FullDiskTest)
#include "full_disk_test.moc"
