#include "app/window/message_bar.h"

#include <QStyle>

#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>
#include <QToolButton>
#include <algorithm>

namespace kettle {

MessageBar::MessageBar(QWidget* parent)
    : QFrame(parent),
      m_mark(new QLabel(this)),
      m_text(new QLabel(this)),
      m_close(new QToolButton(this)),
      m_timer(new QTimer(this)) {
    setObjectName(QStringLiteral("message"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 8, 8, 8);
    row->setSpacing(10);
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_close->setText(tr("Close"));
    // Their first line stands beside the button's word.
    for (QLabel* l : {m_mark, m_text}) l->setContentsMargins(0, 6, 0, 4);
    row->addWidget(m_mark, 0, Qt::AlignTop);
    row->addWidget(m_text, 1, Qt::AlignTop);
    row->addWidget(m_close, 0, Qt::AlignTop);
    m_timer->setSingleShot(true);
    connect(m_close, &QToolButton::clicked, this, &QWidget::hide);
    connect(m_timer, &QTimer::timeout, this, &QWidget::hide);
    hide();
}

QString MessageBar::text() const {
    return m_text->text();
}

void MessageBar::tell(const QString& sentence, bool isError) {
    showWords(isError ? tr("Problem") : tr("Done"), isError, sentence);
    // What has several lines is read at leisure.
    if (!isError && !sentence.contains(QLatin1Char('\n'))) m_timer->start(6000);
}

void MessageBar::tellProgress(const QString& sentence) {
    showWords(tr("Working"), false, sentence);
}

void MessageBar::showWords(const QString& mark, bool isError, const QString& sentence) {
    m_timer->stop();
    m_mark->setText(mark);
    if (m_mark->objectName().isEmpty() || m_mark->property("fails").toBool() != isError) {
        m_mark->setObjectName(QStringLiteral("mark"));
        m_mark->setProperty("fails", isError);
        m_mark->style()->unpolish(m_mark);
        m_mark->style()->polish(m_mark);
    }
    m_text->setText(sentence);
    setAccessibleDescription(sentence);
    place();
    show();
    raise();
}

void MessageBar::place() {
    // As wide as its longest line, if that is not too wide.
    int words = 0;
    for (const QString& line : m_text->text().split(QLatin1Char('\n')))
        words = std::max(words, m_text->fontMetrics().horizontalAdvance(line) + 4);
    // What stands beside them, without laying out the words for that.
    const QMargins margins = layout()->contentsMargins();
    const int around = margins.left() + m_mark->sizeHint().width() + 2 * layout()->spacing() +
                       m_close->sizeHint().width() + margins.right() + 2 * frameWidth();
    const int wide = std::min(std::min(720, parentWidget()->width() - 48), words + around);
    setFixedWidth(wide);
    setFixedHeight(layout()->heightForWidth(wide) + 2 * frameWidth());
    move((parentWidget()->width() - wide) / 2, parentWidget()->height() - height() - 40);
}

}  // namespace kettle
