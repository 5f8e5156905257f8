#include "model/input_error.h"
#include "scenario/scenario.h"
#include "words/language.h"
#include "words/words.h"

#include <QCoreApplication>

#include <iostream>

/// Makes the demo library in the folder that is named. A program of its own, so that a first look
/// at the window waits for no other part of the command line to be compiled.
int main(int argc, char** argv) {
    using namespace kestrel;
    const QCoreApplication application(argc, argv);
    words::applyLanguage(*QCoreApplication::instance());
    constexpr int folder = 1;
    if (argc != folder + 1) {
        std::cerr << "usage: " << argv[0] << " FOLDER\n";
        return 2;
    }
    try {
        scenario::makeDemoLibrary(argv[folder],
                                  [](const std::string& line) { std::cerr << line << '\n'; });
        return 0;
    } catch (const model::InputError& error) {
        std::cerr << words::inWords(error).toStdString() << '\n';
    } catch (const std::exception& error) {
        std::cerr << "Something went wrong inside the program: " << error.what() << '\n';
    }
    return 1;
}
