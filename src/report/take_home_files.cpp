#include "report/take_home_files.h"

#include "report/take_home_html.h"

#include <QBuffer>

namespace kestrel::report {
namespace {

QString inHtml(const QImage& image) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    constexpr int jpegQuality = 88;
    // Drawings with clear ground stay sharp and clear; photographs would be large.
    const char* format = image.hasAlphaChannel() ? "PNG" : "JPEG";
    image.save(&buffer, format, image.hasAlphaChannel() ? -1 : jpegQuality);
    return QStringLiteral("data:image/%1;base64,%2")
        .arg(QString::fromLatin1(format).toLower(), QString::fromLatin1(bytes.toBase64()));
}

} // namespace

void writeHtml(const TakeHome& sheet, const std::filesystem::path& file) {
    const std::vector<TakeHomePicture> pictures = picturesOf(sheet);
    const QString html =
        takeHomeHtml(sheet, [&](std::size_t n) { return inHtml(pictures[n].image); });
    saveWhole(file, html.toUtf8());
}

void writePdf(const TakeHome& sheet, Paper paper, const std::filesystem::path& file) {
    const auto address = [](std::size_t n) { return QStringLiteral("picture:%1").arg(n); };
    DocumentPictures pictures;
    for (const TakeHomePicture& picture : picturesOf(sheet)) {
        pictures.emplace_back(address(pictures.size()), picture.image);
    }
    writeDocumentPdf(sheet.player, takeHomeHtml(sheet, address), pictures, paper, file);
}

void writeHtml(const CoachReport& report, const std::filesystem::path& file) {
    QString html = report.html;
    for (const auto& [name, image] : report.pictures) {
        html.replace("src=\"" + name + "\"", "src=\"" + inHtml(image) + "\"");
    }
    saveWhole(file, html.toUtf8());
}

void writePdf(const CoachReport& report, Paper paper, const std::filesystem::path& file) {
    writeDocumentPdf(report.title, report.html, report.pictures, paper, file);
}

} // namespace kestrel::report
