#include "report/take_home_files.h"

#include "model/input_error.h"
#include "report/fonts.h"
#include "report/take_home_html.h"

#include <QBuffer>
#include <QFont>
#include <QPageLayout>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>
#include <QUrl>

namespace kestrel::report {
namespace {

constexpr int jpegQuality = 88;

QString pathOf(const std::filesystem::path& file) {
    return QString::fromStdString(file.string());
}

[[noreturn]] void cannotWrite(const std::filesystem::path& file, const QString& why) {
    throw model::InputError(
        "“" + file.string() + "” cannot be written (" + why.toStdString() + ").",
        "Everything in the library is safe.", "Choose another folder, or free some space.");
}

/// Writes `bytes` so that the file appears complete or not at all.
void save(const std::filesystem::path& file, const QByteArray& bytes) {
    QSaveFile out(pathOf(file));
    if (!out.open(QIODevice::WriteOnly) || out.write(bytes) != bytes.size() || !out.commit()) {
        cannotWrite(file, out.errorString());
    }
}

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
    save(file, html.toUtf8());
}

void writePdf(const TakeHome& sheet, const std::filesystem::path& file) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setTitle(sheet.player);
        writer.setCreator(QStringLiteral("Jolly Kestrel"));
        writer.setPageSize(QPageSize(QPageSize::A4));
        constexpr double marginMm = 15.0;
        writer.setPageMargins(QMarginsF(marginMm, marginMm, marginMm, marginMm),
                              QPageLayout::Millimeter);

        QTextDocument document;
        QFont font(fontFamily);
        constexpr double points = 9.5;
        font.setPointSizeF(points);
        document.setDefaultFont(font);
        document.setDefaultStyleSheet(QStringLiteral("h1{font-size:18pt} h2{font-size:13pt} "
                                                     "h3{font-size:11pt} td,th{font-size:8pt}"));
        const auto address = [](std::size_t n) { return QStringLiteral("picture:%1").arg(n); };
        for (std::size_t n = 0; n < sheet.pictures.size(); ++n) {
            document.addResource(QTextDocument::ImageResource, QUrl(address(n)),
                                 sheet.pictures[n].image);
        }
        document.setHtml(takeHomeHtml(sheet, address));
        document.print(&writer);
    }
    if (!bytes.startsWith("%PDF")) {
        cannotWrite(file, QStringLiteral("the PDF could not be made"));
    }
    save(file, bytes);
}

} // namespace kestrel::report
