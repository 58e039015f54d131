// One side of the sheet: which control is tried along it, and from where to where.
#pragma once

#include <QWidget>
#include <functional>
#include <optional>

#include "app/session/session.h"
#include "core/analysis/explore.h"

class QLabel;
class QMenu;
class QToolButton;

namespace kettle {

class RangeSlider;

/// Fills a menu with all controls that can be tried: those of the chosen step, then by line and step.
void fillAxisMenu(QMenu& menu, const Session& session, bool down,
                  const std::function<void(const ExploreAxis&)>& chosen);
/// "HSV shift · Hue"
QString wordsOf(const Session& session, const ExploreAxis& axis);

class AxisBar final : public QWidget {
    Q_OBJECT

public:
    AxisBar(Session& session, bool down, QWidget* parent);
    void setAxis(const std::optional<ExploreAxis>& axis);
    QToolButton& chip() { return *m_chip; }
    RangeSlider& range() { return *m_range; }

Q_SIGNALS:
    /// Another control, other ends, or none.
    void changed(const std::optional<kettle::ExploreAxis>& axis);

private:
    void refresh();

    Session& m_session;
    bool m_down;
    std::optional<ExploreAxis> m_axis;
    QToolButton* m_chip;
    RangeSlider* m_range;
    QLabel* m_ends;
};

}  // namespace kettle
