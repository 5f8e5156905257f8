#pragma once

#include "model/construct.h"
#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <optional>
#include <string>

/// What shows in the picture how a reading was made. Only within this room.
namespace kestrel::technique {

/// The lines of a measure at a position where its landmarks are in the picture, without a label;
/// nothing when one of them is not there.
std::optional<model::Construct> constructAt(const Pack& pack, const model::Rep& rep,
                                            model::Hand hand, const Measure& measure,
                                            const std::string& position);

} // namespace kestrel::technique
