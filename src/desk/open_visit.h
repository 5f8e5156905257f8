#pragma once

#include "coaching/ask_back.h"
#include "coaching/visit.h"
#include "desk/open_clip.h"

#include <QObject>

#include <memory>
#include <optional>
#include <vector>

namespace kestrel::desk {

/// The visit of the open clip, judged: its player's clips of the same day and technique. Only while
/// a clip is open.
class OpenVisit : public QObject {
    Q_OBJECT
  public:
    using Reps = std::vector<std::shared_ptr<const prepare::JudgedRep>>;

    OpenVisit(const records::Library& library, const Shelf& shelf, const OpenClip& open,
              const Judging& judging, FilmIndices& films);

    [[nodiscard]] model::VisitKey key() const;
    /// Its reps as they are judged, with those that cannot be; without those that nobody marked.
    [[nodiscard]] const Reps& reps() const;
    /// All judged reps together, with what the coach decided.
    [[nodiscard]] const coaching::VisitReview& review() const;
    /// What the coach decided after it.
    [[nodiscard]] model::PlanChoice choice() const;
    /// What the plan of the visit before asks now; nothing when there is none. Its homework comes
    /// from that visit.
    [[nodiscard]] std::optional<coaching::AskBack> askBack() const;
    /// The reps of the visit before that is asked about.
    [[nodiscard]] Reps repsBefore() const;
    /// The age whose doses the player gets on the day of the visit: coaching::doseAge().
    [[nodiscard]] std::optional<int> doseAge() const;

  signals:
    /// Films of the visit, or of the one before, became known, so that more of their reps are
    /// judged. Edits tell themselves.
    void moreJudged();

  private:
    [[nodiscard]] std::optional<model::VisitKey> visitBefore() const;
    void forget();

    const records::Library& library_;
    const Shelf& shelf_;
    const OpenClip& open_;
    const Judging& judging_;
    // Made when asked for.
    mutable std::optional<Reps> reps_;
    mutable std::optional<coaching::VisitReview> review_;
    mutable std::optional<Reps> repsBefore_;
};

} // namespace kestrel::desk
