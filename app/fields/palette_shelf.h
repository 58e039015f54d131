// The palette at hand: one for all colour fields, chosen from the project, the colour itself, copied text or
// a file.
#pragma once

#include <QObject>
#include <QString>
#include <QWidget>
#include <vector>

#include "core/document/project.h"
#include "core/exchange/library.h"
#include "core/exchange/palette.h"

class QMenu;

namespace kettle {

class Session;

class PaletteShelf final : public QObject {
    Q_OBJECT

public:
    explicit PaletteShelf(Session& session, QObject* parent = nullptr);
    const QString& name() const { return m_name; }
    const std::vector<Vec3>& colours() const { return m_colours; }
    void set(const QString& name, std::vector<Vec3> colours);
    /// Palettes of the library, offered after the rest.
    void setKept(std::vector<Palette> palettes) { m_kept = std::move(palettes); }
    /// Every palette to be had; `current` is what harmonies are made of. Closing deletes it.
    QMenu* makeMenu(Colour current, QWidget* parent);
    /// Takes up the colours of a palette file, or tells what is wrong with it.
    void open(const QString& file);

Q_SIGNALS:
    void changed();
    /// The palette at hand is to be kept in the library.
    void keepWanted(const kettle::Palette& palette);

private:
    Session& m_session;
    QString m_name;
    std::vector<Vec3> m_colours;
    std::vector<Palette> m_kept;
};

/// The colours of a palette as swatches; a click or Enter takes one.
class PaletteStrip final : public QWidget {
    Q_OBJECT

public:
    explicit PaletteStrip(QWidget* parent = nullptr);
    void setColours(std::vector<Vec3> colours);
    /// Where a swatch is, in pixels; for the pointer and for tests.
    QRect rectOf(std::size_t index) const;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {200, heightForWidth(200)}; }

Q_SIGNALS:
    void chosen(const kettle::Colour& colour);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    int columns(int width) const;
    int indexAt(QPoint at) const;
    std::vector<Vec3> m_colours;
    std::size_t m_current = 0;
};

}  // namespace kettle
