#pragma once

#include "model/record.h"

#include <compare>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

/// A visit and what the coach decides after it: findings, focus, homework.
namespace kestrel::model {

/// What a player was filmed for: one technique on one day, however many clips and reps.
struct VisitKey {
    PlayerId playerId;
    Day filmed; ///< empty: all clips of the technique whose day is not known
    std::string techniqueId;

    friend auto operator<=>(const VisitKey&, const VisitKey&) = default;
};

/// What the coach says of one fault of the pack, whatever the readings say.
struct FindingWord {
    bool dismissed = false; ///< does not count; it stays recorded
    std::string reason;     ///< why it was dismissed
    bool pinned = false;    ///< stands before those that are not
    bool added = false;     ///< the coach saw it, the readings do not show it
    std::string name;       ///< in the coach's words; empty: as the pack names it
    std::string meaning;    ///< likewise

    friend bool operator==(const FindingWord&, const FindingWord&) = default;
};

/// What the coach decided to give the player after a visit; empty fields follow the program's
/// proposal.
struct PlanChoice {
    std::string focusFaultId;
    std::vector<std::string> drillIds; ///< of the whole drill library, not only of the focus
    std::string note;
    std::map<std::string, FindingWord> findings; ///< by fault id

    friend bool operator==(const PlanChoice&, const PlanChoice&) = default;
};

/// What the homework has to fit into.
struct PlanWish {
    std::set<int> weekdays;      ///< ISO 8601: 1 Monday to 7 Sunday
    int minutes = 15;            ///< a session
    bool fieldDrills = true;     ///< whether drills on the field can be done between the visits
    std::set<std::string> lacks; ///< equipment that the player does not have
    Day nextVisit;               ///< empty: none is agreed
    std::map<int, int> throwsOn; ///< weekday → throws of a usual game or practice
    std::map<Day, Day> moved;    ///< sessions moved by hand: proposed day → the coach's day

    friend bool operator==(const PlanWish&, const PlanWish&) = default;
};

/// How far the homework is along its way.
enum class Stage {
    learn,  ///< slowly and exactly, without a ball
    settle, ///< at the usual speed, with aids
    play,   ///< on the field and harder
};

std::string_view name(Stage stage);
std::optional<Stage> stageFromName(std::string_view text);

/// One drill on one day of homework.
struct HomeworkItem {
    Day day;
    std::string drillId;
    int minutes = 0;
    std::string dose;
    Stage stage = Stage::learn;
    Day doneOn; ///< the day the tick came in; empty: not done, or not known

    friend bool operator==(const HomeworkItem&, const HomeworkItem&) = default;
};

/// By day, then as the drills follow each other.
using Homework = std::vector<HomeworkItem>;

} // namespace kestrel::model
