#include "app/window/history_list.h"

#include <QLabel>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/style/theme.h"

namespace kettle {

HistoryList::HistoryList(Session& session, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_session(session), m_list(new QListWidget(this)) {
    setObjectName(theme::kSheet);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(8);
    auto* title = new QLabel(tr("History"), this);
    title->setObjectName(QStringLiteral("title"));
    column->addWidget(title);
    column->addWidget(m_list);
    m_list->setAccessibleName(tr("History"));
    connect(m_list, &QListWidget::itemClicked, this,
            [this] { m_session.jump(static_cast<std::size_t>(m_list->currentRow())); });
    connect(m_list, &QListWidget::itemActivated, this, [this] {
        m_session.jump(static_cast<std::size_t>(m_list->currentRow()));
        hide();
    });
    connect(&session, &Session::projectChanged, this, [this] {
        if (isVisible()) fill();
    });
}

void HistoryList::fill() {
    const History& h = m_session.history();
    m_list->clear();
    for (std::size_t i = 0; i < h.size(); ++i) {
        auto* item = new QListWidgetItem(QString::fromStdString(h.nameAt(i)), m_list);
        // What was undone can still be gone to, and is told apart.
        if (i > h.position()) item->setForeground(theme::kQuiet);
        if (i == h.position()) item->setFont(theme::font(12, true));
    }
    m_list->setCurrentRow(static_cast<int>(h.position()));
}

void HistoryList::open() {
    fill();
    setFixedSize(300, 360);
    move(parentWidget()->mapToGlobal(QPoint(48, 8)));
    show();
    m_list->setFocus();
}

}  // namespace kettle
