#pragma once

#include <cmath>
#include <compare>
#include <cstdint>
#include <numbers>

/// Units as types: a duration cannot be passed where an angle is meant.
namespace kestrel::model {

/// A number with a unit carried by `Tag`. Adds, subtracts and scales; never mixes units.
template <class Tag> struct Quantity {
    double value = 0.0;

    constexpr Quantity() = default;
    constexpr explicit Quantity(double v) : value(v) {}

    friend constexpr auto operator<=>(const Quantity&, const Quantity&) = default;
    friend constexpr Quantity operator+(Quantity a, Quantity b) {
        return Quantity(a.value + b.value);
    }
    friend constexpr Quantity operator-(Quantity a, Quantity b) {
        return Quantity(a.value - b.value);
    }
    friend constexpr Quantity operator-(Quantity a) { return Quantity(-a.value); }
    friend constexpr Quantity operator*(Quantity a, double k) { return Quantity(a.value * k); }
    friend constexpr Quantity operator*(double k, Quantity a) { return Quantity(a.value * k); }
    friend constexpr double operator/(Quantity a, Quantity b) { return a.value / b.value; }
};

using Seconds = Quantity<struct SecondsTag>;
inline constexpr double milliseconds = 1000.0; ///< in a second
using Degrees = Quantity<struct DegreesTag>;
using Metres = Quantity<struct MetresTag>;

constexpr double toRadians(Degrees angle) {
    return angle.value * std::numbers::pi / 180.0;
}
constexpr Degrees degreesFromRadians(double radians) {
    return Degrees(radians * 180.0 / std::numbers::pi);
}

/// An exact fraction, as film containers state times and rates.
struct Rational {
    std::int64_t num = 0;
    std::int64_t den = 1;

    [[nodiscard]] constexpr double toDouble() const {
        return static_cast<double>(num) / static_cast<double>(den);
    }
    friend constexpr bool operator==(const Rational&, const Rational&) = default;
};

/// A point of a picture in pixels: x to the right, y down, (0, 0) the centre of the top-left pixel,
/// after display rotation and pixel-aspect correction.
struct Point2 {
    double x = 0.0;
    double y = 0.0;

    friend constexpr bool operator==(const Point2&, const Point2&) = default;
    friend constexpr Point2 operator+(Point2 a, Point2 b) { return {a.x + b.x, a.y + b.y}; }
    friend constexpr Point2 operator-(Point2 a, Point2 b) { return {a.x - b.x, a.y - b.y}; }
    friend constexpr Point2 operator*(Point2 a, double k) { return {a.x * k, a.y * k}; }
};

inline double length(Point2 v) {
    return std::hypot(v.x, v.y);
}

} // namespace kestrel::model
