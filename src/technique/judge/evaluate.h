#pragma once

#include "body/fitted_body.h"
#include "model/clip_time.h"
#include "model/reading.h"
#include "model/record.h"
#include "model/sync_offset.h"
#include "motion/camera_pair.h"
#include "technique/pack/known_length.h"
#include "technique/pack/pack.h"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

/// Readings of a rep: a pack's measures evaluated on the coach's marks.
namespace kestrel::technique {

/// Another film of the same motion, taken at the same time from another place over the same ground.
struct SecondView {
    model::Rep rep;
    Ground ground;
    model::CameraMotion camera;
    double frameSd = 0.0; ///< how surely its frames show an instant, seconds
    model::ClipTime time; ///< of its frames
    /// From the first film's time to this one's, where the sound tells; unset: key positions do.
    std::optional<model::SyncOffset> heard;
};

/// Everything but the marks that a judgement depends on.
struct Circumstances {
    model::Hand hand = model::Hand::right;
    std::optional<model::View> view; ///< unset: nothing but times can be read
    /// No coach has said the view: it is as the film itself shows it, and only about square.
    bool viewIsFound = false;
    /// What the film itself shows, where the view is not said; it need not be square.
    std::optional<model::View> nearestView;
    std::set<std::string> schools; ///< chosen; the pack's defaults fill the rest
    std::optional<int> ageYears;   ///< unset: ranges for all ages only
    std::string variant;
    std::string shotType; ///< empty: not said
    model::ClipTime time;
    bool captureRateKnown = true; ///< false: no time can be read
    /// How the camera moved, when readings over several frames are to be freed of it; empty for a
    /// camera that stood still, or is taken to have.
    model::CameraMotion camera;
    std::optional<model::Metres> bodyHeight; ///< standing height
    std::optional<Ground> ground;            ///< unset: nothing usable is marked on the ground
    model::Message groundReason;             ///< why marks that are there cannot be used
    std::optional<PictureScale> scale;       ///< at the player, from a known length
    /// Unset: the motion was filmed once, or the other film cannot be used yet (`secondReason`).
    std::shared_ptr<const SecondView> second;
    model::Message secondReason;
    /// The player's body in space as this film shows it; unset: it is not worked out, or the film
    /// does not show enough.
    std::shared_ptr<const body::FittedBody> body;
    /// It is still to be worked out, or anew: the landmarks have changed since.
    bool bodyOutdated = false;
    /// Both cameras, where they have been worked out already (bothCameras); unset: that is done for
    /// each evaluation.
    std::shared_ptr<const motion::CameraPair> cameras;
};

/// By which view's detectors key positions are found.
[[nodiscard]] std::optional<model::View> viewToFindBy(const Circumstances& circumstances);

/// One reading for each measure of the pack, in its order; each has a value or a reason.
std::vector<model::Reading> evaluate(const Pack& pack, const model::Rep& rep,
                                     const Circumstances& circumstances);

/// The reading of one measure, which need not be one of the pack's own; its positions must be.
model::Reading evaluateOne(const Pack& pack, const model::Rep& rep,
                           const Circumstances& circumstances, const Measure& measure);

/// The landmarks to place at a position: those of its list that some measure readable in this view,
/// or from the body in space, draws on there, in the list's order. With the view unset, the whole
/// list.
std::vector<model::Landmark> landmarksToPlace(const Pack& pack, const Position& position,
                                              const Circumstances& circumstances);

/// Body height in pixels as the pack measures it, with its standard deviation; nothing when a
/// landmark of the path is missing.
struct PixelHeight {
    double value = 0.0;
    double sd = 0.0;
};
std::optional<PixelHeight> bodyHeight(const Pack& pack, const model::Rep& rep, model::Hand hand);

} // namespace kestrel::technique
