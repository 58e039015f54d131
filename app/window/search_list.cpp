#include "app/window/search_list.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/style/theme.h"
#include "core/document/layers.h"

namespace kettle {
namespace {

constexpr int kStepRole = Qt::UserRole, kLookRole = Qt::UserRole + 1;
constexpr std::size_t kMost = 200;

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

}  // namespace

std::vector<FoundPlace> findInProject(const Session& session, const QString& word) {
    std::vector<FoundPlace> found;
    if (word.isEmpty()) return found;
    const auto has = [&](const QString& words) { return words.contains(word, Qt::CaseInsensitive); };
    const auto withNote = [](const QString& words, const std::string& note) {
        return note.empty() ? words : QObject::tr("%1: %2").arg(words, text(note));
    };
    const Project& project = session.project();
    const Look* look = project.findLook(session.look());
    for (const auto& line : project.lines) {
        const QString name = text(line->name);
        const QString what =
            isLayer(*line) ? QObject::tr("Layer %1").arg(name) : QObject::tr("Line %1").arg(name);
        if (!line->steps.empty() && (has(name) || has(text(line->note))))
            found.push_back({isLayer(*line) ? headOf(*line).id : line->steps.front()->id,
                             {},
                             withNote(what, line->note)});
        for (const auto& step : line->steps) {
            const StepSpec* spec = session.steps().find(step->type);
            if (spec == nullptr || found.size() > kMost) continue;
            const Step shown = withLook(project, *step, look);
            const QString told = text(spec->telling(StepView(*spec, shown, line->kind)));
            if (has(text(spec->name)) || has(told) || has(text(step->note)))
                found.push_back(
                    {step->id,
                     {},
                     withNote(QObject::tr("%1, %2, on %3").arg(text(spec->name), told, name), step->note)});
        }
    }
    for (const auto& one : project.looks)
        if (has(text(one->name)) || has(text(one->note)))
            found.push_back({{}, one->id, withNote(QObject::tr("Look %1").arg(text(one->name)), one->note)});
    if (found.size() > kMost) found.resize(kMost);
    return found;
}

SearchList::SearchList(Session& session, QWidget* parent)
    : QFrame(parent, Qt::Popup),
      m_session(session),
      m_word(new QLineEdit(this)),
      m_list(new QListWidget(this)) {
    setObjectName(theme::kSheet);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(8);
    column->addWidget(m_word);
    column->addWidget(m_list);
    m_word->setPlaceholderText(tr("Find steps, lines, layers, looks and notes"));
    m_word->setAccessibleName(tr("Find in the project"));
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setAccessibleName(tr("Found"));
    m_word->installEventFilter(this);
    connect(m_word, &QLineEdit::textChanged, this, &SearchList::fill);
    connect(m_word, &QLineEdit::returnPressed, this, &SearchList::accept);
    connect(m_list, &QListWidget::itemClicked, this, &SearchList::accept);
}

void SearchList::open() {
    m_word->clear();
    fill();
    setFixedSize(420, 320);
    move(parentWidget()->mapToGlobal(QPoint(48, 8)));
    show();
    m_word->setFocus();
}

void SearchList::fill() {
    m_list->clear();
    const QString word = m_word->text().trimmed();
    for (const FoundPlace& place : findInProject(m_session, word)) {
        auto* item = new QListWidgetItem(place.words, m_list);
        item->setData(kStepRole, text(place.step));
        item->setData(kLookRole, text(place.look));
    }
    if (m_list->count() > 0) return m_list->setCurrentRow(0);
    auto* nothing =
        new QListWidgetItem(word.isEmpty() ? tr("Type a word.") : tr("Nothing has this word."), m_list);
    nothing->setFlags(Qt::NoItemFlags);
}

void SearchList::accept() {
    const QListWidgetItem* item = m_list->currentItem();
    if (item == nullptr || !item->data(kStepRole).isValid()) return;
    const std::string step = item->data(kStepRole).toString().toStdString(),
                      look = item->data(kLookRole).toString().toStdString();
    hide();
    if (!look.empty())
        m_session.setLook(look);
    else
        m_session.selectStep(step);
}

bool SearchList::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_word && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int row = m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentRow(std::clamp(row, 0, m_list->count() - 1));
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace kettle
