#pragma once

#include "model/reading.h"
#include "study/body_population.h"
#include "technique/pack/pack.h"

#include <optional>
#include <string>
#include <vector>

/// How right the packs' readings are that come from the body in space.
namespace kestrel::study {

/// One measure of a pack whose kind reads places in space, in one film.
struct PackReading {
    std::string pack;
    std::string measure;
    std::string kind;
    Around around = Around::side;
    Landmarks landmarks = Landmarks::placed;
    model::Unit unit = model::Unit::degrees;
    bool directed = false; ///< it hangs on where the target is
    std::optional<double> truth;
    std::optional<double> value; ///< from the body; nothing: it has none
    double u95 = 0.0;
    std::optional<double> inPicture; ///< the same measure read in the picture
    double inPictureU95 = 0.0;

    [[nodiscard]] std::optional<double> error() const;
    [[nodiscard]] bool inside() const;
};

/// Makes the film of that seed, fits the body and reads the technique's pack at the true key
/// positions, from the body and from the picture alone. Where the camera stands between the square
/// places, the view that is nearest is said, as a coach would.
std::vector<PackReading> studyPackReadings(const std::vector<technique::Pack>& packs,
                                           std::uint32_t seed, Around around, Landmarks landmarks);

} // namespace kestrel::study
