#include "app/language.h"

#include <QApplication>
#include <QTranslator>

namespace kestrel::app {

void applyLanguage(QApplication& application, const QLocale& locale) {
    const auto install = [&](const QLocale& which) {
        auto* translator = new QTranslator(&application);
        if (translator->load(which, "jolly-kestrel", "_", ":/i18n")) {
            QApplication::installTranslator(translator);
        } else {
            delete translator;
        }
    };
    install(QLocale(QLocale::English));
    if (locale.language() != QLocale::English && locale.language() != QLocale::C) {
        install(locale);
    }
}

} // namespace kestrel::app
