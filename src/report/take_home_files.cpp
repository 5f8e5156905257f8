#include "report/take_home_files.h"

#include "report/document_pdf.h"
#include "report/take_home_html.h"

#include <QBuffer>

namespace kestrel::report {
namespace {

constexpr int jpegQuality = 88;

QByteArray jpeg(const QImage& image) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "JPEG", jpegQuality);
    return bytes;
}

} // namespace

void writeHtml(const TakeHome& sheet, const std::filesystem::path& file) {
    const QString html = takeHomeHtml(sheet, [&](std::size_t n) {
        return "data:image/jpeg;base64," +
               QString::fromLatin1(jpeg(sheet.pictures[n].image).toBase64());
    });
    saveWhole(file, html.toUtf8());
}

void writePdf(const TakeHome& sheet, const std::filesystem::path& file) {
    const auto address = [](std::size_t n) { return QStringLiteral("picture:%1").arg(n); };
    DocumentPictures pictures;
    for (std::size_t n = 0; n < sheet.pictures.size(); ++n) {
        pictures.emplace_back(address(n), sheet.pictures[n].image);
    }
    writeDocumentPdf(sheet.player, takeHomeHtml(sheet, address), pictures, file);
}

} // namespace kestrel::report
