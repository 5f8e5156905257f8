#include "records/library.h"

#include "model/input_error.h"
#include "records/schema.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <SQLiteCpp/Savepoint.h>
#include <SQLiteCpp/VariadicBind.h>

#include <cstring>
#include <set>
#include <stdexcept>

namespace kestrel::records {
namespace {

using model::Id;
using SQLite::Statement;

std::optional<double> optionalDouble(const SQLite::Column& column) {
    return column.isNull() ? std::nullopt : std::optional(column.getDouble());
}

void bindOptional(Statement& statement, int at, const std::optional<double>& value) {
    if (value) {
        statement.bind(at, *value);
    } else {
        statement.bind(at);
    }
}

/// Runs a statement with its arguments bound in order.
template <class... Arguments>
void run(SQLite::Database& database, const char* sql, const Arguments&... arguments) {
    Statement statement(database, sql);
    SQLite::bind(statement, arguments...);
    statement.exec();
}

Id storedId(SQLite::Database& database, Id id) {
    return id != 0 ? id : static_cast<Id>(database.getLastInsertRowid());
}

model::Clip clipFrom(const Statement& row) {
    model::Clip clip;
    clip.id = row.getColumn("id").getInt64();
    clip.playerId = row.getColumn("player_id").getInt64();
    clip.title = row.getColumn("title").getString();
    clip.sha256 = row.getColumn("sha256").getString();
    clip.fileName = row.getColumn("file_name").getString();
    clip.filmed = row.getColumn("filmed").getString();
    clip.captureRate = optionalDouble(row.getColumn("capture_rate"));
    clip.view = model::viewFromName(row.getColumn("view").getString());
    clip.broughtFrom = row.getColumn("brought_from").getString();
    clip.asFields = row.getColumn("as_fields").getInt() != 0;
    clip.steadied = row.getColumn("steadied").getInt() != 0;
    return clip;
}

std::optional<model::GroundMarks> groundOf(SQLite::Database& database, Id clipId) {
    Statement row(database, "SELECT place, frame, along_m, across_m FROM clip_ground "
                            "WHERE clip_id = ?");
    row.bind(1, clipId);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::GroundMarks ground;
    ground.placeId = row.getColumn(0).getString();
    ground.frame = row.getColumn(1).getInt();
    ground.alongM = model::Metres(row.getColumn(2).getDouble());
    ground.acrossM = model::Metres(row.getColumn(3).getDouble());
    Statement marks(database, "SELECT point, x, y FROM clip_ground_mark WHERE clip_id = ?");
    marks.bind(1, clipId);
    while (marks.executeStep()) {
        ground.points[marks.getColumn(0).getString()] = {marks.getColumn(1).getDouble(),
                                                         marks.getColumn(2).getDouble()};
    }
    return ground;
}

void saveGround(SQLite::Database& database, Id clipId,
                const std::optional<model::GroundMarks>& ground) {
    run(database, "DELETE FROM clip_ground WHERE clip_id = ?", clipId);
    run(database, "DELETE FROM clip_ground_mark WHERE clip_id = ?", clipId);
    if (!ground) {
        return;
    }
    run(database, "INSERT INTO clip_ground VALUES (?, ?, ?, ?, ?)", clipId, ground->placeId,
        ground->frame, ground->alongM.value, ground->acrossM.value);
    for (const auto& [point, px] : ground->points) {
        run(database, "INSERT INTO clip_ground_mark VALUES (?, ?, ?, ?)", clipId, point, px.x,
            px.y);
    }
}

/// The clip with what stands in tables of its own.
model::Clip completed(SQLite::Database& database, model::Clip clip) {
    Statement rows(database, "SELECT from_frame, slowdown FROM clip_speed WHERE clip_id = ? "
                             "ORDER BY from_frame");
    rows.bind(1, clip.id);
    while (rows.executeStep()) {
        clip.speeds.push_back({rows.getColumn(0).getInt(), rows.getColumn(1).getDouble()});
    }
    clip.ground = groundOf(database, clip.id);
    return clip;
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

void insertLandmark(SQLite::Database& database, Id repId, int frame, model::Landmark landmark,
                    const model::LandmarkPoint& point) {
    run(database, "INSERT OR REPLACE INTO landmark VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", repId,
        frame, std::string(name(landmark)), point.px.x, point.px.y, point.sdPx,
        std::string(name(point.source)), point.hidden ? 1 : 0, point.covered ? 1 : 0);
}

} // namespace

Library::Library(const std::filesystem::path& folder) : folder_(folder) {
    namespace fs = std::filesystem;
    try {
        fs::create_directories(clipFolder());
        fs::permissions(folder_, fs::perms::owner_all);
        fs::permissions(clipFolder(), fs::perms::owner_all);
        const fs::path file = folder_ / "library.sqlite";
        database_ = std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READWRITE |
                                                                          SQLite::OPEN_CREATE);
        fs::permissions(file, fs::perms::owner_read | fs::perms::owner_write);
        constexpr int busyMilliseconds = 3000;
        database_->setBusyTimeout(busyMilliseconds);
        database_->exec("PRAGMA journal_mode = WAL");
        database_->exec("PRAGMA synchronous = FULL");
        database_->exec("PRAGMA foreign_keys = ON");
        migrate(*database_, file);
    } catch (const fs::filesystem_error& error) {
        throw model::InputError("The library folder “" + folder.string() + "” cannot be used (" +
                                    error.code().message() + ").",
                                "Nothing was changed.",
                                "Choose a folder you may write to, or free some space.");
    } catch (const SQLite::Exception& error) {
        throw model::InputError("The library in “" + folder.string() + "” cannot be opened (" +
                                    error.what() + ").",
                                "Its files were left as they are.",
                                "Close other programs that use it, or restore a backup.");
    }
    removeStrayFiles();
}

Library::~Library() = default;

void Library::atomically(const std::function<void()>& changes) {
    SQLite::Savepoint whole(*database_, "together");
    changes();
    whole.release();
}

void Library::removeStrayFiles() const {
    run(*database_, "DELETE FROM film_file WHERE file_name NOT IN (SELECT file_name FROM clip)");
    std::set<std::string> known;
    Statement rows(*database_, "SELECT file_name FROM clip");
    while (rows.executeStep()) {
        known.insert(rows.getColumn(0).getString());
    }
    for (const auto& entry : std::filesystem::directory_iterator(clipFolder())) {
        // An import that a crash interrupted, or that was taken back, leaves a file without a clip.
        if (!known.contains(entry.path().filename())) {
            std::error_code ignored;
            std::filesystem::remove(entry.path(), ignored);
        }
    }
}

std::vector<model::Player> Library::players() const {
    std::vector<model::Player> players;
    Statement rows(*database_, "SELECT id FROM player ORDER BY name COLLATE NOCASE, id");
    while (rows.executeStep()) {
        players.push_back(*player(rows.getColumn(0).getInt64()));
    }
    return players;
}

std::optional<model::Player> Library::player(Id id) const {
    Statement row(*database_, "SELECT * FROM player WHERE id = ?");
    row.bind(1, id);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::Player player;
    player.id = id;
    player.name = row.getColumn("name").getString();
    player.born = row.getColumn("born").getString();
    player.hand = *model::handFromName(row.getColumn("hand").getString());
    if (const auto height = optionalDouble(row.getColumn("height_m"))) {
        player.height = model::Metres(*height);
    }
    player.consentGiven = row.getColumn("consent_given").getString();
    player.note = row.getColumn("note").getString();
    Statement schools(*database_, "SELECT school FROM player_school WHERE player_id = ?");
    schools.bind(1, id);
    while (schools.executeStep()) {
        player.schools.insert(schools.getColumn(0).getString());
    }
    return player;
}

Id Library::save(const model::Player& player) {
    SQLite::Savepoint whole(*database_, "save");
    Statement row(*database_,
                  "INSERT INTO player (id, name, born, hand, height_m, consent_given, note) "
                  "VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET "
                  "name = excluded.name, born = excluded.born, hand = excluded.hand, "
                  "height_m = excluded.height_m, consent_given = excluded.consent_given, "
                  "note = excluded.note");
    row.bind(1, player.id);
    row.bind(2, player.name);
    row.bind(3, player.born);
    row.bind(4, std::string(name(player.hand)));
    bindOptional(row, 5, player.height ? std::optional(player.height->value) : std::nullopt);
    row.bind(6, player.consentGiven);
    row.bind(7, player.note);
    row.exec();
    const Id id = storedId(*database_, player.id);
    run(*database_, "DELETE FROM player_school WHERE player_id = ?", id);
    for (const std::string& school : player.schools) {
        run(*database_, "INSERT INTO player_school VALUES (?, ?)", id, school);
    }
    whole.release();
    return id;
}

void Library::removePlayer(Id id) {
    if (!clips(id).empty()) {
        throw std::logic_error("the player has clips");
    }
    run(*database_, "DELETE FROM player WHERE id = ?", id);
}

std::vector<model::Clip> Library::clips(Id playerId) const {
    std::vector<model::Clip> clips;
    Statement rows(*database_,
                   "SELECT * FROM clip WHERE player_id = ? ORDER BY filmed DESC, id DESC");
    rows.bind(1, playerId);
    while (rows.executeStep()) {
        clips.push_back(completed(*database_, clipFrom(rows)));
    }
    return clips;
}

std::optional<model::Clip> Library::clip(Id id) const {
    Statement row(*database_, "SELECT * FROM clip WHERE id = ?");
    row.bind(1, id);
    return row.executeStep() ? std::optional(completed(*database_, clipFrom(row))) : std::nullopt;
}

std::optional<model::Clip> Library::clipByHash(Id playerId, const std::string& sha256) const {
    Statement row(*database_, "SELECT * FROM clip WHERE player_id = ? AND sha256 = ?");
    row.bind(1, playerId);
    row.bind(2, sha256);
    return row.executeStep() ? std::optional(completed(*database_, clipFrom(row))) : std::nullopt;
}

Id Library::save(const model::Clip& clip) {
    SQLite::Savepoint whole(*database_, "save");
    Statement row(*database_, "INSERT INTO clip (id, player_id, title, sha256, file_name, filmed, "
                              "capture_rate, view, brought_from, as_fields, steadied) "
                              "VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) "
                              "ON CONFLICT (id) DO UPDATE SET title = excluded.title, "
                              "filmed = excluded.filmed, capture_rate = excluded.capture_rate, "
                              "view = excluded.view, brought_from = excluded.brought_from, "
                              "as_fields = excluded.as_fields, steadied = excluded.steadied");
    row.bind(1, clip.id);
    row.bind(2, clip.playerId);
    row.bind(3, clip.title);
    row.bind(4, clip.sha256);
    row.bind(5, clip.fileName);
    row.bind(6, clip.filmed);
    bindOptional(row, 7, clip.captureRate);
    if (clip.view) {
        row.bind(8, std::string(name(*clip.view)));
    } else {
        row.bind(8);
    }
    row.bind(9, clip.broughtFrom);
    row.bind(10, clip.asFields ? 1 : 0);
    row.bind(11, clip.steadied ? 1 : 0);
    row.exec();
    const Id id = storedId(*database_, clip.id);
    run(*database_, "DELETE FROM clip_speed WHERE clip_id = ?", id);
    for (const model::SpeedStretch& stretch : clip.speeds) {
        run(*database_, "INSERT INTO clip_speed VALUES (?, ?, ?)", id, stretch.fromFrame,
            stretch.slowdown);
    }
    saveGround(*database_, id, clip.ground);
    whole.release();
    return id;
}

std::optional<model::FilmStudy> Library::study(Id clipId) const {
    Statement row(*database_, "SELECT * FROM clip_study WHERE clip_id = ?");
    row.bind(1, clipId);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::FilmStudy study;
    study.brightness = row.getColumn("brightness").getDouble();
    study.tooBright = row.getColumn("too_bright").getDouble();
    study.tooDark = row.getColumn("too_dark").getDouble();
    if (!row.getColumn("mover_left").isNull()) {
        study.mover = model::PixelBox{
            row.getColumn("mover_left").getDouble(), row.getColumn("mover_top").getDouble(),
            row.getColumn("mover_width").getDouble(), row.getColumn("mover_height").getDouble()};
    }
    study.energy = numbersOf<float>(row.getColumn("energy"));
    study.camera = numbersOf<model::CameraPose>(row.getColumn("camera"));
    return study;
}

void Library::save(Id clipId, const model::FilmStudy& study) {
    Statement row(*database_,
                  "INSERT OR REPLACE INTO clip_study VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    row.bind(1, clipId);
    row.bind(2, study.brightness);
    row.bind(3, study.tooBright);
    row.bind(4, study.tooDark);
    const auto& box = study.mover;
    bindOptional(row, 5, box ? std::optional(box->left) : std::nullopt);
    bindOptional(row, 6, box ? std::optional(box->top) : std::nullopt);
    bindOptional(row, 7, box ? std::optional(box->width) : std::nullopt);
    bindOptional(row, 8, box ? std::optional(box->height) : std::nullopt);
    const std::string energy = blobOf(study.energy);
    const std::string camera = blobOf(study.camera);
    row.bind(9, energy.data(), static_cast<int>(energy.size()));
    row.bind(10, camera.data(), static_cast<int>(camera.size()));
    row.exec();
}

void Library::removeStudy(Id clipId) {
    run(*database_, "DELETE FROM clip_study WHERE clip_id = ?", clipId);
}

std::optional<Library::FileStamp> Library::stamp(const std::string& fileName) const {
    Statement row(*database_, "SELECT bytes, modified FROM film_file WHERE file_name = ?");
    row.bind(1, fileName);
    return row.executeStep()
               ? std::optional(FileStamp{row.getColumn(0).getInt64(), row.getColumn(1).getInt64()})
               : std::nullopt;
}

void Library::setStamp(const std::string& fileName, const FileStamp& stamp) {
    run(*database_, "INSERT OR REPLACE INTO film_file VALUES (?, ?, ?)", fileName, stamp.bytes,
        stamp.modified);
}

void Library::removeClip(Id id) {
    run(*database_, "DELETE FROM clip WHERE id = ?", id);
}

std::vector<Id> Library::clipsNotLookedAt() const {
    std::vector<Id> ids;
    Statement rows(*database_,
                   "SELECT id FROM clip WHERE EXISTS (SELECT 1 FROM rep WHERE clip_id = clip.id "
                   "AND NOT EXISTS (SELECT 1 FROM position WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM landmark WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM observation WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM rep_evidence WHERE rep_id = rep.id)) "
                   "ORDER BY filmed, id");
    while (rows.executeStep()) {
        ids.push_back(rows.getColumn(0).getInt64());
    }
    return ids;
}

std::vector<model::Rep> Library::reps(Id clipId) const {
    std::vector<model::Rep> reps;
    Statement rows(*database_, "SELECT id FROM rep WHERE clip_id = ? "
                               "ORDER BY coalesce(first_frame, 0), id");
    rows.bind(1, clipId);
    while (rows.executeStep()) {
        reps.push_back(*rep(rows.getColumn(0).getInt64()));
    }
    return reps;
}

std::optional<model::Rep> Library::rep(Id id) const {
    Statement row(*database_, "SELECT * FROM rep WHERE id = ?");
    row.bind(1, id);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::Rep rep;
    rep.id = id;
    rep.clipId = row.getColumn("clip_id").getInt64();
    rep.title = row.getColumn("title").getString();
    rep.techniqueId = row.getColumn("technique").getString();
    rep.variant = row.getColumn("variant").getString();
    rep.shotType = row.getColumn("shot_type").getString();
    rep.result = row.getColumn("result").getString();
    if (!row.getColumn("first_frame").isNull()) {
        rep.span = model::FrameSpan{row.getColumn("first_frame").getInt(),
                                    row.getColumn("last_frame").getInt()};
    }

    Statement positions(*database_, "SELECT position, frame FROM position WHERE rep_id = ?");
    positions.bind(1, id);
    while (positions.executeStep()) {
        rep.positions[positions.getColumn(0).getString()] = positions.getColumn(1).getInt();
    }
    Statement found(*database_, "SELECT position, frame, sd_s, confidence FROM found_position "
                                "WHERE rep_id = ?");
    found.bind(1, id);
    while (found.executeStep()) {
        rep.found[found.getColumn(0).getString()] = {found.getColumn(1).getInt(),
                                                     model::Seconds(found.getColumn(2).getDouble()),
                                                     found.getColumn(3).getDouble()};
    }
    Statement points(*database_, "SELECT frame, landmark, x_px, y_px, sd_px, source, hidden, "
                                 "covered FROM landmark WHERE rep_id = ?");
    points.bind(1, id);
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
    Statement turns(*database_,
                    "SELECT frame, hips_px, shoulders_px FROM body_turn WHERE rep_id = ?");
    turns.bind(1, id);
    while (turns.executeStep()) {
        const auto depth = [&](int column) {
            const SQLite::Column value = turns.getColumn(column);
            return value.isNull() ? std::nullopt : std::optional(value.getDouble());
        };
        rep.bodyTurns[turns.getColumn(0).getInt()] = {depth(1), depth(2)};
    }
    Statement ends(*database_, "SELECT position, line, side FROM nearer_end WHERE rep_id = ?");
    ends.bind(1, id);
    while (ends.executeStep()) {
        const auto line = model::bodyLineFromName(ends.getColumn(1).getString());
        const auto side = model::sideFromName(ends.getColumn(2).getString());
        if (line && side) {
            rep.nearerEnds[ends.getColumn(0).getString()][*line] = *side;
        }
    }
    Statement seen(*database_, "SELECT observation, seen FROM observation WHERE rep_id = ?");
    seen.bind(1, id);
    while (seen.executeStep()) {
        if (const auto answer = model::seenFromName(seen.getColumn(1).getString())) {
            rep.observations[seen.getColumn(0).getString()] = *answer;
        }
    }
    Statement counts(*database_, "SELECT measure, turns FROM rep_count WHERE rep_id = ?");
    counts.bind(1, id);
    while (counts.executeStep()) {
        rep.counts[counts.getColumn(0).getString()] = counts.getColumn(1).getDouble();
    }
    return rep;
}

Id Library::save(const model::Rep& rep) {
    SQLite::Savepoint whole(*database_, "save");
    Statement row(*database_,
                  "INSERT INTO rep (id, clip_id, title, technique, variant, shot_type, result, "
                  "first_frame, last_frame) VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?) "
                  "ON CONFLICT (id) DO UPDATE SET title = excluded.title, "
                  "technique = excluded.technique, variant = excluded.variant, "
                  "shot_type = excluded.shot_type, result = excluded.result, "
                  "first_frame = excluded.first_frame, last_frame = excluded.last_frame");
    SQLite::bind(row, rep.id, rep.clipId, rep.title, rep.techniqueId, rep.variant, rep.shotType,
                 rep.result);
    if (rep.span) {
        row.bind(8, rep.span->first);
        row.bind(9, rep.span->last);
    }
    row.exec();
    const Id id = storedId(*database_, rep.id);
    for (const char* table : {"position", "landmark", "observation", "nearer_end", "rep_count"}) {
        run(*database_, (std::string("DELETE FROM ") + table + " WHERE rep_id = ?").c_str(), id);
    }
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

void Library::removeRep(Id id) {
    run(*database_, "DELETE FROM rep WHERE id = ?", id);
}

void Library::setPosition(Id repId, const std::string& position, std::optional<int> frame) {
    if (frame) {
        run(*database_, "INSERT OR REPLACE INTO position VALUES (?, ?, ?)", repId, position,
            *frame);
    } else {
        run(*database_, "DELETE FROM position WHERE rep_id = ? AND position = ?", repId, position);
    }
}

void Library::setFoundPositions(Id repId, const std::map<std::string, model::FoundInstant>& found) {
    SQLite::Savepoint whole(*database_, "found_positions");
    run(*database_, "DELETE FROM found_position WHERE rep_id = ?", repId);
    for (const auto& [position, instant] : found) {
        run(*database_, "INSERT INTO found_position VALUES (?, ?, ?, ?, ?)", repId, position,
            instant.frame, instant.sd.value, instant.confidence);
    }
    whole.release();
}

void Library::setNearerEnd(Id repId, const std::string& position, model::BodyLine line,
                           std::optional<model::Side> nearer) {
    if (nearer) {
        run(*database_, "INSERT OR REPLACE INTO nearer_end VALUES (?, ?, ?, ?)", repId, position,
            std::string(name(line)), std::string(name(*nearer)));
    } else {
        run(*database_, "DELETE FROM nearer_end WHERE rep_id = ? AND position = ? AND line = ?",
            repId, position, std::string(name(line)));
    }
}

void Library::setBodyTurns(Id repId, const model::BodyTurns& turns) {
    SQLite::Savepoint whole(*database_, "body_turns");
    run(*database_, "DELETE FROM body_turn WHERE rep_id = ?", repId);
    Statement row(*database_, "INSERT INTO body_turn VALUES (?, ?, ?, ?)");
    for (const auto& [frame, turn] : turns) {
        row.bind(1, repId);
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

void Library::setLandmark(Id repId, int frame, model::Landmark landmark,
                          const std::optional<model::LandmarkPoint>& point) {
    if (point) {
        insertLandmark(*database_, repId, frame, landmark, *point);
    } else {
        run(*database_, "DELETE FROM landmark WHERE rep_id = ? AND frame = ? AND landmark = ?",
            repId, frame, std::string(name(landmark)));
    }
}

void Library::setMachineLandmarks(Id repId, const model::LandmarkTrack& points) {
    SQLite::Savepoint whole(*database_, "machine_landmarks");
    const std::string placed(name(model::Source::placed));
    run(*database_, "DELETE FROM landmark WHERE rep_id = ? AND source <> ?", repId, placed);
    Statement row(*database_, "INSERT OR IGNORE INTO landmark VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    for (const auto& [frame, landmarks] : points) {
        for (const auto& [landmark, point] : landmarks) {
            if (point.source != model::Source::placed) {
                SQLite::bind(row, repId, frame, std::string(name(landmark)), point.px.x, point.px.y,
                             point.sdPx, std::string(name(point.source)), point.hidden ? 1 : 0,
                             point.covered ? 1 : 0);
                row.exec();
                row.reset();
            }
        }
    }
    whole.release();
}

std::vector<std::uint8_t> Library::evidence(Id repId) const {
    Statement row(*database_, "SELECT bytes FROM rep_evidence WHERE rep_id = ?");
    row.bind(1, repId);
    return row.executeStep() ? numbersOf<std::uint8_t>(row.getColumn(0))
                             : std::vector<std::uint8_t>{};
}

void Library::setEvidence(Id repId, const std::vector<std::uint8_t>& bytes) {
    if (bytes.empty()) {
        run(*database_, "DELETE FROM rep_evidence WHERE rep_id = ?", repId);
        return;
    }
    Statement row(*database_, "INSERT OR REPLACE INTO rep_evidence VALUES (?, ?)");
    row.bind(1, repId);
    row.bind(2, bytes.data(), static_cast<int>(bytes.size()));
    row.exec();
}

void Library::setCount(Id repId, const std::string& measure, std::optional<double> turns) {
    if (turns) {
        run(*database_, "INSERT OR REPLACE INTO rep_count VALUES (?, ?, ?)", repId, measure,
            *turns);
    } else {
        run(*database_, "DELETE FROM rep_count WHERE rep_id = ? AND measure = ?", repId, measure);
    }
}

void Library::setObservation(Id repId, const std::string& observation,
                             std::optional<model::Seen> seen) {
    if (seen) {
        run(*database_, "INSERT OR REPLACE INTO observation VALUES (?, ?, ?)", repId, observation,
            std::string(name(*seen)));
    } else {
        run(*database_, "DELETE FROM observation WHERE rep_id = ? AND observation = ?", repId,
            observation);
    }
}

model::PlanChoice Library::planChoice(Id repId) const {
    model::PlanChoice choice;
    Statement row(*database_, "SELECT focus, note FROM plan_choice WHERE rep_id = ?");
    row.bind(1, repId);
    if (row.executeStep()) {
        choice.focusFaultId = row.getColumn(0).getString();
        choice.note = row.getColumn(1).getString();
    }
    Statement drills(*database_, "SELECT drill FROM plan_drill WHERE rep_id = ? ORDER BY place");
    drills.bind(1, repId);
    while (drills.executeStep()) {
        choice.drillIds.push_back(drills.getColumn(0).getString());
    }
    return choice;
}

void Library::save(Id repId, const model::PlanChoice& choice) {
    SQLite::Savepoint whole(*database_, "save");
    run(*database_, "INSERT OR REPLACE INTO plan_choice VALUES (?, ?, ?)", repId,
        choice.focusFaultId, choice.note);
    run(*database_, "DELETE FROM plan_drill WHERE rep_id = ?", repId);
    int place = 0;
    for (const std::string& drill : choice.drillIds) {
        run(*database_, "INSERT INTO plan_drill VALUES (?, ?, ?)", repId, place++, drill);
    }
    whole.release();
}

std::string Library::setting(const std::string& name) const {
    Statement row(*database_, "SELECT value FROM setting WHERE name = ?");
    row.bind(1, name);
    return row.executeStep() ? row.getColumn(0).getString() : std::string();
}

void Library::setSetting(const std::string& name, const std::string& value) {
    run(*database_, "INSERT OR REPLACE INTO setting VALUES (?, ?)", name, value);
}

} // namespace kestrel::records
