// The library's list: how an entry is painted, and what may be dropped on it.
#include "app/library/library_list.h"

#include <QDragEnterEvent>
#include <QFileInfo>
#include <QMimeData>
#include <QPainter>
#include <QUrl>

#include "app/library/library_drawer.h"
#include "app/style/theme.h"

namespace kettle {
namespace {
constexpr int kPictureWidth = 104, kPictureHeight = 66, kWords = 34;

QString onlyPath(const QDropEvent& event) {
    const QList<QUrl> urls = event.mimeData()->urls();
    return urls.size() == 1 ? urls.front().toLocalFile() : QString();
}
}  // namespace

QSize EntryDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {kPictureWidth + 12, kPictureHeight + kWords + 8};
}

void EntryDelegate::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setRenderHint(QPainter::SmoothPixmapTransform);
    const QRect r = option.rect.adjusted(2, 2, -2, -2);
    const bool isChosen = (option.state & QStyle::State_Selected) != 0;
    if (isChosen || (option.state & QStyle::State_MouseOver) != 0) {
        p->setPen(isChosen ? QPen(theme::kAccent, 1.5) : Qt::NoPen);
        p->setBrush(theme::kTint);
        p->drawRoundedRect(QRectF(r).adjusted(1, 1, -1, -1), 6, 6);
    }
    const QRect picture(r.center().x() - kPictureWidth / 2 + 1, r.top() + 5, kPictureWidth - 2,
                        kPictureHeight - 2);
    const QString problem = index.data(LibraryModel::Problem).toString();
    const auto image = index.data(Qt::DecorationRole).value<QImage>();
    if (!problem.isEmpty() || image.isNull()) {
        p->setPen(QPen(theme::kEdge, 1));
        p->setBrush(theme::kCard);
        p->drawRoundedRect(QRectF(picture).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
        p->setFont(theme::font(11));
        p->setPen(problem.isEmpty() ? theme::kQuiet : theme::kBrick);
        p->drawText(picture, Qt::AlignCenter, problem.isEmpty() ? tr("no picture") : tr("cannot be read"));
    } else {
        const QImage fitted = image.scaled(picture.size() * p->device()->devicePixelRatio(),
                                           Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
        QRect part(QPoint(0, 0), picture.size() * p->device()->devicePixelRatio());
        part.moveCenter(fitted.rect().center());
        p->drawImage(picture, fitted, part);
    }
    p->setFont(theme::font(12));
    p->setPen(theme::kInk);
    const QRect words(picture.left(), picture.bottom() + 3, picture.width(), kWords);
    const QString name = index.data().toString();
    // Two lines; what is longer ends in dots.
    const QFontMetrics metrics(theme::font(12));
    QString shown = name;
    while (shown.size() > 4 &&
           metrics.boundingRect(QRect(0, 0, words.width(), 1000), Qt::TextWordWrap, shown).height() >
               words.height())
        shown = shown.left(shown.size() - 2).trimmed() + QStringLiteral("…");
    p->drawText(words, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, shown);
    // What is shipped needs no sign.
    if (const QString origin = index.data(LibraryModel::Origin).toString();
        origin != LibraryModel::tr("shipped")) {
        p->setFont(theme::font(10));
        const QRect sign(picture.left() + 3, picture.top() + 3,
                         p->fontMetrics().horizontalAdvance(origin) + 8, 15);
        p->setPen(Qt::NoPen);
        p->setBrush(theme::kCard);
        p->drawRoundedRect(sign, 3, 3);
        p->setPen(theme::kInk);
        p->drawText(sign, Qt::AlignCenter, origin);
    }
    p->restore();
}

bool LibraryList::takes(const QDropEvent& event) const {
    const QString path = onlyPath(event);
    if (path.isEmpty() || event.source() == this) return false;
    if (!QFileInfo(path).isDir()) return path.endsWith(QStringLiteral(".json"));
    const QModelIndex index = indexAt(event.position().toPoint());
    const auto* library = qobject_cast<const LibraryModel*>(model());
    if (!index.isValid() || library == nullptr) return false;
    const auto* layer = std::get_if<KeptLayer>(&library->entry(index).content);
    return layer != nullptr && !layer->slots().empty();
}

void LibraryList::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void LibraryList::dragMoveEvent(QDragMoveEvent* event) {
    const bool fits = takes(*event);
    if (fits) setCurrentIndex(indexAt(event->position().toPoint()));
    fits ? event->acceptProposedAction() : event->ignore();
}

void LibraryList::dropEvent(QDropEvent* event) {
    if (!takes(*event)) return event->ignore();
    const QString path = onlyPath(*event);
    event->acceptProposedAction();
    if (QFileInfo(path).isDir())
        Q_EMIT folderDropped(indexAt(event->position().toPoint()), path);
    else
        Q_EMIT fileDropped(path);
}

void LibraryList::resizeEvent(QResizeEvent* event) {
    // As many columns as fit, and no ragged right edge.
    const int columns = std::max(1, viewport()->width() / (kPictureWidth + 12));
    setGridSize({viewport()->width() / columns, kPictureHeight + kWords + 10});
    QListView::resizeEvent(event);
}

}  // namespace kettle
