#include "app/editors/mode_gallery.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/style/theme.h"
#include "core/document/blend_modes.h"

namespace kettle {
namespace {

constexpr int kTileHeight = 36, kNameHeight = 15, kGapX = 6, kGapY = 6, kGroupHeight = 18, kColumns = 4;

}  // namespace

ModeGallery::ModeGallery(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Blend modes"));
    setObjectName(QStringLiteral("mode-gallery"));
    setMouseTracking(true);
    layOut();
}

void ModeGallery::layOut() {
    m_tiles.clear();
    m_groups.clear();
    const int wide = (std::max(width(), 240) - (kColumns - 1) * kGapX) / kColumns;
    int y = 0, column = 0;
    std::optional<BlendGroup> group;
    for (const BlendModeInfo& mode : kBlendModes) {
        if (group != mode.group) {
            if (group) y += kTileHeight + kNameHeight + kGapY;
            group = mode.group;
            m_groups.push_back({QString::fromLatin1(nameOf(mode.group)), y});
            y += kGroupHeight;
            column = 0;
        } else if (column == kColumns) {
            y += kTileHeight + kNameHeight + kGapY;
            column = 0;
        }
        m_tiles.push_back(
            {mode.id, QString::fromUtf8(mode.name), QRect(column * (wide + kGapX), y, wide, kTileHeight)});
        ++column;
    }
    m_height = y + kTileHeight + kNameHeight;
    setFixedHeight(m_height);
}

void ModeGallery::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (event->oldSize().width() != width()) layOut();
}

void ModeGallery::setPictures(std::shared_ptr<const std::map<std::string, QImage>> pictures) {
    m_pictures = std::move(pictures);
    update();
}

void ModeGallery::setMode(const std::string& mode) {
    if (mode == m_mode) return;
    m_mode = mode;
    update();
}

QRect ModeGallery::rectOf(const std::string& mode) const {
    for (const Tile& t : m_tiles)
        if (t.mode == mode) return t.rect;
    return {};
}

void ModeGallery::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.setFont(theme::font(11));
    for (const Group& g : m_groups) {
        p.setPen(theme::kQuiet);
        p.drawText(QRect(0, g.y, width(), kGroupHeight - 3), Qt::AlignLeft | Qt::AlignVCenter, g.name);
    }
    for (const Tile& t : m_tiles) {
        const bool chosen = t.mode == m_mode;
        const auto at = m_pictures ? m_pictures->find(t.mode) : decltype(m_pictures->find(t.mode)){};
        if (m_pictures && at != m_pictures->end() && !at->second.isNull())
            p.drawImage(t.rect, at->second);
        else
            p.fillRect(t.rect, theme::kHairline);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(chosen ? theme::kAccent : theme::kHairline, chosen ? 2 : 1));
        p.drawRoundedRect(QRectF(t.rect).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
        p.setFont(theme::font(10, chosen));
        p.setPen(chosen ? theme::kInk : theme::kQuiet);
        const QRect name(t.rect.left(), t.rect.bottom() + 1, t.rect.width() + kGapX - 2, kNameHeight);
        p.drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(t.name, Qt::ElideRight, name.width()));
    }
    if (hasFocus()) {
        p.setPen(QPen(theme::kAccent, 1, Qt::DotLine));
        p.drawRoundedRect(QRectF(rectOf(m_mode)).adjusted(-2, -2, 2, 2), 4, 4);
    }
}

void ModeGallery::mousePressEvent(QMouseEvent* event) {
    for (const Tile& t : m_tiles)
        if (t.rect.adjusted(0, 0, 0, kNameHeight).contains(event->pos()) && t.mode != m_mode) {
            setMode(t.mode);
            Q_EMIT chosen(QString::fromStdString(t.mode));
        }
}

void ModeGallery::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Right || event->key() == Qt::Key_Down ? 1
                     : event->key() == Qt::Key_Left || event->key() == Qt::Key_Up  ? -1
                                                                                   : 0;
    const auto at =
        std::find_if(m_tiles.begin(), m_tiles.end(), [&](const Tile& t) { return t.mode == m_mode; });
    if (step == 0 || at == m_tiles.end()) return QWidget::keyPressEvent(event);
    const auto next = std::clamp<std::ptrdiff_t>(at - m_tiles.begin() + step, 0,
                                                 static_cast<std::ptrdiff_t>(m_tiles.size()) - 1);
    setMode(m_tiles[static_cast<std::size_t>(next)].mode);
    Q_EMIT chosen(QString::fromStdString(m_mode));
}

bool ModeGallery::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        for (const Tile& t : m_tiles)
            if (t.rect.contains(help->pos())) QToolTip::showText(help->globalPos(), t.name, this);
        return true;
    }
    return QWidget::event(event);
}

}  // namespace kettle
