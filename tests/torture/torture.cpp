// Kills a writing child a hundred times each while it exports, saves and autosaves, and looks at what is
// left: every file whole, nothing beside them.
//   pale-kettle-torture [ROUNDS]
#include <fmt/format.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QTemporaryDir>
#include <chrono>
#include <filesystem>
#include <random>
#include <thread>

#include "app/session/autosave.h"
#include "core/base/files.h"
#include "core/document/edits.h"
#include "core/document/json.h"
#include "core/exchange/export.h"

using namespace kettle;
namespace fs = std::filesystem;

namespace {

const fs::path kDemo = fs::path(KETTLE_DATA_DIR) / "ferry-kitchen.palekettle";

[[noreturn]] void exportForEver(const fs::path& folder) {
    const Project project = *loadProject(kDemo);
    const Resources resources(kDemo.parent_path());
    ExportOptions options;
    options.folder = folder;
    options.size = 256;
    for (int i = 0;; ++i) {
        options.format = static_cast<FileFormat>(i % 6);
        if (!exportMaps(project, resources, options)) _exit(3);
    }
}

[[noreturn]] void saveForEver(const fs::path& folder) {
    Project project = *loadProject(kDemo);
    for (int i = 0;; ++i) {
        project.view.exposure = i;
        if (!saveProject(project, folder / "p.palekettle")) _exit(3);
    }
}

[[noreturn]] void autosaveForEver(const fs::path& folder) {
    Session session;
    if (!session.open(QString::fromStdString(kDemo.string()))) _exit(3);
    Autosave autosave(session, QString::fromStdString(folder.string()));
    for (int i = 0;; ++i) {
        session.setLook("celadon");
        session.setControl("glaze", "hue", static_cast<double>(i % 90));
        autosave.saveNow();
    }
}

/// Empty if everything in the folder is whole; else what is not.
std::string brokenIn(const fs::path& folder, const std::string& what) {
    const std::vector<fs::directory_entry> entries{fs::directory_iterator(folder), fs::directory_iterator()};
    for (const auto& entry : entries) {
        const std::string name = entry.path().filename().string();
        if (name.ends_with(".part")) {
            // A whole file that was named and not yet renamed: the next write to the same target takes it
            // away.
            const fs::path target = folder / name.substr(1, name.rfind('.', name.size() - 6) - 1);
            const auto old = readFile(target);
            if (!writeFileAtomically(target, old ? *old : *readFile(entry.path())))
                return name + " is in the way";
            if (fs::exists(entry.path())) return name + " was left behind";
            continue;
        }
        if (what == "export" && !readImage(entry.path())) return name + " cannot be read";
        if (what == "save" && !loadProject(entry.path())) return name + " cannot be opened";
    }
    if (what != "autosave") return {};
    Session session;
    const Autosave next(session, QString::fromStdString(folder.string()));
    const auto left = next.left();
    for (const auto& entry : fs::directory_iterator(folder))
        if (entry.path().extension() == ".json" && !left) return "a record that is not offered";
    return {};
}

}  // namespace

int main(int argc, char** argv) {
    const int rounds = argc > 1 ? std::max(1, std::atoi(argv[1])) : 100;
    const QCoreApplication application(argc, argv);  // for the timers of autosave
    std::mt19937 random(7);
    int bad = 0;
    for (const std::string what : {"export", "save", "autosave"}) {
        int withFiles = 0;
        for (int round = 0; round < rounds; ++round) {
            QTemporaryDir temporary;
            const fs::path folder = temporary.path().toStdString();
            const pid_t child = fork();
            if (child == 0) {
                if (what == "export") exportForEver(folder);
                if (what == "save") saveForEver(folder);
                autosaveForEver(folder);
            }
            // Long enough that most are killed while they write.
            std::this_thread::sleep_for(std::chrono::milliseconds(60) +
                                        std::chrono::microseconds(random() % 150000));
            int status = 0;
            if (waitpid(child, &status, WNOHANG) != 0) {
                fmt::print("{}: the child ended by itself ({})\n", what, status);
                ++bad;
                continue;
            }
            kill(child, SIGKILL);
            waitpid(child, &status, 0);
            withFiles += fs::is_empty(folder) ? 0 : 1;
            if (const std::string broken = brokenIn(folder, what); !broken.empty()) {
                fmt::print("{}: {}\n", what, broken);
                ++bad;
            }
        }
        fmt::print("{}: killed {} times, {} of them with something written\n", what, rounds, withFiles);
        if (withFiles == 0) ++bad;
    }
    fmt::print("{}\n", bad == 0 ? "Everything that was left is whole." : "Something was broken.");
    return bad == 0 ? 0 : 1;
}
