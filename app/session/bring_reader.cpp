#include "app/session/bring_reader.h"

#include <utility>

namespace kettle {

BringReader::~BringReader() {
    stop();
    for (std::thread& ending : m_ending) ending.join();
}

void BringReader::stop() {
    m_cancel.cancel();
    // It ends with the file that it is reading; the window does not wait for that.
    if (m_thread.joinable()) m_ending.push_back(std::exchange(m_thread, {}));
    m_cancel = CancelToken();
}

void BringReader::read(const QStringList& paths, bool subFolders, const Resources& resources) {
    stop();
    std::vector<std::filesystem::path> from;
    for (const QString& path : paths) from.emplace_back(path.toStdString());
    m_thread = std::thread([this, from, subFolders, cancel = m_cancel, resources] {
        const GiveWay giveWay;
        // What comes back after a stop is of no interest to anybody.
        const auto inWindow = [&](auto what) {
            QMetaObject::invokeMethod(this, [cancel, what]() mutable {
                if (!cancel.isCancelled()) what();
            });
        };
        const ReadInto into{resources.store(), resources.colours()};
        auto plan = guarded("bring that in", [&] {
            return planBringIn(
                from, subFolders,
                [&](int done, int all) { inWindow([this, done, all] { Q_EMIT progress(done, all); }); },
                cancel, &into);
        });
        inWindow([this, plan = std::make_shared<const Result<BringPlan>>(std::move(plan))] {
            stop();
            Q_EMIT finished(plan);
        });
    });
}

}  // namespace kettle
