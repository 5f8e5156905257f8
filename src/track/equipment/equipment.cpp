#include "track/equipment/equipment.h"

#include "film/picture_reader.h"
#include "track/camera/background_model.h"
#include "track/equipment/ball_follower.h"
#include "track/equipment/glove.h"
#include "track/equipment/implement_follower.h"

#include <algorithm>
#include <future>
#include <optional>
#include <thread>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

/// Larger pictures say no more about where a bat is, and take longer.
constexpr double workingBodyPx = 420.0;

model::LandmarkTrack scaled(const model::LandmarkTrack& track, double scale) {
    model::LandmarkTrack result = track;
    for (auto& [frame, points] : result) {
        for (auto& [landmark, point] : points) {
            // Pixel centres are whole numbers in both pictures.
            point.px = {(point.px.x + 0.5) * scale - 0.5, (point.px.y + 0.5) * scale - 0.5};
            point.sdPx *= scale;
        }
    }
    return result;
}

Proposal unscaled(const Proposal& proposal, double scale) {
    return {{(proposal.px.x + 0.5) / scale - 0.5, (proposal.px.y + 0.5) / scale - 0.5},
            proposal.scatterPx / scale,
            proposal.lastingPx / scale};
}

model::LandmarkTrack equipmentOnly(const model::LandmarkTrack& track) {
    model::LandmarkTrack result;
    for (const auto& [frame, points] : track) {
        for (const auto& [landmark, point] : points) {
            if (isEquipment(landmark) && point.source == model::Source::placed && !point.hidden) {
                result[frame][landmark] = point;
            }
        }
    }
    return result;
}

/// What may be implement and ball in one picture.
struct Seen {
    int frame = 0;
    std::vector<ImplementFollower::Guess> implement;
    std::vector<BallFollower::Guess> ball;
};

Seen lookAt(int frame, const cv::Mat& picture, const BackgroundModel& place,
            const ImplementFollower& implement, const BallFollower& ball) {
    const Background behind = place.at(frame);
    Seen seen{frame, {}, {}};
    if (implement.canFollow()) {
        seen.implement = implement.look(frame, picture, behind);
    }
    if (ball.canFollow()) {
        seen.ball = ball.look(frame, picture, behind);
    }
    return seen;
}

} // namespace

bool isEquipment(Landmark landmark) {
    return landmark >= Landmark::glove;
}

bool anyEquipmentPlaced(const model::LandmarkTrack& placed) {
    return !equipmentOnly(placed).empty();
}

namespace {

/// Where implement and ball may be in each frame.
struct Guesses {
    std::map<int, double> times; ///< seconds since the first frame
    std::map<int, std::vector<ImplementFollower::Guess>> implements;
    std::map<int, std::vector<BallFollower::Guess>> balls;
};

/// Looks through `span`, as many frames at once as there are cores. Nothing when cancelled.
template <class Picture>
std::optional<Guesses> guessesIn(model::FrameSpan span, const Picture& picture,
                                 const BackgroundModel& place, const ImplementFollower& implement,
                                 const BallFollower& ball, const model::ClipTime& time,
                                 const EvidenceProgress& progress) {
    Guesses guesses;
    const int all = span.last - span.first + 1;
    const int atOnce = std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
    for (int first = span.first; first <= span.last; first += atOnce) {
        std::vector<std::future<Seen>> looking;
        for (int frame = first; frame <= std::min(span.last, first + atOnce - 1); ++frame) {
            guesses.times[frame] = model::elapsed(time, span.first, frame).value;
            if (auto shown = picture(frame)) {
                looking.push_back(
                    std::async(std::launch::async, [&, frame, small = std::move(*shown)] {
                        return lookAt(frame, small, place, implement, ball);
                    }));
            }
        }
        for (auto& one : looking) {
            Seen seen = one.get();
            guesses.implements[seen.frame] = std::move(seen.implement);
            guesses.balls[seen.frame] = std::move(seen.ball);
        }
        if (progress && !progress(std::min(all, first + atOnce - span.first), all)) {
            return std::nullopt;
        }
    }
    return guesses;
}

} // namespace

bool followEquipment(Evidence& evidence, const film::FilmIndex& index,
                     const model::LandmarkTrack& placed, const model::LandmarkTrack& body,
                     const model::CameraMotion& camera, const model::ClipTime& time,
                     const EvidenceProgress& progress) {
    if (evidence.frames.empty()) {
        return true;
    }
    const model::FrameSpan span{evidence.frames.begin()->first, evidence.frames.rbegin()->first};
    std::map<int, Proposals> found = gloveWithForearm(equipmentOnly(placed), body, evidence.bodyPx);

    const double scale = std::min(1.0, workingBodyPx / evidence.bodyPx);
    const model::LandmarkTrack smallPlaced = scaled(equipmentOnly(placed), scale);
    const model::LandmarkTrack smallBody = scaled(body, scale);
    const double bodyPx = scale * evidence.bodyPx;
    const BackgroundModel place(index, {0, index.frameCount() - 1}, camera, scale);
    ImplementFollower implement(smallPlaced, smallBody, bodyPx, place.noise());
    BallFollower ball(smallPlaced, smallBody, bodyPx, place.noise());
    if (implement.canFollow() || ball.canFollow()) {
        film::PictureReader pictures(index);
        const auto picture = [&](int frame) -> std::optional<cv::Mat> {
            try {
                return shrunk(pictures.read(frame), scale);
            } catch (const model::InputError&) {
                return std::nullopt; // damaged: nothing is seen there
            }
        };
        for (const int frame : implement.anchorFrames()) {
            if (const auto shown = picture(frame)) {
                implement.learn(frame, *shown, place.at(frame));
            }
        }
        for (const int frame : ball.anchorFrames()) {
            if (const auto shown = picture(frame)) {
                ball.learn(frame, *shown, place.at(frame));
            }
        }
        const auto guesses = guessesIn(span, picture, place, implement, ball, time, progress);
        if (!guesses) {
            return false;
        }
        if (implement.canFollow()) {
            for (const auto& [frame, proposals] :
                 implement.result(guesses->implements, guesses->times)) {
                for (const auto& [landmark, proposal] : proposals) {
                    found[frame][landmark] = unscaled(proposal, scale);
                }
            }
        }
        if (ball.canFollow()) {
            for (const auto& [frame, proposal] : ball.result(guesses->balls, guesses->times)) {
                found[frame][Landmark::ball] = unscaled(proposal, scale);
            }
        }
    }
    for (auto& [frame, here] : evidence.frames) {
        std::erase_if(here.proposals, [](const auto& entry) { return isEquipment(entry.first); });
        if (const auto seen = found.find(frame); seen != found.end()) {
            here.proposals.insert(seen->second.begin(), seen->second.end());
        }
    }
    return true;
}

} // namespace kestrel::track
