// The drawer Objects: what the model is made of, with the number that each object bears, its surface, and
// what its variation gives it. What is chosen here is chosen on the model, and the other way round.
#pragma once

#include <QPointer>

#include "app/objects/objects_model.h"
#include "app/style/drawer.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeView;

namespace kettle {

class ObjectsDrawer final : public Drawer {
    Q_OBJECT

public:
    ObjectsDrawer(Session& session, PictureService& pictures, QWidget* over);
    QTreeView& tree() { return *m_tree; }
    ObjectsModel& model() { return *m_model; }
    /// Opens it with the beginning of a number for what is chosen. Enter gives the keys back, and closes it
    /// if it was closed.
    void startNumber(const QString& digit);

protected:
    void opening() override {
        m_startedFrom = nullptr;  // a number that was begun before was given up
        ask();
    }

private:
    QWidget* makeFoot();
    QPushButton* addButton(QLayout& row, const QString& words, const QString& tip);
    void endNumber();
    void ask();
    void takeChoice();
    void showChoice();
    void refreshFoot();
    void setEqual();
    void countUp();
    void setNumbers(const QModelIndexList& rows, int from, int step);
    void takeOwn();
    void openMenu(QPoint at);
    void giveTo(const std::string& surface);
    void showInFlat();
    QModelIndexList chosen() const;

    Session& m_session;
    PictureService& m_pictures;
    ObjectsModel* m_model;
    QTreeView* m_tree;
    QLabel *m_words, *m_strangers;
    QLineEdit* m_number;
    QPushButton *m_equal, *m_count, *m_own, *m_flat;
    quint64 m_asked = 0;
    QPointer<QWidget> m_startedFrom;  ///< what had the keys when a number was begun outside
    bool m_isOpenForNumber = false;
    bool m_isTaking = false;  ///< the choice goes from here to the session
};

}  // namespace kettle
