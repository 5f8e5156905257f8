#pragma once

#include <QString>

namespace kestrel::app {

/// `one` of a single thing, else `many` with the number for its %1. Further places in both are %2
/// and on. For Qt's own plural forms even English would need a file of translations.
inline QString counted(int number, const QString& one, const QString& many) {
    return number == 1 ? one : many.arg(number);
}

} // namespace kestrel::app
