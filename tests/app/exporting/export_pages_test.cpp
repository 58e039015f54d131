// The export sheet's pages: materials and pictures, what they say, what they write, and that a contact sheet
// shows exactly what the window shows.
#include <QComboBox>
#include <QFile>
#include <QImage>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/exporting/export_sheet.h"
#include "app/exporting/materials_page.h"
#include "app/exporting/pictures_page.h"
#include "app/paper/sheet_paper.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class ExportPagesTest final : public QObject, DemoWindow {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    ExportSheet& sheet() { return window().exportSheet(); }
    QString at(const char* name) { return m_folder->filePath(QString::fromUtf8(name)); }
    bool ended() {
        return QTest::qWaitFor([this] { return !sheet().isRunning(); }, 120000);
    }
    template <class W>
    W& part(const char* name) {
        auto* found = sheet().findChild<W*>(QString::fromUtf8(name));
        if (found == nullptr) qFatal("no %s", name);
        return *found;
    }
    void start() { QTest::mouseClick(&sheet().startButton(), Qt::LeftButton); }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(openDemo());
        session().setLook("celadon");
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void theSheetShowsWhatTheWindowShows() {
        sheet().openContactSheet();
        QVERIFY(sheet().isVisible());
        // As the window's picture is.
        const QImage shown = window().model().picture();
        SheetPlan plan;
        plan.looks = {"celadon", "marmalade"};
        plan.views = {{"view", window().model().camera()}};
        plan.width = shown.width(), plan.height = shown.height();
        const auto made =
            makeContactSheet(session().project(), session().resources(), window().pictures().sceneStore(),
                             kData / "environments", plan, "");
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const QImage paper = imageOf(*made);
        const QRect first = pictureRect(*made, 0);
        QCOMPARE(paper.copy(first), shown.convertToFormat(QImage::Format_RGB32));
        sheet().hide();
        session().setLook("marmalade");
        QVERIFY(settled());
        QCOMPARE(paper.copy(pictureRect(*made, 1)),
                 window().model().picture().convertToFormat(QImage::Format_RGB32));
    }

    void aContactSheetIsWritten() {
        sheet().openContactSheet();
        part<QLineEdit>("picture-file").setText(at("sheet.png"));
        QVERIFY(sheet().startButton().isEnabled());
        start();
        QVERIFY(sheet().isRunning());
        QVERIFY(ended());
        QVERIFY2(message().contains(QStringLiteral("sheet.png")), qPrintable(message()));
        const QImage written(at("sheet.png"));
        // Four looks in two columns, each 640 by 400.
        QVERIFY2(written.width() > 2 * 640 && written.height() > 2 * 400,
                 qPrintable(QStringLiteral("%1 x %2").arg(written.width()).arg(written.height())));
        QVERIFY(!sheet().isVisible());
    }

    void framesAndViews() {
        sheet().open();
        sheet().showPage(2);
        auto& what = part<QComboBox>("picture-kind");
        what.setCurrentIndex(1);
        part<QLineEdit>("picture-file").setText(at("view.tif"));
        start();
        QVERIFY(ended());
        // One picture a look, each under the look's name.
        QVERIFY2(QFile::exists(at("view-celadon.tif")), qPrintable(message()));
        QVERIFY(QFile::exists(at("view-marmalade.tif")));
    }

    void aFileThatCannotBeIsTold() {
        sheet().openContactSheet();
        part<QLineEdit>("picture-file").setText(at("sheet.gif"));
        start();
        QVERIFY(ended());
        QVERIFY2(message().contains(QStringLiteral(".pdf")), qPrintable(message()));
        QVERIFY(sheet().isVisible());
        part<QLineEdit>("picture-file").setText(QString());
        QVERIFY(!sheet().startButton().isEnabled());
        // A source map is never written to.
        const std::string folder = session().project().sets.front()->folder;
        const QString source =
            QString::fromStdString((kData / folder).string()) + QStringLiteral("/kettle_basecolor.png");
        part<QLineEdit>("picture-file").setText(source);
        start();
        QVERIFY(ended());
        QVERIFY2(message().contains(QStringLiteral("kettle_basecolor.png")), qPrintable(message()));
        sheet().hide();
    }

    void materialsOfAllLooks() {
        sheet().open();
        sheet().showPage(1);
        part<QLineEdit>("material-file").setText(at("kettle.glb"));
        start();
        QVERIFY(ended());
        QVERIFY2(QFile::exists(at("kettle.glb")), qPrintable(message()));
        QFile file(at("kettle.glb"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray bytes = file.readAll();
        QVERIFY(bytes.startsWith("glTF"));
        for (const auto& look : session().project().looks) QVERIFY(bytes.contains(look->name.c_str()));
        // The other formats by their menu; a name of one's own keeps its place.
        sheet().open();
        auto& format = part<QComboBox>("material-format");
        format.setCurrentIndex(2);
        QVERIFY2(part<QLineEdit>("material-file").text().endsWith(QStringLiteral("kettle.mtlx")),
                 qPrintable(part<QLineEdit>("material-file").text()));
        start();
        QVERIFY(ended());
        QVERIFY2(QFile::exists(at("kettle.mtlx")), qPrintable(message()));
    }
};

QTEST_MAIN(ExportPagesTest)
#include "export_pages_test.moc"
