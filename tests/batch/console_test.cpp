// How the batch tool talks: JSON of every command, quiet, verbose; colours and progress on a terminal alone.
#include <fcntl.h>
#include <unistd.h>

#include <QDir>
#include <QJsonArray>
#include <QTemporaryDir>
#include <QtTest>
#include <cstdlib>

#include "tests/support/batch_tool.h"

using namespace kettle::test;

namespace {

const QString kDemo = QStringLiteral(KETTLE_DATA_DIR "/ferry-kitchen.palekettle");

/// Runs the tool with a terminal for its standard error; what the terminal got.
QString onTerminal(const QStringList& arguments, const QStringList& environment) {
    const int master = posix_openpt(O_RDWR | O_NOCTTY);
    if (master < 0 || grantpt(master) != 0 || unlockpt(master) != 0) return {};
    const QByteArray name = ptsname(master);
    QProcess process;
    QStringList all = QProcess::systemEnvironment();
    all.removeIf([](const QString& s) {
        return s.startsWith(QLatin1String("NO_COLOR=")) || s.startsWith(QLatin1String("TERM="));
    });
    process.setEnvironment(all + environment);
    process.setChildProcessModifier([name] {
        const int slave = ::open(name.constData(), O_RDWR | O_NOCTTY);
        ::dup2(slave, STDERR_FILENO);
    });
    process.start(kettle::test::batchTool(), arguments);
    process.waitForFinished(120000);
    ::fcntl(master, F_SETFL, O_NONBLOCK);
    QByteArray text;
    char part[4096];
    for (ssize_t count = 0; (count = ::read(master, part, sizeof part)) > 0;) text.append(part, count);
    ::close(master);
    return QString::fromUtf8(text);
}

}  // namespace

class ConsoleTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    QString at(const char* name) const { return m_folder.filePath(QString::fromUtf8(name)); }
    QStringList exporting(const char* folder) const {
        return {QStringLiteral("export"),    kDemo,
                QStringLiteral("--out"),     at(folder),
                QStringLiteral("--size"),    QStringLiteral("32"),
                QStringLiteral("--channel"), QStringLiteral("roughness")};
    }

private Q_SLOTS:
    void everyCommandSpeaksJson_data() {
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<QString>("key");
        const auto row = [](const char* name, const QStringList& words, const char* key) {
            QTest::newRow(name) << words << QString::fromLatin1(key);
        };
        row("new",
            {QStringLiteral("new"), QStringLiteral(KETTLE_DATA_DIR "/rattan"), QStringLiteral("-o"),
             at("r.palekettle")},
            "maps");
        row("info", {QStringLiteral("info"), kDemo}, "looks");
        row("probe",
            {QStringLiteral("probe"), kDemo, QStringLiteral("--line"), QStringLiteral("roughness"),
             QStringLiteral("--uv"), QStringLiteral("0.5,0.5")},
            "linear");
        row("check", {QStringLiteral("check"), kDemo}, "findings");
        row("export", exporting("json"), "files");
        row("plan",
            {QStringLiteral("plan"), kDemo, QStringLiteral("--out"), at("farm"), QStringLiteral("--size"),
             QStringLiteral("16"), QStringLiteral("-o"), at("plan.json")},
            "items");
        row("bake", {QStringLiteral("bake"), at("plan.json")}, "made");
        row("status", {QStringLiteral("status"), at("plan.json")}, "done");
        row("collect", {QStringLiteral("collect"), at("plan.json")}, "files");
        row("picture",
            {QStringLiteral("picture"), kDemo, QStringLiteral("-o"), at("p.png"), QStringLiteral("--size"),
             QStringLiteral("32x24")},
            "files");
        row("sheet",
            {QStringLiteral("sheet"), kDemo, QStringLiteral("-o"), at("s.png"), QStringLiteral("--size"),
             QStringLiteral("32x24")},
            "files");
        row("materials",
            {QStringLiteral("materials"), kDemo, QStringLiteral("--out"), at("m"), QStringLiteral("--size"),
             QStringLiteral("32")},
            "files");
        row("steps", {QStringLiteral("steps")}, "steps");
        row("schema", {QStringLiteral("schema")}, "schema");
    }
    void everyCommandSpeaksJson() {
        QFETCH(QStringList, words);
        QFETCH(QString, key);
        // Before the command, and behind it.
        const Ran ran = batch(words + QStringList{QStringLiteral("--json")});
        QVERIFY2(ran.status == 0, qPrintable(ran.errors));
        const QJsonObject json = ran.json();
        QVERIFY2(json.contains(key), qPrintable(ran.output.left(300)));
        QCOMPARE(json[QStringLiteral("ok")].toBool(), true);
        QVERIFY(json.contains(QStringLiteral("warnings")));
        QVERIFY(json[QStringLiteral("errors")].toArray().isEmpty());
    }

    void whatGoesWrongIsInItToo() {
        const Ran ran = batch({QStringLiteral("--json"), QStringLiteral("info"), at("none.palekettle")});
        QCOMPARE(ran.status, 1);
        const QJsonObject json = ran.json();
        QCOMPARE(json[QStringLiteral("ok")].toBool(true), false);
        QVERIFY(json[QStringLiteral("errors")].toArray()[0].toString().contains(
            QStringLiteral("none.palekettle")));
        QVERIFY(ran.errors.contains(QStringLiteral("none.palekettle")));
    }

    void anExportTellsWhatItWrote() {
        QStringList words =
            exporting("twice") + QStringList{QStringLiteral("--json"), QStringLiteral("--manifest")};
        const auto files = [&] { return batch(words).json()[QStringLiteral("files")].toArray(); };
        const QJsonArray first = files();
        QCOMPARE(first.size(), 2);
        QCOMPARE(first[0].toObject()[QStringLiteral("written")].toBool(), true);
        const QJsonArray second = files();
        QCOMPARE(second[0].toObject()[QStringLiteral("written")].toBool(true), false);
        words << QStringLiteral("--again");
        QCOMPARE(files()[0].toObject()[QStringLiteral("written")].toBool(), true);
    }

    void quietAndVerbose() {
        const Ran quiet = batch(exporting("quiet") + QStringList{QStringLiteral("-q")});
        QCOMPARE(quiet.status, 0);
        QCOMPARE(quiet.output + quiet.errors, QString());
        const Ran wrong = batch({QStringLiteral("-q"), QStringLiteral("info"), at("none.palekettle")});
        QVERIFY(wrong.errors.contains(QStringLiteral("none.palekettle")));
        const Ran plain = batch(exporting("plain"));
        QVERIFY(plain.output.trimmed().endsWith(QStringLiteral("roughness.png")));
        QCOMPARE(plain.errors, QString());
        const Ran verbose = batch(exporting("plain") + QStringList{QStringLiteral("--verbose")});
        QVERIFY2(verbose.errors.contains(QStringLiteral("is up to date")), qPrintable(verbose.errors));
        QVERIFY(verbose.errors.contains(QStringLiteral("looks")));
        QVERIFY(batch(exporting("both") + QStringList{QStringLiteral("-q"), QStringLiteral("-v")}).status !=
                0);
    }

    void aTerminalGetsProgressAndColours() {
        // Not into a pipe.
        QVERIFY(!batch(exporting("pipe")).errors.contains(QLatin1Char('%')));
        const QStringList term{QStringLiteral("TERM=xterm")};
        const QString shown = onTerminal(exporting("terminal"), term);
        QVERIFY2(shown.contains(QLatin1Char('%')) && shown.contains(QStringLiteral("roughness.png")),
                 qPrintable(shown));
        QVERIFY(!onTerminal(exporting("hushed") + QStringList{QStringLiteral("-q")}, term)
                     .contains(QLatin1Char('%')));
        const QStringList wrong{QStringLiteral("info"), at("none.palekettle")};
        QVERIFY(onTerminal(wrong, term).contains(QStringLiteral("\x1b[31m")));
        const QString colourless = onTerminal(wrong, term + QStringList{QStringLiteral("NO_COLOR=1")});
        QVERIFY(colourless.contains(QStringLiteral("none.palekettle")));
        QVERIFY(!colourless.contains(QStringLiteral("\x1b[31m")));
        QVERIFY(!onTerminal(wrong, {QStringLiteral("TERM=dumb")}).contains(QStringLiteral("\x1b[31m")));
    }

    void arrangementsByNameAndFile() {
        const QString shipped = QStringLiteral("Normal with roughness and height");
        const Ran named = batch({QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("packed"),
                                 QStringLiteral("--size"), QStringLiteral("16"),
                                 QStringLiteral("--arrangement"), shipped, QStringLiteral("--json")});
        QVERIFY2(named.status == 0, qPrintable(named.errors));
        QVERIFY2(QDir(at("packed")).entryList({QStringLiteral("*_detail.png")}).size() == 1,
                 qPrintable(named.output));
        const Ran none = batch({QStringLiteral("export"), kDemo, QStringLiteral("--out"), at("packed"),
                                QStringLiteral("--arrangement"), QStringLiteral("Nowhere")});
        QCOMPARE(none.status, 1);
        // It says which there are.
        QVERIFY2(none.errors.contains(shipped), qPrintable(none.errors));
    }
};

QTEST_GUILESS_MAIN(ConsoleTest)
#include "console_test.moc"
