#include "app/session/picture_reader.h"

#include <utility>

#include "core/image/image.h"
#include "core/shading/display.h"

namespace kettle {

Result<QImage> readShownPicture(const QString& file) {
    const auto read = readImage(file.toStdString());
    if (!read) return fail(read.error());
    const PixelBuffer& p = *read;
    QImage picture(p.width, p.height, QImage::Format_RGB32);
    if (picture.isNull())
        return fail(ErrorKind::NoMemory, "There is not enough memory for the picture " + file.toStdString() +
                                             ". Choose a smaller one.");
    std::vector<Vec3> row(static_cast<std::size_t>(p.width));
    const bool isLight = p.depth == Depth::Float || p.depth == Depth::Half;
    const auto number = [&](int y, int x, int c) {
        const int i = x * p.channels + (p.channels >= 3 ? c : 0);
        return p.depth == Depth::U8    ? static_cast<float>(p.row<std::uint8_t>(y)[i]) / 255.0f
               : p.depth == Depth::U16 ? static_cast<float>(p.row<std::uint16_t>(y)[i]) / 65535.0f
                                       : p.row<float>(y)[i];
    };
    for (int y = 0; y < p.height; ++y) {
        auto* out = reinterpret_cast<std::uint32_t*>(picture.scanLine(y));
        if (!isLight) {
            for (int x = 0; x < p.width; ++x) {
                const auto code = [&](int c) {
                    return static_cast<std::uint32_t>(number(y, x, c) * 255.0f + 0.5f);
                };
                out[x] = 0xFF000000u | code(0) << 16 | code(1) << 8 | code(2);
            }
            continue;
        }
        for (int x = 0; x < p.width; ++x)
            row[static_cast<std::size_t>(x)] = {number(y, x, 0), number(y, x, 1), number(y, x, 2)};
        const Picture shown = toDisplay(row, p.width, 1, 0, "standard");
        std::copy(shown.pixels.begin(), shown.pixels.end(), out);
    }
    return picture;
}

PictureReader::~PictureReader() {
    stop();
    for (std::thread& ending : m_ending) ending.join();
}

void PictureReader::stop() {
    m_cancel.cancel();
    // It ends with the file that it is reading; the window does not wait for that.
    if (m_thread.joinable()) m_ending.push_back(std::exchange(m_thread, {}));
    m_cancel = CancelToken();
}

void PictureReader::read(const QString& file) {
    stop();
    m_thread = std::thread([this, file, cancel = m_cancel] {
        const GiveWay giveWay;
        auto picture = std::make_shared<const Result<QImage>>(
            guarded("read " + file.toStdString(), [&] { return readShownPicture(file); }));
        QMetaObject::invokeMethod(this, [this, cancel, file, picture] {
            if (cancel.isCancelled()) return;  // of no interest to anybody any more
            stop();
            Q_EMIT finished(file, picture);
        });
    });
}

}  // namespace kettle
