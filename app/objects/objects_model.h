// The model's objects as a tree for a view: each with its parts, number, surface and colour.
#pragma once

#include <QAbstractItemModel>
#include <memory>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

namespace kettle {

class ObjectsModel final : public QAbstractItemModel {
    Q_OBJECT

public:
    enum Column { Name, Number, SurfaceName, Columns };

    explicit ObjectsModel(Session& session, QObject* parent = nullptr);
    /// The model's shape and the colours; the rows stay while the shape does.
    void setObjects(std::shared_ptr<const ObjectColours> objects);
    /// Numbers and surfaces of the project as it is now.
    void refresh();
    const ObjectColours* objects() const { return m_objects.get(); }

    /// The object or part of a row by its name.
    std::string nameOf(const QModelIndex& index) const;
    bool isPart(const QModelIndex& index) const { return index.internalId() != 0; }
    /// The number that it bears.
    int numberOf(const QModelIndex& index) const;
    QModelIndex indexOf(const std::string& object) const;
    /// Parts of the mesh, by their places in it.
    std::vector<std::string> partsOf(const QModelIndex& index) const;
    /// Names with numbers that this model does not have.
    int strangers() const;

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& child) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& = {}) const override { return Columns; }
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

Q_SIGNALS:
    /// A number was typed into a row.
    void numberTyped(const QModelIndex& index, int number);

private:
    const ModelObject& objectOf(const QModelIndex& index) const;
    std::size_t partAt(const QModelIndex& index) const;
    QString surfaceOf(const QModelIndex& index) const;
    QVariant colourOf(const QModelIndex& index) const;

    Session& m_session;
    std::shared_ptr<const ObjectColours> m_objects;
    std::vector<int> m_surfaces;  ///< of each part of the mesh
};

}  // namespace kettle
