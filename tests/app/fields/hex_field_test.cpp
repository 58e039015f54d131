// A hex field: a click takes all of it, what is typed takes its place, and what is no colour goes back.
#include "app/fields/hex_field.h"

#include <QtTest>
#include <cmath>

using namespace kettle;

class HexFieldTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QWidget> m_window;
    HexField* m_field = nullptr;
    std::vector<Colour> m_entered;

    static float light(double code) {
        const double shown = code / 255;
        return static_cast<float>(shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4));
    }

private Q_SLOTS:
    void init() {
        m_window = std::make_unique<QWidget>();
        m_field = new HexField(m_window.get());
        m_field->resize(90, 24);
        auto* other = new QLineEdit(m_window.get());
        other->move(0, 40);
        m_window->show();
        QVERIFY(QTest::qWaitForWindowActive(m_window.get()));
        other->setFocus();
        m_entered.clear();
        connect(m_field, &HexField::entered, this, [this](const Colour& c) { m_entered.push_back(c); });
        m_field->setColour({1, 1, 1});
    }
    void cleanup() { m_window.reset(); }

    void aClickTakesAllOfIt() {
        QTest::mouseClick(m_field, Qt::LeftButton, {}, QPoint(60, 12));
        QCOMPARE(m_field->selectedText(), QStringLiteral("#FFFFFF"));
        QTest::keyClicks(m_field, QStringLiteral("#ff8000"));
        QTest::keyClick(m_field, Qt::Key_Return);
        QCOMPARE(m_entered.size(), std::size_t{1});
        QCOMPARE(m_entered[0].r, 1.0f);
        QVERIFY(std::fabs(m_entered[0].g - light(128)) < 1e-6f);
        QCOMPARE(m_entered[0].b, 0.0f);
        QCOMPARE(m_field->text(), QStringLiteral("#FF8000"));
        // A second click stands between letters, to change one of them.
        QTest::mouseClick(m_field, Qt::LeftButton, {}, QPoint(60, 12));
        QTest::mouseClick(m_field, Qt::LeftButton, {}, QPoint(8, 12));
        QVERIFY(m_field->selectedText().isEmpty());
    }
    void whatIsNoColourGoesBack() {
        QTest::mouseClick(m_field, Qt::LeftButton);
        QTest::keyClicks(m_field, QStringLiteral("teal-ish"));
        QTest::keyClick(m_field, Qt::Key_Return);
        QVERIFY(m_entered.empty());
        QCOMPARE(m_field->text(), QStringLiteral("#FFFFFF"));
    }
    void theSameHexChangesNothing() {
        // Not quite white, which the same hex stands for.
        m_field->setColour({0.9999f, 1, 1});
        QTest::mouseClick(m_field, Qt::LeftButton);
        QTest::keyClicks(m_field, QStringLiteral("#ffffff"));
        QTest::keyClick(m_field, Qt::Key_Return);
        QVERIFY(m_entered.empty());
        QCOMPARE(m_field->colour().r, 0.9999f);
    }
    void whatIsBeingTypedStays() {
        QTest::mouseClick(m_field, Qt::LeftButton);
        QTest::keyClicks(m_field, QStringLiteral("#12"));
        m_field->setColour({0, 0, 0});
        QCOMPARE(m_field->text(), QStringLiteral("#12"));
        QTest::keyClicks(m_field, QStringLiteral("3456"));
        QTest::keyClick(m_field, Qt::Key_Return);
        QCOMPARE(m_entered.size(), std::size_t{1});
        QCOMPARE(m_field->text(), QStringLiteral("#123456"));
    }
};

QTEST_MAIN(HexFieldTest)
#include "hex_field_test.moc"
