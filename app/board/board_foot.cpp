#include "app/board/board_foot.h"
#include "core/document/channels.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>

namespace kettle {

BoardFoot::BoardFoot(Session& session, QWidget* parent)
    : QWidget(parent),
      m_session(session),
      m_words(new QLabel(this)),
      m_row(new QHBoxLayout(this)),
      m_more(new QToolButton(this)) {
    m_row->setContentsMargins(12, 4, 12, 4);
    m_row->setSpacing(6);
    m_words->setObjectName(QStringLiteral("quiet"));
    m_row->addWidget(m_words);
    m_more->setObjectName(QStringLiteral("chip"));
    m_more->setText(tr("More…"));
    m_more->setPopupMode(QToolButton::InstantPopup);
    m_more->setMenu(new QMenu(m_more));
    m_row->addWidget(m_more);
    m_row->addStretch(1);
    setAccessibleName(tr("Channels without a line"));
}

void BoardFoot::refresh() {
    const Project& project = m_session.project();
    const Line* chosen = m_session.selectedLine();
    std::string surface = chosen != nullptr ? chosen->surface : std::string();
    if (surface.empty() && !project.surfaces.empty()) surface = project.surfaces.front()->id;
    std::vector<std::string> wanted{surface};
    for (const ChannelSpec& c : channels())
        if (project.lineOfChannel(c.id, surface) == nullptr) wanted.emplace_back(c.id);
    setVisible(!project.lines.empty() && wanted.size() > 1);
    const QString name = QString::fromStdString(surfaceName(project, surface));
    m_words->setText(name.isEmpty() ? tr("Add a line for") : tr("Add to %1 a line for").arg(name));
    if (wanted == m_shown) return fitIn();
    m_shown = wanted;
    for (QToolButton* old : m_buttons) {
        m_row->removeWidget(old);
        old->hide();
        old->deleteLater();
    }
    m_buttons.clear();
    for (std::size_t i = 1; i < wanted.size(); ++i) {
        auto* add = new QToolButton(this);
        add->setObjectName(QStringLiteral("chip"));
        add->setProperty("channel", QString::fromStdString(wanted[i]));
        add->setText(QString::fromLatin1(findChannel(wanted[i])->name));
        add->setToolTip(tr("Adds a line that drives this channel, with one value to begin with."));
        connect(add, &QToolButton::clicked, this,
                [this, surface, channel = wanted[i]] { m_session.addChannelLine(channel, surface); });
        m_row->insertWidget(static_cast<int>(i), add);
        m_buttons.push_back(add);
    }
    fitIn();
}

void BoardFoot::fitIn() {
    const auto widthOf = [this](const QWidget& w) { return w.sizeHint().width() + m_row->spacing(); };
    int all = 0;
    for (const QToolButton* b : m_buttons) all += widthOf(*b);
    const QMargins margins = m_row->contentsMargins();
    int room = width() - margins.left() - margins.right() - widthOf(*m_words);
    const bool isTooMuch = all > room;
    if (isTooMuch) room -= widthOf(*m_more);
    m_more->menu()->clear();
    for (QToolButton* b : m_buttons) {
        room -= widthOf(*b);
        b->setVisible(room >= 0);
        if (room < 0) m_more->menu()->addAction(b->text(), b, &QToolButton::click);
    }
    m_more->setVisible(isTooMuch);
}

void BoardFoot::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fitIn();
}

}  // namespace kettle
