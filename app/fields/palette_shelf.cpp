#include "app/fields/palette_shelf.h"

#include <QApplication>
#include <QClipboard>
#include <QFile>
#include <QFileInfo>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/session/session.h"
#include "app/style/file_choice.h"
#include "app/style/theme.h"
#include "core/colour/encoding.h"

namespace kettle {
namespace {

constexpr int kSwatch = 20, kStep = 24;

QString hexOf(Vec3 c) {
    return QString::fromStdString(hexOfLinear(c.x, c.y, c.z));
}

}  // namespace

PaletteShelf::PaletteShelf(Session& session, QObject* parent) : QObject(parent), m_session(session) {}

void PaletteShelf::set(const QString& name, std::vector<Vec3> colours) {
    m_name = name;
    m_colours = std::move(colours);
    Q_EMIT changed();
}

void PaletteShelf::open(const QString& file) {
    QFile in(file);
    const QString name = QFileInfo(file).completeBaseName();
    if (!in.open(QIODevice::ReadOnly)) {
        Q_EMIT m_session.told(tr("The palette %1 cannot be read: %2.").arg(file, in.errorString()), true);
        return;
    }
    // A palette is short; whatever else was chosen is not read to its end.
    auto colours = coloursIn(in.read(1 << 20).toStdString());
    if (colours.empty())
        Q_EMIT m_session.told(
            tr("There are no colours in %1. Lines with #RRGGBB, or three numbers of 0 to 255, are read.")
                .arg(file),
            true);
    else
        set(name, std::move(colours));
}

QMenu* PaletteShelf::makeMenu(Colour current, QWidget* parent) {
    auto* menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const Vec3 own{current.r, current.g, current.b};
    const std::pair<QString, Harmony> harmonies[] = {{tr("Its opposite"), Harmony::Opposite},
                                                     {tr("Its neighbours"), Harmony::Neighbours},
                                                     {tr("Three around the circle"), Harmony::ThreeAround},
                                                     {tr("Darker and lighter"), Harmony::Lightness}};
    for (const auto& [name, harmony] : harmonies)
        menu->addAction(name, this,
                        [this, own, name = name, harmony = harmony] { set(name, harmonyOf(own, harmony)); });
    menu->addSeparator();
    const auto add = [&](const QString& name, const QString& none, const std::vector<Vec3>& colours) {
        auto* action = menu->addAction(colours.empty() ? none : name, this,
                                       [this, name, colours] { set(name, colours); });
        action->setEnabled(!colours.empty());
    };
    add(tr("Colours of this project"), tr("Colours of this project (there are none)"),
        coloursOf(m_session.project()));
    add(tr("Copied colours"), tr("Copied colours (none are copied)"),
        coloursIn(QApplication::clipboard()->text().toStdString()));
    menu->addAction(tr("From a palette file…"), this, [this, parent] {
        const QString file = chooseFile(parent, tr("Open a palette"), {},
                                        tr("Palettes and text (*.txt *.css *);;All files (*)"));
        if (!file.isEmpty()) open(file);
    });
    if (!m_kept.empty()) {
        QMenu* kept = menu->addMenu(tr("From the library"));
        for (const Palette& palette : m_kept) {
            const QString name = QString::fromStdString(palette.name);
            kept->addAction(name, this, [this, name, colours = palette.colours] { set(name, colours); });
        }
    }
    if (!m_colours.empty()) {
        menu->addSeparator();
        menu->addAction(tr("Keep it in the library"), this, [this] {
            Q_EMIT keepWanted(Palette{m_name.toStdString(), {}, m_colours, {}});
        });
        menu->addAction(tr("No palette"), this, [this] { set({}, {}); });
    }
    return menu;
}

PaletteStrip::PaletteStrip(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Palette"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void PaletteStrip::setColours(std::vector<Vec3> colours) {
    m_colours = std::move(colours);
    m_current = 0;
    updateGeometry();
    update();
}

int PaletteStrip::columns(int width) const {
    return std::max(1, (width + kStep - kSwatch) / kStep);
}

int PaletteStrip::heightForWidth(int width) const {
    const int count = static_cast<int>(m_colours.size());
    return (count + columns(width) - 1) / columns(width) * kStep;
}

QRect PaletteStrip::rectOf(std::size_t index) const {
    const int i = static_cast<int>(index), across = columns(width());
    return {i % across * kStep, i / across * kStep + 2, kSwatch, kSwatch};
}

int PaletteStrip::indexAt(QPoint at) const {
    for (std::size_t i = 0; i < m_colours.size(); ++i)
        if (rectOf(i).contains(at)) return static_cast<int>(i);
    return -1;
}

void PaletteStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < m_colours.size(); ++i) {
        const bool isFocused = hasFocus() && i == m_current;
        p.setPen(isFocused ? QPen(theme::kAccent, 2) : QPen(theme::kEdge, 1));
        p.setBrush(QColor(hexOf(m_colours[i])));
        p.drawRoundedRect(QRectF(rectOf(i)).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    }
}

void PaletteStrip::mousePressEvent(QMouseEvent* event) {
    const int index = indexAt(event->pos());
    if (index < 0) return;
    m_current = static_cast<std::size_t>(index);
    const Vec3 c = m_colours[m_current];
    update();
    Q_EMIT chosen({c.x, c.y, c.z});
}

void PaletteStrip::keyPressEvent(QKeyEvent* event) {
    const int across = columns(width()), count = static_cast<int>(m_colours.size());
    const auto move = [&](int by) {
        m_current =
            static_cast<std::size_t>(std::clamp(static_cast<int>(m_current) + by, 0, std::max(0, count - 1)));
        update();
    };
    switch (event->key()) {
        case Qt::Key_Left:
            return move(-1);
        case Qt::Key_Right:
            return move(1);
        case Qt::Key_Up:
            return move(-across);
        case Qt::Key_Down:
            return move(across);
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space:
            if (m_current < m_colours.size()) {
                const Vec3 c = m_colours[m_current];
                Q_EMIT chosen({c.x, c.y, c.z});
            }
            return;
        default:
            return QWidget::keyPressEvent(event);
    }
}

bool PaletteStrip::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int index = indexAt(help->pos());
    if (index < 0)
        QToolTip::hideText();
    else
        QToolTip::showText(help->globalPos(), hexOf(m_colours[static_cast<std::size_t>(index)]), this);
    return true;
}

}  // namespace kettle
