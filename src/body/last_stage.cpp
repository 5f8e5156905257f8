#include "body/last_stage.h"

#include "body/body_draws.h"
#include "body/search_end.h"

#include <memory>
#include <utility>

namespace kestrel::body {
namespace {

/// How much farther a body is off than the estimate says. Where a machine followed landmarks
/// between those that a coach placed: how a network errs from pose to pose is not in the model. Set
/// on eight rendered films of players of their own manner (docs/body.md).
constexpr double unmodelled = 1.5;
/// The same where only the key positions are known: how a player does the technique otherwise goes
/// through the whole body, and a limb may be held quite otherwise. Set on 32 films with seeds for
/// setting (`demo body-accuracy --landmarks positions`).
constexpr double unmodelledAtPositions = 1.25;

double unmodelledIn(const SeenRep& rep) {
    return !rep.showsMotion() ? unmodelledAtPositions : rep.errs() ? unmodelled : 1.0;
}

} // namespace

std::optional<FittedBody> drawnBody(BodyProblem& whole, double distanceInformation,
                                    std::vector<Alternative> alternatives,
                                    std::vector<OtherEnd> otherEnds) {
    const double sum = whole.cost();
    const std::shared_ptr<Estimate> estimate = whole.estimate(distanceInformation);
    if (!estimate) {
        return std::nullopt;
    }
    estimate->alternatives = std::move(alternatives);
    estimate->otherEnds = std::move(otherEnds);
    FittedParts parts = drawnFrom(*estimate, unmodelledIn(whole.rep()));
    parts.end = searchEnd(*estimate, distanceInformation, sum);
    return FittedBody(std::move(parts));
}

} // namespace kestrel::body
