#pragma once

#include "model/landmark.h"
#include "track/camera/background_model.h"
#include "track/equipment/viterbi_path.h"
#include "track/person/evidence.h"

#include <opencv2/core.hpp>

#include <array>
#include <map>
#include <optional>
#include <span>
#include <utility>
#include <vector>

/// Following a bat, racket or stick as a straight thing that hands hold. Only within this room.
namespace kestrel::track {

/// Looks, picture by picture, for the implement that the coach placed in at least one of them; then
/// finds the way through all of them. All points are in pixels of the small pictures.
class ImplementFollower {
  public:
    /// A place where the implement may be in a picture.
    struct Guess {
        model::Point2 butt;
        model::Point2 far;
        double score = 0.0; ///< 0 says nothing; about 0.5 for an implement plain to see
        double broad = 0.0; ///< of a racket's face: its width, of that where it was placed
    };
    /// `placed` and `body` in small pixels: what the coach placed of the implement, and the
    /// player's landmarks in all frames. `bodyPx` is the standing height, small pixels; `noise` as
    /// BackgroundModel.
    ImplementFollower(const model::LandmarkTrack& placed, const model::LandmarkTrack& body,
                      double bodyPx, double noise);

    /// Whether enough is placed: in some frame two points of the implement, or one that is not the
    /// butt, and a hand that holds it.
    [[nodiscard]] bool canFollow() const { return !anchors_.empty(); }
    /// The frames whose pictures learn() needs.
    [[nodiscard]] std::vector<int> anchorFrames() const;

    /// Takes in what the implement looks like where it was placed. Before the first look().
    void learn(int frame, const cv::Mat& picture, const Background& behind);
    /// Where it may be in one picture. Safe to call from several threads.
    [[nodiscard]] std::vector<Guess> look(int frame, const cv::Mat& picture,
                                          const Background& behind) const;

    /// Where the landmarks that were placed are, in all frames where the implement was found.
    /// `guesses` are what look() gave; `times` the instants of the frames, seconds.
    [[nodiscard]] std::map<int, Proposals> result(const std::map<int, std::vector<Guess>>& guesses,
                                                  const std::map<int, double>& times) const;

  private:
    static constexpr double certain = 10.0; ///< score of what the coach placed
    static constexpr int parts = 16;        ///< of the length, each with a colour and a width

    /// What speaks for the implement around the hands of one picture, by colour group.
    struct Maps {
        cv::Rect region; ///< of the picture
        std::vector<cv::Mat> evidence;
        std::vector<cv::Mat> shape; ///< the same, as if there were no body to mistake for it
        std::vector<cv::Mat> rough; ///< evidence, blurred
        std::vector<cv::Mat> cover;
    };
    struct Look {
        cv::Vec3f colour;
        bool isFace = false;   ///< strings: the place shows between them
        double cover = 1.0;    ///< of a face, how much of it is not place
        double distinct = 1.0; ///< share of what looks so in the picture that is the implement
        double distinctOnBody = 1.0; ///< the same of what looks so before trunk, legs and head
    };

    /// What is taken for the implement in one picture.
    struct Choice {
        const Guess* guess = nullptr;
        double certainty = 0.0; ///< 0 to 1
    };

    /// The implement as the coach placed it.
    struct Anchor {
        int frame = 0;
        model::Point2 butt;
        /// Tip, or middle of the head where no tip was placed; of a stick with a blade the heel of
        /// the blade, where the straight part ends.
        model::Point2 far;
        double bladePx = 0.0; ///< from heel to tip; 0 of what is straight to its tip
        std::map<model::Hand, double> heldAt; ///< share of the length from the butt, by hand
        /// Other landmarks, along and across the way from butt to far end, in lengths.
        std::map<model::Landmark, model::Point2> fixed;
        std::vector<Look> looks;               ///< of parts that look alike
        std::array<std::size_t, parts> look{}; ///< of each part
        std::array<double, parts> halfWidth{}; ///< pixels
        double score = 1.0;   ///< what a line that follows it gets in the anchor's own picture
        bool hasFace = false; ///< both edges of a face were placed
    };
    /// The same, from where the hand holds it.
    struct Line {
        model::Point2 grip;
        double share = 0.0;   ///< of the length, from the butt to the grip
        model::Point2 along;  ///< length 1
        double reach = 0.0;   ///< from the grip to the far end, pixels
        double broad = 1.0;   ///< its width, of that where it was placed
        double against = 0.0; ///< score lost by what is unlikely in it
        double score = 0.0;
    };
    struct Grip {
        model::Point2 at;
        double share = 0.0;   ///< of the length from the butt
        double against = 0.0; ///< score lost because it may be no grip at all
    };

    /// The shaft as it is in the picture, from butt to far end: a click is a pixel or two off, and
    /// a stick is no wider.
    [[nodiscard]] std::pair<model::Point2, model::Point2>
    shaftAt(const Anchor& anchor, const cv::Mat& picture, const Background& behind) const;
    [[nodiscard]] cv::Mat surroundingsIn(const cv::Mat& picture) const;
    [[nodiscard]] cv::Size faceBlur() const;
    /// Widths and look of the parts that are a racket's face, when both edges were placed.
    void learnFace(Anchor& anchor, model::Point2 butt, model::Point2 way, const cv::Mat& picture,
                   const Background& behind) const;
    /// How much of what looks like the implement in the anchor's picture is the implement.
    void learnDistinctness(Anchor& anchor, model::Point2 butt, model::Point2 far,
                           const Maps& maps) const;
    /// Takes the line that the look at the anchor's own picture would find for the implement, and
    /// its landmarks relative to that: what the look does alike in all pictures then cancels out.
    void seeAsFollowed(Anchor& anchor, model::Point2 butt, model::Point2 far,
                       const cv::Mat& picture, const Background& behind) const;
    /// Of the guesses of one picture, with their shares of all ways, the likeliest, and how likely
    /// that or one that says the same is; nothing when there is none.
    [[nodiscard]] std::optional<Choice> likeliest(std::span<const Guess> guesses,
                                                  std::span<const double> shares) const;
    /// Adds the edges of a racket's face in the pictures from the one where they were placed on, to
    /// both sides, as far as the face was never seen from its edge: it may have turned round there.
    void addFaceEdges(std::map<int, Proposals>& found,
                      const std::map<int, const Guess*>& taken) const;
    [[nodiscard]] Guess guessFrom(const Line& line, const Anchor& anchor, const Maps& maps) const;
    /// The hand nearest to the butt, and how far from it, in lengths, it holds the implement.
    static std::pair<model::Hand, double> holderIn(const Anchor& anchor);
    [[nodiscard]] const Anchor& nearest(int frame) const;
    /// Where the hands are that may hold it.
    [[nodiscard]] std::vector<Grip> gripsAt(int frame) const;
    [[nodiscard]] std::vector<Line> roughLines(const Grip& grip, const Anchor& anchor,
                                               const Maps& maps) const;
    [[nodiscard]] Maps mapsAround(int frame, std::span<const Grip> grips, const Anchor& anchor,
                                  const cv::Mat& picture, const Background& behind) const;
    static float evidenceAt(const Maps& maps, std::size_t group, model::Point2 p);
    static std::size_t partAt(const Line& line, double r);
    [[nodiscard]] double roughScore(const Line& line, const Anchor& anchor, const Maps& maps) const;
    [[nodiscard]] double scoreOf(const Line& line, const Anchor& anchor, const Maps& maps) const;
    /// The line around `line` with the best score, step by step.
    [[nodiscard]] Line bettered(Line line, const Anchor& anchor, const Maps& maps) const;
    /// A line that is the implement, moved to where it lies exactly; its score stays.
    [[nodiscard]] Line placedExactly(const Line& line, const Anchor& anchor, Maps maps) const;
    [[nodiscard]] Guess settled(Guess guess, double share, const Anchor& anchor,
                                const Maps& maps) const;

    const model::LandmarkTrack& body_;
    double bodyPx_;
    double noise_;
    double longest_ = 0.0; ///< butt to far end, pixels
    std::vector<Anchor> anchors_;
};

} // namespace kestrel::track
