#include "records/library.h"
#include "records/sql.h"

#include <SQLiteCpp/Savepoint.h>

/// Reps and the marks on them.
namespace kestrel::records {
namespace {

using model::ClipId;
using model::EditionId;
using model::PlayerId;
using model::RepId;
using SQLite::Statement;

void insertLandmark(SQLite::Database& database, RepId repId, int frame, model::Landmark landmark,
                    const model::LandmarkPoint& point) {
    run(database, "INSERT OR REPLACE INTO landmark VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", repId,
        frame, std::string(name(landmark)), point.px.x, point.px.y, point.sdPx,
        std::string(name(point.source)), point.hidden ? 1 : 0, point.occluded ? 1 : 0);
}

void readPositions(SQLite::Database& database, model::Rep& rep) {
    Statement positions(database, "SELECT position, frame FROM position WHERE rep_id = ?");
    positions.bind(1, rep.id.value);
    while (positions.executeStep()) {
        rep.positions[positions.getColumn(0).getString()] = positions.getColumn(1).getInt();
    }
}

void readFoundPositions(SQLite::Database& database, model::Rep& rep) {
    Statement found(database, "SELECT position, frame, sd_s, confidence FROM found_position "
                              "WHERE rep_id = ?");
    found.bind(1, rep.id.value);
    while (found.executeStep()) {
        rep.found[found.getColumn(0).getString()] = {found.getColumn(1).getInt(),
                                                     model::Seconds(found.getColumn(2).getDouble()),
                                                     found.getColumn(3).getDouble()};
    }
}

void readLandmarks(SQLite::Database& database, model::Rep& rep) {
    Statement points(database, "SELECT frame, landmark, x_px, y_px, sd_px, source, hidden, "
                               "covered FROM landmark WHERE rep_id = ?");
    points.bind(1, rep.id.value);
    while (points.executeStep()) {
        const auto landmark = model::landmarkFromName(points.getColumn(1).getString());
        const auto source = model::sourceFromName(points.getColumn(5).getString());
        if (!landmark || !source) {
            continue; // written by a newer program; kept in the database, not shown here
        }
        rep.landmarks[points.getColumn(0).getInt()][*landmark] = {
            {points.getColumn(2).getDouble(), points.getColumn(3).getDouble()},
            points.getColumn(4).getDouble(),
            *source,
            points.getColumn(6).getInt() != 0,
            points.getColumn(7).getInt() != 0};
    }
}

void readBodyTurns(SQLite::Database& database, model::Rep& rep) {
    Statement turns(database,
                    "SELECT frame, hips_px, shoulders_px FROM body_turn WHERE rep_id = ?");
    turns.bind(1, rep.id.value);
    while (turns.executeStep()) {
        const auto depth = [&](int column) {
            const SQLite::Column value = turns.getColumn(column);
            return value.isNull() ? std::nullopt : std::optional(value.getDouble());
        };
        rep.bodyTurns[turns.getColumn(0).getInt()] = {depth(1), depth(2)};
    }
}

void readNearerEnds(SQLite::Database& database, model::Rep& rep) {
    Statement ends(database, "SELECT position, line, side FROM nearer_end WHERE rep_id = ?");
    ends.bind(1, rep.id.value);
    while (ends.executeStep()) {
        const auto line = model::bodyLineFromName(ends.getColumn(1).getString());
        const auto side = model::sideFromName(ends.getColumn(2).getString());
        if (line && side) {
            rep.nearerEnds[ends.getColumn(0).getString()][*line] = *side;
        }
    }
}

void readLimbFolds(SQLite::Database& database, model::Rep& rep) {
    Statement folds(database, "SELECT position, joint, fold FROM limb_fold WHERE rep_id = ?");
    folds.bind(1, rep.id.value);
    while (folds.executeStep()) {
        const auto joint = model::landmarkFromName(folds.getColumn(1).getString());
        const auto fold = model::limbFoldFromName(folds.getColumn(2).getString());
        if (joint && fold) {
            rep.limbFolds[folds.getColumn(0).getString()][*joint] = *fold;
        }
    }
}

void readObservations(SQLite::Database& database, model::Rep& rep) {
    Statement seen(database, "SELECT observation, seen FROM observation WHERE rep_id = ?");
    seen.bind(1, rep.id.value);
    while (seen.executeStep()) {
        if (const auto answer = model::seenFromName(seen.getColumn(1).getString())) {
            rep.observations[seen.getColumn(0).getString()] = *answer;
        }
    }
}

void readCounts(SQLite::Database& database, model::Rep& rep) {
    Statement counts(database, "SELECT measure, turns FROM rep_count WHERE rep_id = ?");
    counts.bind(1, rep.id.value);
    while (counts.executeStep()) {
        rep.counts[counts.getColumn(0).getString()] = counts.getColumn(1).getDouble();
    }
}

/// A rep with all its marks from its row.
model::Rep repFrom(const Statement& row, SQLite::Database& database) {
    model::Rep rep;
    rep.id = RepId(row.getColumn("id").getInt64());
    rep.clipId = ClipId(row.getColumn("clip_id").getInt64());
    rep.title = row.getColumn("title").getString();
    rep.techniqueId = row.getColumn("technique").getString();
    rep.variant = row.getColumn("variant").getString();
    rep.shotType = row.getColumn("shot_type").getString();
    rep.result = row.getColumn("result").getString();
    if (!row.getColumn("first_frame").isNull()) {
        rep.span = model::FrameSpan{row.getColumn("first_frame").getInt(),
                                    row.getColumn("last_frame").getInt()};
    }
    rep.packEdition = EditionId(
        row.getColumn("pack_edition").isNull() ? 0 : row.getColumn("pack_edition").getInt64());
    rep.schools = schoolsIn(database, "rep_school", "rep_id", rep.id);
    readPositions(database, rep);
    readFoundPositions(database, rep);
    readLandmarks(database, rep);
    readBodyTurns(database, rep);
    readNearerEnds(database, rep);
    readLimbFolds(database, rep);
    readObservations(database, rep);
    readCounts(database, rep);
    return rep;
}

} // namespace

std::vector<model::Rep> Library::reps(ClipId clipId) const {
    return rowsOf(
        *database_, "SELECT * FROM rep WHERE clip_id = ? ORDER BY coalesce(first_frame, 0), id",
        [&](const Statement& row) { return repFrom(row, *database_); }, clipId);
}

std::optional<model::Rep> Library::rep(RepId id) const {
    return firstRowOf(
        *database_, "SELECT * FROM rep WHERE id = ?",
        [&](const Statement& row) { return repFrom(row, *database_); }, id);
}

RepId Library::save(const model::Rep& rep) {
    SQLite::Savepoint whole(*database_, "save");
    Statement row(*database_,
                  "INSERT INTO rep (id, clip_id, title, technique, variant, shot_type, result, "
                  "pack_edition, first_frame, last_frame) "
                  "VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, nullif(?, 0), ?, ?) "
                  "ON CONFLICT (id) DO UPDATE SET title = excluded.title, "
                  "technique = excluded.technique, variant = excluded.variant, "
                  "shot_type = excluded.shot_type, result = excluded.result, "
                  "pack_edition = excluded.pack_edition, "
                  "first_frame = excluded.first_frame, last_frame = excluded.last_frame");
    SQLite::bind(row, rep.id.value, rep.clipId.value, rep.title, rep.techniqueId, rep.variant,
                 rep.shotType, rep.result, rep.packEdition.value);
    if (rep.span) {
        row.bind(9, rep.span->first);
        row.bind(10, rep.span->last);
    }
    row.exec();
    const auto id = storedId(*database_, rep.id);
    for (const char* table :
         {"position", "landmark", "observation", "nearer_end", "limb_fold", "rep_count"}) {
        run(*database_, (std::string("DELETE FROM ") + table + " WHERE rep_id = ?").c_str(), id);
    }
    saveSchools(*database_, "rep_school", "rep_id", id, rep.schools);
    for (const auto& [position, frame] : rep.positions) {
        setPosition(id, position, frame);
    }
    setFoundPositions(id, rep.found);
    setBodyTurns(id, rep.bodyTurns);
    for (const auto& [position, ends] : rep.nearerEnds) {
        for (const auto& [line, side] : ends) {
            setNearerEnd(id, position, line, side);
        }
    }
    for (const auto& [position, folds] : rep.limbFolds) {
        for (const auto& [joint, fold] : folds) {
            setLimbFold(id, position, joint, fold);
        }
    }
    for (const auto& [frame, points] : rep.landmarks) {
        for (const auto& [landmark, point] : points) {
            insertLandmark(*database_, id, frame, landmark, point);
        }
    }
    for (const auto& [observation, seen] : rep.observations) {
        setObservation(id, observation, seen);
    }
    for (const auto& [measure, turns] : rep.counts) {
        setCount(id, measure, turns);
    }
    whole.release();
    return id;
}

void Library::removeRep(RepId id) {
    run(*database_, "DELETE FROM rep WHERE id = ?", id);
}

void Library::setPosition(RepId repId, const std::string& position, std::optional<int> frame) {
    if (frame) {
        run(*database_, "INSERT OR REPLACE INTO position VALUES (?, ?, ?)", repId, position,
            *frame);
    } else {
        run(*database_, "DELETE FROM position WHERE rep_id = ? AND position = ?", repId, position);
    }
}

void Library::setFoundPositions(RepId repId,
                                const std::map<std::string, model::FoundInstant>& found) {
    SQLite::Savepoint whole(*database_, "found_positions");
    run(*database_, "DELETE FROM found_position WHERE rep_id = ?", repId);
    for (const auto& [position, instant] : found) {
        run(*database_, "INSERT INTO found_position VALUES (?, ?, ?, ?, ?)", repId, position,
            instant.frame, instant.sd.value, instant.confidence);
    }
    whole.release();
}

void Library::setNearerEnd(RepId repId, const std::string& position, model::BodyLine line,
                           std::optional<model::Side> nearer) {
    if (nearer) {
        run(*database_, "INSERT OR REPLACE INTO nearer_end VALUES (?, ?, ?, ?)", repId, position,
            std::string(name(line)), std::string(name(*nearer)));
    } else {
        run(*database_, "DELETE FROM nearer_end WHERE rep_id = ? AND position = ? AND line = ?",
            repId, position, std::string(name(line)));
    }
}

void Library::setLimbFold(RepId repId, const std::string& position, model::Landmark joint,
                          std::optional<model::LimbFold> fold) {
    if (fold) {
        run(*database_, "INSERT OR REPLACE INTO limb_fold VALUES (?, ?, ?, ?)", repId, position,
            std::string(name(joint)), std::string(name(*fold)));
    } else {
        run(*database_, "DELETE FROM limb_fold WHERE rep_id = ? AND position = ? AND joint = ?",
            repId, position, std::string(name(joint)));
    }
}

void Library::setBodyTurns(RepId repId, const model::BodyTurns& turns) {
    SQLite::Savepoint whole(*database_, "body_turns");
    run(*database_, "DELETE FROM body_turn WHERE rep_id = ?", repId);
    Statement row(*database_, "INSERT INTO body_turn VALUES (?, ?, ?, ?)");
    for (const auto& [frame, turn] : turns) {
        row.bind(1, repId.value);
        row.bind(2, frame);
        for (const auto& [column, depth] : {std::pair{3, turn.hipsPx}, {4, turn.shouldersPx}}) {
            if (depth) {
                row.bind(column, *depth);
            } else {
                row.bind(column); // NULL
            }
        }
        row.exec();
        row.reset();
    }
    whole.release();
}

void Library::setLandmark(RepId repId, int frame, model::Landmark landmark,
                          const std::optional<model::LandmarkPoint>& point) {
    if (point) {
        insertLandmark(*database_, repId, frame, landmark, *point);
    } else {
        run(*database_, "DELETE FROM landmark WHERE rep_id = ? AND frame = ? AND landmark = ?",
            repId, frame, std::string(name(landmark)));
    }
}

void Library::setMachineLandmarks(RepId repId, const model::LandmarkTrack& points) {
    SQLite::Savepoint whole(*database_, "machine_landmarks");
    const std::string placed(name(model::Source::placed));
    run(*database_, "DELETE FROM landmark WHERE rep_id = ? AND source <> ?", repId, placed);
    Statement row(*database_, "INSERT OR IGNORE INTO landmark VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    for (const auto& [frame, landmarks] : points) {
        for (const auto& [landmark, point] : landmarks) {
            if (point.source != model::Source::placed) {
                SQLite::bind(row, repId.value, frame, std::string(name(landmark)), point.px.x,
                             point.px.y, point.sdPx, std::string(name(point.source)),
                             point.hidden ? 1 : 0, point.occluded ? 1 : 0);
                row.exec();
                row.reset();
            }
        }
    }
    whole.release();
}

std::vector<std::uint8_t> Library::evidence(RepId repId) const {
    Statement row(*database_, "SELECT bytes FROM rep_evidence WHERE rep_id = ?");
    row.bind(1, repId.value);
    return row.executeStep() ? numbersOf<std::uint8_t>(row.getColumn(0))
                             : std::vector<std::uint8_t>{};
}

void Library::setEvidence(RepId repId, const std::vector<std::uint8_t>& bytes) {
    if (bytes.empty()) {
        run(*database_, "DELETE FROM rep_evidence WHERE rep_id = ?", repId);
        return;
    }
    Statement row(*database_, "INSERT OR REPLACE INTO rep_evidence VALUES (?, ?)");
    row.bind(1, repId.value);
    row.bind(2, bytes.data(), static_cast<int>(bytes.size()));
    row.exec();
}

KeptBody Library::body(RepId repId) const {
    Statement row(*database_, "SELECT key, bytes FROM rep_body WHERE rep_id = ?");
    row.bind(1, repId.value);
    return row.executeStep()
               ? KeptBody{row.getColumn(0).getString(), numbersOf<std::uint8_t>(row.getColumn(1))}
               : KeptBody{};
}

void Library::setBody(RepId repId, const KeptBody& body) {
    Statement row(*database_, "INSERT OR REPLACE INTO rep_body VALUES (?, ?, ?)");
    row.bind(1, repId.value);
    row.bind(2, body.key);
    // Without an address SQLite would take it for NULL.
    row.bind(3, body.bytes.empty() ? static_cast<const void*>("") : body.bytes.data(),
             static_cast<int>(body.bytes.size()));
    row.exec();
}

void Library::setCount(RepId repId, const std::string& measure, std::optional<double> turns) {
    if (turns) {
        run(*database_, "INSERT OR REPLACE INTO rep_count VALUES (?, ?, ?)", repId, measure,
            *turns);
    } else {
        run(*database_, "DELETE FROM rep_count WHERE rep_id = ? AND measure = ?", repId, measure);
    }
}

void Library::setObservation(RepId repId, const std::string& observation,
                             std::optional<model::Seen> seen) {
    if (seen) {
        run(*database_, "INSERT OR REPLACE INTO observation VALUES (?, ?, ?)", repId, observation,
            std::string(name(*seen)));
    } else {
        run(*database_, "DELETE FROM observation WHERE rep_id = ? AND observation = ?", repId,
            observation);
    }
}

void Library::setEdition(RepId repId, EditionId editionId) {
    run(*database_, "UPDATE rep SET pack_edition = nullif(?, 0) WHERE id = ?", editionId, repId);
}

void Library::setSchools(RepId repId, const std::set<std::string>& schools) {
    saveSchools(*database_, "rep_school", "rep_id", repId, schools);
}

} // namespace kestrel::records
