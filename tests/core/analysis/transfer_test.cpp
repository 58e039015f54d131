// How a Blend answers every under, against the formulas of the W3C worked by hand.
#include <QTemporaryDir>
#include <QtTest>

#include "core/analysis/matching.h"
#include "core/analysis/transfer.h"
#include "core/colour/encoding.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace {

const Resources kNoMaps{std::filesystem::path{}};
constexpr std::size_t kLast = BlendTransfer::kSamples - 1;

/// A blend of `mode` with feeds, on a colour line over a fixed colour.
Project blendOver(Colour under, const std::string& mode, Feeds feeds, Controls more = {}) {
    more["mode"] = mode;
    return colourThrough(under, step("blend", "blend", std::move(more), std::move(feeds)));
}

}  // namespace

class TransferTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void multiplyIsAStraightLineInLight() {
        const Project p =
            blendOver({0.5f, 0.5f, 0.5f}, "multiply", {{"over", constantFeed(Colour{0.25f, 1, 0})}});
        const auto t = blendTransfer(p, "", "blend", 0.3f, 0.7f, kNoMaps);
        QVERIFY(t);
        QCOMPARE(t->components, 3);
        for (std::size_t i = 0; i <= kLast; ++i) {
            const float under = static_cast<float>(i) / kLast;
            QVERIFY(std::fabs(t->result[0][i] - linearToSrgb(0.25f * srgbToLinear(under))) < 3e-6f);
            QVERIFY(std::fabs(t->result[1][i] - under) < 3e-6f);
            QVERIFY(std::fabs(t->result[2][i]) < 3e-6f);
        }
        QVERIFY(std::fabs(t->landed[0] - linearToSrgb(0.125f)) < 3e-6f);
        QVERIFY(std::fabs(t->under[0] - linearToSrgb(0.5f)) < 1e-6f);
        QVERIFY(std::fabs(t->over[0] - linearToSrgb(0.25f)) < 1e-6f);
        QCOMPARE(t->weight, 1.0f);
    }
    void overlayOfMidGreyChangesNothing() {
        // The grey is a number, which is meant as it stands where the blend works display-encoded.
        const Project p = blendOver({0.2f, 0.4f, 0.6f}, "overlay", {{"over", constantFeed(0.5)}});
        const auto t = blendTransfer(p, "", "blend", 0, 0, kNoMaps);
        QVERIFY(t);
        for (std::size_t i = 0; i <= kLast; ++i)
            QVERIFY(std::fabs(t->result[0][i] - static_cast<float>(i) / kLast) < 3e-6f);
        QCOMPARE(t->over, (std::array<float, 3>{0.5f, 0.5f, 0.5f}));
    }
    void amountAndMaskLeadHalfWay() {
        const Project p = blendOver({1, 1, 1}, "normal",
                                    {{"over", constantFeed(Colour{0, 0, 0})}, {"mask", constantFeed(0.5)}},
                                    {{"amount", 0.5}});
        const auto t = blendTransfer(p, "", "blend", 0, 0, kNoMaps);
        QVERIFY(t);
        QCOMPARE(t->weight, 0.25f);
        QVERIFY(std::fabs(t->result[0][kLast] - linearToSrgb(0.75f)) < 3e-6f);
        QVERIFY(std::fabs(t->landed[0] - linearToSrgb(0.75f)) < 3e-6f);
    }
    void aGreyLineAnswersInRawNumbers() {
        const Project p = valueThrough(
            0.25, step("blend", "blend", {{"mode", std::string("screen")}}, {{"over", constantFeed(0.5)}}));
        const auto t = blendTransfer(p, "", "blend", 0, 0, kNoMaps);
        QVERIFY(t);
        QCOMPARE(t->components, 1);
        // u + o - u o
        QVERIFY(std::fabs(t->result[0][0] - 0.5f) < 1e-6f);
        QVERIFY(std::fabs(t->result[0][kLast / 2] - 0.75f) < 1e-6f);
        QVERIFY(std::fabs(t->landed[0] - 0.625f) < 1e-6f);
    }
    void theMapsAreReadAtThePlace() {
        const QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        // Left half black and wholly transparent, right half white and opaque.
        QVERIFY(writePicture(root / "over.png", 8, 8, 4, [](int x, int, int) { return x < 4 ? 0 : 255; }));
        Project p =
            blendOver({0.5f, 0.5f, 0.5f}, "normal", {{"over", feed("stamp")}}, {{"own-transparency", true}});
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"base-colour", "over.png", "auto", {}}}, {}});
        p.lines.emplace_back(line("stamp", Kind::Colour, "", {mapStep("m", "base-colour")}));
        const Resources maps(root);
        const auto left = blendTransfer(p, "", "blend", 0.2f, 0.5f, maps);
        const auto right = blendTransfer(p, "", "blend", 0.8f, 0.5f, maps);
        QVERIFY(left && right);
        QCOMPARE(left->weight, 0.0f);
        QVERIFY(std::fabs(left->result[0][kLast / 2] - 0.5f) < 1e-6f);
        QCOMPARE(right->weight, 1.0f);
        QVERIFY(std::fabs(right->result[0][0] - 1) < 1e-6f);
        QFile::remove(QString::fromStdString((root / "over.png").string()));
        const Resources gone(root);
        const auto missing = blendTransfer(p, "", "blend", 0.2f, 0.5f, gone);
        QVERIFY(!missing);
        QCOMPARE(missing.error().kind, ErrorKind::Unreadable);
    }
    void aLookAndABypassAreHeeded() {
        Project p = blendOver({1, 1, 1}, "normal", {{"over", constantFeed(Colour{0, 0, 0})}});
        p.looks.emplace_back(Look{"soft", "Soft", {{"blend.amount", 0.5}, {"blend.bypass", true}}, {}});
        const auto t = blendTransfer(p, "soft", "blend", 0, 0, kNoMaps);
        QVERIFY(t);
        QVERIFY(std::fabs(t->landed[0] - linearToSrgb(0.5f)) < 3e-6f);
    }
    void whatIsNoBlendOrHasNothingOverSaysSo() {
        const Project p = blendOver({1, 1, 1}, "normal", {});
        QCOMPARE(blendTransfer(p, "", "source", 0, 0, kNoMaps).error().kind, ErrorKind::Refused);
        const auto bare = blendTransfer(p, "", "blend", 0, 0, kNoMaps);
        QVERIFY(!bare);
        QVERIFY(bare.error().sentence.find("over") != std::string::npos);
    }
    void theMeanOfAnAreaIsOfLight() {
        const QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        QVERIFY(writePicture(root / "half.png", 64, 64, 3, [](int x, int, int) { return x < 32 ? 0 : 255; }));
        Project p;
        p.sets.emplace_back(TextureSet{"set", "Set", "", {{"base-colour", "half.png", "auto", {}}}, {}});
        p.lines.emplace_back(line("base", Kind::Colour, "base-colour", {mapStep("m", "base-colour")}));
        const Resources maps(root);
        const auto whole = meanColour(p, "", "base", "", {0, 0, 1, 1}, maps);
        const auto right = meanColour(p, "", "base", "m", {0.6f, 0.1f, 0.9f, 0.9f}, maps);
        QVERIFY(whole && right);
        QVERIFY(std::fabs(whole->r - 0.5f) < 0.01f);
        QVERIFY(std::fabs(right->g - 1) < 1e-5f);
        QCOMPARE(meanColour(p, "", "base", "", {0.5f, 0, 0.5f, 1}, maps).error().kind, ErrorKind::Refused);
        QCOMPARE(meanColour(p, "", "none", "", {0, 0, 1, 1}, maps).error().kind, ErrorKind::Refused);
        // A number as the grey that it looks like.
        const Project grey = valueThrough(0.5, step("same", "invert"));
        QVERIFY(std::fabs(meanColour(grey, "", "base", "", {0, 0, 1, 1}, kNoMaps)->r - srgbToLinear(0.5f)) <
                1e-6f);
    }
};

QTEST_GUILESS_MAIN(TransferTest)
#include "transfer_test.moc"
