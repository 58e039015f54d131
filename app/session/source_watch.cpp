#include "app/session/source_watch.h"

#include "core/base/hash.h"
#include "core/image/map_image.h"

namespace kettle {
namespace {

/// By time and size: a look a second must not read the files.
std::uint64_t stampOfOne(const std::filesystem::path& file) {
    std::error_code code;
    const auto time = std::filesystem::last_write_time(file, code);
    if (code) return 0;
    return combine(static_cast<std::uint64_t>(time.time_since_epoch().count()),
                   std::filesystem::file_size(file, code));
}

std::uint64_t stampOf(const std::filesystem::path& file) {
    if (!isTilePattern(file)) return stampOfOne(file);
    std::uint64_t stamp = 0;
    for (const int tile : tilesOnDisk(file)) stamp = combine(stamp, stampOfOne(tileFile(file, tile)));
    return stamp;
}

}  // namespace

SourceWatch::SourceWatch(std::function<Files()> files, std::chrono::milliseconds every, QObject* parent)
    : QObject(parent), m_files(std::move(files)) {
    m_timer.setInterval(every);
    connect(&m_timer, &QTimer::timeout, this, &SourceWatch::look);
    m_timer.start();
}

SourceWatch::~SourceWatch() {
    if (m_looker.joinable()) m_looker.join();
}

void SourceWatch::look() {
    if (m_isLooking) return;  // a disk that slow is asked again at the next turn
    if (m_looker.joinable()) m_looker.join();
    Files files = m_files();
    if (files.empty()) return m_known.clear();
    m_isLooking = true;
    m_looker = std::thread([this, files = std::move(files)] {
        Stamps now;
        for (const auto& file : files) now.emplace(file, stampOf(file));
        m_isLooking = false;
        QMetaObject::invokeMethod(this, [this, now = std::move(now)] { compare(now); });
    });
}

void SourceWatch::compare(const Stamps& now) {
    QStringList whole;
    QString changing;
    Stamps known, pending;
    for (const auto& [file, stamp] : now) {
        const auto before = m_known.find(file);
        known[file] = before == m_known.end() ? stamp : before->second;
        if (known[file] == stamp) continue;
        const QString name = QString::fromStdString(file.filename().string());
        if (const auto at = m_pending.find(file); at != m_pending.end() && at->second == stamp) {
            known[file] = stamp;
            whole << name;
        } else {
            pending[file] = stamp;
            changing = name;
        }
    }
    m_known = std::move(known);
    m_pending = std::move(pending);
    if (changing != m_changing) {
        m_changing = changing;
        Q_EMIT changingChanged();
    }
    if (!whole.isEmpty()) Q_EMIT changed(whole);
}

}  // namespace kettle
