#include "app/library/library_model.h"

#include <QMimeData>
#include <QPainter>
#include <QUrl>
#include <algorithm>

#include "core/colour/encoding.h"
#include "core/colour/ramp.h"

namespace kettle {
namespace {

constexpr int kSmallWidth = 104, kSmallHeight = 66;

QColor shown(Vec3 c) {
    return QColor(QString::fromStdString(hexOfLinear(c.x, c.y, c.z)));
}

QImage pictureOfRamp(const Ramp& ramp) {
    QImage picture(kSmallWidth, kSmallHeight, QImage::Format_RGB32);
    const RampCurve curve = compileRamp(ramp);
    for (int x = 0; x < kSmallWidth; ++x) {
        const QRgb colour = shown(rampAt(curve, (static_cast<float>(x) + 0.5f) / kSmallWidth)).rgb();
        for (int y = 0; y < kSmallHeight; ++y) picture.setPixel(x, y, colour);
    }
    return picture;
}

QImage pictureOfPalette(const Palette& palette) {
    QImage picture(kSmallWidth, kSmallHeight, QImage::Format_RGB32);
    QPainter p(&picture);
    const auto count = static_cast<int>(palette.colours.size());
    for (int i = 0; i < count; ++i)
        p.fillRect(QRect(QPoint(i * kSmallWidth / count, 0),
                         QPoint((i + 1) * kSmallWidth / count - 1, kSmallHeight - 1)),
                   shown(palette.colours[static_cast<std::size_t>(i)]));
    return picture;
}

}  // namespace

QString LibraryModel::keyOf(const LibraryEntry& entry) {
    return QString::fromStdString(entry.file.empty() ? std::string(nameOf(entry.kind)) + "/" + entry.name
                                                     : entry.file.string());
}

void LibraryModel::setEntries(std::vector<LibraryEntry> entries) {
    beginResetModel();
    m_entries = std::move(entries);
    m_own.clear();
    m_words.clear();
    for (const LibraryEntry& entry : m_entries)
        m_words.push_back(QString::fromStdString(entry.name + "\n" + entry.purpose).toLower());
    filter();
    endResetModel();
}

void LibraryModel::filter() {
    m_shown.clear();
    const QStringList words = m_search.toLower().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    for (std::size_t i = 0; i < m_entries.size(); ++i)
        if (m_entries[i].kind == m_kind &&
            std::all_of(words.begin(), words.end(), [&](const QString& w) { return m_words[i].contains(w); }))
            m_shown.push_back(i);
}

void LibraryModel::setKind(EntryKind kind) {
    beginResetModel();
    m_kind = kind;
    filter();
    endResetModel();
}

void LibraryModel::setSearch(const QString& words) {
    beginResetModel();
    m_search = words;
    filter();
    endResetModel();
}

void LibraryModel::setPicture(const QString& key, const QImage& picture) {
    m_pictures[key] = picture;
    for (std::size_t row = 0; row < m_shown.size(); ++row)
        if (keyOf(m_entries[m_shown[row]]) == key) {
            const QModelIndex at = index(static_cast<int>(row));
            Q_EMIT dataChanged(at, at, {Qt::DecorationRole});
        }
}

int LibraryModel::countOf(EntryKind kind) const {
    return static_cast<int>(std::count_if(m_entries.begin(), m_entries.end(),
                                          [kind](const LibraryEntry& e) { return e.kind == kind; }));
}

QImage LibraryModel::pictureOf(const LibraryEntry& entry) const {
    const QString key = keyOf(entry);
    if (const auto made = m_pictures.find(key); made != m_pictures.end()) return made->second;
    if (const auto own = m_own.find(key); own != m_own.end()) return own->second;
    QImage picture;
    if (const auto* ramp = std::get_if<NamedRampEntry>(&entry.content))
        picture = pictureOfRamp(ramp->ramp);
    else if (const auto* palette = std::get_if<Palette>(&entry.content))
        picture = pictureOfPalette(*palette);
    else if (!entry.picture.empty())
        picture = QImage(QString::fromStdString(entry.picture.string()));
    return m_own.emplace(key, picture).first->second;
}

QVariant LibraryModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const LibraryEntry& e = entry(index);
    const QString origin = e.file.empty()                     ? tr("project")
                           : e.origin == EntryOrigin::Shipped ? tr("shipped")
                           : e.origin == EntryOrigin::Team    ? tr("team")
                                                              : tr("own");
    switch (role) {
        case Qt::DisplayRole:
            return QString::fromStdString(e.name);
        case Qt::DecorationRole:
            return pictureOf(e);
        case Purpose:
            return QString::fromStdString(e.purpose);
        case Origin:
            return origin;
        case Problem:
            return QString::fromStdString(e.problem);
        case Qt::ToolTipRole:
            return QString::fromStdString(!e.problem.empty()  ? e.problem
                                          : e.purpose.empty() ? e.name
                                                              : e.purpose);
        case Qt::AccessibleTextRole:
            return tr("%1, %2").arg(QString::fromStdString(e.name), origin);
        default:
            return {};
    }
}

Qt::ItemFlags LibraryModel::flags(const QModelIndex& index) const {
    const Qt::ItemFlags flags = QAbstractListModel::flags(index) | Qt::ItemIsDropEnabled;
    return index.isValid() && entry(index).problem.empty() ? flags | Qt::ItemIsDragEnabled : flags;
}

QMimeData* LibraryModel::mimeData(const QModelIndexList& indexes) const {
    QList<QUrl> urls;
    for (const QModelIndex& index : indexes)
        if (!entry(index).file.empty())
            urls << QUrl::fromLocalFile(QString::fromStdString(entry(index).file.string()));
    if (urls.isEmpty()) return nullptr;
    auto* data = new QMimeData;
    data->setUrls(urls);
    return data;
}

}  // namespace kettle
