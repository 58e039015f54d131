// The board's foot: a line for each channel that has none is one click away.
#pragma once

#include <QWidget>
#include <string>
#include <vector>

#include "app/session/session.h"

class QHBoxLayout;
class QLabel;
class QToolButton;

namespace kettle {

class BoardFoot final : public QWidget {
    Q_OBJECT

public:
    BoardFoot(Session& session, QWidget* parent);
    /// Shows the channels without a line of the chosen step's surface.
    void refresh();
    static constexpr int kHeight = 36;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    /// What does not fit stands in the menu of the last button.
    void fitIn();
    Session& m_session;
    QLabel* m_words;
    QHBoxLayout* m_row;
    QToolButton* m_more;
    std::vector<QToolButton*> m_buttons;
    std::vector<std::string> m_shown;  ///< the surface, then channels
};

}  // namespace kettle
