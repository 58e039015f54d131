// Counts what an artist's hands do, by what arrives at the application and not by what a test meant to send;
// and watches that nothing else changes the work.
#pragma once

#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QTextEdit>

#include "app/window/main_window.h"

namespace kettle::jobs {

/// An action is a click, a double click, a drag, a drop, a key chord, or a typed entry with its Enter.
/// Looking (moving, resting, scrolling) is free.
class ActionCounter final : public QObject {
public:
    ActionCounter() { qApp->installEventFilter(this); }
    ~ActionCounter() override { qApp->removeEventFilter(this); }

    int actions() const { return m_actions; }
    void beginAnew() { m_actions = 0, m_isTyping = false; }

    bool eventFilter(QObject* receiver, QEvent* event) override {
        switch (event->type()) {
            case QEvent::MouseButtonPress:
                if (isNew(static_cast<QMouseEvent*>(event)->timestamp())) count();
                break;
            case QEvent::Drop:
                // It climbs from widget to widget until one takes it.
                if (m_drop != event) count();
                m_drop = event;
                break;
            case QEvent::DragEnter:
                m_drop = nullptr;
                break;
            case QEvent::ShortcutOverride:
            case QEvent::KeyPress:
                // A modifier alone is no chord yet.
                if (isModifier(*static_cast<QKeyEvent*>(event))) break;
                if (!m_isKeyDown) pressed(*static_cast<QKeyEvent*>(event), receiver);
                m_isKeyDown = true;
                break;
            case QEvent::KeyRelease:
                if (!isModifier(*static_cast<QKeyEvent*>(event))) m_isKeyDown = false;
                break;
            default:
                break;
        }
        return false;
    }

private:
    void count() {
        ++m_actions;
        m_isTyping = false;
    }
    /// One event goes to a widget and then to those around it.
    bool isNew(quint64 time) {
        const bool isSame = time == m_lastPress && time != 0;
        m_lastPress = time;
        return !isSame;
    }
    static bool isModifier(const QKeyEvent& key) {
        return key.key() == Qt::Key_Shift || key.key() == Qt::Key_Control || key.key() == Qt::Key_Alt ||
               key.key() == Qt::Key_Meta;
    }
    void pressed(const QKeyEvent& key, const QObject* receiver) {
        if (key.isAutoRepeat()) return;
        const bool isChord = (key.modifiers() & (Qt::ControlModifier | Qt::AltModifier)) != 0;
        const bool isEnd = key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter;
        const bool takesText = qobject_cast<const QLineEdit*>(receiver) != nullptr ||
                               qobject_cast<const QAbstractSpinBox*>(receiver) != nullptr ||
                               qobject_cast<const QTextEdit*>(receiver) != nullptr ||
                               qobject_cast<const QComboBox*>(receiver) != nullptr;
        const bool isText =
            takesText && !isChord && (!key.text().isEmpty() || key.key() == Qt::Key_Backspace);
        if (m_isTyping && isEnd) {
            m_isTyping = false;
            return;
        }
        if (m_isTyping && isText) return;
        count();
        // A number may be begun where there is no field yet: its first digit opens one.
        const bool isDigit = !isChord && key.text().size() == 1 && key.text()[0].isDigit();
        m_isTyping = (isText && !isEnd) || isDigit;
    }

    int m_actions = 0;
    quint64 m_lastPress = 0;
    const QEvent* m_drop = nullptr;
    bool m_isKeyDown = false, m_isTyping = false;
};

/// From its making on, project, look, choice, view and focus may change only while input is being given or
/// what it set going runs its course. What changed otherwise is named.
class Guard final : public QObject {
public:
    explicit Guard(MainWindow& window) {
        Session& session = window.session();
        const auto watch = [&](auto signal, const char* what) {
            connect(&session, signal, this, [this, what] { changed(what); });
        };
        watch(&Session::projectChanged, "the project");
        watch(&Session::lookChanged, "the look");
        watch(&Session::selectionChanged, "the choice");
        watch(&Session::viewChanged, "the view");
        watch(&Session::fileChanged, "the file");
        connect(qApp, &QApplication::focusChanged, this, [this] { changed("the focus"); });
    }
    /// While one lives, input is being given.
    class Input {
    public:
        explicit Input(Guard& guard) : m_guard(guard) { ++m_guard.m_depth; }
        ~Input() { --m_guard.m_depth; }
        Input(const Input&) = delete;
        Input& operator=(const Input&) = delete;

    private:
        Guard& m_guard;
    };
    /// What changed without a hand; empty if nothing did.
    const QStringList& faults() const { return m_faults; }

private:
    void changed(const char* what) {
        if (m_depth == 0) m_faults << QString::fromLatin1(what);
    }
    int m_depth = 0;
    QStringList m_faults;
};

}  // namespace kettle::jobs
