#include "records/library_error.h"

#include <SQLiteCpp/Exception.h>

#include <sqlite3.h>

namespace kestrel::records {

std::optional<model::InputError> libraryError(const std::exception& error) {
    const auto* raised = dynamic_cast<const SQLite::Exception*>(&error);
    if (raised == nullptr) {
        return std::nullopt;
    }
    const model::Message safe = model::message("safe.change_not_kept");
    switch (raised->getErrorCode()) {
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return model::InputError(model::message("library.locked"), safe,
                                 model::message("todo.wait_and_again"));
    case SQLITE_FULL:
        return model::InputError(model::message("library.disk_full"), safe,
                                 model::message("todo.free_disk_and_again"));
    case SQLITE_READONLY:
    case SQLITE_PERM:
    case SQLITE_AUTH:
    case SQLITE_CANTOPEN:
    case SQLITE_IOERR:
        return model::InputError(model::message("library.unwritable", raised->what()), safe,
                                 model::message("todo.check_disk"));
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
        return model::InputError(model::message("library.damaged"), safe,
                                 model::message("todo.put_backup_back"));
    default:
        return model::InputError(model::message("library.refused", raised->what()), safe,
                                 model::message("todo.again_or_restart"));
    }
}

} // namespace kestrel::records
