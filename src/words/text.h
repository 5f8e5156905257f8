#pragma once

#include <QString>

#include <string>

namespace kestrel::words {

/// UTF-8 of the libraries as text for Qt.
inline QString text(const std::string& utf8) {
    return QString::fromStdString(utf8);
}

} // namespace kestrel::words
