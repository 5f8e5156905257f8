#include "model/reading.h"

#include <cmath>

namespace kestrel::model {

std::string_view name(Verdict verdict) {
    switch (verdict) {
    case Verdict::inside:
        return "inside";
    case Verdict::edge:
        return "edge";
    case Verdict::outside:
        return "outside";
    case Verdict::reported:
        return "reported";
    case Verdict::unreadable:
        return "unreadable";
    }
    return {};
}

std::string_view name(ReadFrom from) {
    switch (from) {
    case ReadFrom::picture:
        return "picture";
    case ReadFrom::body:
        return "body";
    case ReadFrom::twoFilms:
        return "two_films";
    }
    return {};
}

double UncertaintyParts::combined() const {
    return std::sqrt(placement * placement + proportion * proportion + outOfPlane * outOfPlane +
                     body * body + frames * frames + ground * ground + smoothing * smoothing);
}

Verdict judge(double value, double u95, const Range& range) {
    const double least = value - u95;
    const double most = value + u95;
    if ((range.low && most < *range.low) || (range.high && least > *range.high)) {
        return Verdict::outside;
    }
    if ((range.low && least < *range.low) || (range.high && most > *range.high)) {
        return Verdict::edge;
    }
    return Verdict::inside;
}

double distanceBeyond(double value, const Range& range) {
    if (range.low && value < *range.low) {
        return value - *range.low;
    }
    if (range.high && value > *range.high) {
        return value - *range.high;
    }
    return 0.0;
}

} // namespace kestrel::model
