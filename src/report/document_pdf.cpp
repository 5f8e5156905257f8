#include "report/document_pdf.h"

#include "model/input_error.h"
#include "report/fonts.h"

#include <QBuffer>
#include <QFont>
#include <QPageLayout>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>
#include <QUrl>

namespace kestrel::report {
namespace {

[[noreturn]] void cannotWrite(const std::filesystem::path& file, const QString& why) {
    throw model::InputError(
        model::message("file.unwritable_because", file.string(), why.toStdString()),
        model::message("safe.all_in_library"), model::message("todo.other_folder"));
}

} // namespace

void saveWhole(const std::filesystem::path& file, const QByteArray& bytes) {
    QSaveFile out(QString::fromStdString(file.string()));
    // Flushed before it takes the place of the old file: commit() does not notice when what Qt
    // still holds in memory finds no room on the disk.
    if (!out.open(QIODevice::WriteOnly) || out.write(bytes) != bytes.size() || !out.flush() ||
        !out.commit()) {
        cannotWrite(file, out.errorString());
    }
}

void writeDocumentPdf(const QString& title, const QString& html, const DocumentPictures& pictures,
                      Paper paper, const std::filesystem::path& file) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setTitle(title);
        writer.setCreator(QStringLiteral("Jolly Kestrel"));
        writer.setPageSize(QPageSize(paper == Paper::a4 ? QPageSize::A4 : QPageSize::Letter));
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
        for (const auto& [address, image] : pictures) {
            document.addResource(QTextDocument::ImageResource, QUrl(address), image);
        }
        document.setHtml(html);
        document.print(&writer);
    }
    if (!bytes.startsWith("%PDF")) {
        cannotWrite(file, QStringLiteral("the PDF could not be made"));
    }
    saveWhole(file, bytes);
}

} // namespace kestrel::report
