// An artist's hands, for tests of parts of the window and for stories. (Jobs are counted by
// tests/app/jobs/hand.h.)
#pragma once

#include <QContextMenuEvent>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMenu>
#include <QMimeData>
#include <QTimer>
#include <QToolButton>
#include <QtTest>

#include "tests/support/pointer.h"

namespace kettle::test {

class Hands {
public:
    void click(QWidget& on, QPoint at = {}, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseClick(&on, Qt::LeftButton, keys, at.isNull() ? on.rect().center() : at);
    }
    /// Two clicks at once are one.
    void doubleClick(QWidget& on, QPoint at) {
        QTest::mouseClick(&on, Qt::LeftButton, {}, at);
        QTest::mouseDClick(&on, Qt::LeftButton, {}, at);
    }
    void drag(QWidget& on, QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) {
        test::drag(on, from, to, keys);
    }
    /// The right button, which opens a menu.
    void openMenu(QWidget& on, QPoint at) {
        QTest::mouseClick(&on, Qt::RightButton, {}, at);
        // Where the platform sends no event for it of its own.
        if (QApplication::activePopupWidget() != nullptr) return;
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, on.mapToGlobal(at));
        QApplication::sendEvent(&on, &event);
    }
    /// A click on an entry of the open menu; false if there is none of these words.
    bool choose(const QString& words) {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (menu == nullptr) return false;
        for (QAction* action : menu->actions())
            if (action->text().section(QLatin1Char('\t'), 0, 0) == words && action->isEnabled()) {
                QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
                return true;
            }
        menu->close();
        return false;
    }
    /// A chip's menu opened by a click, and an entry of it by another.
    bool chooseFrom(QToolButton& chip, const QString& words) {
        bool found = false;
        // The chip waits for its menu.
        QTimer::singleShot(0, &chip, [&] {
            if (!QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, 3000)) return;
            found = choose(words);
        });
        click(chip);
        return found;
    }
    /// A key chord, to whatever has the keys.
    void chord(Qt::Key key, Qt::KeyboardModifiers keys = {}) {
        QTest::keyClick(QApplication::focusWidget(), key, keys);
    }
    /// A word typed into what has the keys, with Enter behind it.
    void type(const QString& words) {
        // Each key goes to whoever has the keys then: the first may open what takes the rest.
        for (const QChar c : words) QTest::keyClicks(QApplication::focusWidget(), QString(c));
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    }
    void drop(const QStringList& paths, QWidget& on, QPoint at = {}) { test::dropFiles(paths, on, at); }
};

}  // namespace kettle::test
