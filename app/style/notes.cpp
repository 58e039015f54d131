#include "app/style/notes.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <algorithm>
#include <utility>

#include "app/style/theme.h"

namespace kettle::theme {
namespace {

constexpr QSize kField{260, 28};

class NoteField final : public QLineEdit {
public:
    using QLineEdit::QLineEdit;

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Escape) return static_cast<void>(deleteLater());
        QLineEdit::keyPressEvent(event);
    }
    void focusOutEvent(QFocusEvent* event) override {
        QLineEdit::focusOutEvent(event);
        deleteLater();
    }
};

}  // namespace

void drawNote(QPainter& p, QPointF middle) {
    const QRectF leaf(middle.x() - 5, middle.y() - 5, 10, 10);
    p.setPen(QPen(kInk, 1));
    p.setBrush(kCard);
    p.drawRect(leaf);
    for (const double y : {-1.5, 1.5})
        p.drawLine(QPointF(leaf.left() + 2, middle.y() + y), QPointF(leaf.right() - 2, middle.y() + y));
}

void editNote(QWidget& on, QPoint at, const QString& note, std::function<void(const QString&)> keep) {
    auto* field = new NoteField(note, &on);
    field->setObjectName(QStringLiteral("note"));
    field->setPlaceholderText(QObject::tr("A note; Enter keeps it, Esc leaves it"));
    field->setAccessibleName(QObject::tr("Note"));
    field->setGeometry(QRect(QPoint(std::clamp(at.x(), 8, std::max(8, on.width() - kField.width() - 8)),
                                    std::clamp(at.y(), 0, std::max(0, on.height() - kField.height()))),
                             kField));
    QObject::connect(field, &QLineEdit::returnPressed, field, [field, &on, keep = std::move(keep)] {
        const QString words = field->text();
        on.setFocus();
        keep(words);
    });
    field->show();
    field->setFocus();
}

}  // namespace kettle::theme
