// The finder without a window: what is offered for what is typed, in which order, and what Enter chooses.
#include "app/board/finder.h"

#include <QLineEdit>
#include <QListWidget>
#include <QtTest>
#include <cmath>

#include "core/document/layers.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

class FinderTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<Finder> m_finder;
    std::vector<Offer> m_chosen;

    QListWidget& list() { return *m_finder->findChild<QListWidget*>(); }
    QLineEdit& filter() { return *m_finder->findChild<QLineEdit*>(); }
    static Line lineOf(const char* id, const char* name, Kind kind, const char* source) {
        Line line;
        line.id = id, line.name = name, line.kind = kind;
        Step first;
        first.id = std::string(id) + "-source", first.type = source;
        line.steps.emplace_back(first);
        return line;
    }
    /// A colour line that is worked on, a grey one and a normal one, and lines of each kind to lay over.
    static Project project() {
        Project p;
        for (const Kind kind : {Kind::Colour, Kind::Scalar, Kind::Normal})
            for (const char* which : {"here", "sand"}) {
                const std::string name = std::string(which) + " " + nameOf(kind);
                p.lines.emplace_back(lineOf(name.c_str(), name.c_str(), kind,
                                            kind == Kind::Colour   ? "colour"
                                            : kind == Kind::Scalar ? "value"
                                                                   : "flat-normal"));
            }
        return p;
    }
    static Gap gapOn(Kind kind) {
        return {project(), shippedSteps(), "", std::string("here ") + nameOf(kind), 1, {}};
    }
    QStringList offeredAt(Gap gap, const QString& typed) {
        m_finder->openAt(std::move(gap), {100, 100});
        QTest::keyClicks(&filter(), typed);
        QStringList names;
        for (int i = 0; i < list().count(); ++i) names << list().item(i)->text();
        return names;
    }
    QStringList offered(const QString& typed, Kind kind = Kind::Colour) {
        return offeredAt(gapOn(kind), typed);
    }
    /// What Enter chooses, as a type of offer; null if it chooses nothing or something else.
    template <class What>
    const What* entered() {
        m_chosen.clear();
        enter();
        return m_chosen.size() == 1 ? std::get_if<What>(&m_chosen.front().what) : nullptr;
    }
    void enter() { QTest::keyClick(&filter(), Qt::Key_Return); }

private Q_SLOTS:
    void init() {
        m_finder = std::make_unique<Finder>(nullptr);
        m_chosen.clear();
        connect(m_finder.get(), &Finder::chosen, this, [this](const Offer& o) { m_chosen.push_back(o); });
    }
    void cleanup() { m_finder.reset(); }

    void whatIsCalledSoComesFirst() {
        const QStringList names = offered(QStringLiteral("lev"));
        QCOMPARE(names.front(), QStringLiteral("Levels"));
        const auto* step = entered<Step>();
        QVERIFY(step != nullptr && !m_finder->isVisible());
        QCOMPARE(step->type, std::string("levels"));
        QVERIFY(step->controls.empty());
        QCOMPARE(m_finder->gap().line, std::string("here colour"));
        QCOMPARE(m_finder->gap().index, std::size_t{1});
    }
    void nothingButWhatFitsTheLine() {
        for (const Kind kind : {Kind::Colour, Kind::Scalar, Kind::Normal}) {
            int steps = 0;
            for (const Offer& offer : offersFor({}, gapOn(kind), {}, {})) {
                const auto* step = std::get_if<Step>(&offer.what);
                if (step == nullptr) continue;
                QVERIFY2(shippedSteps().find(step->type)->fits(kind), step->type.c_str());
                QVERIFY(step->type != kLayerHead && step->type != kFill);
                ++steps;
            }
            QVERIFY(steps > 2);
        }
        QCOMPARE(offered(QStringLiteral("hsv"), Kind::Normal),
                 QStringList{QStringLiteral("HSV shift does not fit a normal line.")});
        enter();
        QVERIFY(m_chosen.empty() && m_finder->isVisible());
    }
    void aModesNameIsABlendInThatMode() {
        for (const Kind kind : {Kind::Colour, Kind::Scalar}) {
            QCOMPARE(offered(QStringLiteral("mult"), kind).front(), QStringLiteral("Blend: multiply"));
            const auto* step = entered<Step>();
            QVERIFY(step != nullptr);
            QCOMPARE(step->type, std::string("blend"));
            QCOMPARE(step->controls, (Controls{{"mode", std::string("multiply")}}));
            QVERIFY(m_finder->recent().isEmpty());
        }
        // Modes of hue and saturation are none for greys; two letters are too few to tell a mode.
        QVERIFY(offered(QStringLiteral("luminosity")).contains(QStringLiteral("Blend: luminosity")));
        QVERIFY(!offered(QStringLiteral("luminosity"), Kind::Scalar)
                     .contains(QStringLiteral("Blend: luminosity")));
        QVERIFY(offered(QStringLiteral("mu")).filter(QStringLiteral("Blend: ")).isEmpty());
        QVERIFY(
            offered(QStringLiteral("multiply"), Kind::Normal).filter(QStringLiteral("Blend: ")).isEmpty());
    }
    void aModeAndAPattern() {
        for (const char* typed : {"difference shape", "shape difference"}) {
            QCOMPARE(offered(QString::fromLatin1(typed)), QStringList{QStringLiteral("Difference: Shape")});
            const auto* over = entered<LaidOver>();
            QVERIFY(over != nullptr);
            QCOMPARE(over->mode, std::optional(BlendMode::Difference));
            QCOMPARE(std::get<NewSource>(over->what).step.type, std::string("shape"));
            QVERIFY(!over->amount);
        }
    }
    void aModeALineAndAnAmount() {
        QCOMPARE(offered(QStringLiteral("multiply sand colour 0.35"), Kind::Scalar),
                 QStringList{QStringLiteral("Multiply: sand colour as grey, 0.35")});
        const auto* grey = entered<LaidOver>();
        QVERIFY(grey != nullptr);
        QCOMPARE(grey->mode, std::optional(BlendMode::Multiply));
        QCOMPARE(*grey->amount, 0.35);
        QCOMPARE(std::get<Feed>(grey->what).line, std::string("sand colour"));
        QCOMPARE(std::get<Feed>(grey->what).component, std::string("luminance"));
        // A share in per cent, a mode behind; colours on a colour line are no greys.
        QVERIFY(offered(QStringLiteral("sand soft light 40%"))
                    .contains(QStringLiteral("Soft light: sand colour, 0.4")));
        const auto* whole = entered<LaidOver>();
        QVERIFY(whole != nullptr && std::get<Feed>(whole->what).component.empty());
        QCOMPARE(offered(QStringLiteral("multiply 0.2")).front(), QStringLiteral("Blend: multiply, 0.2"));
        const auto* bare = entered<Step>();
        QVERIFY(bare != nullptr);
        QCOMPARE(std::get<double>(bare->controls.at("amount")), 0.2);
        // A number beyond 0..1 is no amount, but a part of a name that nothing has.
        QVERIFY(
            offered(QStringLiteral("multiply sand 7")).front().startsWith(QStringLiteral("Nothing fits")));
    }
    void aStepAndTheLineThatItIsFor() {
        QCOMPARE(offered(QStringLiteral("height to normal sand"), Kind::Normal),
                 (QStringList{QStringLiteral("Height to normal: sand colour as grey"),
                              QStringLiteral("Height to normal: sand scalar")}));
        const auto* step = entered<Step>();
        QVERIFY(step != nullptr);
        QCOMPARE(step->type, std::string("height-to-normal"));
        QCOMPARE(step->feeds.at("height").line, std::string("sand colour"));
        QCOMPARE(step->feeds.at("height").component, std::string("luminance"));
        QVERIFY(m_finder->recent().isEmpty());
    }
    void itsOwnCopyOnARamp() {
        QCOMPARE(offered(QStringLiteral("overlay on a ramp")).front(),
                 QStringLiteral("Overlay: What comes in, on a ramp"));
        const auto* over = entered<LaidOver>();
        QVERIFY(over != nullptr && std::holds_alternative<RampedCopy>(over->what));
        QCOMPARE(over->mode, std::optional(BlendMode::Overlay));
        QVERIFY(
            offered(QStringLiteral("on a ramp"), Kind::Normal).front().startsWith(QStringLiteral("Nothing")));
    }
    void linesThatFitAndMakeNoRing() {
        QCOMPARE(offered(QStringLiteral("sand"), Kind::Normal),
                 QStringList{QStringLiteral("Laid over: sand normal")});
        // Behind them a step whose purpose speaks of sand.
        QCOMPARE(offered(QStringLiteral("sand")).mid(0, 2),
                 (QStringList{QStringLiteral("Laid over: sand colour"),
                              QStringLiteral("Laid over: sand scalar")}));
        QVERIFY(
            offered(QStringLiteral("here"), Kind::Colour).filter(QStringLiteral("here colour")).isEmpty());
        // A line that reads this one cannot be read by it.
        Gap gap = gapOn(Kind::Colour);
        std::string step;
        Feed here;
        here.line = "here colour";
        gap.project = *edits::layOver(gap.project, {}, "sand colour", 1, {here, {}, {}}, step);
        QCOMPARE(offeredAt(gap, QStringLiteral("sand")).filter(QStringLiteral("Laid over")),
                 QStringList{QStringLiteral("Laid over: sand scalar")});
    }
    void aColourByItsHex() {
        QCOMPARE(offered(QStringLiteral("multiply #ff8000")),
                 QStringList{QStringLiteral("Multiply: #FF8000")});
        const auto* over = entered<LaidOver>();
        QVERIFY(over != nullptr);
        const auto colour = std::get<Colour>(*std::get<Feed>(over->what).constant);
        QCOMPARE(colour.r, 1.0f);
        // IEC 61966-2-1 of 128/255.
        QVERIFY(std::fabs(colour.g - std::pow((128 / 255.0 + 0.055) / 1.055, 2.4)) < 1e-6);
        QCOMPARE(colour.b, 0.0f);
        QVERIFY(
            offered(QStringLiteral("#ff8000"), Kind::Scalar).front().startsWith(QStringLiteral("Nothing")));
    }
    void whatWasUsedLastComesFirst() {
        offered(QStringLiteral("curves"));
        enter();
        offered(QStringLiteral("levels"));
        enter();
        const QStringList names = offered({});
        QCOMPARE(names[0], QStringLiteral("Levels"));
        QCOMPARE(names[1], QStringLiteral("Curves"));
        QCOMPARE(m_finder->recent(), (QStringList{QStringLiteral("levels"), QStringLiteral("curves")}));
    }
    void layersAreOfferedWhereTheyMayGo() {
        QVERIFY(offered(QStringLiteral("layer")).filter(QStringLiteral("Layer: ")).isEmpty());
        Gap gap = gapOn(Kind::Colour);
        gap.layersBehind = "behind";
        TextureSet sand;
        sand.id = "set-2", sand.name = "Sand";
        gap.project.sets.emplace_back(sand);
        const QStringList names = offeredAt(gap, QStringLiteral("layer"));
        QCOMPARE(names.front(), QStringLiteral("Layer: values"));
        QVERIFY(names.contains(QStringLiteral("Layer: Sand")));
        for (qsizetype down = offeredAt(gap, QStringLiteral("sand")).indexOf(QStringLiteral("Layer: Sand"));
             down > 0; --down)
            QTest::keyClick(&filter(), Qt::Key_Down);
        const auto* layer = entered<NewLayer>();
        QVERIFY(layer != nullptr && layer->of == NewLayer::Of::Set);
        QCOMPARE(layer->set, std::string("set-2"));
    }
    void theArrowsChooseAndEscapeCloses() {
        const QStringList names = offered({});
        QTest::keyClick(&filter(), Qt::Key_Up);
        QCOMPARE(list().currentRow(), 0);
        QTest::keyClick(&filter(), Qt::Key_Down);
        QCOMPARE(list().currentRow(), 1);
        QTest::keyClick(&filter(), Qt::Key_Escape);
        QVERIFY(!m_finder->isVisible());
        QVERIFY(m_chosen.empty());
    }
};

QTEST_MAIN(FinderTest)
#include "finder_test.moc"
