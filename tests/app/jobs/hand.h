// The one hand of a job: it sends input to places of the window and waits as long as an artist would look. It
// changes nothing by a call.
#pragma once

#include <QContextMenuEvent>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QFileDialog>
#include <QMimeData>
#include <QTimer>
#include <QUrl>
#include <QtTest>

#include "tests/app/jobs/counter.h"
#include "tests/support/pointer.h"

namespace kettle::jobs {

class Hand {
public:
    Hand(MainWindow& window, Guard& guard) : m_window(window), m_guard(guard) {}

    /// Waits until every view shows the newest picture. False after a minute.
    bool look() {
        const Guard::Input input(m_guard);
        return QTest::qWaitFor([this] { return m_window.isSettled(); }, 60000);
    }
    template <class Condition>
    bool lookFor(Condition&& condition, int milliseconds = 20000) {
        const Guard::Input input(m_guard);
        return QTest::qWaitFor(std::forward<Condition>(condition), milliseconds);
    }
    void click(QWidget& on, QPoint at = {}, Qt::KeyboardModifiers keys = {}) {
        const Guard::Input input(m_guard);
        QTest::mouseClick(&on, Qt::LeftButton, keys, at.isNull() ? on.rect().center() : at);
    }
    void drag(QWidget& on, QPoint from, QPoint to) {
        const Guard::Input input(m_guard);
        test::drag(on, from, to);
    }
    /// The right button, which opens a menu.
    void openMenu(QWidget& on, QPoint at) {
        const Guard::Input input(m_guard);
        QTest::mouseClick(&on, Qt::RightButton, {}, at);
        if (QApplication::activePopupWidget() != nullptr) return;
        // Where the platform sends no event for it of its own.
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, on.mapToGlobal(at));
        QApplication::sendEvent(&on, &event);
    }
    /// A click on an entry of the open menu; false if there is none of these words.
    bool choose(const QString& words) {
        const Guard::Input input(m_guard);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (menu == nullptr) return false;
        for (QAction* action : menu->actions())
            if (action->text().section(QLatin1Char('\t'), 0, 0).remove(QLatin1Char('&')) == words &&
                action->isEnabled()) {
                QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
                giveKeysBack();
                return true;
            }
        return false;
    }
    /// A button whose menu opens while it is clicked: the click, and one on an entry.
    bool chooseFrom(QWidget& button, const QString& words) {
        bool found = false;
        QTimer::singleShot(0, &button, [&] {
            if (QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000))
                found = choose(words);
        });
        click(button);
        return found || (QApplication::activePopupWidget() != nullptr && choose(words));
    }
    /// A choice of a box: a click opens it, another takes the row.
    bool chooseIn(QComboBox& box, const QString& words) {
        const Guard::Input input(m_guard);
        const int row = box.findText(words, Qt::MatchStartsWith);
        if (row < 0) return false;
        QTest::mouseClick(&box, Qt::LeftButton, {}, box.rect().center());
        QAbstractItemView* list = box.view();
        if (!QTest::qWaitFor([&] { return list->isVisible(); }, 3000)) return false;
        const QModelIndex index = box.model()->index(row, box.modelColumn());
        list->scrollTo(index);  // scrolling is looking
        QTest::qWait(QApplication::doubleClickInterval() +
                     50);  // the box takes a release right behind its opening for a slip
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(index).center());
        return QTest::qWaitFor([&] { return box.currentIndex() == row; }, 3000);
    }
    void chord(Qt::Key key, Qt::KeyboardModifiers keys = {}) {
        const Guard::Input input(m_guard);
        if (QWidget* to = target()) QTest::keyClick(to, key, keys);
    }
    /// A word typed into what has the keys, with Enter behind it.
    void type(const QString& words) {
        const Guard::Input input(m_guard);
        for (const QChar c : words)
            if (QWidget* to = target()) QTest::keyClick(to, c.toLatin1());
        if (QWidget* to = target()) QTest::keyClick(to, Qt::Key_Return);
        giveKeysBack();
    }
    void drop(const QStringList& paths, QWidget& on, QPoint at = {}) {
        const Guard::Input input(m_guard);
        test::dropFiles(paths, on, at);
    }
    /// A path typed into the file dialog that the next input opens, with Enter: call it before that input.
    void answerDialog(const QString& path) {
        QTimer::singleShot(0, &m_window, [this, path] {
            if (!QTest::qWaitFor(
                    [] { return qobject_cast<QFileDialog*>(QApplication::activeModalWidget()) != nullptr; },
                    5000))
                return;
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            auto* name = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
            const Guard::Input input(m_guard);
            name->selectAll();
            QTest::keyClicks(name, path);
            QTest::keyClick(name, Qt::Key_Return);
        });
    }
    /// A click on a button of the question that the next input asks: call it before that input.
    void answerQuestion(const QString& words) {
        QTimer::singleShot(0, &m_window, [this, words] {
            if (!QTest::qWaitFor([] { return QApplication::activeModalWidget() != nullptr; }, 5000)) return;
            for (auto* button : QApplication::activeModalWidget()->findChildren<QAbstractButton*>())
                if (button->text().remove(QLatin1Char('&')) == words) return click(*button);
        });
    }

private:
    /// Without a window manager nobody gives the window the keys back when a popup closes.
    void giveKeysBack() {
        if (QApplication::activePopupWidget() != nullptr || QApplication::activeModalWidget() != nullptr)
            return;
        m_window.activateWindow();
        static_cast<void>(QTest::qWaitForWindowActive(&m_window));
    }
    QWidget* target() const {
        if (QWidget* popup = QApplication::activePopupWidget(); popup != nullptr)
            return popup->focusWidget() != nullptr ? popup->focusWidget() : popup;
        return QApplication::focusWidget();
    }
    MainWindow& m_window;
    Guard& m_guard;
};

}  // namespace kettle::jobs
