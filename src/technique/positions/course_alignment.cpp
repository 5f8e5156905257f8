#include "technique/positions/course_alignment.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <optional>

namespace kestrel::technique {
namespace {

using Eigen::Vector2d;
using model::Landmark;

/// Instants of the course for one instant of the film, at the usual tempo.
constexpr int usualAdvance = 2;
/// So many instants on at once: none to five.
constexpr std::size_t tempoCount = 6;
using Tempos = std::array<double, tempoCount>;

// The figures below were set on seeds under 1000 of study/position_study.

/// The tempo at the start of the rep, and whenever it changes: away from the usual one by one
/// instant costs a factor of so much.
constexpr double tempoCosts = 1.5; // in natural logarithm
constexpr double tempoStays = 0.6;
/// How much a second of likeness counts for, and what is likelier to be something else.
constexpr double likenessCounts = 60.0;
constexpr double mostUnlike = 0.85;
/// A player who is quick is not the likelier for it.
constexpr double mostAdvance = 1.5;
constexpr double enters = 0.1; ///< a step of film, from before the rep
constexpr double leaves = 0.1; ///< a step of film, at the end of the rep
constexpr double leavesEarly = 1e-7;
constexpr double filmBeginsLate = 0.05;
/// What is less likely than this is left out. It is little, for a rep that comes late has all its
/// likeness before it.
constexpr double beam = 1e-150;
constexpr double countable = 1e-12; ///< of a position's probability

Tempos firstTempos() {
    Tempos first{};
    for (std::size_t v = 0; v < tempoCount; ++v) {
        first[v] = std::exp(-0.5 * tempoCosts * std::abs(static_cast<int>(v) - usualAdvance));
    }
    const double sum = std::accumulate(first.begin(), first.end(), 0.0);
    for (double& p : first) {
        p /= sum;
    }
    return first;
}

std::array<Tempos, tempoCount> tempoChanges() {
    std::array<Tempos, tempoCount> changes{};
    for (std::size_t from = 0; from < tempoCount; ++from) {
        double sum = 0.0;
        for (std::size_t to = 0; to < tempoCount; ++to) {
            const int apart = std::abs(static_cast<int>(to) - static_cast<int>(from));
            const double p = apart == 0 ? tempoStays : apart == 1 ? 0.5 * (1.0 - tempoStays) : 0.0;
            changes[from][to] =
                p * std::exp(-tempoCosts * std::abs(static_cast<int>(to) - usualAdvance));
            sum += changes[from][to];
        }
        for (double& p : changes[from]) {
            p /= sum;
        }
    }
    return changes;
}

/// How far players have a landmark from the usual place, standing heights, standard deviation.
double usualMiss(std::size_t landmark) {
    switch (static_cast<Landmark>(landmark)) {
    case Landmark::leftHip:
    case Landmark::rightHip:
        return 0.02;
    case Landmark::leftWrist:
    case Landmark::rightWrist:
    case Landmark::leftHand:
    case Landmark::rightHand:
        return 0.09;
    default:
        return 0.06;
    }
}

double stepOf(const std::vector<SeenPose>& film) {
    return (film.back().time - film.front().time) / static_cast<double>(film.size() - 1);
}

/// The poses of a course at other steps.
std::vector<UsualCourse::Pose> inSteps(const UsualCourse& course, double step) {
    std::vector<UsualCourse::Pose> poses;
    const double last = course.step.value * static_cast<double>(course.poses.size() - 1);
    for (double time = 0.0; time <= last; time += step) {
        const double at = time / course.step.value;
        const auto before = std::min(static_cast<std::size_t>(at), course.poses.size() - 2);
        const double share = at - static_cast<double>(before);
        UsualCourse::Pose pose;
        for (std::size_t l = 0; l < UsualCourse::pointCount; ++l) {
            pose[l] = (1.0 - share) * course.poses[before][l] + share * course.poses[before + 1][l];
        }
        poses.push_back(pose);
    }
    return poses;
}

/// How unlike a pose is to a usual one seen from there: mean of robust squares (Cauchy), for
/// players have manners and networks take one limb for another.
double unlikeness(const SeenPose& seen, const std::vector<Vector2d>& usual) {
    double product = 1.0; // its logarithm is the sum of those of its factors, and quicker
    for (const auto& [l, place] : seen.points) {
        const double miss = usualMiss(l);
        product *= 1.0 + 0.5 * (place - usual[l]).squaredNorm() / (miss * miss);
    }
    return std::log(product) / static_cast<double>(seen.points.size());
}

/// An instant of the film at which the course is known to be somewhere.
struct Known {
    double time = 0.0;
    double inCourse = 0.0; ///< steps
    double slack = 0.0;    ///< steps
};

/// Whether the film can be there in the course at that time.
bool isPossible(const std::vector<Known>& known, double time, double inCourse) {
    constexpr double aside = 0.02; // seconds; the frames beside it may be either side
    return std::all_of(known.begin(), known.end(), [&](const Known& k) {
        return (time > k.time - aside || inCourse < k.inCourse + k.slack) &&
               (time < k.time + aside || inCourse > k.inCourse - k.slack);
    });
}

/// Probabilities over the states of one instant of the film.
struct Row {
    double before = 0.0;
    double after = 0.0;
    std::vector<Tempos> in; ///< by instant of the course and how it came there
};

/// The film against the course as one camera sees it.
class Lattice {
  public:
    Lattice(const std::vector<SeenPose>& film, const std::vector<UsualCourse::Pose>& course,
            double azimuth, const std::vector<Known>& known)
        : film_(&film),
          courseLength_(course.size()),
          seen_(film.size(), std::vector<Tempos>(course.size())) {
        const double counts = likenessCounts * stepOf(film);
        std::vector<std::vector<Vector2d>> usual;
        for (const UsualCourse::Pose& pose : course) {
            std::vector<Vector2d>& points = usual.emplace_back();
            for (const Eigen::Vector3d& p : pose) {
                points.emplace_back(std::cos(azimuth) * p.x() - std::sin(azimuth) * p.y(), p.z());
            }
        }
        for (std::size_t t = 0; t < film.size(); ++t) {
            before_.push_back(isPossible(known, film[t].time, -1.0) ? 1.0 : 0.0);
            after_.push_back(
                isPossible(known, film[t].time, static_cast<double>(courseLength_)) ? 1.0 : 0.0);
            for (std::size_t j = 0; j < course.size(); ++j) {
                if (!isPossible(known, film[t].time, static_cast<double>(j))) {
                    continue;
                }
                const double gain = counts * (mostUnlike - unlikeness(film[t], usual[j]));
                for (std::size_t v = 0; v < tempoCount; ++v) {
                    const double share = static_cast<double>(v) / usualAdvance;
                    seen_[t][j][v] = std::exp(gain > 0.0 ? gain * std::min(share, mostAdvance)
                                                         : gain * std::max(1.0, share));
                }
            }
        }
        forward();
    }

    [[nodiscard]] double logLikelihood() const { return logLikelihood_; }

    /// Probability that the course passes from instant j by v instants between film[t − 1] and
    /// film[t], for all of them: calls told(t, j, v, probability).
    void backward(const auto& told) const {
        Row later{1.0, 1.0, std::vector<Tempos>(courseLength_)};
        for (Tempos& in : later.in) {
            in.fill(1.0);
        }
        for (std::size_t t = film_->size() - 1; t > 0; --t) {
            Row now{0.0, after_[t] * later.after / scales_[t], std::vector<Tempos>(courseLength_)};
            const Row& was = rows_[t - 1];
            double starts = 0.0;
            for (std::size_t v = 0; v < tempoCount; ++v) {
                starts += first_[v] * seen_[t][0][0] * later.in[0][v];
            }
            now.before =
                ((1.0 - enters) * before_[t] * later.before + enters * starts) / scales_[t];
            for (std::size_t j = 0; j < courseLength_; ++j) {
                for (std::size_t v = 0; v < tempoCount; ++v) {
                    double sum = leaving(j) * after_[t] * later.after + (j == 0 ? starts : 0.0);
                    onward(j, v, [&](std::size_t to, std::size_t w, double p) {
                        const double way = p * seen_[t][to][to == j ? 0 : w] * later.in[to][w];
                        sum += way;
                        if (was.in[j][v] > beam) {
                            told(t, j, w, was.in[j][v] * way / scales_[t]);
                        }
                    });
                    now.in[j][v] = sum / scales_[t];
                }
            }
            later = std::move(now);
        }
    }

  private:
    void forward() {
        rows_.assign(film_->size(), Row{0.0, 0.0, std::vector<Tempos>(courseLength_)});
        scales_.assign(film_->size(), 1.0);
        Row& first = rows_.front();
        first.before = 0.5 * before_[0];
        for (std::size_t j = 0; j < courseLength_; ++j) {
            const double here =
                (j == 0 ? 0.5 : filmBeginsLate / static_cast<double>(courseLength_));
            for (std::size_t v = 0; v < tempoCount; ++v) {
                first.in[j][v] = here * first_[v] * seen_[0][j][v];
            }
        }
        scale(0);
        for (std::size_t t = 1; t < film_->size(); ++t) {
            const Row& was = rows_[t - 1];
            Row& now = rows_[t];
            now.before = was.before * (1.0 - enters) * before_[t];
            now.after = was.after * after_[t];
            // Who stands at the start stands as long as they like, and goes at any tempo.
            double starts = was.before * enters;
            for (std::size_t v = 0; v < tempoCount; ++v) {
                starts += was.in[0][v];
            }
            for (std::size_t v = 0; v < tempoCount; ++v) {
                now.in[0][v] += starts * first_[v] * seen_[t][0][0];
            }
            for (std::size_t j = 0; j < courseLength_; ++j) {
                for (std::size_t v = 0; v < tempoCount; ++v) {
                    const double p = was.in[j][v];
                    if (p > beam) {
                        now.after += p * leaving(j) * after_[t];
                        onward(j, v, [&](std::size_t to, std::size_t w, double q) {
                            now.in[to][w] += p * q * seen_[t][to][to == j ? 0 : w];
                        });
                    }
                }
            }
            scale(t);
        }
    }

    /// All ways on within the course with their probabilities: calls way(to, v, probability). At
    /// the end of the course there is nowhere to go on to: who stands there does not advance.
    void onward(std::size_t j, std::size_t v, const auto& way) const {
        const double goesOn = 1.0 - leaving(j);
        for (std::size_t w = v == 0 ? 0 : v - 1; w <= std::min(tempoCount - 1, v + 1); ++w) {
            way(std::min(courseLength_ - 1, j + w), w, goesOn * changes_[v][w]);
        }
    }

    [[nodiscard]] double leaving(std::size_t j) const {
        return j + 1 == courseLength_ ? leaves : leavesEarly;
    }

    void scale(std::size_t t) {
        Row& row = rows_[t];
        double sum = row.before + row.after;
        for (const Tempos& in : row.in) {
            sum += std::accumulate(in.begin(), in.end(), 0.0);
        }
        if (!(sum > 0.0)) { // no path goes on; a row without any stays so
            scales_[t] = 1.0;
            logLikelihood_ = -std::numeric_limits<double>::infinity();
            return;
        }
        scales_[t] = sum;
        logLikelihood_ += std::log(sum);
        row.before /= sum;
        row.after /= sum;
        for (Tempos& in : row.in) {
            for (double& p : in) {
                p /= sum;
            }
        }
    }

    const std::vector<SeenPose>* film_;
    std::size_t courseLength_;
    Tempos first_ = firstTempos();
    std::array<Tempos, tempoCount> changes_ = tempoChanges();
    std::vector<std::vector<Tempos>> seen_; ///< how likely what is seen is, likewise
    std::vector<double> before_;            ///< whether the film can be before the rep then
    std::vector<double> after_;
    std::vector<Row> rows_;
    std::vector<double> scales_;
    double logLikelihood_ = 0.0;
};

/// A time and how probable it is.
struct Mass {
    double time;
    double probability;
};

PositionBelief beliefOf(const std::vector<Mass>& masses) {
    PositionBelief belief;
    const auto within = [&](double centre, double reach, const auto& add) {
        for (const Mass& mass : masses) {
            if (std::abs(mass.time - centre) <= reach) {
                add(mass);
            }
        }
    };
    constexpr double around = 0.1; // seconds to each side
    constexpr double near = 0.2;
    double most = 0.0;
    double centre = 0.0;
    for (const Mass& at : masses) {
        belief.inside += at.probability;
        double sum = 0.0;
        within(at.time, around, [&](const Mass& mass) { sum += mass.probability; });
        if (sum > most) {
            most = sum;
            centre = at.time;
        }
    }
    double sum = 0.0;
    double mean = 0.0;
    double squares = 0.0;
    within(centre, near, [&](const Mass& mass) {
        sum += mass.probability;
        mean += mass.probability * (mass.time - centre);
        squares += mass.probability * (mass.time - centre) * (mass.time - centre);
    });
    if (sum > 0.0) {
        mean /= sum;
        belief.time = model::Seconds(centre + mean);
        belief.sd = model::Seconds(std::sqrt(std::max(0.0, squares / sum - mean * mean)));
        belief.here = sum / belief.inside;
    }
    return belief;
}

} // namespace

CourseAlignment align(const std::vector<SeenPose>& film, const UsualCourse& course,
                      const std::vector<double>& azimuths,
                      const std::map<std::string, double>& known) {
    CourseAlignment found;
    if (film.size() < 2 || course.poses.size() < 2) {
        return found;
    }
    const double step = stepOf(film) / usualAdvance;
    const std::vector<UsualCourse::Pose> poses = inSteps(course, step);
    std::vector<Known> certain;
    for (const auto& [id, time] : known) {
        if (const auto when = course.positions.find(id); when != course.positions.end()) {
            constexpr double slack = 0.06; // seconds; players differ in where a position is
            certain.push_back({time, when->second.value / step, slack / step});
        }
    }
    std::optional<Lattice> likeliest;
    for (const double azimuth : azimuths) {
        Lattice lattice(film, poses, azimuth, certain);
        if (!likeliest || lattice.logLikelihood() > likeliest->logLikelihood()) {
            found.azimuth = azimuth;
            likeliest.emplace(std::move(lattice));
        }
    }
    if (!likeliest || !std::isfinite(likeliest->logLikelihood())) {
        return found;
    }
    std::map<std::string, std::vector<Mass>> masses;
    likeliest->backward([&](std::size_t t, std::size_t j, std::size_t v, double probability) {
        const double from = static_cast<double>(j);
        for (const auto& [id, when] : course.positions) {
            const double share = (when.value / step - from) / static_cast<double>(v);
            if (probability > countable && v > 0 && share > 0.0 && share <= 1.0) {
                const double before = film[t - 1].time;
                masses[id].push_back({before + share * (film[t].time - before), probability});
            }
        }
    });
    for (const auto& [id, list] : masses) {
        found.positions[id] = beliefOf(list);
    }
    return found;
}

} // namespace kestrel::technique
