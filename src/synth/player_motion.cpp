#include "synth/player_motion.h"

#include "synth/kinematics.h"

#include <boost/math/tools/toms748_solve.hpp>

#include <algorithm>
#include <cmath>
#include <random>
#include <stdexcept>
#include <string_view>
#include <utility>
#include <vector>

namespace kestrel::synth {
namespace {

/// Strength by dial name.
using Strengths = std::map<std::string, double>;

/// The sheet's keys with variant, dials and variation worked in.
struct KeyTable {
    std::map<std::string, double> times;
    std::map<std::string, std::map<std::string, double>> values;
    std::map<std::string, std::map<std::string, double>> shifted; ///< key times of single channels
};

bool isFoot(const std::string& channel) {
    return channel.find("foot_") != std::string::npos;
}

/// Whether a channel is an angle in degrees rather than a length or a direction's part.
bool isAngle(const std::string& channel) {
    for (const std::string_view end : {"heading", "tilt", "lean", "side", "pitch", "turn", "raise",
                                       "forward", "bend", "elbow"}) {
        if (channel.ends_with(end)) {
            return true;
        }
    }
    return false;
}

/// The rows of a variant over those of the motion.
void addVariant(KeyTable& table, const MotionSheet& sheet, const PlayerSpec& spec) {
    const auto variant = sheet.variants.find(spec.variant);
    if (variant == sheet.variants.end()) {
        throw std::invalid_argument(sheet.technique + " has no variant “" + spec.variant + "”");
    }
    for (const auto& [key, time] : variant->second.keys) {
        table.times[key] = time;
    }
    for (const auto& [channel, values] : variant->second.channels) {
        for (const auto& [key, value] : values) {
            table.values[channel][key] = value;
        }
    }
}

void turnDials(KeyTable& table, const MotionSheet& sheet, const Strengths& strengths) {
    for (const auto& [name, strength] : strengths) {
        const Dial& dial = sheet.dials.at(name);
        for (const Dial::Add& add : dial.adds) {
            auto& values = table.values[add.channel];
            if (!values.contains(add.key)) {
                // A channel without a key there gets one where it stands at that time.
                std::vector<CurveKey> keys;
                for (const auto& [key, value] : values) {
                    keys.push_back({table.times.at(key), value});
                }
                std::sort(keys.begin(), keys.end(),
                          [](const CurveKey& a, const CurveKey& b) { return a.time < b.time; });
                values[add.key] = keys.empty() ? 0.0 : Curve(keys)(table.times.at(add.key));
            }
            values.at(add.key) += strength * add.by;
        }
        for (const Dial::Add& shift : dial.shifts) {
            if (shift.channel == "all") {
                table.times.at(shift.key) += strength * shift.by;
                continue;
            }
            for (const auto& [channel, values] : table.values) {
                if (channel.starts_with(shift.channel) && values.contains(shift.key)) {
                    table.shifted[channel][shift.key] += strength * shift.by;
                }
            }
        }
    }
}

/// Rep-to-rep variation: small, independent, reproducible. Working figures: 0.4 % of height, 1.2°,
/// 1.5 % of tempo and of the stride for a skilled player, three times that for a beginner.
void vary(KeyTable& table, const PlayerSpec& spec) {
    std::mt19937 random(spec.seed);
    const double looseness = 1.0 + 2.0 * (1.0 - spec.level);
    const auto drawn = [&](double sd) {
        return std::normal_distribution<double>(0.0, sd * looseness)(random);
    };
    const double tempo = 1.0 + drawn(0.015);
    for (auto& [key, time] : table.times) {
        time *= tempo;
    }
    for (auto& [channel, values] : table.values) {
        if (isFoot(channel)) {
            // Feet stand still between steps: the whole row is stretched from its first place.
            if (channel.ends_with("foot_x")) {
                const double stretch = 1.0 + drawn(0.015);
                const double first = values.at(std::min_element(values.begin(), values.end(),
                                                                [&](const auto& a, const auto& b) {
                                                                    return table.times.at(a.first) <
                                                                           table.times.at(b.first);
                                                                })
                                                   ->first);
                for (auto& [key, value] : values) {
                    value = first + (value - first) * stretch;
                }
            }
            continue;
        }
        for (auto& [key, value] : values) {
            value += drawn(isAngle(channel) ? 1.2 : 0.004);
        }
    }
}

/// A player's own manner: one part of each channel through the whole rep, one at each key. Together
/// 12° of an angle, 2.5 % of height of a length, as standard deviations between pitchers of one
/// level are 8 to 17° for most angles (Fleisig et al. 1999, Journal of Biomechanics 32:1371).
void moveInOwnManner(KeyTable& table, const PlayerSpec& spec) {
    std::mt19937 random(spec.manner);
    const auto drawn = [&](double sd) { return std::normal_distribution<double>(0.0, sd)(random); };
    constexpr double angleThroughout = 9.0;
    constexpr double angleAtKey = 8.0;
    constexpr double lengthThroughout = 0.02;
    constexpr double lengthAtKey = 0.015;
    for (auto& [channel, values] : table.values) {
        const double throughout = drawn(isAngle(channel) ? angleThroughout : lengthThroughout);
        const bool height = channel.ends_with("_z");
        for (auto& [key, value] : values) {
            // Feet stand still between steps, and stand on the ground.
            const double atKey =
                isFoot(channel) ? 0.0 : drawn(isAngle(channel) ? angleAtKey : lengthAtKey);
            value += height ? -std::abs(isFoot(channel) ? 0.0 : throughout) : throughout + atKey;
        }
    }
}

KeyTable keyTable(const MotionSheet& sheet, const PlayerSpec& spec, const Strengths& strengths) {
    KeyTable table{sheet.keys, sheet.channels, {}};
    if (!spec.variant.empty()) {
        addVariant(table, sheet, spec);
    }
    turnDials(table, sheet, strengths);
    if (spec.manner != 0) {
        moveInOwnManner(table, spec);
    }
    if (spec.seed != 0) {
        vary(table, spec);
    }
    return table;
}

Curve curveOf(const KeyTable& table, const std::string& channel) {
    const auto row = table.values.find(channel);
    if (row == table.values.end()) {
        return {};
    }
    std::vector<CurveKey> keys;
    for (const auto& [key, value] : row->second) {
        double time = table.times.at(key);
        if (const auto moved = table.shifted.find(channel); moved != table.shifted.end()) {
            if (const auto by = moved->second.find(key); by != moved->second.end()) {
                time += by->second;
            }
        }
        keys.push_back({time, value});
    }
    std::sort(keys.begin(), keys.end(),
              [](const CurveKey& a, const CurveKey& b) { return a.time < b.time; });
    // A key that a shift has pushed onto the next one pushes that one on.
    constexpr double least = 0.008; // s
    for (std::size_t i = 1; i < keys.size(); ++i) {
        keys[i].time = std::max(keys[i].time, keys[i - 1].time + least);
    }
    return Curve(std::move(keys),
                 channel.ends_with("foot_z") ? Arrival::striking : Arrival::smooth);
}

Channels channelsOf(const KeyTable& table) {
    const auto curve = [&](const std::string& name) { return curveOf(table, name); };
    const auto point = [&](const std::string& name, const char* x, const char* y, const char* z) {
        return PointCurve{curve(name + x), curve(name + y), curve(name + z)};
    };
    const auto side = [&](const std::string& name) {
        return SideChannels{point(name + "foot_", "x", "y", "z"),
                            curve(name + "foot_heading"),
                            curve(name + "foot_pitch"),
                            curve(name + "knee_turn"),
                            curve(name + "raise"),
                            curve(name + "forward"),
                            curve(name + "turn"),
                            curve(name + "bend"),
                            point(name + "hand_", "out", "front", "up"),
                            curve(name + "elbow"),
                            curve(name + "grip")};
    };
    return {point("pelvis_", "x", "y", "z"),
            curve("pelvis_heading"),
            curve("pelvis_tilt"),
            curve("trunk_lean"),
            curve("trunk_side"),
            curve("thorax_heading"),
            curve("shoulder_tilt"),
            curve("head_heading"),
            curve("head_pitch"),
            side("main_"),
            side("off_"),
            point("grip_", "out", "front", "up"),
            point("tool_", "x", "y", "z"),
            point("shaft_", "x", "y", "z"),
            point("face_", "x", "y", "z"),
            curve("shaft_bend"),
            point("palm_", "out", "front", "up")};
}

Vector aimed(double speed, double azimuthDeg, double elevationDeg) {
    const double azimuth = model::toRadians(model::Degrees(azimuthDeg));
    const double elevation = model::toRadians(model::Degrees(elevationDeg));
    return speed * Vector(std::cos(elevation) * std::cos(azimuth),
                          -std::cos(elevation) * std::sin(azimuth), std::sin(elevation));
}

/// Ball speeds of a band against the grown-up's, about as youth and adult leagues throw and hit.
double speedShare(AgeBand band) {
    switch (band) {
    case AgeBand::under10:
        return 0.60;
    case AgeBand::under13:
        return 0.72;
    case AgeBand::under16:
        return 0.86;
    case AgeBand::adult:
        break;
    }
    return 1.0;
}

} // namespace

struct PlayerMotion::State {
    PlayerSpec spec;
    std::shared_ptr<const MotionSheet> sheet;
    Body body;
    KeyTable table;
    Channels channels;
    const Projectile* ball = nullptr;
    double begin = 0.0;
    double end = 0.0;
    struct Stretch {
        BallPhase phase;
        double from = 0.0;
        double to = 0.0;
        std::optional<Flight> flight;
    };
    std::vector<Stretch> stretches;
    Events events;

    /// A stretch in the air: the centre of mass goes from one height to the other as gravity has
    /// it.
    struct InTheAir {
        double from = 0.0;
        double to = 0.0;
        double heightFrom = 0.0;
        double heightTo = 0.0;

        [[nodiscard]] double heightAt(double time) const {
            constexpr double gravity = 9.81; // m/s²
            const double s = (time - from) / (to - from);
            return std::lerp(heightFrom, heightTo, s) + 0.5 * gravity * (time - from) * (to - time);
        }
    };
    std::vector<InTheAir> flights;

    [[nodiscard]] Pose bodyPose(double time, double* outOfReach = nullptr) const {
        const double t = std::clamp(time, begin, end);
        Pose pose = poseOf(channels, body, t, outOfReach);
        for (const InTheAir& flight : flights) {
            if (t > flight.from && t < flight.to) {
                raise(pose, flight.heightAt(t) - centreOfMass(pose).z());
            }
        }
        return pose;
    }

    static void raise(Pose& pose, double by) {
        for (Vector& point : pose.points) {
            point.z() += by;
        }
    }

    void findFlights() {
        for (const auto& [from, to] : sheet->flights) {
            const double a = table.times.at(from);
            const double b = table.times.at(to);
            flights.push_back({a, b, centreOfMass(poseOf(channels, body, a)).z(),
                               centreOfMass(poseOf(channels, body, b)).z()});
        }
    }

    [[nodiscard]] Vector heldAt(const std::string& place, double time) const {
        return ballPlace(bodyPose(time), place, *ball,
                         channels.palm.at(std::clamp(time, begin, end)));
    }

    void layBallPath() {
        double from = begin;
        const auto variant = sheet->variants.find(spec.variant);
        const bool own = variant != sheet->variants.end() && !variant->second.ball.empty();
        for (const BallPhase& phase : own ? variant->second.ball : sheet->ball) {
            Stretch stretch{
                phase, from, phase.until.empty() ? end : table.times.at(phase.until), {}};
            from = stretch.to;
            stretches.push_back(std::move(stretch));
        }
        const double share = speedShare(spec.build.band);
        const double margin = 0.02; // s, for velocities taken just outside
        for (std::size_t i = 0; i < stretches.size(); ++i) {
            Stretch& s = stretches[i];
            const BallPhase& p = s.phase;
            if (p.kind == BallPhase::Kind::arrive) {
                s.flight.emplace(
                    *ball, heldAt(p.place, s.to), aimed(share * p.speed, p.azimuth, p.elevation),
                    s.to, p.lasts > 0.0 ? -p.lasts : s.from - s.to - margin, p.floor, p.bounce);
            } else if (p.kind == BallPhase::Kind::leave) {
                s.flight.emplace(
                    *ball, ballAt(i - 1, s.from), aimed(share * p.speed, p.azimuth, p.elevation),
                    s.from, p.lasts > 0.0 ? p.lasts : s.to - s.from + margin, p.floor, p.bounce);
            } else if (p.kind == BallPhase::Kind::reach) {
                const Vector start = ballAt(i - 1, s.from);
                s.flight.emplace(
                    *ball, start,
                    velocityToReach(*ball, start, heldAt(p.place, s.to), s.to - s.from), s.from,
                    s.to - s.from + margin);
            }
        }
    }

    [[nodiscard]] std::size_t stretchAt(double time) const {
        std::size_t i = 0;
        while (i + 1 < stretches.size() && time > stretches[i].to) {
            ++i;
        }
        return i;
    }

    [[nodiscard]] Vector ballAt(std::size_t stretch, double time) const {
        const Stretch& s = stretches[stretch];
        if (s.phase.kind == BallPhase::Kind::pass) {
            // From hand to hand, each of which may move meanwhile.
            const double along = std::clamp((time - s.from) / (s.to - s.from), 0.0, 1.0);
            const double share = along * along * (3.0 - 2.0 * along);
            return (1.0 - share) * heldAt(stretches[stretch - 1].phase.place, time) +
                   share * heldAt(s.phase.place, time);
        }
        return s.flight ? s.flight->at(time) : heldAt(s.phase.place, time);
    }

    [[nodiscard]] Pose rightHanded(double time) const {
        const double t = std::clamp(time, begin, end);
        Pose pose = bodyPose(t);
        if (ball != nullptr) {
            pose.set(model::Landmark::ball, ballAt(stretchAt(t), t));
        }
        return pose;
    }
};

namespace {

/// How strong a dial must be so that, alone, it moves its quantity by its amount: the strength is
/// raised until the quantity has moved far enough, then narrowed down.
double strengthFor(const Dial& dial, double amount,
                   const std::function<double(double strength)>& quantityAt) {
    const double clean = quantityAt(0.0);
    const auto missing = [&](double strength) {
        return dial.direction * (quantityAt(strength) - clean) - amount;
    };
    // A first guess of one unit of strength for one unit of the quantity.
    double low = 0.0;
    double missingAtLow = -amount;
    double high = amount;
    double missingAtHigh = -amount;
    bool bracketed = false;
    constexpr int tries = 60;
    for (int i = 0; i < tries && !bracketed; ++i) {
        try {
            missingAtHigh = missing(high);
            if (std::abs(missingAtHigh) < 1e-9 * std::abs(amount)) {
                return high;
            }
            bracketed = missingAtHigh * missingAtLow <= 0.0;
            if (!bracketed) {
                low = high;
                missingAtLow = missingAtHigh;
                high *= 1.6;
            }
        } catch (const std::runtime_error&) {
            // So strong that an event is gone: less.
            high = 0.5 * (low + high);
        }
    }
    if (!bracketed) {
        throw std::runtime_error("the dial “" + dial.name + "” cannot be turned to " +
                                 std::to_string(amount));
    }
    constexpr int bits = 40;
    std::uintmax_t rounds = 60;
    const auto found =
        boost::math::tools::toms748_solve(missing, low, high, missingAtLow, missingAtHigh,
                                          boost::math::tools::eps_tolerance<double>(bits), rounds);
    const double strength = 0.5 * (found.first + found.second);
    if (std::abs(missing(strength)) > 1e-3 * std::abs(amount)) {
        throw std::runtime_error("the dial “" + dial.name + "” jumps over " +
                                 std::to_string(amount));
    }
    return strength;
}

} // namespace

PlayerMotion::PlayerMotion(const PlayerSpec& spec) : state_(std::make_unique<State>()) {
    const auto sheet = std::make_shared<const MotionSheet>(loadMotionSheet(spec.technique));
    Strengths amounts;
    for (const auto& [name, dial] : sheet->dials) {
        const double amount = dial.beginner * (1.0 - spec.level);
        if (amount != 0.0) {
            amounts[name] = amount;
        }
    }
    for (const auto& [name, amount] : spec.dials) {
        if (!sheet->dials.contains(name)) {
            throw std::invalid_argument(spec.technique + " has no dial “" + name + "”");
        }
        if (amount != 0.0) {
            amounts[name] += amount;
        }
    }
    const auto build = [&](const PlayerSpec& what, const Strengths& strengths) {
        state_ = std::make_unique<State>();
        State& s = *state_;
        s.spec = what;
        s.sheet = sheet;
        s.body = bodyOf(*sheet, what.build);
        s.table = keyTable(*sheet, what, strengths);
        s.channels = channelsOf(s.table);
        s.ball = sheet->ballName.empty() ? nullptr : &projectile(sheet->ballName);
        const auto byTime = [](const auto& a, const auto& b) { return a.second < b.second; };
        s.begin = std::min_element(s.table.times.begin(), s.table.times.end(), byTime)->second;
        s.end = std::max_element(s.table.times.begin(), s.table.times.end(), byTime)->second;
        s.findFlights();
        s.layBallPath();
        s.events.clear();
        for (const MotionSheet::Event& event : sheet->events) {
            s.events[event.id] = timeOf(event.rule, *this, s.events);
        }
    };
    PlayerSpec bare = spec;
    bare.seed = 0;
    Strengths strengths;
    for (const auto& [name, amount] : amounts) {
        const Dial& dial = sheet->dials.at(name);
        strengths[name] = strengthFor(dial, amount, [&, &id = name](double strength) {
            build(bare, strength == 0.0 ? Strengths{} : Strengths{{id, strength}});
            return quantity(dial.quantity);
        });
    }
    build(spec, strengths);
}

PlayerMotion::~PlayerMotion() = default;
PlayerMotion::PlayerMotion(PlayerMotion&&) noexcept = default;
PlayerMotion& PlayerMotion::operator=(PlayerMotion&&) noexcept = default;

const PlayerSpec& PlayerMotion::spec() const {
    return state_->spec;
}
const MotionSheet& PlayerMotion::sheet() const {
    return *state_->sheet;
}
const Proportions& PlayerMotion::proportions() const {
    return state_->body.proportions;
}
const Implement& PlayerMotion::implement() const {
    return state_->body.implement;
}
const Projectile* PlayerMotion::ball() const {
    return state_->ball;
}
double PlayerMotion::begin() const {
    return state_->begin;
}
double PlayerMotion::end() const {
    return state_->end;
}

Pose PlayerMotion::pose(double time) const {
    const Pose pose = rightHandedPose(time);
    return state_->spec.hand == model::Hand::right ? pose : mirrored(pose);
}

const Events& PlayerMotion::events() const {
    return state_->events;
}

std::set<std::string> PlayerMotion::eventsAtAnEnd() const {
    std::set<std::string> ids;
    for (const MotionSheet::Event& event : sheet().events) {
        if (isAtAnEnd(event.rule, *this, events(), events().at(event.id))) {
            ids.insert(event.id);
        }
    }
    return ids;
}

double PlayerMotion::quantity(const std::string& id) const {
    return state_->sheet->quantities.at(id).reading(*this, state_->events);
}

std::map<std::string, double> PlayerMotion::quantities() const {
    std::map<std::string, double> values;
    for (const auto& [id, quantity] : state_->sheet->quantities) {
        values[id] = quantity.reading(*this, state_->events);
    }
    return values;
}

double PlayerMotion::outOfReach(double time) const {
    double missed = 0.0;
    static_cast<void>(state_->bodyPose(time, &missed));
    return missed;
}

Pose PlayerMotion::rightHandedPose(double time) const {
    return state_->rightHanded(time);
}

Vector PlayerMotion::ballVelocity(double time) const {
    const std::size_t i = state_->stretchAt(time);
    if (state_->stretches.at(i).flight) {
        return state_->stretches[i].flight->velocityAt(time);
    }
    constexpr double half = 0.0005; // s
    return (state_->ballAt(i, time + half) - state_->ballAt(i, time - half)) / (2.0 * half);
}

double PlayerMotion::heightM() const {
    return state_->spec.build.heightM;
}

const std::map<std::string, double>& PlayerMotion::keyTimes() const {
    return state_->table.times;
}

} // namespace kestrel::synth
