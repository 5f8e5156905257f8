#include "desk/problems.h"

#include "model/input_error.h"
#include "records/library_error.h"
#include "words/words.h"

#include <filesystem>

namespace kestrel::desk {
namespace {

Problem spoken(const model::InputError& error) {
    return {words::inWords(error.happened()), words::inWords(error.safe()),
            words::inWords(error.todo())};
}

} // namespace

Problem problemOf(const std::exception_ptr& error) {
    try {
        std::rethrow_exception(error);
    } catch (const model::InputError& e) {
        return spoken(e);
    } catch (const std::filesystem::filesystem_error& e) {
        return {Problems::tr("A file or folder cannot be used (%1).")
                    .arg(QString::fromStdString(e.code().message())),
                Problems::tr("Everything in the library is safe."),
                Problems::tr("Check the disk and who may write to it, then try again.")};
    } catch (const std::exception& e) {
        if (const auto known = records::libraryError(e)) {
            return spoken(*known);
        }
        return {Problems::tr("Something went wrong inside the program (%1).").arg(e.what()),
                Problems::tr("Everything in the library is safe."), Problems::tr("Try again.")};
    }
}

bool Problems::trying(const std::function<void()>& work) {
    try {
        work();
        return true;
    } catch (...) {
        tell(std::current_exception());
        return false;
    }
}

} // namespace kestrel::desk
