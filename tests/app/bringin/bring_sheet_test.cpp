// The import sheet without the window: each of its choices is in the plan, and in the project that is made of
// it.
#include "app/bringin/bring_sheet.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>

#include "core/image/image.h"
#include "tests/support/models.h"
#include "tests/support/projects.h"

using namespace kettle;
using namespace kettle::test;

namespace fs = std::filesystem;

class BringSheetTest final : public QObject {
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<QWidget> m_window;
    std::unique_ptr<Session> m_session;
    BringSheet* m_sheet = nullptr;

    fs::path at(const char* name) const { return m_folder->filePath(QString::fromUtf8(name)).toStdString(); }
    bool read(const std::vector<fs::path>& from) {
        QStringList paths;
        for (const fs::path& one : from) paths << QString::fromStdString(one.string());
        m_sheet->open(paths);
        return QTest::qWaitFor([this] { return m_sheet->plan() != nullptr; }, 20000);
    }
    QComboBox* box(const QString& name) const {
        for (auto* one : m_sheet->findChildren<QComboBox*>())
            if (one->accessibleName() == name) return one;
        qWarning("no %s", qPrintable(name));
        return nullptr;
    }
    /// As if this row of the box had been clicked.
    bool choose(const QString& name, const QString& words) const {
        QComboBox* of = box(name);
        const int row = of == nullptr ? -1 : of->findText(words);
        if (row < 0) return false;
        of->setCurrentIndex(row);
        Q_EMIT of->activated(row);
        QCoreApplication::processEvents();
        return true;
    }
    const PlannedMap& planned(const char* file) const {
        for (const PlannedSet& set : m_sheet->plan()->sets)
            for (const PlannedMap& map : set.maps)
                if (map.name.pattern == file) return map;
        qFatal("no %s", file);
    }
    static QString becomes(const char* file) {
        return QStringLiteral("What %1 becomes").arg(QLatin1String(file));
    }
    static QString holds(char component, const char* file) {
        return QStringLiteral("What %1 of %2 holds").arg(QLatin1Char(component)).arg(QLatin1String(file));
    }
    void accept() {
        QTest::mouseClick(&m_sheet->acceptButton(), Qt::LeftButton);
        QVERIFY(!m_sheet->isVisible());
    }
    const Map* map(const char* role) const {
        for (const auto& set : m_session->project().sets)
            if (const Map* found = findMap(*set, role)) return found;
        return nullptr;
    }

private Q_SLOTS:
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        m_window = std::make_unique<QWidget>();
        m_window->resize(1280, 800);
        m_session = std::make_unique<Session>();
        m_sheet = new BringSheet(*m_session, m_window.get());
        m_window->show();
        fs::create_directories(at("maps"));
        for (const char* name : {"mug_color.png", "mug_data.png", "mug_normal.png", "mug_extra.png"})
            QVERIFY(writePicture(at("maps") / name, 16, 16, 3, [&](int x, int y, int c) {
                        return name[4] == 'n' ? (c == 2 ? 255 : 128 + (c == 0 ? x : y))
                                              : 9 * x + 5 * y + 40 * c;
                    }).has_value());
    }
    void cleanup() {
        m_window.reset();
        m_session.reset();
    }

    void componentsAreTypedInTheirOrder() {
        QVERIFY(read({at("maps")}));
        QLineEdit* order = nullptr;
        for (auto* field : m_sheet->findChildren<QLineEdit*>())
            if (field->accessibleName() == QStringLiteral("What the components of mug_data.png hold"))
                order = field;
        QVERIFY(order != nullptr && order->isVisibleTo(m_sheet));
        QTest::keyClicks(order, QStringLiteral("gloss tea"));
        QTest::keyClick(order, Qt::Key_Return);
        QVERIFY(m_sheet->isVisible());  // Enter belongs to the field
        QVERIFY(!planned("mug_data.png").name.isPacked());
        QVERIFY(planned("mug_data.png").warning.find("gloss tea") != std::string::npos);
        order->clear();
        QTest::keyClicks(order, QStringLiteral("gloss - ao"));
        QTest::keyClick(order, Qt::Key_Return);
        QCOMPARE(planned("mug_data.png").name.components, (Components{"gloss", "", "occlusion", ""}));
        QVERIFY(planned("mug_data.png").warning.empty());
        QCOMPARE(box(holds('B', "mug_data.png"))->currentText(), QStringLiteral("B occlusion"));
        accept();
        QVERIFY(m_session->project().lineOfChannel("occlusion") != nullptr);
        QVERIFY(m_session->project().lineOfChannel("metalness") == nullptr);
        // A name that says what it is needs none.
        QVERIFY(read({at("maps")}));
        for (auto* field : m_sheet->findChildren<QLineEdit*>())
            if (field->accessibleName() == QStringLiteral("What the components of mug_normal.png hold"))
                QVERIFY(!field->isVisibleTo(m_sheet));
    }
    void aPictureBecomesWhatIsChosen() {
        QVERIFY(read({at("maps")}));
        const std::pair<const char*, const char*> roles[]{{"base colour", "base-colour"},
                                                          {"metalness", "metalness"},
                                                          {"roughness", "roughness"},
                                                          {"gloss", "gloss"},
                                                          {"specular level", "specular-level"},
                                                          {"specular", "specular"},
                                                          {"normal", "normal"},
                                                          {"height", "height"},
                                                          {"occlusion", "occlusion"},
                                                          {"emission", "emission"},
                                                          {"opacity", "opacity"},
                                                          {"coat", "coat"},
                                                          {"coat roughness", "coat-roughness"},
                                                          {"sheen colour", "sheen-colour"},
                                                          {"sheen roughness", "sheen-roughness"}};
        for (const auto& [words, role] : roles) {
            QVERIFY2(choose(becomes("mug_extra.png"), QString::fromLatin1(words)), words);
            QCOMPARE(planned("mug_extra.png").name.role, std::string(role));
            QVERIFY(planned("mug_extra.png").isTaken);
            QVERIFY(!planned("mug_extra.png").name.isPacked());
            QVERIFY(!planned("mug_extra.png").name.isGuess);
        }
        QVERIFY(choose(becomes("mug_extra.png"), QStringLiteral("height")));
        accept();
        QVERIFY(map("height") != nullptr);
        QCOMPARE(map("height")->file, std::string("mug_extra.png"));
        QVERIFY(m_session->project().lineOfChannel("height") != nullptr);
    }
    void whatIsLeftOutIsNotThere() {
        QVERIFY(read({at("maps")}));
        QVERIFY(choose(becomes("mug_normal.png"), QStringLiteral("left out")));
        QVERIFY(!planned("mug_normal.png").isTaken);
        QVERIFY(!box(QStringLiteral("What mug_normal.png is read as"))->isEnabled());
        QVERIFY(choose(becomes("mug_extra.png"), QStringLiteral("left out")));
        // Taken again after all.
        QVERIFY(choose(becomes("mug_extra.png"), QStringLiteral("metalness")));
        accept();
        QVERIFY(map("normal") == nullptr);
        QVERIFY(m_session->project().lineOfChannel("normal") == nullptr);
        QVERIFY(map("metalness") != nullptr);
    }
    void aLineOfItsOwn() {
        QVERIFY(read({at("maps")}));
        QVERIFY(choose(becomes("mug_color.png"), QStringLiteral("a line of its own")));
        accept();
        QVERIFY(m_session->project().lineOfChannel("base-colour") == nullptr);
        bool waits = false;
        for (const auto& line : m_session->project().lines) {
            const TextureSet& set = *m_session->project().sets[0];
            const Map* read = findMap(set, line->steps.front()->role);
            waits = waits || (line->channel.empty() && read != nullptr && read->file == "mug_color.png");
        }
        QVERIFY(waits);
    }
    void theComponentsOfAPackedMap() {
        QVERIFY(read({at("maps")}));
        QVERIFY(choose(becomes("mug_data.png"), QStringLiteral("packed map")));
        QVERIFY(choose(holds('R', "mug_data.png"), QStringLiteral("R gloss")));
        QVERIFY(choose(holds('G', "mug_data.png"), QStringLiteral("G nothing")));
        QVERIFY(choose(holds('B', "mug_data.png"), QStringLiteral("B occlusion")));
        QCOMPARE(planned("mug_data.png").name.components,
                 (std::array<std::string, 4>{"gloss", "", "occlusion", ""}));
        QVERIFY(!box(holds('A', "mug_data.png"))->isVisibleTo(m_sheet));  // the file has no alpha
        accept();
        const Project& p = m_session->project();
        const auto componentOf = [&](const char* channel) {
            const Line* line = p.lineOfChannel(channel);
            if (line == nullptr) return std::string("no line");
            const auto at = line->steps.front()->controls.find("component");
            return at == line->steps.front()->controls.end() ? std::string()
                                                             : std::get<std::string>(at->second);
        };
        QCOMPARE(componentOf("roughness"), std::string("red"));
        QCOMPARE(componentOf("occlusion"), std::string("blue"));
        QVERIFY(p.lineOfChannel("metalness") == nullptr);
        // Gloss is roughness turned round.
        QCOMPARE(p.lineOfChannel("roughness")->steps[1]->type, std::string("invert"));
    }
    void howItIsRead() {
        QVERIFY(read({at("maps")}));
        const QString reading = QStringLiteral("What mug_color.png is read as");
        QCOMPARE(box(reading)->count(), 5);
        for (int row = 4; row >= 1; --row) {
            QVERIFY(choose(reading, box(reading)->itemText(row)));
            QCOMPARE(planned("mug_color.png").encoding, box(reading)->itemText(row).toStdString());
        }
        QVERIFY(choose(reading, QStringLiteral("ACEScg")));
        QVERIFY(choose(QStringLiteral("Green of mug_normal.png"), QStringLiteral("green down")));
        QVERIFY(planned("mug_normal.png").name.greenDown);
        QVERIFY(choose(QStringLiteral("Green of mug_normal.png"), QStringLiteral("green up")));
        QVERIFY(!planned("mug_normal.png").name.greenDown);
        QVERIFY(choose(QStringLiteral("Green of mug_normal.png"), QStringLiteral("green down")));
        accept();
        QCOMPARE(map("base-colour")->encoding, std::string("ACEScg"));
        const Step& source = *m_session->project().lineOfChannel("normal")->steps.front();
        QCOMPARE(std::get<std::string>(source.controls.at("green")), std::string("down"));
    }
    void theModelsUnitAndItsSurfaces() {
        const fs::path stove = writeStove(at("asset"));
        for (const char* name : {"stove_body_color.png", "stove_rings_color.png"})
            QVERIFY(
                writePicture(at("asset") / name, 8, 8, 3, [](int x, int, int) { return 9 * x; }).has_value());
        QVERIFY(read({at("asset")}));
        const float was = m_sheet->plan()->model->size.x;
        QVERIFY(choose(QStringLiteral("What the model is measured in"), QStringLiteral("millimetres")));
        const float mm = m_sheet->plan()->model->size.x;
        QVERIFY(choose(QStringLiteral("What the model is measured in"), QStringLiteral("metres")));
        QVERIFY(std::fabs(m_sheet->plan()->model->size.x / mm - 1000) < 0.5f);
        QVERIFY(
            choose(QStringLiteral("What the model is measured in"), QStringLiteral("what its format says")));
        QVERIFY(std::fabs(m_sheet->plan()->model->size.x - was) < 1e-3f * was);
        QVERIFY(choose(QStringLiteral("What the model is measured in"), QStringLiteral("inches")));
        QVERIFY(choose(QStringLiteral("Surfaces"), QStringLiteral("one surface for all")));
        QVERIFY(m_sheet->plan()->isOneForAll);
        QVERIFY(choose(QStringLiteral("Surfaces"), QStringLiteral("each becomes a surface")));
        QVERIFY(!m_sheet->plan()->isOneForAll);
        accept();
        QCOMPARE(m_session->project().view.unit, std::string("inch"));
        QCOMPARE(m_session->project().view.model, stove.string());
        QCOMPARE(m_session->project().surfaces.size(), std::size_t{2});
    }
    void aSetThatWaitsDrivesNothing() {
        QVERIFY(read({at("maps")}));
        const QString name = QStringLiteral("The surface of %1")
                                 .arg(QString::fromStdString(m_sheet->plan()->sets.front().name));
        QVERIFY(choose(name, QStringLiteral("no surface: it waits")));
        QVERIFY(!m_sheet->plan()->sets.front().drives);
        accept();
        QCOMPARE(m_session->project().sets.size(), std::size_t{1});
        // The surface is plain, to be coloured from there.
        for (const auto& line : m_session->project().lines)
            QVERIFY2(line->steps.front()->set.empty(), line->id.c_str());
    }
    void escapeBringsNothingIn() {
        QVERIFY(read({at("maps")}));
        QTest::keyClick(m_sheet, Qt::Key_Escape);
        QVERIFY(!m_sheet->isVisible());
        QVERIFY(m_session->project().sets.empty());
    }
};

QTEST_MAIN(BringSheetTest)
#include "bring_sheet_test.moc"
