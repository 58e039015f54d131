// The menu of a place in the picture: what can be made from what is there, and which steps made it.
#pragma once

#include <QObject>
#include <QPoint>
#include <QPointF>
#include <functional>
#include <memory>
#include <string>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"
#include "core/analysis/place_actions.h"

class QMenu;
class QWidget;

namespace kettle {

class PlaceMenu final : public QObject {
    Q_OBJECT

public:
    PlaceMenu(Session& session, PictureService& pictures, QWidget& window);
    /// Opens it over the model: `part` says which surface.
    void openOnModel(QPointF uv, const QString& part, QPoint globalPos);
    /// Opens it over the flat map, which shows the chosen step.
    void openOnFlat(QPointF uv, QPoint globalPos);
    /// The menu that was opened last; for tests.
    QMenu* menu() const { return m_menu; }

private:
    using Make = std::function<Result<PlaceEdit>(const Project&, const std::string& look, const Resources&)>;
    void open(QPointF uv, const LinePlace& place, const std::string& surface, QPoint globalPos);
    void make(const QString& name, Make what);
    void addMakers(QMenu& menu, QPointF uv, const std::string& surface);

    Session& m_session;
    PictureService& m_pictures;
    QWidget& m_window;
    QMenu* m_menu = nullptr;
    // The edit under way: worked out on the pictures' thread, then applied if nothing else has happened.
    quint64 m_number = 0;
    std::uint64_t m_from = 0;  ///< the revision that is worked on
    QString m_name;
    Session::Target m_target;
    std::shared_ptr<std::string> m_chosen;
};

}  // namespace kettle
