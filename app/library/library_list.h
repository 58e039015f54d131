// How an entry of the library is painted.
#pragma once

#include <QStyledItemDelegate>

namespace kettle {

/// A picture, the name below it, and where it comes from.
class EntryDelegate final : public QStyledItemDelegate {
    Q_OBJECT

public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace kettle
