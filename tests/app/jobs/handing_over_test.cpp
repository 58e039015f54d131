// The job of handing over: everything out, for whoever goes on with it.
#include <QDir>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPushButton>
#include <QToolButton>

#include "app/exporting/export_sheet.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class HandingOverTest final : public QObject, Job {
    Q_OBJECT

    bool exported() {
        return hand().lookFor([this] { return !window().exportSheet().isRunning(); }, 120000);
    }
    /// The names of a GLB's variants, read by a plain reader: 12 bytes of header, 8 of a chunk's, then JSON.
    static QStringList variantsOf(const QString& file) {
        QFile glb(file);
        if (!glb.open(QIODevice::ReadOnly)) return {};
        const QByteArray bytes = glb.readAll();
        if (bytes.size() < 20) return {};
        std::uint32_t length = 0;
        std::memcpy(&length, bytes.constData() + 12, sizeof length);
        const auto json = QJsonDocument::fromJson(bytes.mid(20, length)).object();
        QStringList names;
        for (const QJsonValue& v : json[QStringLiteral("extensions")]
                                       [QStringLiteral("KHR_materials_variants")][QStringLiteral("variants")]
                                           .toArray())
            names << v[QStringLiteral("name")].toString();
        return names;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void allLooksOut() {
        QVERIFY(startDemo());
        setCheck([this]() -> QString {
            const QDir out(own(QStringLiteral("demo/exported")));
            for (const auto& look : project().looks) {
                const QStringList packed =
                    out.entryList({QStringLiteral("*_%1_surface.png").arg(QString::fromStdString(look->id))});
                if (packed.size() != 1)
                    return QStringLiteral("%1 has no packed map").arg(QString::fromStdString(look->id));
                if (QImage(out.filePath(packed.front())).isNull())
                    return packed.front() + QStringLiteral(" is no picture");
            }
            const QStringList glbs = out.entryList({QStringLiteral("*.glb")});
            if (glbs.size() != 1) return QStringLiteral("there is no GLB");
            const QStringList variants = variantsOf(out.filePath(glbs.front()));
            for (const auto& look : project().looks)
                if (!variants.contains(QString::fromStdString(look->name)))
                    return QStringLiteral("%1 is no variant").arg(QString::fromStdString(look->name));
            const QImage sheet(out.filePath(QStringLiteral("contact-sheet.png")));
            return sheet.width() > 1200 ? QString() : QStringLiteral("there is no sheet");
        });
        hand().chord(Qt::Key_E, Qt::ControlModifier);
        QVERIFY(window().exportSheet().isVisible());
        hand().click(*window().exportSheet().findChild<QToolButton*>(QStringLiteral("all-packed")));
        hand().click(window().exportSheet().startButton());
        QVERIFY(exported());
        QVERIFY(done(32, 3));
    }
};

QTEST_MAIN(HandingOverTest)
#include "handing_over_test.moc"
