#pragma once

#include "model/clip_time.h"
#include "track/person/evidence.h"

/// What the player holds, wears and plays: implement, ball and glove.
namespace kestrel::track {

/// Whether it is a landmark of implement, ball or glove.
bool isEquipment(model::Landmark landmark);

/// Whether the coach placed a landmark of a thing anywhere, so that there is something to follow.
bool anyEquipmentPlaced(const model::LandmarkTrack& placed);

/// Follows what the coach placed of implement, ball and glove in one frame or more (`placed`)
/// through the frames of `evidence`, and says there where they were seen; what it said of them
/// before goes. `body` are the player's landmarks as fuse() gives them: hands hold implements and
/// balls, and the glove goes with its forearm.
///
/// An implement is looked for as a straight thing in the hand, of the colours and widths that it
/// has where it was placed; a ball by colour and size, a streak counting as a ball that moved while
/// the shutter was open. Both are told from the place behind them, the middle value of many
/// pictures, carried along where the camera moves (`camera`, may be empty). Of all that looks alike
/// in each picture, the smoothest way is taken. Where something else in the picture looks nearly as
/// much like the implement nothing is said, nor where it was placed where it hardly stands out.
/// Edges of a racket's face serve to know it again, and do not come out themselves: the picture
/// does not say which of them is which once the face has turned.
///
/// False when `progress` cancelled; `evidence` is then as it was. Throws model::InputError when the
/// film cannot be read.
bool followEquipment(Evidence& evidence, const film::FilmIndex& index,
                     const model::LandmarkTrack& placed, const model::LandmarkTrack& body,
                     const model::CameraMotion& camera, const model::ClipTime& time,
                     const EvidenceProgress& progress = {});

} // namespace kestrel::track
