#include "app/paper/sheet_paper.h"

#include <fmt/format.h>

#include <QBuffer>
#include <QGuiApplication>
#include <QPageLayout>
#include <QPainter>
#include <QPdfWriter>
#include <algorithm>

#include "app/style/theme.h"
#include "core/base/files.h"
#include "core/colour/encoding.h"
#include "core/image/image.h"

namespace kettle {
namespace {

constexpr int kGap = 24, kCaption = 34, kTitle = 44;
// Paper is pale, whatever the window is.
const QColor kSheet{0xED, 0xED, 0xED}, kWords{0x22, 0x22, 0x22}, kQuietWords{0x5C, 0x5C, 0x5C};

bool hasCaptions(const ContactSheet& sheet) {
    return std::any_of(sheet.cells.begin(), sheet.cells.end(),
                       [](const SheetCell& cell) { return !cell.name.empty() || cell.difference; });
}

int captionOf(const ContactSheet& sheet) {
    return hasCaptions(sheet) ? kCaption : 0;
}

std::string endingOf(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

Result<void> writePdf(const ContactSheet& sheet, const std::filesystem::path& file,
                      const ProtectedFiles& sources) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        // A pixel of the sheet is a 96th of an inch, and pictures keep all of theirs.
        constexpr int kResolution = 96;
        QPdfWriter writer(&buffer);
        const QSize size = sizeOf(sheet);
        writer.setResolution(kResolution);
        writer.setPageSize(
            QPageSize(QSizeF(size.width() * 72.0 / kResolution, size.height() * 72.0 / kResolution),
                      QPageSize::Point, {}, QPageSize::ExactMatch));
        writer.setPageMargins(QMarginsF());
        writer.setTitle(QString::fromStdString(sheet.title));
        writer.setCreator(QStringLiteral("Pale Kettle"));
        QPainter painter(&writer);
        if (!painter.isActive())
            return fail(ErrorKind::Write,
                        fmt::format("Cannot make a PDF of {} x {} pixels for {}. Choose smaller "
                                    "pictures.",
                                    size.width(), size.height(), file.string()));
        paintSheet(painter, sheet);
    }
    return sources.write(file, std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
}

}  // namespace

QSize sizeOf(const ContactSheet& sheet) {
    return {2 * sheet.margin + sheet.columns * sheet.width + (sheet.columns - 1) * kGap,
            2 * sheet.margin + sheet.rows * (sheet.height + captionOf(sheet)) + (sheet.rows - 1) * kGap +
                (sheet.title.empty() ? 0 : kTitle)};
}

QRect pictureRect(const ContactSheet& sheet, std::size_t cell) {
    const int column = static_cast<int>(cell) % sheet.columns, row = static_cast<int>(cell) / sheet.columns;
    return {
        sheet.margin + column * (sheet.width + kGap),
        sheet.margin + (sheet.title.empty() ? 0 : kTitle) + row * (sheet.height + captionOf(sheet) + kGap),
        sheet.width, sheet.height};
}

void paintSheet(QPainter& p, const ContactSheet& sheet) {
    const QSize size = sizeOf(sheet);
    p.fillRect(QRect(QPoint(), size), kSheet);
    p.setPen(kWords);
    if (!sheet.title.empty()) {
        p.setFont(theme::font(18, true));
        const QRect place(sheet.margin, sheet.margin, size.width() - 2 * sheet.margin, kTitle - 16);
        p.drawText(
            place, Qt::AlignLeft | Qt::AlignVCenter,
            p.fontMetrics().elidedText(QString::fromStdString(sheet.title), Qt::ElideRight, place.width()));
    }
    for (std::size_t i = 0; i < sheet.cells.size(); ++i) {
        const SheetCell& cell = sheet.cells[i];
        const QRect r = pictureRect(sheet, i);
        if (!cell.picture.empty())
            p.drawImage(r.topLeft(),
                        QImage(reinterpret_cast<const uchar*>(cell.picture.pixels.data()), cell.picture.width,
                               cell.picture.height, cell.picture.width * 4, QImage::Format_RGB32));
        const QRect words(r.left(), r.bottom() + 6, r.width(), kCaption - 10);
        int room = words.width();
        if (cell.difference) {
            p.setFont(theme::font(13));
            p.setPen(kQuietWords);
            const QString far = QStringLiteral("ΔE %1").arg(*cell.difference, 0, 'f', 1);
            p.drawText(words, Qt::AlignRight | Qt::AlignVCenter, far);
            room -= p.fontMetrics().horizontalAdvance(far) + 12;
        }
        p.setFont(theme::font(14, true));
        p.setPen(kWords);
        p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(cell.name), Qt::ElideRight, room));
    }
}

QImage imageOf(const ContactSheet& sheet) {
    QImage image(sizeOf(sheet), QImage::Format_RGB32);
    QPainter painter(&image);
    paintSheet(painter, sheet);
    return image;
}

namespace {

/// The picture formats that a sheet can be written in, by the file's ending.
std::optional<FileFormat> pictureFormatOf(const std::filesystem::path& file) {
    const std::map<std::string, FileFormat> formats{{".png", FileFormat::Png8},
                                                    {".tif", FileFormat::Tiff16},
                                                    {".tiff", FileFormat::Tiff16},
                                                    {".exr", FileFormat::ExrHalf}};
    const auto known = formats.find(endingOf(file));
    return known == formats.end() ? std::nullopt : std::optional(known->second);
}
constexpr const char* kPdf = ".pdf";

}  // namespace

Result<void> writePicture(const QImage& picture, const std::filesystem::path& file,
                          const ProtectedFiles& sources) {
    const auto known = pictureFormatOf(file);
    if (!known)
        return fail(ErrorKind::Refused,
                    fmt::format("{} does not end in .png, .tif or .exr. Choose one of them.",
                                file.filename().string()));
    const FileFormat format = *known;
    const bool isTiff = format == FileFormat::Tiff16, isExr = format == FileFormat::ExrHalf;
    PixelBuffer pixels = PixelBuffer::make(picture.width(), picture.height(), 3, storageOf(format));
    for (int y = 0; y < picture.height(); ++y) {
        const auto* from = reinterpret_cast<const std::uint32_t*>(picture.constScanLine(y));
        for (int x = 0; x < picture.width(); ++x)
            for (int c = 0; c < 3; ++c) {
                const auto code = static_cast<std::uint8_t>(from[x] >> (16 - 8 * c));
                const int at = x * 3 + c;
                if (isExr)
                    pixels.row<float>(y)[at] = srgbTable()[code];
                else if (isTiff)
                    pixels.row<std::uint16_t>(y)[at] = static_cast<std::uint16_t>(code * 257);
                else
                    pixels.row<std::uint8_t>(y)[at] = code;
            }
    }
    return writeImage(file, pixels, format, isExr ? "" : encoding::kSrgb, {}, sources);
}

Result<void> writeSheet(const ContactSheet& sheet, const std::filesystem::path& file,
                        const ProtectedFiles& sources) {
    return guarded("write " + file.string(), [&]() -> Result<void> {
        if (endingOf(file) == kPdf) return writePdf(sheet, file, sources);
        if (!pictureFormatOf(file))
            return fail(ErrorKind::Refused,
                        fmt::format("{} does not end in .png, .tif, .exr or .pdf. Choose one of "
                                    "them.",
                                    file.filename().string()));
        return writePicture(imageOf(sheet), file, sources);
    });
}

}  // namespace kettle
