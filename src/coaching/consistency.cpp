#include "coaching/consistency.h"

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

std::optional<Repeatability> repeatabilityOf(const technique::Measure& measure,
                                             const std::vector<std::vector<model::Reading>>& reps) {
    std::vector<const model::Reading*> read;
    for (const auto& readings : reps) {
        const auto found = std::find_if(readings.begin(), readings.end(), [&](const auto& r) {
            return r.measureId == measure.id && r.value.has_value();
        });
        if (found != readings.end()) {
            read.push_back(&*found);
        }
    }
    if (static_cast<int>(read.size()) < fewestReps) {
        return std::nullopt;
    }
    const auto count = static_cast<double>(read.size());
    Repeatability result;
    result.measureId = measure.id;
    result.unit = measure.unit;
    result.reps = static_cast<int>(read.size());
    for (const model::Reading* r : read) {
        result.mean += *r->value / count;
    }
    double square = 0.0;
    double own = 0.0;
    for (const model::Reading* r : read) {
        square += std::pow(*r->value - result.mean, 2);
        // What is the same in every rep (body, camera, ground) does not scatter.
        own += (r->uncertainty.placement * r->uncertainty.placement +
                r->uncertainty.frames * r->uncertainty.frames) /
               count;
    }
    result.sd = std::sqrt(square / (count - 1.0));
    result.ofReading = std::sqrt(own);
    result.ofPlayer = std::sqrt(std::max(0.0, result.sd * result.sd - own));
    const auto& range = read.back()->range;
    if (range && range->low && range->high) {
        result.shareOfRange = result.ofPlayer / (*range->high - *range->low);
    }
    return result;
}

} // namespace

std::vector<Repeatability> consistencyOf(const technique::Pack& pack,
                                         const std::vector<std::vector<model::Reading>>& reps) {
    std::vector<Repeatability> all;
    for (const technique::Measure& measure : pack.measures) {
        if (auto one = repeatabilityOf(measure, reps)) {
            all.push_back(std::move(*one));
        }
    }
    std::stable_sort(all.begin(), all.end(), [](const Repeatability& a, const Repeatability& b) {
        return a.shareOfRange.value_or(-1.0) > b.shareOfRange.value_or(-1.0);
    });
    return all;
}

} // namespace kestrel::coaching
