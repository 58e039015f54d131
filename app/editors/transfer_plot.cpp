#include "app/editors/transfer_plot.h"

#include <QPainter>
#include <algorithm>

#include "app/style/theme.h"

namespace kettle {
namespace {

/// The components' own colours, as far from the card as ink, so that a thin line is seen; letters tell them
/// apart as well.
QColor componentColour(std::size_t c) {
    const bool isDusk = theme::theme() == theme::Theme::Dusk;
    const std::array<QColor, 3> pale{QColor(0xA8, 0x3A, 0x32), QColor(0x2F, 0x74, 0x3E),
                                     QColor(0x33, 0x58, 0xA0)};
    const std::array<QColor, 3> dusk{QColor(0xF0, 0x8A, 0x80), QColor(0x7C, 0xC8, 0x8C),
                                     QColor(0x86, 0xAE, 0xF0)};
    return isDusk ? dusk[c] : pale[c];
}

bool isOneCurve(const BlendTransfer& t) {
    return t.components == 1 || (t.result[0] == t.result[1] && t.result[1] == t.result[2]);
}

}  // namespace

TransferPlot::TransferPlot(QWidget* parent) : QWidget(parent) {
    setFixedHeight(132);
    setAccessibleName(tr("Result against under"));
    setToolTip(tr(
        "What the mode makes of every under from dark (left) to light, with over and mask as they are at the "
        "probed place. The dot is the place itself; the thin line is no change."));
}

void TransferPlot::setTransfer(std::shared_ptr<const BlendTransfer> transfer, QPointF place) {
    m_transfer = std::move(transfer);
    m_place = place;
    m_sentence.clear();
    update();
}

void TransferPlot::setSentence(const QString& sentence) {
    m_transfer.reset();
    m_sentence = sentence;
    update();
}

QRectF TransferPlot::field() const {
    return {6.5, 6.5, height() - 13.0, height() - 13.0};
}

QPointF TransferPlot::pointOf(double under, double result) const {
    const QRectF f = field();
    return {f.left() + std::clamp(under, 0.0, 1.0) * f.width(),
            f.bottom() - std::clamp(result, 0.0, 1.0) * f.height()};
}

void TransferPlot::paintCurves(QPainter& p) const {
    const bool one = isOneCurve(*m_transfer);
    for (std::size_t c = 0; c < (one ? 1 : 3); ++c) {
        QPolygonF curve;
        for (std::size_t i = 0; i < BlendTransfer::kSamples; ++i)
            curve << pointOf(static_cast<double>(i) / (BlendTransfer::kSamples - 1),
                             static_cast<double>(m_transfer->result[c][i]));
        p.setPen(QPen(one ? theme::kInk : componentColour(c), 1.4));
        p.drawPolyline(curve);
    }
    for (std::size_t c = 0; c < static_cast<std::size_t>(m_transfer->components); ++c) {
        const QPointF at =
            pointOf(static_cast<double>(m_transfer->under[c]), static_cast<double>(m_transfer->landed[c]));
        p.setPen(QPen(theme::kCard, 1));
        p.setBrush(one ? theme::kInk : componentColour(c));
        p.drawEllipse(at, 3.5, 3.5);
    }
    p.setBrush(Qt::NoBrush);
}

void TransferPlot::paintNumbers(QPainter& p) const {
    const BlendTransfer& t = *m_transfer;
    const double left = field().right() + 14;
    double y = field().top();
    const auto row = [&](const QString& name, const std::array<float, 3>& v) {
        const auto unit = [](float x) { return std::clamp(x, 0.0f, 1.0f); };
        const QColor shown = QColor::fromRgbF(unit(v[0]), unit(v[1]), unit(v[2]));
        const bool isGrey = t.components == 1 || (v[0] == v[1] && v[1] == v[2]);
        p.setPen(theme::kQuiet);
        p.drawText(QRectF(left, y, 44, 18), Qt::AlignVCenter, name);
        p.setPen(theme::kEdge);
        p.setBrush(shown);
        p.drawRoundedRect(QRectF(left + 42.5, y + 2.5, 20, 13), 3, 3);
        p.setPen(theme::kInk);
        p.drawText(QRectF(left + 68, y, width() - left - 68, 18), Qt::AlignVCenter,
                   isGrey ? QString::number(static_cast<double>(v[0]), 'f', 3) : shown.name().toUpper());
        y += 20;
    };
    row(tr("over"), t.over);
    row(tr("under"), t.under);
    row(tr("result"), t.landed);
    p.setPen(theme::kQuiet);
    const QRectF rest(left, y + 4, width() - left, field().bottom() - y - 4);
    p.drawText(rest, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               tr("taken by %1\nat %2, %3")
                   .arg(static_cast<double>(t.weight), 0, 'f', 2)
                   .arg(m_place.x(), 0, 'f', 2)
                   .arg(m_place.y(), 0, 'f', 2));
}

void TransferPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF f = field();
    p.setPen(theme::kHairline);
    p.setBrush(theme::kCard);
    p.drawRoundedRect(f.adjusted(-6, -6, 6, 6), 4, 4);
    p.setBrush(Qt::NoBrush);
    p.drawLine(pointOf(0, 0), pointOf(1, 1));
    p.setFont(theme::font(10));
    p.setPen(theme::kQuiet);
    p.drawText(f, Qt::AlignLeft | Qt::AlignTop, tr("result"));
    p.drawText(f, Qt::AlignRight | Qt::AlignBottom, tr("under"));
    p.setFont(theme::font(12));
    if (m_transfer != nullptr) {
        paintCurves(p);
        paintNumbers(p);
    } else {
        p.setPen(theme::kQuiet);
        p.drawText(QRectF(f.right() + 14, f.top(), width() - f.right() - 14, f.height()),
                   Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, m_sentence);
    }
}

}  // namespace kettle
