#include "core/colour/colour_management.h"

#include <QTemporaryDir>
#include <QtTest>
#include <algorithm>
#include <array>
#include <cmath>
#include <fstream>

#include "core/colour/encoding.h"

using namespace kettle;

class ColourManagementTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void shippedSpacesAreThere() {
        const ColourManagement colours = ColourManagement::shipped();
        for (const char* space : {"sRGB", "linear Rec.709", "linear Display P3", "Display P3", "Rec.2020",
                                  "ACEScg", "ACES2065-1", "gamma 1.8", "gamma 2.2", "raw"})
            QVERIFY2(colours.knows(space), space);
        QVERIFY(!colours.knows("sepia"));
        QCOMPARE(colours.spaces().size(), std::size_t{10});
    }
    void srgbAgreesWithOurOwnCurve() {
        const ColourManagement colours = ColourManagement::shipped();
        std::array<float, 6> rgb{0.02f, 0.25f, 0.5f, 0.75f, 1.0f, 0.0f};
        const auto before = rgb;
        QVERIFY(colours.convert(rgb.data(), 2, "sRGB", "linear Rec.709").has_value());
        for (std::size_t i = 0; i < rgb.size(); ++i)
            QVERIFY(std::fabs(rgb[i] - srgbToLinear(before[i])) < 2e-5f);
    }
    void whiteStaysWhiteInEverySpace() {
        const ColourManagement colours = ColourManagement::shipped();
        for (const std::string& space : colours.spaces()) {
            std::array<float, 3> white{1, 1, 1};
            QVERIFY(colours.convert(white.data(), 1, space, "linear Rec.709").has_value());
            for (const float c : white) QVERIFY2(std::fabs(c - 1) < 2e-4f, space.c_str());
        }
    }
    void p3RedIsOutsideRec709() {
        // SMPTE RP 431-2 primaries at D65: the red of Display P3 in linear Rec.709.
        const ColourManagement colours = ColourManagement::shipped();
        std::array<float, 3> red{1, 0, 0};
        QVERIFY(colours.convert(red.data(), 1, "linear Display P3", "linear Rec.709").has_value());
        QVERIFY(std::fabs(red[0] - 1.2249f) < 1e-3f && std::fabs(red[1] + 0.0420f) < 1e-3f &&
                std::fabs(red[2] + 0.0197f) < 1e-3f);
    }
    void gammaIsAPower() {
        const ColourManagement colours = ColourManagement::shipped();
        std::array<float, 3> grey{0.5f, 0.5f, 0.5f};
        QVERIFY(colours.convert(grey.data(), 1, "gamma 2.2", "linear Rec.709").has_value());
        QVERIFY(std::fabs(grey[0] - std::pow(0.5f, 2.2f)) < 1e-4f);
    }
    void rawIsLeftAlone() {
        std::array<float, 3> numbers{0.1f, -2.0f, 30.0f};
        const auto before = numbers;
        QVERIFY(ColourManagement::shipped().convert(numbers.data(), 1, "raw", "sRGB").has_value());
        QCOMPARE(numbers, before);
    }
    void anUnknownSpaceIsASentence() {
        std::array<float, 3> c{};
        const auto done = ColourManagement::shipped().convert(c.data(), 1, "sepia", "sRGB");
        QVERIFY(!done);
        QCOMPARE(QString::fromStdString(done.error().sentence),
                 QStringLiteral("Cannot convert from sepia to sRGB: the colour configuration has no such "
                                "pair. Choose another encoding."));
    }
    void theEnvironmentsConfigurationIsHonoured() {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("own.ocio"));
        std::ofstream(file.toStdString()) << "ocio_profile_version: 2\nroles: {default: plain}\nfile_rules: "
                                             "[!<Rule> {name: Default, colorspace: plain}]\n"
                                             "displays: {d: [!<View> {name: v, colorspace: "
                                             "plain}]}\ncolorspaces: [!<ColorSpace> {name: plain}]\n";
        qputenv("OCIO", file.toUtf8());
        const auto own = ColourManagement::fromEnvironment();
        QVERIFY(own.has_value());
        QVERIFY(own->knows("plain") && !own->knows("ACEScg"));
        qputenv("OCIO", "/nowhere.ocio");
        QVERIFY(!ColourManagement::fromEnvironment());
        qunsetenv("OCIO");
        QVERIFY(ColourManagement::fromEnvironment()->knows("ACEScg"));
    }

    void viewsAreOfferedAndComputed() {
        const ColourManagement& colours = ColourManagement::shipped();
        const auto views = colours.views();
        QVERIFY(std::find(views.begin(), views.end(), "ACES") != views.end());
        // Not offered as an encoding: it is made for the screen alone.
        const auto spaces = colours.spaces();
        QVERIFY(std::find(spaces.begin(), spaces.end(), "ACES picture") == spaces.end());
        const auto aces = colours.viewTransform("ACES");
        QVERIFY(aces.has_value());
        std::array<float, 9> c{0, 0, 0, 0.18f, 0.18f, 0.18f, 16, 16, 16};
        (*aces)->applyPixels(c.data(), 3);
        // Black stays, mid grey comes to about 0.35 of the display's numbers, and far above white nothing
        // exceeds 1.
        QVERIFY(c[0] < 0.01f);
        QVERIFY2(c[3] > 0.30f && c[3] < 0.42f, std::to_string(c[3]).c_str());
        QVERIFY(std::fabs(c[3] - c[4]) < 0.01f && std::fabs(c[4] - c[5]) < 0.01f);
        QVERIFY(c[6] > 0.9f && c[6] <= 1.001f);
        QCOMPARE(QString::fromStdString(colours.viewTransform("sepia").error().sentence),
                 QStringLiteral("The colour configuration has no view sepia. Choose another."));
    }
    void transformsAreMadeOnceAndNoneForEqualSpaces() {
        const ColourManagement& colours = ColourManagement::shipped();
        QVERIFY(colours.transform("sRGB", "sRGB") == nullptr);
        QVERIFY(colours.transform("raw", "sRGB") == nullptr);
        QVERIFY(colours.transform("sepia", "sRGB") == nullptr);
        QCOMPARE(colours.transform("ACEScg", "sRGB"), colours.transform("ACEScg", "sRGB"));
        // Planes and pixels give the same numbers.
        std::array<float, 3> pixel{0.2f, 0.5f, 0.7f};
        float r = 0.2f, g = 0.5f, b = 0.7f;
        const float* in[3]{&r, &g, &b};
        float* out[3]{&r, &g, &b};
        const auto t = colours.transform("ACEScg", "linear Rec.709");
        t->applyPixels(pixel.data(), 1);
        t->applyPlanes(in, out, 1);
        QCOMPARE(r, pixel[0]);
        QCOMPARE(b, pixel[2]);
    }
    void aChosenConfigurationThatIsNotThereIsNamed() {
        std::string problem;
        const ColourManagement colours = ColourManagement::chosen("ours.ocio", "/no/such/folder", problem);
        QVERIFY(colours.knows("ACEScg"));
        QVERIFY(problem.starts_with("Cannot use the colour configuration /no/such/folder/ours.ocio."));
    }
};

QTEST_APPLESS_MAIN(ColourManagementTest)
#include "colour_management_test.moc"
