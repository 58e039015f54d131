// The tuner's table of a layer's channels: covered or not, the fill, the mode, the amount.
#pragma once

#include <QWidget>
#include <memory>
#include <string>
#include <vector>

#include "app/pictures/picture_service.h"

class QCheckBox;
class QComboBox;
class QGridLayout;
class QToolButton;

namespace kettle {

class HexField;
class NumberField;
class Session;

class LayerTable final : public QWidget {
    Q_OBJECT

public:
    LayerTable(Session& session, std::string layer, QWidget* parent);
    void refresh();
    void setPictures(std::shared_ptr<const CardPictures> pictures);

private:
    struct Row {
        std::string line, fill, source;  ///< ids; no fill: not covered
        Kind kind = Kind::Colour;
        QCheckBox* covered = nullptr;
        QToolButton* what = nullptr;
        HexField* hex = nullptr;       ///< of a plain colour
        NumberField* value = nullptr;  ///< of a plain number
        QComboBox* mode = nullptr;
        NumberField* amount = nullptr;
    };
    /// What the rows are made of; they are made anew when it changes.
    std::string shape() const;
    void rebuild();
    void addRow(QGridLayout& grid, int at, const Line& line);
    void addFill(QGridLayout& grid, int at, Row& row, const Line& line);
    void openFill(const Row& row);
    void refreshRow(Row& row);
    void openSets(QWidget* below);
    template <class Field>
    void joinGesture(Field* field);

    Session& m_session;
    std::string m_layer, m_shape;
    QWidget* m_grid = nullptr;
    std::vector<Row> m_rows;
    std::shared_ptr<const CardPictures> m_pictures;
    std::uint64_t m_gesture = 0;
};

}  // namespace kettle
