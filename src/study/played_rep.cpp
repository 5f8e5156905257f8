#include "study/played_rep.h"

#include "study/machine_error.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <set>
#include <vector>

namespace kestrel::study {
namespace {

using model::Landmark;

/// Where the motion is at each instant of the film: its own time against the film's.
class Course {
  public:
    explicit Course(double inMotion) : at_(inMotion) {}

    /// Goes on evenly to that time of the motion within so many seconds.
    void to(double inMotion, double seconds) {
        stretches_.push_back({end_, end_ + seconds, at_, inMotion, false});
        end_ += seconds;
        at_ = inMotion;
    }
    /// The same from rest to rest, with the least jerk.
    void ease(double inMotion, double seconds) {
        to(inMotion, seconds);
        stretches_.back().eased = true;
    }
    void stay(double seconds) { to(at_, seconds); }

    [[nodiscard]] double end() const { return end_; }
    [[nodiscard]] double operator()(double time) const {
        const auto stretch = std::find_if(stretches_.begin(), stretches_.end(),
                                          [&](const Stretch& s) { return time < s.end; });
        if (stretch == stretches_.end()) {
            return at_;
        }
        const double s = std::max(0.0, (time - stretch->begin) / (stretch->end - stretch->begin));
        const double share = stretch->eased ? s * s * s * (10.0 + s * (6.0 * s - 15.0)) : s;
        return stretch->from + share * (stretch->to - stretch->from);
    }

  private:
    struct Stretch {
        double begin;
        double end;
        double from;
        double to;
        bool eased;
    };
    double at_;
    double end_ = 0.0;
    std::vector<Stretch> stretches_;
};

class RepDraw {
  public:
    explicit RepDraw(std::uint32_t seed) : random_(seed) {}
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random_);
    }
    /// A factor around 1.
    double factor(double sd) {
        return std::exp(std::normal_distribution<double>(0.0, sd)(random_));
    }
    double normal() { return std::normal_distribution<double>()(random_); }
    std::mt19937& random() { return random_; }

  private:
    std::mt19937 random_;
};

/// The rep itself, from the motion's first key to its last; tells where in the film it begins.
double addRep(Course& course, const synth::PlayerMotion& motion, bool ownTempo, RepDraw& draw) {
    const double begins = course.end();
    // Working figures for how players of one level differ in tempo, throughout and by phase.
    const double whole = ownTempo ? draw.factor(0.12) : 1.0;
    std::vector<double> instants;
    for (const std::string& id : motion.sheet().positions) {
        instants.push_back(motion.events().at(id));
    }
    instants.push_back(motion.end());
    std::sort(instants.begin(), instants.end());
    double before = motion.begin();
    constexpr double shortest = 0.03; // two positions nearer than that share a phase
    for (const double instant : instants) {
        if (instant > before + shortest) {
            const double phase = ownTempo ? draw.factor(0.06) : 1.0;
            course.to(instant, (instant - before) * whole * phase);
            before = instant;
        }
    }
    return begins;
}

struct Acted {
    explicit Acted(double begin) : course(begin) {}

    Course course;
    double repFrom = 0.0; ///< seconds of the film
    double repTo = 0.0;
    double filmFrom = 0.0; ///< what is filmed of it
    double filmTo = 0.0;
    bool walks = false;
};

Acted acted(Habit habit, const synth::PlayerMotion& motion, RepDraw& draw) {
    const double begin = motion.begin();
    Acted a(begin);
    const double length = motion.end() - begin;
    const double toAnchor = -begin; // the anchor is the motion's time 0
    a.course.stay(draw.between(0.3, 1.2));
    if (habit == Habit::waggles) {
        for (int i = 0; i < 3; ++i) {
            a.course.ease(begin + draw.between(0.10, 0.25) * toAnchor, draw.between(0.25, 0.5));
            a.course.ease(begin, draw.between(0.25, 0.5));
        }
        a.course.stay(draw.between(0.2, 0.6));
    } else if (habit == Habit::practises) {
        const double share = draw.between(0.65, 0.85);
        a.course.to(begin + share * length, share * length * draw.between(1.7, 2.4));
        a.course.ease(begin, draw.between(0.8, 1.2));
        a.course.stay(draw.between(0.3, 0.8));
    } else if (habit == Habit::givesUp) {
        const double share = draw.between(0.35, 0.65);
        a.course.to(begin + share * toAnchor, share * toAnchor);
        a.course.stay(draw.between(0.1, 0.3));
        a.course.ease(begin, draw.between(0.6, 1.0));
        a.course.stay(draw.between(0.3, 0.8));
    }
    a.walks = habit == Habit::walks;
    a.repFrom = addRep(a.course, motion, habit != Habit::clean, draw);
    a.repTo = a.course.end();
    if (habit == Habit::bringsBack) {
        a.course.stay(draw.between(0.1, 0.4));
        a.course.ease(begin, draw.between(0.4, 0.8));
    } else if (habit == Habit::secondMovement) {
        a.course.stay(draw.between(0.2, 0.5));
        a.course.to(begin + 0.2 * length, 0.8 * length);
        a.course.to(begin + 0.7 * length, 0.5 * length);
    }
    a.course.stay(draw.between(0.3, 1.0));
    a.filmTo = a.course.end();
    const auto inRep = [&](double share) { return a.repFrom + share * (a.repTo - a.repFrom); };
    const double anchor = inRep(toAnchor / length);
    if (habit == Habit::beginsLate) {
        a.filmFrom = a.repFrom + draw.between(0.3, 0.8) * (anchor - a.repFrom);
    } else if (habit == Habit::endsEarly) {
        a.filmTo = anchor + draw.between(0.1, 0.8) * (a.repTo - anchor);
    }
    return a;
}

/// When the rep passes an instant of the motion; between the ends of the rep its course only rises.
double whenAt(const Acted& a, double inMotion) {
    double low = a.repFrom;
    double high = a.repTo;
    constexpr int halvings = 40;
    for (int i = 0; i < halvings; ++i) {
        const double middle = 0.5 * (low + high);
        (a.course(middle) < inMotion ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

/// Somebody who walks with the player's bones.
synth::PlayerMotion walker(const synth::PlayerSpec& player) {
    synth::PlayerSpec spec;
    spec.technique = "people/walking";
    spec.build = player.build;
    return synth::PlayerMotion(spec);
}

synth::Vector hipsOf(const synth::Pose& pose) {
    return 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
}

/// The pose at an instant of the film: in the motion, or walking towards it and away from it.
class Actor {
  public:
    Actor(const synth::PlayerMotion& motion, const Acted& a)
        : motion_(motion), a_(a), walker_(walker(motion.spec())) {}

    [[nodiscard]] synth::Pose pose(double time) const {
        synth::Pose pose = motion_.pose(a_.course(time));
        if (!a_.walks) {
            return pose;
        }
        // It takes so long to come from walking to standing.
        constexpr double coming = 0.4;
        const double apart = std::max(a_.repFrom - time, time - a_.repTo);
        const double share = std::clamp(apart / coming, 0.0, 1.0);
        if (share <= 0.0) {
            return pose;
        }
        const synth::Pose walking = walkingPose(time, hipsOf(pose));
        for (std::size_t l = 0; l < synth::Pose::count; ++l) {
            const auto landmark = static_cast<Landmark>(l);
            if (pose.has(landmark) && walking.has(landmark)) {
                pose.set(landmark,
                         (1.0 - share) * pose.at(landmark) + share * walking.at(landmark));
            }
        }
        return pose;
    }

  private:
    [[nodiscard]] synth::Pose walkingPose(double time, const synth::Vector& hips) const {
        constexpr double speed = 1.2; // m/s, from the far end to the target
        const double stride = walker_.end() - walker_.begin();
        const double into = std::fmod(time + 10.0 * stride, stride);
        synth::Pose pose = walker_.pose(walker_.begin() + into);
        const double from = time < a_.repFrom ? a_.repFrom : a_.repTo;
        synth::Vector shift = hips - hipsOf(pose);
        shift.z() = 0.0;
        shift.x() += speed * (time - from);
        for (synth::Vector& point : pose.points) {
            point += shift;
        }
        return pose;
    }

    const synth::PlayerMotion& motion_;
    const Acted& a_;
    synth::PlayerMotion walker_;
};

/// Landmarks as a machine sets them after weighing: half the scatter of single frames, all of what
/// lasts.
class Machine {
  public:
    Machine(double bodyPx, std::mt19937& random) : bodyPx_(bodyPx), random_(random) {}

    model::LandmarkPoint seen(Landmark landmark, model::Point2 truth, double after) {
        std::normal_distribution<double> normal;
        constexpr double weighed = 0.5;
        auto known = errors_.find(landmark);
        if (known == errors_.end()) {
            known = errors_.emplace(landmark, machineError(landmark, bodyPx_)).first;
        }
        const MachineError& error = known->second;
        auto& lasting = lasting_[landmark];
        const auto axis = [&](LastingError& e) {
            return weighed * error.scatterPx * normal(random_) +
                   error.lastingPx * e.next(after, machineErrorLastsS, random_);
        };
        const double x = axis(lasting[0]);
        const double y = axis(lasting[1]);
        model::LandmarkPoint point;
        point.px = truth + model::Point2{x, y};
        point.sdPx = std::hypot(weighed * error.scatterPx, error.lastingPx);
        point.source = model::Source::tracked;
        return point;
    }

  private:
    double bodyPx_;
    std::mt19937& random_;
    std::map<Landmark, MachineError> errors_;
    std::map<Landmark, std::array<LastingError, 2>> lasting_;
};

/// What the program finds of the camera's place: the nearest view, and that it is not square.
void tellView(technique::Circumstances& c, const synth::CameraSpec& camera) {
    constexpr double half = 45.0;
    constexpr double square = 20.0;
    const bool side = std::abs(camera.aroundDeg) < half;
    const model::View nearest = side                     ? camera.view
                                : camera.aroundDeg > 0.0 ? model::View::front
                                                         : model::View::rear;
    c.nearestView = nearest;
    const double off = side ? std::abs(camera.aroundDeg) : 90.0 - std::abs(camera.aroundDeg);
    if (off <= square) {
        c.view = nearest;
        c.viewIsFound = true;
    }
}

} // namespace

std::string_view name(Habit habit) {
    constexpr std::array names{"clean",       "own tempo", "waggles",     "practises",
                               "walks",       "gives up",  "brings back", "second movement",
                               "begins late", "ends early"};
    return names[static_cast<std::size_t>(habit)];
}

synth::FilmSpec filmOfRep(std::uint32_t seed, Around around) {
    synth::FilmSpec film = drawnFilm(seed, around);
    film.captureRate = std::min(film.captureRate, mostRateLookedAt);
    film.fileRate = {static_cast<int>(film.captureRate), 1};
    return film;
}

PlayedRep playedRep(const synth::FilmScene& scene, std::uint32_t seed, Habit habit) {
    constexpr std::uint32_t apart = 64; // no two habits of a film draw alike
    RepDraw draw(seed * apart + static_cast<std::uint32_t>(habit));
    PlayedRep played;
    const synth::FilmSpec& film = scene.spec();
    const synth::PlayerMotion& motion = scene.motion();
    const Acted a = acted(habit, motion, draw);
    const Actor actor(motion, a);
    const synth::Camera camera = scene.steadyCamera();
    Machine machine(film.camera.bodyFraction * film.height, draw.random());

    const double interval = 1.0 / film.captureRate;
    const int frames = static_cast<int>((a.filmTo - a.filmFrom) / interval) + 1;
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < frames; ++frame) {
        const double time = frame * interval;
        times.emplace_back(time);
        const synth::Pose pose = actor.pose(a.filmFrom + time);
        for (const Landmark landmark : model::allLandmarks()) {
            if (!model::isOfBody(landmark) || !pose.has(landmark)) {
                continue;
            }
            if (const auto px = camera.project(pose.at(landmark))) {
                played.rep.landmarks[frame][landmark] = machine.seen(landmark, *px, interval);
            }
        }
    }
    const std::set<std::string> notThere = motion.eventsAtAnEnd();
    for (const auto& [id, inMotion] : motion.events()) {
        if (notThere.contains(id)) {
            continue;
        }
        const double at = whenAt(a, inMotion) - a.filmFrom;
        const bool inside = at > -0.5 * interval && at < (frames - 0.5) * interval;
        (inside ? played.positions : played.outside)[id] = at;
    }
    played.rep.techniqueId = film.player.technique;
    technique::Circumstances& c = played.circumstances;
    c.hand = film.player.hand;
    c.time = model::ClipTime(times);
    c.ageYears = yearsOf(film.player.build.band);
    tellView(c, film.camera);
    return played;
}

} // namespace kestrel::study
