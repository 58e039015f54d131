// Packed files as somebody wants them: one row a file, a choice for each of its components.
#pragma once

#include <QWidget>
#include <vector>

#include "core/exchange/packed_map.h"

class QGridLayout;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace kettle {

class ArrangementEditor final : public QWidget {
    Q_OBJECT

public:
    explicit ArrangementEditor(QWidget* parent);
    /// The channels that the project has; the others are offered farther down.
    void setPresent(std::vector<std::string> channels) { m_present = std::move(channels); }
    /// `isOwn`: it is kept in one's own library and may be removed there.
    void setArrangement(const Arrangement& arrangement, bool isOwn);
    const Arrangement& arrangement() const { return m_arrangement; }
    /// Of a row, 0 for red to 3 for alpha; null beyond.
    QToolButton* component(std::size_t row, std::size_t index) const;
    QLineEdit& nameField() { return *m_name; }
    QPushButton& keepButton() { return *m_keep; }

Q_SIGNALS:
    void changed();
    void keepWanted();
    void forgetWanted();

private:
    void refresh();
    void addRow(std::size_t row);
    void openMenu(std::size_t row, std::size_t index);
    void choose(std::size_t row, std::size_t index, const PackedComponent* component);
    void edited();

    Arrangement m_arrangement;
    std::vector<std::string> m_present;
    QLineEdit* m_name;
    QPushButton *m_keep, *m_forget;
    QToolButton* m_more;
    QWidget* m_rows = nullptr;
    std::vector<std::vector<QToolButton*>> m_components;
};

}  // namespace kettle
