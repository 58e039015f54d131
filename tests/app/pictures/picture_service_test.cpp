// The service that makes every picture on its thread: answers bear their request's number, the newest request
// wins, and what cannot be made is a sentence. On a small project whose colours are known.
#include "app/pictures/picture_service.h"

#include <QSignalSpy>
#include <QtTest>
#include <cmath>
#include <functional>
#include <mutex>
#include <semaphore>

#include "core/colour/encoding.h"
#include "core/steps/step.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

Q_DECLARE_METATYPE(kettle::ProbeAnswer)

class PictureServiceTest final : public QObject {
    Q_OBJECT

    std::filesystem::path m_data = KETTLE_DATA_DIR;
    Resources m_resources{KETTLE_DATA_DIR};
    std::unique_ptr<PictureService> m_service;
    /// Waits for the answer that bears this number, which may come behind others.
    static bool came(const QSignalSpy& spy, quint64 number) {
        return QTest::qWaitFor(
            [&] {
                for (const auto& answer : spy)
                    if (answer[0].toULongLong() == number) return true;
                return false;
            },
            20000);
    }
    bool idle() {
        return QTest::qWaitFor([this] { return m_service->isIdle(); }, 20000);
    }
    /// A red of 0.5, doubled by a Blend that adds 0.25 over it at half.
    static Project added() {
        Step blend = step("blend", "blend", {{"mode", std::string("add")}, {"amount", 0.5}},
                          {{"over", constantFeed(Colour{0.25f, 0.25f, 0.25f})}});
        return colourThrough({0.5f, 0.25f, 0.125f}, std::move(blend));
    }

    /// The service's thread works on a measurement until it is released.
    struct Held {
        std::binary_semaphore begun{0}, free{0};
    };
    std::function<void()> hold(Held& held) {
        m_service->askMeasure(added(), m_resources,
                              [&held](const Project& p, const Resources&) -> Result<Project> {
                                  held.begun.release();
                                  held.free.acquire();
                                  return p;
                              });
        held.begun.acquire();
        return [&held] { held.free.release(); };
    }

private Q_SLOTS:
    void initTestCase() { qRegisterMetaType<ProbeAnswer>(); }
    void init() { m_service = std::make_unique<PictureService>(m_data / "models", m_data / "environments"); }
    void cleanup() { m_service.reset(); }

    void theBoardsPicturesShowEveryStep() {
        QSignalSpy ready(m_service.get(), &PictureService::boardReady);
        QVERIFY(came(ready, m_service->askBoard(added(), {}, m_resources, 2)));
        const auto pictures = ready.back()[1].value<std::shared_ptr<const CardPictures>>();
        QCOMPARE(pictures->size(), std::size_t{2});
        const CardPicture& card = pictures->at("blend");
        QCOMPARE(card.thumbnail.size(),
                 QSize(PictureService::kThumbWidth * 2, PictureService::kThumbHeight * 2));
        QCOMPARE(card.ribbon().size(), static_cast<std::size_t>(PictureService::kRibbonRows));
        QVERIFY(card.noEffect.empty() && card.warning.empty());
        // Half of 0.25 is added to each component, and shown as sRGB.
        const QColor shown = card.thumbnail.pixelColor(20, 20);
        QVERIFY(std::abs(shown.red() - std::lround(255 * linearToSrgb(0.625f))) <= 1);
        QVERIFY(std::abs(shown.green() - std::lround(255 * linearToSrgb(0.375f))) <= 1);
        QVERIFY(std::abs(shown.blue() - std::lround(255 * linearToSrgb(0.25f))) <= 1);
    }
    void numbersRiseAndTheNewestIsAnswered() {
        QSignalSpy ready(m_service.get(), &PictureService::boardReady);
        quint64 last = 0;
        for (int i = 0; i < 40; ++i) {
            Project p = added();
            p.lines[0].edit().steps[0].edit().controls["colour"] =
                Colour{static_cast<float>(i) / 40, 0.2f, 0.2f};
            const quint64 number = m_service->askBoard(std::move(p), {}, m_resources, 1);
            QVERIFY(number > last);
            last = number;
        }
        QVERIFY(came(ready, last));
        QVERIFY(idle());
        // Older ones may be left out; none comes twice or behind a newer one.
        quint64 before = 0;
        for (const auto& answer : ready) {
            QVERIFY(answer[0].toULongLong() > before);
            before = answer[0].toULongLong();
        }
        QCOMPARE(before, last);
    }
    void theProbeTellsBeforeAndAfter() {
        QSignalSpy ready(m_service.get(), &PictureService::probeReady);
        m_service->askProbe(added(), {}, "base", "blend", 0.25, 0.75, m_resources);
        QTRY_COMPARE_WITH_TIMEOUT(ready.size(), 1, 20000);
        const auto answer = ready[0][0].value<ProbeAnswer>();
        QCOMPARE(answer.u, 0.25);
        QVERIFY(answer.hasBefore);
        QCOMPARE(answer.before.linear[0], 0.5f);
        QVERIFY(std::fabs(answer.after.linear[0] - 0.625f) < 1e-6f);
    }
    void manyPlacesAreAnsweredTogether() {
        QSignalSpy ready(m_service.get(), &PictureService::probesReady);
        const quint64 number =
            m_service->askProbes(added(), {}, "base", "blend", {{0.1, 0.1}, {0.9, 0.4}}, m_resources);
        QVERIFY(came(ready, number));
        const auto answers = ready.back()[1].value<std::shared_ptr<const std::vector<ProbeAnswer>>>();
        QCOMPARE(answers->size(), std::size_t{2});
        QCOMPARE((*answers)[1].u, 0.9);
    }
    void aColourIsTheAreasMean() {
        QSignalSpy ready(m_service.get(), &PictureService::colourReady),
            failed(m_service.get(), &PictureService::colourFailed);
        const quint64 number =
            m_service->askColour(added(), {}, "base", {}, Area{0.2f, 0.2f, 0.4f, 0.4f}, m_resources);
        QVERIFY(came(ready, number));
        const auto mean = ready.back()[1].value<Colour>();
        QVERIFY(std::fabs(mean.r - 0.625f) < 1e-5f && std::fabs(mean.b - 0.25f) < 1e-5f);
        QVERIFY(came(failed, m_service->askColour(added(), {}, "nowhere", {}, Area{}, m_resources)));
        QVERIFY(failed.back()[1].toString().endsWith(QLatin1Char('.')));
    }
    void theGalleryHasEveryMode() {
        QSignalSpy ready(m_service.get(), &PictureService::modesReady);
        QVERIFY(came(ready, m_service->askModes(added(), {}, "blend", m_resources)));
        const auto modes = ready.back()[1].value<std::shared_ptr<const std::map<std::string, QImage>>>();
        const StepSpec& blend = *shippedSteps().find("blend");
        for (const ControlSpec& control : blend.controls)
            if (control.id == "mode")
                for (const Choice& mode : control.choices)
                    QVERIFY2(modes->contains(mode.id), mode.id.c_str());
        QVERIFY(modes->at("multiply").pixelColor(5, 5).red() < modes->at("screen").pixelColor(5, 5).red());
    }
    void aBlendWithoutAnOverHasASentenceForItsPlot() {
        QSignalSpy ready(m_service.get(), &PictureService::transferReady);
        Project p = added();
        p.lines[0].edit().steps[1].edit().feeds.clear();
        QVERIFY(came(ready, m_service->askTransfer(p, {}, "blend", {0.5, 0.5}, m_resources)));
        QVERIFY(ready.back()[1].value<std::shared_ptr<const BlendTransfer>>() == nullptr);
        QVERIFY(!ready.back()[2].toString().isEmpty());
    }
    void whatIsMeasuredIsAProjectOrASentence() {
        QSignalSpy done(m_service.get(), &PictureService::measured),
            failed(m_service.get(), &PictureService::measureFailed);
        const quint64 good = m_service->askMeasure(added(), m_resources,
                                                   [](const Project& p, const Resources&) -> Result<Project> {
                                                       Project q = p;
                                                       q.lines[0].edit().name = "Measured";
                                                       return q;
                                                   });
        QVERIFY(came(done, good));
        QVERIFY(idle());  // the service's own lock: what the spy holds is handed over by now
        QCOMPARE(done.back()[1].value<Project>().lines[0]->name, std::string("Measured"));
        const quint64 bad = m_service->askMeasure(
            added(), m_resources, [](const Project&, const Resources&) -> Result<Project> {
                return fail(ErrorKind::Refused, "There is nothing to measure. Draw an area.");
            });
        QVERIFY(came(failed, bad));
        QCOMPARE(failed.back()[1].toString(), QStringLiteral("There is nothing to measure. Draw an area."));
    }
    void whatIsThrownIsToldAndTheServiceGoesOn() {
        QSignalSpy failed(m_service.get(), &PictureService::failed),
            done(m_service.get(), &PictureService::measured);
        m_service->askMeasure(added(), m_resources, [](const Project&, const Resources&) -> Result<Project> {
            throw std::bad_alloc();
        });
        QVERIFY(QTest::qWaitFor([&] { return failed.size() == 1; }, 20000));
        QCOMPARE(failed[0][0].toString(),
                 QStringLiteral(
                     "Cannot make a picture: there is not enough memory. Close other programs, or ask for "
                     "less."));
        QVERIFY(idle());
        QVERIFY(came(done, m_service->askMeasure(
                               added(), m_resources,
                               [](const Project& p, const Resources&) -> Result<Project> { return p; })));
    }
    void whatIsUrgentComesFirst() {
        // While something is measured everything else is asked for, the least urgent first.
        Held held;
        const auto release = hold(held);
        // Recorded on the service's own thread: the thread sanitizer does not see Qt's queue of events.
        std::mutex mutex;
        QStringList order;
        const auto note = [&](auto signal, const char* name) {
            connect(
                m_service.get(), signal, m_service.get(),
                [&mutex, &order, name] {
                    const std::lock_guard lock(mutex);
                    order << QString::fromLatin1(name);
                },
                Qt::DirectConnection);
        };
        note(&PictureService::checksReady, "checks");
        note(&PictureService::lookReady, "look");
        note(&PictureService::modesReady, "modes");
        note(&PictureService::boardReady, "board");
        note(&PictureService::colourReady, "colour");
        note(&PictureService::probeReady, "probe");
        note(&PictureService::flatReady, "flat");
        FlatRequest flat;
        flat.line = "base";
        m_service->askChecks(added(), {}, m_resources);
        m_service->askLooks(added(), m_resources);
        m_service->askModes(added(), {}, "blend", m_resources);
        m_service->askFlat(added(), {}, flat, m_resources, {}, {});
        m_service->askBoard(added(), {}, m_resources, 1);
        m_service->askColour(added(), {}, "base", {}, Area{0.2f, 0.2f, 0.4f, 0.4f}, m_resources);
        m_service->askProbe(added(), {}, "base", "blend", 0.5, 0.5, m_resources);
        QVERIFY(!m_service->isIdle());
        release();
        QVERIFY(idle());
        const std::lock_guard lock(mutex);
        QCOMPARE(order.join(QLatin1Char(' ')), QStringLiteral("probe colour board flat modes look checks"));
    }
    void onlyTheNewestOfASortIsMade() {
        Held held;
        const auto release = hold(held);
        QSignalSpy flats(m_service.get(), &PictureService::flatReady),
            probes(m_service.get(), &PictureService::probeReady);
        FlatRequest flat;
        flat.line = "base";
        flat.width = flat.height = 16;
        quint64 last = 0;
        for (const float red : {0.1f, 0.9f, 0.4f}) {
            Project p = colourThrough({red, red, red}, step("t", "tone"));
            m_service->askProbe(p, {}, "base", "t", 0.5, 0.5, m_resources);
            last = m_service->askFlat(std::move(p), {}, flat, m_resources, {}, {});
        }
        release();
        QVERIFY(came(flats, last));
        QVERIFY(idle());
        QCoreApplication::processEvents();
        QCOMPARE(flats.size(), 1);
        const QColor shown = flats[0][1].value<QImage>().pixelColor(8, 8);
        QVERIFY(std::abs(shown.red() - std::lround(255 * linearToSrgb(0.4f))) <= 1);
        QCOMPARE(probes.size(), 1);
        QCOMPARE(probes[0][0].value<ProbeAnswer>().after.linear[0], 0.4f);
    }
    void checksThatGaveWayAreMadeInTheEnd() {
        QSignalSpy checks(m_service.get(), &PictureService::checksReady),
            board(m_service.get(), &PictureService::boardReady);
        const quint64 asked = m_service->askChecks(added(), {}, m_resources);
        quint64 last = 0;
        for (int i = 0; i < 20; ++i) {  // each of them cuts in
            last = m_service->askBoard(added(), {}, m_resources, 1);
            QTest::qWait(2);
        }
        QVERIFY(came(board, last));
        QVERIFY(came(checks, asked));
        QVERIFY(idle());
        QCoreApplication::processEvents();
        QCOMPARE(checks.size(), 1);
    }
    void aModelThatIsNotThereIsASentence() {
        QSignalSpy failed(m_service.get(), &PictureService::modelFailed);
        PreviewRequest request;
        request.project = added();
        request.project.view.model = "anchor";
        request.width = 60, request.height = 40;
        QVERIFY(came(failed, m_service->askModel(request, m_resources)));
        QVERIFY(failed.back()[1].toString().contains(QStringLiteral("anchor")));
    }
    void itStopsAtOnceInTheMiddleOfItsWork() {
        PreviewRequest request;
        request.project = added();
        m_service->askModel(request, m_resources);
        m_service->askChecks(added(), {}, m_resources);
        QSignalSpy model(m_service.get(), &PictureService::modelReady);
        QSignalSpy checks(m_service.get(), &PictureService::checksReady);
        m_service.reset();  // joins its thread; a hang here is a failure by the test's time limit
        // It did not finish what it was asked for: its last stage and the checks come long after the first.
        QVERIFY(checks.isEmpty());
        for (const auto& came : model) QVERIFY(came[2].toInt() < Preview::kLastStage);
    }
};

QTEST_GUILESS_MAIN(PictureServiceTest)
#include "picture_service_test.moc"
