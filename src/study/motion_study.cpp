#include "study/motion_study.h"

#include "motion/geometry.h"
#include "prepare/circumstances.h"
#include "synth/motion_sheet.h"
#include "synth/placed_by_hand.h"
#include "synth/truth.h"
#include "technique/judge/evaluate.h"
#include "technique/kinds/flight.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/on_ground.h"
#include "technique/kinds/sequence.h"
#include "technique/pack/roles.h"
#include "words/measured.h"
#include "words/words.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <random>
#include <set>

namespace kestrel::study {
namespace {

bool needsLine(const technique::Measure& measure) {
    const auto* ground = measure.kind->as<technique::GroundKind>();
    return ground != nullptr && ground->needsLine;
}

using model::Point2;

constexpr double placingSdPx = 1.5; ///< a careful click
constexpr double countedTurns = 8.0;

synth::FilmSpec filmed(const technique::Pack& pack, model::View view, model::Hand hand,
                       double rate) {
    synth::FilmSpec spec;
    spec.player.technique = pack.id;
    spec.player.hand = hand;
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    spec.camera.view = view;
    constexpr double chestHeight = 1.4; // metres
    spec.camera.heightM = chestHeight;
    const bool linesCount = std::any_of(pack.measures.begin(), pack.measures.end(), needsLine);
    if (linesCount) {
        constexpr double courtShows = 0.22; // of the picture's height that the player takes
        spec.camera.bodyFraction = courtShows;
    }
    return spec;
}

/// A film with the player and the clip that a coach would have entered for it.
class Entered {
  public:
    Entered(const technique::Pack& pack, const synth::FilmSpec& spec, int frames)
        : pack_(pack), width_(spec.width), height_(spec.height) {
        player_.hand = spec.player.hand;
        player_.height = model::Metres(spec.player.build.heightM);
        player_.born = *model::dayFromIso("2010-01-01");
        clip_.filmed = *model::dayFromIso("2026-07-01"); // grown up, for the ranges
        clip_.view = spec.camera.view;
        clip_.captureRate = spec.captureRate;
        std::vector<model::Seconds> times;
        for (int frame = 0; frame < frames; ++frame) {
            times.emplace_back(frame / spec.captureRate);
        }
        time_ = model::ClipTime(std::move(times));
    }

    [[nodiscard]] technique::Circumstances
    circumstances(const std::optional<model::GroundMarks>& ground = {}) const {
        model::Clip clip = clip_;
        clip.ground = ground;
        return prepare::circumstancesOf(pack_, player_, clip, {}, time_, width_, height_, {},
                                        clip.filmed);
    }

  private:
    const technique::Pack& pack_;
    int width_;
    int height_;
    model::Player player_;
    model::Clip clip_;
    model::ClipTime time_;
};

/// Whether it rests on marks on the ground or on how large the ball's plane looks, whose own errors
/// are drawn apart (see `otherwise`), so that they spoil no other reading's scatter.
bool readInMetres(const technique::Measure& m) {
    return m.kind->as<technique::GroundKind>() != nullptr ||
           m.kind->as<technique::FlightKind>() != nullptr;
}

/// The sums that a row of the table is made of.
struct Sums {
    MeasureStudy row;
    double errorSquare = 0.0;
    double statedSquare = 0.0;
    double scatterSquare = 0.0;
    int scattered = 0; ///< scenes that scatterSquare and statedSquare count
};

/// The pack as it would be had the coach met a ball and a place a little otherwise than it says, by
/// the deviations that it states; only what is read on the ground and of the ball.
technique::Pack otherwise(const technique::Pack& pack, std::mt19937& random) {
    std::normal_distribution<double> error(0.0, 1.0);
    technique::Pack other = pack;
    std::erase_if(other.measures, [](const technique::Measure& m) { return !readInMetres(m); });
    if (other.ball) {
        other.ball->besideBh += other.ball->besideSdBh * error(random);
        other.ball->headingDeg += other.ball->headingSdDeg * error(random);
    }
    if (other.target) {
        const double farther = technique::standSdM * error(random);
        for (technique::Target::Distance& distance : other.target->distances) {
            distance.metres += farther;
        }
    }
    return other;
}

/// Where the marks lie: the place whose line a measure needs, its origin on the ground's, or else
/// four cones about the player.
model::GroundMarks marksFor(const technique::Pack& pack, const synth::FilmScene& scene,
                            std::mt19937& random) {
    for (const technique::Measure& m : pack.measures) {
        for (const technique::GroundPlace& place : pack.places) {
            const bool has = std::any_of(place.lines.begin(), place.lines.end(),
                                         [&](const auto& line) { return line.id == m.line; });
            if (needsLine(m) && has) {
                model::GroundMarks marks =
                    synth::markedPlace(scene, place, 0.0, 0.0, placingSdPx, random);
                constexpr std::size_t fewest = 4;
                if (marks.points.size() >= fewest) {
                    return marks;
                }
            }
        }
    }
    return cones(scene, model::Metres(2.4), model::Metres(2.0), -0.8, -1.0, placingSdPx, random);
}

struct Draw {
    double value = 0.0;
    double stated = 0.0;
};

void addScene(Sums& sums, const std::vector<Draw>& draws) {
    constexpr std::size_t fewest = 10;
    if (draws.size() < fewest) {
        return;
    }
    double mean = 0.0;
    double stated = 0.0;
    const auto count = static_cast<double>(draws.size());
    for (const Draw& d : draws) {
        mean += d.value / count;
        stated += d.stated * d.stated / count;
    }
    double square = 0.0;
    for (const Draw& d : draws) {
        square += (d.value - mean) * (d.value - mean) / (count - 1.0);
    }
    sums.statedSquare += stated;
    sums.scatterSquare += square;
    ++sums.scattered;
}

void studyScene(const technique::Pack& pack, model::View view, model::Hand hand, int draws,
                std::mt19937& random, std::map<std::string, Sums>& sums) {
    const synth::FilmSpec spec = filmed(pack, view, hand, pack.filming.goodRate);
    const synth::FilmScene scene(spec);
    const Entered entered(pack, spec, scene.frameCount());
    const auto truth = synth::trueMeasures(scene);
    const model::BodyTurns turns = synth::trueTurns(scene);
    std::map<std::string, std::vector<Draw>> values;
    for (int draw = 0; draw < draws; ++draw) {
        model::Rep rep = synth::placedRep(spec, placingSdPx, random);
        rep.bodyTurns = turns;
        for (const technique::Measure& m : pack.measures) {
            if (m.kind->as<technique::CountedKind>() != nullptr) {
                std::normal_distribution<double> miscount(0.0,
                                                          0.12); // technique/judge/evaluate.cpp
                rep.counts[m.id] = countedTurns + miscount(random);
            }
        }
        const technique::Circumstances c = entered.circumstances(marksFor(pack, scene, random));
        std::vector<model::Reading> readings = technique::evaluate(pack, rep, c);
        std::erase_if(readings, [&](const model::Reading& r) {
            return readInMetres(*technique::findMeasure(pack, r.measureId));
        });
        synth::markSolesOff(rep, scene, technique::soleHeightSdM, random);
        for (model::Reading& r : technique::evaluate(otherwise(pack, random), rep, c)) {
            readings.push_back(std::move(r));
        }
        for (const model::Reading& r : readings) {
            const technique::Measure& m = *technique::findMeasure(pack, r.measureId);
            if (!m.views.empty() &&
                std::find(m.views.begin(), m.views.end(), view) == m.views.end()) {
                continue;
            }
            Sums& s = sums[r.measureId];
            s.row.pack = pack.id;
            s.row.measure = r.measureId;
            s.row.kind = std::string(m.kind->id);
            s.row.view = view;
            s.row.unit = r.unit;
            ++s.row.asked;
            if (!r.value) {
                continue;
            }
            ++s.row.read;
            values[r.measureId].push_back(
                {*r.value, std::hypot(r.uncertainty.placement, r.uncertainty.ground)});
            if (const auto known = truth.find(r.measureId); known != truth.end()) {
                ++s.row.truths;
                const double miss = *r.value - known->second;
                s.errorSquare += miss * miss;
                s.row.inside += std::abs(miss) <= r.u95 ? 1 : 0;
            }
        }
    }
    for (const auto& [id, list] : values) {
        addScene(sums[id], list);
    }
}

/// A link's speed from the bones: pixels or degrees a second in the picture.
class TrueLink {
  public:
    TrueLink(const synth::FilmScene& scene, const technique::Pack& pack,
             const technique::SequenceLink& link)
        : scene_(scene), pack_(pack), link_(link) {}

    [[nodiscard]] double peakTime(double from, double to) const {
        double best = from;
        for (double t = from; t <= to; t += step) {
            best = speed(t) > speed(best) ? t : best;
        }
        return best;
    }

  private:
    static constexpr double step = 0.0005; // seconds

    [[nodiscard]] double speed(double time) const {
        if (link_.of == technique::SequenceLink::Of::speed) {
            return length(where(0, time + step) - where(0, time - step)) / (2.0 * step);
        }
        if (link_.of == technique::SequenceLink::Of::turning) {
            return (turn(time + step) - turn(time - step)) / (2.0 * step);
        }
        return (angle(time + step) - angle(time - step)) / (2.0 * step);
    }
    /// How far the line has turned towards the target, seen from above, degrees.
    [[nodiscard]] double turn(double time) const {
        const synth::Pose pose = scene_.motion().pose(time);
        const auto end = [&](std::size_t point) {
            return pose.at(*technique::landmarkForRole(
                pack_, link_.points[point].terms.front().first, scene_.spec().player.hand));
        };
        const Eigen::Vector3d way = end(1) - end(0);
        const bool mirrored = (scene_.spec().player.hand == model::Hand::left) !=
                              technique::leadsWithDominantSide(pack_);
        return model::degreesFromRadians(std::atan2(mirrored ? -way.y() : way.y(), way.x())).value;
    }
    [[nodiscard]] Point2 where(std::size_t point, double time) const {
        const synth::Pose pose = scene_.motion().pose(time);
        Point2 sum;
        for (const auto& [role, weight] : link_.points[point].terms) {
            const auto landmark =
                technique::landmarkForRole(pack_, role, scene_.spec().player.hand);
            sum = sum + *scene_.camera(time).project(pose.at(*landmark)) * weight;
        }
        return sum;
    }
    [[nodiscard]] double angle(double time) const {
        return motion::interiorAngle(where(0, time), where(1, time), where(2, time)).value;
    }

    const synth::FilmScene& scene_;
    const technique::Pack& pack_;
    const technique::SequenceLink& link_;
};

std::string formatted(const char* format, double value) {
    char text[32];
    std::snprintf(text, sizeof text, format, value);
    return text;
}

std::string shareText(int part, int whole) {
    constexpr double hundred = 100.0;
    return whole == 0 ? "–" : formatted("%.0f", hundred * part / whole) + " %";
}

/// The middle of a list, between its two middle ones where their number is even; 0 of an empty one.
double median(std::vector<double> values) {
    if (values.empty()) {
        return 0.0;
    }
    std::sort(values.begin(), values.end());
    const std::size_t half = values.size() / 2;
    return values.size() % 2 == 1 ? values[half] : 0.5 * (values[half - 1] + values[half]);
}

std::string kindRows(const std::vector<MeasureStudy>& measures) {
    struct Kind {
        int measures = 0;
        int read = 0;
        int asked = 0;
        int truths = 0;
        int inside = 0;
        std::vector<double> ratios;
    };
    std::map<std::string, Kind> kinds;
    for (const MeasureStudy& m : measures) {
        Kind& k = kinds[m.kind];
        ++k.measures;
        k.read += m.read;
        k.asked += m.asked;
        k.truths += m.truths;
        k.inside += m.inside;
        if (m.statedOverScatter > 0.0) {
            k.ratios.push_back(m.statedOverScatter);
        }
    }
    std::string rows;
    for (const auto& [id, k] : kinds) {
        std::string ratio = "–";
        if (!k.ratios.empty()) {
            const auto [low, high] = std::minmax_element(k.ratios.begin(), k.ratios.end());
            ratio = formatted("%.2f", median(k.ratios)) + " (" + formatted("%.2f", *low) + " to " +
                    formatted("%.2f", *high) + ")";
        }
        rows += "| `" + id + "` | " + std::to_string(k.measures) + " | " +
                shareText(k.read, k.asked) + " | " + shareText(k.inside, k.truths) + " | " + ratio +
                " |\n";
    }
    return rows;
}

std::string measureRows(const std::vector<MeasureStudy>& measures) {
    std::string rows;
    for (const MeasureStudy& m : measures) {
        rows += "| " + m.pack + " | `" + m.measure + "` | " +
                words::plain(technique::nameOfView(m.view)) + " | " + shareText(m.read, m.asked) +
                " | " + (m.truths > 0 ? words::valueText(m.rms, m.unit).toStdString() : "–") +
                " | " + shareText(m.inside, m.truths) + " | " +
                (m.statedOverScatter > 0.0 ? formatted("%.2f", m.statedOverScatter) : "–") + " |\n";
    }
    return rows;
}

} // namespace

std::vector<MeasureStudy> studyMeasures(const std::vector<technique::Pack>& packs, int draws) {
    std::vector<MeasureStudy> rows;
    std::mt19937 random(61);
    for (const technique::Pack& pack : packs) {
        std::set<model::View> views{pack.filming.view};
        for (const technique::Measure& m : pack.measures) {
            views.insert(m.views.begin(), m.views.end());
        }
        for (const model::View view : views) {
            std::map<std::string, Sums> sums;
            for (const model::Hand hand : {model::Hand::right, model::Hand::left}) {
                studyScene(pack, view, hand, draws, random, sums);
            }
            for (const technique::Measure& m : pack.measures) {
                const auto found = sums.find(m.id);
                if (found == sums.end()) {
                    continue;
                }
                Sums& s = found->second;
                s.row.rms = s.row.truths > 0 ? std::sqrt(s.errorSquare / s.row.truths) : 0.0;
                constexpr double noScatter = 1e-12;
                if (s.scatterSquare > noScatter && s.statedSquare > noScatter) {
                    s.row.statedOverScatter = std::sqrt(s.statedSquare / s.scatterSquare);
                }
                rows.push_back(s.row);
            }
        }
    }
    return rows;
}

SequenceStudy studySequence(const std::vector<technique::Pack>& packs, double rate, int draws) {
    constexpr double milliseconds = 1000.0;
    SequenceStudy study;
    study.rate = rate;
    std::mt19937 random(41);
    for (const technique::Pack& pack : packs) {
        if (!pack.sequence) {
            continue;
        }
        const technique::Sequence& sequence = *pack.sequence;
        const synth::FilmSpec spec = filmed(pack, sequence.views.front(), model::Hand::right, rate);
        const synth::FilmScene scene(spec);
        const auto& events = scene.motion().events();
        const double from = events.at(sequence.from) + sequence.fromAfter.value;
        const double to = events.at(sequence.at) + sequence.atAfter.value;
        std::map<std::string, double> peaks;
        for (const technique::SequenceLink& link : sequence.links) {
            peaks[link.id] = TrueLink(scene, pack, link).peakTime(from, to);
        }
        const technique::Circumstances c = Entered(pack, spec, scene.frameCount()).circumstances();
        const model::BodyTurns turns = synth::trueTurns(scene);
        for (int draw = 0; draw < draws; ++draw) {
            model::Rep rep = synth::placedRep(spec, placingSdPx, random);
            rep.bodyTurns = turns;
            for (const technique::LinkStep& step : technique::readSequence(pack, rep, c).steps) {
                const double gap = milliseconds * (peaks.at(step.later) - peaks.at(step.earlier));
                ++study.steps;
                study.gapsInside += std::abs(step.gapMs - gap) <= step.u95Ms ? 1 : 0;
                using Order = technique::LinkStep::Order;
                const bool isTold = step.order != Order::cannotTell;
                const bool right = isTold && (step.order == Order::follows) == (gap > 0.0);
                study.told += isTold ? 1 : 0;
                study.wrong += isTold && !right ? 1 : 0;
                if (std::abs(gap) > 2.0 * milliseconds / rate) {
                    ++study.far;
                    study.farTold += right ? 1 : 0;
                }
            }
        }
    }
    return study;
}

std::string motionPage(const std::vector<MeasureStudy>& measures,
                       const std::vector<SequenceStudy>& sequences, int draws) {
    std::string page =
        "# How right readings are when the landmarks are placed by hand\n\n"
        "Made by `./kestrel accuracy` (`jolly-kestrel-cli demo reading-accuracy`). The skilled "
        "synthetic "
        "player "
        "of every pack, right- and\nleft-handed, from every view that its measures name, 1080p at "
        "the "
        "pack's good rate; every landmark in every frame and four\ncones on the ground placed 1.5 "
        "px "
        "off (normal, per axis), " +
        std::to_string(draws) +
        " draws each. Which end of hips and shoulders is nearer is known.\n\n"
        "* **read**: draws in which the reading had a value; refusals are for foreshortening, too "
        "few "
        "frames and the like.\n"
        "* **inside**: true values (of the body in space, not of its picture) inside the 95 % "
        "interval. Above 98 % is too careful:\n  the intervals also allow for what a computed "
        "player "
        "does not have, other proportions and a camera off square.\n"
        "* **stated ÷ scatter**: what the reading says that placing and marking the ground add, "
        "over what the readings "
        "scatter by when everything is\n  placed anew; for the ground also with heels and toes a "
        "centimetre (sd) above or below it, for the ball with its plane as far\n  beside and "
        "turned as the pack says that it may be. 1 is right, below 1 is too sure.\n"
        "* There is one film here: `path_plane` needs two (tests/technique/test_two_views.cpp).\n\n"
        "## Sequence\n\n"
        "| frames a second | neighbouring peaks | order told | of it wrong | gap inside its "
        "interval | "
        "peaks more than two frames apart told rightly |\n|---|---|---|---|---|---|\n";
    for (const SequenceStudy& s : sequences) {
        page += "| " + formatted("%.0f", s.rate) + " | " + std::to_string(s.steps) + " | " +
                shareText(s.told, s.steps) + " | " + std::to_string(s.wrong) + " of " +
                std::to_string(s.told) + " | " + shareText(s.gapsInside, s.steps) + " | " +
                shareText(s.farTold, s.far) + " |\n";
    }
    page +=
        "\n## By measure kind\n\n"
        "| kind | measures × views | read | inside | stated ÷ scatter: median (least to most) |\n"
        "|---|---|---|---|---|\n" +
        kindRows(measures) +
        "\n## Every measure; an error where its truth is known\n\n"
        "| pack | measure | view | read | rms error | inside | stated ÷ scatter |\n"
        "|---|---|---|---|---|---|---|\n" +
        measureRows(measures);
    return page;
}

} // namespace kestrel::study
