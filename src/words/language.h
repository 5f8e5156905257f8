#pragma once

#include <QLocale>

class QCoreApplication;

namespace kestrel::words {

/// Installs what the program says in a language: the English plural forms always, and over them the
/// translation for `locale` when one ships. Numbers in files keep their points.
void applyLanguage(QCoreApplication& application, const QLocale& locale = QLocale());

} // namespace kestrel::words
