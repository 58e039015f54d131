#include "app/window/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QPainter>
#include <functional>

#include "app/board/board_view.h"
#include "app/board/finder.h"
#include "app/bringin/bring_sheet.h"
#include "app/checks/checks_drawer.h"
#include "app/exporting/export_sheet.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/window/main_window.h"
#include "app/window/message_bar.h"

namespace kettle {
namespace {

void settle(MainWindow& window) {
    QElapsedTimer time;
    time.start();
    do QApplication::processEvents(QEventLoop::AllEvents, 20);
    while (time.elapsed() < 300 || (!window.isSettled() && time.elapsed() < 60000));
}

bool shoot(MainWindow& window, const QString& file, QWidget* popup = nullptr) {
    settle(window);
    QPixmap picture = window.grab();
    if (popup != nullptr) {
        QPainter p(&picture);
        p.drawPixmap(window.mapFromGlobal(popup->mapToGlobal(QPoint(0, 0))), popup->grab());
    }
    return picture.save(file);
}

bool until(const std::function<bool()>& there) {
    QElapsedTimer time;
    time.start();
    while (!there() && time.elapsed() < 60000) QApplication::processEvents(QEventLoop::AllEvents, 20);
    return there();
}

/// The galley's stove with its two sets, from the sheet to two surfaces, and the empty window.
bool shootBringingIn(MainWindow& window, const QString& data, const QString& folder) {
    BringSheet& sheet = window.bringSheet();
    window.take({data + QStringLiteral("/galley_stove")});
    if (!until([&] { return sheet.plan() != nullptr; })) return false;
    bool good = shoot(window, folder + QStringLiteral("/bring-in.png"));
    sheet.hide();
    window.session().takePlan(*sheet.plan(), false);
    window.session().insertStep("base-colour", 1, "hsv-shift");
    window.session().setControl(window.session().selectedStep(), "hue", -160.0);
    window.findChild<MessageBar*>()->hide();
    good = shoot(window, folder + QStringLiteral("/surfaces.png")) && good;
    window.session().close();
    good = shoot(window, folder + QStringLiteral("/empty.png")) && good;
    return good;
}

}  // namespace

bool takeShots(MainWindow& window, const QString& folder) {
    QDir().mkpath(folder);
    const auto at = [&](const char* name) { return folder + QLatin1Char('/') + QString::fromLatin1(name); };
    Session& session = window.session();
    window.resize(1280, 800);
    window.show();
    window.board().setFocus();
    const QString project = session.filePath();
    session.setLook("celadon");
    session.selectStep("glaze");
    bool good = shoot(window, at("main.png"));
    session.selectStep("wetness");
    good = shoot(window, at("ramp.png")) && good;
    session.selectStep("streaks");
    window.pins().pin({0.42, 0.63});
    window.pins().pin({0.72, 0.36});
    good = shoot(window, at("gallery.png")) && good;
    window.pins().clear();
    session.toggleLookHere();
    good = shoot(window, at("look-here.png")) && good;
    session.setLookHere(std::nullopt);
    session.setLook("marmalade");
    window.board().openFinder();
    good = shoot(window, at("finder.png"), &window.board().finder()) && good;
    window.board().finder().hide();
    session.setLook("night-ferry");
    window.exportSheet().setFolder(QStringLiteral("exported"));
    window.exportSheet().open();
    good = shoot(window, at("export.png")) && good;
    window.exportSheet().hide();
    session.setLook({});
    session.selectStep("s1");
    good = shoot(window, at("as-received.png")) && good;
    window.checks().setOpen(true);
    good = shoot(window, at("checks.png")) && good;
    window.checks().setOpen(false);
    return shootBringingIn(window, QFileInfo(project).absolutePath(), folder) && good;
}

}  // namespace kettle
