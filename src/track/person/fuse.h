#pragma once

#include "model/clip_time.h"
#include "track/person/evidence.h"

namespace kestrel::track {

/// Weighs what networks saw, how points moved and what the coach placed into one position a
/// landmark and frame, with a standard deviation that is to be believed (docs/accuracy.md).
///
/// For each landmark a Rauch–Tung–Striebel smoother runs over the frames of `evidence`; its state
/// is the position now and a frame before, and the network's lasting error, part of which fades and
/// part of which stays, so that a point the coach places corrects its neighbours, and the whole
/// film by what the network takes wrong throughout. Wild points are held down by Student weights,
/// found in a few rounds.
///
/// At the end bones that look longer than they are are shortened (track/person/bones.h).
///
/// A placed point, hidden ones included, comes out as it is. All others have source tracked, or
/// interpolated where nothing was seen at the frame; a landmark that was never seen nor placed does
/// not come out. Placed points outside the frames of `evidence` come out as they are.
model::LandmarkTrack fuse(const Evidence& evidence, const model::LandmarkTrack& placed,
                          const model::ClipTime& time);

} // namespace kestrel::track
