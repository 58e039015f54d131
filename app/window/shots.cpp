#include "app/window/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTreeWidget>
#include <QWheelEvent>
#include <functional>

#include "app/board/board_view.h"
#include "app/bringin/bring_sheet.h"
#include "app/checks/checks_drawer.h"
#include "app/explore/candidate_grid.h"
#include "app/explore/explore_sheet.h"
#include "app/exporting/export_sheet.h"
#include "app/exporting/maps_page.h"
#include "app/exporting/pictures_page.h"
#include "app/library/library_drawer.h"
#include "app/library/pack_sheet.h"
#include "app/objects/objects_drawer.h"
#include "app/preview/flat_view.h"
#include "app/preview/model_view.h"
#include "app/preview/pinned_probes.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/message_bar.h"
#include "app/window/place_menu.h"
#include "core/document/edits.h"
#include "core/document/layers.h"

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

/// The galley's stove with its two sets, from the sheet to two surfaces.
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
    return good;
}

/// The ramp of what is wet; the map down to its pixels beside two pinned places, the normals switched off.
bool shootRamp(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    FlatView& flat = window.flat();
    session.selectStep("wetness");
    session.toggleChannel("normal");
    settle(window);
    window.pins().pin({0.42, 0.63});
    window.pins().pin({0.72, 0.36});
    // The second of them, where bare metal begins.
    const QPointF low = flat.placeAt({0, 0}), step = flat.placeAt({1, 1}) - low;
    const QPointF place((0.72 - low.x()) / step.x(), (0.36 - low.y()) / step.y());
    while (flat.placeAt({48, 0}).x() - flat.placeAt({0, 0}).x() > 1.0 / 1024) {
        QWheelEvent turn(place, flat.mapToGlobal(place), {}, QPoint(0, 120), Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
        QApplication::sendEvent(&flat, &turn);
    }
    const bool good = shoot(window, folder + QStringLiteral("/ramp.png"));
    window.pins().clear();
    session.allChannelsOn();
    flat.fit();
    return good;
}

/// Two looks as a wipe, and as their difference under a coat and a sheen; the menu of a place.
bool shootDeciding(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    session.setLook("celadon");
    session.selectStep("streaks");
    Comparison with;
    with.with = Comparison::With::Look;
    with.look = "marmalade";
    session.compare(with);
    bool good = shoot(window, folder + QStringLiteral("/compare.png"));
    session.addChannelLine("coat", "");
    session.addChannelLine("sheen-colour", "");
    session.selectStep("streaks");
    with.with = Comparison::With::BeforeStep;
    session.compare(with);
    session.setCompareWay(CompareWay::Difference);
    settle(window);
    for (QWidget* w = &window.board(); w != nullptr; w = w->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(w))
            area->verticalScrollBar()->setValue(area->verticalScrollBar()->maximum());
    good = shoot(window, folder + QStringLiteral("/difference.png")) && good;
    session.undo();
    session.undo();
    session.setCompareWay(CompareWay::Wipe);
    session.selectStep("streaks");
    session.compare({});
    settle(window);
    ModelView& model = window.model();
    const QPoint belly(model.width() * 45 / 100, model.height() * 9 / 10);
    QMouseEvent press(QEvent::MouseButtonPress, belly, model.mapToGlobal(belly), Qt::RightButton,
                      Qt::RightButton, Qt::NoModifier);
    QApplication::sendEvent(&model, &press);
    if (QMenu* menu = window.placeMenu().menu()) {
        good = shoot(window, folder + QStringLiteral("/place-menu.png"), menu) && good;
        menu->close();
    } else {
        good = false;
    }
    return good;
}

/// The bands of a look that is made of layers.
bool shootLayers(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    window.board().setFocus();
    session.setLook("forty-years-afloat");
    session.selectStep(headOf(*session.project().findLine("rust-streaks")).id);
    const bool good = shoot(window, folder + QStringLiteral("/layers.png"));
    session.setLook({});
    return good;
}

/// Noise that tells where a hue is shifted; a set in its frame; stamps on the galley's floor.
bool shootPatterns(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    session.setLook("celadon");
    Step noise;
    noise.type = "noise";
    noise.controls = {{"space", std::string("model")}, {"size", 4.0}, {"contrast", 2.5}, {"octaves", 5.0}};
    session.apply(edits::feedFromNewLine(session.project(), "glaze", "mask", "Patches", Kind::Scalar, noise),
                  QStringLiteral("Feed"));
    session.selectStep(session.project().lines.back()->steps.front()->id);
    const bool good = shoot(window, folder + QStringLiteral("/noise.png"));
    session.undo();
    return good;
}

constexpr const char* kShownRecipe = "Dust from above";

/// The library on the chosen line, and steps that are packed.
bool shootLibrary(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    session.setLook("celadon");
    session.selectStep("streaks");
    for (const LibraryEntry& entry : window.libraryShelf().entries())
        if (const auto* recipe = std::get_if<Recipe>(&entry.content);
            recipe != nullptr && recipe->name == kShownRecipe)
            session.addRecipe(*recipe);
    window.library().setOpen(true);
    bool good = shoot(window, folder + QStringLiteral("/library.png"));
    window.library().setOpen(false);
    session.undo();
    session.selectStep("glaze");
    session.selectTo("streaks");
    PackSheet& sheet = window.packSheet();
    sheet.open();
    sheet.name().setText(QStringLiteral("Grainy celadon"));
    for (int child : {0, 1, 2}) sheet.offered().topLevelItem(0)->child(child)->setCheckState(0, Qt::Checked);
    sheet.offered().topLevelItem(1)->child(1)->setCheckState(0, Qt::Checked);
    good = shoot(window, folder + QStringLiteral("/packing.png")) && good;
    sheet.hide();
    return good;
}

/// The shelf's cups by their numbers, three of them chosen.
bool shootObjects(MainWindow& window, const QString& data, const QString& folder) {
    Session& session = window.session();
    if (!session.open(data + QStringLiteral("/galley-shelf.palekettle"))) return false;
    session.setLook("five-glazes");
    session.selectStep("differ");
    window.objects().setOpen(true);
    settle(window);
    session.chooseObjects({"cup-18", "cup-19", "cup-20"});
    const bool good = shoot(window, folder + QStringLiteral("/objects.png"));
    window.objects().setOpen(false);
    session.chooseObjects({});
    return good;
}

bool shootFloor(MainWindow& window, const QString& data, const QString& folder) {
    Session& session = window.session();
    if (!session.open(data + QStringLiteral("/galley-floor.palekettle"))) return false;
    session.setLook("swept");
    session.selectStep("mat-map");
    window.flat().setAttribute(Qt::WA_UnderMouse);
    bool good = shoot(window, folder + QStringLiteral("/placement.png"));
    session.setLook("");
    session.selectStep("stamps");
    good = shoot(window, folder + QStringLiteral("/stamps.png")) && good;
    window.flat().setAttribute(Qt::WA_UnderMouse, false);
    return good;
}

/// Candidates of a hue and a saturation; the dark theme.
bool shootHandover(MainWindow& window, const QString& folder) {
    Session& session = window.session();
    session.setLook("celadon");
    session.selectStep("glaze");
    settle(window);
    ExploreSheet& explore = window.explore();
    explore.explore("glaze", "hue", false);
    explore.explore("glaze", "saturation", true);
    settle(window);
    QMouseEvent point(QEvent::MouseMove, explore.grid().pictureRect(5).center(),
                      explore.grid().mapToGlobal(explore.grid().pictureRect(5).center()), Qt::NoButton,
                      Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(&explore.grid(), &point);
    bool good = shoot(window, folder + QStringLiteral("/explore.png"));
    explore.hide();
    theme::choose(theme::Theme::Dusk);
    session.selectStep("streaks");
    session.setLook("forty-years-afloat");
    good = shoot(window, folder + QStringLiteral("/dusk.png")) && good;
    theme::choose(theme::Theme::Pale);
    session.setLook("night-ferry");
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
    good = shootRamp(window, folder) && good;
    session.setLook("night-ferry");
    window.exportSheet().setFolder(QStringLiteral("exported"));
    window.exportSheet().open();
    window.exportSheet().maps().arrange(QStringLiteral("Colour with height, surface in one"));
    good = shoot(window, at("export.png")) && good;
    window.exportSheet().hide();
    good = shootHandover(window, folder) && good;
    session.setLook({});
    session.selectStep("s1");
    window.checks().setOpen(true);
    good = shoot(window, at("checks.png")) && good;
    window.checks().setOpen(false);
    good = shootDeciding(window, folder) && good;
    good = shootLayers(window, folder) && good;
    good = shootPatterns(window, folder) && good;
    good = shootLibrary(window, folder) && good;
    const QString data = QFileInfo(project).absolutePath();
    good = shootBringingIn(window, data, folder) && good;
    good = shootFloor(window, data, folder) && good;
    good = shootObjects(window, data, folder) && good;
    session.close();
    return shoot(window, at("empty.png")) && good;
}

}  // namespace kettle
