// The entries of the library that a search and a kind leave, as a list for a view.
#pragma once

#include <QAbstractListModel>
#include <QImage>
#include <map>
#include <vector>

#include "core/exchange/library.h"

namespace kettle {

class LibraryModel final : public QAbstractListModel {
    Q_OBJECT

public:
    enum Role { Purpose = Qt::UserRole, Origin, Problem };
    using QAbstractListModel::QAbstractListModel;
    /// Copies of the entries; those of the project come first, without a file.
    void setEntries(std::vector<LibraryEntry> entries);
    void setKind(EntryKind kind);
    void setSearch(const QString& words);
    /// A picture on the present line, in place of the entry's own.
    void setPicture(const QString& key, const QImage& picture);
    void forgetPictures() { m_pictures.clear(); }
    const LibraryEntry& entry(const QModelIndex& index) const {
        return m_entries[m_shown[static_cast<std::size_t>(index.row())]];
    }
    /// What pictures are told apart by.
    static QString keyOf(const LibraryEntry& entry);
    int countOf(EntryKind kind) const;

    int rowCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(m_shown.size());
    }
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    QStringList mimeTypes() const override { return {QStringLiteral("text/uri-list")}; }
    Qt::DropActions supportedDragActions() const override { return Qt::CopyAction; }

private:
    void filter();
    QImage pictureOf(const LibraryEntry& entry) const;

    std::vector<LibraryEntry> m_entries;
    std::vector<QString> m_words;  ///< what a search looks at, in small letters
    std::vector<std::size_t> m_shown;
    EntryKind m_kind = EntryKind::Recipe;
    QString m_search;
    std::map<QString, QImage> m_pictures;
    mutable std::map<QString, QImage> m_own;  ///< from files and ramps, as they were first shown
};

}  // namespace kettle
