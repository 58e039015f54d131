// Handing over without a screen, as processes: sheets, materials, packed maps, and a farm with a worker that
// is killed in the middle.
#include <QDir>
#include <QJsonArray>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"
#include "core/image/image.h"
#include "tests/support/batch_tool.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

QStringList words(const char* text) {
    return QString::fromUtf8(text).split(QLatin1Char(' '), Qt::SkipEmptyParts);
}

}  // namespace

class HandoverTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    QString at(const char* name) const { return m_folder->filePath(QString::fromUtf8(name)); }
    QStringList filesIn(const char* folder) { return QDir(at(folder)).entryList(QDir::Files, QDir::Name); }
    static QByteArray bytesOf(const QString& file) {
        QFile in(file);
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void aContactSheet() {
        const Ran made =
            batch(QStringList{QStringLiteral("sheet"), kDemo, QStringLiteral("-o"), at("sheet.png")} +
                  words("--look celadon --look marmalade --view front --view left --size 120x80"));
        QVERIFY2(made.status == 0, qPrintable(made.errors));
        const auto sheet = inspectImage(at("sheet.png").toStdString());
        QVERIFY(sheet.has_value());
        // Two by two with margins, gaps, captions and a heading.
        QCOMPARE(sheet->width, 2 * 120 + 24 + 2 * 32);
        QVERIFY(sheet->height > 2 * 80 + 24 + 2 * 32);
        const Ran pdf =
            batch(QStringList{QStringLiteral("sheet"), kDemo, QStringLiteral("-o"), at("sheet.pdf")} +
                  words("--look celadon --size 60x40"));
        QCOMPARE(pdf.status, 0);
        QVERIFY(bytesOf(at("sheet.pdf")).startsWith("%PDF"));
        const Ran turned =
            batch(QStringList{QStringLiteral("sheet"), kDemo, QStringLiteral("-o"), at("turn.png")} +
                  words("--look celadon --size 60x40 --frames 3"));
        QCOMPARE(turned.status, 0);
        QVERIFY(QFile::exists(at("turn.0003.png")));
        QVERIFY(bytesOf(at("turn.0001.png")) != bytesOf(at("turn.0002.png")));
        const Ran wrong =
            batch(QStringList{QStringLiteral("sheet"), kDemo, QStringLiteral("-o"), at("x.png")} +
                  words("--view below"));
        QCOMPARE(wrong.status, 1);
        QVERIFY(wrong.errors.contains(QStringLiteral("Choose front")));
    }

    void materialsAndPackedMaps() {
        const Ran glb =
            batch(QStringList{QStringLiteral("materials"), kDemo, QStringLiteral("--out"), at("m")} +
                  words("--all-looks --size 64"));
        QVERIFY2(glb.status == 0, qPrintable(glb.errors));
        QVERIFY(bytesOf(at("m/ferry-kitchen.glb")).startsWith("glTF"));
        const Ran mtlx =
            batch(QStringList{QStringLiteral("materials"), kDemo, QStringLiteral("--out"), at("m")} +
                  words("--look celadon --size 64 --format mtlx-baked"));
        QCOMPARE(mtlx.status, 0);
        QVERIFY(bytesOf(at("m/ferry-kitchen.mtlx")).contains("standard_surface"));
        const Ran packed =
            batch(QStringList{QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("p")} +
                  words("--look celadon --size 32 --packed"));
        QCOMPARE(packed.status, 0);
        QCOMPARE(filesIn("p").filter(QStringLiteral("surface")).size(), 1);
        QVERIFY(filesIn("p").filter(QStringLiteral("roughness")).isEmpty());
        const Ran gone =
            batch(QStringList{QStringLiteral("materials"), kDemo, QStringLiteral("--out"), at("m")} +
                  words("--look nowhere"));
        QCOMPARE(gone.status, 1);
        QVERIFY(gone.errors.contains(QStringLiteral("nowhere")));
    }

    void aKilledWorkerLeavesNothing() {
        const QStringList what = words("--all-looks --size 1024 --format png16 --compression small");
        const Ran planned = batch(QStringList{QStringLiteral("plan"), kDemo, QStringLiteral("--out"),
                                              at("out"), QStringLiteral("-o"), at("plan.json")} +
                                  what);
        QVERIFY2(planned.status == 0, qPrintable(planned.errors));
        const auto status = [&] {
            return batch({QStringLiteral("status"), at("plan.json"), QStringLiteral("--json")}).json();
        };
        const int items = status()[QStringLiteral("items")].toInt();
        QVERIFY(items > 20);
        QCOMPARE(status()[QStringLiteral("missing")].toArray().size(), qsizetype{items});
        // One job of two, killed once it has written something; the other bakes on.
        QProcess first, second;
        QProcessEnvironment array = QProcessEnvironment::systemEnvironment();
        array.insert(QStringLiteral("SLURM_ARRAY_TASK_COUNT"), QStringLiteral("2"));
        array.insert(QStringLiteral("SLURM_ARRAY_TASK_MIN"), QStringLiteral("0"));
        for (QProcess* job : {&first, &second}) {
            array.insert(QStringLiteral("SLURM_ARRAY_TASK_ID"),
                         job == &first ? QStringLiteral("0") : QStringLiteral("1"));
            job->setProcessEnvironment(array);
            job->start(batchTool(), {QStringLiteral("bake"), at("plan.json"), QStringLiteral("--array")});
        }
        QVERIFY(QTest::qWaitFor([&] { return !filesIn("out").isEmpty(); }, 30000));
        first.kill();
        QVERIFY(first.waitForFinished(30000) && second.waitForFinished(120000));
        QCOMPARE(second.exitCode(), 0);
        for (const QString& file : filesIn("out")) {
            QVERIFY2(file.endsWith(QStringLiteral(".png")), qPrintable(file));
            QVERIFY2(readImage((at("out/") + file).toStdString()).has_value(), qPrintable(file));
        }
        QVERIFY(status()[QStringLiteral("done")].toInt() < items);
        QCOMPARE(batch({QStringLiteral("collect"), at("plan.json")}).status, 1);
        // Once more: what is up to date is skipped, and all is as one process makes it.
        const Ran again = batch({QStringLiteral("bake"), at("plan.json")});
        QCOMPARE(again.status, 0);
        QVERIFY2(!again.errors.contains(QStringLiteral(" 0 up to date")), qPrintable(again.errors));
        QCOMPARE(status()[QStringLiteral("done")].toInt(), items);
        QCOMPARE(batch({QStringLiteral("collect"), at("plan.json")}).status, 0);
        QVERIFY(bytesOf(at("out/manifest.json")).contains("\"hash\""));
        QCOMPARE(
            batch(QStringList{QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("whole")} + what)
                .status,
            0);
        for (const QString& file : filesIn("whole"))
            QCOMPARE(bytesOf(at("whole/") + file), bytesOf(at("out/") + file));
        QCOMPARE(filesIn("whole").size() + 1, filesIn("out").size());
    }

    void wrongWordsAreTold() {
        QCOMPARE(batch({QStringLiteral("bake"), at("gone.json")}).status, 1);
        QVERIFY(batch(QStringList{QStringLiteral("plan"), kDemo, QStringLiteral("--out"), at("o"),
                                  QStringLiteral("-o"), at("plan.json")} +
                      words("--size 8 --look celadon"))
                    .status == 0);
        QVERIFY(batch(QStringList{QStringLiteral("bake"), at("plan.json")} + words("--items 3-x"))
                    .errors.contains(QStringLiteral("0-99")));
        QVERIFY(batch(QStringList{QStringLiteral("bake"), at("plan.json")} + words("--items 900")).status ==
                1);
        QVERIFY(batch({QStringLiteral("bake"), at("plan.json"), QStringLiteral("--array")})
                    .errors.contains(QStringLiteral("array")));
        QVERIFY(batch({QStringLiteral("--version")}).output.startsWith(QStringLiteral("Pale Kettle ")));
    }
};

QTEST_GUILESS_MAIN(HandoverTest)
#include "handover_test.moc"
