#pragma once

#include <QLocale>

#include <string>

class QCoreApplication;

namespace kestrel::words {

/// Installs what the program says in a language: the English plural forms always, and over them the
/// translation for `locale` when one ships. Days and
/// months follow it; numbers in files keep their points.
void applyLanguage(QCoreApplication& application, const QLocale& locale = QLocale());

/// The language in force as packs name it: "en", "de".
std::string languageCode();

} // namespace kestrel::words
