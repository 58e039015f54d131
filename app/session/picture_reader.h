// Reads a picture as a display shows it, on a thread of its own: a large one takes a second.
#pragma once

#include <QImage>
#include <QObject>
#include <QString>
#include <memory>
#include <thread>
#include <vector>

#include "core/base/result.h"
#include "core/threads/parallel.h"

namespace kettle {

/// Codes as they are, light through the standard view. Errors: those of readImage.
Result<QImage> readShownPicture(const QString& file);

class PictureReader final : public QObject {
    Q_OBJECT

public:
    explicit PictureReader(QObject* parent = nullptr) : QObject(parent) {}
    ~PictureReader() override;

    /// Begins anew; what was read before is never answered.
    void read(const QString& file);
    void stop();

Q_SIGNALS:
    void finished(const QString& file, const std::shared_ptr<const kettle::Result<QImage>>& picture);

private:
    std::thread m_thread;
    std::vector<std::thread> m_ending;  ///< that were stopped or have done their work
    CancelToken m_cancel;
};

}  // namespace kettle
