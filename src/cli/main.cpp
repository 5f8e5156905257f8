#include "cli/commands.h"
#include "cli/output.h"
#include "cli/qt_application.h"
#include "model/clock.h"
#include "model/input_error.h"
#include "report/fonts.h"
#include "words/words.h"

#include <iostream>

namespace {

int run(int argc, char** argv) {
    using namespace kestrel;
    CLI::App program(
        "Jolly Kestrel without a window: film, readings, findings and sheets for scripts.");
    program.name("jolly-kestrel-cli");
    program.require_subcommand(1);
    cli::QtApplication qt;
    const cli::UsePictures usePictures = [&qt] {
        qt.usePictures();
        report::loadFonts();
    };
    std::string said;
    program.add_option("--today", said, "The day it is, YYYY-MM-DD, instead of the computer's");
    const cli::Today today = [&said] {
        const auto clock = model::clockFrom(said);
        if (!clock) {
            throw cli::WrongUse("“" + said + "” is no day: write it as year-month-day.");
        }
        return (*clock)();
    };
    cli::addFilmCommands(program);
    cli::addLandmarkCommands(program);
    cli::addGroundCommand(program);
    cli::addMeasureCommands(program, today, usePictures);
    cli::addLibraryCommands(program, today);
    cli::addPackCommands(program, usePictures);
    cli::addDemoCommands(program);
    try {
        program.parse(argc, argv);
        return cli::done;
    } catch (const CLI::Success& asked) { // --help
        return program.exit(asked);
    } catch (const CLI::ParseError& error) {
        program.exit(error);
        return cli::wrongUse;
    } catch (const cli::WrongUse& error) {
        std::cerr << error.what() << '\n';
        return cli::wrongUse;
    } catch (const model::InputError& error) {
        std::cerr << words::inWords(error).toStdString() << '\n';
        return cli::inputAtFault;
    } catch (const std::exception& error) {
        std::cerr << "Something went wrong inside the program: " << error.what() << '\n';
        return cli::internalError;
    }
}

} // namespace

int main(int argc, char** argv) {
    return run(argc, argv);
}
