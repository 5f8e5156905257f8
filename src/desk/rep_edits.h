#pragma once

#include "desk/edit_stack.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "model/review_script.h"

#include <QCoreApplication>

#include <optional>
#include <string>
#include <vector>

namespace kestrel::desk {

/// Edits of the open rep's marks, and of its review film. Only while a clip is open.
class RepEdits {
    Q_DECLARE_TR_FUNCTIONS(kestrel::desk::RepEdits)
  public:
    RepEdits(records::Library& library, const OpenClip& open, const Judging& judging,
             EditStack& edits)
        : library_(library), open_(open), judging_(judging), edits_(edits) {}

    void setPosition(const std::string& positionId, std::optional<int> frame);
    /// The same in a rep that need not be of the open clip; its positions are named as those of the
    /// open rep's pack.
    void setPositionOf(const model::Rep& of, const std::string& positionId,
                       std::optional<int> frame);
    /// Takes a found position over, with these machine-made landmarks of its frame.
    void confirmPosition(const std::string& positionId,
                         const std::vector<model::Landmark>& landmarks = {});
    /// `what` names the edit: "Place lead knee". Edits of one `gesture` on the same landmark that
    /// follow each other count as one for undo.
    void setLandmark(int frame, model::Landmark landmark,
                     const std::optional<model::LandmarkPoint>& point, const QString& what,
                     std::optional<int> gesture = std::nullopt);
    /// A number for the next row of nudges.
    [[nodiscard]] int newGesture();
    /// Takes machine-made landmarks of a frame over as looked at and right.
    void confirmLandmarks(int frame, const std::vector<model::Landmark>& landmarks);
    /// Exchanges left and right of all landmarks of a frame; they count as looked at then, and the
    /// frames around are named anew after them.
    void swapSides(int frame);
    /// Puts landmarks where they are in the nearest earlier frame that has them, as placed points
    /// to be moved from there. Those without one are left out.
    void copyFromBefore(int frame, const std::vector<model::Landmark>& landmarks);
    /// Takes landmarks from a file: what was placed by hand there counts as placed, the rest as
    /// machine-made where nothing is placed. What the file does not speak of stays.
    void takeLandmarks(const model::LandmarkTrack& landmarks);
    void setObservation(const std::string& id, std::optional<model::Seen> seen);
    /// Turns the coach counted for a measure; nothing takes the count back.
    void setCount(const std::string& measureId, std::optional<double> turns);
    /// Says which end of a line through the body is nearer to the camera at a position; nothing:
    /// what the machine says.
    void setNearerEnd(const std::string& position, model::BodyLine line,
                      std::optional<model::Side> nearer);
    /// Says how the limb around a joint lies in depth at a position; nothing: it is not known.
    void setLimbFold(const std::string& position, model::Landmark joint,
                     std::optional<model::LimbFold> fold);
    void setReviewScript(const model::ReviewScript& script, const QString& what);

  private:
    records::Library& library_;
    const OpenClip& open_;
    const Judging& judging_;
    EditStack& edits_;
};

} // namespace kestrel::desk
