#include "records/library.h"
#include "records/sql.h"

#include <SQLiteCpp/Savepoint.h>

/// What is decided after a visit: findings, focus, homework; and the review films of reps.
namespace kestrel::records {
namespace {

using model::PlayerId;
using model::RepId;
using SQLite::Statement;

/// The row that keeps what was decided after a visit.
using VisitRow = model::Id<model::VisitKey>;

/// The row of a visit; nothing when nothing was decided after it.
std::optional<VisitRow> rowOf(SQLite::Database& database, const model::VisitKey& visit) {
    Statement row(database,
                  "SELECT id FROM visit WHERE player_id = ? AND filmed = ? AND technique = ?");
    SQLite::bind(row, visit.playerId.value, visit.filmed.iso(), visit.techniqueId);
    return row.executeStep() ? std::optional(VisitRow(row.getColumn(0).getInt64())) : std::nullopt;
}

VisitRow rowFor(SQLite::Database& database, const model::VisitKey& visit) {
    run(database, "INSERT OR IGNORE INTO visit (player_id, filmed, technique) VALUES (?, ?, ?)",
        visit.playerId, visit.filmed, visit.techniqueId);
    return *rowOf(database, visit);
}

/// Kinds of rows in visit_wish.
constexpr const char* onWeekday = "weekday";
constexpr const char* lacking = "lacks";
constexpr const char* throwing = "throws";
constexpr const char* movedTo = "moved";

void saveWish(SQLite::Database& database, VisitRow id, const model::PlanWish& wish) {
    const auto keep = [&](const char* kind, const std::string& name, const std::string& value) {
        run(database, "INSERT INTO visit_wish VALUES (?, ?, ?, ?)", id, kind, name, value);
    };
    for (const int day : wish.weekdays) {
        keep(onWeekday, std::to_string(day), "");
    }
    for (const std::string& item : wish.lacks) {
        keep(lacking, item, "");
    }
    for (const auto& [day, throws] : wish.throwsOn) {
        keep(throwing, std::to_string(day), std::to_string(throws));
    }
    for (const auto& [from, to] : wish.moved) {
        keep(movedTo, from.iso(), to.iso());
    }
}

} // namespace

model::PlanChoice Library::planChoice(const model::VisitKey& visit) const {
    model::PlanChoice choice;
    const auto id = rowOf(*database_, visit);
    if (!id) {
        return choice;
    }
    Statement row(*database_, "SELECT focus, note FROM visit WHERE id = ?");
    row.bind(1, id->value);
    row.executeStep();
    choice.focusFaultId = row.getColumn(0).getString();
    choice.note = row.getColumn(1).getString();
    Statement drills(*database_, "SELECT drill FROM visit_drill WHERE visit_id = ? ORDER BY place");
    drills.bind(1, id->value);
    while (drills.executeStep()) {
        choice.drillIds.push_back(drills.getColumn(0).getString());
    }
    Statement findings(*database_, "SELECT fault, dismissed, reason, pinned, added, name, meaning "
                                   "FROM visit_finding WHERE visit_id = ?");
    findings.bind(1, id->value);
    while (findings.executeStep()) {
        model::FindingWord& word = choice.findings[findings.getColumn(0).getString()];
        word.dismissed = findings.getColumn(1).getInt() != 0;
        word.reason = findings.getColumn(2).getString();
        word.pinned = findings.getColumn(3).getInt() != 0;
        word.added = findings.getColumn(4).getInt() != 0;
        word.name = findings.getColumn(5).getString();
        word.meaning = findings.getColumn(6).getString();
    }
    return choice;
}

void Library::save(const model::VisitKey& visit, const model::PlanChoice& choice) {
    SQLite::Savepoint whole(*database_, "save");
    const VisitRow id = rowFor(*database_, visit);
    run(*database_, "UPDATE visit SET focus = ?, note = ? WHERE id = ?", choice.focusFaultId,
        choice.note, id);
    run(*database_, "DELETE FROM visit_drill WHERE visit_id = ?", id);
    int place = 0;
    for (const std::string& drill : choice.drillIds) {
        run(*database_, "INSERT INTO visit_drill VALUES (?, ?, ?)", id, place++, drill);
    }
    run(*database_, "DELETE FROM visit_finding WHERE visit_id = ?", id);
    for (const auto& [fault, word] : choice.findings) {
        run(*database_, "INSERT INTO visit_finding VALUES (?, ?, ?, ?, ?, ?, ?, ?)", id, fault,
            word.dismissed ? 1 : 0, word.reason, word.pinned ? 1 : 0, word.added ? 1 : 0, word.name,
            word.meaning);
    }
    whole.release();
}

std::optional<model::PlanWish> Library::planWish(const model::VisitKey& visit) const {
    const auto id = rowOf(*database_, visit);
    if (!id) {
        return std::nullopt;
    }
    Statement row(*database_, "SELECT minutes, field_drills, next_visit FROM visit WHERE id = ?");
    row.bind(1, id->value);
    row.executeStep();
    if (row.getColumn(0).isNull()) {
        return std::nullopt;
    }
    model::PlanWish wish;
    wish.minutes = row.getColumn(0).getInt();
    wish.fieldDrills = row.getColumn(1).getInt() != 0;
    wish.nextVisit = dayIn(row.getColumn(2));
    Statement rows(*database_, "SELECT kind, name, value FROM visit_wish WHERE visit_id = ?");
    rows.bind(1, id->value);
    while (rows.executeStep()) {
        const std::string kind = rows.getColumn(0).getString();
        const std::string name = rows.getColumn(1).getString();
        if (kind == onWeekday) {
            wish.weekdays.insert(std::stoi(name));
        } else if (kind == lacking) {
            wish.lacks.insert(name);
        } else if (kind == throwing) {
            wish.throwsOn[std::stoi(name)] = rows.getColumn(2).getInt();
        } else if (kind == movedTo) {
            wish.moved[model::dayFromIso(name).value_or(model::Day())] = dayIn(rows.getColumn(2));
        }
    }
    return wish;
}

void Library::save(const model::VisitKey& visit, const std::optional<model::PlanWish>& wish) {
    SQLite::Savepoint whole(*database_, "save");
    const VisitRow id = rowFor(*database_, visit);
    run(*database_, "DELETE FROM visit_wish WHERE visit_id = ?", id);
    if (wish) {
        run(*database_,
            "UPDATE visit SET minutes = ?, field_drills = ?, next_visit = ? WHERE id = ?",
            wish->minutes, wish->fieldDrills ? 1 : 0, wish->nextVisit, id);
        saveWish(*database_, id, *wish);
    } else {
        run(*database_, "UPDATE visit SET minutes = NULL, next_visit = '' WHERE id = ?", id);
    }
    whole.release();
}

model::Homework Library::homework(const model::VisitKey& visit) const {
    model::Homework homework;
    const auto id = rowOf(*database_, visit);
    if (!id) {
        return homework;
    }
    Statement rows(*database_, "SELECT day, drill, minutes, dose, stage, done_on FROM homework "
                               "WHERE visit_id = ? ORDER BY day, place");
    rows.bind(1, id->value);
    while (rows.executeStep()) {
        homework.push_back({dayIn(rows.getColumn(0)), rows.getColumn(1).getString(),
                            rows.getColumn(2).getInt(), rows.getColumn(3).getString(),
                            *model::stageFromName(rows.getColumn(4).getString()),
                            dayIn(rows.getColumn(5))});
    }
    return homework;
}

void Library::save(const model::VisitKey& visit, const model::Homework& homework) {
    SQLite::Savepoint whole(*database_, "save");
    const VisitRow id = rowFor(*database_, visit);
    run(*database_, "DELETE FROM homework WHERE visit_id = ?", id);
    int place = 0;
    for (const model::HomeworkItem& item : homework) {
        run(*database_, "INSERT INTO homework VALUES (?, ?, ?, ?, ?, ?, ?, ?)", id, item.day,
            place++, item.drillId, item.minutes, item.dose, std::string(name(item.stage)),
            item.doneOn);
    }
    whole.release();
}

std::vector<model::VisitKey> Library::plannedVisits(PlayerId playerId) const {
    std::vector<model::VisitKey> visits;
    Statement rows(*database_, "SELECT filmed, technique FROM visit WHERE player_id = ? "
                               "ORDER BY filmed DESC, id DESC");
    rows.bind(1, playerId.value);
    while (rows.executeStep()) {
        visits.push_back({playerId, dayIn(rows.getColumn(0)), rows.getColumn(1).getString()});
    }
    return visits;
}

model::ReviewScript Library::reviewScript(RepId repId) const {
    model::ReviewScript script;
    Statement rows(*database_, "SELECT * FROM review_step WHERE rep_id = ? ORDER BY place");
    rows.bind(1, repId.value);
    while (rows.executeStep()) {
        model::ScriptStep step;
        step.kind = rows.getColumn("kind").getString() == "run" ? model::ScriptStep::Kind::run
                                                                : model::ScriptStep::Kind::stop;
        step.first = rows.getColumn("first_frame").getInt();
        step.last = rows.getColumn("last_frame").getInt();
        step.speed = rows.getColumn("speed").getDouble();
        step.seconds = rows.getColumn("seconds").getDouble();
        step.caption = rows.getColumn("caption").getString();
        step.positionId = rows.getColumn("position").getString();
        step.measureId = rows.getColumn("measure").getString();
        if (!rows.getColumn("pointer_x").isNull()) {
            step.pointer = model::Point2{rows.getColumn("pointer_x").getDouble(),
                                         rows.getColumn("pointer_y").getDouble()};
        }
        step.besideRep = RepId(rows.getColumn("beside_rep").getInt64());
        step.voice = rows.getColumn("voice").getString();
        script.push_back(std::move(step));
    }
    return script;
}

void Library::save(RepId repId, const model::ReviewScript& script) {
    SQLite::Savepoint whole(*database_, "save");
    run(*database_, "DELETE FROM review_step WHERE rep_id = ?", repId);
    int place = 0;
    for (const model::ScriptStep& step : script) {
        Statement row(*database_,
                      "INSERT INTO review_step VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
        SQLite::bind(row, repId.value, place++,
                     step.kind == model::ScriptStep::Kind::run ? "run" : "stop", step.first,
                     step.last, step.speed, step.seconds, step.caption, step.positionId,
                     step.measureId);
        constexpr int pointerX = 11; // the column after those bound above
        bindOptional(row, pointerX, step.pointer ? std::optional(step.pointer->x) : std::nullopt);
        bindOptional(row, pointerX + 1,
                     step.pointer ? std::optional(step.pointer->y) : std::nullopt);
        row.bind(pointerX + 2, step.besideRep.value);
        row.bind(pointerX + 3, step.voice);
        row.exec();
    }
    whole.release();
}

} // namespace kestrel::records
