// The surface under light that is not the same from everywhere: known answers for the key light, turned
// environments, mirrored tangents, Fresnel's angle and the square of roughness.
#include <QtTest>
#include <cmath>
#include <numbers>

#include "core/image/image.h"
#include "core/shading/surface.h"

#include <QTemporaryDir>

using namespace kettle;

namespace {

constexpr float kPi = std::numbers::pi_v<float>;

/// An environment that is black but for one lamp: a texel of a picture of 64 x 32.
std::shared_ptr<const Environment> lamp(int x, int y, float radiance, float everywhere = 0) {
    static QTemporaryDir folder;
    const std::filesystem::path file = folder.path().toStdString() + "/lamp.exr";
    PixelBuffer p = PixelBuffer::make(64, 32, 3, Depth::Float);
    for (int j = 0; j < 32; ++j)
        for (int i = 0; i < 64 * 3; ++i) p.row<float>(j)[i] = everywhere;
    for (int c = 0; c < 3; ++c) p.row<float>(y)[x * 3 + c] = radiance;
    if (!writeImage(file, p, FileFormat::ExrFloat, "")) return nullptr;
    return *Environment::load(file);
}

/// Soft light without a lamp: red from +x (the picture's third quarter), green from -x, blue from -z (its
/// middle), and little from behind.
std::shared_ptr<const Environment> fourSides() {
    static QTemporaryDir folder;
    const std::filesystem::path file = folder.path().toStdString() + "/sides.exr";
    PixelBuffer p = PixelBuffer::make(64, 32, 3, Depth::Float);
    for (int j = 0; j < 32; ++j)
        for (int i = 0; i < 64; ++i) {
            float* pixel = p.row<float>(j) + i * 3;
            pixel[0] = i >= 40 && i < 56 ? 1.0f : 0.1f;
            pixel[1] = i >= 8 && i < 24 ? 1.0f : 0.1f;
            pixel[2] = i >= 24 && i < 40 ? 1.0f : 0.1f;
        }
    if (!writeImage(file, p, FileFormat::ExrFloat, "")) return nullptr;
    return *Environment::load(file);
}

ShadingPoint towards(Vec3 normal, Vec3 view) {
    ShadingPoint p;
    p.normal = normalised(normal);
    p.tangent = normalised(cross({0.3f, 1, 0.2f}, p.normal));
    p.view = normalised(view);
    return p;
}

SurfaceValues plain(float roughness, float metalness = 0, float level = 0.5f) {
    SurfaceValues s;
    s.baseColour = {0.5f, 0.5f, 0.5f};
    s.roughness = roughness;
    s.metalness = metalness;
    s.specularLevel = level;
    return s;
}

bool near(float a, float b, float relative) {
    return std::fabs(a - b) <= relative * std::max(std::fabs(a), std::fabs(b));
}

}  // namespace

class LightTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theKeyLightStandsWhereItIsInThePicture() {
        // Column x is at longitude (x + 0.5) / 64 - 0.5 turns from -z towards +x, row y at latitude from
        // above.
        for (const auto& [x, y] : {std::pair{32, 8}, {48, 12}, {10, 4}}) {
            const auto e = lamp(x, y, 5000);
            const float phi = ((static_cast<float>(x) + 0.5f) / 64 - 0.5f) * 2 * kPi,
                        theta = (static_cast<float>(y) + 0.5f) / 32 * kPi;
            const Vec3 wanted{std::sin(theta) * std::sin(phi), std::cos(theta),
                              -std::sin(theta) * std::cos(phi)};
            QVERIFY(dot(e->keyDirection(), wanted) > 0.999f);
            // What arrives: radiance times the texel's solid angle.
            const float solid = std::sin(theta) * kPi * 2 * kPi / (64 * 32);
            QVERIFY(near(e->keyIrradiance().x, 5000 * solid, 0.05f));
        }
    }
    void aLambertSurfaceGetsCosineTimesIrradianceOverPi() {
        const auto e = lamp(40, 8, 5000);
        const Vec3 key = e->keyDirection();
        Vec3 across = normalised(cross(key, {0, 1, 0}));
        // Without a mirror: no specular level, fully rough.
        for (const float angle : {0.0f, 0.6f, 1.1f}) {
            const Vec3 n = key * std::cos(angle) + across * std::sin(angle);
            const SurfaceValues s = plain(1, 0, 0);
            ShadingPoint lit = towards(n, n), hidden = lit;
            hidden.keyLight = 0;
            const float got = shade(s, lit, *e, 0).x - shade(s, hidden, *e, 0).x;
            QVERIFY(near(got, 0.5f / kPi * e->keyIrradiance().x * std::cos(angle), 0.02f));
            lit.keyLight = 0.25f;
            QVERIFY(near(shade(s, lit, *e, 0).x - shade(s, hidden, *e, 0).x, got / 4, 0.01f));
        }
        // Turned away nothing arrives.
        const ShadingPoint away = towards(-key, -key);
        ShadingPoint dark = away;
        dark.keyLight = 0;
        QCOMPARE(shade(plain(1, 0, 0), away, *e, 0).x, shade(plain(1, 0, 0), dark, *e, 0).x);
    }
    void turningTheEnvironmentTurnsLightAndReflection() {
        const auto e = lamp(40, 9, 5000, 0.1f);
        for (const float turn : {0.7f, -1.3f, 2.9f}) {
            // Turning the world by the same angle about y changes nothing.
            const auto turned = [&](Vec3 v) {
                return Vec3{v.x * std::cos(turn) + v.z * std::sin(turn), v.y,
                            -v.x * std::sin(turn) + v.z * std::cos(turn)};
            };
            for (const Vec3 normal : {Vec3{0.3f, 0.8f, 0.5f}, Vec3{-0.5f, 0.6f, 0.2f}}) {
                const Vec3 view = normalised(Vec3{0.1f, 0.7f, 0.6f});
                const float before = shade(plain(0.4f, 1), towards(normal, view), *e, 0).x;
                const float after = shade(plain(0.4f, 1), towards(turned(normal), turned(view)), *e, turn).x;
                QVERIFY2(near(before, after, 0.03f),
                         qPrintable(QStringLiteral("%1 %2").arg(before).arg(after)));
                const float wrong = shade(plain(0.4f, 1), towards(turned(normal), turned(view)), *e, -turn).x;
                QVERIFY(!near(before, wrong, 0.03f));
            }
        }
    }
    void everySideOfThePictureIsWhereItBelongs() {
        const auto e = fourSides();
        QCOMPARE(length(e->keyIrradiance()), 0.0f);
        for (const float roughness : {0.0f, 0.3f}) {
            const Vec3 right = e->reflected({1, 0, 0}, roughness), left = e->reflected({-1, 0, 0}, roughness),
                       ahead = e->reflected({0, 0, -1}, roughness),
                       behind = e->reflected({0, 0, 1}, roughness);
            QVERIFY(right.x > 0.8f && right.y < 0.3f && right.z < 0.3f);
            QVERIFY(left.y > 0.8f && left.x < 0.3f && left.z < 0.3f);
            QVERIFY(ahead.z > 0.8f && ahead.x < 0.3f && ahead.y < 0.3f);
            QVERIFY(behind.x < 0.3f && behind.y < 0.3f && behind.z < 0.3f);
        }
        const Vec3 right = e->diffuse({1, 0, 0}), left = e->diffuse({-1, 0, 0});
        QVERIFY(right.x > 2 * right.y && left.y > 2 * left.x && near(right.x, left.y, 0.01f));
    }
    void diffuseLightIsTheCosinesIntegral() {
        // Over all of the picture's texels: radiance times cosine, divided by pi: within 1 % of
        // the brightest.
        const auto e = fourSides();
        const auto radiance = [](int i) {
            return Vec3{i >= 40 && i < 56 ? 1.0f : 0.1f, i >= 8 && i < 24 ? 1.0f : 0.1f,
                        i >= 24 && i < 40 ? 1.0f : 0.1f};
        };
        for (const Vec3 n :
             {Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, -1}, normalised(Vec3{-1, 0.5f, 0.3f})}) {
            Vec3 sum;
            for (int j = 0; j < 32; ++j)
                for (int i = 0; i < 64; ++i) {
                    const float theta = (static_cast<float>(j) + 0.5f) / 32 * kPi,
                                phi = ((static_cast<float>(i) + 0.5f) / 64 - 0.5f) * 2 * kPi;
                    const Vec3 l{std::sin(theta) * std::sin(phi), std::cos(theta),
                                 -std::sin(theta) * std::cos(phi)};
                    sum += radiance(i) *
                           (std::max(dot(n, l), 0.0f) * std::sin(theta) * (kPi / 32) * (kPi / 32) / kPi);
                }
            const Vec3 d = e->diffuse(n);
            for (const auto& [is, should] : {std::pair{d.x, sum.x}, {d.y, sum.y}, {d.z, sum.z}})
                QVERIFY2(std::fabs(is - should) < 0.01f,
                         qPrintable(QStringLiteral("%1 %2").arg(is).arg(should)));
        }
    }
    void turningTheEnvironmentTurnsTheSoftLight() {
        // A rough surface that mirrors nothing, facing +x: red. With the light a quarter round it gets what
        // came from -z or +z before, by the sense of the turn.
        const auto e = fourSides();
        const auto lit = [&](float turn) {
            return shade(plain(1, 0, 0), towards({1, 0, 0}, {1, 0.1f, 0}), *e, turn);
        };
        const Vec3 still = lit(0), quarter = lit(kPi / 2), back = lit(-kPi / 2), half = lit(kPi);
        QVERIFY(still.x > 2 * still.y && still.x > 2 * still.z);
        QVERIFY(half.y > 2 * half.x && near(half.y, still.x, 0.02f));
        QVERIFY(back.z > 2 * back.x && back.z > 2 * back.y);
        QVERIFY(quarter.x < back.z / 2 && quarter.y < back.z / 2 && quarter.z < back.z / 2);
    }
    void aMirroredTangentTurnsTheBitangentRound() {
        const auto e = lamp(40, 9, 5000);
        ShadingPoint p = towards({0, 1, 0.2f}, {0, 1, 1});
        SurfaceValues up = plain(0.5f), down = up;
        up.normal = normalised({0, 0.5f, 1});
        down.normal = normalised({0, -0.5f, 1});
        ShadingPoint mirrored = p;
        mirrored.side = -p.side;
        QCOMPARE(shade(up, p, *e, 0).x, shade(down, mirrored, *e, 0).x);
        QVERIFY(!near(shade(up, p, *e, 0).x, shade(up, mirrored, *e, 0).x, 0.01f));
        // The bitangent is cross(normal, tangent) times the side.
        const Vec3 bitangent = cross(p.normal, p.tangent) * p.side;
        ShadingPoint bent = towards(p.normal + bitangent * 0.5f, p.view);
        SurfaceValues straight = plain(0.5f);
        QVERIFY(near(shade(up, p, *e, 0).y, shade(straight, bent, *e, 0).y, 0.001f));
    }
    void fresnelGoesByTheAngleToTheHalfVector() {
        // A smooth black dielectric, light and view at equal angles to the normal: the lobe's peak, D V F
        // with F by Schlick at that angle.
        const auto e = lamp(32, 8, 5000);
        const Vec3 key = e->keyDirection(), across = normalised(cross(key, {0, 1, 0}));
        SurfaceValues s = plain(0.5f);
        s.baseColour = {0, 0, 0};
        const float alpha = 0.25f, alpha2 = alpha * alpha;  // roughness squared
        for (const float angle : {0.2f, 0.8f, 1.2f}) {
            const Vec3 n = key * std::cos(angle) + across * std::sin(angle),
                       view = key * std::cos(2 * angle) + across * std::sin(2 * angle);
            ShadingPoint lit = towards(n, view), hidden = lit;
            hidden.keyLight = 0;
            const float got = shade(s, lit, *e, 0).x - shade(s, hidden, *e, 0).x;
            const float c = std::cos(angle), fresnel = 0.04f + 0.96f * std::pow(1 - c, 5.0f);
            const float d = 1 / (kPi * alpha2), v = 0.25f / (c * std::sqrt(c * c * (1 - alpha2) + alpha2));
            const Vec2 ab = environmentBrdf(c, 0.5f);
            const float kept = 1 + 0.04f * (1 / (ab.x + ab.y) - 1);
            const float wanted = d * v * fresnel * kept * e->keyIrradiance().x * c;
            QVERIFY2(near(got, wanted, 0.03f),
                     qPrintable(QStringLiteral("%1: %2 %3").arg(angle).arg(got).arg(wanted)));
        }
    }
    void roughnessIsSquaredOnce() {
        // At the peak head on the lobe is 1 / (pi alpha^2) / 4: from roughness 0.4 to 0.8 it falls by 16.
        const auto e = lamp(32, 8, 5000);
        const ShadingPoint lit = towards(e->keyDirection(), e->keyDirection());
        ShadingPoint hidden = lit;
        hidden.keyLight = 0;
        const auto peak = [&](float roughness) {
            SurfaceValues s = plain(roughness, 1);
            s.baseColour = {0.04f, 0.04f, 0.04f};
            return shade(s, lit, *e, 0).x - shade(s, hidden, *e, 0).x;
        };
        QVERIFY(near(peak(0.4f) / peak(0.8f), 16, 0.06f));
    }
    void noNumberIsNoCrash() {
        const auto e = Environment::uniform({1, 1, 1});
        SurfaceValues s = plain(std::nanf(""));
        s.metalness = s.specularLevel = s.occlusion = std::nanf("");
        const Vec3 got = shade(s, towards({0, 0, 1}, {0, 0, 1}), *e, 0);
        QVERIFY(std::isfinite(got.x) && got.x >= 0);
        QVERIFY(std::isfinite(environmentBrdf(std::nanf(""), std::nanf("")).x));
    }
    void anInfiniteLampIsALargeOne() {
        const auto e = lamp(32, 8, std::numeric_limits<float>::infinity());
        QVERIFY(std::isfinite(e->keyIrradiance().x) && e->keyIrradiance().x > 0);
        QVERIFY(std::isfinite(e->diffuse({0, 1, 0}).x));
    }
};

QTEST_GUILESS_MAIN(LightTest)
#include "light_test.moc"
