// One picture of a plan as a row: what it is, what it becomes, how it is read, and why. The row changes the
// plan in place.
#pragma once

#include <QObject>
#include <functional>

#include "core/exchange/bring_plan.h"

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QWidget;

namespace kettle {

class BringRow final : public QObject {
    Q_OBJECT

public:
    /// Adds the row to a grid of kColumns columns. `map` must outlive it.
    BringRow(PlannedMap& map, QGridLayout& grid, int row, QWidget* parent);
    static constexpr int kColumns = 6;

Q_SIGNALS:
    void changed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void addFile(QGridLayout& grid, int row, QWidget* parent);
    void becomes(const QString& role);
    /// Takes the components as they are typed in their order; words that name no map become a warning.
    void takeOrder();
    void refresh();
    QString automaticWords() const;
    QString nameWords() const;  ///< the file's name; for a picture within it "roughness in deck.exr"
    QComboBox* field(QWidget* parent, const QString& name);

    PlannedMap& m_map;
    const MapName m_recognised;  ///< as it was, to come back to
    QComboBox *m_role, *m_encoding, *m_green;
    QWidget* m_components;
    QLineEdit* m_order;
    std::vector<QComboBox*> m_component;
    QLabel *m_reads, *m_why;
};

}  // namespace kettle
