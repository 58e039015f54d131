// Leaving work that is not saved: by closing the window and by bringing in something else, with each answer,
// and where saving fails or is given up.
#include <QFileDialog>
#include <QMessageBox>
#include <QPushButton>

#include "app/bringin/bring_sheet.h"
#include "app/style/theme.h"
#include "core/base/files.h"
#include "core/document/json.h"
#include "tests/support/demo_window.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class LeavingStoryTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<MainWindow> m_window;
    int m_asked = 0;

    Session& session() { return m_window->session(); }
    QString at(const char* name) const { return m_folder->filePath(QString::fromUtf8(name)); }
    std::string onDisk() const { return readFile(at("p.palekettle").toStdString()).value_or(""); }
    /// The next questions are answered by clicks on the buttons of these words; a file dialog by Escape.
    void answer(const QStringList& words) {
        QTimer::singleShot(0, m_window.get(), [this, words] {
            if (!QTest::qWaitFor([] { return QApplication::activeModalWidget() != nullptr; }, 3000)) return;
            QWidget* asking = QApplication::activeModalWidget();
            auto* box = qobject_cast<QMessageBox*>(asking);
            ++m_asked;
            if (box == nullptr) return QTest::keyClick(asking, Qt::Key_Escape);
            if (words.size() > 1) answer(words.mid(1));
            for (QAbstractButton* button : box->buttons())
                if (button->text().remove(QLatin1Char('&')) == words.front())
                    return QTest::mouseClick(button, Qt::LeftButton);
            box->reject();
        });
    }
    void work() { session().setControl("shift", "hue", 99.0); }
    QString told() { return m_window->findChild<MessageBar*>()->text(); }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_asked = 0;
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(saveProject(twoLines(), at("p.palekettle").toStdString()));
        m_window = std::make_unique<MainWindow>(kData);
        m_window->show();
        QVERIFY(QTest::qWaitForWindowExposed(m_window.get()));
        QVERIFY(session().open(at("p.palekettle")));
    }
    void cleanup() { m_window.reset(); }

    void withoutChangesNobodyIsAsked() {
        QVERIFY(m_window->close());
        QCOMPARE(m_asked, 0);
    }
    void staying() {
        work();
        answer({QStringLiteral("Stay")});
        QVERIFY(!m_window->close());
        QCOMPARE(m_asked, 1);
        QVERIFY(m_window->isVisible());
        QVERIFY(session().isModified());
    }
    void leavingWithoutSaving() {
        const std::string before = onDisk();
        work();
        answer({QStringLiteral("Leave without saving")});
        QVERIFY(m_window->close());
        QCOMPARE(onDisk(), before);
    }
    void saving() {
        work();
        answer({QStringLiteral("Save")});
        QVERIFY(m_window->close());
        QVERIFY(QString::fromStdString(onDisk()).contains(QStringLiteral("99")));
    }
    void whereSavingFailsTheWindowStays() {
        work();
        // A folder has taken the file's place meanwhile.
        QVERIFY(QFile::remove(at("p.palekettle")));
        QVERIFY(QDir().mkpath(at("p.palekettle/held")));
        answer({QStringLiteral("Save"), QStringLiteral("Replace it")});
        QVERIFY(!m_window->close());
        QCOMPARE(m_asked, 2);
        QVERIFY(m_window->isVisible());
        QVERIFY(session().isModified());
        QVERIFY(QDir(at("p.palekettle/held")).exists());
        QVERIFY2(told().contains(QStringLiteral("p.palekettle")), qPrintable(told()));
    }
    void whereSavingIsGivenUpTheWindowStays() {
        session().recover(twoLines(), {}, m_folder->path().toStdString());  // work without a file
        QVERIFY(session().isModified());
        answer({QStringLiteral("Save"), QString()});
        QVERIFY(!m_window->close());
        QCOMPARE(m_asked, 2);
        QVERIFY(session().isModified());
        QVERIFY(session().filePath().isEmpty());
    }
    void aNewProjectOverWork() {
        const fs::path maps = at("maps").toStdString();
        fs::create_directories(maps);
        QVERIFY(writePicture(maps / "oar_color.png", 8, 8, 3, [](int x, int, int) { return 9 * x; }));
        work();
        BringSheet& sheet = m_window->bringSheet();
        const auto bring = [&](const QString& words) {
            if (!sheet.isVisible()) {
                dropFiles({QString::fromStdString(maps.string())}, *m_window->centralWidget(), {});
                QVERIFY(QTest::qWaitFor([&] { return sheet.plan() != nullptr; }, 10000));
            }
            answer({words});
            QTest::mouseClick(&sheet.acceptButton(), Qt::LeftButton);
        };
        bring(QStringLiteral("Stay"));
        QCOMPARE(m_asked, 1);
        QVERIFY(session().project().findStep("shift"));
        QVERIFY(session().isModified());
        QVERIFY(sheet.isVisible());  // the arrangement is not lost
        bring(QStringLiteral("Leave without saving"));
        QCOMPARE(m_asked, 2);
        QVERIFY(!session().project().findStep("shift"));
        QCOMPARE(session().project().sets.size(), std::size_t{1});
        QVERIFY(session().filePath().isEmpty());
    }
};

QTEST_MAIN(LeavingStoryTest)
#include "leaving_story_test.moc"
