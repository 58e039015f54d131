// The board's keys work wherever the hand is: from Model, Flat, tuner and looks alike, unless one types in a
// field or a sheet lies over the window.
#pragma once

#include <QObject>
#include <functional>

class QKeyEvent;
class QWidget;

namespace kettle {

class BoardView;

class BoardKeys final : public QObject {
    Q_OBJECT

public:
    /// `leave`: what Esc ends before it reaches the board; false if there is nothing.
    BoardKeys(QWidget& window, BoardView& board, std::function<bool()> leave);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    bool reachesBoard(const QWidget& from, const QKeyEvent& key) const;

    QWidget& m_window;
    BoardView& m_board;
    std::function<bool()> m_leave;
};

}  // namespace kettle
