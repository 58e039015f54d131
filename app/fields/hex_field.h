// A colour typed as hex. A click selects all of it, so that what is typed takes its place.
#pragma once

#include <QLineEdit>

#include "core/document/project.h"

namespace kettle {

class HexField final : public QLineEdit {
    Q_OBJECT

public:
    explicit HexField(QWidget* parent);
    const Colour& colour() const { return m_colour; }
    /// Linear. What is being typed meanwhile stays.
    void setColour(const Colour& colour);

Q_SIGNALS:
    /// Another colour was typed. What is no colour goes back to what it was.
    void entered(const kettle::Colour& colour);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QString shown() const;
    void finish();
    Colour m_colour;
    bool m_isEntering = false;  ///< a click now selects all
};

}  // namespace kettle
