#include "coaching/over_reps.h"

#include "coaching/own_variance.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

/// Weight of the usual scatter, in reps.
constexpr int priorFreedom = 4;

/// How much a child's reps usually scatter, one standard deviation. Angles as children's pitches do
/// (Fleisig et al. 2009, Sports Biomechanics 8:10: some 3 to 6° for youth); the rest working
/// figures of like size.
double usualScatter(model::Unit unit, double mean) {
    switch (unit) {
    case model::Unit::degrees:
        return 5.0;
    case model::Unit::bodyHeights:
        return 0.02;
    case model::Unit::headDiameters:
        return 0.2;
    case model::Unit::milliseconds:
        return 20.0;
    case model::Unit::seconds:
        return 0.05;
    case model::Unit::percent:
        return 5.0;
    case model::Unit::footLengths:
        return 0.2;
    default:
        constexpr double tenth = 0.1;
        return tenth * std::abs(mean);
    }
}

double factor95(int freedom) {
    constexpr double upper = 0.975;
    return boost::math::quantile(boost::math::students_t(freedom), upper);
}

} // namespace

std::optional<OverReps> overReps(const std::vector<RepOfVisit>& reps,
                                 const std::string& measureId) {
    double sum = 0.0;
    double squares = 0.0;
    OwnVariance own;
    int n = 0;
    model::Unit unit = model::Unit::degrees;
    for (const RepOfVisit& rep : reps) {
        for (const model::Reading& reading : rep.readings) {
            if (reading.measureId == measureId && reading.value) {
                sum += *reading.value;
                squares += *reading.value * *reading.value;
                const OwnVariance variance = ownVariance(reading.uncertainty);
                own.rep += variance.rep;
                own.film += variance.film;
                own.player += variance.player;
                unit = reading.unit;
                ++n;
            }
        }
    }
    if (n == 0) {
        return std::nullopt;
    }
    OverReps over;
    over.mean = sum / n;
    over.reps = n;
    const double fromMean = std::max(0.0, squares - n * over.mean * over.mean);
    const double usual = usualScatter(unit, over.mean);
    const int freedom = priorFreedom + n - 1;
    const double scatter = std::sqrt((priorFreedom * usual * usual + fromMean) / freedom);
    over.ofReps95 = std::hypot(model::coverage95 * std::sqrt(own.rep) / n,
                               factor95(freedom) * scatter / std::sqrt(n));
    over.ofFilm95 = model::coverage95 * std::sqrt(own.film / n);
    over.ofPlayer95 = model::coverage95 * std::sqrt(own.player / n);
    over.u95 = std::hypot(over.ofReps95, over.ofFilm95, over.ofPlayer95);
    return over;
}

double differenceU95(const OverReps& before, const OverReps& now) {
    return std::hypot(std::hypot(before.ofReps95, before.ofFilm95),
                      std::hypot(now.ofReps95, now.ofFilm95), now.ofPlayer95 - before.ofPlayer95);
}

} // namespace kestrel::coaching
