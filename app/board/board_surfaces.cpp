// The surfaces on the board: their headings, and what their menus do.
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/board/board_view.h"
#include "app/style/labels.h"
#include "app/style/theme.h"
#include "core/document/surface_edits.h"

namespace kettle {

using namespace board;

const HeadingPlace* BoardView::headingAt(QPoint at) const {
    for (const HeadingPlace& h : m_layout.headings)
        if (h.rect.translated(scrolledBy(), 0).contains(at)) return &h;
    return nullptr;
}

QRect BoardView::headingRect(const std::string& surface) const {
    for (const HeadingPlace& h : m_layout.headings)
        if (h.surface == surface) return toPixels(h.rect.translated(scrolledBy(), 0));
    return {};
}

void BoardView::toggleSurface(const std::string& surface) {
    if (m_options.foldedSurfaces.erase(surface) == 0) m_options.foldedSurfaces.insert(surface);
    refresh();
}

void BoardView::setModelParts(std::vector<std::string> parts, std::vector<std::string> materials) {
    m_parts = std::move(parts);
    m_partMaterials = std::move(materials);
    update();
}

void BoardView::showSurface(const std::string& surface) {
    if (m_options.foldedSurfaces.erase(surface) > 0) refresh();
    for (const auto& line : m_session.project().lines)
        if (line->surface == surface && !line->channel.empty() && !line->steps.empty())
            return m_session.selectStep(line->steps.front()->id);
}

void BoardView::paintHeading(QPainter& p, const HeadingPlace& h) const {
    const Project& project = m_session.project();
    const Surface* surface = project.findSurface(h.surface);
    const QRectF r = h.rect;
    if (m_litSurface && *m_litSurface == h.surface) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme::kShade);
        p.drawRoundedRect(r.adjusted(0, 0, -8, 0), theme::kCorner, theme::kCorner);
    }
    // A small triangle that points at what it opens.
    QPainterPath mark;
    const QPointF c(r.left() + 11, r.center().y() + 0.5);
    if (h.isFolded) {
        mark.moveTo(c + QPointF(-2.5, -4));
        mark.lineTo(c + QPointF(2.5, 0));
        mark.lineTo(c + QPointF(-2.5, 4));
    } else {
        mark.moveTo(c + QPointF(-4, -2.5));
        mark.lineTo(c + QPointF(0, 2.5));
        mark.lineTo(c + QPointF(4, -2.5));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kQuiet, 1.4));
    p.drawPath(mark);
    const QString name = surface != nullptr ? QString::fromStdString(surface->name) : tr("Shared lines");
    p.setPen(theme::kInk);
    const QRectF text(r.left() + 22, r.top() + (r.height() - 18) / 2, r.width() - 30, 18);
    theme::drawLabel(p, text, name, 13, true);
    if (surface == nullptr) return;
    const auto channels = std::count_if(project.lines.begin(), project.lines.end(), [&](const auto& line) {
        return line->surface == h.surface && !line->channel.empty();
    });
    const bool isCovered = std::any_of(project.surfaces.begin(), project.surfaces.end(),
                                       [](const auto& other) { return other->coversAll; });
    const QString parts = surface->coversAll                    ? tr("all parts")
                          : isCovered || surface->parts.empty() ? tr("no parts")
                          : surface->parts.size() == 1          ? tr("1 part")
                                                                : tr("%1 parts").arg(surface->parts.size());
    QString about =
        parts + QStringLiteral(" · ") + (channels == 1 ? tr("1 channel") : tr("%1 channels").arg(channels));
    if (h.isFolded) about += tr(", folded");
    p.setPen(theme::kQuiet);
    theme::drawLabel(p, text.adjusted(theme::labelWidth(name, 13, true) + 10, 0, 0, 0), about, 11);
}

void BoardView::fillSurfaceMenu(QMenu& menu, const std::string& id) {
    const Project& project = m_session.project();
    const Surface* surface = project.findSurface(id);
    if (surface == nullptr) {
        auto* split = menu.addAction(tr("A surface for each material"), this, [this] {
            m_session.apply(edits::surfacesOfMaterials(m_session.project(), m_parts, m_partMaterials),
                            tr("Surfaces of the materials"));
        });
        split->setEnabled(project.surfaces.empty() && !project.lines.empty());
        split->setToolTip(tr("Each material that the model's file names becomes a surface"));
    } else {
        menu.addAction(tr("Rename %1…").arg(QString::fromStdString(surface->name)), this,
                       [this, id] { renameSurface(id); });
        auto* all = menu.addAction(
            surface->coversAll ? tr("Each surface its own parts again") : tr("Give it all parts"), this,
            [this, id, covers = surface->coversAll] {
                m_session.apply(edits::coverAll(m_session.project(), id, !covers),
                                covers ? tr("Own parts") : tr("All parts"));
            });
        all->setToolTip(tr("All of the model shows this surface; the lists of parts stay as they are"));
        QMenu* parts = menu.addMenu(tr("Parts"));
        for (const std::string& part : m_parts) {
            const bool isOwn =
                std::find(surface->parts.begin(), surface->parts.end(), part) != surface->parts.end();
            auto* action = parts->addAction(QString::fromStdString(part), this, [this, id, part, isOwn] {
                m_session.apply(edits::giveParts(m_session.project(), isOwn ? std::string() : id, {part}),
                                isOwn ? tr("Take a part off") : tr("Give a part"));
            });
            action->setCheckable(true);
            action->setChecked(isOwn);
        }
        parts->setEnabled(!m_parts.empty());
    }
    menu.addSeparator();
    menu.addAction(tr("Bring maps in for it…"), this,
                   [this, id] { Q_EMIT mapsWanted(QString::fromStdString(id)); });
    QMenu* replace = menu.addMenu(tr("Replace a set"));
    for (const auto& set : project.sets) {
        const bool isRead =
            surface == nullptr ||
            std::any_of(project.lines.begin(), project.lines.end(), [&](const auto& line) {
                return line->surface == id && !line->steps.empty() && line->steps.front()->set == set->id;
            });
        if (!isRead) continue;
        replace->addAction(tr("%1…").arg(QString::fromStdString(set->name)), this,
                           [this, set = set->id] { Q_EMIT otherSetWanted(QString::fromStdString(set)); });
    }
    replace->setEnabled(!replace->isEmpty());
    if (surface == nullptr) return;
    menu.addSeparator();
    menu.addAction(tr("Remove this surface"), this, [this, id] {
        m_session.apply(edits::removeSurface(m_session.project(), id), tr("Remove a surface"));
    });
}

void BoardView::renameSurface(const std::string& id) {
    const Surface* surface = m_session.project().findSurface(id);
    const QRect at = headingRect(id);
    if (surface == nullptr || at.isNull()) return;
    auto* field = new QLineEdit(QString::fromStdString(surface->name), this);
    field->setAccessibleName(tr("Name of the surface"));
    field->setGeometry(at.left() + 18, at.top(), 200, at.height());
    field->show();
    field->selectAll();
    field->setFocus();
    connect(field, &QLineEdit::editingFinished, this, [this, field, id] {
        const QString name = field->text().trimmed();
        field->disconnect(this);
        field->deleteLater();
        const Surface* old = m_session.project().findSurface(id);
        if (old != nullptr && !name.isEmpty() && name.toStdString() != old->name)
            m_session.apply(edits::renameSurface(m_session.project(), id, name.toStdString()),
                            tr("Rename a surface"));
        setFocus();
    });
}

/// Whether what this look changes of a step is to hold in all looks, or in this one alone.
void BoardView::addHoldEntry(QMenu& menu, const std::string& step) {
    const Look* look = m_session.project().findLook(m_session.look());
    if (look == nullptr) return;
    const std::string prefix = step + ".";
    const auto isOfStep = [&](const auto& change) { return change.first.starts_with(prefix); };
    const bool isOwn = std::any_of(look->changes.begin(), look->changes.end(), isOfStep);
    const Changes& all = m_session.project().allLooks;
    const bool isAll = std::any_of(all.begin(), all.end(), isOfStep);
    if (!isOwn && !isAll) return;
    menu.addSeparator();
    if (isOwn)
        menu.addAction(tr("Its changes hold in all looks"), this,
                       [this, step] { m_session.holdInAllLooks(step, {}, true); });
    if (isAll)
        menu.addAction(tr("Its changes hold in this look only"), this,
                       [this, step] { m_session.holdInAllLooks(step, {}, false); });
}

}  // namespace kettle
