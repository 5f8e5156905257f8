#include "words/measured.h"

#include <QCoreApplication>

#include <cmath>

namespace kestrel::words {
namespace {

/// Their words, for translators.
class MeasuredWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::words::MeasuredWords)
};

struct Display {
    double factor;
    int digits;
    QString suffix;
};

Display display(model::Unit unit) {
    switch (unit) {
    case model::Unit::degrees:
        return {1.0, 0, "°"};
    case model::Unit::bodyHeights:
        return {100.0, 0, " %"}; // of standing height
    case model::Unit::bodyHeightsPerSecond:
        return {1.0, 1, " " + MeasuredWords::tr("heights/s")};
    case model::Unit::headDiameters:
        return {1.0, 2, " " + MeasuredWords::tr("heads")};
    case model::Unit::ratio:
        return {1.0, 2, ""};
    case model::Unit::percent:
        return {1.0, 0, " %"};
    case model::Unit::metres:
        return {1.0, 2, " m"};
    case model::Unit::footLengths:
        return {1.0, 2, " " + MeasuredWords::tr("feet")};
    case model::Unit::kilometresPerHour:
        return {1.0, 0, " km/h"};
    case model::Unit::degreesPerSecond:
        return {1.0, 0, "°/s"};
    case model::Unit::degreesPerSecondSquared:
        return {1.0, 0, "°/s²"};
    case model::Unit::bodyHeightsPerSecondSquared:
        return {1.0, 0, " " + MeasuredWords::tr("heights/s²")};
    case model::Unit::turnsPerMinute:
        return {1.0, 0, " " + MeasuredWords::tr("rpm")};
    case model::Unit::milliseconds:
        return {1.0, 0, " ms"};
    case model::Unit::seconds:
        return {1.0, 2, " s"};
    }
    return {1.0, 2, ""};
}

QString number(double value, const Display& how) {
    return figureText({value * how.factor, how.digits});
}

} // namespace

QString figureText(model::Figure figure) {
    const double half = 0.5 * std::pow(10.0, -figure.decimals);
    const bool nothing = std::abs(figure.value) < half; // no "-0"
    return QString::number(nothing ? 0.0 : figure.value, 'f', figure.decimals).replace('-', u'−');
}

QString valueText(double value, model::Unit unit) {
    const Display how = display(unit);
    return number(value, how) + how.suffix;
}

QString valueText(double value, double u95, model::Unit unit) {
    Display how = display(unit);
    // An uncertainty is rounded up: "± 0" would claim an exact figure.
    const auto up = [&] {
        const double last = std::pow(10.0, -how.digits);
        return std::ceil(u95 * how.factor / last - 1e-9) * last / how.factor;
    };
    const auto rounded = [&] {
        const double last = std::pow(10.0, -how.digits);
        return std::round(std::abs(value) * how.factor / last) * last / how.factor;
    };
    if (std::abs(value) > u95 && rounded() <= up()) {
        ++how.digits; // rounding would hide that it is more than it may be off by
    }
    return number(value, how) + " ± " + number(up(), how) + how.suffix;
}

QString valueWithUncertainty(const model::Reading& reading) {
    return reading.value ? valueText(*reading.value, reading.u95, reading.unit) : QString("–");
}

QString rangeText(const model::Range& range, model::Unit unit) {
    const Display how = display(unit);
    if (range.low && range.high) {
        return MeasuredWords::tr("%1 to %2")
            .arg(number(*range.low, how), number(*range.high, how) + how.suffix);
    }
    if (range.low) {
        return MeasuredWords::tr("at least %1").arg(valueText(*range.low, unit));
    }
    if (range.high) {
        return MeasuredWords::tr("up to %1").arg(valueText(*range.high, unit));
    }
    return MeasuredWords::tr("any");
}

} // namespace kestrel::words
