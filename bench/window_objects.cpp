// The window's figures for models of many objects and for a large library.
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTreeView>

#include "app/board/board_view.h"
#include "app/library/library_drawer.h"
#include "app/objects/objects_drawer.h"
#include "bench/window_bench.h"
#include "core/base/files.h"
#include "core/document/json.h"
#include "demo/generate/glb_writer.h"

namespace kettle::bench {
namespace {

double since(const QElapsedTimer& time) {
    return static_cast<double>(time.nsecsElapsed()) / 1e6;
}

/// Small bricks in a square of a hundred by a hundred.
bool writeBricks(const std::string& file) {
    demo::GlbWriter glb;
    const int brick = glb.mesh("clay");
    glb.grid(
        2, 2,
        [](float s, float t) {
            return Vec3{s - 0.5f, t - 0.5f, 0};
        },
        [](float s, float t) {
            return Vec2{s, t};
        });
    for (int k = 0; k < 10000; ++k)
        glb.copy("brick-" + std::to_string(k + 1), brick,
                 {static_cast<float>(k % 100) * 1.1f, static_cast<float>(k / 100) * 1.1f, 0});
    return glb.save(file).has_value();
}

Project brickProject(const std::string& model) {
    Project p;
    p.view.model = model;
    Line base;
    base.id = base.channel = "base-colour";
    base.name = "Base colour";
    Step clay, vary;
    clay.id = "clay", clay.type = "colour";
    clay.controls["colour"] = Colour{0.4f, 0.2f, 0.1f};
    vary.id = "vary", vary.type = "vary";
    base.steps.emplace_back(clay);
    base.steps.emplace_back(vary);
    p.lines.emplace_back(base);
    return p;
}

}  // namespace

void objectFigures(MainWindow& window, nlohmann::ordered_json& out) {
    QTemporaryDir folder;
    const std::string model = folder.filePath(QStringLiteral("bricks.glb")).toStdString(),
                      file = folder.filePath(QStringLiteral("bricks.palekettle")).toStdString();
    if (!writeBricks(model) || !saveProject(brickProject(model), file)) return;
    settle(window);
    window.objects().setOpen(true);
    bool shown = false;
    QObject::connect(&window.pictures(), &PictureService::modelReady, &window, [&] { shown = true; });
    QElapsedTimer time;
    time.start();
    if (!window.session().open(QString::fromStdString(file))) return;
    waitUntil([&] { return shown && window.objects().model().rowCount() == 10000; }, 60000);
    out["window-open-10000-objects"] = since(time);
    settle(window);
    time.start();
    window.objects().tree().scrollToBottom();
    window.objects().tree().repaint();
    out["window-objects-scroll"] = since(time);
    window.objects().setOpen(false);
    settle(window);
}

void libraryFigures(MainWindow& window, nlohmann::ordered_json& out) {
    QTemporaryDir folder;
    std::filesystem::create_directories(folder.path().toStdString() + "/recipes");
    std::vector<Recipe> shipped;
    for (const LibraryEntry& entry : window.libraryShelf().entries())
        if (const auto* recipe = std::get_if<Recipe>(&entry.content)) shipped.push_back(*recipe);
    for (std::size_t i = 0; i < 1000 && !shipped.empty(); ++i) {
        Recipe copy = shipped[i % shipped.size()];
        copy.name += " " + std::to_string(i);
        (void)writeFileAtomically(
            folder.path().toStdString() + "/recipes/r" + std::to_string(i) + ".recipe.json",
            recipeToText(copy))
            .has_value();
    }
    QElapsedTimer time;
    time.start();
    window.libraryShelf().setOwnFolder(folder.path().toStdString());
    window.library().setOpen(true);
    waitUntil([&] { return window.library().model().rowCount() >= 1000; }, 30000);
    window.library().list().repaint();
    out["library-1000-open"] = since(time);
    settle(window);
    std::vector<double> typed;
    for (const char* word : {"w", "we", "wet", "wett", "wet", "we", "w", "d", "du", "dus", "dust"}) {
        time.start();
        window.library().search().setText(QString::fromLatin1(word));
        window.library().list().repaint();
        typed.push_back(since(time));
    }
    out["library-1000-find"] = median(typed);
    window.library().setOpen(false);
}

}  // namespace kettle::bench
