#include "records/schema.h"

#include "model/input_error.h"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>

#include <array>
#include <string>

namespace kestrel::records {
namespace {

/// Entry n brings version n to n + 1. Never edited once released; changes are new entries.
constexpr std::array migrations{
    R"sql(
CREATE TABLE player (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(name) > 0),
    born TEXT NOT NULL DEFAULT '',
    hand TEXT NOT NULL CHECK (hand IN ('right', 'left')),
    height_m REAL,
    consent_given TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE player_school (
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    school TEXT NOT NULL,
    PRIMARY KEY (player_id, school)
) STRICT, WITHOUT ROWID;
CREATE TABLE clip (
    id INTEGER PRIMARY KEY,
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    sha256 TEXT NOT NULL,
    file_name TEXT NOT NULL,
    filmed TEXT NOT NULL DEFAULT '',
    capture_rate REAL,
    view TEXT,
    UNIQUE (player_id, sha256)
) STRICT;
CREATE TABLE rep (
    id INTEGER PRIMARY KEY,
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    technique TEXT NOT NULL,
    variant TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX rep_by_clip ON rep(clip_id);
CREATE TABLE position (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    position TEXT NOT NULL,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    PRIMARY KEY (rep_id, position)
) STRICT, WITHOUT ROWID;
CREATE TABLE landmark (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    landmark TEXT NOT NULL,
    x_px REAL NOT NULL,
    y_px REAL NOT NULL,
    sd_px REAL NOT NULL,
    source TEXT NOT NULL,
    hidden INTEGER NOT NULL CHECK (hidden IN (0, 1)),
    PRIMARY KEY (rep_id, frame, landmark)
) STRICT, WITHOUT ROWID;
CREATE TABLE observation (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    observation TEXT NOT NULL,
    seen TEXT NOT NULL,
    PRIMARY KEY (rep_id, observation)
) STRICT, WITHOUT ROWID;
CREATE TABLE plan_choice (
    rep_id INTEGER PRIMARY KEY REFERENCES rep(id) ON DELETE CASCADE,
    focus TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE plan_drill (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    drill TEXT NOT NULL,
    PRIMARY KEY (rep_id, place)
) STRICT, WITHOUT ROWID;
CREATE TABLE setting (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
ALTER TABLE clip ADD COLUMN brought_from TEXT NOT NULL DEFAULT '';
ALTER TABLE clip ADD COLUMN as_fields INTEGER NOT NULL DEFAULT 0 CHECK (as_fields IN (0, 1));
ALTER TABLE clip ADD COLUMN steadied INTEGER NOT NULL DEFAULT 0 CHECK (steadied IN (0, 1));
CREATE TABLE clip_speed (
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    from_frame INTEGER NOT NULL CHECK (from_frame >= 0),
    slowdown REAL NOT NULL CHECK (slowdown > 0),
    PRIMARY KEY (clip_id, from_frame)
) STRICT, WITHOUT ROWID;
CREATE TABLE clip_study (
    clip_id INTEGER PRIMARY KEY REFERENCES clip(id) ON DELETE CASCADE,
    brightness REAL NOT NULL,
    too_bright REAL NOT NULL,
    too_dark REAL NOT NULL,
    mover_left REAL,
    mover_top REAL,
    mover_width REAL,
    mover_height REAL,
    energy BLOB NOT NULL,
    camera BLOB NOT NULL
) STRICT;
CREATE TABLE film_file (
    file_name TEXT PRIMARY KEY,
    bytes INTEGER NOT NULL,
    modified INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
ALTER TABLE rep ADD COLUMN shot_type TEXT NOT NULL DEFAULT '';
ALTER TABLE rep ADD COLUMN result TEXT NOT NULL DEFAULT '';
ALTER TABLE rep ADD COLUMN first_frame INTEGER CHECK (first_frame >= 0);
ALTER TABLE rep ADD COLUMN last_frame INTEGER CHECK (last_frame >= first_frame);
)sql",
    R"sql(
CREATE TABLE rep_evidence (
    rep_id INTEGER PRIMARY KEY REFERENCES rep(id) ON DELETE CASCADE,
    bytes BLOB NOT NULL
) STRICT;
)sql",
    R"sql(
CREATE TABLE found_position (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    position TEXT NOT NULL,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    sd_s REAL NOT NULL,
    confidence REAL NOT NULL,
    PRIMARY KEY (rep_id, position)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
ALTER TABLE landmark ADD COLUMN covered INTEGER NOT NULL DEFAULT 0 CHECK (covered IN (0, 1));
CREATE TABLE body_turn (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    hips_px REAL,
    shoulders_px REAL,
    PRIMARY KEY (rep_id, frame)
) STRICT, WITHOUT ROWID;
CREATE TABLE nearer_end (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    position TEXT NOT NULL,
    line TEXT NOT NULL CHECK (line IN ('hips', 'shoulders')),
    side TEXT NOT NULL CHECK (side IN ('left', 'right')),
    PRIMARY KEY (rep_id, position, line)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
CREATE TABLE clip_ground (
    clip_id INTEGER PRIMARY KEY REFERENCES clip(id) ON DELETE CASCADE,
    place TEXT NOT NULL,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    along_m REAL NOT NULL,
    across_m REAL NOT NULL
) STRICT;
CREATE TABLE rep_count (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    measure TEXT NOT NULL,
    turns REAL NOT NULL CHECK (turns >= 0),
    PRIMARY KEY (rep_id, measure)
) STRICT, WITHOUT ROWID;
CREATE TABLE clip_ground_mark (
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    point TEXT NOT NULL,
    x REAL NOT NULL,
    y REAL NOT NULL,
    PRIMARY KEY (clip_id, point)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
CREATE TABLE pack_edition (
    id INTEGER PRIMARY KEY,
    technique TEXT NOT NULL,
    text TEXT NOT NULL
) STRICT;
ALTER TABLE rep ADD COLUMN pack_edition INTEGER REFERENCES pack_edition(id);
CREATE TABLE rep_school (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    school TEXT NOT NULL,
    PRIMARY KEY (rep_id, school)
) STRICT, WITHOUT ROWID;
CREATE TABLE clip_school (
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    school TEXT NOT NULL,
    PRIMARY KEY (clip_id, school)
) STRICT, WITHOUT ROWID;
ALTER TABLE player ADD COLUMN sex TEXT NOT NULL DEFAULT '' CHECK (sex IN ('', 'girl', 'boy'));
CREATE TABLE player_height (
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    measured TEXT NOT NULL,
    metres REAL NOT NULL CHECK (metres > 0),
    PRIMARY KEY (player_id, measured)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
CREATE TABLE clip_pair (
    clip_id INTEGER PRIMARY KEY REFERENCES clip(id) ON DELETE CASCADE,
    other_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE
) STRICT;
)sql",
    R"sql(
CREATE TABLE visit (
    id INTEGER PRIMARY KEY,
    player_id INTEGER NOT NULL REFERENCES player(id) ON DELETE CASCADE,
    filmed TEXT NOT NULL,
    technique TEXT NOT NULL,
    focus TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '',
    minutes INTEGER CHECK (minutes > 0),
    field_drills INTEGER NOT NULL DEFAULT 1 CHECK (field_drills IN (0, 1)),
    next_visit TEXT NOT NULL DEFAULT '',
    UNIQUE (player_id, filmed, technique)
) STRICT;
CREATE TABLE visit_drill (
    visit_id INTEGER NOT NULL REFERENCES visit(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    drill TEXT NOT NULL,
    PRIMARY KEY (visit_id, place)
) STRICT, WITHOUT ROWID;
CREATE TABLE visit_finding (
    visit_id INTEGER NOT NULL REFERENCES visit(id) ON DELETE CASCADE,
    fault TEXT NOT NULL,
    dismissed INTEGER NOT NULL CHECK (dismissed IN (0, 1)),
    reason TEXT NOT NULL,
    pinned INTEGER NOT NULL CHECK (pinned IN (0, 1)),
    added INTEGER NOT NULL CHECK (added IN (0, 1)),
    name TEXT NOT NULL,
    meaning TEXT NOT NULL,
    PRIMARY KEY (visit_id, fault)
) STRICT, WITHOUT ROWID;
CREATE TABLE visit_wish (
    visit_id INTEGER NOT NULL REFERENCES visit(id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('weekday', 'lacks', 'throws', 'moved')),
    name TEXT NOT NULL,
    value TEXT NOT NULL,
    PRIMARY KEY (visit_id, kind, name)
) STRICT, WITHOUT ROWID;
CREATE TABLE homework (
    visit_id INTEGER NOT NULL REFERENCES visit(id) ON DELETE CASCADE,
    day TEXT NOT NULL,
    place INTEGER NOT NULL,
    drill TEXT NOT NULL,
    minutes INTEGER NOT NULL,
    dose TEXT NOT NULL,
    stage TEXT NOT NULL CHECK (stage IN ('learn', 'settle', 'play')),
    done_on TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (visit_id, day, drill)
) STRICT, WITHOUT ROWID;
INSERT OR IGNORE INTO visit (player_id, filmed, technique, focus, note)
    SELECT clip.player_id, clip.filmed, rep.technique, plan_choice.focus, plan_choice.note
    FROM plan_choice JOIN rep ON rep.id = plan_choice.rep_id JOIN clip ON clip.id = rep.clip_id
    ORDER BY plan_choice.rep_id DESC;
INSERT OR IGNORE INTO visit_drill
    SELECT visit.id, plan_drill.place, plan_drill.drill
    FROM plan_drill JOIN rep ON rep.id = plan_drill.rep_id JOIN clip ON clip.id = rep.clip_id
    JOIN visit ON visit.player_id = clip.player_id AND visit.filmed = clip.filmed
        AND visit.technique = rep.technique
    WHERE plan_drill.rep_id = (SELECT max(p.rep_id) FROM plan_choice p JOIN rep r ON r.id = p.rep_id
        JOIN clip c ON c.id = r.clip_id WHERE c.player_id = clip.player_id
        AND c.filmed = clip.filmed AND r.technique = rep.technique);
DROP TABLE plan_drill;
DROP TABLE plan_choice;
CREATE TABLE review_step (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('run', 'stop')),
    first_frame INTEGER NOT NULL CHECK (first_frame >= 0),
    last_frame INTEGER NOT NULL,
    speed REAL NOT NULL CHECK (speed > 0),
    seconds REAL NOT NULL CHECK (seconds > 0),
    caption TEXT NOT NULL,
    position TEXT NOT NULL,
    measure TEXT NOT NULL,
    pointer_x REAL,
    pointer_y REAL,
    beside_rep INTEGER NOT NULL,
    voice TEXT NOT NULL,
    PRIMARY KEY (rep_id, place)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
CREATE TABLE limb_fold (
    rep_id INTEGER NOT NULL REFERENCES rep(id) ON DELETE CASCADE,
    position TEXT NOT NULL,
    joint TEXT NOT NULL,
    fold TEXT NOT NULL CHECK (fold IN ('together', 'through')),
    PRIMARY KEY (rep_id, position, joint)
) STRICT, WITHOUT ROWID;
)sql",
    R"sql(
CREATE TABLE clip_ground_edge (
    clip_id INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
    edge INTEGER NOT NULL,
    place INTEGER NOT NULL,
    x REAL NOT NULL,
    y REAL NOT NULL,
    PRIMARY KEY (clip_id, edge, place)
) STRICT, WITHOUT ROWID;
ALTER TABLE clip_pair ADD COLUMN heard_later REAL;
ALTER TABLE clip_pair ADD COLUMN heard_sd REAL;
)sql",
    // A dose is what the drill says; that it is stepped up follows from the plan and is worded
    // there.
    R"sql(
UPDATE homework SET dose = substr(dose, 1, length(dose) - length(', stepped up'))
WHERE dose LIKE '%, stepped up';
)sql",
    R"sql(
CREATE TABLE rep_body (
    rep_id INTEGER PRIMARY KEY REFERENCES rep(id) ON DELETE CASCADE,
    key TEXT NOT NULL,
    bytes BLOB NOT NULL
) STRICT;
)sql",
    R"sql(
ALTER TABLE clip ADD COLUMN found_view TEXT;
ALTER TABLE clip ADD COLUMN found_view_off REAL;
)sql",
    // What an editor did to a film is told of those looked at from now on.
    R"sql(
ALTER TABLE clip_study ADD COLUMN inside_left REAL;
ALTER TABLE clip_study ADD COLUMN inside_top REAL;
ALTER TABLE clip_study ADD COLUMN inside_width REAL;
ALTER TABLE clip_study ADD COLUMN inside_height REAL;
ALTER TABLE clip_study ADD COLUMN repeated REAL NOT NULL DEFAULT 0;
ALTER TABLE clip_study ADD COLUMN breaks BLOB NOT NULL DEFAULT x'';
ALTER TABLE clip_study ADD COLUMN graphics BLOB NOT NULL DEFAULT x'';
)sql"};

} // namespace

int schemaVersion() {
    return static_cast<int>(migrations.size());
}

void migrate(SQLite::Database& database, const std::filesystem::path& file) {
    int version = database.execAndGet("PRAGMA user_version").getInt();
    if (version > schemaVersion()) {
        throw model::InputError(model::message("library.newer", version, schemaVersion()),
                                model::message("safe.library_not_touched"),
                                model::message("todo.newer_program"));
    }
    const bool isNew = version == 0; // nothing to keep a copy of
    for (; version < schemaVersion(); ++version) {
        if (!isNew) {
            std::filesystem::path backup = file;
            backup.replace_extension(".before-v" + std::to_string(version + 1) + ".sqlite");
            SQLite::Database copy(backup.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
            SQLite::Backup(copy, database).executeStep();
        }
        SQLite::Transaction transaction(database);
        database.exec(migrations.at(static_cast<std::size_t>(version)));
        database.exec("PRAGMA user_version = " + std::to_string(version + 1));
        transaction.commit();
    }
}

} // namespace kestrel::records
