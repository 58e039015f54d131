// The fast picture against a slow one: a reference integrator that adds up light from every direction with
// the lobes' published formulas in doubles, without tables, prefiltered pictures or harmonics. One bounce of
// image light.
#include <QtTest>
#include <cmath>
#include <numbers>

#include "core/document/json.h"
#include "core/scene/view_points.h"
#include "core/shading/preview.h"

using namespace kettle;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;
constexpr double kPi = std::numbers::pi;

struct Direction {
    Vec3 towards;
    Vec3 radiance;
    double solidAngle;
};

/// A latitude-longitude picture as directions, averaged down to 128 x 64.
std::vector<Direction> directionsOf(const std::filesystem::path& file) {
    const PixelBuffer p = *readImage(file);
    constexpr int kWidth = 128, kHeight = 64;
    const int step = p.width / kWidth;
    std::vector<Direction> all;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            Vec3 sum;
            for (int j = 0; j < step; ++j)
                for (int i = 0; i < step; ++i) {
                    const float* pixel = p.row<float>(y * step + j) + (x * step + i) * p.channels;
                    sum += Vec3{pixel[0], pixel[1], pixel[2]};
                }
            const double theta = (y + 0.5) / kHeight * kPi, phi = ((x + 0.5) / kWidth - 0.5) * 2 * kPi;
            all.push_back(
                {{static_cast<float>(std::sin(theta) * std::sin(phi)), static_cast<float>(std::cos(theta)),
                  static_cast<float>(-std::sin(theta) * std::cos(phi))},
                 sum * (1.0f / static_cast<float>(step * step)),
                 std::sin(theta) * (kPi / kHeight) * (2 * kPi / kWidth)});
        }
    return all;
}

std::vector<Direction> uniformDirections() {
    std::vector<Direction> all;
    constexpr int kCount = 20000;  // a Fibonacci lattice
    for (int i = 0; i < kCount; ++i) {
        const double z = 1 - (2 * i + 1.0) / kCount, phi = i * kPi * (3 - std::sqrt(5.0));
        const double r = std::sqrt(1 - z * z);
        all.push_back({{static_cast<float>(r * std::cos(phi)), static_cast<float>(z),
                        static_cast<float>(r * std::sin(phi))},
                       {1, 1, 1},
                       4 * kPi / kCount});
    }
    return all;
}

double clampedDot(Vec3 a, Vec3 b) {
    return std::max(0.0, static_cast<double>(dot(a, b)));
}

/// GGX with height-correlated Smith: D V.
double ggx(double nl, double nv, double nh, double alpha) {
    const double a2 = alpha * alpha, k = nh * nh * (a2 - 1) + 1;
    const double a = nl * std::sqrt(nv * nv * (1 - a2) + a2), b = nv * std::sqrt(nl * nl * (1 - a2) + a2);
    return a2 / (kPi * k * k) * 0.5 / (a + b);
}

/// The sheen's shadowing as Estevez and Kulla 2017 print it.
double lambda(double cosine, double rough) {
    const double t = (1 - rough) * (1 - rough);
    const auto fitted = [&](double low, double high) { return low + (high - low) * t; };
    const double a = fitted(21.5473, 25.3245), b = fitted(3.82987, 3.32435), c = fitted(0.19823, 0.16801),
                 d = fitted(-1.97760, -1.27393), e = fitted(-4.32054, -4.85967);
    const auto curve = [&](double x) { return a / (1 + b * std::pow(x, c)) + d * x + e; };
    return cosine < 0.5 ? std::exp(curve(cosine)) : std::exp(2 * curve(0.5) - curve(1 - cosine));
}

struct Lobes {
    double alpha, f0[3];
};

/// The slow answer. The shares that the lobes leave to what is below are integrated as well.
class Reference {
public:
    explicit Reference(std::vector<Direction> light) : m_light(std::move(light)) {}

    Vec3 shade(const SurfaceValues& s, const ShadingPoint& p) const {
        const Vec3 n = p.normal;
        const double nv = std::max(static_cast<double>(dot(n, p.view)), 0.01);
        const double alpha = std::max(static_cast<double>(s.roughness) * s.roughness, 0.03);
        const double level = 0.08 * s.specularLevel;
        const double base[3]{s.baseColour.x, s.baseColour.y, s.baseColour.z};
        const double sheen[3]{s.sheenColour.x, s.sheenColour.y, s.sheenColour.z};
        // How much of uniform light each lobe sends back, for F0 = 0 and 1.
        const auto [scale, bias] = albedo(nv, alpha);
        const double lost = 1 / (scale + bias) - 1;
        const auto kept = [&](double f0) { return (f0 * scale + bias) * (1 + f0 * lost); };
        const double coatAlpha = std::max(static_cast<double>(s.coatRoughness) * s.coatRoughness, 0.03);
        const auto [coatScale, coatBias] = albedo(nv, coatAlpha);
        const double coatLost = 1 / (coatScale + coatBias) - 1;
        const double coatShare = s.coat * (0.04 * coatScale + coatBias) * (1 + 0.04 * coatLost);
        const double rough = std::max(static_cast<double>(s.sheenRoughness), 0.07);
        const double sheenShare = std::max({sheen[0], sheen[1], sheen[2]}) > 0 ? sheenAlbedo(nv, rough) : 0;
        const double below = (1 - coatShare) * (1 - std::max({sheen[0], sheen[1], sheen[2]}) * sheenShare);
        double sum[3]{};
        for (const Direction& d : m_light) {
            const double nl = clampedDot(n, d.towards);
            if (nl <= 0) continue;
            const Vec3 h = normalised(d.towards + p.view);
            const double nh = std::min(clampedDot(n, h), 1.0), vh = std::min(clampedDot(p.view, h), 1.0);
            const double fresnel = std::pow(1 - vh, 5), lobe = ggx(nl, nv, nh, alpha);
            const auto facing = [&](double f0, double more) {
                return (f0 + (1 - f0) * fresnel) * (1 + f0 * more);
            };
            const double coat = s.coat * facing(0.04, coatLost) * ggx(nl, nv, nh, coatAlpha);
            const double fuzz =
                sheenShare > 0
                    ? (2 + 1 / rough) * std::pow(std::sqrt(std::max(0.0, 1 - nh * nh)), 1 / rough) /
                          (2 * kPi) /
                          ((1 + lambda(nv, rough) + lambda(std::max(nl, 1e-4), rough)) * 4 * nl * nv)
                    : 0;
            const double radiance[3]{d.radiance.x, d.radiance.y, d.radiance.z};
            for (int c = 0; c < 3; ++c) {
                const double diffuse = base[c] * (1 - s.metalness) * (1 - kept(level)) / kPi;
                const double specular =
                    (facing(level, lost) * (1 - s.metalness) + facing(base[c], lost) * s.metalness) * lobe;
                sum[c] += radiance[c] * nl * d.solidAngle *
                          (below * (diffuse + specular) + (1 - coatShare) * sheen[c] * fuzz + coat);
            }
        }
        return {static_cast<float>(sum[0]), static_cast<float>(sum[1]), static_cast<float>(sum[2])};
    }

private:
    /// The split sum by a fine grid of half vectors, weighted by D: scale and bias of F0.
    static std::pair<double, double> albedo(double nv, double alpha) {
        const Vec3 v{static_cast<float>(std::sqrt(1 - nv * nv)), 0, static_cast<float>(nv)};
        double scale = 0, bias = 0;
        constexpr int kRings = 200, kRound = 60;
        for (int i = 0; i < kRings; ++i) {
            const double e = (i + 0.5) / kRings, cosine = std::sqrt((1 - e) / (1 + (alpha * alpha - 1) * e)),
                         sine = std::sqrt(1 - cosine * cosine);
            for (int k = 0; k < kRound; ++k) {
                const double turn = 2 * kPi * (k + 0.5) / kRound;
                const Vec3 h{static_cast<float>(sine * std::cos(turn)),
                             static_cast<float>(sine * std::sin(turn)), static_cast<float>(cosine)};
                const double vh = dot(v, h), nl = 2 * vh * cosine - nv;
                if (nl <= 0 || vh <= 0) continue;
                const double a2 = alpha * alpha;
                const double visible =
                    0.5 / (nl * std::sqrt(nv * nv * (1 - a2) + a2) + nv * std::sqrt(nl * nl * (1 - a2) + a2));
                const double weight = visible * 4 * nl * vh / cosine / (kRings * kRound),
                             f = std::pow(1 - vh, 5);
                scale += (1 - f) * weight, bias += f * weight;
            }
        }
        return {scale, bias};
    }
    static double sheenAlbedo(double nv, double rough) {
        const Vec3 v{static_cast<float>(std::sqrt(1 - nv * nv)), 0, static_cast<float>(nv)};
        double sum = 0;
        constexpr int kRings = 200, kRound = 100;
        for (int i = 0; i < kRings; ++i)
            for (int k = 0; k < kRound; ++k) {
                const double nl = (i + 0.5) / kRings, r = std::sqrt(1 - nl * nl),
                             turn = kPi * (k + 0.5) / kRound;
                const Vec3 l{static_cast<float>(r * std::cos(turn)), static_cast<float>(r * std::sin(turn)),
                             static_cast<float>(nl)};
                const Vec3 h = normalised(l + v);
                const double sine = std::sqrt(std::max(0.0, 1.0 - static_cast<double>(h.z) * h.z));
                sum += (2 + 1 / rough) * std::pow(sine, 1 / rough) / (2 * kPi) /
                       ((1 + lambda(nv, rough) + lambda(nl, rough)) * 4 * nl * nv) * nl;
            }
        return std::min(1.0, sum * 2 * kPi / (kRings * kRound));
    }

    std::vector<Direction> m_light;
};

ShadingPoint seenAt(double cosine) {
    ShadingPoint p;
    p.normal = {0, 0, 1};
    p.tangent = {1, 0, 0};
    p.view = {static_cast<float>(std::sqrt(1 - cosine * cosine)), 0, static_cast<float>(cosine)};
    return p;
}

float brightness(Vec3 v) {
    return (v.x + v.y + v.z) / 3;
}

}  // namespace

class ReferenceTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void aWhiteSurfaceInAWhiteRoomStaysWhite() {
        const auto room = Environment::uniform({1, 1, 1});
        for (const double cosine : {0.15, 0.4, 0.7, 1.0})
            for (const float rough : {0.0f, 0.2f, 0.5f, 0.8f, 1.0f})
                for (const float metal : {0.0f, 0.5f, 1.0f})
                    for (const float coat : {0.0f, 0.5f, 1.0f})
                        for (const float sheen : {0.0f, 0.6f, 1.0f}) {
                            SurfaceValues s;
                            s.baseColour = {1, 1, 1};
                            s.roughness = rough, s.metalness = metal;
                            s.coat = coat, s.coatRoughness = 0.3f;
                            s.sheenColour = {sheen, sheen, sheen}, s.sheenRoughness = 0.4f;
                            const Vec3 got = kettle::shade(s, seenAt(cosine), *room, 0);
                            QVERIFY2(std::fabs(got.x - 1) < 0.02f,
                                     qPrintable(QStringLiteral(
                                                    "cosine %1 roughness %2 metal %3 coat %4 sheen %5: %6")
                                                    .arg(cosine)
                                                    .arg(rough)
                                                    .arg(metal)
                                                    .arg(coat)
                                                    .arg(sheen)
                                                    .arg(got.x)));
                        }
    }
    void everyLobeAgreesWithItsIntegralInAWhiteRoom() {
        const auto room = Environment::uniform({1, 1, 1});
        const Reference reference(uniformDirections());
        for (const double cosine : {0.25, 0.6, 0.95})
            for (const float rough : {0.3f, 0.6f, 1.0f}) {
                std::vector<SurfaceValues> all(4);
                for (SurfaceValues& s : all) s.baseColour = {0.3f, 0.5f, 0.1f}, s.roughness = rough;
                all[1].metalness = 1;
                all[2].coat = 0.8f, all[2].coatRoughness = rough;
                all[3].sheenColour = {0.2f, 0.6f, 0.9f}, all[3].sheenRoughness = rough;
                for (std::size_t i = 0; i < all.size(); ++i) {
                    const Vec3 fast = kettle::shade(all[i], seenAt(cosine), *room, 0),
                               slow = reference.shade(all[i], seenAt(cosine));
                    for (const auto& [is, should] :
                         {std::pair{fast.x, slow.x}, {fast.y, slow.y}, {fast.z, slow.z}})
                        QVERIFY2(std::fabs(is - should) < 0.02f,
                                 qPrintable(QStringLiteral("lobe %1 cosine %2 roughness %3: %4 for %5")
                                                .arg(i)
                                                .arg(cosine)
                                                .arg(rough)
                                                .arg(is)
                                                .arg(should)));
                }
            }
    }
    void theDemosScenesAreWithinTwoPercent_data() {
        QTest::addColumn<QString>("environment");
        QTest::addColumn<double>("coat");
        QTest::addColumn<double>("sheen");
        for (const auto& entry : std::filesystem::directory_iterator(kData / "environments")) {
            const QString name = QString::fromStdString(entry.path().stem().string());
            QTest::addRow("%s", qPrintable(name)) << name << 0.0 << 0.0;
            QTest::addRow("%s, coat and sheen", qPrintable(name)) << name << 0.7 << 0.5;
        }
    }
    void theDemosScenesAreWithinTwoPercent() {
        QFETCH(QString, environment);
        QFETCH(double, coat);
        QFETCH(double, sheen);
        const auto file = kData / "environments" / (environment.toStdString() + ".exr");
        const auto light = *Environment::load(file);
        const Reference reference(directionsOf(file));
        Preview preview(kData / "models", kData / "environments");
        const auto scene = *preview.scene("kettle");
        Camera camera;
        camera.frame(scene->mesh(), 1.5f);
        const ViewPoints view = castView(*scene, camera, 60, 40, {});
        double difference = 0, sum = 0;
        for (std::size_t i = 0; i < view.surfels.size(); i += 3) {
            const Surfel& surfel = view.surfels[i];
            if (dot(surfel.normal, surfel.view) < 0.05f) continue;
            SurfaceValues s;  // enamel, by the place; and bare metal on a tenth of the points
            s.baseColour = {0.15f + 0.5f * surfel.normal.x * surfel.normal.x, 0.4f, 0.3f};
            s.roughness = 0.35f + 0.3f * std::fabs(surfel.normal.y);
            s.metalness = i % 30 == 0 ? 1.0f : 0.0f;
            s.coat = static_cast<float>(coat), s.coatRoughness = 0.35f;
            s.sheenColour = Vec3{0.3f, 0.35f, 0.4f} * static_cast<float>(sheen), s.sheenRoughness = 0.5f;
            const ShadingPoint p{surfel.normal, surfel.tangent, surfel.view, surfel.side, 1, 1};
            const Vec3 fast = kettle::shade(s, p, *light, 0), slow = reference.shade(s, p);
            difference += static_cast<double>(std::fabs(brightness(fast) - brightness(slow)));
            sum += static_cast<double>(brightness(slow));
        }
        QVERIFY(sum > 0);
        // Point by point, and not only on the whole.
        QVERIFY2(difference < (coat > 0 ? 0.025 : 0.02) * sum,
                 qPrintable(QStringLiteral("%1 %").arg(100 * difference / sum)));
    }
};

QTEST_GUILESS_MAIN(ReferenceTest)
#include "reference_test.moc"
