// A contact sheet as a file: its size, that its pictures are kept pixel by pixel, and words in the PDF.
#include "app/paper/sheet_paper.h"

#include <QTemporaryDir>
#include <QtTest>
#include <cmath>

#include "app/style/theme.h"
#include "core/colour/encoding.h"
#include "core/image/image.h"

using namespace kettle;

namespace {

ContactSheet sheet() {
    ContactSheet s;
    s.columns = 2, s.rows = 2;
    s.width = 60, s.height = 40, s.margin = 16;
    s.title = "ferry-kitchen · 27 November 2026";
    s.surround = "middle";
    for (std::uint32_t i = 0; i < 3; ++i) {
        SheetCell cell{"Look " + std::to_string(i), {60, 40, {}}, {}};
        if (i > 0) cell.difference = 3.25 * i;
        for (std::uint32_t p = 0; p < 2400; ++p)
            cell.picture.pixels.push_back(0xFF000000u | (p % 60 * 4) << 16 | (p / 60 * 6) << 8 | i * 100);
        s.cells.push_back(std::move(cell));
    }
    return s;
}

}  // namespace

class SheetPaperTest final : public QObject {
    Q_OBJECT
    QTemporaryDir m_folder;
    std::filesystem::path at(const char* name) {
        return m_folder.filePath(QString::fromUtf8(name)).toStdString();
    }

private Q_SLOTS:
    void initTestCase() { theme::apply(*qApp); }

    void picturesAreKeptAsTheyAre() {
        const ContactSheet s = sheet();
        const QImage image = imageOf(s);
        QCOMPARE(image.size(), sizeOf(s));
        for (std::size_t i = 0; i < s.cells.size(); ++i) {
            const QRect r = pictureRect(s, i);
            QVERIFY(image.rect().contains(r));
            for (int y = 0; y < r.height(); ++y)
                for (int x = 0; x < r.width(); ++x)
                    QCOMPARE(image.pixel(r.left() + x, r.top() + y),
                             s.cells[i].picture.pixels[static_cast<std::size_t>(y * 60 + x)]);
        }
        // Words stand over and below them: something is dark there.
        const auto isWritten = [&](const QRect& r) {
            for (int y = r.top(); y < r.bottom(); ++y)
                for (int x = r.left(); x < r.right(); ++x)
                    if (qGray(image.pixel(x, y)) < 130) return true;
            return false;
        };
        QVERIFY(isWritten(QRect(16, 16, 100, 28)));
        for (std::size_t i = 0; i < s.cells.size(); ++i)
            QVERIFY(isWritten(pictureRect(s, i).translated(0, 42).adjusted(0, 0, 0, -14)));
    }

    void captionsHaveRoomWhereThereAreAny() {
        ContactSheet names = sheet(), numbers = sheet(), none = sheet();
        for (SheetCell& cell : names.cells) cell.difference.reset();
        for (SheetCell& cell : numbers.cells) cell.name.clear();
        for (SheetCell& cell : none.cells) cell.name.clear(), cell.difference.reset();
        QCOMPARE(sizeOf(names), sizeOf(sheet()));
        QCOMPARE(sizeOf(numbers), sizeOf(sheet()));
        QVERIFY(sizeOf(none).height() < sizeOf(sheet()).height());
        QCOMPARE(sizeOf(none).width(), sizeOf(sheet()).width());
    }

    void everyFormatHoldsIt() {
        const ContactSheet s = sheet();
        const QImage image = imageOf(s);
        for (const char* name : {"sheet.png", "sheet.tif", "sheet.exr"}) {
            QVERIFY(writeSheet(s, at(name)));
            const auto read = readImage(at(name));
            QVERIFY2(read, name);
            QCOMPARE(read->width, image.width());
            QCOMPARE(read->height, image.height());
            const QRect r = pictureRect(s, 1);
            const auto code = static_cast<std::uint8_t>(qRed(image.pixel(r.left() + 31, r.top() + 7)));
            const int place = (r.left() + 31) * read->channels;
            const int y = r.top() + 7;
            const float value =
                read->depth == Depth::U8    ? static_cast<float>(read->row<std::uint8_t>(y)[place]) / 255
                : read->depth == Depth::U16 ? static_cast<float>(read->row<std::uint16_t>(y)[place]) / 65535
                                            : read->row<float>(y)[place];
            const float wanted = std::string(name) == "sheet.exr"
                                     ? srgbToLinear(static_cast<float>(code) / 255)
                                     : static_cast<float>(code) / 255;
            QVERIFY2(std::abs(value - wanted) < 1e-3f, name);
        }
    }

    void thePdfHasRealText() {
        QVERIFY(writeSheet(sheet(), at("sheet.pdf")));
        QFile file(QString::fromStdString(at("sheet.pdf").string()));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray bytes = file.readAll();
        QVERIFY(bytes.startsWith("%PDF-"));
        QVERIFY(bytes.contains("/Font"));
        QVERIFY(bytes.contains("/FontFile"));
        QCOMPARE(bytes.count("/Type /Page\n") + bytes.count("/Type /Page\r") + bytes.count("/Type /Page/"),
                 qsizetype{1});
    }

    void anotherEndingIsRefused() {
        const auto done = writeSheet(sheet(), at("sheet.gif"));
        QCOMPARE(done.error().kind, ErrorKind::Refused);
        QVERIFY(!std::filesystem::exists(at("sheet.gif")));
        QVERIFY(!writeSheet(sheet(), at("nowhere/sheet.png")));
        QVERIFY(!writePicture(QImage(4, 4, QImage::Format_RGB32), at("p.pdf")));
    }
};

QTEST_MAIN(SheetPaperTest)
#include "sheet_paper_test.moc"
