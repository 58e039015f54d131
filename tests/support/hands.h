// An artist's hands, counted: a click, a drag, a key chord, a typed entry with Enter and a drop are one each.
// Looking is free.
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
    int actions() const { return m_actions; }
    /// Clicks that a test does by the entry itself: submenus open by the pointer's rest, which it has none
    /// of.
    void count(int clicks) { m_actions += clicks; }

    void click(QWidget& on, QPoint at = {}, Qt::KeyboardModifiers keys = {}) {
        ++m_actions;
        QTest::mouseClick(&on, Qt::LeftButton, keys, at.isNull() ? on.rect().center() : at);
    }
    /// Two clicks at once are one.
    void doubleClick(QWidget& on, QPoint at) {
        ++m_actions;
        QTest::mouseClick(&on, Qt::LeftButton, {}, at);
        QTest::mouseDClick(&on, Qt::LeftButton, {}, at);
    }
    void drag(QWidget& on, QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) {
        ++m_actions;
        test::drag(on, from, to, keys);
    }
    /// The right button, which opens a menu.
    void openMenu(QWidget& on, QPoint at) {
        ++m_actions;
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
                ++m_actions;
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
        ++m_actions;
        QTest::keyClick(QApplication::focusWidget(), key, keys);
    }
    /// A word typed into what has the keys, with Enter behind it.
    void type(const QString& words) {
        ++m_actions;
        // Each key goes to whoever has the keys then: the first may open what takes the rest.
        for (const QChar c : words) QTest::keyClicks(QApplication::focusWidget(), QString(c));
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    }
    /// Files dropped on a place of a widget; the event climbs to who takes it, as it does from the desktop.
    void drop(const QStringList& paths, QWidget& on, QPoint at = {}) {
        ++m_actions;
        QMimeData data;
        QList<QUrl> urls;
        for (const QString& path : paths) urls << QUrl::fromLocalFile(path);
        data.setUrls(urls);
        for (QWidget* w = &on; w != nullptr; w = w->parentWidget()) {
            if (!w->acceptDrops()) continue;
            const QPoint place = on.mapTo(w, at.isNull() ? on.rect().center() : at);
            QDragEnterEvent enter(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(w, &enter);
            QDragMoveEvent move(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(w, &move);
            QDropEvent dropped(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(w, &dropped);
            if (dropped.isAccepted()) return;
        }
    }

private:
    int m_actions = 0;
};

/// Tells a job's figures in the form that ./kettle jobs prints, and holds it to what is wanted.
inline bool jobDone(const char* job, int actions, int wanted) {
    qInfo("JOB %s|%d|%d", job, actions, wanted);
    return actions <= wanted;
}

}  // namespace kettle::test
