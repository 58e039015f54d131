// What the lit picture promises beside its shading: see-through parts show the paper, raw numbers do not
// change with the light's exposure, passes are means, a turned light casts other shadows, highlights roll off
// by a known curve.
#include <QtTest>
#include <cmath>
#include <map>

#include "core/colour/encoding.h"
#include "core/shading/preview.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;
constexpr int kWidth = 96, kHeight = 72;

/// A grey kettle whose opacity is a constant.
Project paint(double opacity) {
    Project p;
    p.lines.emplace_back(line("base", Kind::Colour, "base-colour",
                              {step("c", "colour", {{"colour", Colour{0.6f, 0.2f, 0.1f}}})}));
    p.lines.emplace_back(
        line("opacity", Kind::Scalar, "opacity", {step("o", "value", {{"value", opacity}})}));
    return p;
}

PreviewRequest requestOf(Preview& preview, Project project) {
    PreviewRequest r;
    r.project = std::move(project);
    r.width = kWidth;
    r.height = kHeight;
    r.camera.frame((*preview.scene("kettle"))->mesh(), static_cast<float>(kWidth) / kHeight);
    return r;
}

int red(std::uint32_t pixel) {
    return static_cast<int>(pixel >> 16 & 255);
}
float linearOf(std::uint32_t pixel, int shift) {
    return srgbTable()[pixel >> shift & 255];
}

double meanOf(const Picture& p) {
    double sum = 0;
    for (const std::uint32_t pixel : p.pixels)
        for (const int shift : {0, 8, 16}) sum += static_cast<double>(linearOf(pixel, shift));
    return sum / static_cast<double>(p.pixels.size() * 3);
}

}  // namespace

class PreviewPromisesTest final : public QObject {
    Q_OBJECT

    Preview m_preview{kData / "models", kData / "environments"};
    Resources m_resources{kData};
    const std::size_t m_middle = static_cast<std::size_t>(kHeight / 2 * kWidth + kWidth / 2);

    Picture full(const PreviewRequest& r) { return *m_preview.render(r, m_resources, 1); }

private Q_SLOTS:
    void whatIsTransparentShowsThePaper() {
        const Picture opaque = full(requestOf(m_preview, paint(1))),
                      clear = full(requestOf(m_preview, paint(0)));
        const float paper = surroundOf("middle");
        QVERIFY(std::abs(red(clear.pixels[m_middle]) - toByte(linearToSrgb(paper))) <= 1);
        // The glaze's red may be as bright as the paper; its green is not.
        QVERIFY(linearOf(clear.pixels[m_middle], 8) - linearOf(opaque.pixels[m_middle], 8) > 0.1f);
    }
    void numbersThatAreLookedAtDoNotDependOnTheExposure() {
        PreviewRequest r = requestOf(m_preview, paint(0.25));
        r.lookHere = LookHere{"opacity", "o", {}};
        for (const double exposure : {0.0, 2.0, -3.0}) {
            r.project.view.exposure = exposure;
            QVERIFY(std::abs(red(full(r).pixels[m_middle]) - 64) <= 1);  // 0.25 of 255
        }
        // The lit surface does.
        r.lookHere.reset();
        r.project.view.exposure = 0;
        const int before = red(full(r).pixels[m_middle]);
        r.project.view.exposure = -2;
        const Picture darker = full(r);
        QVERIFY(red(darker.pixels[m_middle]) < before);
        QVERIFY(std::abs(red(darker.pixels[0]) - toByte(linearToSrgb(surroundOf("middle")))) <=
                1);  // the paper not
    }
    void passesAreMeans() {
        const PreviewRequest r = requestOf(m_preview, paint(1));
        const double first = meanOf(full(r));
        for (int stage = 2; stage <= Preview::kLastStage; ++stage) {
            const double mean = meanOf(*m_preview.render(r, m_resources, stage));
            QVERIFY2(std::fabs(mean - first) < 0.01 * first, std::to_string(mean / first).c_str());
        }
    }
    void aTurnedLightIsSeenAtOnce() {
        // What was kept from the picture before must not stand in for what the turn changes: shadows above
        // all.
        PreviewRequest r = requestOf(m_preview, paint(1));
        const Picture still = full(r);
        r.project.view.environmentTurn = 120;
        const Picture turned = full(r);
        Preview fresh(kData / "models", kData / "environments");
        QCOMPARE(turned.pixels, fresh.render(r, m_resources, 1)->pixels);
        QVERIFY(turned.pixels != still.pixels);
    }
    void theKeyLightHasASize() {
        const auto scene = *m_preview.scene("kettle");
        Camera camera;
        camera.frame(scene->mesh(), static_cast<float>(kWidth) / kHeight);
        const auto steps = [&](float radius) {
            ViewOptions options;
            options.keyRadius = radius;
            std::map<float, int> found;
            for (const Surfel& s : castView(*scene, camera, kWidth, kHeight, options).surfels)
                ++found[s.keyLight];
            return found;
        };
        const auto point = steps(0), disc = steps(8);
        QCOMPARE(point.size(), std::size_t{2});  // in the light or not
        QVERIFY(disc.size() > 2);
        QVERIFY(disc.at(0) > 0 && disc.at(1) > 0);
    }
    void theSoftShoulderIsItsCurve() {
        // Straight to 0.6; then 0.6 + 0.4 d / (d + 0.4), d being what is beyond.
        const auto code = [](float x, const char* transform) {
            return static_cast<int>(toDisplay({{x, x, x}}, 1, 1, 0, transform).pixels[0] & 255u);
        };
        for (const float x : {0.1f, 0.45f, 0.59f}) QCOMPARE(code(x, "soft"), code(x, "standard"));
        for (const float x : {0.8f, 1.0f, 2.0f, 8.0f}) {
            const float wanted = 0.6f + 0.4f * (x - 0.6f) / (x - 0.2f);
            QVERIFY(std::abs(code(x, "soft") - toByte(linearToSrgb(wanted))) <= 1);
        }
    }
};

QTEST_GUILESS_MAIN(PreviewPromisesTest)
#include "preview_promises_test.moc"
