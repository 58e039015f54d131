// The chips over the model: which model, which light, and how it is viewed. Each menu is filled when it
// opens, so that it marks what is in force and offers what the colour configuration of the project has.
#include <QFileInfo>
#include <QMenu>
#include <QToolButton>

#include "app/compare/compare_menu.h"
#include "app/preview/model_view.h"
#include "app/style/file_choice.h"
#include "core/document/edits.h"
#include "core/shading/display.h"

namespace kettle {

QString titleOf(QString id) {
    id.replace(QLatin1Char('-'), QLatin1Char(' '));
    if (!id.isEmpty()) id[0] = id[0].toUpper();
    return id;
}

QString nameOfChoice(const std::string& modelOrEnvironment) {
    const QString text = QString::fromStdString(modelOrEnvironment);
    return isFile(modelOrEnvironment) ? QFileInfo(text).fileName() : titleOf(text);
}

void ModelView::makeMenus(const QStringList& models, const QStringList& environments) {
    const auto opening = [this](QToolButton* chip, auto fill) {
        auto* menu = new QMenu(chip);
        chip->setMenu(menu);
        connect(menu, &QMenu::aboutToShow, this, [menu, fill] {
            menu->clear();
            fill(*menu);
        });
    };
    opening(m_modelChip, [this, models](QMenu& menu) {
        for (const QString& name : models)
            addChoice(menu, titleOf(name), name.toStdString(), &ViewSettings::model);
        menu.addSeparator();
        const std::string own = m_session.project().view.model;
        if (isFile(own)) addChoice(menu, nameOfChoice(own), own, &ViewSettings::model);
        menu.addAction(tr("Choose a model…"), this, &ModelView::chooseModel);
        if (m_session.hasTestCard()) {
            auto* card = menu.addAction(tr("Test card in place of the colours"), &m_session,
                                        [this] { m_session.showTestCard(!m_session.showsTestCard()); });
            card->setCheckable(true);
            card->setChecked(m_session.showsTestCard());
        }
        if (!isFile(own)) return;
        QMenu* units = menu.addMenu(tr("It is measured in"));
        for (const auto& [id, words] : {std::pair<const char*, QString>{"auto", tr("What its format says")},
                                        {"mm", tr("Millimetres")},
                                        {"cm", tr("Centimetres")},
                                        {"m", tr("Metres")},
                                        {"inch", tr("Inches")}})
            addChoice(*units, words, id, &ViewSettings::unit);
    });
    opening(m_lightChip, [this, environments](QMenu& menu) {
        for (const QString& name : environments)
            addChoice(menu, titleOf(name), name.toStdString(), &ViewSettings::environment);
        menu.addSeparator();
        const std::string own = m_session.project().view.environment;
        if (isFile(own)) addChoice(menu, nameOfChoice(own), own, &ViewSettings::environment);
        menu.addAction(tr("Choose an environment…"), this, &ModelView::chooseEnvironment);
        menu.addSeparator();
        menu.addAction(tr("Turn left by 15°"), this,
                       [this] { setView([](ViewSettings& v) { v.environmentTurn -= 15; }); });
        menu.addAction(tr("Turn right by 15°"), this,
                       [this] { setView([](ViewSettings& v) { v.environmentTurn += 15; }); });
        menu.addSeparator();
        fillKeyLightMenu(*menu.addMenu(tr("Key light")));
        auto* ground = menu.addAction(tr("Shadow on the ground"), this, [this] {
            setView([](ViewSettings& v) { v.groundShadow = !v.groundShadow; });
        });
        ground->setCheckable(true);
        ground->setChecked(m_session.project().view.groundShadow);
    });
    opening(m_viewChip, [this](QMenu& menu) { fillViewMenu(menu); });
    opening(m_compareChip, [this](QMenu& menu) { fillCompareMenu(menu, m_session, this); });
}

/// An entry that sets one of the view's names, marked if it is in force.
void ModelView::addChoice(QMenu& menu, const QString& words, const std::string& id,
                          std::string ViewSettings::*setting) {
    auto* action = menu.addAction(
        words, this, [this, id, setting] { setView([&](ViewSettings& v) { v.*setting = id; }); });
    action->setCheckable(true);
    action->setChecked(m_session.project().view.*setting == id);
}

void ModelView::chooseModel() {
    const QString file =
        chooseFile(this, tr("Choose a model"), {}, tr("Models (*.obj *.glb *.gltf *.ply);;All files (*)"));
    if (!file.isEmpty()) m_session.takeModel(file);
}

void ModelView::chooseEnvironment() {
    const QString file = chooseFile(this, tr("Choose an environment, twice as wide as high"), {},
                                    tr("Latitude-longitude pictures (*.exr *.hdr);;All files (*)"));
    if (!file.isEmpty()) m_session.takeEnvironment(file);
}

void ModelView::fillViewMenu(QMenu& menu) {
    fillCameraMenu(menu);
    menu.addSeparator();
    menu.addAction(tr("Keep this picture\tCtrl+Shift+K"), this, &ModelView::keepPicture);
    menu.addSeparator();
    fillDisplacementMenu(*menu.addMenu(tr("Displacement")));
    menu.addSeparator();
    menu.addAction(tr("Lighter by half a stop"), this,
                   [this] { setView([](ViewSettings& v) { v.exposure += 0.5; }); });
    menu.addAction(tr("Darker by half a stop"), this,
                   [this] { setView([](ViewSettings& v) { v.exposure -= 0.5; }); });
    menu.addSeparator();
    for (const std::string& id : displayTransforms(m_session.resources().colours()))
        addChoice(menu,
                  id == view_transform::kStandard ? tr("Standard view (sRGB)")
                  : id == view_transform::kSoft   ? tr("Soft highlights")
                                                  : tr("%1 view").arg(QString::fromStdString(id)),
                  id, &ViewSettings::transform);
    menu.addSeparator();
    for (const auto& [id, name] : {std::pair<const char*, QString>{surround::kPale, tr("Pale surround")},
                                   {surround::kMiddle, tr("Middle surround")},
                                   {surround::kDark, tr("Dark surround")}})
        addChoice(menu, name, id, &ViewSettings::surround);
}

void ModelView::setView(const std::function<void(ViewSettings&)>& change) {
    ViewSettings view = m_session.project().view;
    change(view);
    m_session.apply(edits::setView(m_session.project(), view), tr("View"));
}

}  // namespace kettle
