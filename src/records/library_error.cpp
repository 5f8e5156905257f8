#include "records/library_error.h"

#include <SQLiteCpp/Exception.h>

#include <sqlite3.h>

namespace kestrel::records {

std::optional<model::InputError> libraryError(const std::exception& error) {
    const auto* raised = dynamic_cast<const SQLite::Exception*>(&error);
    if (raised == nullptr) {
        return std::nullopt;
    }
    constexpr const char* safe = "This change was not kept; everything before it is safe.";
    switch (raised->getErrorCode()) {
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return model::InputError("Another program is writing to the library (database is locked).",
                                 safe, "Wait until it has finished, then do it again.");
    case SQLITE_FULL:
        return model::InputError("There is no room left for the library.", safe,
                                 "Free some space on the disk, then do it again.");
    case SQLITE_READONLY:
    case SQLITE_PERM:
    case SQLITE_AUTH:
    case SQLITE_CANTOPEN:
    case SQLITE_IOERR:
        return model::InputError(std::string("The library cannot be written (") + raised->what() +
                                     ").",
                                 safe, "Check the disk and who may write to it, then do it again.");
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
        return model::InputError("The library's database is damaged.", safe,
                                 "Close the program and put back the newest backup beside it.");
    default:
        return model::InputError(std::string("The library refused a change (") + raised->what() +
                                     ").",
                                 safe, "Do it again; if it goes on, close and open the program.");
    }
}

} // namespace kestrel::records
