// The surface under known light, the environment, and the preview from coarse to fine.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <fstream>
#include <numbers>

#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/document/json.h"
#include "core/shading/preview.h"
#include "core/shading/surface.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

ShadingPoint facing(float cosine) {
    ShadingPoint p;
    p.normal = {0, 0, 1};
    p.tangent = {1, 0, 0};
    p.view = {std::sqrt(1 - cosine * cosine), 0, cosine};
    return p;
}

const std::filesystem::path kData = KETTLE_DATA_DIR;

PreviewRequest kettleRequest(Preview& preview) {
    PreviewRequest r;
    r.project = *loadProject(kData / "ferry-kitchen.palekettle");
    r.width = 120;
    r.height = 90;
    r.camera.frame((*preview.scene("kettle"))->mesh(), 120.0f / 90);
    return r;
}

double meanDifference(const Picture& a, const Picture& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.pixels.size(); ++i)
        for (int shift = 0; shift <= 16; shift += 8)
            sum += std::abs(static_cast<int>(a.pixels[i] >> shift & 255) -
                            static_cast<int>(b.pixels[i] >> shift & 255));
    return sum / static_cast<double>(a.pixels.size() * 3);
}

}  // namespace

class ShadingTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theWhiteFurnaceIsWhite() {
        const auto light = Environment::uniform({1, 1, 1});
        for (const float metalness : {0.0f, 0.5f, 1.0f})
            for (int r = 0; r <= 10; ++r)
                for (const float cosine : {0.2f, 0.5f, 0.8f, 1.0f}) {
                    SurfaceValues s;
                    s.baseColour = {1, 1, 1};
                    s.metalness = metalness;
                    s.roughness = static_cast<float>(r) / 10;
                    const Vec3 c = shade(s, facing(cosine), *light, 0);
                    QVERIFY2(std::fabs(c.x - 1) < 0.02f,
                             qPrintable(QStringLiteral("metal %1 rough %2 cosine %3: %4")
                                            .arg(metalness)
                                            .arg(r / 10.0)
                                            .arg(cosine)
                                            .arg(c.x)));
                }
    }
    void aMirrorShowsTheEnvironment() {
        const auto light = Environment::uniform({0.25f, 0.5f, 0.75f});
        SurfaceValues s;
        s.baseColour = {1, 1, 1};
        s.metalness = 1;
        s.roughness = 0;
        const Vec3 c = shade(s, facing(0.9f), *light, 0);
        QVERIFY(std::fabs(c.x - 0.25f) < 0.01f && std::fabs(c.y - 0.5f) < 0.02f &&
                std::fabs(c.z - 0.75f) < 0.02f);
    }
    void theSplitSumMeetsItsLimits() {
        // A mirror reflects all (scale + bias = 1); Schlick's Fresnel at the normal of a mirror has no bias.
        for (const float cosine : {0.3f, 0.7f, 1.0f}) {
            const Vec2 ab = environmentBrdf(cosine, 0);
            QVERIFY(std::fabs(ab.x + ab.y - 1) < 0.01f);
            QVERIFY(std::fabs(ab.y - std::pow(1 - cosine, 5.0f)) < 0.02f);
        }
        QVERIFY(environmentBrdf(0.5f, 1).x < environmentBrdf(0.5f, 0.2f).x);
    }
    void occlusionDarkensAndEmissionAdds() {
        const auto light = Environment::uniform({1, 1, 1});
        SurfaceValues s;
        s.roughness = 1;
        const float open = shade(s, facing(1), *light, 0).x;
        s.occlusion = 0.3f;
        QVERIFY(shade(s, facing(1), *light, 0).x < 0.5f * open);
        s.occlusion = 1;
        s.emission = {2, 0, 0};
        QVERIFY(std::fabs(shade(s, facing(1), *light, 0).x - open - 2) < 1e-5f);
    }
    void everyInputGivesAFinitePicture() {
        const auto light = Environment::uniform({1, 1, 1});
        for (const float extreme : {-5.0f, 0.0f, 1.0f, 80.0f}) {
            SurfaceValues s;
            s.baseColour = {extreme, extreme, extreme};
            s.metalness = s.roughness = s.specularLevel = s.occlusion = extreme;
            s.normal = {extreme, -extreme, -1};
            const Vec3 c = shade(s, facing(0.1f), *light, 1);
            QVERIFY(std::isfinite(c.x) && c.x >= 0);
        }
    }
    void aBrightSpotBecomesTheKeyLight() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("spot.exr")).toStdString();
        PixelBuffer p = PixelBuffer::make(64, 32, 3, Depth::Float);
        for (int i = 0; i < 64 * 32 * 3; ++i) reinterpret_cast<float*>(p.bytes.data())[i] = 0.1f;
        // Straight ahead (-z) and 45 degrees up: the middle column, a quarter from the top.
        for (int y = 7; y <= 8; ++y)
            for (int x = 31; x <= 32; ++x)
                for (int c = 0; c < 3; ++c) p.row<float>(y)[x * 3 + c] = 1000;
        QVERIFY(writeImage(file, p, FileFormat::ExrFloat, "").has_value());
        const auto light = *Environment::load(file);
        const Vec3 expected = normalised({0, 1, -1});
        QVERIFY(dot(light->keyDirection(), expected) > 0.999f);
        // 4 pixels of 1000, less the part that stays in the picture.
        const double solid =
            4 * std::sin(0.25 * std::numbers::pi) * std::numbers::pi * 2 * std::numbers::pi / (64 * 32);
        QVERIFY(std::fabs(static_cast<double>(light->keyIrradiance().x) - 1000 * solid) < 40 * solid * 5);
        // What is left is even: the diffuse from below is the 0.1 of everywhere.
        QVERIFY(std::fabs(light->diffuse({0, -1, 0}).x - 0.1f) < 0.02f);
    }
    void aPreparedLightIsTheSame() {
        QTemporaryDir folder, kept;
        const std::filesystem::path file = folder.filePath(QStringLiteral("deck.exr")).toStdString();
        std::filesystem::copy_file(kData / "environments" / "morning-deck.exr", file);
        const PreparedMaps prepared(kept.path().toStdString());
        const auto first = *Environment::load(file, &prepared, true);
        QCOMPARE(QDir(kept.path()).entryList(QDir::Files).size(), 1);
        // The file seems as it was, so that it is not read again.
        const auto time = std::filesystem::last_write_time(file);
        {
            // Where the stamp does not look.
            std::fstream bytes(file, std::ios::in | std::ios::out | std::ios::binary);
            bytes.seekp(4096);
            bytes << std::string(8000, 'x');
        }
        std::filesystem::last_write_time(file, time);
        const auto again = *Environment::load(file, &prepared);
        QVERIFY(again->tables().texels == first->tables().texels);
        QVERIFY(again->keyDirection() == first->keyDirection());
        QVERIFY(again->keyIrradiance() == first->keyIrradiance());
        // Another file under its name is another light.
        const auto other = kData / "environments" / "galley-lamp.exr";
        std::filesystem::copy_file(other, file, std::filesystem::copy_options::overwrite_existing);
        std::filesystem::last_write_time(file, time + std::chrono::seconds(9));
        const auto changed = *Environment::load(file, &prepared, true);
        QVERIFY(changed->tables().texels == (*Environment::load(other))->tables().texels);
        QVERIFY(changed->tables().texels != first->tables().texels);
    }
    void aPictureOfTheWrongShapeIsNoEnvironment() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("a.png")).toStdString();
        QVERIFY(writePicture(file, 8, 8, 3, [](int, int, int) { return 9; }).has_value());
        const auto light = Environment::load(file);
        QVERIFY(QString::fromStdString(light.error().sentence)
                    .contains(QStringLiteral(
                        "is not an environment: it must be a half or float picture twice as wide as high")));
    }
    void demoEnvironmentsAreSound() {
        for (const std::string& name : stemsIn(kData / "environments", {".exr"})) {
            const auto light = Environment::load(kData / "environments" / (name + ".exr"));
            QVERIFY2(light.has_value(), name.c_str());
            QVERIFY((*light)->diffuse({0, 1, 0}).x > 0.02f);
            QVERIFY(std::fabs(length((*light)->keyDirection()) - 1) < 1e-4f);
        }
        QCOMPARE(stemsIn(kData / "environments", {".exr"}).size(), std::size_t{3});
        QCOMPARE(stemsIn(kData / "models", {".obj"}).size(), std::size_t{6});
    }
    void displayCodesAreTheCurves() {
        const Picture p = toDisplay({{0.18f, 0.0f, 1.0f}, {2, -1, 0.5f}}, 2, 1, 0, "standard");
        QCOMPARE(p.pixels[0], 0xFF000000u | 118u << 16 | 0u << 8 | 255u);
        QCOMPARE(p.pixels[1], 0xFF000000u | 255u << 16 | 0u << 8 | 188u);
        QCOMPARE(toDisplay({{0.25f, 0.25f, 0.25f}}, 1, 1, 1, "standard").pixels[0] & 255u,
                 188u);  // one stop up
        QVERIFY((toDisplay({{4, 4, 4}}, 1, 1, 0, "soft").pixels[0] & 255u) < 255u);
        QCOMPARE(toDisplay({{0.3f, 0.3f, 0.3f}}, 1, 1, 0, "soft").pixels[0],
                 toDisplay({{0.3f, 0.3f, 0.3f}}, 1, 1, 0, "standard").pixels[0]);
    }
    void thePreviewGoesFromCoarseToFine() {
        Preview preview(kData / "models", kData / "environments");
        const PreviewRequest r = kettleRequest(preview);
        const Resources resources(kData);
        const auto coarse = preview.render(r, resources, 0);
        QVERIFY(coarse.has_value());
        QCOMPARE(coarse->width, 40);
        std::vector<Picture> fine;
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            fine.push_back(*preview.render(r, resources, stage));
        QCOMPARE(fine[0].width, 120);
        QVERIFY(preview.problems().empty());
        // The passes converge: the last two differ less than the first two.
        QVERIFY(meanDifference(fine[4], fine[5]) < meanDifference(fine[0], fine[1]));
        QVERIFY(meanDifference(fine[0], fine[5]) < 6);
    }
    void aLookIsSeenAndAFullRunIsRepeatable() {
        Preview preview(kData / "models", kData / "environments");
        PreviewRequest r = kettleRequest(preview);
        const Resources resources(kData);
        const Picture red = *preview.render(r, resources, 1);
        r.look = "celadon";
        const Picture green = *preview.render(r, resources, 1);
        QVERIFY(meanDifference(red, green) > 8);
        r.look.clear();
        QCOMPARE(preview.render(r, resources, 1)->pixels, red.pixels);
    }
    void lookHereShowsTheStepUnlit() {
        Preview preview(kData / "models", kData / "environments");
        PreviewRequest r = kettleRequest(preview);
        r.project = colourThrough({0.25f, 0.5f, 0.75f}, step("t", "hsv-shift"));
        r.lookHere = LookHere{"base", "source", {}};
        const Picture p = *preview.render(r, Resources(kData), 1);
        const std::uint32_t expected =
            0xFF000000u | static_cast<std::uint32_t>(toByte(linearToSrgb(0.25f))) << 16 |
            static_cast<std::uint32_t>(toByte(linearToSrgb(0.5f))) << 8 | toByte(linearToSrgb(0.75f));
        QCOMPARE(p.pixels[static_cast<std::size_t>(60 * 120 + 58)], expected);
    }
    void whatIsMissingIsASentence() {
        Preview preview(kData / "models", kData / "environments");
        PreviewRequest r = kettleRequest(preview);
        r.project.view.model = "samovar";
        QCOMPARE(preview.render(r, Resources(kData), 1).error().kind, ErrorKind::Missing);
        r.project.view.model = "kettle";
        r.project.view.environment = "the-moon";
        QCOMPARE(preview.render(r, Resources(kData), 1).error().kind, ErrorKind::Missing);
        r.project.view.environment = "morning-deck";
        r.project.sets[0].edit().maps[0].file = "gone.png";
        QVERIFY(preview.render(r, Resources(kData), 1).has_value());
        QCOMPARE(preview.problems().size(), std::size_t{1});
    }
    void aCancelledPictureIsNoFailure() {
        Preview preview(kData / "models", kData / "environments");
        const PreviewRequest r = kettleRequest(preview);
        CancelToken cancel;
        cancel.cancel();
        QCOMPARE(preview.render(r, Resources(kData), 1, cancel).error().kind, ErrorKind::Cancelled);
    }
};

QTEST_APPLESS_MAIN(ShadingTest)
#include "shading_test.moc"
