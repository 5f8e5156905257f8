#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/session.h"
#include "app/theme.h"
#include "model/input_error.h"
#include "technique/pack_directory.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QMessageBox>
#include <QStandardPaths>

#include <cstdio>

namespace {

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
    arguments.addOptions({library, picture, tour});
    arguments.process(application);
    const QString folder =
        arguments.isSet(library)
            ? arguments.value(library)
            : QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
                  "/jolly-kestrel";

    app::applyTheme(application);
    app::Session session(folder.toStdString(), technique::packDirectory());
    app::MainWindow window(session);
    constexpr QSize usual(1280, 800);
    window.resize(usual);
    window.show();
    if (arguments.isSet(picture)) {
        app::takeWindowPicture(window, session, arguments.value(picture).toStdString());
        return 0;
    }
    if (arguments.isSet(tour)) {
        app::takeTour(window, session, arguments.value(tour).toStdString());
        return 0;
    }
    window.continueWhereLeft();
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
        std::fprintf(stderr, "%s\n", error.what());
        if (!application.arguments().join(' ').contains("--screenshot")) {
            QMessageBox::critical(nullptr, "Jolly Kestrel", QString::fromStdString(error.what()));
        }
        return 1;
    }
}
