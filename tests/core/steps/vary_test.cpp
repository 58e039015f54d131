// Copies that differ: the hash by the published constants, and each object of a model by its own number.
#include <QtTest>
#include <map>
#include <set>

#include "core/analysis/sampling.h"
#include "core/colour/models.h"
#include "core/geometry/mesh_facts.h"
#include "core/scene/view_points.h"
#include "core/steps/step.h"
#include "tests/support/evaluate.h"

using namespace kettle;
using namespace kettle::test;

namespace {

/// M. E. O'Neill's PCG as a hash, with the constants of M. Jarzynski and M. Olano.
std::uint32_t pcg(std::uint32_t x) {
    const std::uint32_t state = x * 747796405u + 2891336453u;
    const std::uint32_t word = ((state >> ((state >> 28) + 4u)) ^ state) * 277803737u;
    return (word >> 22) ^ word;
}
float randomOf(std::uint32_t number, std::uint32_t seed, std::uint32_t which) {
    return static_cast<float>(pcg(pcg(pcg(number) + seed) + which) >> 8) / 16777216.0f;
}

/// The cups of the shelf in a view, with what a project gives at each point, by the point's object.
class Shelf {
public:
    Shelf() : m_store(std::make_shared<SceneStore>(std::filesystem::path(KETTLE_DATA_DIR) / "models")) {
        m_scene = *m_store->load("cups", "auto");
        ViewOptions options;
        options.places = true;
        options.groundShadow = false;
        Camera camera;
        camera.frame(m_scene->mesh(), 1.5f);
        m_view = castView(*m_scene, camera, 180, 120, options);
        m_resources.setModels(std::make_shared<FactsStore>(m_store));
    }
    /// By the object's name: the values of its points, three components each.
    std::map<std::string, std::vector<Vec3>> of(Project p, const char* line) {
        p.view.model = "cups";
        const Sampled s = sampleWants(p, nullptr, {{line, "", 3}}, m_resources, m_view.points);
        std::map<std::string, std::vector<Vec3>> byObject;
        for (std::size_t i = 0; i < s.count; ++i)
            byObject[m_scene->mesh().partObjects[m_view.surfels[i].part]].push_back(
                {s.plane(0, 0)[i], s.plane(0, 1)[i], s.plane(0, 2)[i]});
        return byObject;
    }
    std::vector<std::string> objects() const {
        std::vector<std::string> names;
        for (const std::string& name : m_scene->mesh().partObjects)
            if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
        return names;
    }

private:
    std::shared_ptr<SceneStore> m_store;
    std::shared_ptr<const RayScene> m_scene;
    ViewPoints m_view;
    Resources m_resources{std::filesystem::path(KETTLE_DATA_DIR)};
};

Project valued(Controls controls) {
    Project p;
    p.lines.emplace_back(
        line("base", Kind::Colour, "base-colour", {step("v", "object-value", std::move(controls))}));
    return p;
}

}  // namespace

class VaryTest final : public QObject {
    Q_OBJECT
    Shelf m_shelf;

private Q_SLOTS:
    void theHashIsPcg() {
        double sum = 0, squares = 0;
        std::set<float> all;
        for (int seed = 1; seed <= 400; ++seed) {
            const float v = evaluate(valued({{"seed", static_cast<double>(seed)}}))[0];
            QCOMPARE(v, randomOf(0, static_cast<std::uint32_t>(seed), 0));
            sum += static_cast<double>(v), squares += static_cast<double>(v) * static_cast<double>(v);
            all.insert(v);
        }
        // Even from 0 to 1: the mean is a half and the variance a twelfth, within four of their own errors.
        QVERIFY(std::fabs(sum / 400 - 0.5) < 4 * 0.2887 / 20);
        QVERIFY(std::fabs(squares / 400 - sum * sum / 160000 - 1.0 / 12) < 4 * 0.0745 / 20);
        QVERIFY(all.size() > 395);
    }

    void eachObjectHasANumberAndOneValue() {
        const auto names = m_shelf.objects();
        QCOMPARE(names.size(), std::size_t{5});
        const auto random = m_shelf.of(valued({{"seed", 7.0}}), "base");
        const auto share = m_shelf.of(valued({{"reads", std::string("share")}}), "base");
        const auto number = m_shelf.of(valued({{"reads", std::string("number")}}), "base");
        const auto across = m_shelf.of(valued({{"reads", std::string("x")}}), "base");
        for (std::size_t i = 0; i < names.size(); ++i) {
            QVERIFY(random.at(names[i]).size() > 50);
            for (const Vec3& v : random.at(names[i]))
                QCOMPARE(v.x, randomOf(static_cast<std::uint32_t>(i), 7, 0));
            QCOMPARE(share.at(names[i]).front().x, static_cast<float>(i) / 4);
            QCOMPARE(number.at(names[i]).front().x, static_cast<float>(i));
            for (const Vec3& v : across.at(names[i])) QVERIFY(v.x > 0 && v.x < 1);
        }
        // The cups stand beside each other.
        std::set<float> places;
        for (const std::string& name : names) places.insert(across.at(name).front().x);
        QCOMPARE(places.size(), names.size());
    }

    void coloursVaryByTheFormula() {
        const Colour base{0.6f, 0.3f, 0.1f};
        Project p = colourThrough(base, step("vary", "vary",
                                             {{"hue", 40.0},
                                              {"saturation", 0.3},
                                              {"value", 0.2},
                                              {"seed", 3.0},
                                              {"works-in", std::string("linear")}}));
        const auto varied = m_shelf.of(p, "base");
        const auto names = m_shelf.objects();
        std::set<float> reds;
        for (std::size_t i = 0; i < names.size(); ++i) {
            const auto r = [&](std::uint32_t which) {
                return 2 * randomOf(static_cast<std::uint32_t>(i), 3, which) - 1;
            };
            Hsv wanted = hsvOf({base.r, base.g, base.b});
            wanted.hue += 40 * r(0);
            wanted.saturation = std::clamp(wanted.saturation * (1 + 0.3f * r(1)), 0.0f, 1.0f);
            wanted.value *= 1 + 0.2f * r(2);
            const Vec3 colour = rgbOf(wanted);
            for (const Vec3& v : varied.at(names[i])) QVERIFY(length(v - colour) < 2e-5f);
            reds.insert(varied.at(names[i]).front().x);
        }
        QCOMPARE(reds.size(), names.size());
        // Limits hold, and an amount of a half goes half of the way.
        p = colourThrough(base, step("vary", "vary",
                                     {{"value", 1.0},
                                      {"hue", 0.0},
                                      {"saturation", 0.0},
                                      {"limit", true},
                                      {"works-in", std::string("linear")},
                                      {"least", 0.5},
                                      {"most", 0.7}}));
        for (const auto& [name, values] : m_shelf.of(p, "base"))
            for (const Vec3& v : values) QVERIFY(v.x >= 0.5f - 1e-6f && v.x <= 0.7f + 1e-6f);
    }

    void greysVaryByTheirValueAlone() {
        Project p;
        p.lines.emplace_back(line(
            "base", Kind::Scalar, "roughness",
            {step("g", "value", {{"value", 0.4}}), step("vary", "vary", {{"value", 0.5}, {"amount", 0.5}})}));
        const auto varied = m_shelf.of(p, "base");
        const auto names = m_shelf.objects();
        for (std::size_t i = 0; i < names.size(); ++i) {
            const float whole = 0.4f * (1 + 0.5f * (2 * randomOf(static_cast<std::uint32_t>(i), 1, 2) - 1));
            for (const Vec3& v : varied.at(names[i])) QVERIFY(std::fabs(v.x - (0.4f + whole) / 2) < 1e-6f);
        }
    }

    void numbersGivenByHandCount() {
        const auto names = m_shelf.objects();
        Project p = valued({{"reads", std::string("number")}});
        p.objects.edit().objects = {{names[1], 40}, {names[3], 40}, {"a jug that is gone", 9}};
        const auto number = m_shelf.of(p, "base");
        QCOMPARE(number.at(names[1]).front().x, 40.0f);
        QCOMPARE(number.at(names[2]).front().x, 2.0f);
        // Equal numbers look equal.
        p.lines[0].edit().steps[0].edit().controls = {{"seed", 7.0}};
        const auto random = m_shelf.of(p, "base");
        QCOMPARE(random.at(names[1]).front().x, randomOf(40, 7, 0));
        QCOMPARE(random.at(names[3]).front().x, randomOf(40, 7, 0));
        p.lines[0].edit().steps[0].edit().controls = {{"reads", std::string("share")}};
        const auto share = m_shelf.of(p, "base");
        QCOMPARE(share.at(names[3]).front().x, 1.0f);
        QCOMPARE(share.at(names[2]).front().x, 2.0f / 40);
        // Another project's numbers are not mixed up with these.
        QCOMPARE(m_shelf.of(valued({{"reads", std::string("number")}}), "base").at(names[1]).front().x, 1.0f);
    }

    void palettesAreTakenByTurnsAndInOrder() {
        const auto names = m_shelf.objects();
        Ramp ramp;
        ramp.interpolation = RampInterpolation::Hold;
        ramp.stops = {{0, {1, 0, 0}}, {1.0f / 3, {0, 1, 0}}, {2.0f / 3, {0, 0, 1}}};
        const auto varied = [&](const char* takes, Controls more = {}) {
            Controls controls{{"from", std::string("ramp")}, {"ramp", ramp}, {"takes", std::string(takes)}};
            controls.insert(more.begin(), more.end());
            return m_shelf.of(colourThrough({0.5f, 0.25f, 1}, step("vary", "vary", controls)), "base");
        };
        const Vec3 stops[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
        const auto turns = varied("turns");
        for (std::size_t i = 0; i < names.size(); ++i)
            for (const Vec3& v : turns.at(names[i])) QVERIFY(length(v - stops[i % 3]) < 1e-6f);
        const auto share = varied("share"), random = varied("random");
        for (std::size_t i = 0; i < names.size(); ++i) {
            QVERIFY(length(share.at(names[i]).front() -
                           rampAt(compileRamp(ramp), static_cast<float>(i) / 4)) < 1e-6f);
            const float at = randomOf(static_cast<std::uint32_t>(i), 1, 3);
            QVERIFY(length(random.at(names[i]).front() - rampAt(compileRamp(ramp), at)) < 1e-6f);
        }
        // Laid over by a mode, to an amount: in linear light half of the way to u * o.
        const auto laid = varied("turns", {{"mode", std::string("multiply")}, {"amount", 0.5}});
        QVERIFY(length(laid.at(names[0]).front() - Vec3{0.5f, 0.125f, 0.5f}) < 1e-5f);
    }

    void whatIsNeutralCostsNothing() {
        const Project p = colourThrough(
            {0.6f, 0.3f, 0.1f}, step("vary", "vary", {{"hue", 0.0}, {"saturation", 0.0}, {"value", 0.0}}));
        QVERIFY(!compile(p, nullptr, {wantOfLine(*p.findLine("base"))}).program.readsModel());
        QCOMPARE(evaluate(p)[0], 0.6f);
    }
};

QTEST_GUILESS_MAIN(VaryTest)
#include "vary_test.moc"
