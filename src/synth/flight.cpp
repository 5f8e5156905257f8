#include "synth/flight.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <stdexcept>
#include <string>

namespace kestrel::synth {
namespace {

constexpr double gravity = 9.81;   // m/s²
constexpr double airDensity = 1.2; // kg/m³, 20 °C at sea level

// Radius and mass from the rules of each game; drag coefficients of balls at play speeds: Mehta
// (1985), Annual Review of Fluid Mechanics 17, and Goff (2013), European Journal of Sport Science,
// rounded. A shuttlecock is not here: its drag is another law.
constexpr std::array balls{Projectile{"baseball", 0.0366, 0.145, 0.35},
                           Projectile{"softball", 0.0485, 0.188, 0.40},
                           Projectile{"tennis_ball", 0.0335, 0.058, 0.55},
                           Projectile{"squash_ball", 0.0200, 0.024, 0.45},
                           Projectile{"table_tennis_ball", 0.0200, 0.0027, 0.50},
                           Projectile{"basketball", 0.1210, 0.610, 0.50},
                           Projectile{"volleyball", 0.1050, 0.270, 0.45},
                           Projectile{"puck", 0.0381, 0.165, 0.40, true}};

} // namespace

const Projectile& projectile(std::string_view name) {
    const auto* found = std::find_if(balls.begin(), balls.end(),
                                     [name](const Projectile& b) { return b.name == name; });
    if (found == balls.end()) {
        throw std::invalid_argument("no ball is called " + std::string(name));
    }
    return *found;
}

Vector accelerationInFlight(const Projectile& ball, const Vector& velocity) {
    const double area = std::numbers::pi * ball.radiusM * ball.radiusM;
    const double drag = 0.5 * airDensity * area * ball.dragCoefficient / ball.massKg;
    return -gravity * Vector::UnitZ() - drag * velocity.norm() * velocity;
}

Flight::Flight(const Projectile& ball, const Vector& place, const Vector& velocity, double start,
               double lasts, double floor, double bounce)
    : start_(start), step_(std::copysign(0.001, lasts)) {
    State now{place, velocity};
    states_.push_back(now);
    const auto steps = static_cast<int>(std::ceil(std::abs(lasts / step_))) + 1;
    const double lowest = floor + ball.radiusM;
    for (int i = 0; i < steps; ++i) {
        const double h = step_;
        const Vector k1 = accelerationInFlight(ball, now.velocity);
        const Vector v2 = now.velocity + 0.5 * h * k1;
        const Vector k2 = accelerationInFlight(ball, v2);
        const Vector v3 = now.velocity + 0.5 * h * k2;
        const Vector k3 = accelerationInFlight(ball, v3);
        const Vector v4 = now.velocity + h * k3;
        const Vector k4 = accelerationInFlight(ball, v4);
        now.place += h / 6.0 * (now.velocity + 2.0 * v2 + 2.0 * v3 + v4);
        now.velocity += h / 6.0 * (k1 + 2.0 * k2 + 2.0 * k3 + k4);
        if (bounce > 0.0 && now.place.z() < lowest && (now.velocity.z() < 0.0) == (h > 0.0)) {
            constexpr double levelKept = 0.9;
            const double up = h > 0.0 ? bounce : 1.0 / bounce;
            const double level = h > 0.0 ? levelKept : 1.0 / levelKept;
            now.place.z() = 2.0 * lowest - now.place.z();
            now.velocity = {level * now.velocity.x(), level * now.velocity.y(),
                            -up * now.velocity.z()};
        }
        states_.push_back(now);
    }
}

Vector Flight::at(double time) const {
    const double along =
        std::clamp((time - start_) / step_, 0.0, static_cast<double>(states_.size() - 1) - 1e-9);
    const auto i = static_cast<std::size_t>(along);
    const double s = along - static_cast<double>(i);
    const State& a = states_[i];
    const State& b = states_[i + 1];
    const double s2 = s * s;
    const double s3 = s2 * s;
    return (2 * s3 - 3 * s2 + 1) * a.place + (s3 - 2 * s2 + s) * step_ * a.velocity +
           (3 * s2 - 2 * s3) * b.place + (s3 - s2) * step_ * b.velocity;
}

Vector Flight::velocityAt(double time) const {
    const double along =
        std::clamp((time - start_) / step_, 0.0, static_cast<double>(states_.size() - 1) - 1e-9);
    const auto i = static_cast<std::size_t>(along);
    const double s = along - static_cast<double>(i);
    return (1.0 - s) * states_[i].velocity + s * states_[i + 1].velocity;
}

Vector velocityToReach(const Projectile& ball, const Vector& from, const Vector& to,
                       double seconds) {
    Vector velocity = (to - from) / seconds + 0.5 * gravity * seconds * Vector::UnitZ();
    constexpr int enough = 12;
    for (int round = 0; round < enough; ++round) {
        const Vector missed = to - Flight(ball, from, velocity, 0.0, seconds).at(seconds);
        if (missed.norm() < 1e-5) {
            break;
        }
        // Drag bends the path little: the vacuum's slope is good enough to converge.
        velocity += missed / seconds;
    }
    return velocity;
}

} // namespace kestrel::synth
