#pragma once

#include "report/coach_report.h"
#include "report/document_pdf.h"
#include "report/take_home.h"

#include <filesystem>

/// The sheets of a visit as files. They appear complete or not at all. All throw
/// model::InputError when the file cannot be written; the PDF ones need a QGuiApplication.
namespace kestrel::report {

/// One self-contained HTML file, pictures included.
void writeHtml(const TakeHome& sheet, const std::filesystem::path& file);
void writeHtml(const CoachReport& report, const std::filesystem::path& file);

void writePdf(const TakeHome& sheet, Paper paper, const std::filesystem::path& file);
void writePdf(const CoachReport& report, Paper paper, const std::filesystem::path& file);

} // namespace kestrel::report
