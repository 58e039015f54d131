// The themes: tokens that are neutral, contrast that can be read, and a style sheet whose colours all change.
#include "app/style/theme.h"

#include <QRegularExpression>
#include <QtTest>
#include <cmath>

#include "core/colour/encoding.h"

using namespace kettle;

namespace {

/// Contrast of two colours by WCAG 2: (lighter + 0.05) / (darker + 0.05) of their luminances.
double contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& c) {
        const auto linear = [](int code) {
            return static_cast<double>(srgbToLinear(static_cast<float>(code) / 255));
        };
        return 0.2126 * linear(c.red()) + 0.7152 * linear(c.green()) + 0.0722 * linear(c.blue());
    };
    const double la = luminance(a) + 0.05, lb = luminance(b) + 0.05;
    return std::max(la, lb) / std::min(la, lb);
}

}  // namespace

class ThemeTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }
    void cleanup() { theme::choose(theme::Theme::Pale); }

    void wordsCanBeRead_data() {
        QTest::addColumn<bool>("dusk");
        QTest::newRow("pale") << false;
        QTest::newRow("dusk") << true;
    }
    void wordsCanBeRead() {
        QFETCH(bool, dusk);
        theme::choose(dusk ? theme::Theme::Dusk : theme::Theme::Pale);
        for (const QColor& ground : {theme::kPaper, theme::kPanel, theme::kCard})
            for (const QColor& words :
                 {theme::kInk, theme::kQuiet, theme::kAccent, theme::kAmber, theme::kBrick})
                QVERIFY2(contrast(words, ground) >= 4.5,
                         qPrintable(words.name() + QStringLiteral(" on ") + ground.name()));
        QVERIFY(contrast(theme::kInk, theme::kBand) >= 4.5 && contrast(theme::kInk, theme::kTint) >= 4.5);
        // What is written on the accent.
        QVERIFY(contrast(theme::kCard, theme::kAccent) >= 4.5);
        // Nothing tints the judgement.
        for (const QColor& grey : {theme::kPaper, theme::kPanel, theme::kCard, theme::kHairline, theme::kEdge,
                                   theme::kInk, theme::kQuiet, theme::kShade, theme::kBand}) {
            QCOMPARE(grey.red(), grey.green());
            QCOMPARE(grey.green(), grey.blue());
        }
    }

    void theSheetChangesAsAWhole() {
        static const QRegularExpression colour(QStringLiteral("#[0-9A-F]{6}"));
        const QString pale = qApp->styleSheet();
        theme::choose(theme::Theme::Dusk);
        const QString dusk = qApp->styleSheet();
        QStringList before, after;
        for (auto it = colour.globalMatch(pale); it.hasNext();) before << it.next().captured();
        for (auto it = colour.globalMatch(dusk); it.hasNext();) after << it.next().captured();
        QCOMPARE(before.size(), after.size());
        QVERIFY(before.size() > 60);
        for (qsizetype i = 0; i < before.size(); ++i) QVERIFY2(before[i] != after[i], qPrintable(before[i]));
        theme::choose(theme::Theme::Pale);
        QCOMPARE(qApp->styleSheet(), pale);
        QCOMPARE(theme::kPaper, QColor(0xED, 0xED, 0xED));
    }
};

QTEST_MAIN(ThemeTest)
#include "theme_test.moc"
