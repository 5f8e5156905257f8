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
        } else {
            delete translator;
        }
    };
    install(QLocale(QLocale::English));
    if (locale.language() != QLocale::English && locale.language() != QLocale::C) {
        install(locale);
    }
}

} // namespace kestrel::words
