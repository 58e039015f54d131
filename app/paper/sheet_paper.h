// A contact sheet on paper: laid out, painted, and written as a picture or as a PDF whose words are words.
#pragma once

#include <QImage>
#include <QRect>
#include <QSize>
#include <filesystem>

#include "core/handover/contact_sheet.h"

class QPainter;

namespace kettle {

/// The whole sheet in pixels.
QSize sizeOf(const ContactSheet& sheet);
/// Where a cell's picture lies on it.
QRect pictureRect(const ContactSheet& sheet, std::size_t cell);
/// For the thread that has the fonts. The painter's units are the sheet's pixels.
void paintSheet(QPainter& painter, const ContactSheet& sheet);
QImage imageOf(const ContactSheet& sheet);

/// By the file's ending: .png, .tif or .tiff (16 bit), .exr (half floats, linear light of what is shown),
/// .pdf. Errors: Refused (another ending), Write, NoMemory. Never leaves half a file.
Result<void> writeSheet(const ContactSheet& sheet, const std::filesystem::path& file,
                        const ProtectedFiles& sources = {});
/// The same for one picture, without words (.png, .tif, .tiff, .exr).
Result<void> writePicture(const QImage& picture, const std::filesystem::path& file,
                          const ProtectedFiles& sources = {});

}  // namespace kettle
