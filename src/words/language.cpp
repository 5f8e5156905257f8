#include "words/language.h"

#include <QCoreApplication>
#include <QTranslator>

#include <clocale>

// What Q_INIT_RESOURCE makes has to stand outside of namespaces.
static void useTranslations() {
    Q_INIT_RESOURCE(translations);
}

namespace kestrel::words {

void applyLanguage(QCoreApplication& application, const QLocale& locale) {
    useTranslations();
    // Qt takes the user's locale for the C library, too, where it would put commas into files.
    std::setlocale(LC_NUMERIC, "C");
    const auto install = [&](const QLocale& which) {
        auto* translator = new QTranslator(&application);
        if (translator->load(which, "jolly-kestrel", "_", ":/i18n")) {
            QCoreApplication::installTranslator(translator);
            return true;
        }
        delete translator;
        return false;
    };
    install(QLocale(QLocale::English));
    const bool english = locale.language() == QLocale::English || locale.language() == QLocale::C;
    const bool shipped = english || install(locale);
    // Days and months are named in the language of the sentences around them.
    QLocale::setDefault(shipped && locale.language() != QLocale::C ? locale
                                                                   : QLocale(QLocale::English));
}

std::string languageCode() {
    return QLocale().name().section('_', 0, 0).toStdString();
}

} // namespace kestrel::words
