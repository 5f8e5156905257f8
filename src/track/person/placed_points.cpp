#include "track/person/placed_points.h"

#include "film/picture_reader.h"
#include "track/camera/flow.h"
#include "track/equipment/equipment.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <deque>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

constexpr double reachS = 0.1;           ///< a limb turns so far in longer that it looks otherwise
constexpr double patchShare = 0.035;     ///< of standing height, half a side: a wrist and around it
constexpr int smallestPatch = 5;         ///< pixels, half a side
constexpr int search = 3;                ///< pixels around where the flow leads
constexpr double alike = 0.8;            ///< correlation from which the patch says where it is
constexpr double unlike = 0.5;           ///< below: no longer the same look
constexpr double mostBackAndForth = 0.1; ///< of the way, beyond a pixel: more is a lost point
constexpr double farthestStep = 0.12;    ///< of the player's height from one frame to the next

// Standard deviation of a step, measured as the other steps' (docs/accuracy.md).
constexpr double stillStepSd = 0.6;   ///< pixels, of a point that does not move
constexpr double movingStepSd = 0.10; ///< per pixel of way
constexpr double missedStepSd = 2.0;  ///< per pixel that the way back misses

cv::Mat grayOf(const film::Picture& picture) {
    const cv::Mat colours(picture.height, picture.width, CV_8UC4,
                          const_cast<std::uint32_t*>(picture.pixels.data()));
    cv::Mat gray;
    cv::cvtColor(colours, gray, cv::COLOR_BGRA2GRAY);
    return gray;
}

bool isBodyPoint(Landmark landmark, const model::LandmarkPoint& point) {
    return !isEquipment(landmark) && point.source == model::Source::placed && !point.hidden;
}

/// What surrounds a point, `half` pixels to each side; nothing too near the picture's edge.
std::optional<cv::Mat> around(const cv::Mat& gray, model::Point2 at, int half) {
    const int size = 2 * half + 1;
    if (at.x < half || at.y < half || at.x > gray.cols - 1 - half || at.y > gray.rows - 1 - half) {
        return std::nullopt;
    }
    cv::Mat patch;
    cv::getRectSubPix(gray, {size, size}, {static_cast<float>(at.x), static_cast<float>(at.y)},
                      patch);
    return patch;
}

/// The top of a parabola through three neighbours, the middle one the highest: from −0.5 to 0.5.
double topBetween(double before, double top, double after) {
    const double bend = before - 2.0 * top + after;
    return bend < 0.0 ? std::clamp(0.5 * (before - after) / bend, -0.5, 0.5) : 0.0;
}

struct Match {
    model::Point2 px;
    double correlation = 0.0;
};

/// Where near `guess` the picture looks most like `patch`; nothing near the picture's edge.
std::optional<Match> matchNear(const cv::Mat& gray, const cv::Mat& patch, model::Point2 guess) {
    const auto place = around(gray, guess, patch.cols / 2 + search);
    if (!place) {
        return std::nullopt;
    }
    cv::Mat score;
    cv::matchTemplate(*place, patch, score, cv::TM_CCOEFF_NORMED);
    cv::Point top;
    double best = 0.0;
    cv::minMaxLoc(score, nullptr, &best, nullptr, &top);
    model::Point2 px{guess.x + top.x - search, guess.y + top.y - search};
    if (top.x > 0 && top.y > 0 && top.x + 1 < score.cols && top.y + 1 < score.rows) {
        const auto at = [&](int x, int y) { return static_cast<double>(score.at<float>(y, x)); };
        px.x += topBetween(at(top.x - 1, top.y), best, at(top.x + 1, top.y));
        px.y += topBetween(at(top.x, top.y - 1), best, at(top.x, top.y + 1));
    }
    return Match{px, best};
}

/// A placed point on its way.
struct Follower {
    Landmark landmark;
    model::Point2 px;
    cv::Mat patch;
};

std::vector<Follower> followersFrom(const model::FrameLandmarks& points, const cv::Mat& gray,
                                    double bodyPx) {
    const int half = std::max(smallestPatch, static_cast<int>(std::lround(patchShare * bodyPx)));
    std::vector<Follower> followers;
    for (const auto& [landmark, point] : points) {
        if (isBodyPoint(landmark, point)) {
            if (auto patch = around(gray, point.px, half)) {
                followers.push_back({landmark, point.px, std::move(*patch)});
            }
        }
    }
    return followers;
}

using Steps = std::map<int, std::map<Landmark, Step>>;

/// Goes from picture to picture (the first is where the points were placed) until the way or the
/// likeness is lost. `direction` is 1 onwards, −1 back; steps are kept under the earlier frame.
void follow(std::vector<Follower> followers, const std::vector<const film::Picture*>& pictures,
            int frame, int direction, const model::LandmarkTrack& placed, double bodyPx,
            Steps& steps) {
    FlowTracker flow(farthestStep * bodyPx);
    flow.next(*pictures.front(), {});
    for (std::size_t i = 1; i < pictures.size() && !followers.empty(); ++i) {
        std::vector<model::Point2> from;
        for (const Follower& follower : followers) {
            from.push_back(follower.px);
        }
        const auto flows = flow.next(*pictures[i], from);
        const cv::Mat gray = grayOf(*pictures[i]);
        const int earlier = direction > 0 ? frame : frame - 1;
        frame += direction;
        std::vector<Follower> still;
        for (std::size_t k = 0; k < followers.size(); ++k) {
            Follower& follower = followers[k];
            if (!flows[k]) {
                continue;
            }
            const double way = length(flows[k]->shift);
            if (flows[k]->backAndForthPx > 1.0 + mostBackAndForth * way) {
                continue;
            }
            model::Point2 now = follower.px + flows[k]->shift;
            const auto match = matchNear(gray, follower.patch, now);
            if (!match || match->correlation < unlike) {
                continue;
            }
            if (match->correlation >= alike) {
                now = match->px;
            }
            const model::Point2 shift = now - follower.px;
            const double sd =
                stillStepSd + movingStepSd * way + missedStepSd * flows[k]->backAndForthPx;
            const Step step{direction > 0 ? shift : shift * -1.0, sd};
            auto& here = steps[earlier];
            const auto other = here.find(follower.landmark);
            if (other == here.end() || sd < other->second.sdPx) {
                here[follower.landmark] = step;
            }
            follower.px = now;
            const auto* there = model::find(placed, frame, follower.landmark);
            if (there == nullptr || !isBodyPoint(follower.landmark, *there)) {
                still.push_back(std::move(follower));
            }
        }
        followers = std::move(still);
    }
}

/// The pictures of `span` in order; shorter where a frame is damaged, beginning with the first good
/// one before `middle` without a gap.
std::map<int, film::Picture> readAround(film::PictureReader& reader, model::FrameSpan span,
                                        int middle) {
    std::map<int, film::Picture> pictures;
    for (int frame = span.first; frame <= span.last; ++frame) {
        try {
            pictures.emplace(frame, reader.read(frame));
        } catch (const model::InputError&) {
            if (frame >= middle) {
                break;
            }
            pictures.clear();
        }
    }
    return pictures;
}

} // namespace

bool anyBodyPointPlaced(const model::LandmarkTrack& placed) {
    return std::any_of(placed.begin(), placed.end(), [](const auto& frame) {
        return std::any_of(frame.second.begin(), frame.second.end(), [](const auto& entry) {
            return isBodyPoint(entry.first, entry.second);
        });
    });
}

bool followPlacedPoints(Evidence& evidence, const film::FilmIndex& index,
                        const model::LandmarkTrack& placed, const model::ClipTime& time,
                        const EvidenceProgress& progress) {
    if (evidence.frames.empty()) {
        return true;
    }
    const model::FrameSpan whole{evidence.frames.begin()->first, evidence.frames.rbegin()->first};
    film::PictureReader reader(index);
    Steps steps;
    int done = 0;
    for (const auto& [frame, points] : placed) {
        if (whole.contains(frame) && anyBodyPointPlaced({{frame, points}})) {
            const int reach = std::max(
                1, static_cast<int>(std::lround(reachS / model::frameInterval(time, frame).value)));
            const model::FrameSpan near{std::max(whole.first, frame - reach),
                                        std::min(whole.last, frame + reach)};
            const auto pictures = readAround(reader, near, frame);
            if (const auto here = pictures.find(frame); here != pictures.end()) {
                const auto followers = followersFrom(points, grayOf(here->second), evidence.bodyPx);
                std::vector<const film::Picture*> onwards;
                std::vector<const film::Picture*> back;
                for (auto it = here; it != pictures.end(); ++it) {
                    onwards.push_back(&it->second);
                }
                for (auto it = std::make_reverse_iterator(std::next(here)); it != pictures.rend();
                     ++it) {
                    back.push_back(&it->second);
                }
                follow(followers, onwards, frame, 1, placed, evidence.bodyPx, steps);
                follow(followers, back, frame, -1, placed, evidence.bodyPx, steps);
            }
        }
        if (progress && !progress(++done, static_cast<int>(placed.size()))) {
            return false;
        }
    }
    for (auto& [frame, here] : evidence.frames) {
        const auto found = steps.find(frame);
        here.placedSteps = found == steps.end() ? std::map<Landmark, Step>{} : found->second;
    }
    return true;
}

} // namespace kestrel::track
