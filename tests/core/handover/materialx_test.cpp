// MaterialX: the document's shape, encodings, materials and looks; images beside it; what is left out is
// told.
// ./kettle interop has the official library look at the demo's.
#include "core/handover/materialx.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QXmlStreamReader>
#include <QtTest>

#include "core/document/json.h"

using namespace kettle;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;

/// All elements with their attributes, in order.
struct Element {
    QString name;
    QMap<QString, QString> attributes;
};

}  // namespace

class MaterialXTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::filesystem::path at(const char* name) {
        return m_folder->filePath(QString::fromUtf8(name)).toStdString();
    }
    QList<Element> elementsOf(const char* name) {
        QFile file(m_folder->filePath(QString::fromUtf8(name)));
        if (!file.open(QIODevice::ReadOnly)) return {};
        QXmlStreamReader xml(&file);
        QList<Element> all;
        while (!xml.atEnd())
            if (xml.readNext() == QXmlStreamReader::StartElement) {
                Element e{xml.name().toString(), {}};
                for (const auto& a : xml.attributes())
                    e.attributes[a.name().toString()] = a.value().toString();
                all << e;
            }
        return xml.hasError() ? QList<Element>() : all;
    }
    static qsizetype count(const QList<Element>& all, const char* name) {
        return std::count_if(all.begin(), all.end(),
                             [&](const Element& e) { return e.name == QString::fromUtf8(name); });
    }
    Result<HandedOver> write(const char* name, MaterialXSurface surface,
                             const std::vector<std::string>& looks) {
        const Project demo = *loadProject(kData / "ferry-kitchen.palekettle");
        return writeMaterialX(demo, Resources(kData), {"Kettle"}, looks, "As received", 64,
                              {at(name), surface});
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void aMaterialForEachLook() {
        const auto made = write("kettle.mtlx", MaterialXSurface::Standard, {"celadon", "marmalade"});
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const QList<Element> all = elementsOf("kettle.mtlx");
        QVERIFY(!all.isEmpty());
        QCOMPARE(all[0].name, QStringLiteral("materialx"));
        QCOMPARE(all[0].attributes[QStringLiteral("version")], QStringLiteral("1.38"));
        QCOMPARE(all[0].attributes[QStringLiteral("colorspace")], QStringLiteral("lin_rec709"));
        QCOMPARE(count(all, "standard_surface"), 2);
        QCOMPARE(count(all, "surfacematerial"), 2);
        QCOMPARE(count(all, "look"), 2);
        QCOMPARE(count(all, "materialassign"), 2);
        // Light says its encoding, numbers say none; every image is there.
        int colours = 0;
        QSet<QString> names;
        for (const Element& e : all) {
            if (e.attributes.contains(QStringLiteral("name")) && e.name != QStringLiteral("input")) {
                QVERIFY2(!names.contains(e.attributes[QStringLiteral("name")]),
                         qPrintable(e.attributes[QStringLiteral("name")]));
                names << e.attributes[QStringLiteral("name")];
            }
            if (e.attributes.value(QStringLiteral("type")) != QStringLiteral("filename")) continue;
            const QString file = e.attributes[QStringLiteral("value")];
            QVERIFY2(QFile::exists(m_folder->filePath(file)), qPrintable(file));
            const bool isColour =
                file.contains(QStringLiteral("base-colour")) || file.contains(QStringLiteral("emission"));
            QCOMPARE(e.attributes.value(QStringLiteral("colorspace")),
                     isColour ? QStringLiteral("srgb_texture") : QString());
            colours += isColour ? 1 : 0;
        }
        QVERIFY(colours >= 2);
        for (const Element& e : all)
            if (e.attributes.contains(QStringLiteral("nodename")))
                QVERIFY2(names.contains(e.attributes[QStringLiteral("nodename")]),
                         qPrintable(e.attributes[QStringLiteral("nodename")]));
        QVERIFY(std::any_of(made->notes.begin(), made->notes.end(),
                            [](const std::string& note) { return note.find("Height") == 0; }));
    }

    void theOtherSurface() {
        QVERIFY(write("pbr.mtlx", MaterialXSurface::OpenPbr, {"celadon"}));
        const QList<Element> all = elementsOf("pbr.mtlx");
        QCOMPARE(all[0].attributes[QStringLiteral("version")], QStringLiteral("1.39"));
        QCOMPARE(count(all, "open_pbr_surface"), 1);
        QCOMPARE(count(all, "standard_surface"), 0);
    }

    void whatCannotBeWrittenIsRefused() {
        QCOMPARE(write("kettle.xml", MaterialXSurface::Standard, {"celadon"}).error().kind,
                 ErrorKind::Refused);
        QCOMPARE(write("kettle.mtlx", MaterialXSurface::Standard, {}).error().kind, ErrorKind::Refused);
        QVERIFY(!write("kettle.mtlx", MaterialXSurface::Standard, {"no such look"}));
        QVERIFY(!std::filesystem::exists(at("kettle.mtlx")));
        QCOMPARE(writeMaterialX({}, Resources(kData), {}, {""}, "", 0, {at("none.mtlx")}).error().kind,
                 ErrorKind::Refused);
    }
};

QTEST_APPLESS_MAIN(MaterialXTest)
#include "materialx_test.moc"
