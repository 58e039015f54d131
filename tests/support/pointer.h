// The pointer, for tests of widgets: real events, moved in steps as a hand does.
#pragma once

#include <QApplication>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QUrl>
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

/// Files dropped on a place of a widget (its middle by default). The events climb to the first widget that
/// takes them, as they do from the desktop.
inline void dropFiles(const QStringList& paths, QWidget& on, QPoint at = {}) {
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& path : paths) urls << QUrl::fromLocalFile(path);
    data.setUrls(urls);
    for (QWidget* w = &on; w != nullptr; w = w->parentWidget()) {
        if (!w->acceptDrops()) continue;
        const QPoint place = on.mapTo(w, at.isNull() ? on.rect().center() : at);
        QDragEnterEvent enter(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(w, &enter);
        if (!enter.isAccepted()) continue;
        QDragMoveEvent move(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(w, &move);
        QDropEvent dropped(place, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(w, &dropped);
        if (dropped.isAccepted()) return;
    }
}

}  // namespace kettle::test
