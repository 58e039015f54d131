// Pinned probes: up to eight places whose values stay in view, before and after the chosen step, in a small
// table.
#pragma once

#include <QFrame>
#include <QPointF>
#include <vector>

#include "app/pictures/picture_service.h"
#include "app/session/session.h"

namespace kettle {

class PinnedProbes final : public QFrame {
    Q_OBJECT

public:
    static constexpr std::size_t kMost = 8;
    PinnedProbes(Session& session, PictureService& pictures, QWidget* parent);
    /// Pins a place; the oldest goes when there are too many.
    void pin(QPointF uv);
    void clear();
    const std::vector<QPointF>& places() const { return m_places; }
    /// The table's words, row by row; for tests and screen readers.
    QStringList rows() const;

Q_SIGNALS:
    void placesChanged();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void ask();
    Session& m_session;
    PictureService& m_pictures;
    std::vector<QPointF> m_places;
    std::vector<ProbeAnswer> m_answers;
    quint64 m_asked = 0;
};

/// "0.412 0.033 0.020" or "0.350"
QString probeNumbers(const ProbeValue& value);

}  // namespace kettle
