#pragma once

#include "desk/edit_stack.h"
#include "desk/open_visit.h"
#include "desk/shelf.h"
#include "model/clock.h"

#include <QCoreApplication>

#include <string>
#include <vector>

namespace kestrel::desk {

/// Edits of what is decided after the visit of the open clip. Only while a clip is open.
class PlanEdits {
    Q_DECLARE_TR_FUNCTIONS(kestrel::desk::PlanEdits)
  public:
    PlanEdits(records::Library& library, const OpenClip& open, const OpenVisit& visit,
              const Shelf& shelf, EditStack& edits, model::Clock clock)
        : library_(library),
          open_(open),
          visit_(visit),
          shelf_(shelf),
          edits_(edits),
          clock_(std::move(clock)) {}

    void setPlanChoice(const model::PlanChoice& choice, const QString& what);
    /// Plans the homework of the visit anew as far as it lies ahead of today, and keeps focus and
    /// drills as they are proposed now. Returns what could not be done as wished.
    std::vector<model::Message> planHomework(const model::PlanWish& wish, const QString& what);
    /// Ticks a drill of a day of homework, or takes the tick back.
    void setDone(const model::VisitKey& visit, model::Day day, const std::string& drillId,
                 bool done);

  private:
    records::Library& library_;
    const OpenClip& open_;
    const OpenVisit& visit_;
    const Shelf& shelf_;
    EditStack& edits_;
    model::Clock clock_;
};

} // namespace kestrel::desk
