#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/theme.h"
#include "desk/desk.h"
#include "model/clock.h"
#include "model/input_error.h"
#include "technique/pack/pack_directory.h"
#include "words/language.h"
#include "words/words.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QMessageBox>
#include <QStandardPaths>

#include <cstdio>

namespace {

/// The computer's day, or the one that was said.
kestrel::model::Clock clockFrom(const QString& said) {
    const auto clock = kestrel::model::clockFrom(said.toStdString());
    if (!clock) {
        throw kestrel::model::InputError(
            kestrel::model::message("today.no_day", said.toStdString()),
            kestrel::model::message("safe.nothing_opened"),
            kestrel::model::message("todo.write_day"));
    }
    return *clock;
}

int start(QApplication& application) {
    using namespace kestrel;
    QCommandLineParser arguments;
    arguments.setApplicationDescription(
        QApplication::translate("main", "A coach's bench for film of young players."));
    arguments.addHelpOption();
    const QCommandLineOption library("library", "Folder of the library.", "folder");
    const QCommandLineOption picture("screenshot", "Take a picture of the window and end.", "file");
    const QCommandLineOption tour("screenshots", "Take pictures of all main views and end.",
                                  "folder");
    const QCommandLineOption today("today", "The day it is, instead of the computer's.",
                                   "YYYY-MM-DD");
    arguments.addOptions({library, picture, tour, today});
    arguments.process(application);
    const model::Clock clock = clockFrom(arguments.value(today));
    const QString folder =
        arguments.isSet(library)
            ? arguments.value(library)
            : QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
                  "/jolly-kestrel";

    app::applyTheme(application);
    words::applyLanguage(application);
    records::Library opened(folder.toStdString());
    desk::Desk desk(opened, technique::packDirectory(), clock);
    app::MainWindow window(desk);
    constexpr QSize usual(1280, 800);
    window.resize(usual);
    window.show();
    if (arguments.isSet(picture)) {
        app::takeWindowPicture(window, desk, arguments.value(picture).toStdString());
        return 0;
    }
    if (arguments.isSet(tour)) {
        app::takeTour(window, desk, arguments.value(tour).toStdString());
        return 0;
    }
    window.continueWhereLeft();
    desk.preparer.setByItself(desk.settings.get("prepare_by_itself") != "no");
    return QApplication::exec();
}

} // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setApplicationName("jolly-kestrel");
    QApplication::setApplicationVersion(KESTREL_VERSION);
    QApplication::setApplicationDisplayName("Jolly Kestrel");
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    try {
        return start(application);
    } catch (const kestrel::model::InputError& error) {
        const QString says = kestrel::words::inWords(error);
        std::fprintf(stderr, "%s\n", qPrintable(says));
        if (!application.arguments().join(' ').contains("--screenshot")) {
            QMessageBox::critical(nullptr, "Jolly Kestrel", says);
        }
        return 1;
    }
}
