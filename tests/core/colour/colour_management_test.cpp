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
};

QTEST_APPLESS_MAIN(ColourManagementTest)
#include "colour_management_test.moc"
