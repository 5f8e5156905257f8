#pragma once

#include "body/seen_rep.h"
#include "model/record.h"
#include "prepare/usual_motion.h"
#include "records/library.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "track/person/evidence.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// The player's body in space in a rep: what it is worked out from, and how it is kept.
namespace kestrel::prepare {

/// A player's body in space, still to be worked out.
struct BodyWork {
    body::SeenRep seen;
    std::optional<UsualMotion> usual; ///< how the technique is usually done
    /// Of all that it depends on: a body that was kept under the same key is the same.
    std::string key;
};

/// What the body in space of a rep is worked out from: landmarks around the key positions, or of
/// all of the rep where none are known. `evidence` gives the network's word on depth; the key does
/// not depend on it, for landmarks change whenever it does. Pictures are `width` by `height`
/// pixels. Where only single frames are known, such as the key positions, those that show all of
/// the body; nothing where nobody knows how the technique is usually done, and nothing from
/// overhead.
std::optional<BodyWork> bodyWork(const technique::Pack& pack, const model::Player& player,
                                 const model::Rep& rep,
                                 const technique::Circumstances& circumstances, int width,
                                 int height, const track::Evidence* evidence = nullptr);

/// Works it out; seconds of work. Returns the body as bytes to keep (body/body_file.h), none when
/// what is seen does not make one. Nothing when `progress` cancelled.
std::optional<std::vector<std::uint8_t>>
fittedBody(const BodyWork& work, const std::function<bool(double share)>& progress = {});

/// The same from the body of marks that were a little otherwise, in a fraction of the time
/// (body/fit_again.h); nothing where that does not do.
std::optional<std::vector<std::uint8_t>> fittedAgain(const BodyWork& work,
                                                     const body::FittedBody& before);

/// How a rep stands to its body in space.
struct RepBody {
    /// The one that was kept last; null: there is none, or the landmarks do not make one any more.
    std::shared_ptr<const body::FittedBody> body;
    /// It is still to be worked out, or anew: `body` is of landmarks that have changed.
    bool outdated = false;
};

/// A body from the bytes that fittedBody() returned.
RepBody bodyOf(const std::vector<std::uint8_t>& bytes);

/// What is kept in the library for a rep whose body would be made of `work`.
RepBody keptBody(const records::Library& library, model::RepId repId,
                 const std::optional<BodyWork>& work);

} // namespace kestrel::prepare
