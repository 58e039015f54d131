// What rows of fields are made of, in the tuner and in its editors.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <string>

namespace kettle {

inline constexpr int kLabelWidth = 96, kDotColumn = 20, kNumberWidth = 68;

inline QString text(const std::string& s) {
    return QString::fromStdString(s);
}

inline QLabel* quietLabel(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    label->setWordWrap(true);
    return label;
}

inline QGridLayout* addRow(QVBoxLayout& column) {
    // In a widget of its own, so that it can go while it does not matter.
    auto* holder = new QWidget(column.parentWidget());
    auto* row = new QGridLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setHorizontalSpacing(8);
    row->setColumnMinimumWidth(1, kLabelWidth);
    row->setColumnStretch(2, 1);
    column.addWidget(holder);
    return row;
}

/// Rows without a reset dot keep its room, so that all labels stand below each other. (An empty column loses
/// its spacing.)
inline void keepDotColumn(QGridLayout& row, QWidget* parent) {
    auto* room = new QWidget(parent);
    room->setFixedSize(12, 1);
    row.addWidget(room, 0, 0);
}

}  // namespace kettle
