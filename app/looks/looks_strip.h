// The looks strip: the base and every look as a button with its picture. A look is renamed by a double click.
#pragma once

#include <QImage>
#include <QLineEdit>
#include <QPointer>
#include <QScrollArea>
#include <map>

#include "app/session/session.h"

class QHBoxLayout;
class QTimer;

namespace kettle {

/// One look's button: picture, name, number of changes.
class LookButton final : public QWidget {
    Q_OBJECT

public:
    LookButton(QString id, QString name, QString about, QWidget* parent);
    void setPicture(const QImage& picture);
    void setChosen(bool chosen);
    void setNote(const QString& note);
    /// What stands below the name instead of what it is; empty: what it is.
    void setHint(const QString& hint);
    /// True for the other side of a comparison.
    void setCompared(bool compared);
    const QString& id() const { return m_id; }
    QSize sizeHint() const override;

Q_SIGNALS:
    void clicked();
    void compareAsked();
    void renameAsked();
    void menuAsked(QPoint globalPos);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QString m_id, m_name, m_about, m_note, m_hint;
    QImage m_picture;
    bool m_chosen = false, m_compared = false;
};

class LooksStrip final : public QWidget {
    Q_OBJECT

public:
    explicit LooksStrip(Session& session, QWidget* parent = nullptr);
    void setPicture(const QString& look, const QImage& picture);
    LookButton* button(const QString& look) const;
    /// Keeps what is seen as a new look, whose name can be typed at once.
    void keep();

Q_SIGNALS:
    void exploreWanted();

private:
    void editNote(const QString& look);
    void rebuild();
    void rename(const QString& look, bool takesKeys = true);
    void takeKeys();
    void offerName(LookButton& button);
    void endRename();
    void openMenu(const QString& look, QPoint globalPos);
    /// The shelf of kept pictures, behind the looks.
    void addShelf();
    void openKeptMenu(int id, QPoint globalPos);
    void compareWithLook(const QString& look);
    void compareWithKept(int id);
    void saveKept(int id);
    void markSides();
    Session& m_session;
    QScrollArea* m_area;
    QHBoxLayout* m_row;
    QWidget* m_page;
    QString m_named;  ///< the look whose name is asked for or offered
    std::vector<LookButton*> m_buttons;
    std::map<int, LookButton*> m_keptButtons;
    QTimer* m_nameTime;
    QPointer<QLineEdit> m_name;  ///< while a name is typed
    std::map<QString, QImage> m_pictures;
    std::vector<std::pair<std::string, std::string>> m_built;  ///< id, name and number of changes when built
    bool m_shelfChanged = false;
};

}  // namespace kettle
