#include "app/board/board_foot.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>

namespace kettle {

BoardFoot::BoardFoot(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_words(new QLabel(this)), m_row(new QHBoxLayout(this)) {
    m_row->setContentsMargins(12, 4, 12, 4);
    m_row->setSpacing(6);
    m_words->setObjectName(QStringLiteral("quiet"));
    m_row->addWidget(m_words);
    m_row->addStretch(1);
    setAccessibleName(tr("Channels without a line"));
}

void BoardFoot::refresh() {
    const Project& project = m_session.project();
    const Line* chosen = m_session.selectedLine();
    std::string surface = chosen != nullptr ? chosen->surface : std::string();
    if (surface.empty() && !project.surfaces.empty()) surface = project.surfaces.front()->id;
    std::vector<std::string> wanted{surface};
    for (const ChannelInfo& c : channels())
        if (project.lineOfChannel(c.id, surface) == nullptr) wanted.emplace_back(c.id);
    setVisible(!project.lines.empty() && wanted.size() > 1);
    const QString name = QString::fromStdString(surfaceName(project, surface));
    m_words->setText(name.isEmpty() ? tr("Add a line for") : tr("Add to %1 a line for").arg(name));
    if (wanted == m_shown) return;
    m_shown = wanted;
    while (m_row->count() > 2) {
        QLayoutItem* item = m_row->takeAt(1);
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (std::size_t i = 1; i < wanted.size(); ++i) {
        auto* add = new QToolButton(this);
        add->setObjectName(QStringLiteral("chip"));
        add->setProperty("channel", QString::fromStdString(wanted[i]));
        add->setText(QString::fromLatin1(findChannel(wanted[i])->name));
        add->setToolTip(tr("Adds a line that drives this channel, with one value to begin with."));
        connect(add, &QToolButton::clicked, this,
                [this, surface, channel = wanted[i]] { m_session.addChannelLine(channel, surface); });
        m_row->insertWidget(static_cast<int>(i), add);
    }
}

}  // namespace kettle
