#include "app/exporting/arrangement_editor.h"
#include "core/document/channels.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <array>

namespace kettle {
namespace {

constexpr std::size_t kMostComponents = 4;
constexpr int kFileWidth = 130;

QString nameOfChannel(const std::string& id) {
    const ChannelSpec* info = findChannel(id);
    return QString::fromUtf8(info != nullptr ? info->name : id.c_str());
}

QString wordsOf(const PackedComponent& c) {
    if (c.line.empty())
        return QString::number(static_cast<double>(c.isInverted ? 1 - c.otherwise : c.otherwise));
    QString words = nameOfChannel(c.line);
    if (!c.component.empty()) words += QLatin1Char(' ') + QString::fromStdString(c.component);
    if (c.isInverted) words = QObject::tr("%1, inverted").arg(words);
    return words;
}

/// A component of a channel, with what stands there where a surface does not have it.
PackedComponent componentOf(const ChannelSpec& channel, const char* component, float neutral, bool inverted) {
    return {channel.id, component, inverted ? 1 - neutral : neutral, inverted};
}

}  // namespace

ArrangementEditor::ArrangementEditor(QWidget* parent)
    : QWidget(parent),
      m_name(new QLineEdit(this)),
      m_keep(new QPushButton(tr("Keep in the library"), this)),
      m_forget(new QPushButton(tr("Remove"), this)),
      m_more(new QToolButton(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    auto* title = new QLabel(tr("Arrangement"), this);
    title->setObjectName(QStringLiteral("quiet"));
    head->addWidget(title);
    m_name->setAccessibleName(tr("Name of the arrangement"));
    m_name->setPlaceholderText(tr("a name, to keep it"));
    head->addWidget(m_name, 1);
    head->addWidget(m_keep);
    head->addWidget(m_forget);
    column->addLayout(head);
    m_more->setText(tr("+ File"));
    m_more->setToolTip(tr("One more file. Channels that are in none keep a file of their own."));
    column->addWidget(m_more, 0, Qt::AlignLeft);
    connect(m_name, &QLineEdit::textChanged, this, [this](const QString& name) {
        m_arrangement.name = name.trimmed().toStdString();
        m_keep->setEnabled(!m_arrangement.name.empty() && !m_arrangement.files.empty());
    });
    connect(m_keep, &QPushButton::clicked, this, &ArrangementEditor::keepWanted);
    connect(m_forget, &QPushButton::clicked, this, &ArrangementEditor::forgetWanted);
    connect(m_more, &QToolButton::clicked, this, [this] {
        m_arrangement.files.push_back(
            {"packed" + std::to_string(m_arrangement.files.size() + 1), {{"roughness", "", 0.5f}}});
        edited();
    });
}

void ArrangementEditor::setArrangement(const Arrangement& arrangement, bool isOwn) {
    m_arrangement = arrangement;
    m_name->setText(QString::fromStdString(arrangement.name));
    m_forget->setVisible(isOwn);
    refresh();
}

void ArrangementEditor::edited() {
    refresh();
    Q_EMIT changed();
}

QToolButton* ArrangementEditor::component(std::size_t row, std::size_t index) const {
    return row < m_components.size() && index < m_components[row].size() ? m_components[row][index] : nullptr;
}

void ArrangementEditor::refresh() {
    // What sent the signal may be among the rows: they go when it has returned.
    if (m_rows != nullptr) m_rows->hide(), m_rows->deleteLater();
    m_components.clear();
    m_rows = new QWidget(this);
    auto* grid = new QGridLayout(m_rows);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(6);
    const std::array titles{tr("File"), tr("Red, or grey"), tr("Green"), tr("Blue"), tr("Alpha")};
    if (m_arrangement.files.empty()) {
        auto* hint =
            new QLabel(tr("Each channel has a file of its own. Add one that holds several."), m_rows);
        hint->setObjectName(QStringLiteral("quiet"));
        grid->addWidget(hint, 1, 0);
    }
    for (std::size_t i = 0; !m_arrangement.files.empty() && i < titles.size(); ++i) {
        auto* title = new QLabel(titles[i], m_rows);
        title->setObjectName(QStringLiteral("quiet"));
        grid->addWidget(title, 0, static_cast<int>(i));
        if (i > 0) grid->setColumnStretch(static_cast<int>(i), 1);
    }
    for (std::size_t row = 0; row < m_arrangement.files.size(); ++row) addRow(row);
    static_cast<QVBoxLayout*>(layout())->insertWidget(1, m_rows);
    m_rows->show();
    m_keep->setEnabled(!m_arrangement.name.empty() && !m_arrangement.files.empty());
}

void ArrangementEditor::addRow(std::size_t row) {
    auto* grid = static_cast<QGridLayout*>(m_rows->layout());
    const int at = static_cast<int>(row) + 1;
    const PackedFile& file = m_arrangement.files[row];
    auto* name = new QLineEdit(QString::fromStdString(file.name), m_rows);
    name->setFixedWidth(kFileWidth);
    name->setAccessibleName(tr("Name of file %1").arg(at));
    name->setToolTip(tr("What stands for {channel} in its name"));
    connect(name, &QLineEdit::textEdited, this, [this, row](const QString& text) {
        if (text.trimmed().isEmpty()) return;
        m_arrangement.files[row].name = text.trimmed().toStdString();
        Q_EMIT changed();
    });
    grid->addWidget(name, at, 0);
    std::vector<QToolButton*> buttons;
    for (std::size_t i = 0; i < kMostComponents; ++i) {
        auto* button = new QToolButton(m_rows);
        button->setObjectName(QStringLiteral("choice"));
        button->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        const bool isThere = i < file.components.size();
        button->setText(isThere ? wordsOf(file.components[i]) : QStringLiteral("–"));
        button->setToolTip(button->text());
        // Components follow each other without a gap.
        button->setEnabled(i <= file.components.size());
        connect(button, &QToolButton::clicked, this, [this, row, i] { openMenu(row, i); });
        grid->addWidget(button, at, static_cast<int>(i) + 1);
        buttons.push_back(button);
    }
    m_components.push_back(buttons);
    auto* remove = new QToolButton(m_rows);
    remove->setText(QStringLiteral("×"));
    remove->setToolTip(tr("Without this file"));
    remove->setAutoRaise(true);
    connect(remove, &QToolButton::clicked, this, [this, row] {
        m_arrangement.files.erase(m_arrangement.files.begin() + static_cast<std::ptrdiff_t>(row));
        edited();
    });
    grid->addWidget(remove, at, 5);
}

void ArrangementEditor::choose(std::size_t row, std::size_t index, const PackedComponent* component) {
    std::vector<PackedComponent>& components = m_arrangement.files[row].components;
    if (component == nullptr)
        components.resize(std::max<std::size_t>(1, index));  // a file has one at least
    else if (index < components.size())
        components[index] = *component;
    else
        components.push_back(*component);
    edited();
}

void ArrangementEditor::openMenu(std::size_t row, std::size_t index) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto offer = [&](QMenu* to, const QString& words, const PackedComponent& component) {
        connect(to->addAction(words), &QAction::triggered, this,
                [this, row, index, component] { choose(row, index, &component); });
    };
    const auto channel = [&](QMenu* to, const ChannelSpec& info) {
        const QString name = QString::fromUtf8(info.name);
        const float neutral = info.neutral.x;
        if (info.kind == Kind::Scalar) {
            offer(to, name, componentOf(info, "", neutral, false));
            offer(to, tr("%1, inverted").arg(name), componentOf(info, "", neutral, true));
            return;
        }
        auto* parts = to->addMenu(name);
        if (info.kind == Kind::Normal)
            for (const char* axis : {"x", "y", "z"})
                offer(parts, QString::fromLatin1(axis),
                      componentOf(info, axis, *axis == 'z' ? 1 : 0.5f, false));
        else
            for (const char* part : {"red", "green", "blue", "alpha", "luminance"})
                offer(parts, QString::fromLatin1(part), componentOf(info, part, 0.5f, false));
    };
    const auto isPresent = [&](const ChannelSpec& info) {
        return std::find(m_present.begin(), m_present.end(), info.id) != m_present.end();
    };
    for (const ChannelSpec& info : channels())
        if (isPresent(info)) channel(menu, info);
    menu->addSeparator();
    auto* others = menu->addMenu(tr("Other channels"));
    for (const ChannelSpec& info : channels())
        if (!isPresent(info)) channel(others, info);
    offer(menu, tr("0 everywhere"), {"", "", 0, false});
    offer(menu, tr("1 everywhere"), {"", "", 1, false});
    if (index > 0)
        connect(menu->addAction(tr("Nothing: the file ends before it")), &QAction::triggered, this,
                [this, row, index] { choose(row, index, nullptr); });
    const QToolButton* button = m_components[row][index];
    menu->popup(button->mapToGlobal(QPoint(0, button->height())));
}

}  // namespace kettle
