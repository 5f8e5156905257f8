#pragma once

#include <filesystem>

namespace SQLite {
class Database;
}

namespace kestrel::records {

/// Brings the database to this program's version, one migration after the other, each in a
/// transaction of its own and after a backup beside the file ("library.before-v2.sqlite"). Throws
/// model::InputError when the database was made by a newer program.
void migrate(SQLite::Database& database, const std::filesystem::path& file);

/// The version migrate() brings a database to.
int schemaVersion();

} // namespace kestrel::records
