#include "app/pictures/compared.h"

#include <QPainter>

#include "core/analysis/picture_difference.h"

namespace kettle {

QImage toImage(const std::vector<std::uint32_t>& pixels, int width, int height) {
    if (pixels.empty()) return {};
    return QImage(reinterpret_cast<const uchar*>(pixels.data()), width, height, width * 4,
                  QImage::Format_RGB32)
        .copy();
}

ComparedPtr compared(const QImage& picture, QImage other, const std::uint8_t* covered) {
    if (other.isNull() || picture.size() != other.size()) return nullptr;
    const auto pixels = [](const QImage& image) {
        return reinterpret_cast<const std::uint32_t*>(image.constBits());
    };
    const auto count = static_cast<std::size_t>(picture.width()) * static_cast<std::size_t>(picture.height());
    const PictureDifference d = differenceOfPictures(pixels(picture), pixels(other), count, covered);
    auto result = std::make_shared<Compared>();
    result->heat = toImage(d.heat, picture.width(), picture.height());
    result->mean = d.mean, result->percentile95 = d.percentile95, result->largest = d.largest;
    const auto width = static_cast<std::size_t>(picture.width());
    result->largestAt = {(static_cast<double>(d.largestAt % width) + 0.5) / picture.width(),
                         (static_cast<double>(d.largestAt / width) + 0.5) / picture.height()};
    result->other = std::move(other);
    return result;
}

QImage fittedInto(const QImage& still, QSize size) {
    const QImage scaled = still.scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation)
                              .convertToFormat(QImage::Format_RGB32);
    if (scaled.size() == size) return scaled;
    QImage whole(size, QImage::Format_RGB32);
    whole.fill(QColor(0xB9, 0xB9, 0xB9));
    QPainter(&whole).drawImage((size.width() - scaled.width()) / 2, (size.height() - scaled.height()) / 2,
                               scaled);
    return whole;
}

}  // namespace kettle
