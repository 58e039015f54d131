#include "app/window/recovery_bar.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPushButton>

#include "app/session/autosave.h"

namespace kettle {

RecoveryBar::RecoveryBar(Session& session, QWidget* parent)
    : QFrame(parent), m_session(session), m_text(new QLabel(this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(8);
    auto* open = new QPushButton(tr("Open it"), this);
    auto* away = new QPushButton(tr("Throw it away"), this);
    open->setObjectName(QStringLiteral("recover"));
    away->setObjectName(QStringLiteral("discard"));
    row->addWidget(m_text, 1);
    row->addWidget(open);
    row->addWidget(away);
    connect(open, &QPushButton::clicked, this, [this] { answer(true); });
    connect(away, &QPushButton::clicked, this, [this] { answer(false); });
    hide();
}

void RecoveryBar::offer(Autosave& autosave) {
    m_autosave = &autosave;
    const auto left = autosave.left();
    setVisible(left.has_value());
    if (!left) return;
    const QString name =
        left->file.isEmpty() ? tr("a project that was never saved") : QFileInfo(left->file).fileName();
    m_text->setText(tr("There is unsaved work on %1, from %2.")
                        .arg(name, QLocale().toString(left->saved, QLocale::ShortFormat)));
}

void RecoveryBar::answer(bool open) {
    const auto left = m_autosave->left();
    if (left) {
        if (open) m_session.recover(left->project, left->file, left->folder.toStdString());
        // The old record goes only when a new one stands, or the work is thrown away.
        if (!open || m_autosave->saveNow()) m_autosave->discard(*left);
    }
    offer(*m_autosave);
}

}  // namespace kettle
