#pragma once

#include "body/fitted_body.h"
#include "body/seen_rep.h"

#include <optional>

namespace kestrel::body {

/// The body of a rep of which little is otherwise than it was when `before` was fitted: a landmark
/// was moved, say. Goes on from there; that limbs lean to the other side is looked at where places
/// moved, and nothing else is searched anew, so that it takes a tenth of the time of fitBody()
/// and comes to the same unless another answer of the whole became the best. Lengths, height and
/// distance stay.
///
/// Nothing when `before` does not tell where its search ended or is of another time, or when what
/// is seen fits so badly from there that only fitBody() can tell.
std::optional<FittedBody> fitAgain(const SeenRep& rep, const FittedBody& before);

} // namespace kestrel::body
