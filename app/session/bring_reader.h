// Reads what is to be brought in on a thread of its own: large sets take seconds.
#pragma once

#include <QObject>
#include <QStringList>
#include <memory>
#include <thread>
#include <vector>

#include "core/engine/resources.h"
#include "core/exchange/bring_plan.h"

namespace kettle {

class BringReader final : public QObject {
    Q_OBJECT

public:
    explicit BringReader(QObject* parent = nullptr) : QObject(parent) {}
    ~BringReader() override;

    /// Begins anew; what was read before is stopped and never answered. Pictures are read into the store of
    /// `resources`.
    void read(const QStringList& paths, bool subFolders, const Resources& resources);
    void stop();
    bool isReading() const { return m_thread.joinable(); }

Q_SIGNALS:
    void progress(int done, int all);
    void finished(const std::shared_ptr<const kettle::Result<kettle::BringPlan>>& plan);

private:
    std::thread m_thread;
    std::vector<std::thread> m_ending;  ///< that were stopped or have done their work
    CancelToken m_cancel;
};

}  // namespace kettle
