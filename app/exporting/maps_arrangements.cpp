// The page of maps and its packed files: the box of arrangements, the one that is worked on, the library.
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QToolButton>
#include <algorithm>

#include "app/exporting/arrangement_editor.h"
#include "app/exporting/maps_page.h"

namespace kettle {
namespace {

/// What "packed" has always meant here: it needs no library.
Arrangement standardArrangement() {
    return {"", {}, packedFiles()};
}

}  // namespace

Arrangement MapsPage::arrangement() const {
    const int at = m_arrangement->currentIndex();
    if (at <= 0) return {};
    const auto place = static_cast<std::size_t>(at - 1);
    if (place < m_arrangements.size()) return m_arrangements[place];
    return m_changed.value_or(Arrangement{});
}

void MapsPage::refreshArrangements() {
    const Arrangement before = m_changed ? *m_changed : arrangement();
    const bool wasPacked = m_arrangement->currentIndex() > 0 || m_changed;
    bool isKept = false;
    m_arrangements = {standardArrangement()};
    if (m_shelf.entries)
        for (const LibraryEntry& entry : m_shelf.entries())
            if (const auto* one = std::get_if<Arrangement>(&entry.content);
                one != nullptr && one->files != packedFiles())
                m_arrangements.push_back(*one);
    // What was kept is not "changed" any more as soon as the shelf has it.
    if (m_changed && m_changed->name == m_kept && !m_kept.empty() &&
        std::find(m_arrangements.begin(), m_arrangements.end(), *m_changed) != m_arrangements.end()) {
        m_changed.reset();
        isKept = true;
    }
    const QSignalBlocker quiet(m_arrangement);
    m_arrangement->clear();
    m_arrangement->addItem(tr("one file a channel"));
    m_arrangement->addItem(tr("occlusion, roughness, metalness packed"));
    for (std::size_t i = 1; i < m_arrangements.size(); ++i)
        m_arrangement->addItem(QString::fromStdString(m_arrangements[i].name));
    if (m_changed) m_arrangement->addItem(tr("as arranged below"));
    int at = 0;
    if (m_changed)
        at = m_arrangement->count() - 1;
    else if (wasPacked)
        for (std::size_t i = 0; i < m_arrangements.size(); ++i)
            if (m_arrangements[i] == before) at = static_cast<int>(i) + 1;
    m_arrangement->setCurrentIndex(at);
    if (isKept) showArrangement();
    Q_EMIT changed();
}

void MapsPage::arrange(const QString& name) {
    m_arrangement->setCurrentIndex(std::max(0, m_arrangement->findText(name)));
    m_arrange->setChecked(true);
}

void MapsPage::showArrangement() {
    if (!m_arrange->isChecked()) return;
    const Arrangement shown = arrangement();
    bool isOwn = false;
    if (m_shelf.entries)
        for (const LibraryEntry& entry : m_shelf.entries()) {
            const auto* one = std::get_if<Arrangement>(&entry.content);
            isOwn = isOwn || (one != nullptr && *one == shown && entry.origin == EntryOrigin::Own);
        }
    m_editor->setArrangement(shown, isOwn);
    Q_EMIT resized();
}

void MapsPage::keepArrangement() {
    LibraryEntry entry;
    entry.kind = EntryKind::Arrangement;
    entry.name = m_editor->arrangement().name;
    entry.content = m_editor->arrangement();
    m_changed = m_editor->arrangement();
    m_kept = entry.name;
    if (m_shelf.keep && m_shelf.keep(entry)) refreshArrangements();
}

void MapsPage::forgetArrangement() {
    if (!m_shelf.entries) return;
    for (const LibraryEntry& entry : m_shelf.entries()) {
        const auto* one = std::get_if<Arrangement>(&entry.content);
        if (one == nullptr || *one != m_editor->arrangement() || entry.origin != EntryOrigin::Own) continue;
        // Its files stay here as they are, until others are chosen.
        m_changed = *one;
        m_changed->name.clear();
        m_kept.clear();
        const LibraryEntry gone = entry;  // the shelf changes while it goes
        m_shelf.forget(gone);
        break;
    }
    refreshArrangements();
    showArrangement();
}

QString MapsPage::command() const {
    if (m_changed) return {};  // an arrangement that is not kept has no name to give
    const ExportOptions o = options();
    const auto text = [](const std::string& s) { return QString::fromStdString(s); };
    QStringList words{QStringLiteral("--out"), text(o.folder.string())};
    words += lookWords(o.looks, m_session);
    if (o.channels.size() < m_channels.size())
        for (const std::string& channel : o.channels) words << QStringLiteral("--channel") << text(channel);
    if (o.surfaces.size() < m_surfaces.size())
        for (const std::string& surface : o.surfaces) words << QStringLiteral("--surface") << text(surface);
    words << QStringLiteral("--format") << QString::fromLatin1(nameOf(o.format));
    if (o.size > 0) words << QStringLiteral("--size") << QString::number(o.size);
    if (m_compression->currentIndex() > 0)
        words << QStringLiteral("--compression") << m_compression->currentData().toString();
    if (!o.space.empty()) words << QStringLiteral("--colours") << text(o.space);
    if (m_pattern->text() != m_usualPattern) words << QStringLiteral("--name") << text(o.pattern);
    if (o.packed == packedFiles())
        words << QStringLiteral("--packed");
    else if (!o.packed.empty())
        words << QStringLiteral("--arrangement") << text(arrangement().name);
    if (o.eachObject) words << QStringLiteral("--each-object");
    if (o.dither) words << QStringLiteral("--dither");
    if (o.manifest) words << QStringLiteral("--manifest");
    return commandOf(QStringLiteral("export"), m_session, words);
}

}  // namespace kettle
