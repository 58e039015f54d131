// The candidates as a grid of pictures: pointed at, chosen one or several, taken, kept.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>
#include <set>
#include <vector>

#include "app/pictures/picture_service.h"
#include "core/analysis/explore.h"

class QPushButton;

namespace kettle {

class CandidateGrid final : public QWidget {
    Q_OBJECT

public:
    explicit CandidateGrid(QWidget* parent = nullptr);

    /// Other candidates; pictures that fit stay until new ones come.
    void setCandidates(const Candidates& candidates);
    void setPictures(std::shared_ptr<const CandidatePictures> pictures);
    const Candidates& candidates() const { return m_candidates; }
    /// The size that each picture has here, in pixels of the window.
    QSize pictureSize() const;
    QRect pictureRect(int index) const;
    int current() const { return m_current; }
    /// What is chosen, in order: several by Ctrl or a drag along them, else the current one.
    std::vector<int> chosen() const;
    /// Marks these as kept.
    void setKept(const std::vector<int>& kept);
    /// What a candidate is called: its values and how far it is, as a line.
    QString wordsOf(int index) const;
    QPushButton& takeButton() { return *m_take; }
    QPushButton& keepButton() { return *m_keep; }

Q_SIGNALS:
    void taken(int index);
    void keepWanted();
    void countWanted(int by);  ///< more or fewer
    void chosenChanged(int count);
    void resized();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    int indexAt(QPoint at) const;
    void paintCandidate(QPainter& p, int index) const;
    void placeButtons();
    void setCurrent(int index);

    Candidates m_candidates;
    std::shared_ptr<const CandidatePictures> m_pictures;
    int m_current = 0, m_pointed = -1, m_pressed = -1;
    std::set<int> m_chosen, m_kept;
    bool m_brushes = false;  ///< a drag chooses what it passes
    QPoint m_press;          ///< or the last place of the drag
    int m_turned = 0;        ///< of the wheel, in eighths of a degree
    QPushButton *m_take, *m_keep;
};

}  // namespace kettle
