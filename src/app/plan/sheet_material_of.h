#pragma once

#include "app/session.h"
#include "report/sheet_material.h"

namespace kestrel::app {

/// What the sheets of the open clip's visit are made from. The films are opened when the first
/// picture is asked for, so that this is quick. Call it on the interface thread.
report::SheetMaterial sheetMaterialOf(const Session& session, bool blurFaces);

/// A rep with its film and readings; the film is opened when the first picture is asked for.
report::FilmedRep filmedRep(const Session& session, const model::Clip& clip, const model::Rep& rep);

/// The rep of the visit before that shows a position the open rep has too; nothing when there is
/// none.
std::optional<std::pair<model::Clip, model::Rep>> repBefore(const Session& session);

} // namespace kestrel::app
