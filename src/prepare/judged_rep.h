#pragma once

#include "coaching/normalised_curves.h"
#include "coaching/review.h"
#include "coaching/visit.h"
#include "film/film_index.h"
#include "model/record.h"
#include "prepare/rep_body.h"
#include "records/library.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <functional>
#include <optional>
#include <string>
#include <variant>

/// A rep of the library with its judgement, as one value. It is made here and nowhere else.
namespace kestrel::prepare {

/// Why a rep is not judged.
enum class NotJudged {
    filmBeingRead,  ///< its times are not known yet
    filmMissing,    ///< its film is not in the library any more
    filmUnreadable, ///< its film is there and cannot be read
};

/// A clip's film as far as it is known: its index in whole frames, or why there is none.
using KnownFilm = std::variant<const film::FilmIndex*, NotJudged>;

/// Where a judgement gets what the rep itself does not hold. The references must outlive the value.
struct JudgeSources {
    const records::Library& library;
    /// The pack that a rep is judged with; it must stay where it is.
    std::function<const technique::Pack&(const model::Rep&)> packOf;
    std::function<KnownFilm(const model::Clip&)> filmOf;
    /// Gives the age where the day of filming is not known.
    std::function<model::Day()> today;
};

/// A rep and what is read and found in it, or why nothing is.
struct JudgedRep {
    model::Player player;
    model::Clip clip;
    model::Rep rep;
    const technique::Pack* pack = nullptr; ///< never null in what judgedRep() returns
    std::optional<NotJudged> notJudged;    ///< when set, what follows is empty
    technique::Circumstances circumstances;
    coaching::Review review;
};

/// Judges a rep. A film that is missing or cannot be read is part of the value, not an error.
JudgedRep judgedRep(const JudgeSources& sources, const model::Player& player,
                    const model::Clip& clip, const model::Rep& rep);

/// The circumstances that judgedRep() uses, with those of the clip's other film, or why there are
/// none.
std::variant<technique::Circumstances, NotJudged> circumstancesOf(const JudgeSources& sources,
                                                                  const model::Player& player,
                                                                  const model::Clip& clip,
                                                                  const model::Rep& rep);

/// What is to be worked out of a rep's body in space; nothing when what is kept is of the rep as it
/// is, or the film does not show enough, or cannot be read.
std::optional<BodyWork> bodyToWorkOut(const JudgeSources& sources, const model::Player& player,
                                      const model::Clip& clip, const model::Rep& rep);

/// What a visit's review needs of it. Throws std::logic_error for a rep that is not judged.
coaching::RepOfVisit ofVisit(const JudgedRep& judged);

/// How a measure runs through the rep; empty when the pack does not know the measure or the rep is
/// not judged.
coaching::TimedCourse courseOf(const JudgedRep& judged, const std::string& measureId);

} // namespace kestrel::prepare
