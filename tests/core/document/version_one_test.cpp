// Project files of version 1 open as they were, and are written as they are now.
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/files.h"
#include "core/document/json.h"
#include "core/engine/compile.h"
#include "tests/support/projects.h"

using namespace kettle;

namespace {
const std::filesystem::path kKitchen =
    std::filesystem::path(KETTLE_DATA_DIR) / "../../tests/core/document/files/kitchen-version-1.palekettle";
}

class VersionOneTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aFileOfVersionOneOpensWithOneSurfaceForAll() {
        QCOMPARE(versionOnDisk(kKitchen), 1);
        const auto p = loadProject(kKitchen);
        QVERIFY2(p.has_value(), p ? "" : p.error().sentence.c_str());
        QVERIFY(p->surfaces.empty() && p->allLooks.empty());
        QCOMPARE(surfaceIds(*p), std::vector<std::string>{""});
        QCOMPARE(surfacesOfParts(*p, {"body", "lid"}), (std::vector<int>{0, 0}));
        QVERIFY(p->lineOfChannel("base-colour", "") != nullptr);
        QCOMPARE(p->looks.size(), std::size_t{3});
        QVERIFY(problemsOf(*p).empty());
    }
    void itIsWrittenInTheVersionOfToday() {
        QTemporaryDir folder;
        const std::filesystem::path file =
            folder.filePath(QStringLiteral("kitchen.palekettle")).toStdString();
        const auto p = loadProject(kKitchen);
        QVERIFY(saveProject(*p, file).has_value());
        QCOMPARE(versionOnDisk(file), kProjectVersion);
        QVERIFY(*loadProject(file) == *p);
    }
    void nothingElseOfTheFileIsLost() {
        // Every line of the old file stands in the new one but for its version, and for the digits of a float
        // that say nothing.
        const QString before = QString::fromStdString(*readFile(kKitchen));
        const auto p = projectFromJson(before.toStdString(), "kitchen");
        const QStringList after =
            QString::fromStdString(projectToJson(*p)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        const QRegularExpression digits(QStringLiteral("\\d\\.\\d{8,}"));
        for (const QString& text : before.split(QLatin1Char('\n'), Qt::SkipEmptyParts))
            if (!text.contains(QStringLiteral("\"version\"")) && !digits.match(text).hasMatch())
                QVERIFY2(after.contains(text), qPrintable(text));
        for (const QString& text : after) QVERIFY2(!digits.match(text).hasMatch(), qPrintable(text));
        QVERIFY(projectFromJson(projectToJson(*p), "kitchen") == *p);
    }
    void whatIsNoProjectHasNoVersion() {
        QTemporaryDir folder;
        const auto write = [&](const char* name, const char* text) {
            const std::filesystem::path file = folder.filePath(QString::fromLatin1(name)).toStdString();
            QFile out(QString::fromStdString(file.string()));
            if (out.open(QIODevice::WriteOnly)) out.write(text);
            return file;
        };
        QCOMPARE(versionOnDisk(write("a.txt", "words")), 0);
        QCOMPARE(versionOnDisk(write("b.json", "{\"version\": 1}")), 0);
        QCOMPARE(versionOnDisk(write("c.json", "[1, 2]")), 0);
        QCOMPARE(versionOnDisk(folder.filePath(QStringLiteral("none")).toStdString()), 0);
    }
};

QTEST_GUILESS_MAIN(VersionOneTest)
#include "version_one_test.moc"
