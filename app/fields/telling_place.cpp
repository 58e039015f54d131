#include "app/fields/telling_place.h"

#include <QPainter>
#include <QTextLayout>

#include "app/style/theme.h"

namespace kettle {
namespace {

constexpr int kLineHeight = 16;

}  // namespace

TellingPlace::TellingPlace(int lines, QWidget* parent) : QWidget(parent), m_lines(lines) {
    setFixedHeight(lines * kLineHeight);
    setFont(theme::font(12));
}

void TellingPlace::tell(const QString& sentence, bool isWarning) {
    if (sentence == m_sentence && isWarning == m_isWarning) return;
    m_sentence = sentence;
    m_isWarning = isWarning;
    setAccessibleName(sentence);
    setToolTip(sentence);
    update();
}

bool TellingPlace::isWhole() const {
    return layOut(nullptr);
}

bool TellingPlace::layOut(QPainter* painter) const {
    QTextLayout layout(m_sentence, font());
    layout.beginLayout();
    bool isWhole = true;
    for (int n = 0;; ++n) {
        QTextLine line = layout.createLine();
        if (!line.isValid()) break;
        if (n >= m_lines) {
            isWhole = false;
            break;
        }
        line.setLineWidth(width());
        const bool isLast = n + 1 == m_lines && line.textStart() + line.textLength() < m_sentence.size();
        const QString words =
            isLast ? fontMetrics().elidedText(m_sentence.mid(line.textStart()), Qt::ElideRight, width())
                   : m_sentence.mid(line.textStart(), line.textLength());
        if (painter != nullptr)
            painter->drawText(QRect(0, n * kLineHeight, width(), kLineHeight),
                              Qt::AlignLeft | Qt::AlignVCenter, words);
    }
    layout.endLayout();
    return isWhole;
}

void TellingPlace::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setFont(font());
    p.setPen(m_isWarning ? theme::kAmber : theme::kQuiet);
    layOut(&p);
}

}  // namespace kettle
