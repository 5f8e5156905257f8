#pragma once

#include "model/finding.h"
#include "model/record.h"
#include "technique/pack/pack.h"

#include <map>
#include <set>
#include <string>
#include <vector>

/// From readings to findings: strengths, faults with their chains, and which comes first.
namespace kestrel::coaching {

/// Derives the findings of one rep.
///
/// A fault is claimed only when its sign lies wholly outside its range (or an observation was
/// answered no); a sign at the edge goes to `watch`. Confidence is `sure` when the reading lies
/// beyond the limit by at least twice its 95 % half width or the coach saw it, `likely` otherwise.
///
/// Order: safety first — and what comes first there is the earliest cause present of the safety
/// fault, because that is what has to change; then the earliest causes that explain most of the
/// other faults present; then size against the uncertainty.
///
/// Faults that belong to a school count only when it is among `schools` (the pack's defaults fill
/// questions left open).
model::Findings findingsOf(const technique::Pack& pack, const std::vector<model::Reading>& readings,
                           const std::map<std::string, model::Seen>& observations,
                           const std::set<std::string>& schools);

/// Finds how the faults hang together (leadsTo, comesFrom), puts them in the order above, those
/// that the coach pinned first; of equally far ones those first that more of the reps show. Returns
/// why the first one comes first, empty for none.
model::Message putInOrder(const technique::Pack& pack, std::vector<model::Fault>& faults);

/// Whether something could be said of a fault at all: a sign was judged or its question answered
/// yes or no; of a fault that needs all its signs, every one was.
bool couldBeTold(const technique::FaultDefinition& fault,
                 const std::vector<model::Reading>& readings,
                 const std::map<std::string, model::Seen>& observations);

} // namespace kestrel::coaching
