#include "prepare/rep_body.h"

#include "body/body_file.h"
#include "body/body_points.h"
#include "body/fit.h"
#include "body/fit_again.h"
#include "prepare/machine_marks.h"
#include "track/person/nearness.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <iomanip>
#include <sstream>

namespace kestrel::prepare {
namespace {

/// A body is followed so long before the first key position and after the last one, seconds.
constexpr double beside = 0.35;
/// No longer than this without positions, around the middle of the rep.
constexpr double longestUntold = 4.0;

/// Where in time the body is worked out.
struct Stretch {
    double from = 0.0;
    double to = 0.0;
};

double timeOf(const technique::Circumstances& c, int frame) {
    return c.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
}

bool isInFilm(const technique::Circumstances& c, int frame) {
    return frame >= 0 && frame < c.time.frameCount();
}

std::optional<Stretch> stretchOf(const model::Rep& rep, const technique::Circumstances& c) {
    std::vector<double> times;
    for (const auto& [id, frame] : model::allPositions(rep)) {
        if (isInFilm(c, frame)) {
            times.push_back(timeOf(c, frame));
        }
    }
    if (!times.empty()) {
        const auto [first, last] = std::minmax_element(times.begin(), times.end());
        return Stretch{*first - beside, *last + beside};
    }
    for (const auto& [frame, points] : rep.landmarks) {
        if (isInFilm(c, frame)) {
            times.push_back(timeOf(c, frame));
        }
    }
    if (times.empty()) {
        return std::nullopt;
    }
    const double middle = 0.5 * (times.front() + times.back());
    return Stretch{std::max(times.front(), middle - 0.5 * longestUntold),
                   std::min(times.back(), middle + 0.5 * longestUntold)};
}

/// A landmark as the rep has it, in the first frame's picture.
body::Seen seenAs(model::Landmark landmark, const model::LandmarkPoint& point,
                  const model::CameraPose* pose) {
    body::Seen seen;
    seen.px = pose != nullptr ? carriedToFirst(*pose, point.px) : point.px;
    const double zoom = pose != nullptr ? std::hypot(pose->a, pose->b) : 1.0;
    const double carrying = pose != nullptr ? pose->sdPx : 0.0;
    constexpr double leastSd = 0.5; // pixels; a landmark is no sharper than its pixel
    const double sd = std::max(std::hypot(point.sdPx / zoom, carrying), leastSd);
    seen.trusted = point.source == model::Source::placed;
    if (seen.trusted) {
        seen.sdPx = sd;
        return seen;
    }
    const track::ErrorShares shares = track::errorShares(landmark);
    seen.sdPx = sd * std::sqrt(shares.scatter);
    seen.fadingPx = sd * std::sqrt(shares.fading);
    seen.stayingPx = sd * std::sqrt(shares.staying);
    return seen;
}

/// What marked ground tells of a camera: how it looks, and how far away the hips of a player are
/// who stands where `feet` is seen, in heights of that player; no distance where it is not known
/// how tall the player is.
body::KnownCamera fromGround(const motion::GroundFit& fit, model::Point2 feet,
                             std::optional<model::Metres> height) {
    constexpr double hipHeight = 0.53; // of standing height (Drillis and Contini 1966)
    struct Looks {
        double roll;     ///< degrees
        double pitch;    ///< degrees, down
        double distance; ///< metres; 0 where it is not known
    };
    const auto looks = [&](const motion::GroundCamera& camera) {
        const auto stands = camera.onGround(feet);
        double distance = 0.0;
        if (height && stands) {
            const Eigen::Vector3d hips(stands->x(), stands->y(), hipHeight * height->value);
            distance = (camera.position - hips).norm();
        }
        return Looks{camera.roll().value,
                     model::degreesFromRadians(std::asin(-camera.axes(2, 2))).value, distance};
    };
    const Looks told = looks(fit.camera);
    Looks square{};
    for (Eigen::Index k = 0; k < fit.spread.cols(); ++k) {
        const Looks other = looks(motion::changed(fit.camera, fit.spread.col(k)));
        square.roll += std::pow(other.roll - told.roll, 2);
        square.pitch += std::pow(other.pitch - told.pitch, 2);
        square.distance += std::pow(other.distance - told.distance, 2);
    }
    body::KnownCamera known;
    // Ground that a coach marks is level to about so much, degrees.
    constexpr double levelSd = 0.5;
    known.roll = model::Degrees(told.roll);
    known.rollSd = model::Degrees(std::sqrt(square.roll + levelSd * levelSd));
    known.pitch = model::Degrees(told.pitch);
    known.pitchSd = model::Degrees(std::sqrt(square.pitch + levelSd * levelSd));
    if (told.distance > 0.0) {
        constexpr double heightSd = 0.02; // of a height that is written down: shoes, growth
        known.distanceBh = told.distance / height->value;
        known.distanceRelativeSd = std::hypot(std::sqrt(square.distance) / told.distance, heightSd);
    }
    return known;
}

/// Where the feet stand at the first instant that shows both ankles.
std::optional<model::Point2> feetAt(const std::vector<body::SeenInstant>& instants) {
    for (const body::SeenInstant& instant : instants) {
        const auto left = instant.points.find(model::Landmark::leftAnkle);
        const auto right = instant.points.find(model::Landmark::rightAnkle);
        if (left != instant.points.end() && right != instant.points.end()) {
            return (left->second.px + right->second.px) * 0.5;
        }
    }
    return std::nullopt;
}

/// FNV-1a (Fowler, Noll, Vo), 64 bits.
class Hash {
  public:
    void add(double number) {
        auto bits = std::bit_cast<std::uint64_t>(number);
        constexpr int bytes = 8;
        for (int i = 0; i < bytes; ++i) {
            addByte(static_cast<unsigned char>(bits & 0xffU));
            bits >>= 8U;
        }
    }
    void add(const std::string& text) {
        for (const char letter : text) {
            addByte(static_cast<unsigned char>(letter));
        }
        addByte(0);
    }
    [[nodiscard]] std::string text() const {
        std::ostringstream out;
        out.imbue(std::locale::classic());
        out << std::hex << std::setw(16) << std::setfill('0') << value_;
        return out.str();
    }

  private:
    void addByte(unsigned char byte) { value_ = (value_ ^ byte) * 1099511628211ULL; }

    std::uint64_t value_ = 14695981039346656037ULL;
};

/// One more with each change of how a body is worked out: what was kept before is outdated then.
constexpr int edition = 2;

std::string keyOf(const body::SeenRep& rep, const std::optional<UsualMotion>& usual) {
    Hash hash;
    hash.add(edition);
    if (usual) {
        hash.add(usual->player.technique);
        hash.add(usual->player.variant);
        hash.add(static_cast<double>(usual->player.hand));
        for (const auto& [id, time] : usual->positions) {
            hash.add(id);
            hash.add(time.value);
        }
    }
    hash.add(rep.width);
    hash.add(rep.height);
    hash.add(rep.feetGlide ? 1.0 : 0.0);
    hash.add(rep.camera.distanceBh.value_or(0.0));
    hash.add(rep.camera.distanceRelativeSd);
    hash.add(rep.camera.pitch ? rep.camera.pitch->value : 0.0);
    hash.add(rep.camera.pitchSd.value);
    hash.add(rep.camera.roll.value);
    hash.add(rep.camera.rollSd.value);
    for (const body::PartLength& length : rep.lengths) {
        hash.add(length.mean);
        hash.add(length.relativeSd);
    }
    for (const body::SeenInstant& instant : rep.instants) {
        hash.add(instant.time.value);
        for (const auto& [landmark, seen] : instant.points) {
            hash.add(static_cast<double>(landmark));
            hash.add(seen.px.x);
            hash.add(seen.px.y);
            hash.add(seen.sdPx);
            hash.add(seen.fadingPx);
            hash.add(seen.stayingPx);
        }
    }
    return hash.text();
}

} // namespace

std::optional<BodyWork> bodyWork(const technique::Pack& pack, const model::Player& player,
                                 const model::Rep& rep,
                                 const technique::Circumstances& circumstances, int width,
                                 int height, const track::Evidence* evidence) {
    // The estimate is of cameras that look about level.
    const bool overhead = circumstances.view == model::View::overhead;
    const std::optional<Stretch> stretch = stretchOf(rep, circumstances);
    if (overhead || !stretch) {
        return std::nullopt;
    }
    std::optional<track::Evidence> settled;
    if (evidence != nullptr) {
        settled = withSidesSettled(*evidence, pack, rep, circumstances);
    }
    BodyWork work;
    work.seen.width = width;
    work.seen.height = height;
    work.seen.feetGlide = pack.onSkates;
    work.seen.nearerErrorLasts = track::nearnessErrorLasts;
    work.seen.lengths = body::partLengths(circumstances.ageYears, player.sex);
    for (const auto& [frame, points] : rep.landmarks) {
        if (!isInFilm(circumstances, frame) || timeOf(circumstances, frame) < stretch->from ||
            timeOf(circumstances, frame) > stretch->to) {
            continue;
        }
        const auto at = static_cast<std::size_t>(frame);
        const model::CameraPose* pose =
            at < circumstances.camera.size() ? &circumstances.camera[at] : nullptr;
        body::SeenInstant instant;
        instant.time = circumstances.time.fieldTimes()[at];
        for (const auto& [landmark, point] : points) {
            if (model::isOfBody(landmark) && !point.hidden) {
                instant.points[landmark] = seenAs(landmark, point, pose);
            }
        }
        instant.wanted = std::any_of(instant.points.begin(), instant.points.end(),
                                     [](const auto& p) { return p.second.trusted; });
        if (instant.points.empty()) {
            continue;
        }
        if (settled) {
            if (const auto of = settled->frames.find(frame); of != settled->frames.end()) {
                for (const auto& [landmark, told] : track::nearness(of->second, settled->bodyPx)) {
                    if (const auto seen = instant.points.find(landmark);
                        seen != instant.points.end()) {
                        seen->second.nearer = body::NearerThanHips{told.bh, told.sdBh};
                    }
                }
            }
        }
        work.seen.instants.push_back(std::move(instant));
    }
    const auto feet = feetAt(work.seen.instants);
    if (circumstances.ground && feet) {
        work.seen.camera = fromGround(circumstances.ground->fit, *feet, circumstances.bodyHeight);
    }
    work.usual = usualMotion(pack, player, rep, circumstances);
    if (!work.seen.showsMotion()) {
        // Nothing else tells where a landmark is that is missing there.
        std::erase_if(work.seen.instants, [](const body::SeenInstant& instant) {
            return instant.points.size() < body::pointCount;
        });
    }
    if (work.seen.instants.empty() || (!work.usual && !work.seen.showsMotion())) {
        return std::nullopt;
    }
    work.key = keyOf(work.seen, work.usual);
    return work;
}

std::optional<std::vector<std::uint8_t>>
fittedBody(const BodyWork& work, const std::function<bool(double share)>& progress) {
    bool cancelled = false;
    body::SeenRep seen = work.seen;
    if (work.usual) {
        addUsualPoses(seen, *work.usual);
    }
    const auto body = body::fitBody(seen, [&](double share) {
        cancelled = cancelled || (progress && !progress(share));
        return !cancelled;
    });
    if (cancelled) {
        return std::nullopt;
    }
    return body ? body::toBytes(*body) : std::vector<std::uint8_t>{};
}

std::optional<std::vector<std::uint8_t>> fittedAgain(const BodyWork& work,
                                                     const body::FittedBody& before) {
    body::SeenRep seen = work.seen;
    if (work.usual) {
        addUsualPoses(seen, *work.usual);
    }
    const auto body = body::fitAgain(seen, before);
    return body ? std::optional(body::toBytes(*body)) : std::nullopt;
}

RepBody bodyOf(const std::vector<std::uint8_t>& bytes) {
    RepBody found;
    if (auto body = body::bodyFromBytes(bytes)) {
        found.body = std::make_shared<const body::FittedBody>(std::move(*body));
    } else {
        found.outdated = !bytes.empty(); // of an earlier program, or damaged
    }
    return found;
}

RepBody keptBody(const records::Library& library, model::RepId repId,
                 const std::optional<BodyWork>& work) {
    if (!work) {
        return {};
    }
    const records::KeptBody kept = library.body(repId);
    RepBody found = bodyOf(kept.bytes);
    found.outdated = found.outdated || kept.key != work->key;
    return found;
}

} // namespace kestrel::prepare
