// Tells when a file that the project is made of has changed on the disk: maps, a model, an environment.
#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>
#include <atomic>
#include <chrono>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <thread>
#include <vector>

namespace kettle {

class SourceWatch final : public QObject {
    Q_OBJECT

public:
    using Files = std::vector<std::filesystem::path>;
    /// `files`: what is watched now, "<UDIM>" left in; asked on the window's thread, and must not touch the
    /// disk. The disk is looked at every so often, on a thread of its own, so that a slow one holds nothing
    /// up.
    SourceWatch(std::function<Files()> files, std::chrono::milliseconds every, QObject* parent = nullptr);
    ~SourceWatch() override;

    /// The name of a file that has changed and may still be being written; empty if there is none.
    QString changing() const { return m_changing; }

Q_SIGNALS:
    /// changing() is another one.
    void changingChanged();
    /// Files have changed and stayed as they are since the last look: they are whole.
    void changed(const QStringList& names);

private:
    using Stamps = std::map<std::filesystem::path, std::uint64_t>;
    void look();
    void compare(const Stamps& now);

    std::function<Files()> m_files;
    QTimer m_timer;
    std::thread m_looker;
    std::atomic<bool> m_isLooking{false};
    Stamps m_known, m_pending;
    QString m_changing;
};

}  // namespace kettle
