#include "app/looks/looks_strip.h"

#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QTimer>

#include "app/style/notes.h"
#include "app/style/strips.h"
#include "app/style/theme.h"
#include "core/analysis/effects.h"
#include "core/document/edits.h"

namespace kettle {
namespace {

/// "1 change", "2 changes"
QString count(const QString& words, int n) {
    return words.arg(n).replace(QStringLiteral("(s)"), n == 1 ? QString() : QStringLiteral("s"));
}

}  // namespace

LookButton::LookButton(QString id, QString name, QString about, QWidget* parent)
    : QWidget(parent), m_id(std::move(id)), m_name(std::move(name)), m_about(std::move(about)) {
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Look %1").arg(m_name));
    setToolTip(m_id.isEmpty() ? tr("The maps as received, before any look")
                              : tr("Click to show this look, double-click to rename it, Alt and a click to "
                                   "compare with it."));
}

QSize LookButton::sizeHint() const {
    const int text = std::max(QFontMetrics(theme::font(12)).horizontalAdvance(m_name),
                              QFontMetrics(theme::font(11)).horizontalAdvance(m_about));
    return {std::clamp(text + 46 + 28, 120, 220), 56};
}

void LookButton::setPicture(const QImage& picture) {
    m_picture = picture;
    update();
}

void LookButton::setChosen(bool chosen) {
    if (chosen == m_chosen) return;
    m_chosen = chosen;
    update();
}

void LookButton::setNote(const QString& note) {
    m_note = note;
    if (!note.isEmpty()) setToolTip(toolTip() + QLatin1Char('\n') + tr("Note: %1").arg(note));
    update();
}

void LookButton::setHint(const QString& hint) {
    if (hint == m_hint) return;
    m_hint = hint;
    update();
}

void LookButton::setCompared(bool compared) {
    if (compared == m_compared) return;
    m_compared = compared;
    update();
}

void LookButton::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF r = QRectF(rect()).adjusted(1, 1, -1, -1);
    p.fillRect(rect(), theme::kPaper);  // the thicker ring of a chosen look must not stay behind
    p.setPen(QPen(m_chosen ? theme::kAccent : theme::kHairline, m_chosen ? 2 : 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(r, theme::kCorner, theme::kCorner);
    const QRectF picture(6, 6, 44, 44);
    QPainterPath corner;
    corner.addRoundedRect(picture, 4, 4);
    p.save();
    p.setClipPath(corner);
    if (m_picture.isNull())
        p.fillRect(picture, theme::kHairline);
    else
        theme::drawImage(p, picture, m_picture);
    p.restore();
    p.setFont(theme::font(12, m_chosen));
    p.setPen(theme::kInk);
    const QRect text(58, 10, width() - 66, 18);
    p.drawText(text, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(m_name, Qt::ElideRight, text.width()));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    p.drawText(text.translated(0, 18), Qt::AlignLeft | Qt::AlignVCenter,
               !m_hint.isEmpty() ? m_hint
               : m_compared      ? tr("compared")
                                 : m_about);
    if (!m_note.isEmpty()) theme::drawNote(p, QPointF(width() - 12, 12));
    if (m_compared) {
        // The other side of a comparison: a dashed ring, and the word.
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kAccent, 2, Qt::DashLine));
        p.drawRoundedRect(r, theme::kCorner, theme::kCorner);
    }
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme::kAccent, 1, Qt::DotLine));
        p.drawRoundedRect(r.adjusted(3, 3, -3, -3), 4, 4);
    }
}

void LookButton::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if ((event->modifiers() & Qt::AltModifier) != 0)
        Q_EMIT compareAsked();
    else
        Q_EMIT clicked();
}
void LookButton::mouseDoubleClickEvent(QMouseEvent*) {
    if (!m_id.isEmpty()) Q_EMIT renameAsked();
}
void LookButton::contextMenuEvent(QContextMenuEvent* event) {
    Q_EMIT menuAsked(event->globalPos());
}
void LookButton::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT clicked();
    else if (event->key() == Qt::Key_F2 && !m_id.isEmpty())
        Q_EMIT renameAsked();
    else
        QWidget::keyPressEvent(event);
}

LooksStrip::LooksStrip(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setObjectName(QStringLiteral("paper"));
    setFixedHeight(72);
    setAccessibleName(tr("Looks"));
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(16, 0, 16, 0);
    m_area = new QScrollArea(this);
    m_area->setWidgetResizable(true);
    m_area->setFixedHeight(72);
    m_area->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(m_area);
    m_page = new QWidget;
    m_page->setObjectName(QStringLiteral("paper"));
    m_row = new QHBoxLayout(m_page);
    m_row->setContentsMargins(0, 0, 0, 0);
    m_row->setSpacing(8);
    m_area->setWidget(m_page);
    connect(&session, &Session::projectChanged, this, &LooksStrip::rebuild);
    connect(&session, &Session::lookChanged, this, &LooksStrip::rebuild);
    connect(&session, &Session::viewChanged, this, &LooksStrip::markSides);
    connect(&session, &Session::keptChanged, this, [this] {
        m_shelfChanged = true;
        rebuild();
    });
    connect(&session, &Session::lookBegun, this, [this](const QString& look) { rename(look, false); });
    m_nameTime = new QTimer(this);
    m_nameTime->setSingleShot(true);
    m_nameTime->setInterval(8000);
    connect(m_nameTime, &QTimer::timeout, this, [this] {
        if (m_name && !m_name->hasFocus()) endRename();
    });
    rebuild();
}

LookButton* LooksStrip::button(const QString& look) const {
    for (LookButton* b : m_buttons)
        if (b->id() == look) return b;
    return nullptr;
}

void LooksStrip::rebuild() {
    const QString chosen = QString::fromStdString(m_session.look());
    std::vector<std::pair<std::string, std::string>> wanted{
        {"", m_session.project().lines.empty() ? "-" : std::to_string(m_session.workedSteps())}};
    for (const auto& look : m_session.project().looks)
        wanted.emplace_back(look->id,
                            look->name + "|" + std::to_string(look->changes.size()) + "|" + look->note);
    if (wanted != m_built || m_buttons.empty() || m_shelfChanged) {
        m_built = wanted;
        m_shelfChanged = false;
        // What goes on beside it does not take an offered name away.
        const QString offered = m_nameTime->isActive() ? m_named : QString();
        while (QLayoutItem* item = m_row->takeAt(0)) {
            if (QWidget* w = item->widget()) w->hide(), w->deleteLater();  // it may live on for a while
            delete item;
        }
        m_buttons.clear();
        const auto add = [&](const QString& id, const QString& name, const QString& about) {
            auto* b = new LookButton(id, name, about, m_page);
            if (const auto known = m_pictures.find(id); known != m_pictures.end())
                b->setPicture(known->second);
            connect(b, &LookButton::clicked, this, [this, id] { m_session.setLook(id.toStdString()); });
            connect(b, &LookButton::compareAsked, this, [this, id] { compareWithLook(id); });
            connect(
                b, &LookButton::renameAsked, this, [this, id] { rename(id); }, Qt::QueuedConnection);
            connect(b, &LookButton::menuAsked, this, [this, id](QPoint at) { openMenu(id, at); });
            if (const Look* look = m_session.project().findLook(id.toStdString()))
                b->setNote(QString::fromStdString(look->note));
            m_row->addWidget(b);
            m_buttons.push_back(b);
        };
        const int worked = m_session.workedSteps();
        add({}, m_session.baseName(), worked == 0 ? tr("the base") : count(tr("%1 step(s)"), worked));
        for (const auto& look : m_session.project().looks)
            add(QString::fromStdString(look->id), QString::fromStdString(look->name),
                count(tr("%1 change(s)"), static_cast<int>(look->changes.size())));
        auto* keep = new QPushButton(tr("+ Keep look"), m_page);
        keep->setToolTip(tr("Keeps what you see as a new look and goes on in it (Ctrl+K)"));
        keep->setEnabled(!m_session.project().lines.empty());
        connect(keep, &QPushButton::clicked, this, &LooksStrip::keep);
        m_row->addWidget(keep);
        auto* explore = new QPushButton(tr("Explore…"), m_page);
        explore->setObjectName(QStringLiteral("explore"));
        explore->setToolTip(tr("Candidates side by side, of what is chosen on the board (E)"));
        explore->setEnabled(!m_session.project().lines.empty());
        connect(explore, &QPushButton::clicked, this, &LooksStrip::exploreWanted);
        m_row->addWidget(explore);
        addShelf();
        m_row->addStretch(1);
        if (!offered.isEmpty()) {
            if (m_name) m_name->disconnect(this);
            m_name = nullptr;  // it goes with its button; its time runs on
            rename(offered, false);
        }
    }
    for (LookButton* b : m_buttons) b->setChosen(b->id() == chosen);
    markSides();
}

void LooksStrip::keep() {
    m_session.keepLook();
    rename(QString::fromStdString(m_session.look()), true);
}

void LooksStrip::setPicture(const QString& look, const QImage& picture) {
    m_pictures[look] = picture;
    if (LookButton* b = button(look)) b->setPicture(picture);
}

void LooksStrip::rename(const QString& look, bool takesKeys) {
    if (m_name) endRename();  // else an offer's time runs on
    LookButton* b = button(look);
    const Look* now = m_session.project().findLook(look.toStdString());
    if (b == nullptr || now == nullptr) return;
    m_name = new QLineEdit(QString::fromStdString(now->name), b);
    m_name->setAccessibleName(tr("Name of the look"));
    m_name->setGeometry(54, 8, b->width() - 60, 22);
    m_name->show();
    m_named = look;
    takesKeys ? takeKeys() : offerName(*b);
    // Behind many looks it may lie outside of what is seen; its place is known once the row is laid out.
    QMetaObject::invokeMethod(
        this,
        [this] {
            if (m_name) m_area->ensureWidgetVisible(m_name->parentWidget());
        },
        Qt::QueuedConnection);
    connect(m_name, &QLineEdit::editingFinished, this, [this, look] {
        const QString name = m_name != nullptr ? m_name->text().trimmed() : QString();
        endRename();
        const Look* old = m_session.project().findLook(look.toStdString());
        if (old != nullptr && !name.isEmpty() && name.toStdString() != old->name)
            m_session.apply(edits::renameLook(m_session.project(), look.toStdString(), name.toStdString()),
                            tr("Rename look"));
    });
}

void LooksStrip::takeKeys() {
    m_nameTime->stop();
    if (auto* b = qobject_cast<LookButton*>(m_name->parentWidget())) b->setHint({});
    m_name->selectAll();
    m_name->setFocus();
}

/// The keys stay with the board, where the next step may be called for at once; F2 or a click brings them.
void LooksStrip::offerName(LookButton& button) {
    button.setHint(tr("F2: name"));
    m_name->deselect();
    auto* wanted = new QShortcut(Qt::Key_F2, m_name);
    connect(wanted, &QShortcut::activated, this, &LooksStrip::takeKeys);
    if (!m_nameTime->isActive()) m_nameTime->start();  // nobody may want to type
}

void LooksStrip::endRename() {
    m_nameTime->stop();
    if (!m_name) return;
    QLineEdit* field = m_name;
    if (auto* b = qobject_cast<LookButton*>(field->parentWidget())) b->setHint({});
    m_name = nullptr;
    field->disconnect(this);
    field->deleteLater();
}

void LooksStrip::editNote(const QString& id) {
    const Look* look = m_session.project().findLook(id.toStdString());
    const LookButton* b = button(id);
    if (look == nullptr || b == nullptr) return;
    theme::editNote(*this, b->mapTo(this, QPoint(0, 14)), QString::fromStdString(look->note),
                    [this, id](const QString& note) { m_session.setNote(id.toStdString(), note); });
}

void LooksStrip::openMenu(const QString& look, QPoint globalPos) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Keep a copy"), this, [this, look] {
        m_session.setLook(look.toStdString());
        keep();
    });
    if (look.toStdString() != m_session.look())
        menu->addAction(tr("Compare with it"), this, [this, look] { compareWithLook(look); });
    if (!look.isEmpty()) {
        menu->addAction(tr("Rename"), this, [this, look] { rename(look); });
        menu->addAction(tr("Note…"), this, [this, look] { editNote(look); });
        menu->addAction(tr("Remove"), this, [this, look] {
            m_session.apply(edits::removeLook(m_session.project(), look.toStdString()), tr("Remove look"));
        });
    }
    menu->popup(globalPos);
}

}  // namespace kettle
