// A drawer: a page that slides over the left of a view, with a title and a way to close it. One is open at a
// time.
#pragma once

#include <QFrame>

class QPropertyAnimation;
class QHBoxLayout;
class QVBoxLayout;

namespace kettle {

class Drawer : public QFrame {
    Q_OBJECT

public:
    /// `over`: what the drawer slides over; its parent.
    Drawer(const QString& title, int width, QWidget* over);
    bool isOpen() const { return m_isOpen; }
    /// Opening closes the drawer that is open over the same view.
    void setOpen(bool open);

Q_SIGNALS:
    void changed();

protected:
    /// Where the drawer's own rows go; the title stands above.
    QVBoxLayout& column() { return *m_column; }
    /// Beside the title, before Close.
    QHBoxLayout& head() { return *m_head; }
    /// Who has the keys while it is open.
    void setFirst(QWidget* first) { m_first = first; }
    /// Before it is shown.
    virtual void opening() {}
    static constexpr int kMargin = 12;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void place();
    int m_width;
    QVBoxLayout* m_column;
    QHBoxLayout* m_head;
    QPropertyAnimation* m_slide;
    QWidget* m_first = nullptr;
    bool m_isOpen = false;
};

}  // namespace kettle
