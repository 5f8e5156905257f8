#pragma once

#include "report/take_home.h"

#include <filesystem>

namespace kestrel::report {

/// Writes the sheet as one self-contained HTML file, pictures included. The file appears complete
/// or not at all. Throws model::InputError when it cannot be written.
void writeHtml(const TakeHome& sheet, const std::filesystem::path& file);

/// Writes the sheet as an A4 PDF. Needs a QGuiApplication. Throws as writeHtml.
void writePdf(const TakeHome& sheet, const std::filesystem::path& file);

} // namespace kestrel::report
