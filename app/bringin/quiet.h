// Private to app/bringin: words beside what matters.
#pragma once

#include <QLabel>

namespace kettle {

inline QLabel* quiet(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setObjectName(QStringLiteral("quiet"));
    return label;
}

}  // namespace kettle
