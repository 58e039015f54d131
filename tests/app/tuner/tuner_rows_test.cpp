// The tuner's rows for every step of the catalogue: nothing is cut off, nothing is shown that does nothing.
#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStyleOptionComboBox>
#include <QStyleOptionFrame>
#include <QTemporaryDir>

#include "app/fields/number_field.h"
#include "app/fields/telling_place.h"
#include "app/style/theme.h"
#include "core/document/edits.h"
#include "tests/support/demo_window.h"
#include "tests/support/exr.h"

using namespace kettle;
using namespace kettle::test;

class TunerRowsTest final : public QObject, DemoWindow {
    Q_OBJECT

    static int roomOf(const QComboBox& box) {
        QStyleOptionComboBox option;
        option.initFrom(&box);
        return box.style()
            ->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, &box)
            .width();
    }
    static int roomOf(const QLineEdit& line) {
        QStyleOptionFrame option;
        option.initFrom(&line);
        return line.style()->subElementRect(QStyle::SE_LineEditContents, &option, &line).width();
    }
    /// What does not fit in the tuner as it stands, with its owner's name.
    QStringList cutOff() {
        QStringList found;
        const auto look = [&](const QWidget& w, const QString& words, int room) {
            if (w.isVisible() && w.fontMetrics().horizontalAdvance(words) > room)
                found << QStringLiteral("%1 (%2 in %3)")
                             .arg(words)
                             .arg(w.fontMetrics().horizontalAdvance(words))
                             .arg(room);
        };
        for (const QComboBox* box : window().tuner().findChildren<QComboBox*>())
            for (int i = 0; i < box->count(); ++i) look(*box, box->itemText(i), roomOf(*box));
        for (const QLineEdit* line : window().tuner().findChildren<QLineEdit*>())
            look(*line, line->text(), roomOf(*line));
        for (const QLabel* label : window().tuner().findChildren<QLabel*>())
            if (!label->wordWrap()) look(*label, label->text(), label->contentsRect().width());
        for (const QPushButton* button : window().tuner().findChildren<QPushButton*>())
            look(*button, button->text(), button->width() - (button->property("compact").toBool() ? 4 : 12));
        return found;
    }
    /// The step as an artist adds it: on a line, or as the source of a new one.
    void add(const StepSpec& spec, Kind kind) {
        const std::string line = kind == Kind::Colour ? "base-colour" : "roughness";
        const std::size_t end = session().project().findLine(line)->steps.size();
        // Heads and fills come with a layer.
        if (spec.type == kLayerHead)
            return session().selectStep(headOf(*session().project().findLine("rust-streaks")).id);
        if (spec.type == kFill) {
            for (const FillPlace& fill : fillsOf(session().project(), "rust-streaks"))
                if (fill.line->id == line) session().selectStep(fill.step->id);
            return;
        }
        if (!spec.source) {
            session().insertStep(line, end, spec.type);
            return;
        }
        session().insertStep(line, end, "blend");
        Step source;
        source.type = spec.type;
        if (spec.type == "map") source.set = "enamel_kettle", source.role = "gloss";
        auto next = edits::feedFromNewLine(session().project(), session().selectedStep(), "over", spec.name,
                                           kind, source);
        QVERIFY(session().apply(std::move(next), QStringLiteral("Source")));
        const Step blend = *session().shownStep(session().selectedStep());
        session().selectStep(session().project().findLine(blend.feeds.at("over").line)->steps[0]->id);
    }
    void showNow() {
        QCoreApplication::sendPostedEvents();
        QCoreApplication::processEvents();
    }

private Q_SLOTS:
    void initTestCase() {
        theme::apply(*qApp);
        QVERIFY(openDemo());
    }
    void cleanupTestCase() { m_window.reset(); }

    void nothingIsCutOff_data() {
        QTest::addColumn<QString>("type");
        QTest::addColumn<int>("kind");
        for (const StepSpec& spec : shippedSteps())
            for (const Kind kind : {Kind::Colour, Kind::Scalar})
                if (spec.fits(kind))
                    QTest::addRow("%s on a %s line", spec.type.c_str(), nameOf(kind))
                        << QString::fromStdString(spec.type) << static_cast<int>(kind);
    }
    void nothingIsCutOff() {
        QFETCH(QString, type);
        QFETCH(int, kind);
        const StepSpec& spec = *shippedSteps().find(type.toStdString());
        add(spec, static_cast<Kind>(kind));
        showNow();
        const std::string step = session().selectedStep();
        QCOMPARE(QString::fromStdString(session().shownStep(step)->type), type);
        const QStringList atFirst = cutOff();
        QVERIFY2(atFirst.isEmpty(), qPrintable(atFirst.join(QStringLiteral(", "))));
        // In every state that shows other rows.
        for (const ControlSpec& control : spec.controls)
            for (const Choice& choice : control.choices) {
                session().setControl(step, control.id, choice.id, 0);
                showNow();
                const QStringList cut = cutOff();
                QVERIFY2(cut.isEmpty(), qPrintable(cut.join(QStringLiteral(", "))));
            }
        // And with every number at either end of its range, where it is widest.
        for (const bool high : {false, true}) {
            for (const ControlSpec& control : spec.controls)
                if (control.type == ControlType::Number)
                    session().setControl(step, control.id, high ? control.high : control.low, 0);
            showNow();
            const QStringList cut = cutOff();
            QVERIFY2(cut.isEmpty(), qPrintable(cut.join(QStringLiteral(", "))));
        }
    }
    void aMissingFileIsToldWhereAnotherIsChosen() {
        const std::string map = session().project().findLine("base-colour")->steps[0]->id;
        session().selectStep(map);
        QVERIFY(settled());
        const auto told = [this] { return window().tuner().findChild<TellingPlace*>()->sentence(); };
        QVERIFY(told().isEmpty());
        QVERIFY(session().apply(
            edits::setFile(session().project(), "enamel_kettle", "base-colour", "gone.png"), QString()));
        QVERIFY(settled());
        QVERIFY(told().contains(QStringLiteral("gone.png")));
        QVERIFY(window().tuner().findChild<TellingPlace*>()->isWhole());
        QCOMPARE(control<QPushButton>("map-file")->text(), QStringLiteral("gone.png"));
        session().takeFile("enamel_kettle", "base-colour",
                           QStringLiteral(KETTLE_DATA_DIR "/enamel_kettle/kettle_basecolor.png"));
        QVERIFY(settled());
        QVERIFY(told().isEmpty());
        QCOMPARE(control<QPushButton>("map-file")->text(), QStringLiteral("kettle_basecolor.png"));
    }
    void aPictureWithinAFileIsChosen() {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("deck.exr")).toStdString();
        writeExr(file, 8, 8, {{"R", 0.5f}, {"G", 0.4f}, {"B", 0.3f}, {"stain", 0.25f}});
        session().selectStep(session().project().findLine("base-colour")->steps[0]->id);
        QVERIFY(settled());
        QVERIFY(control<QComboBox>("map-picture") == nullptr);
        session().takeFile("enamel_kettle", "base-colour", QString::fromStdString(file.string()));
        QVERIFY(settled());
        auto* picture = control<QComboBox>("map-picture");
        QVERIFY(picture->isVisible());
        QCOMPARE(picture->currentText(), QStringLiteral("its colours"));
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Down);
        QVERIFY(settled());
        QCOMPARE(findMap(*session().project().sets[0], "base-colour")->channels, std::string("stain"));
        QCOMPARE(picture->currentText(), QStringLiteral("stain"));
        QVERIFY(window().tuner().findChild<TellingPlace*>()->sentence().isEmpty());
        session().takeFile("enamel_kettle", "base-colour",
                           QStringLiteral(KETTLE_DATA_DIR "/enamel_kettle/kettle_basecolor.png"));
        QVERIFY(settled());
        QVERIFY(!picture->isVisible());
    }
    void aUnitMayBeTypedOrLeftOut() {
        session().insertStep("base-colour", 1, "tone");
        const std::string step = session().selectedStep();
        showNow();
        auto* field = control<NumberField>("field-exposure");
        for (const auto& [typed, wanted] : {std::pair("1.5 EV", 1.5), {"-0.5EV", -0.5}, {"2", 2.0}}) {
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, QString::fromUtf8(typed));
            QTest::keyClick(field, Qt::Key_Return);
            QCOMPARE(number(step.c_str(), "exposure"), wanted);
        }
        QCOMPARE(field->text(), QStringLiteral("+2.00 EV"));
    }
    void matchedFiguresAreShownOnceTheyAreMeasured() {
        session().insertStep("base-colour", 1, "colour-match");
        const std::string step = session().selectedStep();
        showNow();
        auto* table = control<QWidget>("match-numbers");
        QVERIFY(!table->isVisible());
        session().setControl(step, "to-mean", Colour{0.625f, -0.125f, 0.25f});
        showNow();
        QVERIFY(table->isVisible());
        QStringList shown;
        for (const QLabel* l : table->findChildren<QLabel*>()) shown << l->text();
        for (const char* figure : {"0.625", "-0.125", "0.250"})
            QVERIFY2(shown.contains(QString::fromUtf8(figure)), figure);
    }
    void aLongFeedStaysInItsButton() {
        session().pushOutBy("streaks");
        const std::string step = session().selectedStep();
        QCOMPARE(session().shownStep(step)->feeds.at("over").after, std::string("streaks"));
        showNow();
        const QStringList cut = cutOff();
        QVERIFY2(cut.isEmpty(), qPrintable(cut.join(QStringLiteral(", "))));
        auto* button = control<QPushButton>("feed-over");
        QVERIFY(button->text().contains(QChar(0x2026)));
        QVERIFY(button->toolTip().startsWith(QStringLiteral("Base colour after Blend luminance")));
        const auto* area = window().tuner().findChild<QScrollArea*>();
        QVERIFY(area->widget()->minimumSizeHint().width() <= area->viewport()->width());
        session().undo();
    }
    void mathsShowsOnlyWhatItsFunctionReads() {
        session().insertStep("base-colour", 1, "maths");
        const std::string step = session().selectedStep();
        const auto shown = [&](const char* name) {
            showNow();
            return control<QWidget>(name)->isVisible();
        };
        QVERIFY(shown("field-b") && shown("feed-b"));  // multiply: two numbers
        QVERIFY(!shown("field-c") && !shown("feed-c"));
        session().setControl(step, "function", std::string("abs"), 0);
        QVERIFY(!shown("field-b") && !shown("feed-b"));
        session().setControl(step, "function", std::string("multiply"), 0);
        Feed joined;
        joined.line = "roughness";
        QVERIFY(
            session().apply(edits::setFeed(session().project(), step, "b", joined), QStringLiteral("Feed")));
        QVERIFY(!shown("field-b") && shown("feed-b"));  // the line stands for the number
        // A joined line can be taken away even where it is not read.
        session().setControl(step, "function", std::string("abs"), 0);
        QVERIFY(shown("feed-b"));
    }
};

QTEST_MAIN(TunerRowsTest)
#include "tuner_rows_test.moc"
