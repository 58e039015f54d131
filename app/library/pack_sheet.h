// The sheet "Pack as a recipe": every control of the chosen steps at the left, the recipe's tuner as it will
// be at the right: ticked, named, ordered, in sections, with ranges and units. For a layer that is chosen,
// what it is kept as.
#pragma once

#include <QFrame>
#include <QPointer>
#include <functional>

#include "app/library/library_shelf.h"
#include "app/session/session.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace kettle {

class PackSheet final : public QFrame {
    Q_OBJECT

public:
    PackSheet(Session& session, LibraryShelf& shelf, QWidget* parent);
    /// For what is chosen on the board; steps that cannot be packed are told.
    void open();
    /// Who has the pictures of steps: what is kept gets the one of the step that it ends with.
    void setPictureOf(std::function<QImage(const std::string& step)> picture) {
        m_pictureOf = std::move(picture);
    }
    QTreeWidget& offered() { return *m_offered; }
    QTreeWidget& exposed() { return *m_exposed; }
    QLineEdit& name() { return *m_name; }

Q_SIGNALS:
    /// It is in the library now, under this name.
    void kept(kettle::EntryKind kind, const QString& name);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    enum Column { Name, Section, From, To, Unit };
    QWidget* makeLists();
    void openForLayers(const std::vector<std::string>& layers);
    bool fillOffered();
    void addOffered(const Step& step, Kind kind, const QString& where);
    void tick(QTreeWidgetItem* item);
    void moveExposed(int way);
    edits::PackWish wish() const;
    void accept();
    void keepLayers();
    void place();

    Session& m_session;
    LibraryShelf& m_shelf;
    QLabel* m_title;
    QLineEdit *m_name, *m_purpose;
    QWidget* m_lists;
    QTreeWidget *m_offered, *m_exposed;
    QCheckBox* m_keep;
    QPushButton *m_pack, *m_cancel;
    QPointer<QWidget> m_before;
    std::function<QImage(const std::string& step)> m_pictureOf;
    std::vector<std::string> m_layers;  ///< that are kept; none: steps are packed
    std::vector<Kind> m_kinds;          ///< that all steps fit
};

}  // namespace kettle
