// The shelf of kept pictures at the end of the looks strip, and which of all are compared.
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>

#include "app/looks/looks_strip.h"
#include "app/style/file_choice.h"
#include "core/base/files.h"

namespace kettle {

void LooksStrip::addShelf() {
    m_keptButtons.clear();
    for (const KeptPicture& kept : m_session.keptPictures()) {
        auto* b =
            new LookButton(QStringLiteral("kept-%1").arg(kept.id), kept.name, tr("kept picture"), m_page);
        b->setPicture(kept.picture.scaled(88, 88, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation)
                          .copy(0, 0, 88, 88));
        b->setToolTip(tr("Click to compare with this picture; its menu saves or drops it."));
        connect(b, &LookButton::clicked, this, [this, id = kept.id] { compareWithKept(id); });
        connect(b, &LookButton::compareAsked, this, [this, id = kept.id] { compareWithKept(id); });
        connect(b, &LookButton::menuAsked, this, [this, id = kept.id](QPoint at) { openKeptMenu(id, at); });
        m_row->addWidget(b);
        m_keptButtons[kept.id] = b;
    }
}

void LooksStrip::compareWithLook(const QString& look) {
    Comparison with = m_session.comparison().value_or(Comparison{});
    with.with = look.isEmpty() ? Comparison::With::AsReceived : Comparison::With::Look;
    with.look = look.toStdString();
    with.picture = {};
    m_session.compare(with);
}

void LooksStrip::compareWithKept(int id) {
    const auto& now = m_session.comparison();
    // A second click on the same one ends it.
    if (now && now->with == Comparison::With::Kept && now->kept == id) return m_session.compare({});
    Comparison with = now.value_or(Comparison{});
    with.with = Comparison::With::Kept;
    with.kept = id;
    with.picture = {};
    m_session.compare(with);
}

void LooksStrip::openKeptMenu(int id, QPoint globalPos) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Compare with it"), this, [this, id] { compareWithKept(id); });
    menu->addAction(tr("Go back to it"), this, [this, id] { m_session.takeKept(id); });
    menu->addAction(tr("Save the picture…"), this, [this, id] { saveKept(id); });
    menu->addAction(tr("Drop"), this, [this, id] { m_session.dropKept(id); });
    menu->popup(globalPos);
}

void LooksStrip::saveKept(int id) {
    for (const KeptPicture& kept : m_session.keptPictures()) {
        if (kept.id != id) continue;
        const QString file = chooseTarget(this, tr("Save the picture"), kept.name + QStringLiteral(".png"),
                                          tr("PNG (*.png)"), QStringLiteral("png"));
        if (file.isEmpty()) return;
        QString problem;
        if (m_session.savePicture(kept.picture, file, problem))
            Q_EMIT m_session.told(tr("The picture is saved as %1.").arg(file), false);
        else
            Q_EMIT m_session.told(problem, true);
        return;
    }
}

void LooksStrip::markSides() {
    const auto& now = m_session.comparison();
    const auto is = [&](Comparison::With with) { return now && now->with == with; };
    for (LookButton* b : m_buttons)
        b->setCompared((is(Comparison::With::AsReceived) && b->id().isEmpty()) ||
                       (is(Comparison::With::Look) && b->id().toStdString() == now->look));
    for (const auto& [id, b] : m_keptButtons) b->setCompared(is(Comparison::With::Kept) && now->kept == id);
}

}  // namespace kettle
