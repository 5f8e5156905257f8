#pragma once

#include "model/reading.h"

#include <string>
#include <vector>

/// Findings: what readings mean, and what is given to the player.
namespace kestrel::model {

enum class Confidence { possible, likely, sure };

std::string_view name(Confidence confidence);

/// A fault seen in a rep.
struct Fault {
    std::string faultId;
    std::vector<Reading> evidence;    ///< the readings beyond their range
    std::vector<std::string> denials; ///< observations answered "no" that speak for the fault
    Confidence confidence = Confidence::possible;
    double size = 0.0;                  ///< distance beyond the range in units of u95
    std::vector<std::string> leadsTo;   ///< faults also seen here that follow from this one
    std::vector<std::string> comesFrom; ///< faults also seen here that lead to this one
    bool safety = false;
    int shownIn = 1;     ///< reps of the visit that show it
    int readIn = 1;      ///< reps of the visit in which it could be told
    bool added = false;  ///< the coach says so, no reading does
    bool pinned = false; ///< the coach wants it first
};

/// A reading inside its range, worth keeping.
struct Strength {
    std::string measureId;
    Reading reading;
    int shownIn = 1; ///< reps of the visit in which it is inside
    int readIn = 1;  ///< reps of the visit in which it is judged
};

struct Findings {
    std::vector<Strength> strengths;
    std::vector<Fault> faults;         ///< sure or likely, in order of priority
    std::vector<Fault> watch;          ///< readings at the edge: look again, nothing is claimed
    std::vector<std::string> cautions; ///< text to show whatever the readings say
    Message whyFirst;                  ///< why the first fault comes first; empty without faults
};

/// What the player takes home.
struct Plan {
    std::string focusFaultId; ///< empty when no fault was found
    std::vector<std::string> cueTexts;
    std::vector<std::string> drillIds;
    std::vector<std::string> watchFaultIds; ///< at most two
    std::vector<std::string> strengthIds;   ///< measures to keep, at least one when any is inside
};

} // namespace kestrel::model
