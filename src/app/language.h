#pragma once

#include <QLocale>

class QApplication;

namespace kestrel::app {

/// Installs what the program says in a language: the English plural forms always, and over them the
/// translation for `locale` when one ships.
void applyLanguage(QApplication& application, const QLocale& locale = QLocale());

} // namespace kestrel::app
