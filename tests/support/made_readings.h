#pragma once

#include "model/reading.h"
#include "technique/pack/pack.h"

#include <string>

namespace kestrel::support {

/// A reading as evaluation would give it, with a chosen value and uncertainty, judged by the
/// measure's first range.
inline model::Reading madeReading(const technique::Pack& pack, const std::string& id, double value,
                                  double u95) {
    const technique::Measure& measure = *technique::findMeasure(pack, id);
    model::Reading r;
    r.measureId = id;
    r.positionId = measure.at;
    r.unit = measure.unit;
    r.value = value;
    r.u95 = u95;
    r.uncertainty.placement = u95 / model::coverage95;
    r.range = measure.ranges.front().good;
    r.verdict = model::judge(value, u95, *r.range);
    return r;
}

} // namespace kestrel::support
