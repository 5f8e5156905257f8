#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <memory>

/// Readings in space, from two films of the same motion over the same marked ground.
namespace kestrel::technique {

/// The cameras of both films as the marked ground and the landmarks of the body tell them that both
/// show at the key positions. Nothing while readings from two views are hindered.
std::shared_ptr<const motion::CameraPair> bothCameras(const Pack& pack, const model::Rep& rep,
                                                      const Circumstances& circumstances);

/// Reads a measure whose kind has `space` (measure_kind.h) into `reading` when its landmarks were
/// seen by both cameras at its positions, and returns whether it could. How the films' times go
/// together is heard or follows from the key positions that both have; the second film is read
/// between its frames at the instant that the first one shows, and only where it has not both of
/// them at its own frame of the position, to half a frame. Without `cameras` (bothCameras), or with
/// something missing in the second view, `reading` is left alone.
bool readInSpace(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const motion::CameraPair* cameras, const Measure& measure,
                 model::Reading& reading);

/// The step of two films that their microphones heard as their pictures show it: sound reaches the
/// farther camera later than light does. What was heard is taken to have been near the origin of
/// the marked place, where the player is.
model::SyncOffset lightFromSound(model::SyncOffset heard, const motion::GroundCamera& first,
                                 const motion::GroundCamera& second);

/// What is still missing for readings from two views, in a sentence; empty when nothing is.
model::Message secondViewHindrance(const Pack& pack, const model::Rep& rep,
                                   const Circumstances& circumstances);

} // namespace kestrel::technique
