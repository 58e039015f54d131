#include "app/objects/objects_model.h"

#include <QColor>
#include <QFont>

#include "app/style/theme.h"
#include "core/colour/encoding.h"

namespace kettle {

ObjectsModel::ObjectsModel(Session& session, QObject* parent)
    : QAbstractItemModel(parent), m_session(session) {}

void ObjectsModel::setObjects(std::shared_ptr<const ObjectColours> objects) {
    const bool isSame = m_objects && objects && m_objects->scene == objects->scene;
    if (!isSame) beginResetModel();
    m_objects = std::move(objects);
    refresh();
    if (!isSame) endResetModel();
}

void ObjectsModel::refresh() {
    if (!m_objects) return;
    m_surfaces = surfacesOfParts(m_session.project(), m_objects->scene->mesh().parts);
    if (const int rows = rowCount(); rows > 0) Q_EMIT dataChanged(index(0, 0), index(rows - 1, Columns - 1));
}

QModelIndex ObjectsModel::index(int row, int column, const QModelIndex& parent) const {
    if (!hasIndex(row, column, parent)) return {};
    return createIndex(row, column, parent.isValid() ? static_cast<quintptr>(parent.row()) + 1 : quintptr{0});
}

QModelIndex ObjectsModel::parent(const QModelIndex& child) const {
    if (!child.isValid() || child.internalId() == 0) return {};
    return createIndex(static_cast<int>(child.internalId()) - 1, 0, quintptr{0});
}

int ObjectsModel::rowCount(const QModelIndex& parent) const {
    if (!m_objects) return 0;
    if (!parent.isValid()) return static_cast<int>(m_objects->objects.size());
    if (parent.internalId() != 0 || parent.column() != 0) return 0;
    const std::size_t parts = m_objects->objects[static_cast<std::size_t>(parent.row())].parts.size();
    return parts > 1 ? static_cast<int>(parts) : 0;
}

const ModelObject& ObjectsModel::objectOf(const QModelIndex& index) const {
    const std::size_t row = isPart(index) ? index.internalId() - 1 : static_cast<std::size_t>(index.row());
    return m_objects->objects[row];
}

std::size_t ObjectsModel::partAt(const QModelIndex& index) const {
    return objectOf(index).parts[isPart(index) ? static_cast<std::size_t>(index.row()) : 0];
}

std::string ObjectsModel::nameOf(const QModelIndex& index) const {
    return isPart(index) ? m_objects->scene->mesh().parts[partAt(index)] : objectOf(index).name;
}

int ObjectsModel::numberOf(const QModelIndex& index) const {
    const ObjectNumbers& given = *m_session.project().objects;
    const auto& byHand = isPart(index) ? given.parts : given.objects;
    const auto at = byHand.find(nameOf(index));
    if (at != byHand.end()) return at->second;
    return isPart(index) ? static_cast<int>(partAt(index)) : index.row();
}

QModelIndex ObjectsModel::indexOf(const std::string& object) const {
    for (int row = 0; m_objects && row < rowCount(); ++row)
        if (m_objects->objects[static_cast<std::size_t>(row)].name == object) return index(row, 0);
    return {};
}

std::vector<std::string> ObjectsModel::partsOf(const QModelIndex& index) const {
    const Mesh& mesh = m_objects->scene->mesh();
    if (isPart(index)) return {mesh.parts[partAt(index)]};
    std::vector<std::string> parts;
    for (const std::size_t part : objectOf(index).parts) parts.push_back(mesh.parts[part]);
    return parts;
}

int ObjectsModel::strangers() const {
    if (!m_objects) return 0;
    std::set<std::string> known;
    for (const ModelObject& object : m_objects->objects) known.insert(object.name);
    int count = 0;
    for (const auto& [name, number] : m_session.project().objects->objects)
        count += known.contains(name) ? 0 : 1;
    const auto& parts = m_objects->scene->mesh().parts;
    const std::set<std::string> knownParts(parts.begin(), parts.end());
    for (const auto& [name, number] : m_session.project().objects->parts)
        count += knownParts.contains(name) ? 0 : 1;
    return count;
}

QString ObjectsModel::surfaceOf(const QModelIndex& index) const {
    const std::vector<std::string> ids = surfaceIds(m_session.project());
    int common = -2;
    const auto parts = isPart(index) ? std::vector<std::size_t>{partAt(index)} : objectOf(index).parts;
    for (const std::size_t part : parts) {
        const int surface = part < m_surfaces.size() ? m_surfaces[part] : -1;
        if (common != -2 && common != surface) return tr("several");
        common = surface;
    }
    if (common < 0) return tr("none");
    return QString::fromStdString(surfaceName(m_session.project(), ids[static_cast<std::size_t>(common)]));
}

QVariant ObjectsModel::colourOf(const QModelIndex& index) const {
    const auto& list = isPart(index) ? m_objects->ofParts : m_objects->ofObjects;
    const std::size_t at = isPart(index) ? partAt(index) : static_cast<std::size_t>(index.row());
    if (at >= list.size()) return {};
    Vec3 c = list[at];
    if (m_objects->kind == Kind::Normal) c = (c + Vec3{1, 1, 1}) * 0.5f;
    if (m_objects->kind == Kind::Colour) return QColor(QString::fromStdString(hexOfLinear(c.x, c.y, c.z)));
    const auto code = [](float v) { return static_cast<int>(255 * std::clamp(v, 0.0f, 1.0f) + 0.5f); };
    return QColor(code(c.x), code(c.y), code(c.z));
}

QVariant ObjectsModel::data(const QModelIndex& index, int role) const {
    if (!m_objects || !index.isValid()) return {};
    if (role == Qt::TextAlignmentRole && index.column() == Number)
        return static_cast<int>(Qt::AlignRight | Qt::AlignVCenter);
    const ObjectNumbers& given = *m_session.project().objects;
    const bool isGiven = (isPart(index) ? given.parts : given.objects).contains(nameOf(index));
    if (role == Qt::FontRole && index.column() == Number) return theme::font(12, isGiven);
    if (role == Qt::ForegroundRole &&
        (index.column() == SurfaceName || (index.column() == Number && !isGiven)))
        return theme::kQuiet;
    if (role == Qt::DecorationRole && index.column() == Name) return colourOf(index);
    if (role == Qt::ToolTipRole && index.column() == Number)
        return isGiven ? tr("Given by hand. The menu takes the model's own again.")
                       : tr("As the model counts. Type another; equal numbers look equal.");
    if (role == Qt::AccessibleTextRole && index.column() == Name)
        return tr("%1, number %2").arg(QString::fromStdString(nameOf(index))).arg(numberOf(index));
    if (role != Qt::DisplayRole && role != Qt::EditRole && role != Qt::ToolTipRole) return {};
    switch (index.column()) {
        case Name: {
            QString name = QString::fromStdString(nameOf(index));
            // A part's name begins with its object's.
            const QString object = QString::fromStdString(objectOf(index).name) + QStringLiteral(" / ");
            if (isPart(index) && name.startsWith(object)) name = name.mid(object.size());
            return name.isEmpty() ? tr("(without a name)") : name;
        }
        case Number:
            return numberOf(index);
        default:
            return surfaceOf(index);
    }
}

QVariant ObjectsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    return section == Name ? tr("Object") : section == Number ? tr("Number") : tr("Surface");
}

Qt::ItemFlags ObjectsModel::flags(const QModelIndex& index) const {
    Qt::ItemFlags flags = QAbstractItemModel::flags(index);
    return index.column() == Number ? flags | Qt::ItemIsEditable : flags;
}

bool ObjectsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || index.column() != Number) return false;
    Q_EMIT numberTyped(index, value.toInt());
    return true;
}

}  // namespace kettle
