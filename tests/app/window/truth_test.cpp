// No view ever rests on an outdated picture: edits at random, quicker than pictures come, and each time the
// hand rests the model's picture is the one that a fresh preview makes of the document as it is.
#include <QElapsedTimer>
#include <random>

#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/analysis/board_pictures.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class TruthTest final : public QObject, DemoWindow {
    Q_OBJECT

    std::mt19937 m_random{20261126};
    std::shared_ptr<SceneStore> m_scenes = std::make_shared<SceneStore>(kData / "models");

    int any(int count) { return static_cast<int>(m_random() % static_cast<unsigned>(count)); }

    void editAtRandom() {
        const std::array<const char*, 4> looks{"", "celadon", "marmalade", "night-ferry"};
        switch (any(13)) {
            case 0:
            case 1:
            case 2:
                return session().setControl("glaze", "hue", static_cast<double>(any(360) - 180));
            case 3:
                return session().setControl("glaze", "saturation", any(20) / 10.0);
            case 4:
                return session().setLook(looks[static_cast<std::size_t>(any(4))]);
            case 5:
                return session().undo();
            case 6:
                return session().redo();
            case 7:
                return session().toggleChannel(any(2) == 0 ? "normal" : "roughness");
            case 8: {
                Comparison with;
                with.with = any(2) == 0 ? Comparison::With::AsReceived : Comparison::With::BeforeStep;
                return session().compare(any(3) == 0 ? std::nullopt : std::optional(with));
            }
            case 9:
                session().selectStep(any(2) == 0 ? "glaze" : "streaks");
                return session().toggleLookHere();
            case 10:
                QTest::keyClick(&window().model(), any(2) == 0 ? Qt::Key_Left : Qt::Key_Up,
                                Qt::ShiftModifier);
                return;
            case 11:
                return session().selectStep(any(2) == 0 ? "glaze" : "streaks");
            default:
                return session().toggleBypass("glaze");
        }
    }
    /// What a preview that knows nothing of before makes of what is to be shown.
    void checkTheModel() {
        Preview fresh(m_scenes, kData / "environments");
        PreviewRequest r;
        r.project = session().shownProject();
        r.look = session().look();
        r.lookHere = session().lookHere();
        if (r.lookHere) r.lookHere->component = session().shownComponent();
        r.camera = window().model().camera();
        r.off = session().channelsOff();
        if (auto side = session().otherSide()) r.others.push_back(std::move(*side));
        const QImage& shown = window().model().picture();
        r.width = shown.width(), r.height = shown.height();
        Result<Picture> wanted = Picture{};
        for (int stage = 1; stage <= Preview::kLastStage; ++stage) {
            wanted = fresh.render(r, session().resources(), stage);
            QVERIFY(wanted.has_value());
        }
        const auto same = [](const QImage& image, const Picture& picture) {
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x)
                    if (image.pixel(x, y) != picture.pixels[static_cast<std::size_t>(y * image.width() + x)])
                        return false;
            return true;
        };
        QVERIFY(same(shown, *wanted));
        const ComparedPtr& compared = window().model().overlay().compared();
        QCOMPARE(compared != nullptr, !r.others.empty());
        if (compared) QVERIFY(same(compared->other, fresh.others()[0]));
        QCOMPARE(window().model().state(), QStringLiteral("current"));
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void aMinuteOfEditsLeavesNothingBehind() {
        QVERIFY(openDemo());
        window().resize(760, 640);
        QVERIFY(settled());
        int rests = 0;
        QElapsedTimer time;
        for (time.start(); rests < 12; ++rests) {
            const int edits = 3 + any(8);
            for (int i = 0; i < edits; ++i) {
                editAtRandom();
                // Sometimes a picture is on its way, sometimes it is there.
                QTest::qWait(any(3) == 0 ? 60 : any(8));
            }
            QVERIFY(settled());
            checkTheModel();
            if (QTest::currentTestFailed()) return;
            if (time.elapsed() > 100000) break;
        }
        QVERIFY(rests >= 4);
    }
};

QTEST_MAIN(TruthTest)
#include "truth_test.moc"
