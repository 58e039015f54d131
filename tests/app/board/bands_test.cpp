// Layers on the board as a pure function: bands in their order, columns that line up, nothing over anything
// else, and what is added moves only what stands behind it.
#include <QtTest>
#include <random>

#include "app/board/band_columns.h"
#include "core/document/channels.h"
#include "core/document/edits.h"
#include "core/document/layer_edits.h"
#include "tests/support/board_boxes.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::board;
using namespace kettle::test;

namespace {

Step sourceFor(Kind kind) {
    return step("", kind == Kind::Colour ? "colour" : kind == Kind::Scalar ? "value" : "flat-normal");
}

/// Channels with some steps, and layers that cover some of them, at random.
Project layered(unsigned seed, std::size_t channelCount, int layers) {
    std::mt19937 random(seed);
    Project p;
    for (std::size_t c = 0; c < channelCount; ++c) {
        const ChannelSpec& info = channels()[c];
        Step source = sourceFor(info.kind);
        source.id = std::string(info.id) + "0";
        p.lines.emplace_back(line(info.id, info.kind, info.id, {source}));
    }
    std::string id, fill;
    for (int i = 0; i < layers; ++i) {
        p = *edits::addLayer(p, "", {"Layer", "", ""}, id);
        for (std::size_t c = 0; c < channelCount; ++c) {
            if (random() % 2 == 0) continue;
            if (auto next = edits::cover(p, "", id, channels()[c].id, sourceFor(channels()[c].kind), fill))
                p = *next;
        }
        // Steps between the bands, and shaped masks.
        if (random() % 3 == 0) {
            const std::string on = channels()[random() % channelCount].id;
            const std::size_t at = 1 + random() % p.findLine(on)->steps.size();
            p = *edits::insertStep(p, "", on, at, step(edits::freshId(p, "s"), "invert"));
        }
        // And some that lie within another line as well.
        if (random() % 3 == 0)
            if (auto next = edits::setFeed(p, headOf(*p.findLine(id)).id, "mask", feed(channels()[0].id)))
                p = *next;
        for (auto n = random() % 3; n > 0; --n)
            p = *edits::insertStep(p, "", id, 1, step(edits::freshId(p, "s"), "invert"));
    }
    return p;
}

const BandPlace* bandOf(const Layout& l, const std::string& layer) {
    for (const BandPlace& b : l.bands)
        if (b.layer == layer) return &b;
    return nullptr;
}

}  // namespace

class BandsTest final : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void nothingOverlapsFromOneLayerToForty() {
        for (unsigned seed = 1; seed <= 14; ++seed) {
            const Project p = layered(seed, 1 + seed % 13, static_cast<int>(1 + seed * 3 % 40));
            const QString overlap = overlapIn(layOut(p, 960));
            QVERIFY2(overlap.isEmpty(), qPrintable(QStringLiteral("%1: %2").arg(seed).arg(overlap)));
        }
        const Project most = layered(5, 13, 40);
        QVERIFY2(overlapIn(layOut(most, 960)).isEmpty(), qPrintable(overlapIn(layOut(most, 960))));
    }

    void bandsStandInTheirOrderAndHoldTheirFills() {
        for (unsigned seed = 1; seed <= 10; ++seed) {
            const Project p = layered(seed, 8, 12);
            const Layout l = layOut(p, 960);
            const auto order = layersOf(p, "");
            QCOMPARE(l.bands.size(), order.size());
            for (std::size_t i = 0; i < order.size(); ++i) {
                QCOMPARE(l.bands[i].layer, order[i]->id);
                if (i > 0) QVERIFY(l.bands[i - 1].rect.right() < l.bands[i].rect.left());
                for (const FillPlace& fill : fillsOf(p, order[i]->id)) {
                    const CardPlace* card = l.cardOf(fill.step->id);
                    QVERIFY(card != nullptr && card->isFill);
                    QVERIFY(l.bands[i].rect.contains(card->rect));
                    QCOMPARE(card->rect.left(), l.bands[i].rect.left() + kBandPad);
                }
                // Nothing of others stands in it; what is not covered runs through.
                for (const CardPlace& c : l.cards)
                    if (!c.isFill && !c.isHead) QVERIFY(!l.bands[i].rect.intersects(c.rect));
            }
        }
    }

    void stepsStandInTheOrderOfTheirLine() {
        for (unsigned seed = 1; seed <= 10; ++seed) {
            const Project p = layered(seed, 6, 9);
            const Layout l = layOut(p, 960);
            for (const auto& line : p.lines) {
                int right = 0;
                for (const auto& s : line->steps) {
                    const CardPlace* card = l.cardOf(s->id);
                    if (card == nullptr) continue;
                    QVERIFY2(card->rect.left() > right, qPrintable(QString::fromStdString(s->id)));
                    right = card->rect.right();
                }
            }
        }
    }

    void anInsertionMovesOnlyWhatIsBehind() {
        const Project p = layered(3, 6, 6);
        const Layout before = layOut(p, 960);
        const auto order = layersOf(p, "");
        std::string id, fill;
        Project more = *edits::addLayer(p, "", {"New", "", order[3]->id}, id);
        more = *edits::cover(more, "", id, "base-colour", sourceFor(Kind::Colour), fill);
        const Layout after = layOut(more, 960);
        for (std::size_t i = 0; i < 3; ++i) {
            QCOMPARE(after.bands[i].rect.left(), before.bands[i].rect.left());
            QCOMPARE(after.cardOf(before.bands[i].head)->rect, before.cardOf(before.bands[i].head)->rect);
        }
        QCOMPARE(after.bands[3].layer, id);
        QVERIFY(after.bands[4].rect.left() > before.bands[3].rect.left());
    }

    void aFoldedBandIsItsHead() {
        const Project p = layered(7, 8, 4);
        LayoutOptions options;
        const std::string folded = layersOf(p, "")[1]->id;
        options.foldedBands.insert(folded);
        const Layout l = layOut(p, 960, options), all = layOut(p, 960);
        QVERIFY(bandOf(l, folded)->isFolded);
        QVERIFY(bandOf(l, folded)->rect.width() < bandOf(all, folded)->rect.width());
        for (const FillPlace& fill : fillsOf(p, folded)) QVERIFY(l.cardOf(fill.step->id) == nullptr);
        QVERIFY(overlapIn(l).isEmpty());
    }

    void anOwnLineIsInItsCardUntilItIsOpened() {
        const Project p = layered(2, 4, 2);
        const auto own = fillLines(p);
        QVERIFY(!own.empty());
        LayoutOptions options;
        const Layout closed = layOut(p, 960);
        for (const std::string& line : own)
            QVERIFY(closed.cardOf(p.findLine(line)->steps.front()->id) == nullptr);
        options.openFills.insert(*own.begin());
        QVERIFY(layOut(p, 960, options).cardOf(p.findLine(*own.begin())->steps.front()->id) != nullptr);
    }

    void aLineThatHasOnlyFillsStaysSlim() {
        Project p = layered(4, 8, 0);
        std::string id, fill;
        p = *edits::addLayer(p, "", {"One", "", ""}, id);
        for (const char* c : {"base-colour", "roughness", "normal"})
            p = *edits::cover(p, "", id, c, sourceFor(findChannel(c)->kind), fill);
        const Layout l = layOut(p, 960);
        for (const HeadPlace& h : l.heads) QVERIFY(h.isSlim);
        QVERIFY(l.size.height() < 420);  // eight channels and a band are seen whole
    }
};

QTEST_MAIN(BandsTest)
#include "bands_test.moc"
