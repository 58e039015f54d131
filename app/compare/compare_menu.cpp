#include "app/compare/compare_menu.h"

#include <QMenu>

#include "app/style/file_choice.h"

namespace kettle {
namespace {

/// Keeps the way and the sides of a comparison that is on.
Comparison withOther(const Session& session, Comparison::With with) {
    Comparison c = session.comparison().value_or(Comparison{});
    c.with = with;
    c.look.clear(), c.file.clear(), c.picture = {};
    return c;
}

}  // namespace

QString compareWords(const Session& session) {
    return session.comparison() ? QObject::tr("Compared with %1").arg(session.sideName(true))
                                : QObject::tr("Compare");
}

void fillCompareMenu(QMenu& menu, Session& session, QWidget* parent) {
    const std::optional<Comparison> now = session.comparison();
    const auto add = [&](const QString& words, Comparison with, bool isNow) {
        QAction* action = menu.addAction(words, &session, [&session, with] { session.compare(with); });
        action->setCheckable(true);
        action->setChecked(isNow);
        return action;
    };
    const auto is = [&](Comparison::With with) { return now && now->with == with; };
    if (!session.look().empty())
        add(session.baseName(), withOther(session, Comparison::With::AsReceived),
            is(Comparison::With::AsReceived));
    for (const auto& look : session.project().looks) {
        if (look->id == session.look()) continue;
        Comparison with = withOther(session, Comparison::With::Look);
        with.look = look->id;
        add(QString::fromStdString(look->name), with, is(Comparison::With::Look) && now->look == look->id);
    }
    add(QObject::tr("Before the chosen step"), withOther(session, Comparison::With::BeforeStep),
        is(Comparison::With::BeforeStep));
    for (const KeptPicture& kept : session.keptPictures()) {
        Comparison with = withOther(session, Comparison::With::Kept);
        with.kept = kept.id;
        add(kept.name, with, is(Comparison::With::Kept) && now->kept == kept.id);
    }
    menu.addAction(QObject::tr("A picture's file…"), parent, [&session, parent] {
        const QString file =
            chooseFile(parent, QObject::tr("Compare with a picture"), {},
                       QObject::tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.exr);;All files (*)"));
        if (!file.isEmpty()) session.compareWithFile(file);
    });
    if (!now) return;
    menu.addSeparator();
    for (const auto& [way, words] : {std::pair{CompareWay::Wipe, QObject::tr("As a wipe")},
                                     {CompareWay::Beside, QObject::tr("Side by side")},
                                     {CompareWay::Difference, QObject::tr("Their difference")}}) {
        QAction* action =
            menu.addAction(words, &session, [&session, way = way] { session.setCompareWay(way); });
        action->setCheckable(true);
        action->setChecked(now->way == way);
    }
    menu.addSeparator();
    menu.addAction(QObject::tr("Change sides\tC"), &session, [&session] { session.swapSides(); });
    menu.addAction(QObject::tr("Stop comparing\tEsc"), &session, [&session] { session.compare({}); });
}

}  // namespace kettle
