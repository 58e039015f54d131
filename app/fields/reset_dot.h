// The dot before a control's name: shows whether its value was changed, and takes the change back.
#pragma once

#include <QAbstractButton>

namespace kettle {

class ResetDot final : public QAbstractButton {
    Q_OBJECT
public:
    /// Nothing to take back, another value than the default, or one that the look gave.
    enum class Change { None, FromDefault, ByLook };

    explicit ResetDot(QWidget* parent);

    void setChange(Change change);
    Change change() const { return m_change; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Change m_change = Change::None;
};

}  // namespace kettle
