#include "app/preview/pinned_probes.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/style/theme.h"
#include "core/colour/encoding.h"

namespace kettle {
namespace {

constexpr int kRow = 18, kWide = 336, kMargin = 8;

}  // namespace

QString probeNumbers(const ProbeValue& v) {
    if (v.kind == Kind::Scalar) return QString::number(static_cast<double>(v.linear[0]), 'f', 3);
    QStringList parts;
    for (std::size_t c = 0; c < 3; ++c) parts << QString::number(static_cast<double>(v.linear[c]), 'f', 3);
    return parts.join(QLatin1Char(' '));
}

PinnedProbes::PinnedProbes(Session& session, PictureService& pictures, QWidget* parent)
    : QFrame(parent), m_session(session), m_pictures(pictures) {
    setObjectName(QStringLiteral("pinned-probes"));
    setAccessibleName(tr("Pinned probes"));
    setToolTip(
        tr("Values at pinned places before and after the chosen step. P pins the place under the pointer; "
           "click a row to take it off."));
    connect(&session, &Session::projectChanged, this, &PinnedProbes::ask);
    connect(&session, &Session::lookChanged, this, &PinnedProbes::ask);
    connect(&session, &Session::selectionChanged, this, &PinnedProbes::ask);
    connect(&pictures, &PictureService::probesReady, this, [this](quint64 number, const auto& answers) {
        if (number != m_asked) return;
        m_answers = *answers;
        setAccessibleDescription(rows().join(QLatin1Char('\n')));
        update();
    });
    hide();
}

void PinnedProbes::pin(QPointF uv) {
    m_places.push_back(uv);
    if (m_places.size() > kMost) m_places.erase(m_places.begin());
    ask();
}

void PinnedProbes::clear() {
    m_places.clear();
    ask();
}

void PinnedProbes::ask() {
    setVisible(!m_places.empty());
    setFixedSize(kWide, static_cast<int>(m_places.size()) * kRow + 2 * kMargin);
    move(8, parentWidget()->height() - height() - 8);
    Q_EMIT placesChanged();
    const Line* line = m_session.selectedLine();
    if (m_places.empty() || line == nullptr) return;
    m_asked = m_pictures.askProbes(m_session.project(), m_session.look(), line->id, m_session.selectedStep(),
                                   m_places, m_session.resources());
}

QStringList PinnedProbes::rows() const {
    QStringList list;
    for (std::size_t i = 0; i < std::min(m_answers.size(), m_places.size()); ++i) {
        const ProbeAnswer& a = m_answers[i];
        QString row = QString::number(i + 1) + QStringLiteral("  ");
        if (a.hasBefore) row += probeNumbers(a.before) + QStringLiteral(" → ");
        row += probeNumbers(a.after);
        if (a.after.kind == Kind::Colour)
            row += QStringLiteral("  ") + QString::fromStdString(hexOfLinear(
                                              a.after.linear[0], a.after.linear[1], a.after.linear[2]));
        list << row;
    }
    return list;
}

void PinnedProbes::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::kHairline, 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), theme::kCorner, theme::kCorner);
    p.setFont(theme::font(11));
    const QStringList words = rows();
    for (int i = 0; i < words.size(); ++i) {
        const QRect row(kMargin, kMargin + i * kRow, width() - 2 * kMargin, kRow);
        const ProbeAnswer& a = m_answers[static_cast<std::size_t>(i)];
        const auto& s = a.after.shown;
        const auto code = [](float v) { return static_cast<int>(toByte(v)); };
        const bool grey = a.after.kind == Kind::Scalar;
        p.setPen(QPen(theme::kEdge, 1));
        p.setBrush(QColor(code(s[0]), code(grey ? s[0] : s[1]), code(grey ? s[0] : s[2])));
        p.drawRect(QRect(row.left(), row.top() + 3, 12, 12));
        p.setPen(theme::kInk);
        p.drawText(row.adjusted(20, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, words[i]);
    }
}

void PinnedProbes::mousePressEvent(QMouseEvent* event) {
    const auto row = static_cast<std::size_t>(std::max(0, (event->pos().y() - kMargin) / kRow));
    if (row >= m_places.size()) return;
    m_places.erase(m_places.begin() + static_cast<std::ptrdiff_t>(row));
    ask();
}

}  // namespace kettle
