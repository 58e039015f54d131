// A sentence that comes and goes in a place that is always there.
#pragma once

#include <QWidget>

namespace kettle {

class TellingPlace final : public QWidget {
    Q_OBJECT

public:
    /// As high as so many lines. A longer sentence ends in … there and is whole in its tip.
    TellingPlace(int lines, QWidget* parent);
    void tell(const QString& sentence, bool isWarning);
    const QString& sentence() const { return m_sentence; }
    /// True if all of the sentence is seen.
    bool isWhole() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    /// Breaks the sentence into the lines that fit; `painter` may be null. False if some of it is cut off.
    bool layOut(QPainter* painter) const;

    QString m_sentence;
    bool m_isWarning = false;
    int m_lines;
};

}  // namespace kettle
