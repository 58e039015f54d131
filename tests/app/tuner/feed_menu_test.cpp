// The picker of a feed: what it offers, what it leaves out, and what a choice does to the project.
#include "app/tuner/feed_menu.h"

#include <QMenu>
#include <QtTest>
#include <memory>

#include "app/session/session.h"
#include "core/steps/step.h"
#include "tests/support/demo_window.h"

using namespace kettle;
using namespace kettle::test;

class FeedMenuTest final : public QObject, DemoWindow {
    Q_OBJECT

    std::unique_ptr<Session> m_session;
    std::unique_ptr<QMenu> m_menu;
    const Feed* feedOf(const char* step, const char* feed) {
        const Step& s = m_session->project().stepAt(*m_session->project().findStep(step));
        const auto at = s.feeds.find(feed);
        return at == s.feeds.end() ? nullptr : &at->second;
    }
    void openFor(const char* step, const char* feed, Kind wanted) {
        m_menu.reset(makeFeedMenu(*m_session, step, feed, wanted, nullptr, nullptr));
    }
    QAction* entry(const char* words) { return entryOf(*m_menu, QString::fromUtf8(words)); }
    static QMenu* submenu(const QMenu& menu, const char* title) {
        for (const QAction* a : menu.actions())
            if (a->menu() != nullptr && a->text() == QString::fromUtf8(title)) return a->menu();
        return nullptr;
    }

private Q_SLOTS:
    void init() {
        m_session = std::make_unique<Session>();
        QVERIFY(m_session->open(kDemo));
    }
    void cleanup() {
        m_menu.reset();
        m_session.reset();
    }

    void aMaskIsTakenOffAndMadeANumber() {
        openFor("glaze", "mask", Kind::Scalar);
        entry("None")->trigger();
        QVERIFY(feedOf("glaze", "mask") == nullptr);
        openFor("glaze", "mask", Kind::Scalar);
        entry("A number")->trigger();
        QCOMPARE(std::get<double>(*feedOf("glaze", "mask")->constant), 0.5);
        m_session->undo();
        m_session->undo();
        QCOMPARE(feedOf("glaze", "mask")->line, std::string("enamel"));
    }
    void aColourFeedTakesAColour() {
        openFor("streaks", "over", Kind::Colour);
        QVERIFY(entry("A number") == nullptr);
        entry("A colour")->trigger();
        QVERIFY(std::holds_alternative<Colour>(*feedOf("streaks", "over")->constant));
    }
    void aColourLineIsReadByAComponentWhereAGreyIsWanted() {
        openFor("glaze", "mask", Kind::Scalar);
        const QMenu* base = submenu(*m_menu, "Base colour");
        QVERIFY(base != nullptr);
        QMenu* after = submenu(*base, "After Map");
        QVERIFY(after != nullptr);
        QCOMPARE(after->actions().size(), static_cast<qsizetype>(kComponents.size()));
        entryOf(*after, QStringLiteral("Luminance"))->trigger();
        const Feed& feed = *feedOf("glaze", "mask");
        QCOMPARE(feed.line, std::string("base-colour"));
        QCOMPARE(feed.after, std::string("s1"));
        QCOMPARE(feed.component, std::string("luminance"));
    }
    void aColourLineAsGreyIsOneChoice() {
        openFor("glaze", "mask", Kind::Scalar);
        QVERIFY(entry("Base colour as grey") == nullptr);  // its own line cannot be its mask
        openFor("wetness", "mask", Kind::Scalar);
        QVERIFY(entry("Metalness as grey") == nullptr);  // that is one
        entry("Base colour as grey")->trigger();
        const Feed& feed = *feedOf("wetness", "mask");
        QCOMPARE(feed.line, std::string("base-colour"));
        QCOMPARE(feed.after, std::string());
        QCOMPARE(feed.component, std::string("luminance"));
    }
    void noLineMayFeedItself() {
        // The glaze's own line may be read before the glaze, never after it or at its end.
        openFor("glaze", "mask", Kind::Scalar);
        const QMenu* base = submenu(*m_menu, "Base colour");
        QVERIFY(submenu(*base, "After Map") != nullptr);
        for (const char* behind : {"At its end", "After HSV shift", "After Blend"})
            QVERIFY2(submenu(*base, behind) == nullptr, behind);
    }
    void everyOfferIsTaken() {
        // Nothing stands in the menu that the project refuses.
        QSignalSpy told(m_session.get(), &Session::told);
        openFor("streaks", "over", Kind::Colour);
        QList<QAction*> offers;
        const std::function<void(const QMenu&)> collect = [&](const QMenu& menu) {
            for (QAction* a : menu.actions()) {
                if (a->menu() != nullptr) collect(*a->menu());
                if (a->menu() == nullptr && !a->isSeparator() && a->isEnabled()) offers << a;
            }
        };
        collect(*m_menu);
        QVERIFY(offers.size() > 12);
        for (QAction* a : offers) {
            a->trigger();
            QVERIFY2(told.isEmpty(), qPrintable(a->text()));
            m_session->undo();
        }
    }
    void normalsFeedOnlyNormals() {
        openFor("streaks", "over", Kind::Colour);
        QVERIFY(entry("Normal") == nullptr && submenu(*m_menu, "Normal") == nullptr);
    }
    void aNewSourceGetsALineOfItsOwn() {
        const std::size_t lines = m_session->project().lines.size();
        openFor("glaze", "mask", Kind::Scalar);
        QMenu* fresh = submenu(*m_menu, "New");
        QVERIFY(fresh != nullptr);
        entryOf(*fresh, QStringLiteral("Gradient"))->trigger();
        QCOMPARE(m_session->project().lines.size(), lines + 1);
        const Line& made = *m_session->project().findLine(feedOf("glaze", "mask")->line);
        QCOMPARE(made.steps.front()->type, std::string("gradient"));
        QVERIFY(made.channel.empty() && made.kind == Kind::Scalar);
        m_session->undo();
        QCOMPARE(m_session->project().lines.size(), lines);
    }
    void aNewHueBandLooksAtWhatComesIn() {
        openFor("glaze", "mask", Kind::Scalar);
        entryOf(*submenu(*m_menu, "New"), QStringLiteral("Hue band"))->trigger();
        const Step& band = *m_session->project().findLine(feedOf("glaze", "mask")->line)->steps.front();
        QCOMPARE(band.feeds.at("of").line, std::string("base-colour"));
        QCOMPARE(band.feeds.at("of").after, std::string("s1"));
    }
    void feedsAreSaidInWords() {
        const Project& p = m_session->project();
        Feed feed;
        feed.line = "base-colour";
        QCOMPARE(feedWords(p, feed), QStringLiteral("Base colour"));
        feed.after = "glaze";
        QCOMPARE(feedWords(p, feed), QStringLiteral("Base colour after HSV shift"));
        feed.component = "red";
        QVERIFY(feedWords(p, feed).startsWith(QStringLiteral("Base colour after HSV shift")));
        QVERIFY(feedWords(p, feed).contains(QStringLiteral("red")));
        Feed number;
        number.constant = 0.5;
        QCOMPARE(feedWords(p, number), QStringLiteral("a number"));  // its field stands below
    }
    void aColourHasAPictureAndANumberHasNone() {
        Feed colour, number;
        colour.constant = Colour{1, 0, 0};
        number.constant = 0.5;
        const QIcon icon = feedIcon(m_session->project(), colour, nullptr);
        QVERIFY(!icon.isNull());
        QCOMPARE(icon.pixmap(24, 24).toImage().pixelColor(12, 12), QColor(255, 0, 0));
        QVERIFY(feedIcon(m_session->project(), number, nullptr).isNull());
    }
};

QTEST_MAIN(FeedMenuTest)
#include "feed_menu_test.moc"
