#include "app/style/drawer.h"
#include "app/style/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPropertyAnimation>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

namespace kettle {

Drawer::Drawer(const QString& title, int width, QWidget* over)
    : QFrame(over),
      m_width(width),
      m_column(new QVBoxLayout(this)),
      m_head(new QHBoxLayout),
      m_slide(new QPropertyAnimation(this, "pos", this)) {
    setObjectName(theme::kDrawer);
    setAccessibleName(title);
    m_column->setContentsMargins(0, 8, 0, 8);
    m_column->setSpacing(8);
    m_head->setContentsMargins(kMargin, 0, 8, 0);
    auto* words = new QLabel(title, this);
    words->setObjectName(QStringLiteral("title"));
    auto* close = new QToolButton(this);
    close->setText(tr("Close"));
    close->setToolTip(tr("Closes the drawer (Esc)"));
    m_head->addWidget(words);
    m_head->addStretch(1);
    m_head->addWidget(close);
    m_column->addLayout(m_head);
    connect(close, &QToolButton::clicked, this, [this] { setOpen(false); });
    m_slide->setDuration(140);
    m_slide->setEasingCurve(QEasingCurve::OutCubic);
    connect(m_slide, &QPropertyAnimation::finished, this, [this] { setVisible(m_isOpen); });
    over->installEventFilter(this);
    hide();
}

void Drawer::place() {
    resize(std::min(m_width, parentWidget()->width()), parentWidget()->height());
    m_slide->stop();
    move(m_isOpen ? 0 : -width(), 0);
    setVisible(m_isOpen);
}

void Drawer::setOpen(bool open) {
    if (open == m_isOpen) return;
    if (open) {
        for (Drawer* other : parentWidget()->findChildren<Drawer*>(QString(), Qt::FindDirectChildrenOnly))
            if (other != this) other->setOpen(false);
        place();
        opening();
    }
    m_isOpen = open;
    m_slide->setStartValue(QPoint(open ? -width() : x(), 0));
    m_slide->setEndValue(QPoint(open ? 0 : -width(), 0));
    show();
    raise();
    m_slide->start();
    QWidget* keys = open && m_first != nullptr ? m_first : open ? this : parentWidget();
    keys->setFocus();
    Q_EMIT changed();
}

bool Drawer::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize) place();
    return QFrame::eventFilter(watched, event);
}

void Drawer::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return setOpen(false);
    QFrame::keyPressEvent(event);
}

}  // namespace kettle
