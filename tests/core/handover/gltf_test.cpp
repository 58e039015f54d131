// glTF: what the standard asks of a file, read again by the mesh library; textures and numbers, alpha,
// variants, tiles, and what is refused. ./kettle interop has the standard's own validator look at the demo's.
#include "core/handover/gltf.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTemporaryDir>
#include <QtTest>

#include "core/colour/encoding.h"
#include "core/document/json.h"
#include "core/scene/scene_store.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;

/// A square of two triangles in a tile.
Mesh square(float u = 0) {
    Mesh mesh;
    for (const auto& [x, y] : {std::pair<float, float>{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
        mesh.positions.push_back({x * 10, y * 10, 0});
        mesh.normals.push_back({0, 0, 1});
        mesh.uvs.push_back({u + x * 0.9f + 0.05f, y * 0.9f + 0.05f});
        mesh.tangents.push_back({{1, 0, 0}, 1});
    }
    mesh.indices = {0, 1, 2, 0, 2, 3};
    mesh.trianglePart = {0, 0};
    mesh.parts = {"Tile"}, mesh.partObjects = {"Tile"}, mesh.partMaterials = {""}, mesh.partHasUv = {1};
    return mesh;
}

/// Flat colours and numbers; a look in blue.
Project plain() {
    Project p;
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {step("c", "colour", {{"colour", Colour{0.5f, 0.25f, 0.125f}}})}));
    p.lines.emplace_back(line("rough", Kind::Scalar, "roughness", {step("r", "value", {{"value", 0.25}})}));
    p.looks.emplace_back(Look{"blue", "Blue", {{"c.colour", Colour{0.0f, 0.0f, 1.0f}}}, {}});
    return p;
}

}  // namespace

class GltfTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    std::filesystem::path at(const char* name) {
        return m_folder->filePath(QString::fromUtf8(name)).toStdString();
    }
    QByteArray bytesOf(const std::filesystem::path& file) {
        QFile in(QString::fromStdString(file.string()));
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
    }
    /// The JSON of a .glb, after its container was checked.
    QJsonObject jsonOf(const std::filesystem::path& file) {
        const QByteArray bytes = bytesOf(file);
        const auto number = [&](qsizetype i) {
            std::uint32_t n = 0;
            std::memcpy(&n, bytes.constData() + i, 4);
            return n;
        };
        if (!bytes.startsWith("glTF") || number(4) != 2 ||
            number(8) != static_cast<std::uint32_t>(bytes.size()))
            return {};
        if (bytes.mid(16, 4) != "JSON" || number(12) % 4 != 0) return {};
        return QJsonDocument::fromJson(bytes.mid(20, static_cast<qsizetype>(number(12)))).object();
    }
    /// The numbers of the first primitive's attribute, from a .gltf and its buffer.
    std::vector<float> accessor(const std::filesystem::path& file, const QString& attribute,
                                std::size_t each) {
        const QJsonObject j = QJsonDocument::fromJson(bytesOf(file)).object();
        const QJsonValue primitive = j[QStringLiteral("meshes")][0][QStringLiteral("primitives")][0];
        const int index = primitive[QStringLiteral("attributes")][attribute].toInt(-1);
        if (index < 0) return {};
        const QJsonValue of = j[QStringLiteral("accessors")][index];
        const QJsonValue view = j[QStringLiteral("bufferViews")][of[QStringLiteral("bufferView")].toInt()];
        const QByteArray bytes =
            bytesOf(file.parent_path() /
                    j[QStringLiteral("buffers")][0][QStringLiteral("uri")].toString().toStdString());
        std::vector<float> numbers(static_cast<std::size_t>(of[QStringLiteral("count")].toInt()) * each);
        const qsizetype from =
            view[QStringLiteral("byteOffset")].toInt() + of[QStringLiteral("byteOffset")].toInt();
        if (from + static_cast<qsizetype>(numbers.size() * 4) > bytes.size()) return {};
        std::memcpy(numbers.data(), bytes.constData() + from, numbers.size() * 4);
        return numbers;
    }
    static Project withNormals() {
        Project p = plain();
        p.lines.emplace_back(line("bumps", Kind::Scalar, "", {step("b", "noise")}));
        p.lines.emplace_back(
            line("n", Kind::Normal, "normal",
                 {step("f", "flat-normal"), step("h", "height-to-normal", {}, {{"height", feed("bumps")}})}));
        return p;
    }
    Result<HandedOver> write(const Project& p, const Mesh& mesh, const std::vector<std::string>& looks,
                             const GltfOptions& options) {
        BakeOptions bake;
        bake.looks = looks;
        bake.size = 64;
        const Resources resources(kData);
        auto baked = bakeMaterials(p, resources, bake);
        if (!baked) return fail(baked.error());
        return writeGltf(mesh, p, *baked, looks, "As received", options);
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void numbersWithoutTextures() {
        const auto made = write(plain(), square(), {""}, {at("plain.glb")});
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const QJsonObject j = jsonOf(at("plain.glb"));
        QCOMPARE(j[QStringLiteral("asset")][QStringLiteral("version")].toString(), QStringLiteral("2.0"));
        QVERIFY(!j.contains(QStringLiteral("images")));
        const auto pbr = j[QStringLiteral("materials")][0][QStringLiteral("pbrMetallicRoughness")];
        // In linear light, within a code of eight bits.
        QVERIFY(std::abs(pbr[QStringLiteral("baseColorFactor")][0].toDouble() - 0.5) < 0.004);
        QVERIFY(std::abs(pbr[QStringLiteral("baseColorFactor")][2].toDouble() - 0.125) < 0.002);
        QVERIFY(std::abs(pbr[QStringLiteral("roughnessFactor")].toDouble() - 0.25) < 0.003);
        QCOMPARE(pbr[QStringLiteral("metallicFactor")].toDouble(), 0.0);
        QVERIFY(!j.contains(QStringLiteral("extensionsUsed")));
        // A square of ten centimetres is a tenth of a metre; its first corner lies at the texture's bottom.
        const auto accessor = j[QStringLiteral("accessors")][0];
        QVERIFY(std::abs(accessor[QStringLiteral("max")][0].toDouble() - 0.1) < 1e-6);
    }

    void theDemoComesBackAsItWent() {
        const Project demo = *loadProject(kData / "ferry-kitchen.palekettle");
        SceneStore scenes(kData / "models");
        const Mesh& mesh = (*scenes.load("kettle", "auto"))->mesh();
        const std::vector<std::string> looks{"celadon", "marmalade"};
        const auto made = write(demo, mesh, looks, {at("kettle.glb")});
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const auto again = loadMesh(at("kettle.glb"));
        QVERIFY2(again, again ? "" : again.error().sentence.c_str());
        QCOMPARE(again->triangleCount(), mesh.triangleCount());
        Vec3 low, high, lowAgain, highAgain;
        mesh.bounds(low, high);
        again->bounds(lowAgain, highAgain);
        QVERIFY(std::abs(high.y - highAgain.y) < 0.01f && std::abs(low.x - lowAgain.x) < 0.01f);
        // The same texture coordinates, turned back by the reader.
        double sum = 0, sumAgain = 0;
        for (const Vec2 uv : mesh.uvs)
            sum += static_cast<double>(uv.y) / static_cast<double>(mesh.uvs.size());
        for (const Vec2 uv : again->uvs)
            sumAgain += static_cast<double>(uv.y) / static_cast<double>(again->uvs.size());
        QVERIFY2(std::abs(sum - sumAgain) < 0.02, qPrintable(QStringLiteral("%1 %2").arg(sum).arg(sumAgain)));
        const QJsonObject j = jsonOf(at("kettle.glb"));
        const auto variants = j[QStringLiteral("extensions")][QStringLiteral("KHR_materials_variants")]
                               [QStringLiteral("variants")]
                                   .toArray();
        QCOMPARE(variants.size(), 2);
        QCOMPARE(variants[1][QStringLiteral("name")].toString(), QStringLiteral("Marmalade"));
        // What both looks have alike is there once: the normals.
        QSet<int> normals;
        for (const auto& m : j[QStringLiteral("materials")].toArray())
            if (m.toObject().contains(QStringLiteral("normalTexture")))
                normals << m[QStringLiteral("normalTexture")][QStringLiteral("index")].toInt();
        QCOMPARE(normals.size(), 1);
        const QJsonArray used = j[QStringLiteral("extensionsUsed")].toArray();
        QVERIFY(used.contains(QStringLiteral("KHR_materials_variants")));
    }

    void filesApart() {
        const auto made = write(*loadProject(kData / "ferry-kitchen.palekettle"), square(), {"celadon"},
                                {at("my set.gltf"), true});
        QVERIFY(made);
        QVERIFY(made->files.size() > 2);
        for (const auto& file : made->files) QVERIFY2(std::filesystem::exists(file), file.c_str());
        const QJsonObject j = QJsonDocument::fromJson(bytesOf(at("my set.gltf"))).object();
        for (const auto& image : j[QStringLiteral("images")].toArray()) {
            const QString uri = image[QStringLiteral("uri")].toString();
            QVERIFY2(QFile::exists(m_folder->filePath(uri)), qPrintable(uri));
            QVERIFY(!uri.contains(QLatin1Char(' ')));
        }
        QVERIFY(j[QStringLiteral("images")][0][QStringLiteral("uri")].toString().endsWith(
            QStringLiteral(".jpg")));
        QCOMPARE(j[QStringLiteral("buffers")][0][QStringLiteral("byteLength")].toInteger(),
                 QFileInfo(m_folder->filePath(QStringLiteral("my-set.bin"))).size());
    }

    void opacityIsCutOrBlended() {
        Project p = plain();
        p.lines.emplace_back(line("see", Kind::Scalar, "opacity", {step("o", "value", {{"value", 0.4}})}));
        QVERIFY(write(p, square(), {""}, {at("see.glb")}));
        QJsonObject material = jsonOf(at("see.glb"))[QStringLiteral("materials")][0].toObject();
        QCOMPARE(material[QStringLiteral("alphaMode")].toString(), QStringLiteral("BLEND"));
        QVERIFY(
            std::abs(material[QStringLiteral("pbrMetallicRoughness")][QStringLiteral("baseColorFactor")][3]
                         .toDouble() -
                     0.4) < 0.003);
        p.lines.back().edit().steps[0].edit().controls["value"] = 0.0;
        QVERIFY(write(p, square(), {""}, {at("cut.glb")}));
        material = jsonOf(at("cut.glb"))[QStringLiteral("materials")][0].toObject();
        QCOMPARE(material[QStringLiteral("alphaMode")].toString(), QStringLiteral("MASK"));
        p.lines.back().edit().steps[0].edit().controls["value"] = 1.0;
        QVERIFY(write(p, square(), {""}, {at("full.glb")}));
        QVERIFY(!jsonOf(at("full.glb"))[QStringLiteral("materials")][0].toObject().contains(
            QStringLiteral("alphaMode")));
    }

    void coatSheenAndSpecular() {
        Project p = plain();
        const auto number = [&](const char* channel, double value) {
            p.lines.emplace_back(
                line(channel, Kind::Scalar, channel,
                     {step((std::string("s") + channel).c_str(), "value", {{"value", value}})}));
        };
        number("coat", 0.8);
        number("coat-roughness", 0.2);
        number("specular-level", 0.25);
        p.lines.emplace_back(line("sheen", Kind::Colour, "sheen-colour",
                                  {step("sh", "colour", {{"colour", Colour{0.2f, 0.4f, 0.6f}}})}));
        QVERIFY(write(p, square(), {""}, {at("rich.glb")}));
        const QJsonObject j = jsonOf(at("rich.glb"));
        const auto extensions = j[QStringLiteral("materials")][0][QStringLiteral("extensions")];
        const auto coat = extensions[QStringLiteral("KHR_materials_clearcoat")];
        QVERIFY(std::abs(coat[QStringLiteral("clearcoatFactor")].toDouble() - 0.8) < 0.003);
        QVERIFY(std::abs(coat[QStringLiteral("clearcoatRoughnessFactor")].toDouble() - 0.2) < 0.003);
        QVERIFY(
            std::abs(extensions[QStringLiteral("KHR_materials_sheen")][QStringLiteral("sheenColorFactor")][1]
                         .toDouble() -
                     0.4) < 0.004);
        // 4 % times two times a quarter: what a level of 0.25 means.
        const auto specular = extensions[QStringLiteral("KHR_materials_specular")];
        QVERIFY(std::abs(specular[QStringLiteral("specularFactor")].toDouble() *
                             specular[QStringLiteral("specularColorFactor")][0].toDouble() -
                         0.5) < 0.01);
        QCOMPARE(j[QStringLiteral("extensionsUsed")].toArray().size(), 3);
    }

    void aStrongEmissionKeepsItsStrength() {
        Project p = plain();
        p.lines.emplace_back(line("glow", Kind::Colour, "emission",
                                  {step("e", "colour", {{"colour", Colour{1.0f, 0.5f, 0.25f}}}),
                                   step("x", "tone", {{"exposure", 3.0}})}));
        QVERIFY(write(p, square(), {""}, {at("glow.glb")}));
        QJsonObject m = jsonOf(at("glow.glb"))[QStringLiteral("materials")][0].toObject();
        const double strength =
            m[QStringLiteral("extensions")][QStringLiteral("KHR_materials_emissive_strength")]
             [QStringLiteral("emissiveStrength")]
                 .toDouble();
        QVERIFY2(std::abs(strength - 8) < 0.01, qPrintable(QString::number(strength)));
        QVERIFY(std::abs(m[QStringLiteral("emissiveFactor")][0].toDouble() - 1) < 0.01);
        QVERIFY(std::abs(m[QStringLiteral("emissiveFactor")][2].toDouble() - 0.25) < 0.01);
        p.lines.back().edit().steps[1].edit().controls["exposure"] = -1.0;
        QVERIFY(write(p, square(), {""}, {at("faint.glb")}));
        m = jsonOf(at("faint.glb"))[QStringLiteral("materials")][0].toObject();
        QVERIFY(!m.contains(QStringLiteral("extensions")));
        QVERIFY(std::abs(m[QStringLiteral("emissiveFactor")][0].toDouble() - 0.5) < 0.005);
    }

    void anEmissionThatVariesIsATexture() {
        Project p = plain();
        p.lines.emplace_back(line("glow", Kind::Colour, "emission",
                                  {step("g", "gradient"), step("x", "tone", {{"exposure", 2.0}})}));
        const auto made = write(p, square(), {""}, {at("glow.gltf")});
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        const QJsonObject j = QJsonDocument::fromJson(bytesOf(at("glow.gltf"))).object();
        const QJsonValue m = j[QStringLiteral("materials")][0];
        const int texture = m[QStringLiteral("emissiveTexture")][QStringLiteral("index")].toInt(-1);
        QVERIFY(texture >= 0);
        const int image = j[QStringLiteral("textures")][texture][QStringLiteral("source")].toInt(-1);
        const auto pixels =
            readImage(at(qPrintable(j[QStringLiteral("images")][image][QStringLiteral("uri")].toString())));
        QVERIFY(pixels);
        // Strength, factor and texture together are the line's own light, at every tenth pixel of a row.
        const double strength =
                         m[QStringLiteral("extensions")][QStringLiteral("KHR_materials_emissive_strength")]
                          [QStringLiteral("emissiveStrength")]
                              .toDouble(1),
                     factor = m[QStringLiteral("emissiveFactor")][0].toDouble();
        for (int x = 2; x < pixels->width; x += 10) {
            const float code = pixels->row<std::uint8_t>(30)[x * pixels->channels];
            const auto own = evaluate(p, "glow", {}, (static_cast<float>(x) + 0.5f) / 64, 1 - 30.5f / 64);
            const double told = strength * factor * static_cast<double>(srgbToLinear(code / 255));
            QVERIFY2(std::abs(told - static_cast<double>(own[0])) < 0.02 * strength,
                     qPrintable(QStringLiteral("%1: %2 for %3").arg(x).arg(told).arg(own[0])));
        }
    }

    void mirroredTangentsKeepTheirSide() {
        Mesh mirrored = square();
        for (std::size_t corner : {1u, 2u}) mirrored.tangents[corner].side = -1;
        QVERIFY(write(withNormals(), mirrored, {""}, {at("mirrored.gltf")}));
        const auto numbers = accessor(at("mirrored.gltf"), QStringLiteral("TANGENT"), 4);
        QCOMPARE(numbers.size(), std::size_t{16});
        for (std::size_t corner = 0; corner < 4; ++corner) {
            QCOMPARE(numbers[4 * corner], 1.0f);  // along the model's x
            QCOMPARE(numbers[4 * corner + 3], corner == 1 || corner == 2 ? -1.0f : 1.0f);
        }
    }

    void aTileOfTheSecondRowIsAWholeTexture() {
        Mesh mesh = square();
        for (Vec2& uv : mesh.uvs) uv.x += 2, uv.y += 1;  // tile 1013
        QTemporaryDir maps;
        const std::filesystem::path path = maps.path().toStdString();
        for (const int tile : {1003, 1013})
            QVERIFY(
                writePicture(path / ("t." + std::to_string(tile) + ".png"), 8, 8, 3, [&](int x, int y, int) {
                    return (tile - 1000) * 8 + x + 8 * y;
                }).has_value());
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"base-colour", "t.<UDIM>.png", "auto", {}}}, {}});
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour")}));
        const Resources resources(path);
        BakeOptions bake;
        bake.size = 8;
        const auto baked = bakeMaterials(p, resources, bake);
        QVERIFY2(baked, baked ? "" : baked.error().sentence.c_str());
        const auto made = writeGltf(mesh, p, *baked, {""}, "As received", {at("tile.gltf")});
        QVERIFY2(made, made ? "" : made.error().sentence.c_str());
        // glTF counts from the top; within the tile from 0 to 1.
        const auto uvs = accessor(at("tile.gltf"), QStringLiteral("TEXCOORD_0"), 2);
        const Mesh plainSquare = square();
        QCOMPARE(uvs.size(), std::size_t{8});
        for (std::size_t i = 0; i < 4; ++i) {
            QVERIFY(std::abs(uvs[2 * i] - plainSquare.uvs[i].x) < 1e-5f);
            QVERIFY(std::abs(uvs[2 * i + 1] - (1 - plainSquare.uvs[i].y)) < 1e-5f);
        }
        const QJsonObject j = QJsonDocument::fromJson(bytesOf(at("tile.gltf"))).object();
        const int material =
            j[QStringLiteral("meshes")][0][QStringLiteral("primitives")][0][QStringLiteral("material")].toInt(
                -1);
        const int texture = j[QStringLiteral("materials")][material][QStringLiteral("pbrMetallicRoughness")]
                             [QStringLiteral("baseColorTexture")][QStringLiteral("index")]
                                 .toInt(-1);
        const int image = j[QStringLiteral("textures")][texture][QStringLiteral("source")].toInt(-1);
        const auto pixels =
            readImage(at(qPrintable(j[QStringLiteral("images")][image][QStringLiteral("uri")].toString())));
        QVERIFY(pixels);
        QCOMPARE(int{pixels->row<std::uint8_t>(0)[0]}, 13 * 8);
    }

    void whatCannotBeWrittenIsRefused() {
        Mesh bare = square();
        bare.partHasUv = {0};
        const auto without = write(plain(), bare, {""}, {at("bare.glb")});
        QCOMPARE(without.error().kind, ErrorKind::Refused);
        QVERIFY(QString::fromStdString(without.error().sentence).contains(QStringLiteral("Tile")));
        QCOMPARE(write(plain(), square(), {""}, {at("model.obj")}).error().kind, ErrorKind::Refused);
        QCOMPARE(write({}, square(), {""}, {at("none.glb")}).error().kind, ErrorKind::Refused);
        QCOMPARE(write(plain(), square(), {""}, {at("gone/model.glb")}).error().kind, ErrorKind::Write);
        QVERIFY(!std::filesystem::exists(at("bare.glb")));
    }
};

QTEST_APPLESS_MAIN(GltfTest)
#include "gltf_test.moc"
