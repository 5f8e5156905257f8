#include "synth/signal.h"

#include "model/units.h"

#include <boost/math/tools/minima.hpp>

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace kestrel::synth {
namespace {

using model::Landmark;
using nlohmann::json;

using Point = std::function<Vector(const Pose&)>;
/// A direction at a time; not of unit length.
using Direction = std::function<Vector(const Moving&, double)>;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double between(const Vector& u, const Vector& v) {
    return degrees(std::atan2(u.cross(v).norm(), u.dot(v)));
}

Point midpoint(Landmark a, Landmark b) {
    return [a, b](const Pose& pose) { return Vector(0.5 * (pose.at(a) + pose.at(b))); };
}

Direction directionFrom(const json& expression, bool leadIsOffSide) {
    if (expression.is_array()) {
        const Point from = pointFrom(expression.at(0), leadIsOffSide);
        const Point to = pointFrom(expression.at(1), leadIsOffSide);
        return [from, to](const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            return Vector(to(pose) - from(pose));
        };
    }
    const std::string name = expression;
    const auto ofPose = [](Vector Pose::*member) -> Direction {
        return [member](const Moving& motion, double time) {
            return motion.rightHandedPose(time).*member;
        };
    };
    const auto constant = [](const Vector& v) -> Direction {
        return [v](const Moving&, double) { return v; };
    };
    if (name == "target") {
        return constant(Vector::UnitX());
    }
    if (name == "up") {
        return constant(Vector::UnitZ());
    }
    if (name == "across") {
        return constant(Vector::UnitY());
    }
    if (name == "chest") {
        return ofPose(&Pose::chest);
    }
    if (name == "pelvis_front") {
        return ofPose(&Pose::pelvisFront);
    }
    if (name == "look") {
        return ofPose(&Pose::face);
    }
    if (name == "implement_face") {
        return ofPose(&Pose::implementFace);
    }
    if (name == "ball_path") {
        return [](const Moving& motion, double time) { return motion.ballVelocity(time); };
    }
    if (name == "back_along_ball_path") {
        return [](const Moving& motion, double time) { return Vector(-motion.ballVelocity(time)); };
    }
    constexpr std::string_view path = "path_of_";
    if (name.starts_with(path)) {
        const Point point = pointFrom(name.substr(path.size()), leadIsOffSide);
        return [point](const Moving& motion, double time) {
            constexpr double half = 0.0005; // s
            return Vector((point(motion.rightHandedPose(time + half)) -
                           point(motion.rightHandedPose(time - half))) /
                          (2.0 * half));
        };
    }
    throw std::invalid_argument("there is no direction “" + name + "”");
}

/// Level heading: 0 towards the target, positive towards −y, where a sideways right-hander faces.
double headingOf(const Vector& v) {
    return degrees(std::atan2(-v.y(), v.x()));
}

/// Lengths are in standing heights unless the expression has "unit": "m".
double lengthUnit(const Moving& motion, bool metres) {
    return metres ? 1.0 : motion.heightM();
}

Signal sum(Signal a, Signal b, double factor) {
    return [a = std::move(a), b = std::move(b), factor](const Moving& motion, double time) {
        return a(motion, time) + factor * b(motion, time);
    };
}

double timeNamed(const std::string& name, const Moving& motion, const Events& events) {
    if (const auto event = events.find(name); event != events.end()) {
        return event->second;
    }
    if (const auto key = motion.keyTimes().find(name); key != motion.keyTimes().end()) {
        return key->second;
    }
    throw std::invalid_argument("there is no event or key time “" + name + "”");
}

} // namespace

std::function<Vector(const Pose&)> pointFrom(const std::string& name, bool leadIsOffSide) {
    if (name == "mid_hip") {
        return midpoint(Landmark::leftHip, Landmark::rightHip);
    }
    if (name == "mid_shoulder") {
        return midpoint(Landmark::leftShoulder, Landmark::rightShoulder);
    }
    if (name == "mid_ankle") {
        return midpoint(Landmark::leftAnkle, Landmark::rightAnkle);
    }
    if (name == "mid_hand") {
        return midpoint(Landmark::leftHand, Landmark::rightHand);
    }
    if (name == "com") {
        return [](const Pose& pose) { return centreOfMass(pose); };
    }
    if (name == "ground_origin") {
        return [](const Pose&) { return Vector(Vector::Zero()); };
    }
    for (const std::string_view role : {"support_", "free_"}) {
        if (name.starts_with(role)) { // the side whose ankle is lower, higher
            const std::string part = name.substr(role.size());
            const bool support = role == "support_";
            return [left = pointFrom("left_" + part, leadIsOffSide),
                    right = pointFrom("right_" + part, leadIsOffSide), support](const Pose& pose) {
                const bool leftLower =
                    pose.at(Landmark::leftAnkle).z() < pose.at(Landmark::rightAnkle).z();
                return leftLower == support ? left(pose) : right(pose);
            };
        }
    }
    // Of a right-hander the main side is the right one.
    std::string side = name;
    const auto swap = [&](std::string_view role, const char* with) {
        if (name.starts_with(role)) {
            side = with + name.substr(role.size());
        }
    };
    swap("main_", "right_");
    swap("off_", "left_");
    swap("lead_", leadIsOffSide ? "left_" : "right_");
    swap("trail_", leadIsOffSide ? "right_" : "left_");
    for (const char* chest : {"left_chest", "right_chest"}) {
        if (side == chest) { // a quarter of the way from shoulder to hip
            const bool left = side.starts_with("left");
            return [shoulder = left ? Landmark::leftShoulder : Landmark::rightShoulder,
                    hip = left ? Landmark::leftHip : Landmark::rightHip](const Pose& pose) {
                return Vector(0.75 * pose.at(shoulder) + 0.25 * pose.at(hip));
            };
        }
    }
    for (const char* foot : {"left_sole", "right_sole"}) {
        if (side == foot) { // the lower of heel and toe
            const bool left = side.starts_with("left");
            const Landmark heel = left ? Landmark::leftHeel : Landmark::rightHeel;
            const Landmark toe = left ? Landmark::leftToe : Landmark::rightToe;
            return [heel, toe](const Pose& pose) {
                return pose.at(heel).z() < pose.at(toe).z() ? pose.at(heel) : pose.at(toe);
            };
        }
    }
    const auto landmark = model::landmarkFromName(side);
    if (!landmark) {
        throw std::invalid_argument("there is no point “" + name + "”");
    }
    return [l = *landmark](const Pose& pose) { return pose.at(l); };
}

namespace {

/// Angles, degrees; nothing for another kind.
Signal angleFrom(const json& expression, bool leadIsOffSide) {
    const std::string kind = expression.at("kind");
    const auto point = [&](std::size_t i) {
        return pointFrom(expression.at("of").at(i), leadIsOffSide);
    };
    const auto direction = [&](std::size_t i) {
        return directionFrom(expression.at("of").at(i), leadIsOffSide);
    };
    if (kind == "interior" || kind == "flexion") {
        const bool flexion = kind == "flexion";
        return
            [a = point(0), b = point(1), c = point(2), flexion](const Moving& motion, double time) {
                const Pose pose = motion.rightHandedPose(time);
                const double inside = between(a(pose) - b(pose), c(pose) - b(pose));
                return flexion ? 180.0 - inside : inside;
            };
    }
    if (kind == "between") {
        return [a = direction(0), b = direction(1)](const Moving& motion, double time) {
            return between(a(motion, time), b(motion, time));
        };
    }
    if (kind == "elevation") {
        return [a = direction(0)](const Moving& motion, double time) {
            const Vector v = a(motion, time);
            return degrees(std::atan2(v.z(), std::hypot(v.x(), v.y())));
        };
    }
    if (kind == "heading") {
        return [a = direction(0)](const Moving& motion, double time) {
            return headingOf(a(motion, time));
        };
    }
    if (kind == "turned") {
        // Level angle from side-on (0) towards the target (90).
        return [a = direction(0)](const Moving& motion, double time) {
            // From −90 to 270, so that nobody's turn to either side passes the seam.
            return 90.0 + std::remainder(-headingOf(a(motion, time)), 360.0);
        };
    }
    if (kind == "lean" || kind == "side_lean") {
        // Against the vertical, in the plane through the target line, or square to it with the
        // side that a sideways right-hander faces counting as negative.
        const bool side = kind == "side_lean";
        return [a = direction(0), side](const Moving& motion, double time) {
            const Vector v = a(motion, time);
            return degrees(std::atan2(side ? v.y() : v.x(), v.z()));
        };
    }
    if (kind == "separation") {
        return [](const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            const double turned =
                headingOf(pose.at(Landmark::leftHip) - pose.at(Landmark::rightHip)) -
                headingOf(pose.at(Landmark::leftShoulder) - pose.at(Landmark::rightShoulder));
            return -std::remainder(turned, 360.0);
        };
    }
    if (kind == "lay_back") {
        // Forearm against the trunk, 90° along it and 180° straight back from it, about the axis
        // that a side view looks along.
        return [](const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            const auto lean = [](const Vector& v) { return degrees(std::atan2(v.x(), v.z())); };
            const Vector trunk =
                0.5 * (pose.at(Landmark::leftShoulder) + pose.at(Landmark::rightShoulder) -
                       pose.at(Landmark::leftHip) - pose.at(Landmark::rightHip));
            const double turned =
                lean(trunk) - lean(pose.at(Landmark::rightWrist) - pose.at(Landmark::rightElbow));
            return 90.0 + std::remainder(turned, 360.0);
        };
    }
    return {};
}

/// Lengths, their ratios and speeds; nothing for another kind.
Signal lengthFrom(const json& expression, bool leadIsOffSide) {
    const std::string kind = expression.at("kind");
    const bool metres = expression.value("unit", "") == "m";
    const auto point = [&](std::size_t i) {
        return pointFrom(expression.at("of").at(i), leadIsOffSide);
    };
    const auto direction = [&](std::size_t i) {
        return directionFrom(expression.at("of").at(i), leadIsOffSide);
    };
    if (kind == "distance") {
        return [a = point(0), b = point(1), metres](const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            return (b(pose) - a(pose)).norm() / lengthUnit(motion, metres);
        };
    }
    if (kind == "ahead" || kind == "above" || kind == "beside") {
        // From the first point to the second along the target line, upwards, or to +y.
        const int axis = kind == "ahead" ? 0 : kind == "beside" ? 1 : 2;
        return [a = point(0), b = point(1), metres, axis](const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            return (b(pose) - a(pose))[axis] / lengthUnit(motion, metres);
        };
    }
    if (kind == "height") {
        return [a = point(0), metres](const Moving& motion, double time) {
            return a(motion.rightHandedPose(time)).z() / lengthUnit(motion, metres);
        };
    }
    if (kind == "ratio") {
        return [a = direction(0), b = direction(1)](const Moving& motion, double time) {
            return a(motion, time).norm() / b(motion, time).norm();
        };
    }
    if (kind == "speed") {
        return [a = directionFrom("path_of_" + expression.at("of").at(0).get<std::string>(),
                                  leadIsOffSide)](const Moving& motion, double time) {
            return a(motion, time).norm();
        };
    }
    if (kind == "balance" || kind == "support_balance") {
        // Where the centre of mass stands between trail ankle (0) and lead ankle (100), or free and
        // support ankle, along the level line between them.
        const bool support = kind == "support_balance";
        return [trail = pointFrom(support ? "free_ankle" : "trail_ankle", leadIsOffSide),
                lead = pointFrom(support ? "support_ankle" : "lead_ankle", leadIsOffSide)](
                   const Moving& motion, double time) {
            const Pose pose = motion.rightHandedPose(time);
            Vector base = lead(pose) - trail(pose);
            base.z() = 0.0;
            return 100.0 * (centreOfMass(pose) - trail(pose)).dot(base) / base.squaredNorm();
        };
    }
    return {};
}

} // namespace

Signal signalFrom(const json& expression, bool leadIsOffSide) {
    for (const auto& from : {angleFrom, lengthFrom}) {
        if (Signal signal = from(expression, leadIsOffSide)) {
            return signal;
        }
    }
    const std::string kind = expression.at("kind");
    if (kind == "difference") {
        return sum(signalFrom(expression.at("of").at(0), leadIsOffSide),
                   signalFrom(expression.at("of").at(1), leadIsOffSide), -1.0);
    }
    throw std::invalid_argument("there is no kind of quantity “" + kind + "”");
}

EventRule eventRuleFrom(const json& expression, bool leadIsOffSide) {
    EventRule rule;
    if (expression.contains("key")) {
        rule.from = expression.at("key");
        return rule;
    }
    static const std::map<std::string, EventRule::Kind> kinds{{"highest", EventRule::Kind::highest},
                                                              {"lowest", EventRule::Kind::lowest},
                                                              {"rises", EventRule::Kind::rises},
                                                              {"falls", EventRule::Kind::falls}};
    for (const auto& [name, kind] : kinds) {
        if (expression.contains(name)) {
            rule.kind = kind;
            rule.signal = signalFrom(expression.at(name), leadIsOffSide);
        }
    }
    if (!rule.signal) {
        throw std::invalid_argument("an event needs one of key, highest, lowest, rises, falls");
    }
    rule.from = expression.at("between").at(0);
    rule.to = expression.at("between").at(1);
    rule.level = expression.value("through", 0.0);
    rule.levelAt = expression.value("from_level_at", "");
    return rule;
}

Reading readingFrom(const json& expression, bool leadIsOffSide) {
    const std::string kind = expression.at("kind");
    if (kind == "time") {
        const double factor = expression.value("unit", "s") == "ms" ? 1000.0 : 1.0;
        return [from = expression.at("from").get<std::string>(),
                to = expression.at("to").get<std::string>(),
                factor](const Moving& motion, const Events& events) {
            return factor * (timeNamed(to, motion, events) - timeNamed(from, motion, events));
        };
    }
    if (kind == "drift") {
        // How far a point strays from where it was, at most, in head heights.
        return [point = pointFrom(expression.at("of").at(0), leadIsOffSide),
                from = expression.at("from").get<std::string>(),
                to = expression.at("to").get<std::string>()](const Moving& motion,
                                                             const Events& events) {
            const double begin = timeNamed(from, motion, events);
            const double end = timeNamed(to, motion, events);
            const Pose first = motion.rightHandedPose(begin);
            const double head =
                2.0 * (first.at(Landmark::headTop) - first.at(Landmark::head)).norm();
            double most = 0.0;
            constexpr int looks = 50;
            for (int i = 0; i <= looks; ++i) {
                const Pose pose = motion.rightHandedPose(std::lerp(begin, end, i / double(looks)));
                most = std::max(most, (point(pose) - point(first)).norm());
            }
            return most / head;
        };
    }
    if (kind == "rise" || kind == "travel") {
        // How far a point gets from one event to another: upwards, or along the target line.
        const int axis = kind == "rise" ? 2 : 0;
        return [point = pointFrom(expression.at("of").at(0), leadIsOffSide), axis,
                metres = expression.value("unit", "") == "m",
                from = expression.at("from").get<std::string>(),
                to = expression.at("to").get<std::string>()](const Moving& motion,
                                                             const Events& events) {
            return (point(motion.rightHandedPose(timeNamed(to, motion, events))) -
                    point(motion.rightHandedPose(timeNamed(from, motion, events))))[axis] /
                   lengthUnit(motion, metres);
        };
    }
    Reading reading = [signal = signalFrom(expression, leadIsOffSide),
                       at = expression.at("at").get<std::string>()](const Moving& motion,
                                                                    const Events& events) {
        return signal(motion, timeNamed(at, motion, events));
    };
    if (expression.contains("minus")) {
        reading = [reading, signal = signalFrom(expression, leadIsOffSide),
                   at = expression.at("minus").get<std::string>()](const Moving& motion,
                                                                   const Events& events) {
            return std::remainder(
                reading(motion, events) - signal(motion, timeNamed(at, motion, events)), 360.0);
        };
    }
    if (expression.value("absolute", false)) {
        reading = [reading](const Moving& motion, const Events& events) {
            return std::abs(reading(motion, events));
        };
    }
    return reading;
}

bool isAtAnEnd(const EventRule& rule, const Moving& motion, const Events& found, double time) {
    constexpr double nearly = 0.0015; // seconds; the rule looks every millisecond
    return rule.kind != EventRule::Kind::key &&
           (std::abs(time - timeNamed(rule.from, motion, found)) < nearly ||
            std::abs(time - timeNamed(rule.to, motion, found)) < nearly);
}

double timeOf(const EventRule& rule, const Moving& motion, const Events& found) {
    if (rule.kind == EventRule::Kind::key) {
        return timeNamed(rule.from, motion, found);
    }
    const double begin = timeNamed(rule.from, motion, found);
    const double end = timeNamed(rule.to, motion, found);
    constexpr double step = 0.001;
    const auto looks = std::max(2, static_cast<int>(std::ceil((end - begin) / step)));
    const auto timeAt = [&](int i) {
        return std::lerp(begin, end, i / static_cast<double>(looks));
    };
    if (rule.kind == EventRule::Kind::highest || rule.kind == EventRule::Kind::lowest) {
        const double sign = rule.kind == EventRule::Kind::highest ? -1.0 : 1.0;
        const auto f = [&](double time) { return sign * rule.signal(motion, time); };
        int best = 0;
        double least = f(begin);
        for (int i = 1; i <= looks; ++i) {
            if (const double value = f(timeAt(i)); value < least) {
                least = value;
                best = i;
            }
        }
        constexpr int bits = 40;
        return boost::math::tools::brent_find_minima(f, timeAt(std::max(0, best - 1)),
                                                     timeAt(std::min(looks, best + 1)), bits)
            .first;
    }
    const double level =
        rule.level +
        (rule.levelAt.empty() ? 0.0 : rule.signal(motion, timeNamed(rule.levelAt, motion, found)));
    const double sign = rule.kind == EventRule::Kind::rises ? 1.0 : -1.0;
    const auto past = [&](double time) {
        return sign * (rule.signal(motion, time) - level) >= 0.0;
    };
    for (int i = 0; i <= looks; ++i) {
        if (past(timeAt(i))) {
            if (i == 0) {
                return begin;
            }
            double before = timeAt(i - 1);
            double after = timeAt(i);
            while (after - before > 1e-6) {
                const double middle = 0.5 * (before + after);
                (past(middle) ? after : before) = middle;
            }
            return after;
        }
    }
    throw std::runtime_error("the motion never reaches the level that the event between “" +
                             rule.from + "” and “" + rule.to + "” asks for");
}

} // namespace kestrel::synth
