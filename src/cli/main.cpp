#include "cli/commands.h"
#include "cli/output.h"
#include "model/input_error.h"

#include <iostream>

namespace {

int run(int argc, char** argv) {
    using namespace kestrel;
    CLI::App program(
        "Jolly Kestrel without a window: film, readings, findings and sheets for scripts.");
    program.name("jolly-kestrel-cli");
    program.require_subcommand(1);
    cli::addFilmCommands(program);
    cli::addLandmarkCommands(program);
    cli::addGroundCommand(program);
    cli::addMeasureCommands(program);
    cli::addLibraryCommands(program);
    cli::addPackCommands(program);
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
        std::cerr << error.what() << '\n';
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
