// Contact sheets and turned views without a screen. The only command that paints words, and so needs fonts.
#include <fmt/format.h>

#include <QDate>
#include <QGuiApplication>
#include <QLocale>
#include <algorithm>

#include "app/paper/sheet_paper.h"
#include "app/style/theme.h"
#include "batch/commands.h"
#include "batch/opening.h"
#include "core/engine/source_files.h"
#include "core/exchange/export.h"
#include "core/handover/contact_sheet.h"

namespace kettle::batch {
namespace {

namespace fs = std::filesystem;

QImage imageOf(const Picture& picture) {
    return QImage(reinterpret_cast<const uchar*>(picture.pixels.data()), picture.width, picture.height,
                  picture.width * 4, QImage::Format_RGB32);
}

Problems writeFrames(Console& out, const SheetArguments& a, const Opened& opened,
                     const std::shared_ptr<SceneStore>& scenes, const SheetPlan& plan,
                     const ProtectedFiles& sources) {
    Preview preview(scenes, dataFolder() / "environments");
    const fs::path output = a.output;
    const std::vector<SheetView> views = turnedViews(plan.views.front().camera, a.frames);
    for (std::size_t v = 0; v < views.size(); ++v) {
        fs::path to = output;
        to.replace_extension();
        to += fmt::format(".{:04}{}", v + 1, output.extension().string());
        auto picture = makeFrame(preview, opened.project, opened.resources, plan.looks.front(),
                                 views[v].camera, plan.width, plan.height);
        if (!picture) return {sentenceOf(picture.error())};
        if (auto done = writePicture(imageOf(*picture), to, sources); !done)
            return {sentenceOf(done.error())};
        out.wrote(to);
        out.progress(static_cast<double>(v + 1) / static_cast<double>(views.size()), to.filename().string());
    }
    return preview.problems();
}

}  // namespace

Problems makeSheet(Console& out, const SheetArguments& a) {
    auto opened = open(out, a.project, true);
    if (!opened) return {sentenceOf(opened.error())};
    SheetPlan plan;
    if (std::sscanf(a.size.c_str(), "%dx%d", &plan.width, &plan.height) != 2)
        return {fmt::format("\"{}\" is not a size. Give it as WIDTHxHEIGHT, for example 640x400.", a.size)};
    SourceFiles sources(opened->project, opened->resources);
    sources.add(a.project);
    if (a.frames == 0)  // the frames' own names are asked as they are written
        if (auto free = sources.mayWrite(a.output); !free) return {sentenceOf(free.error())};
    if (!a.looks.empty()) plan.looks = a.looks;
    if (a.allLooks)
        for (const auto& look : opened->project.looks) plan.looks.push_back(look->id);
    const std::shared_ptr<SceneStore>& scenes = opened->scenes;
    auto scene = scenes->load(opened->project.view.model, opened->project.view.unit);
    if (!scene) return {sentenceOf(scene.error())};
    Camera camera;
    camera.frame((*scene)->mesh(),
                 static_cast<float>(plan.width) / static_cast<float>(std::max(1, plan.height)));
    for (const std::string& name : a.views) {
        const auto view = viewFrom(camera, name);
        if (!view) return {fmt::format("\"{}\" is no view. Choose front, right, back, left or above.", name)};
        plan.views.push_back(*view);
    }
    if (plan.views.empty()) plan.views.push_back({"view", camera});
    plan.environments = a.environments;
    plan.columns = a.columns;
    plan.margin = a.margin;
    plan.surround = a.surround;
    plan.names = plan.differences = !a.plain;
    int count = 0;
    char* none[] = {nullptr};
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const QGuiApplication application(count, none);
    theme::loadFonts();
    if (a.frames > 0) return writeFrames(out, a, *opened, scenes, plan, sources);
    if (!a.plain)
        plan.title = fmt::format(
            "{} · {}", fs::path(a.project).stem().string(),
            QLocale::c().toString(QDate::currentDate(), QStringLiteral("d MMMM yyyy")).toStdString());
    auto sheet =
        makeContactSheet(opened->project, opened->resources, scenes, dataFolder() / "environments", plan,
                         "As received", {}, [&](double part) { out.progress(part, a.output); });
    if (!sheet) return {sentenceOf(sheet.error())};
    if (auto done = writeSheet(*sheet, a.output, sources); !done) return {sentenceOf(done.error())};
    out.wrote(a.output);
    return sheet->notes;
}

}  // namespace kettle::batch
