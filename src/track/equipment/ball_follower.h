#pragma once

#include "model/landmark.h"
#include "track/camera/background_model.h"
#include "track/equipment/viterbi_path.h"
#include "track/person/evidence.h"

#include <opencv2/core.hpp>

#include <map>
#include <optional>
#include <span>
#include <vector>

/// Following a ball or puck by its colour, size and motion. Only within this room.
namespace kestrel::track {

/// Looks, picture by picture, for the ball that the coach placed in at least one of them; then
/// finds the way through all of them. All points are in pixels of the small pictures. A streak is a
/// ball that moved while the shutter was open: its middle is where the ball was in the middle of
/// the exposure.
class BallFollower {
  public:
    /// A place where the ball may be in a picture.
    struct Guess {
        model::Point2 at;
        double cost = 0.0;
        double sd = 1.0;   ///< pixels
        bool held = false; ///< not seen: where the hand that held it would have it
    };

    /// As ImplementFollower.
    BallFollower(const model::LandmarkTrack& placed, const model::LandmarkTrack& body,
                 double bodyPx, double noise);

    [[nodiscard]] bool canFollow() const { return !anchors_.empty(); }
    /// The frames whose pictures learn() needs.
    [[nodiscard]] std::vector<int> anchorFrames() const;

    /// Takes in what the ball looks like where it was placed. Before the first look().
    void learn(int frame, const cv::Mat& picture, const Background& behind);
    /// Where it may be in one picture. Safe to call from several threads.
    [[nodiscard]] std::vector<Guess> look(int frame, const cv::Mat& picture,
                                          const Background& behind) const;

    /// Where the ball is, in all frames where it was found. `guesses` are what look() gave; `times`
    /// the instants of the frames, seconds.
    [[nodiscard]] std::map<int, Proposal> result(const std::map<int, std::vector<Guess>>& guesses,
                                                 const std::map<int, double>& times) const;

  private:
    static constexpr double certain = -100.0; ///< cost of where the coach placed it
    struct Anchor {
        int frame = 0;
        model::Point2 at;
        cv::Vec3f colour;
        std::optional<double> diameter; ///< pixels; unset where it touches something alike
    };
    /// A hand that holds the ball where it was placed.
    struct Held {
        int frame = 0; ///< where it was placed
        model::Landmark hand;
        model::Point2 off; ///< from the hand to the ball
    };

    /// Pictures of pieces of a way in which the coach never saw the ball and that are no flight:
    /// shoes, sleeves and buttons that look like it. A piece ends where nothing is seen for a
    /// while, where the way changes more suddenly than even a throwing hand makes it, and where it
    /// comes to the hand that held the ball or leaves it; `inHand` is where that would have it.
    [[nodiscard]] std::vector<std::size_t>
    otherEquipment(std::span<const int> frames, std::span<const std::optional<int>> taken,
                   std::span<const std::vector<Candidate>> seen, std::span<const double> times,
                   std::span<const std::optional<model::Point2>> inHand) const;
    /// Where look() says that the hand would have it in that frame; null when it does not.
    static const Guess* heldGuess(const std::map<int, std::vector<Guess>>& guesses, int frame);
    /// Adds to what was seen, around the frames where the coach saw it in a hand, where that hand
    /// has it, until it is seen to have left.
    void fillHeld(std::map<int, Proposal>& found, const std::map<int, std::vector<Guess>>& guesses,
                  const std::map<int, double>& times) const;
    [[nodiscard]] double diameter() const;
    /// Whether a hand is close enough to cover a ball there in part.
    [[nodiscard]] bool nearHand(int frame, model::Point2 place) const;
    [[nodiscard]] cv::Mat coverIn(const cv::Mat& picture, const Background& behind,
                                  const cv::Vec3f& colour) const;

    const model::LandmarkTrack& body_;
    double bodyPx_;
    double noise_;
    std::vector<Anchor> anchors_;
    std::vector<Held> held_;
};

} // namespace kestrel::track
