// Undo by keeping values: the list of earlier projects, without limit. Edits of one gesture (a drag) join
// into one entry.
#pragma once

#include <atomic>
#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

#include "core/document/project.h"

namespace kettle {

class History {
public:
    /// Begins with one entry, "Open", that cannot be undone.
    explicit History(Project start = {}) {
        m_entries.push_back({std::move(start), "Open", 0, freshRevision()});
    }

    /// The state at position(); valid until the next change of the history.
    const Project& current() const { return m_entries[m_at].project; }
    /// A number of the current state that no other state ever bears, in any history: equal numbers mean that
    /// nothing has changed in between, which a position in the list does not tell.
    std::uint64_t revision() const { return m_entries[m_at].revision; }
    /// Adds an edit and forgets what was undone. Equal non-zero `gesture` numbers in a row join into one
    /// entry.
    void push(Project project, std::string name, std::uint64_t gesture = 0) {
        m_entries.resize(m_at + 1);
        Entry& last = m_entries.back();
        if (gesture != 0 && last.gesture == gesture) {
            last.project = std::move(project);
            last.revision = freshRevision();
            return;
        }
        m_entries.push_back({std::move(project), std::move(name), gesture, freshRevision()});
        ++m_at;
    }
    /// True if there is an entry before (behind) the current one.
    bool canUndo() const { return m_at > 0; }
    bool canRedo() const { return m_at + 1 < m_entries.size(); }
    /// The name of what undo (redo) would take back (do again); only if it can.
    const std::string& undoName() const { return m_entries[m_at].name; }
    const std::string& redoName() const { return m_entries[m_at + 1].name; }
    /// One entry back (on); nothing at the end of the list.
    void undo() { m_at -= canUndo() ? 1 : 0; }
    void redo() { m_at += canRedo() ? 1 : 0; }
    /// Goes to any entry; those after it stay to be done again. at < size().
    void jump(std::size_t at) { m_at = at; }
    /// The name of the edit that led to an entry. at < size().
    const std::string& nameAt(std::size_t at) const { return m_entries[at].name; }
    /// The current entry, 0 being the start.
    std::size_t position() const { return m_at; }
    std::size_t size() const { return m_entries.size(); }

private:
    struct Entry {
        Project project;
        std::string name;
        std::uint64_t gesture, revision;
    };
    static std::uint64_t freshRevision() {
        static std::atomic<std::uint64_t> last{0};
        return ++last;
    }
    std::vector<Entry> m_entries;
    std::size_t m_at = 0;
};

}  // namespace kettle
