// Contact sheets: which pictures they have and in what order, that each is the picture of its look, how far
// it is from the first, and what cannot be made.
#include "core/handover/contact_sheet.h"

#include <QtTest>

#include "core/analysis/picture_difference.h"
#include "core/base/files.h"
#include "core/document/json.h"

using namespace kettle;

namespace {

const std::filesystem::path kData = KETTLE_DATA_DIR;

}  // namespace

class ContactSheetTest final : public QObject {
    Q_OBJECT

    Project m_project = *loadProject(kData / "ferry-kitchen.palekettle");
    Resources m_resources{kData};
    std::shared_ptr<SceneStore> m_scenes = std::make_shared<SceneStore>(kData / "models");

    SheetPlan plan() {
        SheetPlan p;
        p.width = 96, p.height = 60;
        Camera camera;
        camera.frame((*m_scenes->load("kettle", "auto"))->mesh(), 1.6f);
        p.views = {{"front", camera}};
        return p;
    }
    Result<ContactSheet> made(const SheetPlan& p) {
        return makeContactSheet(m_project, m_resources, m_scenes, kData / "environments", p, "As received");
    }
    Picture alone(const std::string& look, const SheetView& view, const std::string& light = {}) {
        Preview preview(m_scenes, kData / "environments");
        PreviewRequest r;
        r.project = m_project;
        if (!light.empty()) r.project.view.environment = light;
        r.look = look;
        r.camera = view.camera;
        r.width = 96, r.height = 60;
        Picture picture;
        for (int stage = 1; stage <= Preview::kLastStage; ++stage)
            picture = *preview.render(r, m_resources, stage);
        return picture;
    }

private Q_SLOTS:
    void looksByViews() {
        SheetPlan p = plan();
        p.looks = {"celadon", "marmalade", ""};
        p.views.push_back({"left", viewFrom(p.views[0].camera, "left")->camera});
        const auto sheet = made(p);
        QVERIFY(sheet);
        QCOMPARE(sheet->columns, 2);
        QCOMPARE(sheet->rows, 3);
        for (std::size_t look = 0; look < 3; ++look)
            for (std::size_t view = 0; view < 2; ++view)
                QCOMPARE(sheet->cells[look * 2 + view].picture.pixels,
                         alone(p.looks[look], p.views[view]).pixels);
        QCOMPARE(sheet->cells[0].name, std::string("Celadon · front"));
        QCOMPARE(sheet->cells[5].name, std::string("As received · left"));
        // The first look's are told no difference; the others' is the mean over the model.
        QVERIFY(!sheet->cells[1].difference);
        Preview preview(m_scenes, kData / "environments");
        const auto& a = sheet->cells[0].picture.pixels;
        const auto& b = sheet->cells[2].picture.pixels;
        const PictureDifference whole = differenceOfPictures(a.data(), b.data(), a.size());
        QVERIFY(sheet->cells[2].difference && *sheet->cells[2].difference > whole.mean);
        QVERIFY(*sheet->cells[2].difference < whole.largest);
    }

    void oneLookInSeveralLights() {
        SheetPlan p = plan();
        p.looks = {"celadon"};
        p.environments = {"morning-deck", "lamp-lit-galley"};
        for (const std::string& name : stemsIn(kData / "environments", {".exr"}))
            if (name != "morning-deck") p.environments[1] = name;
        const auto sheet = made(p);
        QVERIFY2(sheet, sheet ? "" : sheet.error().sentence.c_str());
        QCOMPARE(sheet->cells.size(), std::size_t{2});
        QCOMPARE(sheet->cells[0].name, std::string("Celadon · Morning deck"));
        QCOMPARE(sheet->cells[1].picture.pixels, alone("celadon", p.views[0], p.environments[1]).pixels);
        QVERIFY(sheet->cells[0].picture.pixels != sheet->cells[1].picture.pixels);
    }

    void columnsAndWhatIsLeftOut() {
        SheetPlan p = plan();
        p.looks = {"", "celadon", "marmalade", "celadon", "marmalade"};
        QCOMPARE(made(p)->columns, 3);
        p.columns = 4;
        p.names = p.differences = false;
        const auto sheet = made(p);
        QCOMPARE(sheet->columns, 4);
        QCOMPARE(sheet->rows, 2);
        QVERIFY(sheet->cells[1].name.empty() && !sheet->cells[1].difference);
    }

    void turnedViewsGoOnceAround() {
        const auto views = turnedViews(plan().views[0].camera, 8);
        QCOMPARE(views.size(), std::size_t{8});
        QVERIFY(views[0].camera == plan().views[0].camera);
        QCOMPARE(views[2].camera.turn, std::fmod(views[0].camera.turn + 90, 360.0f));
        QCOMPARE(views[2].name, std::string("90°"));
        QVERIFY(!viewFrom(views[0].camera, "below"));
        QCOMPARE(viewFrom(views[0].camera, "back")->camera.turn, 180.0f);
    }

    void whatCannotBeMadeIsToldBeforehand() {
        SheetPlan p = plan();
        p.looks = {"none such"};
        QCOMPARE(made(p).error().kind, ErrorKind::Refused);
        p = plan();
        p.looks.clear();
        QCOMPARE(made(p).error().kind, ErrorKind::Refused);
        p = plan();
        p.views.clear();
        QCOMPARE(made(p).error().kind, ErrorKind::Refused);
        p = plan();
        p.width = 9000;
        QCOMPARE(made(p).error().kind, ErrorKind::Refused);
        p = plan();
        p.views = turnedViews(p.views[0].camera, 401);
        QVERIFY(QString::fromStdString(made(p).error().sentence).contains(QStringLiteral("400")));
        CancelToken cancel;
        cancel.cancel();
        QCOMPARE(
            makeContactSheet(m_project, m_resources, m_scenes, kData / "environments", plan(), "", cancel)
                .error()
                .kind,
            ErrorKind::Cancelled);
    }
};

QTEST_APPLESS_MAIN(ContactSheetTest)
#include "contact_sheet_test.moc"
