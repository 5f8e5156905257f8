#pragma once

#include "report/take_home.h"

#include <QString>

namespace kestrel::report {

/// Gives the address under which picture number `n` of the sheet is found by the reader.
using PictureAddress = std::function<QString(std::size_t n)>;

/// The sheet as HTML in the subset that QTextDocument lays out too, so that file and PDF are one
/// design. All texts are escaped.
QString takeHomeHtml(const TakeHome& sheet, const PictureAddress& pictureAddress);

} // namespace kestrel::report
