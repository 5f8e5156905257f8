#include "records/library.h"

#include "model/input_error.h"
#include "records/schema.h"
#include "records/sql.h"

#include <SQLiteCpp/Savepoint.h>
#include <SQLiteCpp/Transaction.h>

#include <set>
#include <stdexcept>

namespace kestrel::records {
namespace {

using model::ClipId;
using model::EditionId;
using model::PlayerId;
using model::RepId;
using SQLite::Statement;

model::Player playerFrom(const Statement& row, SQLite::Database& database) {
    model::Player player;
    player.id = PlayerId(row.getColumn("id").getInt64());
    player.name = row.getColumn("name").getString();
    player.born = dayIn(row.getColumn("born"));
    player.hand = *model::handFromName(row.getColumn("hand").getString());
    if (const auto height = optionalDouble(row.getColumn("height_m"))) {
        player.height = model::Metres(*height);
    }
    player.consentGiven = dayIn(row.getColumn("consent_given"));
    player.note = row.getColumn("note").getString();
    player.sex = model::sexFromName(row.getColumn("sex").getString());
    player.schools = schoolsIn(database, "player_school", "player_id", player.id);
    return player;
}

std::optional<model::GroundMarks> groundOf(SQLite::Database& database, ClipId clipId) {
    Statement row(database, "SELECT place, frame, along_m, across_m FROM clip_ground "
                            "WHERE clip_id = ?");
    row.bind(1, clipId.value);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::GroundMarks ground;
    ground.placeId = row.getColumn(0).getString();
    ground.frame = row.getColumn(1).getInt();
    ground.alongM = model::Metres(row.getColumn(2).getDouble());
    ground.acrossM = model::Metres(row.getColumn(3).getDouble());
    Statement marks(database, "SELECT point, x, y FROM clip_ground_mark WHERE clip_id = ?");
    marks.bind(1, clipId.value);
    while (marks.executeStep()) {
        ground.points[marks.getColumn(0).getString()] = {marks.getColumn(1).getDouble(),
                                                         marks.getColumn(2).getDouble()};
    }
    Statement edges(database, "SELECT edge, x, y FROM clip_ground_edge WHERE clip_id = ? "
                              "ORDER BY edge, place");
    edges.bind(1, clipId.value);
    while (edges.executeStep()) {
        const auto edge = static_cast<std::size_t>(edges.getColumn(0).getInt());
        ground.straightEdges.resize(std::max(ground.straightEdges.size(), edge + 1));
        ground.straightEdges[edge].push_back(
            {edges.getColumn(1).getDouble(), edges.getColumn(2).getDouble()});
    }
    return ground;
}

void saveGround(SQLite::Database& database, ClipId clipId,
                const std::optional<model::GroundMarks>& ground) {
    run(database, "DELETE FROM clip_ground WHERE clip_id = ?", clipId);
    run(database, "DELETE FROM clip_ground_mark WHERE clip_id = ?", clipId);
    run(database, "DELETE FROM clip_ground_edge WHERE clip_id = ?", clipId);
    if (!ground) {
        return;
    }
    run(database, "INSERT INTO clip_ground VALUES (?, ?, ?, ?, ?)", clipId, ground->placeId,
        ground->frame, ground->alongM.value, ground->acrossM.value);
    for (const auto& [point, px] : ground->points) {
        run(database, "INSERT INTO clip_ground_mark VALUES (?, ?, ?, ?)", clipId, point, px.x,
            px.y);
    }
    for (std::size_t edge = 0; edge < ground->straightEdges.size(); ++edge) {
        const auto& points = ground->straightEdges[edge];
        for (std::size_t place = 0; place < points.size(); ++place) {
            run(database, "INSERT INTO clip_ground_edge VALUES (?, ?, ?, ?, ?)", clipId,
                static_cast<std::int64_t>(edge), static_cast<std::int64_t>(place), points[place].x,
                points[place].y);
        }
    }
}

/// A clip with all that is kept of it from its row.
model::Clip clipFrom(const Statement& row, SQLite::Database& database) {
    model::Clip clip;
    clip.id = ClipId(row.getColumn("id").getInt64());
    clip.playerId = PlayerId(row.getColumn("player_id").getInt64());
    clip.title = row.getColumn("title").getString();
    clip.sha256 = row.getColumn("sha256").getString();
    clip.fileName = row.getColumn("file_name").getString();
    clip.filmed = dayIn(row.getColumn("filmed"));
    clip.captureRate = optionalDouble(row.getColumn("capture_rate"));
    clip.view = model::viewFromName(row.getColumn("view").getString());
    if (const auto found = model::viewFromName(row.getColumn("found_view").getString())) {
        clip.foundView =
            model::FoundView{*found, model::Degrees(row.getColumn("found_view_off").getDouble())};
    }
    clip.broughtFrom = row.getColumn("brought_from").getString();
    clip.asFields = row.getColumn("as_fields").getInt() != 0;
    clip.steadied = row.getColumn("steadied").getInt() != 0;
    clip.speeds = rowsOf(
        database,
        "SELECT from_frame, slowdown FROM clip_speed WHERE clip_id = ? ORDER BY from_frame",
        [](const Statement& speed) {
            return model::SpeedStretch{speed.getColumn(0).getInt(), speed.getColumn(1).getDouble()};
        },
        clip.id);
    clip.ground = groundOf(database, clip.id);
    clip.schools = schoolsIn(database, "clip_school", "clip_id", clip.id);
    return clip;
}

} // namespace

Library::Library(const std::filesystem::path& folder, std::chrono::milliseconds patience)
    : folder_(folder) {
    namespace fs = std::filesystem;
    try {
        fs::create_directories(clipFolder());
        fs::permissions(folder_, fs::perms::owner_all);
        fs::permissions(clipFolder(), fs::perms::owner_all);
        const fs::path file = folder_ / "library.sqlite";
        database_ = std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READWRITE |
                                                                          SQLite::OPEN_CREATE);
        fs::permissions(file, fs::perms::owner_read | fs::perms::owner_write);
        database_->setBusyTimeout(static_cast<int>(patience.count()));
        database_->exec("PRAGMA journal_mode = WAL");
        database_->exec("PRAGMA synchronous = FULL");
        database_->exec("PRAGMA foreign_keys = ON");
        migrate(*database_, file);
    } catch (const fs::filesystem_error& error) {
        throw model::InputError(
            model::message("library.folder_unusable", folder.string(), error.code().message()),
            model::message("safe.nothing_changed"), model::message("todo.choose_folder"));
    } catch (const SQLite::Exception& error) {
        throw model::InputError(model::message("library.not_opened", folder.string(), error.what()),
                                model::message("safe.library_files_left"),
                                model::message("todo.close_others"));
    }
    removeStrayFiles();
}

Library::~Library() = default;

void Library::atomically(const std::function<void()>& changes) {
    if (changing_) {
        SQLite::Savepoint part(*database_, "together");
        changes();
        part.release();
        return;
    }
    // Writing from the start: a change that begins by reading would be refused at once, without
    // any patience, when another program has written in between.
    SQLite::Transaction whole(*database_, SQLite::TransactionBehavior::IMMEDIATE);
    changing_ = true;
    try {
        changes();
        whole.commit();
    } catch (...) {
        changing_ = false;
        throw;
    }
    changing_ = false;
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
    return rowsOf(*database_, "SELECT * FROM player ORDER BY name COLLATE NOCASE, id",
                  [&](const Statement& row) { return playerFrom(row, *database_); });
}

std::optional<model::Player> Library::player(PlayerId id) const {
    return firstRowOf(
        *database_, "SELECT * FROM player WHERE id = ?",
        [&](const Statement& row) { return playerFrom(row, *database_); }, id);
}

PlayerId Library::save(const model::Player& player) {
    SQLite::Savepoint whole(*database_, "save");
    Statement row(*database_,
                  "INSERT INTO player (id, name, born, hand, height_m, consent_given, note, sex) "
                  "VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET "
                  "name = excluded.name, born = excluded.born, hand = excluded.hand, "
                  "height_m = excluded.height_m, consent_given = excluded.consent_given, "
                  "note = excluded.note, sex = excluded.sex");
    row.bind(1, player.id.value);
    row.bind(2, player.name);
    row.bind(3, player.born.iso());
    row.bind(4, std::string(name(player.hand)));
    bindOptional(row, 5, player.height ? std::optional(player.height->value) : std::nullopt);
    row.bind(6, player.consentGiven.iso());
    row.bind(7, player.note);
    row.bind(8, player.sex ? std::string(name(*player.sex)) : std::string());
    row.exec();
    const auto id = storedId(*database_, player.id);
    saveSchools(*database_, "player_school", "player_id", id, player.schools);
    whole.release();
    return id;
}

std::optional<ClipId> Library::pairOf(ClipId clipId) const {
    Statement row(*database_, "SELECT other_id FROM clip_pair WHERE clip_id = ?");
    row.bind(1, clipId.value);
    return row.executeStep() ? std::optional(ClipId(row.getColumn(0).getInt64())) : std::nullopt;
}

void Library::setPair(ClipId clipId, std::optional<ClipId> otherId) {
    SQLite::Savepoint whole(*database_, "pair");
    run(*database_, "DELETE FROM clip_pair WHERE clip_id = ?1 OR other_id = ?1", clipId);
    if (otherId) {
        run(*database_, "DELETE FROM clip_pair WHERE clip_id = ?1 OR other_id = ?1", *otherId);
        run(*database_, "INSERT INTO clip_pair (clip_id, other_id) VALUES (?, ?)", clipId,
            *otherId);
        run(*database_, "INSERT INTO clip_pair (clip_id, other_id) VALUES (?, ?)", *otherId,
            clipId);
    }
    whole.release();
}

std::optional<model::SyncOffset> Library::syncOffset(ClipId clipId) const {
    Statement row(*database_, "SELECT heard_later, heard_sd FROM clip_pair WHERE clip_id = ? "
                              "AND heard_later IS NOT NULL");
    row.bind(1, clipId.value);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    return model::SyncOffset{row.getColumn(0).getDouble(), row.getColumn(1).getDouble()};
}

void Library::setSyncOffset(ClipId clipId, const std::optional<model::SyncOffset>& step) {
    SQLite::Savepoint whole(*database_, "heard");
    run(*database_,
        "UPDATE clip_pair SET heard_later = NULL, heard_sd = NULL WHERE ?1 IN (clip_id, other_id)",
        clipId);
    if (step) {
        run(*database_, "UPDATE clip_pair SET heard_later = ?, heard_sd = ? WHERE clip_id = ?",
            step->seconds, step->sd, clipId);
        run(*database_, "UPDATE clip_pair SET heard_later = ?, heard_sd = ? WHERE other_id = ?",
            -step->seconds, step->sd, clipId);
    }
    whole.release();
}

std::map<model::Day, model::Metres> Library::heights(PlayerId playerId) const {
    std::map<model::Day, model::Metres> heights;
    Statement rows(*database_, "SELECT measured, metres FROM player_height WHERE player_id = ?");
    rows.bind(1, playerId.value);
    while (rows.executeStep()) {
        heights.emplace(dayIn(rows.getColumn(0)), model::Metres(rows.getColumn(1).getDouble()));
    }
    return heights;
}

void Library::setHeight(PlayerId playerId, model::Day measured,
                        std::optional<model::Metres> height) {
    if (height) {
        run(*database_, "INSERT OR REPLACE INTO player_height VALUES (?, ?, ?)", playerId, measured,
            height->value);
    } else {
        run(*database_, "DELETE FROM player_height WHERE player_id = ? AND measured = ?", playerId,
            measured);
    }
}

void Library::removePlayer(PlayerId id) {
    if (!clips(id).empty()) {
        throw std::logic_error("the player has clips");
    }
    run(*database_, "DELETE FROM player WHERE id = ?", id);
}

std::vector<model::Clip> Library::clips(PlayerId playerId) const {
    return rowsOf(
        *database_, "SELECT * FROM clip WHERE player_id = ? ORDER BY filmed DESC, id DESC",
        [&](const Statement& row) { return clipFrom(row, *database_); }, playerId);
}

std::optional<model::Clip> Library::clip(ClipId id) const {
    return firstRowOf(
        *database_, "SELECT * FROM clip WHERE id = ?",
        [&](const Statement& row) { return clipFrom(row, *database_); }, id);
}

std::optional<model::Clip> Library::clipByHash(PlayerId playerId, const std::string& sha256) const {
    return firstRowOf(
        *database_, "SELECT * FROM clip WHERE player_id = ? AND sha256 = ?",
        [&](const Statement& row) { return clipFrom(row, *database_); }, playerId, sha256);
}

ClipId Library::save(const model::Clip& clip) {
    SQLite::Savepoint whole(*database_, "save");
    const auto before = !clip.id.stored() ? std::nullopt : this->clip(clip.id);
    const model::Day filmedBefore = before ? before->filmed : clip.filmed;
    Statement row(*database_, "INSERT INTO clip (id, player_id, title, sha256, file_name, filmed, "
                              "capture_rate, view, brought_from, as_fields, steadied, "
                              "found_view, found_view_off) "
                              "VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) "
                              "ON CONFLICT (id) DO UPDATE SET title = excluded.title, "
                              "filmed = excluded.filmed, capture_rate = excluded.capture_rate, "
                              "view = excluded.view, brought_from = excluded.brought_from, "
                              "as_fields = excluded.as_fields, steadied = excluded.steadied, "
                              "found_view = excluded.found_view, "
                              "found_view_off = excluded.found_view_off");
    row.bind(1, clip.id.value);
    row.bind(2, clip.playerId.value);
    row.bind(3, clip.title);
    row.bind(4, clip.sha256);
    row.bind(5, clip.fileName);
    row.bind(6, clip.filmed.iso());
    bindOptional(row, 7, clip.captureRate);
    if (clip.view) {
        row.bind(8, std::string(name(*clip.view)));
    } else {
        row.bind(8);
    }
    row.bind(9, clip.broughtFrom);
    row.bind(10, clip.asFields ? 1 : 0);
    row.bind(11, clip.steadied ? 1 : 0);
    if (clip.foundView) {
        row.bind(12, std::string(name(clip.foundView->view)));
        row.bind(13, clip.foundView->off.value);
    } else {
        row.bind(12);
        row.bind(13);
    }
    row.exec();
    const auto id = storedId(*database_, clip.id);
    run(*database_, "DELETE FROM clip_speed WHERE clip_id = ?", id);
    for (const model::SpeedStretch& stretch : clip.speeds) {
        run(*database_, "INSERT INTO clip_speed VALUES (?, ?, ?)", id, stretch.fromFrame,
            stretch.slowdown);
    }
    if (clip.filmed != filmedBefore) {
        // What was decided after the visit goes along when its last clip gets another day.
        run(*database_,
            "UPDATE OR IGNORE visit SET filmed = ?3 WHERE player_id = ?1 AND filmed = "
            "?2 AND NOT EXISTS (SELECT 1 FROM clip WHERE player_id = ?1 AND filmed = ?2)",
            clip.playerId, filmedBefore, clip.filmed);
    }
    saveGround(*database_, id, clip.ground);
    saveSchools(*database_, "clip_school", "clip_id", id, clip.schools);
    whole.release();
    return id;
}

namespace {

/// The four columns of a box; nothing where it is not known.
std::optional<model::PixelBox> boxOf(Statement& row, const std::string& name) {
    const auto column = [&](const char* part) { return row.getColumn((name + part).c_str()); };
    if (column("_left").isNull()) {
        return std::nullopt;
    }
    return model::PixelBox{column("_left").getDouble(), column("_top").getDouble(),
                           column("_width").getDouble(), column("_height").getDouble()};
}

void bindBox(Statement& row, int first, const std::optional<model::PixelBox>& box) {
    bindOptional(row, first, box ? std::optional(box->left) : std::nullopt);
    bindOptional(row, first + 1, box ? std::optional(box->top) : std::nullopt);
    bindOptional(row, first + 2, box ? std::optional(box->width) : std::nullopt);
    bindOptional(row, first + 3, box ? std::optional(box->height) : std::nullopt);
}

template <class T> void bindBlob(Statement& row, int place, const std::vector<T>& numbers) {
    const std::string blob = blobOf(numbers);
    row.bind(place, blob.data(), static_cast<int>(blob.size()));
}

} // namespace

std::optional<model::FilmStudy> Library::study(ClipId clipId) const {
    Statement row(*database_, "SELECT * FROM clip_study WHERE clip_id = ?");
    row.bind(1, clipId.value);
    if (!row.executeStep()) {
        return std::nullopt;
    }
    model::FilmStudy study;
    study.brightness = row.getColumn("brightness").getDouble();
    study.tooBright = row.getColumn("too_bright").getDouble();
    study.tooDark = row.getColumn("too_dark").getDouble();
    study.mover = boxOf(row, "mover");
    study.insideBars = boxOf(row, "inside");
    study.repeated = row.getColumn("repeated").getDouble();
    study.energy = numbersOf<float>(row.getColumn("energy"));
    study.camera = numbersOf<model::CameraPose>(row.getColumn("camera"));
    study.breaks = numbersOf<model::FilmBreak>(row.getColumn("breaks"));
    study.graphics = numbersOf<model::GraphicSeen>(row.getColumn("graphics"));
    return study;
}

void Library::save(ClipId clipId, const model::FilmStudy& study) {
    Statement row(*database_, "INSERT OR REPLACE INTO clip_study VALUES "
                              "(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    row.bind(1, clipId.value);
    row.bind(2, study.brightness);
    row.bind(3, study.tooBright);
    row.bind(4, study.tooDark);
    bindBox(row, 5, study.mover);
    bindBlob(row, 9, study.energy);
    bindBlob(row, 10, study.camera);
    bindBox(row, 11, study.insideBars);
    row.bind(15, study.repeated);
    bindBlob(row, 16, study.breaks);
    bindBlob(row, 17, study.graphics);
    row.exec();
}

void Library::removeStudy(ClipId clipId) {
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

void Library::removeClip(ClipId id) {
    run(*database_, "DELETE FROM clip WHERE id = ?", id);
}

std::vector<ClipId> Library::clipsNotLookedAt() const {
    std::vector<ClipId> ids;
    Statement rows(*database_,
                   "SELECT id FROM clip WHERE EXISTS (SELECT 1 FROM rep WHERE clip_id = clip.id "
                   "AND NOT EXISTS (SELECT 1 FROM position WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM landmark WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM observation WHERE rep_id = rep.id) "
                   "AND NOT EXISTS (SELECT 1 FROM rep_evidence WHERE rep_id = rep.id)) "
                   "ORDER BY filmed, id");
    while (rows.executeStep()) {
        ids.emplace_back(rows.getColumn(0).getInt64());
    }
    return ids;
}

EditionId Library::keepEdition(const std::string& techniqueId, const std::string& text) {
    Statement row(*database_, "SELECT id FROM pack_edition WHERE technique = ? AND text = ?");
    SQLite::bind(row, techniqueId, text);
    if (row.executeStep()) {
        return EditionId(row.getColumn(0).getInt64());
    }
    run(*database_, "INSERT INTO pack_edition (technique, text) VALUES (?, ?)", techniqueId, text);
    return EditionId(database_->getLastInsertRowid());
}

std::string Library::edition(EditionId id) const {
    Statement row(*database_, "SELECT text FROM pack_edition WHERE id = ?");
    row.bind(1, id.value);
    return row.executeStep() ? row.getColumn(0).getString() : std::string();
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
