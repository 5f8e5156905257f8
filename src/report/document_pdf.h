#pragma once

#include <QByteArray>
#include <QImage>
#include <QString>

#include <filesystem>
#include <utility>
#include <vector>

namespace kestrel::report {

/// Pictures of a document by the address its HTML names them by.
using DocumentPictures = std::vector<std::pair<QString, QImage>>;

enum class Paper { a4, letter };

/// Writes `bytes` so that the file appears complete or not at all. Throws model::InputError when it
/// cannot be written.
void saveWhole(const std::filesystem::path& file, const QByteArray& bytes);

/// Writes HTML (of the kind QTextDocument lays out) as a PDF in the program's font. Needs a
/// QGuiApplication. Throws as saveWhole.
void writeDocumentPdf(const QString& title, const QString& html, const DocumentPictures& pictures,
                      Paper paper, const std::filesystem::path& file);

} // namespace kestrel::report
