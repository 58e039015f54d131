// The pointer, for tests of widgets: real events, moved in steps as a hand does.
#pragma once

#include <QApplication>
#include <QMouseEvent>
#include <QtTest>

namespace kettle::test {

inline void moveTo(QWidget& w, QPoint at, Qt::MouseButtons buttons, Qt::KeyboardModifiers keys = {}) {
    QMouseEvent move(QEvent::MouseMove, at, w.mapToGlobal(at), Qt::NoButton, buttons, keys);
    QApplication::sendEvent(&w, &move);
}

inline void drag(QWidget& w, QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) {
    QTest::mousePress(&w, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 8; ++i) moveTo(w, from + (to - from) * i / 8, Qt::LeftButton, keys);
    QTest::mouseRelease(&w, Qt::LeftButton, keys, to);
}

}  // namespace kettle::test
