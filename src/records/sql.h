#pragma once

#include "model/record.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <SQLiteCpp/VariadicBind.h>

#include <cstring>
#include <optional>
#include <set>
#include <string>
#include <vector>

/// Small helps with SQLite. Only within this room.
namespace kestrel::records {

inline std::optional<double> optionalDouble(const SQLite::Column& column) {
    return column.isNull() ? std::nullopt : std::optional(column.getDouble());
}

inline void bindOptional(SQLite::Statement& statement, int at, const std::optional<double>& value) {
    if (value) {
        statement.bind(at, *value);
    } else {
        statement.bind(at);
    }
}

/// None for what an older program may have kept that is no day.
inline model::Day dayIn(const SQLite::Column& column) {
    return model::dayFromIso(column.getString()).value_or(model::Day());
}

/// What SQLite stores for a value: itself, the row number that an id is, or the text of a day.
template <class Value> const Value& sqlValue(const Value& value) {
    return value;
}
template <class Of> std::int64_t sqlValue(const model::Id<Of>& id) {
    return id.value;
}
inline std::string sqlValue(model::Day day) {
    return day.iso();
}

/// Runs a statement with its arguments bound in order.
template <class... Arguments>
void run(SQLite::Database& database, const char* sql, const Arguments&... arguments) {
    SQLite::Statement statement(database, sql);
    SQLite::bind(statement, sqlValue(arguments)...);
    statement.exec();
}

/// What `from` makes of each row of a query, whose arguments are bound in order.
template <class From, class... Arguments>
auto rowsOf(SQLite::Database& database, const char* sql, From from, const Arguments&... arguments) {
    SQLite::Statement row(database, sql);
    SQLite::bind(row, sqlValue(arguments)...);
    std::vector<decltype(from(row))> rows;
    while (row.executeStep()) {
        rows.push_back(from(row));
    }
    return rows;
}

/// The same of the first row; nothing when there is none.
template <class From, class... Arguments>
auto firstRowOf(SQLite::Database& database, const char* sql, From from,
                const Arguments&... arguments) {
    SQLite::Statement row(database, sql);
    SQLite::bind(row, sqlValue(arguments)...);
    return row.executeStep() ? std::optional(from(row)) : std::nullopt;
}

template <class Of> model::Id<Of> storedId(SQLite::Database& database, model::Id<Of> id) {
    return id.stored() ? id : model::Id<Of>(database.getLastInsertRowid());
}

/// Numbers as the bytes of a blob, in this machine's order: a library stays on one kind of machine.
template <class Number> std::string blobOf(const std::vector<Number>& numbers) {
    return {reinterpret_cast<const char*>(numbers.data()), numbers.size() * sizeof(Number)};
}

template <class Number> std::vector<Number> numbersOf(const SQLite::Column& blob) {
    std::vector<Number> numbers(static_cast<std::size_t>(blob.getBytes()) / sizeof(Number));
    if (!numbers.empty()) {
        std::memcpy(numbers.data(), blob.getBlob(), numbers.size() * sizeof(Number));
    }
    return numbers;
}

/// The schools that a table has for one owner; `table` has the columns `owner` and school.
template <class Of>
std::set<std::string> schoolsIn(SQLite::Database& database, const std::string& table,
                                const std::string& owner, model::Id<Of> id) {
    std::set<std::string> schools;
    SQLite::Statement rows(database, "SELECT school FROM " + table + " WHERE " + owner + " = ?");
    rows.bind(1, id.value);
    while (rows.executeStep()) {
        schools.insert(rows.getColumn(0).getString());
    }
    return schools;
}

template <class Of>
void saveSchools(SQLite::Database& database, const std::string& table, const std::string& owner,
                 model::Id<Of> id, const std::set<std::string>& schools) {
    run(database, ("DELETE FROM " + table + " WHERE " + owner + " = ?").c_str(), id);
    for (const std::string& school : schools) {
        run(database, ("INSERT INTO " + table + " VALUES (?, ?)").c_str(), id, school);
    }
}

} // namespace kestrel::records
