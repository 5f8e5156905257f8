#pragma once

#include <QIcon>
#include <QString>

namespace kestrel::app {

/// An icon drawn for this program, by file name without ending.
inline QIcon icon(const char* name) {
    return QIcon(QStringLiteral(":/icons/%1.svg").arg(QLatin1String(name)));
}

} // namespace kestrel::app
