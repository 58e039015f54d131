// Unsaved work: written by the clock, the newest of several records offered, none of a run that lives, none
// of what is saved.
#include <QJsonDocument>
#include <QJsonObject>
#include <QLockFile>
#include <QTemporaryDir>

#include "app/session/autosave.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;
using namespace std::chrono_literals;

class AutosaveTest final : public QObject {
    Q_OBJECT

    static QStringList records(const QString& folder) {
        return QDir(folder).entryList({QStringLiteral("*.json")}, QDir::Files);
    }
    /// What a run that was killed left: a record without a lock that is held.
    static void leave(const QString& folder, const QString& name, const char* saved, double value) {
        Project p;
        p.lines.emplace_back(line("v", Kind::Scalar, "roughness", {step("v", "value", {{"value", value}})}));
        QFile file(folder + QLatin1Char('/') + name + QStringLiteral(".json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            QJsonDocument(QJsonObject{{QStringLiteral("file"), QString()},
                                      {QStringLiteral("folder"), folder},
                                      {QStringLiteral("saved"), QLatin1String(saved)},
                                      {QStringLiteral("project"), QString::fromStdString(projectToJson(p))}})
                .toJson());
    }
    static double valueOf(const Autosave::Left& left) {
        return std::get<double>(left.project.lines[0]->steps[0]->controls.at("value"));
    }
    /// A project on the disk, opened, with one change that is not saved.
    static void change(Session& session, const QString& folder) {
        Project p;
        p.lines.emplace_back(line("v", Kind::Scalar, "roughness", {step("v", "value", {{"value", 0.1}})}));
        const QString file = folder + QStringLiteral("/p.palekettle");
        QVERIFY(saveProject(p, file.toStdString()).has_value());
        QVERIFY(session.open(file));
        session.setControl("v", "value", 0.7);
        QVERIFY(session.isModified());
    }

private Q_SLOTS:
    void theClockWrites() {
        QTemporaryDir folder, unsaved;
        Session session;
        change(session, folder.path());
        const Autosave autosave(session, unsaved.path(), 20ms);
        QVERIFY(records(unsaved.path()).isEmpty());
        QTRY_COMPARE(records(unsaved.path()).size(), 1);
        // And again when there is more, at the same place.
        const QString record = unsaved.filePath(records(unsaved.path()).front());
        const auto holds = [&](const char* text) {
            QFile file(record);
            return file.open(QIODevice::ReadOnly) && file.readAll().contains(text);
        };
        QVERIFY(holds("0.7"));
        session.setControl("v", "value", 0.875);
        QTRY_VERIFY(holds("0.875"));
        QCOMPARE(records(unsaved.path()).size(), 1);
    }
    void savingTakesTheRecordAway() {
        QTemporaryDir folder, unsaved;
        Session session;
        change(session, folder.path());
        const Autosave autosave(session, unsaved.path(), 20ms);
        QTRY_COMPARE(records(unsaved.path()).size(), 1);
        QVERIFY(session.save(session.filePath()));
        QTRY_VERIFY(records(unsaved.path()).isEmpty());
    }
    void oneThatFailedIsTriedAgain() {
        QTemporaryDir folder, unsaved;
        Session session;
        change(session, folder.path());
        const QString place = unsaved.filePath(QStringLiteral("records"));
        const Autosave autosave(session, place, 20ms);
        // Where the records go nothing can be written for a while, as on a full disk.
        QVERIFY(QDir(place).removeRecursively());
        QFile blocked(place);
        QVERIFY(blocked.open(QIODevice::WriteOnly));
        blocked.close();
        QTest::qWait(150);
        QVERIFY(blocked.remove());
        QVERIFY(QDir().mkpath(place));
        // Nothing more is changed: what failed is what is written now.
        QTRY_COMPARE(records(place).size(), 1);
    }
    void workOnANewBranchAfterUndoIsUnsaved() {
        QTemporaryDir folder, unsaved;
        Session session;
        change(session, folder.path());
        QVERIFY(session.save(session.filePath()));
        session.undo();
        session.setControl("v", "value", 0.3);  // as far along the history as what was saved
        QVERIFY(session.isModified());
        const Autosave autosave(session, unsaved.path(), 20ms);
        QTRY_COMPARE(records(unsaved.path()).size(), 1);
    }
    void theNewestOfSeveralIsOffered() {
        QTemporaryDir unsaved;
        leave(unsaved.path(), QStringLiteral("b"), "2026-03-02T10:00:00.000", 0.2);
        leave(unsaved.path(), QStringLiteral("c"), "2026-03-02T10:00:00.001", 0.3);
        leave(unsaved.path(), QStringLiteral("a"), "2026-03-01T23:00:00.000", 0.1);
        Session session;
        Autosave autosave(session, unsaved.path());
        const auto left = autosave.left();
        QVERIFY(left.has_value());
        QCOMPARE(valueOf(*left), 0.3);
        autosave.discard(*left);
        QCOMPARE(valueOf(*autosave.left()), 0.2);
        QCOMPARE(records(unsaved.path()).size(), 2);
    }
    void aRunThatLivesKeepsItsOwn() {
        QTemporaryDir unsaved;
        leave(unsaved.path(), QStringLiteral("lives"), "2026-03-02T10:00:00.000", 0.2);
        QLockFile lock(unsaved.filePath(QStringLiteral("lives.lock")));
        QVERIFY(lock.lock());
        Session session;
        const Autosave autosave(session, unsaved.path());
        QVERIFY(!autosave.left());
        lock.unlock();
        QVERIFY(autosave.left().has_value());
    }
    void whatDeadRunsWereWritingIsTakenAwayAfterAnHour() {
        QTemporaryDir unsaved;
        const auto part = [&](const char* name, int minutes) {
            QFile file(unsaved.filePath(QString::fromUtf8(name)));
            if (!file.open(QIODevice::WriteOnly)) qFatal("no %s", name);
            file.write("half");
            file.close();
            const std::filesystem::path path = file.fileName().toStdString();
            std::filesystem::last_write_time(
                path, std::filesystem::last_write_time(path) - std::chrono::minutes(minutes));
        };
        part("old.part", 90);
        part("new.part", 30);
        leave(unsaved.path(), QStringLiteral("whole"), "2026-03-01T10:00:00.000", 0.4);
        Session session;
        const Autosave autosave(session, unsaved.path());
        QVERIFY(!QFile::exists(unsaved.filePath(QStringLiteral("old.part"))));
        QVERIFY(QFile::exists(unsaved.filePath(QStringLiteral("new.part"))));
        QVERIFY(autosave.left().has_value());
    }
    void aBrokenRecordIsPassedOver() {
        QTemporaryDir unsaved;
        leave(unsaved.path(), QStringLiteral("whole"), "2026-03-01T10:00:00.000", 0.4);
        QFile broken(unsaved.filePath(QStringLiteral("broken.json")));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("{\"saved\": \"2027-01-01T00:00:00.000\", \"project\": \"{\"}");
        broken.close();
        Session session;
        const Autosave autosave(session, unsaved.path());
        QCOMPARE(valueOf(*autosave.left()), 0.4);
    }
};

QTEST_MAIN(AutosaveTest)
#include "autosave_test.moc"
