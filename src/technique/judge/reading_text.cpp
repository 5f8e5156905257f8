#include "technique/judge/reading_text.h"

#include <array>
#include <cmath>
#include <cstdio>

namespace kestrel::technique {
namespace {

struct Display {
    double factor;
    int digits;
    const char* suffix;
};

Display display(model::Unit unit) {
    switch (unit) {
    case model::Unit::degrees:
        return {1.0, 0, "°"};
    case model::Unit::bodyHeights:
        return {100.0, 0, " %"}; // of standing height
    case model::Unit::bodyHeightsPerSecond:
        return {1.0, 1, " heights/s"};
    case model::Unit::headDiameters:
        return {1.0, 2, " heads"};
    case model::Unit::ratio:
        return {1.0, 2, ""};
    case model::Unit::percent:
        return {1.0, 0, " %"};
    case model::Unit::metres:
        return {1.0, 2, " m"};
    case model::Unit::footLengths:
        return {1.0, 2, " feet"};
    case model::Unit::kilometresPerHour:
        return {1.0, 0, " km/h"};
    case model::Unit::degreesPerSecond:
        return {1.0, 0, "°/s"};
    case model::Unit::degreesPerSecondSquared:
        return {1.0, 0, "°/s²"};
    case model::Unit::bodyHeightsPerSecondSquared:
        return {1.0, 0, " heights/s²"};
    case model::Unit::turnsPerMinute:
        return {1.0, 0, " rpm"};
    case model::Unit::milliseconds:
        return {1.0, 0, " ms"};
    case model::Unit::seconds:
        return {1.0, 2, " s"};
    }
    return {1.0, 2, ""};
}

std::string number(double value, const Display& how) {
    std::array<char, 48> text{};
    double shown = value * how.factor;
    const double half = 0.5 * std::pow(10.0, -how.digits);
    if (std::abs(shown) < half) {
        shown = 0.0; // no "-0"
    }
    std::snprintf(text.data(), text.size(), "%.*f", how.digits, shown);
    std::string result = text.data();
    if (result.starts_with('-')) {
        result.replace(0, 1, "−");
    }
    return result;
}

} // namespace

std::string valueText(double value, model::Unit unit) {
    const Display how = display(unit);
    return number(value, how) + how.suffix;
}

std::string valueWithUncertainty(const model::Reading& reading) {
    if (!reading.value) {
        return "–";
    }
    const Display how = display(reading.unit);
    // An uncertainty is rounded up: "± 0" would claim an exact figure.
    const double unit = std::pow(10.0, -how.digits);
    const double u95 = std::ceil(reading.u95 * how.factor / unit - 1e-9) * unit / how.factor;
    return number(*reading.value, how) + " ± " + number(u95, how) + how.suffix;
}

std::string rangeText(const model::Range& range, model::Unit unit) {
    const Display how = display(unit);
    if (range.low && range.high) {
        return number(*range.low, how) + " to " + number(*range.high, how) + how.suffix;
    }
    if (range.low) {
        return "at least " + valueText(*range.low, unit);
    }
    if (range.high) {
        return "up to " + valueText(*range.high, unit);
    }
    return "any";
}

std::string verdictText(model::Verdict verdict) {
    switch (verdict) {
    case model::Verdict::inside:
        return "inside";
    case model::Verdict::edge:
        return "edge";
    case model::Verdict::outside:
        return "outside";
    case model::Verdict::reported:
        return "no range";
    case model::Verdict::unreadable:
        return "cannot be read";
    }
    return {};
}

std::string viewText(model::View view) {
    switch (view) {
    case model::View::openSide:
        return "open side";
    case model::View::closedSide:
        return "closed side";
    case model::View::front:
        return "front";
    case model::View::rear:
        return "rear";
    case model::View::overhead:
        return "overhead";
    }
    return {};
}

} // namespace kestrel::technique
