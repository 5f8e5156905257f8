#pragma once

#include "desk/film_indices.h"
#include "desk/shelf.h"
#include "model/clock.h"
#include "prepare/judged_rep.h"
#include "records/library.h"

#include <map>
#include <memory>
#include <vector>

namespace kestrel::desk {

/// Reps of the library as they are judged, each kept until something it depends on changes.
class Judging {
  public:
    Judging(const records::Library& library, const Shelf& shelf, FilmIndices& films,
            model::Clock clock);

    /// For what has to be judged outside of this: circumstances of a rep not yet on disk, and the
    /// like. Films are not waited for.
    [[nodiscard]] const prepare::JudgeSources& sources() const { return sources_; }
    /// The same, but films are waited for: for an edit, which cannot be half done.
    [[nodiscard]] const prepare::JudgeSources& patientSources() const { return patientSources_; }

    [[nodiscard]] std::shared_ptr<const prepare::JudgedRep>
    of(const model::Player& player, const model::Clip& clip, const model::Rep& rep) const;

    /// Lets a rep be judged anew: something that it does not hold itself has changed.
    void forget(model::RepId rep) { kept_.erase(rep); }

    /// The clips and reps of a visit, as they were filmed.
    [[nodiscard]] std::vector<std::pair<model::Clip, model::Rep>>
    repsOf(const model::VisitKey& visit) const;
    /// The same as they are judged; those without any mark are left out, those that cannot be
    /// judged are not.
    [[nodiscard]] std::vector<std::shared_ptr<const prepare::JudgedRep>>
    visit(const model::VisitKey& visit) const;

  private:
    const records::Library& library_;
    prepare::JudgeSources sources_;
    prepare::JudgeSources patientSources_;
    mutable std::map<model::RepId, std::shared_ptr<const prepare::JudgedRep>> kept_; ///< by rep
};

/// Those of a visit that are judged, as its review needs them.
[[nodiscard]] std::vector<coaching::RepOfVisit>
judgedOf(const std::vector<std::shared_ptr<const prepare::JudgedRep>>& reps);

} // namespace kestrel::desk
