// MaterialX as a network: which steps become nodes and which are baked, the nodes' numbers, amount and mask.
// What a standard node gives is computed here by its definition in the MaterialX specification (1.38) and
// held against the engine within 1/255.
#include "core/handover/materialx_network.h"

#include <QFile>
#include <QTemporaryDir>
#include <QXmlStreamReader>
#include <QtTest>
#include <cmath>

#include "core/colour/models.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/geometry/mesh_facts.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

struct Node {
    QString category, type;
    QMap<QString, QString> values, nodes;
};
using Nodes = QMap<QString, Node>;

Nodes nodesOf(const QString& name) {
    QFile file(name);
    Nodes all;
    if (!file.open(QIODevice::ReadOnly)) return all;
    QXmlStreamReader xml(&file);
    QString current;
    while (!xml.atEnd()) {
        if (xml.readNext() != QXmlStreamReader::StartElement) continue;
        const auto a = xml.attributes();
        const QString own = a.value(QStringLiteral("name")).toString();
        if (xml.name() == QStringLiteral("input")) {
            if (a.hasAttribute(QStringLiteral("nodename")))
                all[current].nodes[own] = a.value(QStringLiteral("nodename")).toString();
            else
                all[current].values[own] = a.value(QStringLiteral("value")).toString();
        } else if (!own.isEmpty()) {
            current = own;
            all[own] = {xml.name().toString(), a.value(QStringLiteral("type")).toString(), {}, {}};
        }
    }
    return all;
}

Vec3 vectorOf(const QString& text) {
    const QStringList parts = text.split(QLatin1Char(','));
    const auto at = [&](qsizetype i) { return parts[std::min(i, parts.size() - 1)].toFloat(); };
    return {at(0), at(1), at(2)};
}

/// A node's result by the specification; only what these tests write.
Vec3 valueOf(const Nodes& all, const QString& name) {
    const Node& n = all[name];
    const auto in = [&](const char* input) {
        const QString key = QString::fromLatin1(input);
        return n.nodes.contains(key) ? valueOf(all, n.nodes[key])
                                     : vectorOf(n.values.value(key, QStringLiteral("0")));
    };
    const auto each = [](Vec3 a, Vec3 b, auto f) { return Vec3{f(a.x, b.x), f(a.y, b.y), f(a.z, b.z)}; };
    if (n.category == QStringLiteral("constant")) return in("value");
    if (n.category == QStringLiteral("convert")) return in("in");
    if (n.category == QStringLiteral("invert")) return Vec3{1, 1, 1} - in("in");
    if (n.category == QStringLiteral("clamp"))
        return each(each(in("in"), in("low"), [](float a, float b) { return std::max(a, b); }), in("high"),
                    [](float a, float b) { return std::min(a, b); });
    if (n.category == QStringLiteral("multiply")) return in("in1") * in("in2");
    if (n.category == QStringLiteral("add")) return in("in1") + in("in2");
    if (n.category == QStringLiteral("subtract")) return in("in1") - in("in2");
    if (n.category == QStringLiteral("max"))
        return each(in("in1"), in("in2"), [](float a, float b) { return std::max(a, b); });
    if (n.category == QStringLiteral("screen"))
        return each(in("fg"), in("bg"), [](float a, float b) { return 1 - (1 - a) * (1 - b); });
    if (n.category == QStringLiteral("mix")) {
        const Vec3 w = in("mix");
        return in("bg") * (Vec3{1, 1, 1} - w) + in("fg") * w;
    }
    if (n.category == QStringLiteral("hsvadjust")) {
        const Vec3 amount = in("amount");
        Hsv hsv = hsvOf(in("in"));
        hsv.hue = std::fmod(hsv.hue + amount.x * 360 + 720, 360.0f);
        hsv.saturation *= amount.y, hsv.value *= amount.z;
        return rgbOf(hsv);
    }
    qFatal("%s is not computed here", qPrintable(n.category));
}

Project colours(std::vector<Shared<Step>> steps) {
    Project p;
    std::vector<Shared<Step>> all{
        Shared<Step>(step("source", "colour", {{"colour", Colour{0.7f, 0.3f, 0.15f}}}))};
    all.insert(all.end(), steps.begin(), steps.end());
    Line base;
    base.id = "base", base.name = "Base", base.kind = Kind::Colour, base.channel = "base-colour";
    base.steps = std::move(all);
    p.lines.emplace_back(std::move(base));
    p.lines.emplace_back(
        line("over", Kind::Colour, "", {step("o", "colour", {{"colour", Colour{0.2f, 0.6f, 0.9f}}})}));
    p.lines.emplace_back(line("where", Kind::Scalar, "", {step("w", "value", {{"value", 0.35}})}));
    return p;
}

}  // namespace

class MaterialXNetworkTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    Nodes write(const Project& p, const std::vector<std::string>& looks = {""}) {
        const QString file = m_folder->filePath(QStringLiteral("n.mtlx"));
        const std::filesystem::path data = KETTLE_DATA_DIR;
        Resources resources(data);
        resources.setModels(std::make_shared<FactsStore>(std::make_shared<SceneStore>(data / "models")));
        const auto made =
            writeMaterialXNetwork(p, resources, {}, looks, "As received", 16, file.toStdString());
        m_notes = made ? made->notes : std::vector<std::string>{made.error().sentence};
        return made ? nodesOf(file) : Nodes();
    }
    /// What the base colour's input gives.
    Vec3 written(const Project& p) {
        const Nodes all = write(p);
        for (const Node& n : all)
            if (n.category == QStringLiteral("standard_surface"))
                return valueOf(all, n.nodes[QStringLiteral("base_color")]);
        return {-9, -9, -9};
    }
    bool saysTheSame(const Project& p) {
        const Vec3 w = written(p);
        const auto own = evaluate(p);
        constexpr float kCode = 1.0f / 255;
        return std::abs(w.x - own[0]) < kCode && std::abs(w.y - own[1]) < kCode &&
               std::abs(w.z - own[2]) < kCode;
    }
    std::vector<std::string> m_notes;

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void eachSaidStepIsExact_data() {
        QTest::addColumn<QString>("type");
        QTest::addColumn<QString>("choice");
        for (const char* type : {"invert", "clamp", "tone", "hsv-shift"})
            QTest::newRow(type) << QString::fromLatin1(type) << QString();
        for (const char* f : {"add", "subtract", "multiply", "max"})
            QTest::newRow(qPrintable(QStringLiteral("maths %1").arg(QString::fromLatin1(f))))
                << QStringLiteral("maths") << QString::fromLatin1(f);
        for (const char* m : {"normal", "multiply", "screen", "add"})
            QTest::newRow(qPrintable(QStringLiteral("blend %1").arg(QString::fromLatin1(m))))
                << QStringLiteral("blend") << QString::fromLatin1(m);
    }
    void eachSaidStepIsExact() {
        QFETCH(QString, type);
        QFETCH(QString, choice);
        Step s = step("s", type.toUtf8().constData());
        s.controls["works-in"] = std::string("linear");
        if (type == QStringLiteral("clamp")) s.controls = {{"low", 0.2}, {"high", 0.5}};
        if (type == QStringLiteral("tone")) s.controls["exposure"] = -0.7;
        if (type == QStringLiteral("hsv-shift")) {
            s.controls["hue"] = 100.0, s.controls["saturation"] = 0.6, s.controls["value"] = 1.2;
            s.controls["amount"] = 0.8;
            s.feeds["mask"] = feed("where");
        }
        if (type == QStringLiteral("maths")) {
            s.controls["function"] = choice.toStdString();
            s.controls["b"] = 0.4, s.controls["amount"] = 0.9;
        }
        if (type == QStringLiteral("blend")) {
            s.controls["mode"] = choice.toStdString();
            s.controls["amount"] = 0.75;
            s.feeds["over"] = feed("over");
            s.feeds["mask"] = feed("where");
        }
        const Project p = colours({Shared<Step>(s)});
        QVERIFY2(saysTheSame(p), m_notes.empty() ? "" : m_notes.front().c_str());
        QVERIFY(m_notes.empty());  // nothing was baked
    }

    void whatCannotBeSaidIsBaked() {
        Step contrast = step("c", "tone", {{"contrast", 1.5}});
        Step invert = step("i", "invert", {{"works-in", std::string("linear")}});
        const Nodes all = write(colours({Shared<Step>(contrast), Shared<Step>(invert)}));
        QVERIFY(!m_notes.empty());
        QVERIFY2(QString::fromStdString(m_notes.front()).contains(QStringLiteral("Tone")),
                 m_notes.front().c_str());
        int images = 0, inverts = 0;
        for (const Node& n : all) {
            images += n.category == QStringLiteral("image") ? 1 : 0;
            inverts += n.category == QStringLiteral("invert") ? 1 : 0;
            if (n.category == QStringLiteral("image"))
                QVERIFY(QFile::exists(m_folder->filePath(n.values[QStringLiteral("file")])));
        }
        QCOMPARE(images, 1);
        QCOMPARE(inverts, 1);
        // Swapped pictures have no node: the standard's mix lays its foreground over, and not under.
        Step swapped =
            step("b", "blend", {{"mode", std::string("normal")}, {"amount", 0.25}, {"swap", true}});
        swapped.feeds["over"] = feed("over");
        const Project p = colours({Shared<Step>(swapped)});
        const Nodes baked = write(p);
        QVERIFY(!m_notes.empty());
        QVERIFY(std::any_of(baked.begin(), baked.end(),
                            [](const Node& n) { return n.category == QStringLiteral("image"); }));
        QVERIFY(std::none_of(baked.begin(), baked.end(),
                             [](const Node& n) { return n.category == QStringLiteral("mix"); }));
        // More saturation than there is would be cut by one and not by the other: baked.
        Step more = step("m", "hsv-shift", {{"saturation", 1.5}});
        write(colours({Shared<Step>(more)}));
        QVERIFY(!m_notes.empty());
    }

    void theDemoInAllItsLooks() {
        const Project demo =
            *loadProject(std::filesystem::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle");
        std::vector<std::string> looks;
        for (const auto& look : demo.looks) looks.push_back(look->id);
        const Nodes all = write(demo, looks);
        int materials = 0, nodes = 0;
        for (const Node& n : all) {
            materials += n.category == QStringLiteral("surfacematerial") ? 1 : 0;
            nodes += n.category == QStringLiteral("mix") || n.category == QStringLiteral("multiply") ? 1 : 0;
            for (const QString& read : n.nodes) QVERIFY2(all.contains(read), qPrintable(read));
        }
        QVERIFY2(materials == static_cast<int>(looks.size()), m_notes.empty() ? "" : m_notes.front().c_str());
        QVERIFY(nodes > 0);
        QCOMPARE(write(demo, {"nowhere"}).size(), qsizetype{0});
    }
};

QTEST_APPLESS_MAIN(MaterialXNetworkTest)
#include "materialx_network_test.moc"
