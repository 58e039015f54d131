// What an artist decides by the preview: a colour by pointing, two looks, coat and
// sheen, a second normal map, a gloss that is half wet.
#include <QPushButton>
#include <QSlider>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/editors/hue_dial.h"
#include "app/editors/mode_gallery.h"
#include "app/editors/ramp_editor.h"
#include "app/fields/number_field.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "core/analysis/place_actions.h"
#include "core/colour/encoding.h"
#include "core/colour/models.h"
#include "core/document/edits.h"
#include "tests/support/demo_window.h"
#include "tests/support/hands.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class DecidingTest final : public QObject, DemoWindow {
    Q_OBJECT

    ModelView& model() { return window().model(); }
    /// A line's end at a place, in linear light.
    Vec3 at(const char* channel, float u, float v) {
        const Line* line = session().project().lineOfChannel(channel);
        const auto p =
            probe(session().project(), session().look(), line->id, "", u, v, session().resources());
        return {p->linear[0], p->linear[1], p->linear[2]};
    }
    QToolButton& footOf(const char* channel) {
        for (auto* b : board().foot().findChildren<QToolButton*>())
            if (b->property("channel").toString() == QString::fromUtf8(channel) && !b->isHidden()) return *b;
        qFatal("no such channel");
    }
    /// A place of the map where a test of the colour holds: the demo's maps are made by chance.
    std::optional<QPointF> placeWhere(const std::function<bool(const Hsv&)>& holds) {
        for (int y = 4; y < 64; ++y)
            for (int x = 4; x < 60; ++x) {
                const float u = static_cast<float>(x) / 64, v = static_cast<float>(y) / 64;
                const Vec3 c = at("base-colour", u, v);
                if (holds(hsvOf(c))) return QPointF(static_cast<double>(u), static_cast<double>(v));
            }
        return std::nullopt;
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void init() {
        QVERIFY(openDemo());
        QVERIFY(settled());
    }
    void cleanup() { m_window.reset(); }

    void onlyTheRedKeepTheRust() {
        const auto red =
            placeWhere([](const Hsv& c) { return c.hue < 6 && c.saturation > 0.9f && c.value > 0.4f; });
        const auto rust = placeWhere([](const Hsv& c) {
            return c.hue > 18 && c.hue < 40 && c.saturation > 0.6f && c.value > 0.05f && c.value < 0.3f;
        });
        QVERIFY(red && rust);
        const auto lab = [&](QPointF p) {
            return cieLabOf(at("base-colour", static_cast<float>(p.x()), static_cast<float>(p.y())));
        };
        const Vec3 redBefore = lab(*red), rustBefore = lab(*rust);
        Hands hands;
        hands.openMenu(model(), QPoint(static_cast<int>(model().width() * 0.44),
                                       static_cast<int>(model().height() * 0.9)));
        QVERIFY(hands.choose(QStringLiteral("Shift this hue")));
        QVERIFY(QTest::qWaitFor(
            [&] {
                return session().shownStep(session().selectedStep())->type == "hsv-shift" &&
                       !window().tuner().findChildren<HueDial*>().isEmpty();
            },
            8000));
        QVERIFY(settled());
        auto* dial = window().tuner().findChildren<HueDial*>().first();
        hands.drag(*dial, dial->pointOf(3, 1).toPoint(), dial->pointOf(103, 1).toPoint());
        QVERIFY(settled());
        QVERIFY2(ciede2000(redBefore, lab(*red)) > 15,
                 qPrintable(QString::number(ciede2000(redBefore, lab(*red)))));
        QVERIFY2(ciede2000(rustBefore, lab(*rust)) < 1,
                 qPrintable(QString::number(ciede2000(rustBefore, lab(*rust)))));
    }
    void whichIsBetterAndByHowMuch() {
        session().setLook("celadon");
        QVERIFY(settled());
        QToolButton* chip = nullptr;
        for (auto* b : model().findChildren<QToolButton*>())
            if (b->accessibleName() == QStringLiteral("Compare")) chip = b;
        Hands hands;
        QVERIFY(hands.chooseFrom(*chip, QStringLiteral("Night ferry")));
        QVERIFY(settled());
        const auto compared = model().overlay().compared();
        QVERIFY(compared && compared->mean > 5 && compared->largest > compared->mean);
        // The figure is that of the two pictures' own pixels.
        double sum = 0;
        long count = 0;
        const auto lab = [](QRgb p) {
            const auto& t = srgbTable();
            return cieLabOf({t[static_cast<std::size_t>(qRed(p))], t[static_cast<std::size_t>(qGreen(p))],
                             t[static_cast<std::size_t>(qBlue(p))]});
        };
        const QImage &a = model().picture(), &b = compared->other;
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                if (a.pixel(x, y) != b.pixel(x, y))
                    sum += ciede2000(lab(a.pixel(x, y)), lab(b.pixel(x, y))), ++count;
        QVERIFY(std::fabs(sum / static_cast<double>(count) - compared->mean) < 0.05 * compared->mean);
    }
    void coatAndSheenTried() {
        const QImage before = model().picture();
        Hands hands;
        hands.click(footOf("coat"));
        QVERIFY(settled());
        const QImage coated = model().picture();
        QVERIFY(coated != before);
        hands.click(footOf("sheen-colour"));
        QVERIFY(settled());
        QVERIFY(model().picture() != coated);
        QCOMPARE(at("coat", 0.5f, 0.5f).x, 1.0f);
        QVERIFY(std::fabs(at("sheen-colour", 0.5f, 0.5f).x - 0.4f) < 1e-6f);
    }
    void aSecondNormalMapAtHalfStrength() {
        QTemporaryDir dir;
        const QString file = dir.filePath(QStringLiteral("dents_normal.png"));
        // Leans to the right everywhere: (0.6, 0, 0.8).
        QVERIFY(writePicture(file.toStdString(), 16, 16, 3, [](int, int, int c) {
            return c == 0 ? 204 : c == 1 ? 128 : 230;
        }));
        const Line* line = session().project().lineOfChannel("normal");
        QVERIFY(line != nullptr);
        const Vec3 base = at("normal", 0.4f, 0.4f);
        Hands hands;
        board().choose(line->steps.front()->id);  // looking: it is brought into view
        hands.drop({file}, board(), board().gapRect(line->id, 1).center());
        const Step stacked = *session().shownStep(session().selectedStep());
        QCOMPARE(stacked.type, std::string("stack-normals"));
        QVERIFY(QTest::qWaitFor([&] { return control<NumberField>("field-amount") != nullptr; }, 3000));
        auto* amount = control<NumberField>("field-amount");
        hands.click(*amount);
        amount->setFocus();  // what a click does where a window system gives the keys
        amount->selectAll();
        hands.type(QStringLiteral("0.5"));
        QVERIFY(settled());
        QCOMPARE(std::get<double>(session().shownStep(stacked.id)->controls.at("amount")), 0.5);
        // Reoriented: half of the way from straight up, over the base.
        const Vec3 d = normalised({0.3f, 0, 0.9f}), t{base.x, base.y, base.z + 1};
        const Vec3 u{-d.x, -d.y, d.z};
        const Vec3 wanted = normalised(t * (dot(t, u) / t.z) - u), got = at("normal", 0.4f, 0.4f);
        QVERIFY(length(got - wanted) < 0.02f);
    }
    void flatColourMadeDeep() {
        ViewSettings view = session().project().view;
        view.model = "tile-panel";
        session().apply(edits::setView(session().project(), view), QStringLiteral("Model"));
        QVERIFY(settled());
        const Vec3 flat = at("base-colour", 0.4f, 0.4f), smooth = at("normal", 0.4f, 0.4f);
        Hands hands;
        // A copy of itself on a ramp, over itself by overlay.
        QVERIFY(addByFinder(hands, QStringLiteral("blend")));
        QVERIFY(QTest::qWaitFor([&] { return control<ModeGallery>("mode-gallery") != nullptr; }, 3000));
        QVERIFY(settled());
        auto* gallery = control<ModeGallery>("mode-gallery");
        hands.click(*gallery, gallery->rectOf("overlay").center());
        hands.click(*control<QPushButton>("feed-over"));
        QVERIFY(hands.choose(QStringLiteral("What comes in, on a ramp")));
        // Without a window manager nobody gives the window the keys back when a menu closes.
        window().activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&window()));
        const Step blend = *session().shownStep(session().selectedStep());
        QVERIFY(settled());
        // The height as relief.
        const Line* normal = session().project().lineOfChannel("normal");
        hands.click(board(), board().cardRect(normal->steps.back()->id).center());
        QVERIFY(addByFinder(hands, QStringLiteral("height to")));
        QVERIFY(settled());

        // Overlay of encoded numbers (W3C Compositing), the copy being light from 0 to 1 by what
        // is shown from 0.2 to 0.8.
        QCOMPARE(blend.type, std::string("blend"));
        const float grey = linearToSrgb(0.2126f * flat.x + 0.7152f * flat.y + 0.0722f * flat.z),
                    over = linearToSrgb(std::clamp((grey - 0.2f) / 0.6f, 0.0f, 1.0f));
        const Vec3 deep = at("base-colour", 0.4f, 0.4f);
        const float before[3] = {flat.x, flat.y, flat.z}, after[3] = {deep.x, deep.y, deep.z};
        for (int c = 0; c < 3; ++c) {
            const float b = linearToSrgb(before[c]),
                        wanted = b <= 0.5f ? 2 * b * over : 1 - 2 * (1 - b) * (1 - over);
            QVERIFY2(std::fabs(linearToSrgb(after[c]) - wanted) < 0.01f,
                     qPrintable(QStringLiteral("%1: %2 %3 from %4, %5")
                                    .arg(c)
                                    .arg(linearToSrgb(after[c]))
                                    .arg(wanted)
                                    .arg(b)
                                    .arg(over)));
        }
        const Step relief = *session().shownStep(session().selectedStep());
        QCOMPARE(relief.type, std::string("height-to-normal"));
        QVERIFY(relief.feeds.contains("height"));
        QVERIFY(length(at("normal", 0.4f, 0.4f) - smooth) > 0);
    }
    void aGlossSetHalfWetByARampWithAMiddleStop() {
        const Line* line = session().project().lineOfChannel("roughness");
        const Vec3 before = at("roughness", 0.4f, 0.4f);
        Hands hands;
        hands.click(board(), board().cardRect(line->steps.back()->id).center());
        board().setFocus();
        hands.chord(Qt::Key_Slash);
        hands.type(QStringLiteral("ramp"));
        QVERIFY(QTest::qWaitFor([&] { return window().tuner().findChild<RampEditor*>() != nullptr; }, 3000));
        QVERIFY(settled());
        RampStrip& strip = window().tuner().findChild<RampEditor*>()->strip();
        // One drag adds the stop in the middle and pulls it down: the middle becomes wet.
        hands.drag(strip, QPoint(strip.width() / 2, 70), QPoint(strip.width() / 2, 110));
        QVERIFY(settled());
        const Step made = *session().shownStep(session().selectedStep());
        QCOMPARE(made.type, std::string("ramp-remap"));
        Ramp ramp = std::get<Ramp>(made.controls.at("ramp"));
        ramp.mixing = RampMixing::Linear;  // roughness has no colour to mix
        QCOMPARE(ramp.stops.size(), std::size_t{3});
        QVERIFY(ramp.stops[1].position > 0.4f && ramp.stops[1].position < 0.6f &&
                ramp.stops[1].colour.x < 0.45f);
        QVERIFY(std::fabs(at("roughness", 0.4f, 0.4f).x - rampAt(compileRamp(ramp), before.x).x) < 1e-4f);
    }
};

QTEST_MAIN(DecidingTest)
#include "deciding_story_test.moc"
