// The page of maps by hand: packed files arranged and kept in the library, an export that goes on where it
// was stopped, the same as a command.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QGuiApplication>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/exporting/arrangement_editor.h"
#include "app/exporting/export_sheet.h"
#include "app/exporting/maps_page.h"
#include "app/library/library_shelf.h"
#include "tests/support/batch_tool.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class MapsPageTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    ExportSheet& sheet() { return window().exportSheet(); }
    MapsPage& page() { return sheet().maps(); }
    ArrangementEditor& editor() { return page().arrangementEditor(); }
    QComboBox& files() { return *page().findChild<QComboBox*>(QStringLiteral("arrangement")); }
    LibraryShelf& shelf() { return *window().findChild<LibraryShelf*>(); }
    QString at(const char* name) { return m_folder->filePath(QString::fromUtf8(name)); }
    template <class B>
    B& button(const QString& words) {
        for (B* b : sheet().findChildren<B*>())
            if (b->text() == words && b->isVisible()) return *b;
        qFatal("no %s", qPrintable(words));
    }
    template <class B>
    void press(const QString& words) {
        QTest::mouseClick(&button<B>(words), Qt::LeftButton);
    }
    bool exported() {
        QTest::mouseClick(&sheet().startButton(), Qt::LeftButton);
        return QTest::qWaitFor([this] { return !sheet().isRunning(); }, 120000);
    }
    /// What a component holds, by its menu.
    bool choose(std::size_t row, std::size_t index, const QString& words) {
        QTest::mouseClick(editor().component(row, index), Qt::LeftButton);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QAction* action = menu != nullptr ? entryOf(*menu, words) : nullptr;
        if (action == nullptr) return false;
        action->trigger();
        menu->close();
        QCoreApplication::processEvents();
        return true;
    }

private Q_SLOTS:
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(openDemo());
        shelf().setOwnFolder(at("library").toStdString());
        QVERIFY(
            QTest::qWaitFor([this] { return !shelf().isReading() && !shelf().entries().empty(); }, 30000));
        session().setLook("celadon");
        QVERIFY(settled());
        sheet().setFolder(at("out"));
        sheet().open();
    }
    void cleanup() { m_window.reset(); }

    void packedFilesAreArrangedAndKept() {
        press<QToolButton>(QStringLiteral("Arrange…"));
        QVERIFY(editor().isVisible());
        QVERIFY(editor().component(0, 0) == nullptr);  // one file a channel: nothing is packed
        press<QToolButton>(QStringLiteral("+ File"));
        QVERIFY(choose(0, 0, QStringLiteral("Roughness, inverted")));
        QVERIFY(!editor().component(0, 2)->isEnabled());  // no gap
        QVERIFY(choose(0, 1, QStringLiteral("Metalness")));
        QVERIFY(choose(0, 2, QStringLiteral("1 everywhere")));
        QVERIFY(choose(0, 3, QStringLiteral("Height")));
        QVERIFY(choose(0, 3, QStringLiteral("Nothing: the file ends before it")));
        QCOMPARE(files().currentText(), QStringLiteral("as arranged below"));
        QVERIFY(!editor().keepButton().isEnabled());
        QVERIFY(!sheet().copyButton().isEnabled());
        QTest::mouseClick(&editor().nameField(), Qt::LeftButton);
        QTest::keyClicks(&editor().nameField(), QStringLiteral("Tug"));
        press<QPushButton>(QStringLiteral("Keep in the library"));
        QVERIFY(QTest::qWaitFor([this] { return files().currentText() == QStringLiteral("Tug"); }, 10000));
        QVERIFY(QFile::exists(at("library/arrangements/tug.arrangement.json")));
        QVERIFY(sheet().copyButton().isEnabled());

        QVERIFY(exported());
        QVERIFY2(message().contains(QStringLiteral("Exported 5 files")), qPrintable(message()));
        const QStringList written = QDir(at("out")).entryList({QStringLiteral("*packed1.png")});
        QCOMPARE(written.size(), 1);
        const QImage packed(QDir(at("out")).filePath(written[0]));
        const Vec3 rough = valueAt("roughness", 0.3f, 0.6f), metal = valueAt("metalness", 0.3f, 0.6f);
        const QColor c = packed.pixelColor(static_cast<int>(0.3 * packed.width()),
                                           static_cast<int>(0.4 * packed.height()));
        // Neighbouring texels differ by some codes.
        QVERIFY(std::abs(c.redF() - (1 - rough.x)) < 0.1f);
        QVERIFY(std::abs(c.greenF() - metal.x) < 0.1f);
        QCOMPARE(c.blue(), 255);

        // It is there the next time, and can be removed; the files stay as they were arranged.
        sheet().open();
        QVERIFY(files().findText(QStringLiteral("Tug")) > 0);
        press<QPushButton>(QStringLiteral("Remove"));
        QVERIFY(QTest::qWaitFor([this] { return files().findText(QStringLiteral("Tug")) < 0; }, 10000));
        QVERIFY(!QFile::exists(at("library/arrangements/tug.arrangement.json")));
        QCOMPARE(files().currentText(), QStringLiteral("as arranged below"));
    }

    void shippedOnesAreOffered() {
        const int shipped = files().findText(QStringLiteral("Normal with roughness and height"));
        QVERIFY(shipped > 1);
        files().setCurrentIndex(shipped);
        press<QToolButton>(QStringLiteral("Arrange…"));
        QCOMPARE(editor().component(0, 2)->text(), QStringLiteral("Roughness"));
        // Each page is as high as it needs.
        const int high = sheet().height();
        sheet().showPage(2);
        QVERIFY2(sheet().height() < high - 80, qPrintable(QString::number(sheet().height())));
        sheet().hide();
        sheet().openContactSheet();
        QVERIFY(sheet().height() < high - 80);
        sheet().showPage(0);
        QCOMPARE(sheet().height(), high);
        // A change makes it one's own.
        press<QToolButton>(QStringLiteral("×"));
        QCOMPARE(files().currentText(), QStringLiteral("as arranged below"));
        QVERIFY(editor().component(0, 0) == nullptr);
        // Another choice leaves it.
        files().setCurrentIndex(1);
        QCOMPARE(editor().component(1, 0)->text(), QStringLiteral("Occlusion"));
        QVERIFY(files().findText(QStringLiteral("as arranged below")) > 0);
    }

    void aStoppedExportGoesOn() {
        QVERIFY(exported());
        QVERIFY2(message().contains(QStringLiteral("Exported 6 files")), qPrintable(message()));
        QVERIFY(!message().contains(QStringLiteral("up to date")));
        const QStringList written = QDir(at("out")).entryList(QDir::Files);
        QVERIFY(QFile::remove(QDir(at("out")).filePath(written[2])));
        sheet().open();
        QVERIFY(exported());
        QVERIFY2(message().contains(QStringLiteral("5 of them were up to date")), qPrintable(message()));
        QCOMPARE(QDir(at("out")).entryList(QDir::Files), written);
    }

    void theCommandDoesTheSame() {
        const auto all = sheet().findChildren<QCheckBox*>();
        for (QCheckBox* box : all)
            if (box->text().startsWith(QStringLiteral("A manifest")) ||
                box->text() == QStringLiteral("Marmalade"))
                QTest::mouseClick(box, Qt::LeftButton);
        for (QComboBox* box : page().findChildren<QComboBox*>())
            if (box->accessibleName() == QStringLiteral("Longer side"))
                box->setCurrentIndex(box->findText(QStringLiteral("512 px")));
        press<QPushButton>(QStringLiteral("Copy as a command"));
        QStringList words = QProcess::splitCommand(
            QGuiApplication::clipboard()->text().replace(QLatin1Char('\''), QLatin1Char('"')));
        QCOMPARE(words.takeFirst(), QStringLiteral("pale-kettle-batch"));
        QVERIFY2(words.contains(QStringLiteral("marmalade")) && words.contains(QStringLiteral("--manifest")),
                 qPrintable(words.join(QLatin1Char(' '))));
        QVERIFY(exported());
        // The tool finds everything up to date.
        const Ran ran = batch(words + QStringList{QStringLiteral("--json")});
        QVERIFY2(ran.status == 0, qPrintable(ran.errors));
        QCOMPARE(ran.json()[QStringLiteral("upToDate")].toInt(), 12);
    }
};

QTEST_MAIN(MapsPageTest)
#include "maps_page_test.moc"
