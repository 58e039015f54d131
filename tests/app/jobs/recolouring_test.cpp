// Jobs that give a finished map other colours.
#include <QCheckBox>
#include <QPushButton>
#include <algorithm>

#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/editors/ramp_editor.h"
#include "app/preview/model_view.h"
#include "app/style/theme.h"
#include "tests/app/jobs/job.h"

using namespace kettle;
using namespace kettle::jobs;

class RecolouringTest final : public QObject, Job {
    Q_OBJECT

    using Triple = std::array<double, 3>;
    static double light(double shown) {
        return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
    }
    static double shown(double light) {
        return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    }
    static double seenGrey(const std::array<double, 4>& p) {
        return shown(0.2126 * light(p[0]) + 0.7152 * light(p[1]) + 0.0722 * light(p[2]));
    }
    /// Björn Ottosson, "A perceptual color space for image processing", 2020: both ways between light and
    /// OKLab.
    static Triple oklabOf(const Triple& c) {
        const double l = std::cbrt(0.4122214708 * c[0] + 0.5363325363 * c[1] + 0.0514459929 * c[2]),
                     m = std::cbrt(0.2119034982 * c[0] + 0.6806995451 * c[1] + 0.1073969566 * c[2]),
                     s = std::cbrt(0.0883024619 * c[0] + 0.2817188376 * c[1] + 0.6299787005 * c[2]);
        return {0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * s,
                1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * s,
                0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * s};
    }
    static Triple lightOf(const Triple& lab) {
        const auto cube = [](double x) { return x * x * x; };
        const double l = cube(lab[0] + 0.3963377774 * lab[1] + 0.2158037573 * lab[2]),
                     m = cube(lab[0] - 0.1055613458 * lab[1] - 0.0638541728 * lab[2]),
                     s = cube(lab[0] - 0.0894841775 * lab[1] - 1.2914855480 * lab[2]);
        return {4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
                -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
                -0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s};
    }
    /// A ramp of four colours at equal distances, mixed in OKLab, at a place.
    static Triple ramp(const std::array<const char*, 4>& hexes, double t) {
        const double at = std::clamp(t, 0.0, 1.0) * 3;
        const auto below = std::min<std::size_t>(2, static_cast<std::size_t>(at));
        const auto labAt = [&](std::size_t i) {
            const QColor c(QString::fromLatin1(hexes[i]));
            return oklabOf({light(c.redF()), light(c.greenF()), light(c.blueF())});
        };
        const Triple a = labAt(below), b = labAt(below + 1);
        const double share = at - static_cast<double>(below);
        return lightOf(
            {a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]), a[2] + share * (b[2] - a[2])});
    }
    /// The largest difference of a look from a picture's colours, in codes of 8 bits.
    double offBy(const std::string& look, const std::vector<Triple>& wanted, int side) {
        const auto colour = planesOf("base-colour", side, look);
        if (colour.empty()) return 255;
        double worst = 0;
        for (std::size_t i = 0; i < wanted.size(); ++i)
            for (std::size_t c = 0; c < 3; ++c)
                worst = std::max(worst,
                                 std::fabs(shown(static_cast<double>(colour[c][i])) - shown(wanted[i][c])));
        return worst * 255;
    }
    struct Hsv {
        double hue = 0, saturation = 0, value = 0;
    };
    /// A. R. Smith 1978, of displayed numbers; the hue in degrees.
    static Hsv hsvOf(const std::vector<std::vector<float>>& planes, std::size_t i) {
        const Triple c{shown(static_cast<double>(planes[0][i])), shown(static_cast<double>(planes[1][i])),
                       shown(static_cast<double>(planes[2][i]))};
        const double most = std::max({c[0], c[1], c[2]}), chroma = most - std::min({c[0], c[1], c[2]});
        if (chroma <= 0) return {0, 0, most};
        const double sixth = most == c[0]   ? (c[1] - c[2]) / chroma
                             : most == c[1] ? 2 + (c[2] - c[0]) / chroma
                                            : 4 + (c[0] - c[1]) / chroma;
        return {std::fmod(60 * sixth + 360, 360), chroma / most, most};
    }
    static double apart(double a, double b) { return std::fabs(std::remainder(a - b, 360)); }
    void takeRamp(const char* name) {
        auto* from = inTuner<QPushButton>("ramp-from");
        QVERIFY(from != nullptr);
        QVERIFY(hand().chooseFrom(*from, QString::fromLatin1(name)));
        QVERIFY(hand().look());
    }
    void keepAsLook() {
        hand().chord(Qt::Key_K, Qt::ControlModifier);
        QVERIFY(hand().look());
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { end(); }

    void aMapByARampOfFourColoursInThreeVersions() {
        QVERIFY(startEmpty());
        const QString file = own(QStringLiteral("relief/relief_color.png"));
        const int side = QImage(file).width();
        const auto pixels = pixelsOf(file, side);
        std::vector<Triple> untouched;
        for (const auto& p : pixels) untouched.push_back({light(p[0]), light(p[1]), light(p[2])});
        const std::pair<const char*, std::array<const char*, 4>> versions[]{
            {"Celadon glaze", {"#1F3B36", "#4E7F72", "#8DB8A6", "#DCE8DD"}},
            {"Marmalade", {"#3A1C07", "#A1520B", "#E39A17", "#F7DFA2"}},
            {"Rust", {"#1B100B", "#5A2A14", "#A3501F", "#D79A5F"}}};
        bool sawBefore = false;
        setCheck([&]() -> QString {
            if (project().looks.size() != 3)
                return QStringLiteral("there are %1 looks").arg(project().looks.size());
            for (std::size_t i = 0; i < 3; ++i) {
                std::vector<Triple> wanted;
                for (const auto& p : pixels) wanted.push_back(ramp(versions[i].second, seenGrey(p)));
                const double off = offBy(project().looks[i]->id, wanted, side);
                if (off > 1.5)
                    return QStringLiteral("%1 is off by %2").arg(QLatin1String(versions[i].first)).arg(off);
            }
            return sawBefore ? QString() : QStringLiteral("nobody saw the map as it was");
        });
        hand().drop({file}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("ramp remap"));
        QVERIFY(hand().look());
        QCOMPARE(session().shownStep(session().selectedStep())->type, std::string("ramp-remap"));
        // The greys stay what they are: nothing is brightened before anything is touched.
        std::vector<Triple> greys;
        for (const auto& p : pixels)
            greys.push_back({light(seenGrey(p)), light(seenGrey(p)), light(seenGrey(p))});
        QVERIFY(offBy(session().look(), greys, side) <= 1);
        takeRamp(versions[0].first);
        keepAsLook();
        takeRamp(versions[1].first);
        keepAsLook();
        takeRamp(versions[2].first);
        connect(&session(), &Session::viewChanged, this,
                [&] { sawBefore = sawBefore || session().showsBefore(); });
        hand().click(window().board(), window().board().cardRect(session().selectedStep()).center());
        hand().chord(Qt::Key_Space);
        QVERIFY(hand().look());
        QVERIFY(done(4, 14));
    }
    void aFlatPictureMadeDeep() {
        QVERIFY(startEmpty());
        const QString file = own(QStringLiteral("grounds/clay/clay_color.png"));
        const int side = QImage(file).width();
        const auto pixels = pixelsOf(file, side);
        const auto greyOf = [&](const std::vector<std::vector<float>>& colour, std::size_t i) {
            return shown(0.2126 * static_cast<double>(colour[0][i]) +
                         0.7152 * static_cast<double>(colour[1][i]) +
                         0.0722 * static_cast<double>(colour[2][i]));
        };
        setCheck([&, side]() -> QString {
            const auto colour = planesOf("base-colour", side), normal = planesOf("normal", side);
            if (colour.empty() || normal.empty()) return QStringLiteral("there is no colour or no relief");
            // Darks darker, lights lighter, by thirds of what the picture has; the mean stays.
            std::vector<std::pair<double, double>> greys;  // before and after
            double before = 0, after = 0;
            for (std::size_t i = 0; i < pixels.size(); ++i) {
                greys.emplace_back(seenGrey(pixels[i]), greyOf(colour, i));
                before += greys.back().first, after += greys.back().second;
            }
            if (std::fabs(after / before - 1) > 0.03)
                return QStringLiteral("the mean is %1 of what it was").arg(after / before);
            std::sort(greys.begin(), greys.end());
            const std::size_t third = greys.size() / 3;
            double dark = 0, bright = 0;
            for (std::size_t i = 0; i < third; ++i) {
                dark += greys[i].second - greys[i].first;
                bright += greys[greys.size() - 1 - i].second - greys[greys.size() - 1 - i].first;
            }
            dark /= static_cast<double>(third), bright /= static_cast<double>(third);
            if (dark > -0.01 || bright < 0.01)
                return QStringLiteral("darks %1, lights %2").arg(dark).arg(bright);
            // The relief leans where the greys that one sees change: against their slope, all over.
            double along = 0, square = 0, slope = 0;
            for (int y = 1; y + 1 < side; ++y)
                for (int x = 1; x + 1 < side; ++x) {
                    const auto i = static_cast<std::size_t>(y * side + x);
                    const double g = greyOf(colour, i + 1) - greyOf(colour, i - 1),
                                 lean =
                                     -static_cast<double>(normal[0][i]) / static_cast<double>(normal[2][i]);
                    along += g * lean, square += lean * lean, slope += g * g;
                }
            const double likeness = along / std::sqrt(square * slope + 1e-30);
            return likeness > 0.9 ? QString()
                                  : QStringLiteral("the relief is like the greys by %1").arg(likeness);
        });
        hand().drop({file}, *window().centralWidget());
        QVERIFY(hand().lookFor([this] { return window().bringSheet().plan() != nullptr; }));
        hand().click(window().bringSheet().acceptButton());
        QVERIFY(hand().look());
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("overlay on a ramp"));
        QVERIFY(hand().look());
        // Black and white of the copy, on both sides of the picture's middle.
        double mean = 0;
        for (const auto& p : pixels) mean += seenGrey(p) / static_cast<double>(pixels.size());
        const Step blend = *session().shownStep(session().selectedStep());
        clickCard(project().findLine(blend.feeds.at("over").line)->steps.back()->id);
        QVERIFY(hand().look());
        RampStrip& strip = window().tuner().findChild<RampEditor*>()->strip();
        const double unit = (strip.handleAt(1).x() - strip.handleAt(0).x()) / 0.6;
        const auto move = [&](int stop, double from, double to) {
            const QPoint at = strip.handleAt(stop).toPoint();
            hand().drag(strip, at, at + QPoint(static_cast<int>(std::lround(unit * (to - from))), 0));
        };
        // Between black and white light is mixed: displayed half is its 0.214th part.
        move(0, 0.2, mean - 0.214 * 0.5);
        move(1, 0.8, mean + 0.786 * 0.5);
        QVERIFY(hand().look());
        QVERIFY(addLineFor(QStringLiteral("Normal")));
        hand().chord(Qt::Key_Slash);
        hand().type(QStringLiteral("height to normal base colour"));
        QVERIFY(hand().look());
        QVERIFY(done(8, 10));
    }
    void oneHueKeptAndOneHueInColour() {
        QVERIFY(startDemo());
        constexpr int kSide = 512;
        const auto before = planesOf("base-colour", kSide);
        double kept = 0;  // the hue of the place that the hand points at
        std::string turned, greyed;
        double turn = 0;
        setCheck([&]() -> QString {
            if (greyed.empty()) return QStringLiteral("there are no such looks");
            const auto t = planesOf("base-colour", kSide, turned), g = planesOf("base-colour", kSide, greyed);
            int keeps = 0, others = 0;
            for (std::size_t i = 0; i < before[0].size(); ++i) {
                const Hsv was = hsvOf(before, i), now = hsvOf(t, i), grey = hsvOf(g, i);
                const double away = apart(was.hue, kept);
                if (was.saturation > 0.3 && away < 6) {
                    ++keeps;
                    for (const auto* look : {&t, &g})
                        for (std::size_t c = 0; c < 3; ++c)
                            if (std::fabs(shown(static_cast<double>((*look)[c][i])) -
                                          shown(static_cast<double>(before[c][i]))) > 1 / 255.0)
                                return QStringLiteral("what was to stay has changed");
                } else if (was.saturation > 0.15 && was.value > 0.1 && away > 60) {
                    ++others;
                    if (apart(now.hue, was.hue + turn) > 3)
                        return QStringLiteral("%1 was turned to %2").arg(was.hue).arg(now.hue);
                    if (grey.value * grey.saturation > 1.5 / 255)
                        return QStringLiteral("%1 is left in colour").arg(was.hue);
                }
            }
            return keeps > 1000 && others > 1000 ? QString()
                                                 : QStringLiteral("%1 and %2 points").arg(keeps).arg(others);
        });
        // Where the paint is seen, well inside.
        const QImage picture = window().model().picture();
        QPoint place;
        for (int y = 8; y < picture.height() - 8 && place.isNull(); ++y)
            for (int x = 8; x < picture.width() - 8 && place.isNull(); ++x) {
                const QColor c = picture.pixelColor(x, y);
                if ((c.hsvHue() < 10 || c.hsvHue() > 350) && c.hsvSaturation() > 150 && c.value() > 100)
                    place = QPoint(x, y);
            }
        QVERIFY(!place.isNull());
        hand().openMenu(window().model(), place + QPoint(4, 4));
        QVERIFY(hand().choose(QStringLiteral("Shift this hue")));
        QVERIFY(hand().lookFor([this] {
            const auto step = session().shownStep(session().selectedStep());
            return step && step->type == "hsv-shift" && step->controls.contains("band-centre");
        }));
        QVERIFY(hand().look());
        kept = std::get<double>(session().shownStep(session().selectedStep())->controls.at("band-centre"));
        auto* others = inTuner<QCheckBox>("toggle-band-invert");
        QVERIFY(others != nullptr);
        bringIntoView(*others);
        hand().click(*others, QPoint(8, others->height() / 2));
        QVERIFY(hand().look());
        QVERIFY(slide("slider-hue", 90));
        turn = std::get<double>(session().shownStep(session().selectedStep())->controls.at("hue"));
        turned = session().look();
        keepAsLook();
        QVERIFY(slide("slider-saturation", 0));
        greyed = session().look();
        QVERIFY(turned != greyed);
        QVERIFY(done(11, 6));
    }
};

QTEST_MAIN(RecolouringTest)
#include "recolouring_test.moc"
